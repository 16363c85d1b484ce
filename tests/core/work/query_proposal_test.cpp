#include "core/work/query_proposal.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "core/shelf/saved_query.h"
#include "core/work/shelves.h"
#include "support/temporary_folder.h"

namespace pantry::work {
namespace {

using testing::ElementsAre;
using testing::HasSubstr;

TEST(QueryProposalTest, TitlesSayWhatAQueryIsAbout) {
    const auto title = [](const char* text) { return proposedTitle(text, sql::Dialect::Postgres); };
    EXPECT_EQ(title("SELECT p.name, count(*) AS visits FROM inspection i JOIN plot p USING (plot_id) GROUP BY p.name"),
              "Visits by name");
    EXPECT_EQ(title("SELECT plot, sum(kg) total_weight FROM picking GROUP BY 1"), "Total weight by plot");
    EXPECT_EQ(title("SELECT * FROM harvest.picking_day WHERE kg > 3"), "Picking day");
    EXPECT_EQ(title("UPDATE plot SET name = 'x'"), "UPDATE plot");
    EXPECT_EQ(title(""), "Query");
    EXPECT_EQ(title("   -- nothing\n"), "Query");
    EXPECT_NE(title("((("), "");
}

TEST(QueryProposalTest, ParametersComeOnceWithTheirValuesButForSecrets) {
    const auto parameters = headParameters(
        "SELECT 1 WHERE a = :since AND b = :password;\nSELECT 2 WHERE c = :since", sql::Dialect::Postgres, {},
        [](const std::string& key) -> std::optional<std::string> { return key == "since" ? "2026-01-01" : "hunter2"; });
    ASSERT_EQ(parameters.size(), 2U);
    EXPECT_EQ(parameters[0], (shelf::QueryParameter{"since", "", "2026-01-01", true}));
    EXPECT_EQ(parameters[1], (shelf::QueryParameter{"password", "", "", false}));
}

TEST(QueryProposalTest, ChoicesForTheGridAreThoseOfNowOrElseThoseOfBefore) {
    const std::string before = "-- title: Jars\n-- grid: {\"frozen\":1}\n\nSELECT 1;\n";
    EXPECT_THAT(contentToSave("SELECT 2", before, {}), testing::HasSubstr("-- grid: {\"frozen\":1}\n"));
    EXPECT_THAT(contentToSave("SELECT 2", before, {.grid = "{\"frozen\":2}"}),
                testing::HasSubstr("-- grid: {\"frozen\":2}\n"));
}

TEST(QueryProposalTest, TheGridOfATextIsThatOfItsFirstStatement) {
    const auto key = [](std::string_view text) { return firstGridKey(text, "orchard", sql::Dialect::Sqlite); };
    EXPECT_EQ(key("-- title: A\n\nSELECT a FROM plot;\nSELECT 2"), key("select a\nfrom plot"));
    EXPECT_NE(key("SELECT a FROM plot"), key("SELECT b FROM plot"));
    EXPECT_EQ(key(" -- nothing"), "");
    EXPECT_EQ(key("SELECT 1 /*" + std::string(70'000, 'x') + "*/"), "");
}

TEST(QueryProposalTest, WhatIsToldCountsMostAndTheRestStays) {
    const std::string before =
        "-- title: Old\n-- note: Kept.\n-- connection: Kitchen\n-- parameter: n integer = 7\n-- grid: x\n\nSELECT :n\n";
    EXPECT_EQ(contentToSave("SELECT :n + 1", before, {.title = "New", .parameters = {{"n"}, {"m"}}}),
              "-- title: New\n-- note: Kept.\n-- connection: Kitchen\n-- parameter: n integer = 7\n-- parameter: m\n-- "
              "grid: x\n\nSELECT :n + 1\n");
    EXPECT_EQ(contentToSave("-- title: Own\n\nSELECT 2\n", before, {}), "-- title: Own\n\nSELECT 2\n")
        << "a text with a head of its own says everything";
}

class ShelvesTest : public testing::Test {
protected:
    ShelvesTest() : shelves_(home()) { EXPECT_TRUE(home().prepare()); }
    [[nodiscard]] store::Home home() const { return store::findHome(folder_ / "home"); }
    void save(const std::string& path, const std::string& shelf = {}) {
        EXPECT_TRUE((*shelves_.shelf(shelf))->save(path, "-- title: T " + path + "\n\nSELECT 1;\n"));
    }
    std::vector<std::string> found(const std::string& words) {
        std::vector<std::string> all;
        const auto queries = shelves_.find(words);
        for (const ShelvedQuery& one : *queries)
            all.push_back((one.place.shelf.empty() ? "" : one.place.shelf + ":") + one.place.path +
                          (one.isStarred ? "*" : ""));
        return all;
    }
    test::TemporaryFolder folder_;
    Shelves shelves_;
};

TEST_F(ShelvesTest, SeveralShelvesAreToldApartAndStarsGoAlong) {
    save("kitchen/a.sql");
    std::filesystem::create_directories(folder_ / "team");
    test::writeFile(folder_ / "team/b.sql", "SELECT 'blossom'");
    ASSERT_TRUE(shelves_.add({"Team", folder_ / "team"}));
    EXPECT_THAT(found(""), ElementsAre("kitchen/a.sql", "Team:b.sql"));
    EXPECT_THAT(found("blossom"), ElementsAre("Team:b.sql"));
    ASSERT_TRUE(shelves_.setStarred({"", "kitchen/a.sql"}, true));
    ASSERT_TRUE(shelves_.move({"", "kitchen/a.sql"}, "c.sql"));
    EXPECT_THAT(found(""), ElementsAre("c.sql*", "Team:b.sql"));
    std::filesystem::remove_all(folder_ / "team");
    EXPECT_THAT(found(""), ElementsAre("c.sql*")) << "one that is gone does not hide the others";
    const auto infos = shelves_.infos();
    ASSERT_EQ(infos->size(), 2U);
    EXPECT_TRUE((*infos)[0].hasVersions);
    EXPECT_FALSE((*infos)[1].hasVersions);
    ASSERT_TRUE(shelves_.forget("Team"));
    EXPECT_EQ(shelves_.shelf("Team").error().kind, ErrorKind::NotFound);
}

TEST_F(ShelvesTest, DetailsHaveVersionsAndACopySaysSo) {
    save("a.sql");
    const auto details = shelves_.details({"", "a.sql"});
    ASSERT_TRUE(details);
    EXPECT_EQ(details->versions.size(), 1U);
    EXPECT_EQ(details->query.item.head.title, "T a.sql");
    const auto copy = shelves_.duplicate({"", "a.sql"});
    ASSERT_TRUE(copy);
    EXPECT_EQ(copy->path, "a-2.sql");
    EXPECT_THAT(*(*shelves_.shelf(""))->read("a-2.sql"), HasSubstr("(copy)"));
    EXPECT_EQ(shelves_.details({"", "none.sql"}).error().kind, ErrorKind::NotFound);
    EXPECT_EQ(shelves_.push("", {}).error().kind, ErrorKind::InvalidInput);
}

}  // namespace
}  // namespace pantry::work
