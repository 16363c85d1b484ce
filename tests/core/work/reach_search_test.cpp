#include "core/work/reach_search.h"

#include <set>

namespace pantry::work {
namespace {

class ReachSearchTest : public testing::Test {
protected:
    ReachSearchTest() {
        scope_.before = {{"Sheet 1", "", ReachKind::Sheet},
                         {"New sheet on Orchard", "query tab open", ReachKind::Sheet}};
        scope_.behind = {{"Lamplight", "dark theme colours", ReachKind::Setting},
                         {"Format", "beautify layout", ReachKind::Action}};
        auto schema = std::make_shared<catalog::Schema>(catalog::Schema{.name = "main", .isLoaded = true});
        for (const char* name : {"plot", "plot_health", "inspection", "harvest_by_month"}) {
            schema->relations.push_back({.schema = "main", .name = name});
        }
        scope_.catalogs.push_back({"orchard", "Orchard",
                                   std::make_shared<const catalog::Catalog>(
                                       catalog::Facts{}, std::vector<catalog::SchemaPtr>{std::move(schema)})});
        scope_.catalogs.push_back({"kitchen", "Kitchen", nullptr});
    }
    std::vector<std::string> titles(std::string_view pattern, std::size_t most = 10) {
        std::vector<std::string> all;
        const auto found = reachFor(reachWish(pattern), scope_, most, {});
        for (const ReachHit& hit : found.value_or(std::vector<ReachHit>{})) {
            const auto& texts = hit.part == ReachHit::Part::Before ? scope_.before : scope_.behind;
            all.push_back(hit.relation != nullptr ? hit.relation->name : texts[hit.index].title);
        }
        return all;
    }
    ReachScope scope_;
};

TEST_F(ReachSearchTest, NothingTypedShowsEverythingInItsOrder) {
    EXPECT_THAT(titles(""), testing::ElementsAre("Sheet 1", "New sheet on Orchard", "plot", "plot_health", "inspection",
                                                 "harvest_by_month", "Lamplight", "Format"));
    EXPECT_THAT(titles("", 2), testing::ElementsAre("Sheet 1", "New sheet on Orchard"));
}

TEST_F(ReachSearchTest, TheBestFitComesFirst) {
    EXPECT_EQ(titles("plot").front(), "plot");
    EXPECT_THAT(titles("plot"), testing::ElementsAre("plot", "plot_health"));
    EXPECT_THAT(titles("insp"), testing::ElementsAre("inspection"));
    EXPECT_THAT(titles("no such thing"), testing::IsEmpty());
}

TEST_F(ReachSearchTest, WhatIsNamedSoComesBeforeWhatIsOnlyMeantByIt) {
    scope_.behind.push_back({"Theme of the month", ""});
    EXPECT_THAT(titles("theme"), testing::ElementsAre("Theme of the month", "Lamplight"));
}

TEST_F(ReachSearchTest, ARelationSaysWhichConnectionItIsOf) {
    const auto found = reachFor({{}, "inspection"}, scope_, 5, {});
    ASSERT_TRUE(found && found->size() == 1);
    EXPECT_EQ(scope_.catalogs[found->front().index].name, "Orchard");
}

TEST_F(ReachSearchTest, WhatIsLookedForInVainIsGivenUp) {
    const base::Cancellation cancellation;
    cancellation.request();
    EXPECT_FALSE(reachFor({{}, "plot"}, scope_, 5, cancellation));
}

TEST_F(ReachSearchTest, ALetterWithAColonNarrowsToAKind) {
    EXPECT_THAT(titles("t:"), testing::ElementsAre("plot", "plot_health", "inspection", "harvest_by_month"));
    EXPECT_THAT(titles("T: insp"), testing::ElementsAre("inspection"));
    EXPECT_THAT(titles("p: dark"), testing::ElementsAre("Lamplight"));
    EXPECT_THAT(titles("a:dark"), testing::IsEmpty());
    EXPECT_EQ(reachWish("z: plot").pattern, "z: plot") << "a letter that means nothing is text";
    EXPECT_EQ(reachWish("public:plot").kind, std::nullopt);
    std::set<char> letters;
    for (const ReachPrefix& one : reachPrefixes()) EXPECT_TRUE(letters.insert(one.letter).second) << one.letter;
}

TEST_F(ReachSearchTest, ThoseOfAKindStandTogetherTheBestKindFirst) {
    scope_.before.push_back({"Plot report", "", ReachKind::Query});
    scope_.behind.push_back({"plot", "", ReachKind::Action});
    scope_.behind.push_back({"Old plots", "", ReachKind::Query});
    EXPECT_THAT(titles("plot"), testing::ElementsAre("plot", "plot_health", "plot", "Plot report", "Old plots"));
}

TEST_F(ReachSearchTest, WhatWasReachedForBeforeComesFirst) {
    scope_.before = {{"Jars left", "", ReachKind::Query}, {"Jars lost", "", ReachKind::Query}};
    EXPECT_EQ(titles("jars").front(), "Jars left");
    scope_.reached = {"Jars lost"};
    EXPECT_EQ(titles("jars").front(), "Jars lost");
    EXPECT_EQ(titles("jars left").front(), "Jars left") << "but not before what fits better";
}

}  // namespace
}  // namespace pantry::work
