#include "core/work/connections.h"

#include "core/work/application_fixture.h"
#include "core/work/catalogs.h"
#include "support/demo_copy.h"

namespace pantry::work {
namespace {

class ConnectionsTest : public ApplicationTest {
protected:
    db::ConnectionProfile put(const std::string& id, const std::string& database = {}) {
        db::ConnectionProfile p;
        p.id = p.name = id;
        p.database = database;
        connections_.put(p);
        return p;
    }
    std::vector<std::string> ids() const {
        std::vector<std::string> all;
        for (const auto& p : connections_.profiles()) all.push_back(p.id);
        return all;
    }
    int changes_ = 0;
    std::vector<std::string> elsewhere_;
    std::vector<std::string> begun_;
    Connections connections_{around_,
                             {.changed = [this] { ++changes_; },
                              .ledElsewhere = [this](const auto& id) { elsewhere_.push_back(id); },
                              .begun = [this](const auto& id) { begun_.push_back(id); }}};
};

using testing::ElementsAre;

TEST_F(ConnectionsTest, WhatIsPutIsThereAtOnceAndInTheFileSoon) {
    put("apples");
    EXPECT_THAT(ids(), ElementsAre("apples"));
    EXPECT_EQ(changes_, 1);
    around_.flush();
    ASSERT_TRUE(connections_.load());
    EXPECT_EQ(connections_.load()->profiles.size(), 1U);
}

TEST_F(ConnectionsTest, ARemovedConnectionComesBackWhereItWas) {
    for (const char* id : {"apples", "pears", "plums"}) put(id);
    connections_.remove("pears");
    EXPECT_EQ(connections_.profile("pears"), nullptr);
    ASSERT_TRUE(connections_.lastRemoved());
    connections_.undoRemoval();
    EXPECT_THAT(ids(), ElementsAre("apples", "pears", "plums"));
    EXPECT_FALSE(connections_.lastRemoved());
    connections_.remove("quinces");
    EXPECT_FALSE(connections_.lastRemoved()) << "what is not there is not removed";
}

TEST_F(ConnectionsTest, SaysWhichConnectionLeadsElsewhereNow) {
    db::ConnectionProfile p = put("records", "/srv/one.db");
    p.name = "Records";
    connections_.put(p);
    EXPECT_THAT(elsewhere_, testing::IsEmpty()) << "another name leads to the same place";
    p.database = "/srv/two.db";
    connections_.put(p);
    connections_.remove("records");
    EXPECT_THAT(elsewhere_, ElementsAre("records", "records"));
}

TEST_F(ConnectionsTest, AChangeKeepsWhatAnotherProgramWroteMeanwhile) {
    const db::ConnectionProfile original = put("records", "/srv/one.db");
    around_.flush();
    db::ConnectionProfile theirs = original;
    theirs.colour = "sage";
    ASSERT_TRUE(store::ConnectionsFile(home().connectionsFile()).put(theirs));
    db::ConnectionProfile ours = original;
    ours.name = "Records of the orchard";
    connections_.put(ours, original);
    around_.flush();
    const auto kept = connections_.load();
    ASSERT_TRUE(kept);
    EXPECT_EQ(kept->profiles[0].name, "Records of the orchard");
    EXPECT_EQ(kept->profiles[0].colour, "sage");
    EXPECT_TRUE(raised().empty());
    ours.colour = "beet";
    connections_.put(ours, original);
    around_.flush();
    ASSERT_EQ(raised().size(), 1U) << "both changed the colour";
    EXPECT_NE(raised()[0].find("changed elsewhere meanwhile"), std::string::npos);
}

TEST_F(ConnectionsTest, WhatAnotherProgramWroteIsTakenOverOnce) {
    put("apples");
    around_.flush();
    ASSERT_TRUE(store::ConnectionsFile(home().connectionsFile()).put({.id = "pears", .name = "pears"}));
    changes_ = 0;
    connections_.take(*connections_.load());
    EXPECT_THAT(ids(), ElementsAre("apples", "pears"));
    connections_.take(*connections_.load());
    EXPECT_EQ(changes_, 1);
}

TEST_F(ConnectionsTest, SomebodyBeginsWithAConnectionOnce) {
    EXPECT_FALSE(connections_.hasBegunWith("apples"));
    connections_.beginWith("apples");
    connections_.beginWith("apples");
    EXPECT_TRUE(connections_.hasBegunWith("apples"));
    EXPECT_THAT(begun_, ElementsAre("apples"));
}

TEST_F(ConnectionsTest, PasswordsThatWereTypedStayInMemoryAlone) {
    db::ConnectionProfile p{.id = "records", .name = "records", .engine = db::Engine::Postgres};
    connections_.put(p);
    bool isDone = false;
    connections_.setPassword(p, "damson", [&](const Status& status) { isDone = status.has_value(); });
    EXPECT_TRUE(isDone);
    EXPECT_EQ(connections_.passwordOf("records"), "damson");
    const auto found = connections_.passwordFor("records")(p);
    ASSERT_TRUE(found);
    EXPECT_EQ(*found, "damson");
    around_.flush();
    for (const auto& entry : std::filesystem::recursive_directory_iterator(home().config)) {
        if (!entry.is_regular_file()) continue;
        EXPECT_EQ(test::contentOf(entry.path()).find("damson"), std::string::npos) << entry.path();
    }
    connections_.setPassword(p, "", [](const Status&) {});
    EXPECT_FALSE(connections_.passwordOf("records"));
}

TEST_F(ConnectionsTest, ATestSaysHowFarItCame) {
    std::vector<db::TestStage> stages;
    connections_.test(put("nowhere", (folder_ / "no/such/place.db").string()), std::nullopt,
                      [&](std::vector<db::TestStage> told) { stages = std::move(told); });
    EVENTUALLY(!stages.empty());
    EXPECT_TRUE(stages.back().error);
}

/// Catalogs of the orchard, as somebody reads them.
class CatalogsTest : public ConnectionsTest {
protected:
    void SetUp() override {
        ConnectionsTest::SetUp();
        ASSERT_TRUE(test::copyOrchard(folder_ / "orchard.db"));
        put("orchard", (folder_ / "orchard.db").string());
    }
    [[nodiscard]] bool isRead() const {
        const CatalogState state = catalogs_.state("orchard");
        return state.catalog != nullptr && !state.isLoading;
    }
    std::vector<std::string> connected_;
    int progressed_ = 0;
    int changed_ = 0;
    Catalogs catalogs_{around_,
                       connections_,
                       {.changed = [this](const auto&) { ++changed_; },
                        .progressed = [this](const auto&) { ++progressed_; },
                        .connected = [this](const auto& id, const auto&) { connected_.push_back(id); }}};
};

TEST_F(CatalogsTest, NothingIsReadBeforeSomebodyBegins) {
    catalogs_.want("orchard");
    EXPECT_FALSE(catalogs_.state("orchard").isLoading);
    connections_.beginWith("orchard");
    catalogs_.want("orchard");
    EXPECT_TRUE(catalogs_.state("orchard").isLoading);
    EVENTUALLY(isRead());
    EXPECT_NE(catalogs_.state("orchard").catalog->find("main", "inspection"), nullptr);
    EXPECT_THAT(connected_, ElementsAre("orchard"));
    EXPECT_GT(progressed_, 0);
    const int before = changed_;
    catalogs_.want("orchard");
    EXPECT_EQ(changed_, before) << "what is there is not read again";
    catalogs_.load("orchard");
    EVENTUALLY(changed_ >= before + 2 && isRead());
    EXPECT_EQ(connected_.size(), 1U) << "told the first time";
}

TEST_F(CatalogsTest, TheConnectionsOwnDatabaseAndNoneNamedAreOnePlace) {
    catalogs_.load("orchard");
    EVENTUALLY(isRead());
    EXPECT_NE(catalogs_.state("orchard", (folder_ / "orchard.db").string()).catalog, nullptr);
    EXPECT_EQ(catalogs_.state("orchard", "another").catalog, nullptr);
}

TEST_F(CatalogsTest, WhatIsAskedForWhileItReadsIsReadBehindIt) {
    catalogs_.load("orchard");
    catalogs_.load("orchard");
    EXPECT_EQ(changed_, 1) << "two at a time would only take longer";
    EVENTUALLY(changed_ >= 4 && isRead());
}

TEST_F(CatalogsTest, AFailedReadingLeavesTheCatalogOfBeforeAndSaysWhy) {
    catalogs_.load("orchard");
    EVENTUALLY(isRead());
    catalogs_.load("gone");
    EXPECT_FALSE(catalogs_.state("gone").isLoading) << "nothing leads there";
    put("broken", (folder_ / "no/such/place.db").string());
    catalogs_.load("broken");
    EVENTUALLY(!catalogs_.state("broken").isLoading);
    EXPECT_TRUE(catalogs_.state("broken").error);
    EXPECT_EQ(catalogs_.state("broken").catalog, nullptr);
    EXPECT_TRUE(isRead());
    catalogs_.forget("orchard");
    EXPECT_EQ(catalogs_.state("orchard").catalog, nullptr);
}

TEST_F(CatalogsTest, CountsAndReadsOnALineOfItsOwnAndChangesNothing) {
    std::optional<Result<std::int64_t>> counted;
    catalogs_.count("orchard", {}, "SELECT count(*) FROM plot", [&](const auto& count) { counted = count; });
    EVENTUALLY(counted.has_value());
    ASSERT_TRUE(*counted);
    EXPECT_GT(**counted, 0);
    std::optional<Result<data::ResultSetPtr>> rows;
    catalogs_.readRows("orchard", {}, "SELECT name FROM plot", 2, [&](const auto& read) { rows = read; });
    EVENTUALLY(rows.has_value());
    ASSERT_TRUE(*rows);
    EXPECT_EQ((**rows)->rowCount(), 2U);
    counted.reset();
    catalogs_.count("orchard", {}, "DELETE FROM plot", [&](const auto& count) { counted = count; });
    EVENTUALLY(counted.has_value());
    EXPECT_FALSE(*counted) << "only what reads is run";
}

TEST_F(CatalogsTest, WhatIsChosenToBeSeenIsThereAtTheNextStart) {
    catalogs_.changeChoices("orchard", {}, [](catalog::Choices& c) { c.withForbidden = true; });
    EXPECT_EQ(changed_, 1);
    catalogs_.changeChoices("orchard", {}, [](catalog::Choices& c) { c.withForbidden = true; });
    EXPECT_EQ(changed_, 1);
    around_.flush();
    Catalogs next(around_, connections_, {});
    next.open();
    EXPECT_TRUE(next.choices("orchard").withForbidden);
}

TEST_F(CatalogsTest, ADefinitionIsTold) {
    std::optional<Result<catalog::Definition>> told;
    catalogs_.readDefinition("orchard", {}, {.kind = catalog::ObjectKind::Table, .schema = "main", .name = "plot"},
                             [&](const auto& definition) { told = definition; });
    EVENTUALLY(told.has_value());
    ASSERT_TRUE(*told);
    EXPECT_NE((*told)->text.find("CREATE TABLE"), std::string::npos);
}

}  // namespace
}  // namespace pantry::work
