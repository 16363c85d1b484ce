#include "core/store/connection_list.h"

#include <gmock/gmock.h>

#include "core/db/run_and_wait.h"
#include "core/store/connection_merge.h"
#include "core/store/connection_transfer.h"
#include "support/temporary_folder.h"

namespace pantry::store {
namespace {

using db::ConnectionProfile;
using testing::ElementsAre;
using testing::HasSubstr;
using testing::Not;

ConnectionProfile profile(const std::string& id, const std::string& group = {}) {
    ConnectionProfile p;
    p.id = id;
    p.name = "Name " + id;
    p.group = group;
    p.engine = db::Engine::Postgres;
    p.host = "h";
    return p;
}

ConnectionList listOf(std::initializer_list<ConnectionProfile> profiles) {
    ConnectionList list{.profiles = profiles};
    complete(list);
    return list;
}

std::vector<std::string> idsOf(const ConnectionList& list) {
    std::vector<std::string> ids;
    for (const ConnectionProfile& p : list.profiles) ids.push_back(p.id);
    return ids;
}

std::vector<std::string> groupsOf(const ConnectionList& list) {
    std::vector<std::string> names;
    for (const ConnectionGroup& g : list.groups) names.push_back(g.name);
    return names;
}

TEST(ConnectionListTest, ConnectionsMoveBetweenGroupsAndPlaces) {
    ConnectionList list = listOf({profile("a", "Orchard"), profile("b", "Orchard"), profile("c", "Kitchen")});
    moveProfile(list, "c", "Orchard", "b");
    EXPECT_THAT(idsOf(list), ElementsAre("a", "c", "b"));
    EXPECT_EQ(list.profiles[1].group, "Orchard");
    moveProfile(list, "a", "Attic", "");
    EXPECT_THAT(idsOf(list), ElementsAre("c", "b", "a"));
    EXPECT_THAT(groupsOf(list), ElementsAre("Orchard", "Kitchen", "Attic"));
}

TEST(ConnectionListTest, GroupsAreRenamedJoinedMovedAndTakenAway) {
    ConnectionList list = listOf({profile("a", "Orchard"), profile("b", "Kitchen"), profile("c", "Attic")});
    renameGroup(list, "Attic", "Loft");
    EXPECT_THAT(groupsOf(list), ElementsAre("Orchard", "Kitchen", "Loft"));
    moveGroup(list, "Loft", "Orchard");
    EXPECT_THAT(groupsOf(list), ElementsAre("Loft", "Orchard", "Kitchen"));
    renameGroup(list, "Kitchen", "Orchard");
    EXPECT_THAT(groupsOf(list), ElementsAre("Loft", "Orchard"));
    EXPECT_EQ(list.profiles[1].group, "Orchard");
    removeGroup(list, "Loft");
    EXPECT_EQ(list.profiles[2].group, "");
}

TEST(ConnectionListTest, ATemplateGivesWhatIsLeftToItAndNothingElse) {
    ConnectionProfile base = profile("t");
    base.isTemplate = true;
    base.user = "inspector";
    base.environment = db::Environment::Trial;
    ConnectionProfile child = profile("a");
    child.host = "other";
    child.templateId = "t";
    child.inherited = {"user", "environment"};
    ConnectionList list = listOf({base, child});
    EXPECT_EQ(list.profiles[1].user, "inspector");
    EXPECT_EQ(list.profiles[1].environment, db::Environment::Trial);
    EXPECT_EQ(list.profiles[1].host, "other");
    base.user = "warden";
    base.host = "elsewhere";
    putProfile(list, base);
    EXPECT_EQ(list.profiles[1].user, "warden");
    EXPECT_EQ(list.profiles[1].host, "other");
}

TEST(ConnectionListTest, GroupsAndTemplatesComeBackFromTheFile) {
    const test::TemporaryFolder folder;
    const ConnectionsFile file(folder / "connections.json");
    ASSERT_TRUE(file.change([](ConnectionList& list) -> Status {
        ConnectionProfile child = profile("a", "Orchard");
        child.templateId = "t";
        child.inherited = {"user"};
        child.note = "ask Ida first";
        child.passwordSource = db::PasswordSource::Environment;
        child.passwordVariable = "ORCHARD_PASSWORD";
        putProfile(list, child);
        list.groups.push_back({.name = "Empty", .colour = "beet", .isCollapsed = true});
        return {};
    }));
    const ConnectionList list = file.load().value();
    EXPECT_THAT(groupsOf(list), ElementsAre("Orchard", "Empty"));
    EXPECT_TRUE(list.groups[1].isCollapsed);
    EXPECT_EQ(list.profiles[0].note, "ask Ida first");
    EXPECT_EQ(list.profiles[0].passwordVariable, "ORCHARD_PASSWORD");
    EXPECT_EQ(list.profiles[0].inherited, std::set<std::string>{"user"});
}

TEST(ConnectionListTest, AChangeThatFailsWritesNothing) {
    const test::TemporaryFolder folder;
    const ConnectionsFile file(folder / "connections.json");
    ASSERT_TRUE(file.put(profile("a")));
    EXPECT_FALSE(file.change([](ConnectionList& list) -> Status {
        list.profiles.clear();
        return Error{.message = "no"};
    }));
    EXPECT_THAT(idsOf(file.load().value()), ElementsAre("a"));
}

TEST(ConnectionTransferTest, WhatGoesOutComesInElsewhereWithItsTemplateAndGroup) {
    ConnectionProfile base = profile("t");
    base.isTemplate = true;
    ConnectionProfile child = profile("a", "Orchard");
    child.templateId = "t";
    child.inherited = {"user"};
    ConnectionList list = listOf({base, child, profile("b")});
    list.groups[0].colour = "beet";
    const std::string text = exportConnections(list, {"a"});
    ConnectionList other = listOf({profile("x")});
    const ImportReport report = importConnections(other, readExport(text).value(), {}, NameClash::Rename);
    EXPECT_THAT(report.added, ElementsAre("Name t", "Name a"));
    ASSERT_EQ(other.profiles.size(), 3U);
    EXPECT_EQ(other.profiles[2].templateId, other.profiles[1].id);
    EXPECT_NE(other.profiles[2].id, "a");
    EXPECT_EQ(findGroup(other, "Orchard")->colour, "beet");
}

TEST(ConnectionTransferTest, ANameThatIsTakenIsSolvedAsChosen) {
    ConnectionProfile mine = profile("a");
    mine.host = "mine";
    const ConnectionList from = listOf({profile("z", ""), [] {
                                            ConnectionProfile p = profile("y");
                                            p.name = "Name a";
                                            p.host = "theirs";
                                            return p;
                                        }()});
    ConnectionList renamed = listOf({mine});
    EXPECT_THAT(importConnections(renamed, from, {}, NameClash::Rename).added, ElementsAre("Name z", "Name a (2)"));
    ConnectionList replaced = listOf({mine});
    EXPECT_THAT(importConnections(replaced, from, {}, NameClash::Replace).replaced, ElementsAre("Name a"));
    EXPECT_EQ(replaced.profiles[0].host, "theirs");
    EXPECT_EQ(replaced.profiles[0].id, "a");
    ConnectionList skipped = listOf({mine});
    EXPECT_THAT(importConnections(skipped, from, {}, NameClash::Skip).skipped, ElementsAre("Name a"));
    EXPECT_EQ(skipped.profiles[0].host, "mine");
    EXPECT_EQ(skipped.profiles.size(), 2U);
}

TEST(ConnectionTransferTest, NoSecretGoesOut) {
    ConnectionProfile p = profile("a");
    p.options = {{"tls", "verify"}, {"password", "s3cret"}, {"api-token", "s3cret"}};
    p.onConnect = "SET SESSION AUTHORIZATION ida; ALTER USER ida PASSWORD 's3cret'";
    const std::string text = exportConnections(listOf({p}), {});
    EXPECT_THAT(text, Not(HasSubstr("s3cret")));
    EXPECT_THAT(text, HasSubstr("verify"));
}

TEST(ConnectionTransferTest, AnotherFileIsRefusedInWords) {
    EXPECT_THAT(readExport("{}").error().message, HasSubstr("no file of exported connections"));
    EXPECT_FALSE(readExport("nonsense"));
    EXPECT_EQ(readExport(R"({"content":"agile-pantry connections","version":99})").error().kind, ErrorKind::TooNew);
}

TEST(ConnectionTransferTest, WhatCameFromAFileActsOnNothingUntilSomebodyHasSeenIt) {
    ConnectionList from;
    from.profiles.push_back({.id = "a", .name = "Far", .onConnect = "DROP TABLE plot"});
    from.profiles.back().database = ":memory:";
    ConnectionList into;
    (void)importConnections(into, readExport(exportConnections(from, {})).value(), {}, NameClash::Rename);
    ASSERT_TRUE(into.profiles.front().isUnseen);
    db::Session session(into.profiles.front(), std::nullopt);
    const auto run = db::runAndWait(session, "SELECT 1");
    ASSERT_FALSE(run);
    EXPECT_THAT(run.error().text(), testing::HasSubstr("nobody has looked at it"));
}

TEST(ConnectionMergeTest, FieldsThatAWishLeavesAloneStayAsOthersWroteThem) {
    db::ConnectionProfile original{.id = "a", .name = "Records", .host = "one", .user = "ann"};
    original.options = {{"tls", "auto"}, {"guard", "off"}};
    db::ConnectionProfile wanted = original;
    wanted.user = "ben";
    wanted.options["tls"] = "verify";
    db::ConnectionProfile current = original;
    current.environment = db::Environment::Live;
    current.host = "two";
    current.note = "theirs";
    current.options.erase("guard");
    const MergedProfile both = merged(original, wanted, current);
    EXPECT_TRUE(both.conflicts.empty());
    EXPECT_EQ(both.profile.environment, db::Environment::Live);
    EXPECT_EQ(both.profile.host, "two");
    EXPECT_EQ(both.profile.note, "theirs");
    EXPECT_EQ(both.profile.user, "ben");
    EXPECT_EQ(both.profile.options, (std::map<std::string, std::string>{{"tls", "verify"}}));
    wanted.host = "three";
    const MergedProfile clash = merged(original, wanted, current);
    EXPECT_EQ(clash.conflicts, std::vector<std::string>{"host"});
    EXPECT_EQ(clash.profile.host, "three");
}

}  // namespace
}  // namespace pantry::store
