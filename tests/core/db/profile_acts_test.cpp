#include "core/db/profile_acts.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace pantry::db {
namespace {

using testing::Contains;
using testing::ElementsAre;
using testing::HasSubstr;
using testing::Not;

TEST(ProfileActsTest, AFileIsWhatSqliteOpens) {
    ConnectionProfile p;
    p.database = "/tmp/orchard.db";
    p.passwordSource = PasswordSource::Environment;  // which means nothing here
    EXPECT_THAT(actsOf(p), ElementsAre("opens the file /tmp/orchard.db"));
}

TEST(ProfileActsTest, NothingThatActsIsLeftOut) {
    ConnectionProfile p;
    p.engine = Engine::Postgres;
    p.host = "valley.example";
    p.user = "inspector";
    p.database = "orchard";
    p.passwordSource = PasswordSource::Environment;
    p.passwordVariable = "HOME";
    p.options = {{"tls-ca", "/etc/passwd"}, {"application-name", "x"}};
    p.onConnect = "SET ROLE grafter; DELETE FROM plot;\nALTER ROLE x PASSWORD 'hidden one'";
    const auto acts = actsOf(p);
    EXPECT_THAT(acts[0], testing::AllOf(HasSubstr("valley.example"), HasSubstr("as inspector")));
    EXPECT_THAT(acts, Contains("sends the environment variable HOME as the password"));
    EXPECT_THAT(acts, Contains("reads the file /etc/passwd (tls-ca)"));
    EXPECT_THAT(acts, Contains("sets application-name to x"));
    EXPECT_THAT(acts, Contains("runs SET ROLE grafter"));
    EXPECT_THAT(acts, Contains("runs DELETE FROM plot"));
    EXPECT_THAT(acts, Not(Contains(HasSubstr("hidden one"))));
}

TEST(ProfileActsTest, ATerminalIsNotSteeredByWhatAFileSays) {
    ConnectionProfile p;
    p.database = "/tmp/\x1b[2Jx";
    EXPECT_THAT(actsOf(p)[0], Not(HasSubstr("\x1b")));
}

}  // namespace
}  // namespace pantry::db
