// Runs against a real keyring when it was started with one (see tests/support/with_keyring), else against none.
#include "core/workspace/keyring.h"

#include <gmock/gmock.h>

#include <cstdlib>

#include "core/workspace/passwords.h"

namespace pantry::workspace {
namespace {

bool hasKeyring() { return std::getenv("PANTRY_TEST_KEYRING") != nullptr; }

db::ConnectionProfile keyringProfile() {
    db::ConnectionProfile p;
    p.id = "test-connection";
    p.name = "Orchard records";
    p.engine = db::Engine::Postgres;
    p.passwordSource = db::PasswordSource::Keyring;
    return p;
}

TEST(KeyringTest, KeepsFindsAndForgetsAPassword) {
    if (!hasKeyring()) GTEST_SKIP() << "no keyring here";
    ASSERT_TRUE(Keyring::forget("test-connection"));
    EXPECT_EQ(Keyring::find("test-connection").value(), std::nullopt);
    EXPECT_THAT(findPassword(keyringProfile()).error().message, testing::HasSubstr("no password for Orchard records"));
    const Status kept = Keyring::keep("test-connection", "Agile Pantry: Orchard records", "s3 crét");
    ASSERT_TRUE(kept) << kept.error().text();
    EXPECT_EQ(Keyring::find("test-connection").value(), "s3 crét");
    EXPECT_EQ(findPassword(keyringProfile()).value(), "s3 crét");
    EXPECT_EQ(Keyring::find("another").value(), std::nullopt);
    ASSERT_TRUE(Keyring::forget("test-connection"));
    EXPECT_EQ(Keyring::find("test-connection").value(), std::nullopt);
}

TEST(KeyringTest, WithoutAKeyringItSaysSoAndWhatToDo) {
    if (hasKeyring()) GTEST_SKIP() << "there is one here";
    const auto found = Keyring::find("test-connection");
    ASSERT_FALSE(found);
    EXPECT_EQ(found.error().kind, ErrorKind::NotFound);
    EXPECT_THAT(found.error().hint, testing::HasSubstr("ask every time"));
    EXPECT_FALSE(Keyring::keep("test-connection", "x", "y"));
}

TEST(PasswordsTest, AVariableOfTheEnvironmentGivesItOrIsMissed) {
    db::ConnectionProfile p = keyringProfile();
    p.passwordSource = db::PasswordSource::Environment;
    p.passwordVariable = "PANTRY_TEST_PASSWORD";
    ::unsetenv("PANTRY_TEST_PASSWORD");
    EXPECT_THAT(findPassword(p).error().message, testing::HasSubstr("PANTRY_TEST_PASSWORD"));
    ::setenv("PANTRY_TEST_PASSWORD", "s3cret", 1);
    EXPECT_EQ(findPassword(p).value(), "s3cret");
    EXPECT_EQ(passwordProvider("typed")(p).value(), "typed");
}

}  // namespace
}  // namespace pantry::workspace
