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

TEST(DriverPropertiesTest, ASecretIsKeptWhereThePasswordIsAndUnderANameOfItsOwn) {
    ConnectionProfile p{.id = "a", .name = "Trial", .engine = Engine::Postgres};
    p.passwordSource = PasswordSource::Environment;
    p.passwordVariable = "TRIAL";
    EXPECT_EQ(secretOf(p, kTlsKeyPassword).passwordSource, PasswordSource::Ask) << "a variable holds one value";
    p.passwordSource = PasswordSource::Keyring;
    EXPECT_EQ(secretOf(p, kTlsKeyPassword).passwordSource, PasswordSource::Keyring);
    EXPECT_NE(secretOf(p, kTlsKeyPassword).id, p.id);
    EXPECT_TRUE(isSecretOf(secretOf(p, kTlsKeyPassword)));
    EXPECT_FALSE(isSecretOf(p));
}

}  // namespace
}  // namespace pantry::db
