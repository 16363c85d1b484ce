#include "core/db/driver_properties.h"

namespace pantry::db {
namespace {

using testing::HasSubstr;

ConnectionProfile with(const std::string& name, const std::string& value) {
    ConnectionProfile p;
    p.engine = Engine::Postgres;
    p.options[name] = value;
    return p;
}

TEST(DriverPropertiesTest, EveryOneIsExplained) {
    for (const Engine engine : {Engine::Postgres, Engine::MariaDb, Engine::Sqlite}) {
        EXPECT_FALSE(driverProperties(engine).empty());
        for (const DriverProperty& p : driverProperties(engine)) EXPECT_TRUE(p.explanation.ends_with('.')) << p.name;
    }
}

TEST(DriverPropertiesTest, AMisspeltOneIsTold) {
    EXPECT_TRUE(checkProperties(with("connect-seconds", "3")));
    EXPECT_THAT(checkProperties(with("conect-seconds", "3")).error().hint, HasSubstr("connect-seconds"));
    EXPECT_THAT(checkProperties(with("tls", "perhaps")).error().hint, HasSubstr("verify-ca"));
}

}  // namespace
}  // namespace pantry::db
