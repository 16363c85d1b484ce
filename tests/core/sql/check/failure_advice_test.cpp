#include "core/sql/check/failure_advice.h"

#include <gtest/gtest.h>

namespace pantry::sql {
namespace {

const catalog::View& orchardOfMain() {
    static const catalog::View view(
        {{.schema = "main", .name = "plot", .columns = {{"plot_id", "integer"}, {"name", "text"}}},
         {.schema = "kitchen", .name = "plot", .columns = {{"jar", "integer"}}}},
        {"main"});
    return view;
}

Error advised(std::string_view statement, const std::string& message) {
    const ErrorKind kind = message.starts_with("No such") ? ErrorKind::UnknownName : ErrorKind::Statement;
    return withAdvice({.kind = kind, .message = message}, statement, Dialect::Sqlite, orchardOfMain());
}

TEST(FailureAdviceTest, TheNameIsShownInItsPlaceWithTheOneThatMayBeMeant) {
    const Error table = advised("SELECT *\nFROM plto", "No such table: plto.");
    EXPECT_EQ(table.byteOffset, 14U);
    EXPECT_EQ(table.hint, "Did you mean plot?");
    const Error column = advised("SELECT nmae FROM plot", "No such column: nmae.");
    EXPECT_EQ(column.byteOffset, 7U);
    EXPECT_EQ(column.hint, "Did you mean name?");
}

TEST(FailureAdviceTest, OnlyAnUnknownNameIsLookedFor) {
    const Error other{.kind = ErrorKind::Statement, .message = "plto is in the way."};
    EXPECT_EQ(withAdvice(other, "SELECT * FROM plto", Dialect::Sqlite, orchardOfMain()), other);
}

TEST(FailureAdviceTest, OtherComplaintsStayAsTheyAre) {
    const Error error = advised("SELECT * FROM plto", "The disk is full.");
    EXPECT_FALSE(error.byteOffset);
    EXPECT_TRUE(error.hint.empty());
}

TEST(FailureAdviceTest, TwoStatementsThatNothingPartsAreTold) {
    const Error complaint{.kind = ErrorKind::Statement, .message = "syntax error near \"select\""};
    const Error error = withTextAdvice(complaint, "select 1\n\nselect 2", Dialect::Sqlite);
    EXPECT_EQ(error.hint, "Line 3 of it begins another statement: put “;” before it.");
    EXPECT_EQ(error.byteOffset, 10U);
    EXPECT_TRUE(withTextAdvice(complaint, "select 1 from\nwhere", Dialect::Sqlite).hint.empty());
    EXPECT_TRUE(
        withTextAdvice({.kind = ErrorKind::Connection, .message = "gone"}, "select 1\n\nselect 2", Dialect::Sqlite)
            .hint.empty());
}

TEST(CatalogViewTest, AnotherSearchPathMeansAnotherTableByTheSameName) {
    const catalog::View kitchen = orchardOfMain().withSearchPath({"kitchen", "main"});
    ASSERT_NE(kitchen.find("", "plot"), nullptr);
    EXPECT_EQ(kitchen.find("", "plot")->schema, "kitchen");
    EXPECT_EQ(orchardOfMain().find("", "plot")->schema, "main");
    EXPECT_EQ(&kitchen.relations(), &orchardOfMain().relations()) << "nothing is copied";
}

}  // namespace
}  // namespace pantry::sql
