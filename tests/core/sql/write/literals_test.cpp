#include "core/sql/write/literals.h"

#include <gtest/gtest.h>

#include <limits>

#include "core/sql/write/insert_statements.h"
#include "core/sql/write/names.h"

namespace pantry::sql {
namespace {

std::string literal(const data::Cell& cell, Dialect dialect, const data::Column& column = {}) {
    std::string out;
    appendLiteral(out, cell, column, dialect);
    return out;
}

TEST(LiteralsTest, AreWrittenAsEachDialectReadsThem) {
    EXPECT_EQ(literal({}, Dialect::Postgres), "NULL");
    const data::Cell quoted{.kind = data::CellKind::Text, .bytes = R"(it's \ here)"};
    EXPECT_EQ(literal(quoted, Dialect::Postgres), R"('it''s \ here')");
    EXPECT_EQ(literal(quoted, Dialect::MySql), R"('it''s \\ here')");
    const data::Cell binary{.kind = data::CellKind::Binary, .bytes = std::string_view("\0\xff", 2)};
    EXPECT_EQ(literal(binary, Dialect::Postgres), R"('\x00ff')");
    EXPECT_EQ(literal(binary, Dialect::Sqlite), "X'00ff'");
    const data::Cell zero{.kind = data::CellKind::Text, .bytes = std::string_view("a\0b", 3)};
    EXPECT_EQ(literal(zero, Dialect::Sqlite), "CAST(X'610062' AS TEXT)");
    const data::Cell endless{.kind = data::CellKind::Real, .real = std::numeric_limits<double>::infinity()};
    EXPECT_EQ(literal(endless, Dialect::Sqlite), "9e999");
    EXPECT_EQ(literal(endless, Dialect::Postgres), "'Infinity'");
}

TEST(LiteralsTest, ExactNumbersStayExact) {
    const data::Column weight{.name = "weight", .typeName = "numeric", .type = data::ColumnType::Decimal};
    const data::Cell exact{.kind = data::CellKind::Text, .bytes = "12345678901234567890.10"};
    EXPECT_EQ(literal(exact, Dialect::Postgres, weight), "12345678901234567890.10");
    const data::Cell word{.kind = data::CellKind::Text, .bytes = "NaN"};
    EXPECT_EQ(literal(word, Dialect::Postgres, weight), "'NaN'");
}

TEST(InsertStatementsTest, NamesAreQuotedWhereTheyMustBe) {
    const std::vector<data::Column> columns{{"jar_id", "", data::ColumnType::Integer},
                                            {"order", "varchar(20)", data::ColumnType::Text}};
    const std::string table = dottedName("kitchen.Jar list", Dialect::Postgres);
    EXPECT_EQ(table, R"(kitchen."Jar list")");
    EXPECT_EQ(insertOpening(table, columns, Dialect::Postgres),
              R"(INSERT INTO kitchen."Jar list" (jar_id, "order") VALUES)");
    EXPECT_EQ(createTableLike("jar", columns, Dialect::MySql),
              "CREATE TABLE jar (\n    jar_id bigint,\n    `order` varchar(20)\n)");
}

}  // namespace
}  // namespace pantry::sql
