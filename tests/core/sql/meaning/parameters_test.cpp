#include "core/sql/meaning/parameters.h"

#include "core/sql/syntax/parser.h"

namespace pantry::sql {
namespace {

using testing::ElementsAre;
using testing::IsEmpty;

const catalog::View& inspections() {
    static const catalog::View view(
        {{.schema = "main",
          .name = "inspection",
          .columns = {{"tree_id", "integer", true, 1}, {"visited_on", "date"}, {"note", "text"}}}},
        {"main"});
    return view;
}

/// Each parameter as key:type, with […] where it may be a list.
std::vector<std::string> parameters(const std::string& sql, Dialect dialect = Dialect::Postgres) {
    const SyntaxTree tree = parseSingle(sql, dialect);
    const ScopeFinder scope(sql, tree, inspections());
    std::vector<std::string> out;
    for (const StatementParameter& one : parametersOf(sql, tree, scope)) {
        out.push_back(one.key + ":" + one.type + (one.isList ? "[]" : "") +
                      (one.places.size() > 1 ? " x" + std::to_string(one.places.size()) : ""));
    }
    return out;
}

TEST(ParametersTest, TakeTheirTypeFromWhatTheyAreComparedWith) {
    EXPECT_THAT(
        parameters("SELECT 1 FROM inspection i WHERE i.visited_on >= :since AND tree_id BETWEEN :low AND (:high)"),
        ElementsAre("since:date", "low:integer", "high:integer"));
    EXPECT_THAT(parameters("SELECT 1 FROM inspection WHERE :note = note LIMIT :n"),
                ElementsAre("note:text", "n:integer"));
    EXPECT_THAT(parameters("UPDATE inspection SET note = :note WHERE tree_id = :id"),
                ElementsAre("note:text", "id:integer"));
    EXPECT_THAT(parameters("INSERT INTO inspection (visited_on, note) VALUES (:day, 'x'), (now(), :note)"),
                ElementsAre("day:date", "note:text"));
    EXPECT_THAT(parameters("SELECT :day::date, :other"), ElementsAre("day:date", "other:"));
}

TEST(ParametersTest, TheOnlyOneOfInMayBeAList) {
    EXPECT_THAT(parameters("SELECT 1 FROM inspection WHERE tree_id IN (:ids)"), ElementsAre("ids:integer[]"));
    EXPECT_THAT(parameters("SELECT 1 FROM inspection WHERE tree_id IN (:a, :b)"),
                ElementsAre("a:integer", "b:integer"));
    EXPECT_THAT(parameters("SELECT 1 FROM inspection WHERE tree_id IN (:a) OR tree_id = :a"),
                ElementsAre("a:integer x2"))
        << "elsewhere it is one value";
}

TEST(ParametersTest, HaveNumbersWhereTheyHaveNoNames) {
    EXPECT_THAT(parameters("SELECT 1 FROM inspection WHERE note = ? AND tree_id = ?", Dialect::MySql),
                ElementsAre("1:text", "2:integer"));
    EXPECT_THAT(parameters("SELECT 1 FROM inspection WHERE note = ?2 AND tree_id = ?1", Dialect::Sqlite),
                ElementsAre("2:text", "1:integer"));
    EXPECT_THAT(parameters("SELECT $2, $1, $2"), ElementsAre("2: x2", "1:"));
}

TEST(ParametersTest, ThoseOfSomethingToBeCalledLaterAreNotOpen) {
    EXPECT_THAT(parameters("PREPARE p AS SELECT $1"), IsEmpty());
    EXPECT_THAT(parameters("CREATE FUNCTION f(int) RETURNS int RETURN $1 + 1"), IsEmpty());
    EXPECT_THAT(parameters("SELECT ':no', \":no\", 1::int -- :no"), IsEmpty());
}

TEST(ParametersTest, ALiteralsValueIsWhatSomebodyWouldType) {
    EXPECT_EQ(valueOfLiteral("'O''Hara'"), "O'Hara");
    EXPECT_EQ(valueOfLiteral("12.5"), "12.5");
    EXPECT_EQ(valueOfLiteral("DATE '2026-01-01'"), "2026-01-01");
    EXPECT_EQ(valueOfLiteral("''"), "");
}

}  // namespace
}  // namespace pantry::sql
