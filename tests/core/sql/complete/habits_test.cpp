#include "core/sql/complete/habits.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <algorithm>

#include "core/sql/complete/completion.h"
#include "core/sql/syntax/parser.h"

#include "support/marked_sql.h"

namespace pantry::sql {
namespace {

using testing::Contains;
using testing::ElementsAre;
using testing::Not;

void write(Habits& habits, std::string_view statement) {
    habits.note(statement, parseSingle(statement, Dialect::Sqlite));
}

std::shared_ptr<const Habits> someHabits() {
    auto habits = std::make_shared<Habits>();
    for (int i = 0; i < 4; ++i) write(*habits, "SELECT soil FROM bed WHERE soil = 'clay' AND width > 2");
    write(*habits, "SELECT b.soil FROM bed b JOIN plot p ON p.plot_id = b.plot_id WHERE b.width > 3");
    write(*habits, "UPDATE bed SET soil = 'sand'");
    return habits;
}

catalog::View usedGarden() {
    return catalog::View(
        {{.schema = "main", .name = "barn", .columns = {{"barn_id", "integer", false, 1}, {"size", "text"}}},
         {.schema = "main",
          .name = "bed",
          .columns = {{"bed_id", "integer", false, 1},
                      {"width", "integer"},
                      {"shade", "text"},
                      {"soil", "text"},
                      {"sown_on", "date"}}}},
        {"main"});
}

std::vector<std::string> offeredTo(std::string_view text, CompletionWish wish = {}) {
    const auto m = test::marked(text);
    std::vector<std::string> texts;
    for (const auto& item : completeAt(m.text, m.caret, Dialect::Sqlite, usedGarden(), wish).items)
        texts.push_back(item.text);
    return texts;
}

std::ptrdiff_t placeOf(const std::vector<std::string>& texts, std::string_view text) {
    return std::ranges::find(texts, text) - texts.begin();
}

TEST(HabitsTest, MoreUseIsWorthMoreUpToABound) {
    const auto habits = someHabits();
    EXPECT_EQ(habits->worthOfRelation("barn"), 0);
    EXPECT_GT(habits->worthOfRelation("plot"), 0);
    EXPECT_GT(habits->worthOfRelation("BED"), habits->worthOfRelation("plot"));
    EXPECT_GT(habits->worthOfColumn("soil"), habits->worthOfColumn("plot_id"));
    Habits much;
    for (int i = 0; i < 1000; ++i) write(much, "SELECT 1 FROM bed");
    EXPECT_EQ(much.worthOfRelation("bed"), Habits::kMax);
}

TEST(HabitsTest, KeepsStatementsOnceAndConditionsOfOneRelation) {
    const auto habits = someHabits();
    EXPECT_THAT(habits->statements(),
                ElementsAre("SELECT soil FROM bed WHERE soil = 'clay' AND width > 2",
                            "SELECT b.soil FROM bed b JOIN plot p ON p.plot_id = b.plot_id WHERE b.width > 3",
                            "UPDATE bed SET soil = 'sand'"));
    EXPECT_THAT(habits->conditionsOn("Bed"), ElementsAre("soil = 'clay'", "width > 2"));
    EXPECT_TRUE(habits->conditionsOn("plot").empty());
    Habits broken;
    write(broken, "SELECT FROM WHERE bed");
    EXPECT_TRUE(broken.statements().empty());
}

TEST(HabitsTest, WhatWasUsedStandsBeforeWhatWasNot) {
    const CompletionWish wish{.habits = someHabits()};
    EXPECT_EQ(offeredTo("SELECT * FROM b<|>").front(), "barn");
    EXPECT_EQ(offeredTo("SELECT * FROM b<|>", wish).front(), "bed");
    const auto before = offeredTo("SELECT * FROM bed WHERE s<|>");
    const auto with = offeredTo("SELECT * FROM bed WHERE s<|>", wish);
    EXPECT_LT(placeOf(with, "soil"), placeOf(with, "shade"));
    EXPECT_GT(placeOf(before, "soil"), placeOf(before, "shade"));
}

TEST(HabitsTest, StatementsNearbyCountToo) {
    EXPECT_EQ(offeredTo("SELECT soil FROM bed; SELECT width FROM bed; SELECT * FROM b<|>").front(), "bed");
}

TEST(HabitsTest, StatementsAndConditionsAreOfferedAgain) {
    const CompletionWish wish{.habits = someHabits()};
    EXPECT_THAT(offeredTo("upd<|>", wish), Contains("UPDATE bed SET soil = 'sand'"));
    EXPECT_THAT(offeredTo("clay<|>", wish), Contains("SELECT soil FROM bed WHERE soil = 'clay' AND width > 2"));
    EXPECT_THAT(offeredTo("u<|>", wish), Not(Contains("UPDATE bed SET soil = 'sand'"))) << "one letter means little";
    EXPECT_EQ(offeredTo("upd<|>", wish).front(), "update") << "a word of the language stands first";
    EXPECT_THAT(offeredTo("SELECT * FROM bed WHERE <|>", wish), Contains("width > 2"));
    EXPECT_THAT(offeredTo("SELECT * FROM bed WHERE width > 2 AND <|>", wish), Not(Contains("width > 2")));
    EXPECT_THAT(offeredTo("SELECT * FROM barn WHERE <|>", wish), Not(Contains("width > 2")));
}

TEST(InsertCompletionTest, ListsOfColumnsComeWithTheValuesThatMatch) {
    EXPECT_THAT(offeredTo("INSERT INTO bed <|>"), Contains("(bed_id, width, shade, soil, sown_on)"));
    EXPECT_THAT(offeredTo("INSERT INTO bed <|>"),
                Contains("(bed_id, width, shade, soil, sown_on) VALUES (:bed_id, :width, :shade, :soil, :sown_on)"));
    EXPECT_EQ(offeredTo("INSERT INTO bed (soil, width) VALUES <|>").front(), "(:soil, :width)");
    EXPECT_EQ(offeredTo("INSERT INTO bed (soil, width) VALUES (<|>").front(), ":soil");
    EXPECT_EQ(offeredTo("INSERT INTO bed (soil, width) VALUES ('clay', <|>").front(), ":width");
    EXPECT_EQ(offeredTo("INSERT INTO bed (soil, width) VALUES ('a', 1), (trim('b'), <|>").front(), ":width");
    EXPECT_THAT(offeredTo("INSERT INTO bed (soil) VALUES (<|>"), Not(Contains("soil")))
        << "there is no row to take it from";
    EXPECT_THAT(offeredTo("INSERT INTO bed (sown_on) VALUES (<|>"), Contains("date('now')"));
    const auto m = test::marked("INSERT INTO bed (width, soil) VALUES (1, <|>");
    const Completion found = completeAt(m.text, m.caret, Dialect::Sqlite, usedGarden());
    ASSERT_TRUE(found.valuesOf);
    EXPECT_EQ(found.valuesOf->column, "soil");
}

TEST(ParameterCompletionTest, ThoseOfTheTextAndOneNamedAfterTheColumn) {
    EXPECT_THAT(offeredTo("SELECT * FROM bed WHERE width > :least; SELECT * FROM bed WHERE width < :<|>"),
                testing::AllOf(Contains(":least"), Contains(":width")));
    EXPECT_THAT(offeredTo("SELECT :least; SELECT * FROM bed WHERE soil = :so<|>"), ElementsAre(":soil"));
    EXPECT_THAT(offeredTo("SELECT :least; SELECT * FROM bed WHERE width > lea<|>"), Contains(":least"));
    EXPECT_THAT(offeredTo("SELECT * FROM bed WHERE soil = 'a:<|>"), testing::IsEmpty());
    const auto m = test::marked("SELECT * FROM bed WHERE soil = :so<|>");
    const Completion found = completeAt(m.text, m.caret, Dialect::Sqlite, usedGarden());
    EXPECT_EQ(m.text.substr(found.start, found.length), ":so");
}

TEST(QuotedNameCompletionTest, ANameIsFoundWhileItsQuotesAreOpen) {
    const auto m = test::marked("SELECT * FROM \"be<|>\nWHERE 1 = 1");
    const Completion found = completeAt(m.text, m.caret, Dialect::Sqlite, usedGarden());
    ASSERT_FALSE(found.items.empty());
    EXPECT_EQ(found.items.front().text, "bed");
    EXPECT_EQ(m.text.substr(found.start, found.length), "\"be") << "not what follows";
    EXPECT_THAT(offeredTo("SELECT * FROM \"<|>"), Contains("bed"));
    EXPECT_THAT(offeredTo("SELECT * FROM \"be<|>d\""), Contains("bed"));
}

}  // namespace
}  // namespace pantry::sql
