#include <future>

#include "core/db/session.h"
#include "core/sql/meaning/catalog_changes.h"
#include "support/catalog_text.h"
#include "support/sqlite_file.h"
#include "support/temporary_folder.h"

namespace pantry::db {
namespace {

Result<catalog::CatalogPtr> catalogOf(const ConnectionProfile& profile, catalog::Request request = {}) {
    Session session(profile, std::nullopt);
    std::promise<Result<catalog::CatalogPtr>> promise;
    session.loadCatalog(std::move(request), [&](Result<catalog::CatalogPtr> c) { promise.set_value(std::move(c)); });
    return promise.get_future().get();
}

class SqliteCatalogTest : public testing::Test {
protected:
    catalog::CatalogPtr load(const std::string& script) {
        test::runScript(folder_ / "a.db", script);
        return catalogOf(test::profileOf(folder_ / "a.db")).value();
    }
    std::string definitionOf(const std::string& name) {
        Session session(test::profileOf(folder_ / "a.db"), std::nullopt);
        std::promise<Result<catalog::Definition>> promise;
        session.readDefinition({.schema = "main", .name = name},
                               [&](Result<catalog::Definition> d) { promise.set_value(std::move(d)); });
        return promise.get_future().get().value().whole();
    }
    test::TemporaryFolder folder_;
};

TEST_F(SqliteCatalogTest, WhatADefinitionChangedIsReadAloneAndTellsTheSame) {
    catalog::CatalogPtr known = load(
        "CREATE TABLE plot (plot_id INTEGER PRIMARY KEY, name TEXT); CREATE TABLE tree (t INTEGER REFERENCES plot);"
        "CREATE VIEW large AS SELECT name FROM plot; CREATE TRIGGER grown AFTER INSERT ON tree BEGIN SELECT 1; END");
    for (const char* sql :
         {"ALTER TABLE plot ADD COLUMN area REAL DEFAULT 1", "CREATE INDEX by_name ON plot (name)",
          "CREATE TABLE Shed (shed_id INTEGER PRIMARY KEY, p REFERENCES plot)", "ALTER TABLE plot RENAME TO field",
          "ALTER TABLE field RENAME COLUMN plot_id TO field_id", "DROP TRIGGER grown", "DROP INDEX by_name",
          "CREATE TRIGGER again AFTER DELETE ON shed BEGIN SELECT 2; END", "DROP TABLE field", "DROP TABLE SHED",
          "DROP VIEW large"}) {
        SCOPED_TRACE(sql);
        test::runScript(folder_ / "a.db", sql);
        const auto changes = sql::catalogChanges(sql, sql::parseSingle(sql, sql::Dialect::Sqlite), "main");
        ASSERT_FALSE(changes.names.empty());
        const auto profile = test::profileOf(folder_ / "a.db");
        known = catalogOf(profile, {.schemas = changes.schemas, .known = known, .names = changes.names}).value();
        EXPECT_EQ(test::differences(*known, *catalogOf(profile).value()), std::vector<std::string>());
    }
}

TEST_F(SqliteCatalogTest, ReadsColumnsKeysAndDefaults) {
    const auto catalog = load(
        "CREATE TABLE plot (plot_id INTEGER PRIMARY KEY, name TEXT NOT NULL DEFAULT 'x', area DECIMAL(6, 2),"
        " twice GENERATED ALWAYS AS (area * 2));"
        "CREATE TABLE pair (a INTEGER, b INTEGER, PRIMARY KEY (b, a)) WITHOUT ROWID;");
    const catalog::Relation* plot = catalog->find("main", "PLOT");
    ASSERT_NE(plot, nullptr);
    ASSERT_EQ(plot->columns.size(), 4U);
    EXPECT_EQ(plot->columns[0].keyPosition, 1);
    EXPECT_FALSE(plot->columns[1].isNullable);
    EXPECT_EQ(plot->columns[1].defaultValue, "'x'");
    EXPECT_EQ(plot->columns[2].typeName, "DECIMAL(6, 2)");
    EXPECT_TRUE(plot->columns[3].isGenerated);
    EXPECT_EQ(catalog->find("", "pair")->columns[1].keyPosition, 1);
}

TEST_F(SqliteCatalogTest, ReadsForeignKeysInBothDirections) {
    const auto catalog = load(
        "CREATE TABLE plot (plot_id INTEGER PRIMARY KEY);"
        "CREATE TABLE tree (id INTEGER PRIMARY KEY, plot INTEGER REFERENCES plot ON DELETE CASCADE);");
    const catalog::Relation* tree = catalog->find("", "tree");
    ASSERT_EQ(tree->foreignKeys.size(), 1U);
    EXPECT_EQ(tree->foreignKeys[0].referencedColumns, std::vector<std::string>{"plot_id"});
    EXPECT_EQ(tree->foreignKeys[0].onDelete, "CASCADE");
    EXPECT_EQ(tree->foreignKeyOf("plot"), &tree->foreignKeys[0]);
    const auto references = catalog->referencesTo(*catalog->find("", "plot"));
    ASSERT_EQ(references.size(), 1U);
    EXPECT_EQ(references[0].from, tree);
}

TEST_F(SqliteCatalogTest, ReadsIndexesTriggersViewsAndDefinitions) {
    const auto catalog = load(
        "CREATE TABLE t (a, b); CREATE UNIQUE INDEX i ON t (b, lower(a)) WHERE a > 1;"
        "CREATE TRIGGER g AFTER DELETE ON t BEGIN SELECT 1; END; CREATE VIEW v AS SELECT a AS x FROM t;");
    const catalog::Relation* t = catalog->find("", "t");
    ASSERT_EQ(t->indexes.size(), 1U);
    EXPECT_EQ(t->indexes[0].columns, (std::vector<std::string>{"b", "(expression)"}));
    EXPECT_TRUE(t->indexes[0].isUnique && t->indexes[0].isPartial);
    EXPECT_EQ(t->triggers.at(0).name, "g");
    EXPECT_EQ(catalog->find("", "v")->kind, catalog::ObjectKind::View);
    EXPECT_EQ(catalog->find("", "v")->columns.at(0).name, "x");
    EXPECT_EQ(definitionOf("t"),
              "CREATE TABLE t (a, b);\nCREATE UNIQUE INDEX i ON t (b, lower(a)) WHERE a > 1;\n"
              "CREATE TRIGGER g AFTER DELETE ON t BEGIN SELECT 1; END;\n");
}

TEST_F(SqliteCatalogTest, DefinitionsMakeTheSameObjectsAgain) {
    const auto catalog = load(
        "CREATE TABLE \"Pl.ot \"\"it\"\"\" (\"group\" INTEGER PRIMARY KEY, name TEXT DEFAULT 'it''s; new' CHECK (name "
        "<> ''), "
        "up INTEGER REFERENCES \"Pl.ot \"\"it\"\"\" ON DELETE CASCADE);"
        "CREATE TABLE pair (a INT, b INT, PRIMARY KEY (b, a)) WITHOUT ROWID;"
        "CREATE INDEX byname ON \"Pl.ot \"\"it\"\"\" (name COLLATE NOCASE DESC) WHERE name > 'a';"
        "CREATE TRIGGER note AFTER INSERT ON pair BEGIN UPDATE pair SET a = 1; DELETE FROM pair WHERE b = 2; END;"
        "CREATE VIEW large AS SELECT name AS \"Upper Name\" FROM \"Pl.ot \"\"it\"\"\";"
        "CREATE VIRTUAL TABLE words USING fts5(body);");
    std::vector<std::pair<std::string, std::string>> before;
    std::string script;
    for (const catalog::Relation* r : catalog->relations()) {
        if (r->name.starts_with("words_")) continue;  // the virtual table makes them itself
        before.emplace_back(r->name, definitionOf(r->name));
        script += before.back().second;
    }
    EXPECT_EQ(before.size(), 4U);
    std::filesystem::remove(folder_ / "a.db");
    test::runScript(folder_ / "a.db", script);
    for (const auto& [name, definition] : before) EXPECT_EQ(definitionOf(name), definition);
}

TEST_F(SqliteCatalogTest, EstimatesRowsWithAndWithoutStatistics) {
    const std::string fill = "CREATE TABLE t (a); INSERT INTO t " +
                             test::rowsQuery(500).replace(test::rowsQuery(500).find("n, 'row ' || n AS t"), 19, "n") +
                             ";";
    EXPECT_EQ(load(fill)->find("", "t")->rowEstimate, 500);
    EXPECT_EQ(load("CREATE INDEX i ON t (a); ANALYZE; ")->find("", "t")->rowEstimate, 500);
}

TEST_F(SqliteCatalogTest, ABrokenViewSpoilsNothingElse) {
    const auto catalog =
        load("CREATE TABLE t (a); CREATE VIEW bad AS SELECT * FROM gone; CREATE VIEW good AS SELECT a FROM t;");
    EXPECT_THAT(catalog->find("", "bad")->problem, testing::HasSubstr("gone"));
    EXPECT_EQ(catalog->find("", "good")->columns.size(), 1U);
}

TEST_F(SqliteCatalogTest, AwkwardNamesAreNoTrouble) {
    const auto catalog = load("CREATE TABLE \"a \"\"b' c\" (\"se lect\" INTEGER PRIMARY KEY, \"x]\" TEXT);");
    EXPECT_EQ(catalog->find("", "a \"b' c")->columns.at(1).name, "x]");
}

TEST_F(SqliteCatalogTest, AnEmptyDatabaseHasAnEmptyCatalog) {
    EXPECT_TRUE(load("CREATE TABLE t (a); DROP TABLE t")->relations().empty());
}

}  // namespace
}  // namespace pantry::db
