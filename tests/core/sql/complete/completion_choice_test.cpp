// What is offered first, with nothing written yet behind the caret.
#include "core/sql/complete/completion.h"
#include "support/marked_sql.h"

namespace pantry::sql {
namespace {

using test::marked;
using testing::Contains;
using testing::ElementsAre;
using testing::IsSupersetOf;
using testing::Not;

catalog::View kitchen() {
    using Relations = std::vector<catalog::Relation>;
    return catalog::View(
        Relations{{.schema = "main",
                   .name = "category",
                   .columns = {{"id", "integer", false, 1}, {"name", "text"}, {"slug", "text"}}},
                  {.schema = "main",
                   .name = "recipe",
                   .columns = {{"id", "integer", false, 1},
                               {"category_id", "integer"},
                               {"title", "text"},
                               {"minutes", "integer"},
                               {"created_at", "timestamp"}},
                   .foreignKeys = {{"", {"category_id"}, "main", "category", {"id"}}}},
                  {.schema = "main",
                   .name = "ingredient",
                   .columns = {{"id", "integer", false, 1}, {"name", "text"}, {"unit", "text"}, {"price", "numeric"}}},
                  {.schema = "main",
                   .name = "recipe_ingredient",
                   .columns = {{"recipe_id", "integer", false, 1},
                               {"ingredient_id", "integer", false, 2},
                               {"amount", "numeric"}},
                   .foreignKeys = {{"", {"recipe_id"}, "main", "recipe", {"id"}},
                                   {"", {"ingredient_id"}, "main", "ingredient", {"id"}}}},
                  {.schema = "main",
                   .name = "stock",
                   .columns = {{"ingredient_id", "integer"}, {"quantity", "numeric"}, {"best_before", "date"}},
                   .foreignKeys = {{"", {"ingredient_id"}, "main", "ingredient", {"id"}}}}},
        {"main"});
}

std::vector<std::string> offeredIn(std::string_view sql, std::size_t most = 200) {
    const auto m = marked(sql);
    std::vector<std::string> out;
    for (const CompletionItem& item : completeAt(m.text, m.caret, Dialect::Sqlite, kitchen(), {.maxItems = most}).items)
        out.push_back(item.text);
    return out;
}

std::string chosenIn(std::string_view sql) {
    const auto all = offeredIn(sql, 1);
    return all.empty() ? "nothing" : all.front();
}

TEST(CompletionChoiceTest, TheSelectListKnowsAllColumnsBeforeFrom) {
    EXPECT_EQ(chosenIn("SELECT best<|>"), "best_before");
    EXPECT_THAT(offeredIn("SELECT <|>"), IsSupersetOf({"title", "quantity", "price", "slug"}));
    EXPECT_EQ(chosenIn("SELECT title, <|>"), "minutes") << "of the table that the query is about";
    EXPECT_EQ(chosenIn("SELECT quantity, b<|>"), "best_before");
    EXPECT_EQ(chosenIn("INSERT INTO stock (quantity) SELECT am<|>"), "amount");
}

TEST(CompletionChoiceTest, AShortNameIsGuessedBeforeItsTableIsNamed) {
    EXPECT_EQ(chosenIn("SELECT s.q<|>"), "quantity");
    EXPECT_EQ(chosenIn("SELECT s.<|>"), "quantity") << "of what begins with s, before keys";
    EXPECT_EQ(chosenIn("SELECT ri.<|>"), "amount") << "initials";
    EXPECT_EQ(chosenIn("SELECT i.price, i.<|>"), "name") << "only ingredients have a price";
    EXPECT_THAT(offeredIn("SELECT r.title, r.<|>"), Contains("minutes"));
    EXPECT_EQ(offeredIn("SELECT r.title, r.<|>").front(), "minutes") << "a recipe_ingredient has no title";
    EXPECT_THAT(offeredIn("SELECT r<|>"), Contains("r."));
    EXPECT_EQ(chosenIn("SELECT r.title, r<|>"), "r.") << "used already";
}

TEST(CompletionChoiceTest, FromFollowsTheSelectList) {
    EXPECT_EQ(chosenIn("SELECT quantity, best_before FROM <|>"), "stock");
    EXPECT_EQ(chosenIn("SELECT title, minutes FROM <|>"), "recipe");
    EXPECT_EQ(chosenIn("SELECT s.quantity FROM <|>"), "stock s") << "with the name that it has there";
    EXPECT_EQ(chosenIn("SELECT r.title, c.name FROM recipe r JOIN <|>"), "category c");
    EXPECT_EQ(chosenIn("SELECT recipe.title FROM <|>"), "recipe");
    EXPECT_THAT(offeredIn("SELECT c.name FROM <|>"), Not(Contains("ingredient c"))) << "c is short for something else";
}

TEST(CompletionChoiceTest, CommonTablesComeFirstUntilTheyAreUsed) {
    EXPECT_EQ(chosenIn("WITH cost AS (SELECT 1 AS total) SELECT * FROM <|>"), "cost");
    EXPECT_THAT(offeredIn("WITH cost AS (SELECT 1 AS total) SELECT to<|>"), Contains("total"));
    EXPECT_EQ(chosenIn("WITH cost AS (SELECT 1 AS total) SELECT c.<|>"), "total");
}

TEST(CompletionChoiceTest, OrderAndGroupKnowTheSelectList) {
    EXPECT_EQ(chosenIn("SELECT unit, count(*) AS kinds FROM ingredient GROUP BY <|>"), "unit");
    EXPECT_EQ(chosenIn("SELECT unit, count(*) AS kinds FROM ingredient GROUP BY unit ORDER BY <|>"), "kinds");
    EXPECT_EQ(chosenIn("SELECT c.name, r.title FROM recipe r JOIN category c ON c.id = r.category_id ORDER BY <|>"),
              "c.name");
    EXPECT_EQ(
        chosenIn("SELECT c.name, r.title FROM recipe r JOIN category c ON c.id = r.category_id ORDER BY c.name, <|>"),
        "r.title");
    EXPECT_EQ(chosenIn("SELECT c.name, count(*) FROM recipe r JOIN category c ON c.id = r.category_id GROUP BY c.<|>"),
              "name");
    EXPECT_EQ(chosenIn("SELECT CASE WHEN minutes < 20 THEN 'quick' END AS pace FROM recipe GROUP BY <|>"), "pace");
}

TEST(CompletionChoiceTest, AComparisonAsksForTheOtherSideOfAKey) {
    EXPECT_EQ(chosenIn("SELECT * FROM recipe r JOIN category c ON r.category_id = <|>"), "c.id");
    EXPECT_EQ(chosenIn("SELECT * FROM recipe r JOIN category c ON r.category_id = c.<|>"), "id");
    EXPECT_EQ(chosenIn("SELECT * FROM category c WHERE EXISTS (SELECT 1 FROM recipe r WHERE r.category_id = <|>"),
              "c.id");
    EXPECT_EQ(chosenIn("UPDATE ingredient SET price = <|>"), "price");
}

TEST(CompletionChoiceTest, AJoinIsOfferedWholeInBothDirections) {
    EXPECT_THAT(offeredIn("SELECT * FROM recipe r JOIN category c ON <|>", 2),
                ElementsAre("c.id = r.category_id", "r.category_id = c.id"));
    EXPECT_EQ(chosenIn("SELECT * FROM recipe r JOIN category c ON r<|>"), "r.category_id = c.id");
    EXPECT_EQ(chosenIn("SELECT * FROM recipe_ingredient ri JOIN <|>"), "recipe");
}

TEST(CompletionChoiceTest, WhatIsListedAlreadyStepsBack) {
    EXPECT_EQ(chosenIn("INSERT INTO recipe (<|>"), "category_id") << "a key that counts itself is seldom written";
    EXPECT_EQ(chosenIn("INSERT INTO recipe (category_id, <|>"), "title");
    EXPECT_EQ(chosenIn("UPDATE ingredient SET name = 'x', <|>"), "unit");
    EXPECT_THAT(offeredIn("SELECT i.name, <|> FROM ingredient i", 2), ElementsAre("i", "i.unit"));
}

TEST(CompletionChoiceTest, ColumnsAreWrittenAsTheQueryWritesThem) {
    EXPECT_EQ(chosenIn("SELECT name FROM ingredient WHERE pr<|>"), "price");
    EXPECT_EQ(chosenIn("SELECT i.name FROM ingredient i WHERE pr<|>"), "i.price");
    EXPECT_EQ(chosenIn("SELECT i.name FROM ingredient i WHERE i<|>"), "i");
}

TEST(CompletionChoiceTest, KeywordsAreWrittenAsTheOthersHere) {
    EXPECT_EQ(chosenIn("sel<|>"), "select") << "nothing else tells";
    EXPECT_EQ(chosenIn("<|>"), "SELECT");
    EXPECT_EQ(chosenIn("select * from stock wh<|>"), "where");
    EXPECT_EQ(chosenIn("SELECT * FROM stock wh<|>"), "WHERE");
    EXPECT_EQ(chosenIn("select 1; upd<|>"), "update");
    EXPECT_EQ(chosenIn("SELECT 1; upd<|>"), "UPDATE");
    EXPECT_EQ(chosenIn("SELECT 1; SELECT 2; select * from stock wh<|>"), "where") << "its own statement tells most";
}

struct Opened {
    bool opens = false;
    std::string from;
    std::size_t fromAt = 0;
};

Opened openedIn(std::string_view sql) {
    const auto m = marked(sql);
    const Completion c = completeAt(m.text, m.caret, Dialect::Sqlite, kitchen());
    return {c.opens, c.items.empty() ? std::string() : c.items.front().from, c.fromAt};
}

TEST(CompletionChoiceTest, TheListOpensWhereItIsClearWhatComesNext) {
    for (const char* opening :
         {"SELECT * FROM <|>", "SELECT * FROM recipe r JOIN <|>", "SELECT * FROM recipe r JOIN category c ON <|>",
          "SELECT * FROM recipe r JOIN category c ON r.category_id = <|>", "UPDATE <|>", "INSERT INTO <|>",
          "SELECT r.<|> FROM recipe r", "SELECT ti<|>", "SELECT q<|> FROM stock",
          "SELECT * FROM stock WHERE best_before >= <|>", "SELECT category_id, count(*) FROM recipe GROUP BY <|>",
          "SELECT title AS name FROM recipe ORDER BY <|>"}) {
        EXPECT_TRUE(openedIn(opening).opens) << opening;
    }
    for (const char* quiet : {"SELECT <|>", "SELECT title <|> FROM recipe", "SELECT * FROM recipe WHERE <|>",
                              "SELECT * FROM recipe WHERE minutes = <|>", "SELECT i<|>", "<|>", "SELECT 'a <|>'",
                              "SELECT * FROM recipe ORDER BY <|>"}) {
        EXPECT_FALSE(openedIn(quiet).opens) << quiet;
    }
}

TEST(CompletionChoiceTest, AColumnBringsItsRelationAlong) {
    EXPECT_EQ(openedIn("SELECT best<|>").from, "FROM stock");
    EXPECT_EQ(openedIn("SELECT best<|>").fromAt, 11U);
    EXPECT_EQ(openedIn("select best<|>").from, "from stock");
    EXPECT_EQ(openedIn("SELECT s.best<|>").from, "FROM stock s");
    EXPECT_EQ(openedIn("SELECT 1, best<|>;").fromAt, 14U) << "before what ends the statement";
    EXPECT_EQ(openedIn("SELECT (SELECT best<|>), 2").fromAt, 19U) << "in its own query";
    EXPECT_EQ(openedIn("SELECT best<|> FROM stock").from, "");
    EXPECT_EQ(openedIn("SELECT best<|> WHERE 1 = 1").from, "") << "somebody has other plans";
}

TEST(CompletionChoiceTest, ShortNamesAreNotPreferred) {
    const catalog::View plots(
        {{.schema = "main", .name = "plot", .columns = {{"permission_requested_on", "date"}, {"per", "text"}}}},
        {"main"});
    const auto items = completeAt("SELECT * FROM plot WHERE pe", 26, Dialect::Sqlite, plots).items;
    ASSERT_FALSE(items.empty());
    EXPECT_EQ(items.front().text, "permission_requested_on");
}

}  // namespace
}  // namespace pantry::sql
