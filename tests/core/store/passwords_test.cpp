#include "core/store/passwords.h"

#include <gmock/gmock.h>

#include <cstdlib>

#include "core/store/keyring.h"

namespace pantry::store {
namespace {

TEST(PasswordsTest, AVariableOfTheEnvironmentGivesItOrIsMissed) {
    db::ConnectionProfile p;
    p.engine = db::Engine::Postgres;
    p.passwordSource = db::PasswordSource::Environment;
    p.passwordVariable = "PANTRY_TEST_PASSWORD";
    ::unsetenv("PANTRY_TEST_PASSWORD");
    EXPECT_THAT(findPassword(p).error().message, testing::HasSubstr("PANTRY_TEST_PASSWORD"));
    ::setenv("PANTRY_TEST_PASSWORD", "s3cret", 1);
    EXPECT_EQ(findPassword(p).value(), "s3cret");
    EXPECT_EQ(passwordProvider("typed")(p).value(), "typed");
}

TEST(PasswordsTest, WithoutAKeyringItSaysSoAndWhatToDo) {
    ::setenv("DBUS_SESSION_BUS_ADDRESS", "unix:path=/nonexistent/bus", 1);
    const auto found = Keyring::find("test-connection");
    ASSERT_FALSE(found);
    EXPECT_EQ(found.error().kind, ErrorKind::NotFound);
    EXPECT_THAT(found.error().hint, testing::HasSubstr("asking each time"));
    EXPECT_FALSE(Keyring::keep("test-connection", "x", "y"));
}

}  // namespace
}  // namespace pantry::store
