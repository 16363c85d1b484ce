#include "core/sql/meaning/name_uses.h"

#include "core/sql/syntax/parser.h"
#include "support/marked_sql.h"

namespace pantry::sql {
namespace {

using testing::ElementsAre;
using testing::IsEmpty;

const catalog::View& namedOrchard() {
    static const catalog::View view(
        {{.schema = "main", .name = "plot", .columns = {{"plot_id", "integer", true, 1}, {"name", "text"}}},
         {.schema = "main", .name = "tree", .columns = {{"tree_id", "integer", true, 1}, {"plot_id", "integer"}}}},
        {"main"});
    return view;
}

/// The bytes of all uses of the name at the mark.
std::vector<std::uint32_t> uses(std::string_view sql, std::optional<NameUses::Kind> kind = {}) {
    const auto m = test::marked(sql);
    const SyntaxTree tree = parseSingle(m.text, Dialect::Postgres);
    const ScopeFinder scope(m.text, tree, namedOrchard());
    const NameFinder finder(m.text, tree, scope);
    const auto token = finder.nameTokenAt(m.caret);
    const auto found = token ? finder.usesOf(*token) : std::nullopt;
    if (!found) return {};
    if (kind) {
        EXPECT_EQ(found->kind, *kind);
    }
    std::vector<std::uint32_t> starts;
    for (const std::uint32_t one : found->tokens) starts.push_back(tree.tokens[one].start);
    return starts;
}

TEST(NameUsesTest, AnAliasIsFoundWhereItIsMadeAndWhereverItQualifies) {
    EXPECT_EQ(uses("SELECT p<|>.name n FROM plot p WHERE p.plot_id = 1", NameUses::Kind::Relation),
              (std::vector<std::uint32_t>{7, 26, 34}));
    EXPECT_EQ(uses("SELECT p.name n FROM plot <|>p WHERE P.plot_id = 1"), (std::vector<std::uint32_t>{7, 26, 34}));
    EXPECT_EQ(uses("SELECT p.*, (SELECT 1 FROM tree t WHERE t.plot_id = <|>p.plot_id) FROM plot p").size(), 3U);
}

TEST(NameUsesTest, TheSameLettersElsewhereAreSomethingElse) {
    EXPECT_THAT(uses("SELECT <|>p.name FROM plot p WHERE EXISTS (SELECT p.tree_id FROM tree p)"), ElementsAre(7, 24));
    EXPECT_THAT(uses("SELECT p.name FROM plot p WHERE EXISTS (SELECT <|>p.tree_id FROM tree p)"), ElementsAre(47, 67));
}

TEST(NameUsesTest, ACommonTableWithItsReadersAndQualifiers) {
    EXPECT_EQ(uses("WITH w<|> AS (SELECT 1 x) SELECT w.x FROM w JOIN w AS v ON v.x = w.x", NameUses::Kind::CommonTable)
                  .size(),
              5U);
    EXPECT_THAT(uses("WITH w AS (SELECT 1 x) SELECT v.x FROM w AS <|>v"), ElementsAre(30, 44));
}

TEST(NameUsesTest, AColumnOfOneRelationIsNotThatOfAnother) {
    EXPECT_THAT(uses("SELECT p.plot_id<|>, t.plot_id FROM plot p, tree t WHERE p.plot_id = 1", NameUses::Kind::Column),
                ElementsAre(9, 56));
    EXPECT_THAT(uses("SELECT name<|> FROM plot WHERE plot.name > 'a' ORDER BY upper(name)"), ElementsAre(7, 33, 59));
}

TEST(NameUsesTest, ANameOfTheSelectListIsFoundBelow) {
    EXPECT_THAT(uses("SELECT count(*) AS trees<|> FROM tree ORDER BY trees DESC", NameUses::Kind::Output),
                ElementsAre(19, 44));
}

TEST(NameUsesTest, KeywordsFunctionsAndUnknownNamesMeanNothing) {
    EXPECT_THAT(uses("SELEC<|>T 1"), IsEmpty());
    EXPECT_THAT(uses("SELECT coun<|>t(*) FROM tree"), IsEmpty());
    EXPECT_THAT(uses("SELECT height<|> FROM tree"), IsEmpty());
    EXPECT_THAT(uses("<|>"), IsEmpty());
}

TEST(NameUsesTest, TellsWhereTheNameIsMadeAndWhatItIs) {
    const std::string sql = "SELECT p.name FROM plot AS p";
    const SyntaxTree tree = parseSingle(sql, Dialect::Postgres);
    const ScopeFinder scope(sql, tree, namedOrchard());
    const NameFinder finder(sql, tree, scope);
    const auto alias = finder.usesOf(*finder.nameTokenAt(7));
    ASSERT_TRUE(alias);
    EXPECT_EQ(tree.tokens[alias->madeAt].start, 27U);
    ASSERT_TRUE(alias->relation && alias->relation->fact != nullptr);
    EXPECT_EQ(alias->relation->fact->name, "plot");
    const auto column = finder.usesOf(*finder.nameTokenAt(9));
    ASSERT_TRUE(column && column->column);
    EXPECT_EQ(column->column->type, "text");
    EXPECT_EQ(column->madeAt, Node::kNone) << "the database has it";
}

}  // namespace
}  // namespace pantry::sql
