#include "core/db/templates.h"

#include <gmock/gmock.h>

namespace pantry::db {
namespace {

using testing::Contains;
using testing::Not;

class TemplatesTest : public testing::Test {
protected:
    TemplatesTest() {
        base_.id = "live-servers";
        base_.host = "db.larkspur.example";
        base_.port = 5433;
        base_.user = "warden";
    }
    ConnectionProfile base_{.engine = Engine::Postgres};
    ConnectionProfile profile_{.engine = Engine::Postgres};
};

TEST_F(TemplatesTest, WhatStandsAsItIsByDefaultIsLeftToTheTemplate) {
    profile_.user = "ida";
    baseOn(base_, profile_);
    EXPECT_EQ(profile_.templateId, "live-servers");
    EXPECT_EQ(profile_.host, "db.larkspur.example");
    EXPECT_EQ(profile_.user, "ida");
    EXPECT_THAT(profile_.inherited, Contains("host"));
    EXPECT_THAT(profile_.inherited, Not(Contains("user")));
}

TEST_F(TemplatesTest, WhatWasLeftToAnotherTemplateComesFromTheNewOne) {
    baseOn(base_, profile_);
    ConnectionProfile other = base_;
    other.id = "trial-servers";
    other.host = "trial.larkspur.example";
    baseOn(other, profile_);
    EXPECT_EQ(profile_.host, "trial.larkspur.example");
    EXPECT_EQ(profile_.templateId, "trial-servers");
}

TEST_F(TemplatesTest, AnEngineThatDiffersIsNotTakenOver) {
    profile_.engine = Engine::MariaDb;
    baseOn(base_, profile_, {.engine = Engine::Postgres});
    EXPECT_EQ(profile_.engine, Engine::MariaDb);
}

TEST_F(TemplatesTest, FieldsThatSayTheSameFollow) {
    profile_.host = base_.host;
    profile_.port = 5434;
    const auto fields = fieldsLikeIn(base_, profile_);
    EXPECT_THAT(fields, Contains("host"));
    EXPECT_THAT(fields, Not(Contains("port")));
}

}  // namespace
}  // namespace pantry::db
