// The system's keyring, which tests/support/with_keyring starts for these tests: a real one, on a bus of its own.
#include "core/store/keyring.h"

#include <gmock/gmock.h>

#include <cstdlib>

#include "core/store/passwords.h"

namespace pantry::store {
namespace {

db::ConnectionProfile keyringProfile() {
    db::ConnectionProfile p;
    p.id = "test-connection";
    p.name = "Orchard records";
    p.engine = db::Engine::Postgres;
    p.passwordSource = db::PasswordSource::Keyring;
    return p;
}

TEST(KeyringTest, KeepsFindsAndForgetsAPassword) {
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

TEST(KeyringTest, ALockedOneIsToldAndNothingIsAsked) {
    ASSERT_TRUE(Keyring::keep("locked-in", "Agile Pantry: locked", "s3cret"));
    const char* lock =
        "dbus-send --session --print-reply --dest=org.freedesktop.secrets /org/freedesktop/secrets "
        "org.freedesktop.Secret.Service.Lock array:objpath:/org/freedesktop/secrets/collection/login > /dev/null";
    ASSERT_EQ(std::system(lock), 0);
    const auto found = Keyring::find("locked-in");
    ASSERT_FALSE(found);
    EXPECT_EQ(found.error().kind, ErrorKind::Busy);
    EXPECT_THAT(found.error().hint, testing::HasSubstr("Unlock it"));
    EXPECT_EQ(Keyring::keep("locked-in", "x", "y").error().kind, ErrorKind::Busy);
}

}  // namespace
}  // namespace pantry::store
