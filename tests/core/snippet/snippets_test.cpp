#include "core/snippet/snippets.h"

#include <gmock/gmock.h>

#include <set>

#include "core/snippet/built_in.h"

namespace pantry::snippet {
namespace {

using testing::ElementsAre;
using testing::HasSubstr;
using testing::Pair;

const catalog::View& plots() {
    static const catalog::View view(
        {{.schema = "main", .name = "plot", .columns = {{"plot_id", "integer"}, {"Soil Type", "text"}}},
         {.schema = "old", .name = "harvest", .kind = catalog::ObjectKind::View, .columns = {{"weight", "real"}}}},
        {"main"});
    return view;
}

TEST(SnippetsTest, EachThatComesWithTheProgramIsUnderstoodAndHasATriggerOfItsOwn) {
    for (const sql::Dialect dialect : {sql::Dialect::Postgres, sql::Dialect::MySql, sql::Dialect::Sqlite}) {
        std::set<std::string> triggers;
        for (const Snippet& one : offeredIn(dialect, {})) {
            EXPECT_TRUE(triggers.insert(one.trigger).second)
                << one.trigger << " twice in " << sql::dialectName(dialect);
            const Status status = check(one, {});
            EXPECT_TRUE(status) << one.trigger << ": " << status.error().text();
        }
        EXPECT_GT(triggers.size(), 15U);
    }
}

TEST(SnippetsTest, OnesOwnTakeThePlaceOfThoseWithTheSameTrigger) {
    const Snippet own{"upsert", "Mine", "SELECT 1", {sql::Dialect::Sqlite}};
    const auto titles = [&](sql::Dialect dialect) {
        std::vector<std::string> all;
        for (const Snippet& one : offeredIn(dialect, {own})) {
            if (one.trigger == "upsert") all.push_back(one.title);
        }
        return all;
    };
    EXPECT_THAT(titles(sql::Dialect::Sqlite), ElementsAre("Mine"));
    EXPECT_THAT(titles(sql::Dialect::Postgres), testing::SizeIs(1));
    EXPECT_THAT(titles(sql::Dialect::Postgres)[0], HasSubstr("Insert a row"));
}

TEST(SnippetsTest, ATriggerUsedTwiceAndATextThatIsNotUnderstoodAreTold) {
    const std::vector<Snippet> others{{"mine", "First", "x", {sql::Dialect::Postgres}}};
    EXPECT_THAT(check({"MINE", "Second", "y", {}}, others).error().message, HasSubstr("First"));
    EXPECT_TRUE(check({"mine", "Second", "y", {sql::Dialect::Sqlite}}, others)) << "they never meet";
    EXPECT_THAT(check({"two words", "", "y", {}}, {}).error().message, HasSubstr("no trigger"));
    EXPECT_THAT(check({"1st", "", "y", {}}, {}).error().message, HasSubstr("no trigger"));
    EXPECT_EQ(check({"open", "", "SELECT «x", {}}, {}).error().byteOffset, 10U);
    EXPECT_FALSE(check({"empty", "", "  \n", {}}, {}));
}

TEST(SnippetsTest, PlacesOfferWhatTheDatabaseHas) {
    const auto dialect = sql::Dialect::Postgres;
    EXPECT_THAT(choicesFor({.name = "t", .offers = PlaceKind::Table}, {}, plots(), dialect),
                ElementsAre(Pair("plot", "table")));
    EXPECT_THAT(choicesFor({.name = "t", .offers = PlaceKind::Relation}, {}, plots(), dialect),
                ElementsAre(Pair("plot", "table"), Pair("old.harvest", "view")));
    EXPECT_THAT(choicesFor({.name = "c", .offers = PlaceKind::Column, .of = "t"}, "plot", plots(), dialect),
                ElementsAre(Pair("plot_id", "integer"), Pair("\"Soil Type\"", "text")));
    EXPECT_THAT(choicesFor({.name = "c", .offers = PlaceKind::Column, .of = "t"}, "old.harvest", plots(), dialect),
                ElementsAre(Pair("weight", "real")));
    EXPECT_THAT(choicesFor({.name = "c", .offers = PlaceKind::Column, .of = "t"}, "«t»", plots(), dialect),
                testing::IsEmpty());
    EXPECT_FALSE(choicesFor({.name = "y", .offers = PlaceKind::Type}, {}, plots(), dialect).empty());
    EXPECT_TRUE(choicesFor({.name = "x"}, {}, plots(), dialect).empty());
}

}  // namespace
}  // namespace pantry::snippet
