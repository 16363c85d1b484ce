// Catalogs of real servers: every kind, lazily by schema, with rights, stopped and told.
#include <gmock/gmock.h>

#include <future>

#include "core/db/engine_bench.h"
#include "core/sql/meaning/catalog_changes.h"
#include "core/sql/write/standard_queries.h"
#include "support/catalog_text.h"

namespace pantry::db {
namespace {

using test::Line;
using testing::Contains;
using testing::HasSubstr;

Result<catalog::CatalogPtr> load(Line& line, catalog::Request request = {}) {
    std::promise<Result<catalog::CatalogPtr>> promise;
    line->loadCatalog(std::move(request), [&](Result<catalog::CatalogPtr> c) { promise.set_value(std::move(c)); });
    return promise.get_future().get();
}

void make(Line& line, std::initializer_list<const char*> statements) {
    for (const char* sql : statements) {
        const auto error = line.run(sql)->error();
        ASSERT_FALSE(error) << sql << error->text();
    }
}

/// Whatever a relation holds, each of its standard queries runs.
void expectStandardQueriesToRun(Line& line, sql::Dialect dialect, std::size_t least) {
    const catalog::CatalogPtr catalog = load(line).value();
    std::size_t ran = 0;
    for (const catalog::Relation* relation : catalog->relations()) {
        for (const sql::StandardQuery& one : sql::standardQueries(*relation, catalog::View(catalog), dialect)) {
            const auto error = line.run(one.statement.substr(0, one.statement.size() - 1))->error();
            EXPECT_FALSE(error) << one.statement << "\n" << error->text();
            ++ran;
        }
    }
    EXPECT_GE(ran, least);
}

/// Runs definitions one after another; after each, reading only what it may have changed must tell the same as reading
/// everything.
void expectPartsToTellTheWhole(Line& line, const std::string& schema, sql::Dialect dialect,
                               std::initializer_list<const char*> statements) {
    catalog::CatalogPtr known = load(line, {.schemas = {schema}}).value();
    for (const char* sql : statements) {
        SCOPED_TRACE(sql);
        const auto error = line.run(sql)->error();
        ASSERT_FALSE(error) << error->text();
        const auto changes = sql::catalogChanges(sql, sql::parseSingle(sql, dialect), schema);
        ASSERT_FALSE(changes.names.empty()) << "it is about relations only";
        known = load(line, {.schemas = changes.schemas, .known = known, .names = changes.names}).value();
        const catalog::CatalogPtr whole = load(line, {.schemas = {schema}}).value();
        EXPECT_THAT(test::differences(*known, *whole), testing::IsEmpty());
    }
}

class PostgresCatalogTest : public testing::Test {
protected:
    void SetUp() override {
        Line admin(test::profileFor(test::sharedPostgres()));
        make(admin, {"DROP DATABASE IF EXISTS looked_at", "CREATE DATABASE looked_at", "DROP ROLE IF EXISTS guest",
                     "CREATE ROLE guest LOGIN"});
        Line line(profile());
        make(line,
             {"CREATE SCHEMA attic",
              "CREATE TABLE attic.box (box_id int PRIMARY KEY, weight numeric CHECK (weight > 0))",
              "CREATE TABLE plot (plot_id serial PRIMARY KEY, name text, box_id int REFERENCES attic.box)",
              "CREATE VIEW large AS SELECT plot_id FROM plot",
              "CREATE MATERIALIZED VIEW tally AS SELECT count(*) FROM plot",
              "CREATE FUNCTION ripe(a int, b text DEFAULT 'x') RETURNS date LANGUAGE sql AS 'SELECT current_date'",
              "CREATE TYPE ripeness AS ENUM ('hard', 'soft')", "CREATE SEQUENCE ticket",
              "GRANT SELECT ON large TO guest"});
    }
    static ConnectionProfile profile(const std::string& user = {}) {
        ConnectionProfile p = test::profileFor(test::sharedPostgres(), "looked_at");
        if (!user.empty()) p.user = user;
        return p;
    }
};

TEST_F(PostgresCatalogTest, HoldsEveryKindWithItsFacts) {
    Line line(profile());
    const catalog::CatalogPtr catalog = load(line).value();
    EXPECT_EQ(catalog->facts().database, "looked_at");
    EXPECT_THAT(catalog->facts().databases, Contains("looked_at"));
    EXPECT_EQ(catalog->find("", "tally")->kind, catalog::ObjectKind::MaterializedView);
    EXPECT_EQ(catalog->find("attic", "box")->constraints.at(0).definition, "CHECK (weight > 0::numeric)");
    EXPECT_EQ(catalog->referencesTo(*catalog->find("attic", "box")).at(0).from, catalog->find("public", "plot"));
    const catalog::Object* ripe = catalog->findObject("public", "ripe", "a integer, b text");
    ASSERT_NE(ripe, nullptr);
    EXPECT_EQ(ripe->detail, "date");
    EXPECT_EQ(catalog->findObject("public", "ripeness", "")->detail, "enum: hard, soft");
    EXPECT_EQ(catalog->findObject("public", "plot_plot_id_seq", "")->detail, "of plot.plot_id");
    EXPECT_EQ(catalog->schema("pg_catalog")->isLoaded, false);
}

TEST_F(PostgresCatalogTest, StandardQueriesRunOnEveryRelation) {
    Line line(profile());
    make(line,
         {"CREATE TABLE \"Odd name\" (\"select\" json, \"a \"\"b\" point, c bytea, \"Größe\" int[], at timestamptz)"});
    expectStandardQueriesToRun(line, sql::Dialect::Postgres, 10);
    make(line, {"DROP TABLE \"Odd name\""});
}

TEST(MariaDbStandardQueriesTest, RunOnEveryRelation) {
    ASSERT_EQ(test::sharedMariaDb().startup(), "");
    Line(test::profileFor(test::sharedMariaDb())).run("CREATE DATABASE IF NOT EXISTS asked");
    ConnectionProfile p = test::profileFor(test::sharedMariaDb());
    p.database = "asked";
    Line line(p);
    make(line, {"CREATE OR REPLACE TABLE `odd name` (`select` json, b longblob, `Größe` set('a','b'), at datetime(3))",
                "CREATE OR REPLACE TABLE plain (id int AUTO_INCREMENT PRIMARY KEY, name varchar(20), g geometry)",
                "CREATE OR REPLACE VIEW seen AS SELECT * FROM plain"});
    expectStandardQueriesToRun(line, sql::Dialect::MySql, 8);
}

TEST_F(PostgresCatalogTest, OneSchemaIsReadAndTheOthersStay) {
    Line line(profile());
    const catalog::CatalogPtr before = load(line).value();
    make(line, {"CREATE TABLE attic.trunk (n int)", "CREATE TABLE shed (n int)"});
    const catalog::CatalogPtr after = load(line, {.schemas = {"attic"}, .known = before}).value();
    EXPECT_NE(after->find("attic", "trunk"), nullptr);
    EXPECT_EQ(after->find("public", "shed"), nullptr);
    const catalog::CatalogPtr own = load(line, {.schemas = {"pg_catalog"}, .known = after}).value();
    EXPECT_NE(own->find("pg_catalog", "pg_class"), nullptr);
    EXPECT_NE(own->find("attic", "trunk"), nullptr);
}

TEST_F(PostgresCatalogTest, WhatADefinitionChangedIsReadAloneAndTellsTheSame) {
    Line line(profile());
    make(line,
         {"CREATE TABLE season (year int, n int) PARTITION BY LIST (year)",
          "CREATE TABLE season_1 PARTITION OF season FOR VALUES IN (1)", "CREATE TABLE old_plot () INHERITS (plot)"});
    expectPartsToTellTheWhole(
        line, "public", sql::Dialect::Postgres,
        {"CREATE TABLE shed (shed_id serial PRIMARY KEY, plot_id int REFERENCES plot, n int CHECK (n > 0))",
         "ALTER TABLE plot ADD COLUMN area numeric DEFAULT 1", "ALTER TABLE season ADD COLUMN note text",
         "ALTER TABLE plot RENAME COLUMN plot_id TO id", "CREATE INDEX by_name ON plot (lower(name))",
         "ALTER INDEX by_name RENAME TO by_small_name", "COMMENT ON COLUMN plot.name IS 'as it is called'",
         "CREATE VIEW wide AS SELECT * FROM shed", "CREATE OR REPLACE VIEW wide AS SELECT *, 1 AS one FROM shed",
         "ALTER TABLE shed RENAME TO \"Big Shed\"", "DROP VIEW wide", "DROP INDEX by_small_name",
         "DROP TABLE \"Big Shed\"", "CREATE TABLE \"PLOT\" (n int)", "ALTER TABLE plot ADD COLUMN height int",
         "DROP TABLE IF EXISTS nothing_there", "CREATE UNIQUE INDEX ON plot (name, area)"});
}

TEST_F(PostgresCatalogTest, APartThatCannotBeReadIsToldAndTheRestIsThere) {
    Line admin(profile());
    make(admin, {"REVOKE SELECT ON pg_catalog.pg_trigger FROM PUBLIC"});
    Line line(profile("guest"));
    const auto catalog = load(line);
    make(admin, {"GRANT SELECT ON pg_catalog.pg_trigger TO PUBLIC"});
    ASSERT_TRUE(catalog) << catalog.error().text();
    ASSERT_NE((*catalog)->find("public", "large"), nullptr);
    EXPECT_EQ((*catalog)->find("public", "large")->columns.size(), 1U);
    EXPECT_NE((*catalog)->findObject("public", "ripe", "a integer, b text"), nullptr);
    EXPECT_THAT((*catalog)->schema("public")->problem, HasSubstr("pg_trigger"));
}

TEST_F(PostgresCatalogTest, WhatTheUserMayNotReadIsCountedAndShownWhenAskedFor) {
    Line line(profile("guest"));
    const catalog::CatalogPtr catalog = load(line).value();
    EXPECT_NE(catalog->find("public", "large"), nullptr);
    EXPECT_EQ(catalog->find("public", "plot"), nullptr);
    EXPECT_EQ(catalog->schema("public")->forbidden, 2U);
    EXPECT_THAT(catalog->schema("attic")->problem, HasSubstr("no right"));
    const catalog::CatalogPtr all = load(line, {.withForbidden = true}).value();
    EXPECT_THAT(all->find("public", "plot")->problem, HasSubstr("no right"));
    EXPECT_NE(all->find("attic", "box"), nullptr);
}

TEST_F(PostgresCatalogTest, ReadingTellsHowFarItIsAndCanBeStopped) {
    Line line(profile());
    std::vector<std::string> parts;
    std::promise<Result<catalog::CatalogPtr>> promise;
    auto handle = std::make_shared<RunHandle>();
    std::promise<void> isHandleThere;
    auto there = isHandleThere.get_future().share();
    catalog::Request request;
    request.progress = [&](std::string_view part, std::size_t, std::size_t) {
        parts.emplace_back(part);
        there.wait();
        if (part == "columns") handle->cancel();
    };
    *handle =
        line->loadCatalog(std::move(request), [&](Result<catalog::CatalogPtr> c) { promise.set_value(std::move(c)); });
    isHandleThere.set_value();
    const auto result = promise.get_future().get();
    ASSERT_FALSE(result);
    EXPECT_EQ(result.error().kind, ErrorKind::Cancelled);
    EXPECT_EQ(parts.back(), "columns");
    EXPECT_TRUE(load(line));  // the line is as good as before
}

TEST(MariaDbCatalogTest, HoldsEveryKindAndLoadsOtherDatabasesOnDemand) {
    Line admin(test::profileFor(test::sharedMariaDb()));
    make(admin, {"DROP DATABASE IF EXISTS looked_at", "CREATE DATABASE looked_at"});
    Line line(test::profileFor(test::sharedMariaDb(), "looked_at"));
    make(line, {"CREATE TABLE jar (jar_id int AUTO_INCREMENT PRIMARY KEY, grams int CHECK (grams > 0))",
                "CREATE VIEW heavy AS SELECT jar_id FROM jar", "CREATE SEQUENCE ticket",
                "CREATE FUNCTION twice(n int) RETURNS int DETERMINISTIC RETURN n * 2",
                "CREATE PROCEDURE tidy(IN days int, OUT gone int) SET gone = days",
                "CREATE EVENT nightly ON SCHEDULE EVERY 1 DAY DISABLE DO DELETE FROM jar WHERE grams < 0"});
    const catalog::CatalogPtr catalog = load(line, {.schemas = {"looked_at"}}).value();
    EXPECT_EQ(catalog->find("", "jar")->columns[0].identity, catalog::Identity::ByDefault);
    EXPECT_EQ(catalog->find("", "jar")->constraints.size(), 1U);
    EXPECT_NE(catalog->findObject("looked_at", "tidy", "days int(11), OUT gone int(11)"), nullptr);
    EXPECT_EQ(catalog->findObject("looked_at", "twice", "n int(11)")->detail, "int(11)");
    EXPECT_EQ(catalog->findObject("looked_at", "nightly", "")->detail, "every 1 day");
    EXPECT_EQ(catalog->findObject("looked_at", "ticket", "")->kind, catalog::ObjectKind::Sequence);
    EXPECT_FALSE(catalog->schema("information_schema")->isLoaded);
    const catalog::CatalogPtr more = load(line, {.schemas = {"information_schema"}, .known = catalog}).value();
    EXPECT_NE(more->find("information_schema", "TABLES"), nullptr);
    EXPECT_NE(more->find("looked_at", "jar"), nullptr);
}

TEST(MariaDbCatalogTest, WhatADefinitionChangedIsReadAloneAndTellsTheSame) {
    Line admin(test::profileFor(test::sharedMariaDb()));
    make(admin, {"DROP DATABASE IF EXISTS changed", "CREATE DATABASE changed"});
    Line line(test::profileFor(test::sharedMariaDb(), "changed"));
    make(line, {"CREATE TABLE jar (jar_id int PRIMARY KEY, grams int)", "CREATE SEQUENCE ticket",
                "CREATE TABLE lid (lid_id int PRIMARY KEY, jar_id int, FOREIGN KEY (jar_id) REFERENCES jar (jar_id))",
                "CREATE VIEW heavy AS SELECT grams FROM jar", "CREATE PROCEDURE tidy() SELECT 1"});
    expectPartsToTellTheWhole(
        line, "changed", sql::Dialect::MySql,
        {"ALTER TABLE jar ADD COLUMN glass varchar(20) DEFAULT 'clear', ADD INDEX by_glass (glass)",
         "ALTER TABLE jar RENAME COLUMN jar_id TO id",
         "CREATE TRIGGER fill BEFORE INSERT ON jar FOR EACH ROW SET NEW.grams = 1", "DROP TRIGGER fill",
         "RENAME TABLE jar TO `big jar`", "ALTER TABLE `big jar` RENAME TO jar",
         "CREATE TABLE shelf (a int CHECK (a > 0))", "DROP INDEX by_glass ON jar",
         "ALTER TABLE jar DROP COLUMN grams",  // a view is left that does not work
         "CREATE OR REPLACE VIEW heavy AS SELECT glass FROM jar", "DROP TABLE shelf", "DROP VIEW heavy"});
}

}  // namespace
}  // namespace pantry::db
