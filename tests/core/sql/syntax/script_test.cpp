#include "core/sql/syntax/script.h"

#include "core/sql/meaning/statement_title.h"
#include "core/sql/syntax/parser.h"

namespace pantry::sql {
namespace {

TEST(ScriptTest, ParsesOnlyWhatAnEditTouched) {
    Script script(Dialect::Sqlite);
    script.setText("select 1;\nselect 2;\nselect 3;\n");
    EXPECT_EQ(script.lastParsedCount(), 3U);
    const auto kept = script.statements()[2].tree;

    script.setText("select 1;\nselect 22;\nselect 3;\n");

    EXPECT_EQ(script.lastParsedCount(), 1U);
    EXPECT_EQ(script.statements()[2].tree, kept);
    EXPECT_EQ(script.statements()[2].span.line, 3U);
}

TEST(ScriptTest, AnotherDialectParsesAnew) {
    Script script(Dialect::MySql);
    script.setText("select `a` from t");
    EXPECT_FALSE(script.statements()[0].tree->hasErrors());
    script.setLanguage(Dialect::Postgres);
    EXPECT_TRUE(script.statements()[0].tree->hasErrors());
}

TEST(ScriptTest, ReadsOnAcrossBodiesDelimitersAndData) {
    Script script(Dialect::MySql);
    script.setText("select 1;\ndelimiter //\ncreate procedure p() begin select 2; end//\ndelimiter ;\nselect 3;");
    script.setText("select 1;\ndelimiter //\ncreate procedure p() begin select 22; end//\ndelimiter ;\nselect 3;");

    ASSERT_EQ(script.statements().size(), 3U);
    EXPECT_EQ(script.statements()[1].span.kind, StatementKind::Create);
    EXPECT_EQ(script.statements()[2].span.line, 5U);
}

std::string titleFor(std::string_view text) { return titleOf(text, parseSingle(text, Dialect::Sqlite)); }

TEST(StatementTitleTest, NamesWhatAStatementIsAbout) {
    EXPECT_EQ(titleFor("select * from main.inspection i join tree t on 1"), "inspection");
    EXPECT_EQ(titleFor("update treatment set a = 1"), "UPDATE treatment");
    EXPECT_EQ(titleFor("with x as (select * from a) select * from b"), "b");
    EXPECT_EQ(titleFor("pragma  user_version"), "pragma user_version");
}

TEST(StatementTitleTest, ADefinitionIsNamedByWhatItDefinesAndNotByWhatItRefersTo) {
    EXPECT_EQ(titleFor("create table shed (plot_id int references plot)"), "CREATE TABLE shed");
    EXPECT_EQ(titleFor("create table if not exists main.\"Big Shed\" (a int)"), "CREATE TABLE Big Shed");
    EXPECT_EQ(titleFor("create unique index by_name on plot (name)"), "CREATE INDEX by_name");
    EXPECT_EQ(titleFor("create view large as select * from plot"), "CREATE VIEW large");
    EXPECT_EQ(titleFor("alter table shed add column t int references tree"), "ALTER TABLE shed");
    EXPECT_EQ(titleFor("drop table if exists shed"), "DROP TABLE shed");
}

}  // namespace
}  // namespace pantry::sql
