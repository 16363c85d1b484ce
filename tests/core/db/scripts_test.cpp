// Scripts of every kind, for every object of every kind, on the servers that they are written for.
#include <gmock/gmock.h>

#include <fstream>

#include "core/db/script_bench.h"
#include "core/db/served_objects.h"
#include "core/sql/syntax/parser.h"
#include "core/sql/write/server_queries.h"
#include "core/sql/write/shape_query.h"
#include "core/sql/write/table_query.h"
#include "core/work/column_shape.h"
#include "core/work/scripts.h"
#include "support/catalog_text.h"
#include "support/temporary_folder.h"

namespace pantry::db {
namespace {

using sql::Dialect;
using sql::ScriptKind;
using test::catalogOf;
using test::Line;
using test::objectsIn;
using test::partsOf;
using test::runScript;

std::string scriptFor(Line& line, const catalog::Catalog& catalog, ScriptKind kind,
                      const std::vector<catalog::ObjectName>& objects, Dialect from, Dialect to) {
    auto script = work::scriptOf(kind, catalog, partsOf(line, objects), from, to);
    EXPECT_TRUE(script) << script.error().text();
    return script.value_or(std::string());
}

/// What reads or defines is run; what changes rows is read by the server, which needs no values for that.
bool isRun(ScriptKind kind, const catalog::ObjectName& object) {
    const bool isRoutine =
        object.kind == catalog::ObjectKind::Function || object.kind == catalog::ObjectKind::Procedure;
    if (kind == ScriptKind::Select) return !isRoutine && object.kind != catalog::ObjectKind::MaterializedView;
    return kind == ScriptKind::Alter || kind == ScriptKind::Comment || kind == ScriptKind::Grant;
}

std::string firstSyntaxError(const std::string& script, Dialect dialect) {
    for (const sql::StatementSpan& span : sql::splitStatements(script, dialect)) {
        const std::string statement = script.substr(span.start, span.length);
        const sql::SyntaxTree tree = sql::parseSingle(statement, dialect);
        if (tree.hasErrors()) return statement + "\n  → " + tree.errors.front().message;
    }
    return {};
}

void expectUnderstood(Line& line, const std::string& script, Dialect dialect) {
    std::vector<sql::Statement> statements;
    for (const sql::StatementSpan& span : sql::splitStatements(script, dialect)) {
        statements.emplace_back(script.substr(span.start, span.length));
    }
    const auto said = test::waitedFor<std::vector<Session::Opinion>>([&](auto done) { line->check(statements, done); });
    ASSERT_TRUE(said) << said.error().text();
    for (const Session::Opinion& one : *said) EXPECT_FALSE(one.error) << script << "\n  → " << one.error->text();
}

/// Each script of each object.
std::size_t tryEveryScript(Line& line, const std::string& schema, Dialect dialect) {
    const catalog::CatalogPtr catalog = catalogOf(line);
    std::size_t tried = 0;
    for (const catalog::ObjectName& object : objectsIn(*catalog, schema)) {
        for (const sql::ScriptEntry& entry : sql::scriptEntries()) {
            if (!sql::hasScript(entry.kind, object.kind, dialect)) continue;
            SCOPED_TRACE(std::string(entry.id) + " of " + object.name);
            const std::string script = scriptFor(line, *catalog, entry.kind, {object}, dialect, dialect);
            EXPECT_EQ(firstSyntaxError(script, dialect), "");
            ++tried;
            if (isRun(entry.kind, object)) {
                EXPECT_EQ(runScript(line, script, dialect), "");
            } else if (entry.kind != ScriptKind::Create && entry.kind != ScriptKind::CreateOrReplace &&
                       entry.kind != ScriptKind::Drop && !script.starts_with("--")) {
                expectUnderstood(line, script, dialect);
            }
        }
    }
    return tried;
}

std::vector<std::string> factsIn(const catalog::Catalog& catalog, const std::string& schema = {}) {
    std::vector<std::string> facts = test::factsOf(catalog);
    if (!schema.empty()) std::erase_if(facts, [&](const std::string& f) { return !f.starts_with(schema + "."); });
    return facts;
}

class SqliteLine {
public:
    SqliteLine() : line_(profile("here.db")) {}
    /// Of a file that is empty.
    [[nodiscard]] ConnectionProfile profile(const char* file) const {
        std::ofstream{folder_ / file};
        return {.id = "lite", .name = "file", .engine = Engine::Sqlite, .database = (folder_ / file).string()};
    }
    Line& line() { return line_; }

private:
    test::TemporaryFolder folder_;
    Line line_;
};

void makeEmptyDatabases(Line& admin, std::initializer_list<const char*> names) {
    for (const std::string name : names) {
        (void)admin.run("DROP DATABASE IF EXISTS " + name);
        ASSERT_FALSE(admin.run("CREATE DATABASE " + name)->error()) << name;
    }
}

TEST(ScriptsTest, EveryScriptOfEveryPostgresObjectIsUnderstood) {
    const auto& server = test::sharedPostgres();
    Line admin(test::profileFor(server));
    makeEmptyDatabases(admin, {"scripts_a"});
    (void)admin.run("CREATE ROLE gardener");
    Line line(test::profileFor(server, "scripts_a"));
    ASSERT_EQ(runScript(line, test::kPostgresObjects, Dialect::Postgres), "");
    const std::string name63 =
        "CREATE TABLE orchard." + test::kLetters63 + " (\"" + test::kLetters63 + "\" integer, \"🍎 Ü\" text)";
    ASSERT_EQ(runScript(line, name63, Dialect::Postgres), "");
    EXPECT_GE(tryEveryScript(line, {}, Dialect::Postgres), 150U);
}

TEST(ScriptsTest, EveryScriptOfEveryMariaDbObjectIsUnderstood) {
    const auto& server = test::sharedMariaDb();
    Line admin(test::profileFor(server));
    makeEmptyDatabases(admin, {"scripts_a"});
    Line line(test::profileFor(server, "scripts_a"));
    ASSERT_EQ(runScript(line, test::kMariaDbObjects, Dialect::MySql), "");
    ASSERT_EQ(runScript(line, "CREATE TABLE " + test::kLetters64 + " (`" + test::kLetters64 + "` int)", Dialect::MySql),
              "");
    EXPECT_GE(tryEveryScript(line, "scripts_a", Dialect::MySql), 60U);
}

TEST(ScriptsTest, EveryScriptOfEverySqliteObjectIsUnderstood) {
    SqliteLine here;
    ASSERT_EQ(runScript(here.line(), test::kSqliteObjects, Dialect::Sqlite), "");
    EXPECT_GE(tryEveryScript(here.line(), "main", Dialect::Sqlite), 50U);
}

TEST(ScriptsTest, OneScriptMakesAWholePostgresDatabaseAgainAndAnotherTakesItAway) {
    const auto& server = test::sharedPostgres();
    Line admin(test::profileFor(server));
    makeEmptyDatabases(admin, {"scripts_b", "scripts_c"});
    (void)admin.run("CREATE ROLE gardener");
    Line first(test::profileFor(server, "scripts_b"));
    ASSERT_EQ(runScript(first, test::kPostgresObjects, Dialect::Postgres), "");
    const catalog::CatalogPtr before = catalogOf(first);
    const std::string create =
        scriptFor(first, *before, ScriptKind::Create, objectsIn(*before), Dialect::Postgres, Dialect::Postgres);

    Line second(test::profileFor(server, "scripts_c"));
    ASSERT_EQ(runScript(second, "CREATE SCHEMA orchard; CREATE SCHEMA \"Odd \"\"Schema\"\".1\"", Dialect::Postgres),
              "");
    ASSERT_EQ(runScript(second, create, Dialect::Postgres), "");
    const catalog::CatalogPtr after = catalogOf(second);
    EXPECT_THAT(test::differences(*before, *after), testing::IsEmpty());
}

TEST(ScriptsTest, OneScriptMakesAMariaDbSchemaAgain) {
    const auto& server = test::sharedMariaDb();
    Line admin(test::profileFor(server));
    makeEmptyDatabases(admin, {"scripts_b", "scripts_c"});
    Line first(test::profileFor(server, "scripts_b"));
    ASSERT_EQ(runScript(first, test::kMariaDbObjects, Dialect::MySql), "");
    const catalog::CatalogPtr before = catalogOf(first);
    const std::string create =
        scriptFor(first, *before, ScriptKind::Create, objectsIn(*before, "scripts_b"), Dialect::MySql, Dialect::MySql);
    const std::string drop =
        scriptFor(first, *before, ScriptKind::Drop, objectsIn(*before, "scripts_b"), Dialect::MySql, Dialect::MySql);
    EXPECT_EQ(runScript(first, drop, Dialect::MySql), "");
    EXPECT_THAT(objectsIn(*catalogOf(first), "scripts_b"), testing::IsEmpty());
    EXPECT_EQ(runScript(first, create, Dialect::MySql), "");
    EXPECT_EQ(factsIn(*catalogOf(first), "scripts_b"), factsIn(*before, "scripts_b"));
}

TEST(ScriptsTest, FromElsewhereTheScriptNamesTheSchema) {
    const auto& server = test::sharedMariaDb();
    Line admin(test::profileFor(server));
    makeEmptyDatabases(admin, {"scripts_b", "scripts_c"});
    Line first(test::profileFor(server, "scripts_b"));
    ASSERT_EQ(runScript(first, test::kMariaDbObjects, Dialect::MySql), "");
    // Another session, which looks into another schema first.
    Line other(test::profileFor(server, "scripts_c"));
    const catalog::CatalogPtr seen = catalogOf(other, {.schemas = {"scripts_b", "scripts_c"}});
    const auto objects = objectsIn(*seen, "scripts_b");
    const std::string create = scriptFor(other, *seen, ScriptKind::Create, objects, Dialect::MySql, Dialect::MySql);
    const std::string drop = scriptFor(other, *seen, ScriptKind::Drop, objects, Dialect::MySql, Dialect::MySql);
    EXPECT_EQ(runScript(other, drop, Dialect::MySql), "");
    EXPECT_EQ(runScript(other, create, Dialect::MySql), "");
    EXPECT_EQ(factsIn(*catalogOf(first), "scripts_b"), factsIn(*seen, "scripts_b"));
}

TEST(ScriptsTest, OneScriptMakesASqliteFileAgainAndAnotherTakesItAway) {
    SqliteLine here;
    ASSERT_EQ(runScript(here.line(), test::kSqliteObjects, Dialect::Sqlite), "");
    const catalog::CatalogPtr before = catalogOf(here.line());
    const auto objects = objectsIn(*before);
    const std::string create =
        scriptFor(here.line(), *before, ScriptKind::Create, objects, Dialect::Sqlite, Dialect::Sqlite);
    const std::string drop =
        scriptFor(here.line(), *before, ScriptKind::Drop, objects, Dialect::Sqlite, Dialect::Sqlite);
    EXPECT_EQ(runScript(here.line(), drop, Dialect::Sqlite), "");
    EXPECT_THAT(objectsIn(*catalogOf(here.line())), testing::IsEmpty());
    EXPECT_EQ(runScript(here.line(), create, Dialect::Sqlite), "");
    EXPECT_THAT(test::differences(*before, *catalogOf(here.line())), testing::IsEmpty());
}

/// Every comparison with every column of a table that has one of each type.
void tryEveryCondition(Line& line, const catalog::Catalog& catalog, const catalog::Relation& relation,
                       Dialect dialect) {
    const catalog::View view(std::make_shared<const catalog::Catalog>(catalog.facts(), catalog.schemas()));
    std::size_t tried = 0;
    for (const catalog::Column& column : relation.columns) {
        for (const sql::CompareEntry& entry : sql::compareEntries()) {
            if (!sql::fitsType(entry.compare, column.typeName)) continue;
            sql::TableWish wish{.conditions = {{.column = column.name, .compare = entry.compare, .value = "50%_'!"}},
                                .orderBy = column.name,
                                .isDescending = true};
            for (const char* value : {"50%_'!", "12", "2026-11-30", "true", "10:00", "hard"}) {
                wish.conditions.front().value = value;
                const auto query = sql::tableQuery(relation, wish, view, dialect);
                if (!query) continue;  // no value of the type
                const auto error = line.run(*query)->error();
                // What is no date is the server's to say; a mistake in our statement is not.
                EXPECT_NE(error ? error->code : std::string(), "42601") << *query;
                ++tried;
            }
        }
    }
    EXPECT_GE(tried, relation.columns.size() * 4);
}

TEST(DetailsTest, PostgresTellsRightsUsePartitionsAndWhoUsesAnObject) {
    const auto& server = test::sharedPostgres();
    Line admin(test::profileFor(server));
    makeEmptyDatabases(admin, {"details_a"});
    (void)admin.run("CREATE ROLE gardener");
    Line line(test::profileFor(server, "details_a"));
    ASSERT_EQ(runScript(line, test::kPostgresObjects, Dialect::Postgres), "");
    const auto of = [&](catalog::ObjectKind kind, const char* name, const char* signature = "") {
        const catalog::ObjectName object{kind, "orchard", name, signature};
        auto read = test::waitedFor<catalog::ObjectDetails>([&](auto done) { line->readDetails(object, done); });
        EXPECT_TRUE(read) << read.error().text();
        return read.value_or(catalog::ObjectDetails{});
    };
    const auto plot = of(catalog::ObjectKind::Table, "plot");
    EXPECT_THAT(plot.problems, testing::IsEmpty());
    EXPECT_GE(plot.indexes.size(), 3U);
    EXPECT_THAT(plot.grants, testing::Contains(testing::Field(&catalog::Grant::grantee, "gardener")));
    EXPECT_EQ(plot.rules.size(), 2U) << "row policies";
    EXPECT_EQ(plot.usedBy.size(), 2U) << "two views";
    EXPECT_EQ(of(catalog::ObjectKind::Table, "reading").partitions.size(), 2U);
    EXPECT_EQ(of(catalog::ObjectKind::Procedure, "tidy", "IN days integer, INOUT gone integer").parameters.size(), 2U);
    auto sources =
        test::waitedFor<std::vector<catalog::SourceText>>([&](auto done) { line->readSources({"orchard"}, done); });
    ASSERT_TRUE(sources) << sources.error().text();
    EXPECT_GE(sources->size(), 8U);
}

catalog::ObjectDetails detailsOf(Line& line, const catalog::ObjectName& object) {
    auto read = test::waitedFor<catalog::ObjectDetails>([&](auto done) { line->readDetails(object, done); });
    EXPECT_TRUE(read) << read.error().text();
    EXPECT_THAT(read ? read->problems : std::vector<std::string>{"none"}, testing::IsEmpty()) << object.name;
    return read.value_or(catalog::ObjectDetails{});
}

TEST(DetailsTest, MariaDbTellsFactsPartitionsParametersAndWhoUsesAnObject) {
    const auto& server = test::sharedMariaDb();
    Line admin(test::profileFor(server));
    makeEmptyDatabases(admin, {"details_a"});
    Line line(test::profileFor(server, "details_a"));
    ASSERT_EQ(runScript(line, test::kMariaDbObjects, Dialect::MySql), "");
    const auto of = [&](catalog::ObjectKind kind, const char* name) {
        return detailsOf(line, {.kind = kind, .schema = "details_a", .name = name});
    };
    const auto plot = of(catalog::ObjectKind::Table, "plot");
    EXPECT_FALSE(plot.facts.empty());
    EXPECT_THAT(plot.usedBy, testing::SizeIs(1)) << "its view";
    EXPECT_THAT(of(catalog::ObjectKind::View, "large_plot").uses, testing::SizeIs(1));
    EXPECT_THAT(of(catalog::ObjectKind::Table, "reading").partitions, testing::SizeIs(2));
    EXPECT_THAT(of(catalog::ObjectKind::Procedure, "tidy").parameters, testing::SizeIs(2));
    EXPECT_FALSE(of(catalog::ObjectKind::Event, "nightly").facts.empty());
    EXPECT_FALSE(of(catalog::ObjectKind::Sequence, "ticket").facts.empty());
}

TEST(DetailsTest, SqliteTellsSizesAndWhoUsesAnObject) {
    SqliteLine here;
    ASSERT_EQ(runScript(here.line(), test::kSqliteObjects, Dialect::Sqlite), "");
    const auto plot = detailsOf(here.line(), {.schema = "main", .name = "plot"});
    EXPECT_FALSE(plot.indexes.empty());
    EXPECT_THAT(plot.usedBy, testing::Contains(testing::Field(&catalog::Neighbour::how, "view")));
    const auto view =
        detailsOf(here.line(), {.kind = catalog::ObjectKind::View, .schema = "main", .name = "large_plot"});
    EXPECT_THAT(view.uses, testing::SizeIs(1));
}

TEST(ServerQueriesTest, EachRunsOnItsServer) {
    Line pg(test::profileFor(test::sharedPostgres()));
    Line my(test::profileFor(test::sharedMariaDb()));
    SqliteLine lite;
    const std::pair<Line*, Dialect> places[] = {
        {&pg, Dialect::Postgres}, {&my, Dialect::MySql}, {&lite.line(), Dialect::Sqlite}};
    for (const auto& [line, dialect] : places) {
        ASSERT_FALSE(sql::serverQueries(dialect).empty());
        for (const sql::ServerQuery& one : sql::serverQueries(dialect)) {
            EXPECT_EQ(runScript(*line, std::string(one.statement), dialect), "") << one.label;
        }
    }
}

/// The shape of every column of a table, which the server is asked for.
std::map<std::string, work::ColumnShape> shapesOf(Line& line, const std::string& schema, Dialect dialect) {
    const catalog::CatalogPtr catalog = catalogOf(line);
    const catalog::Relation* relation = catalog->find(schema, "shapes of");
    EXPECT_NE(relation, nullptr);
    std::map<std::string, work::ColumnShape> shapes;
    for (const catalog::Column& column : relation != nullptr ? relation->columns : std::vector<catalog::Column>{}) {
        const auto recorder = line.run(sql::shapeQuery(*relation, column, dialect));
        EXPECT_FALSE(recorder->error()) << column.name << ": " << recorder->error()->text();
        if (recorder->error()) continue;
        const auto shape = work::shapeOf(*recorder->result());
        EXPECT_TRUE(shape) << column.name;
        if (shape) shapes[column.name] = *shape;
    }
    return shapes;
}

TEST(ShapeQueryTest, EveryTypeOfEveryEngineHasAShape) {
    Line pg(test::profileFor(test::sharedPostgres()));
    ASSERT_EQ(
        runScript(pg,
                  "DROP TABLE IF EXISTS \"shapes of\"; CREATE TABLE \"shapes of\" (\"n o\" integer, t text, d date, "
                  "ts timestamptz, b boolean, u uuid, j json, jb jsonb, x xml, p point, by bytea, a integer[], "
                  "i inet, m money, iv interval, r int4range, f real, nn text);"
                  "INSERT INTO \"shapes of\" (\"n o\", t, b, by, j) VALUES (1, 'a', true, '\\x00ff', '{}'), "
                  "(2, 'b', true, '\\x00', '[1]'), (10, 'b', NULL, NULL, '[1]'), (10, NULL, false, NULL, NULL);",
                  Dialect::Postgres),
        "");
    auto shapes = shapesOf(pg, "public", Dialect::Postgres);
    EXPECT_EQ(shapes["n o"].summary(), "4 rows, 3 different values, from 1 to 10, 5.75 on the average")
        << "numbers in their own order";
    EXPECT_EQ(shapes["n o"].frequent.front(), (std::pair{std::optional<std::string>("10"), std::int64_t{2}}));
    EXPECT_EQ(shapes["t"].summary(), "4 rows, 1 without a value, 2 different values, from a to b");
    EXPECT_EQ(shapes["j"].different, 2);
    EXPECT_EQ(shapes["by"].greatest, "2") << "of bytes their number";
    EXPECT_EQ(shapes["nn"].summary(), "4 rows, 4 without a value");
    EXPECT_EQ(shapes["nn"].frequent.size(), 1U);
    EXPECT_FALSE(shapes["nn"].frequent.front().first);

    Line my(test::profileFor(test::sharedMariaDb()));
    ASSERT_EQ(runScript(my,
                        "DROP DATABASE IF EXISTS shaping; CREATE DATABASE shaping; CREATE TABLE shaping.`shapes of` "
                        "(`n o` int, t varchar(9), d date, ts timestamp NULL, b bit(3), j json, g geometry, by_ blob, "
                        "e enum('x','y'), s set('p','q'), f double, y year, nn text);"
                        "INSERT INTO shaping.`shapes of` (`n o`, t, by_) VALUES (9, 'a', 'xyz'), (10, NULL, 'x');",
                        Dialect::MySql),
              "");
    // In it: of a server with many databases, as other tests leave it, only some are read at once.
    Line inside(test::profileFor(test::sharedMariaDb(), "shaping"));
    shapes = shapesOf(inside, "shaping", Dialect::MySql);
    EXPECT_EQ(shapes["n o"].greatest, "10");
    EXPECT_EQ(shapes["by_"].greatest, "3");

    SqliteLine lite;
    ASSERT_EQ(runScript(lite.line(),
                        "CREATE TABLE \"shapes of\" (\"n o\" INTEGER, t TEXT, d DATE, b BLOB, j JSON, any_ );"
                        "INSERT INTO \"shapes of\" VALUES (9, 'a', '2026-01-01', x'00ff', '{}', 1), "
                        "(10, 'a', NULL, NULL, NULL, 'x');",
                        Dialect::Sqlite),
              "");
    shapes = shapesOf(lite.line(), "main", Dialect::Sqlite);
    EXPECT_EQ(shapes["n o"].summary(), "2 rows, all values different, from 9 to 10, 9.5 on the average");
    EXPECT_EQ(shapes["t"].summary(), "2 rows, 1 different value, from a to a");
}

TEST(TableQueryTest, EveryComparisonOfEveryTypeIsUnderstood) {
    Line pg(test::profileFor(test::sharedPostgres()));
    (void)pg.run("DROP TABLE IF EXISTS each_type");
    ASSERT_FALSE(pg.run("CREATE TABLE each_type (i integer, \"Odd Name\" text, n numeric(6,2), d date, t timestamptz, "
                        "b boolean, c varchar(9), "
                        "u uuid, f real, tm time)")
                     ->error());
    const catalog::CatalogPtr there = catalogOf(pg);
    tryEveryCondition(pg, *there, *there->find("public", "each_type"), Dialect::Postgres);
    SqliteLine lite;
    ASSERT_FALSE(
        lite.line()
            .run(
                "CREATE TABLE each_type (i INTEGER, \"Odd Name\" TEXT, n DECIMAL(6,2), d DATE, t TIMESTAMP, b BOOLEAN)")
            ->error());
    ASSERT_FALSE(lite.line().run("INSERT INTO each_type (\"Odd Name\") VALUES ('50%_''! off'), ('50 off')")->error());
    const catalog::CatalogPtr file = catalogOf(lite.line());
    tryEveryCondition(lite.line(), *file, *file->find("main", "each_type"), Dialect::Sqlite);
    const auto begins =
        sql::tableQuery(*file->find("main", "each_type"),
                        {.conditions = {{.column = "Odd Name", .compare = sql::Compare::Begins, .value = "50%_'!"}}},
                        catalog::View(file), Dialect::Sqlite);
    EXPECT_EQ(lite.line().rows(*begins).size(), 1U) << "signs of LIKE mean themselves";
}

/// Tables of one engine as another one makes them.
void expectTablesToGoOver(Line& from, const std::string& schema, Dialect fromDialect, Line& to,
                          const std::string& toSchema, Dialect toDialect) {
    const catalog::CatalogPtr there = catalogOf(from);
    std::vector<catalog::ObjectName> tables;
    for (const catalog::ObjectName& one : objectsIn(*there, schema)) {
        if (one.kind == catalog::ObjectKind::Table) tables.push_back(one);
    }
    const std::string script = scriptFor(from, *there, ScriptKind::Create, tables, fromDialect, toDialect);
    EXPECT_EQ(firstSyntaxError(script, toDialect), "");
    ASSERT_EQ(runScript(to, script, toDialect), "") << script;
    std::size_t made = 0;
    for (const catalog::ObjectName& one : objectsIn(*catalogOf(to), toSchema))
        made += one.kind == catalog::ObjectKind::Table;
    EXPECT_EQ(made, tables.size()) << script;
}

TEST(ScriptsTest, TablesGoFromEachEngineToEachOther) {
    const auto& postgres = test::sharedPostgres();
    const auto& mariadb = test::sharedMariaDb();
    Line pgAdmin(test::profileFor(postgres));
    Line myAdmin(test::profileFor(mariadb));
    makeEmptyDatabases(pgAdmin, {"go_from", "go_to_a", "go_to_b"});
    makeEmptyDatabases(myAdmin, {"go_from", "go_to_a", "go_to_b"});
    (void)pgAdmin.run("CREATE ROLE gardener");
    Line pg(test::profileFor(postgres, "go_from"));
    Line my(test::profileFor(mariadb, "go_from"));
    SqliteLine lite;
    ASSERT_EQ(runScript(pg, test::kPostgresObjects, Dialect::Postgres), "");
    ASSERT_EQ(runScript(my, test::kMariaDbObjects, Dialect::MySql), "");
    ASSERT_EQ(runScript(lite.line(), test::kSqliteObjects, Dialect::Sqlite), "");
    Line pgToA(test::profileFor(postgres, "go_to_a"));
    Line pgToB(test::profileFor(postgres, "go_to_b"));
    Line myToA(test::profileFor(mariadb, "go_to_a"));
    Line myToB(test::profileFor(mariadb, "go_to_b"));
    Line liteA(lite.profile("a.db"));
    Line liteB(lite.profile("b.db"));
    expectTablesToGoOver(my, "go_from", Dialect::MySql, pgToA, "public", Dialect::Postgres);
    expectTablesToGoOver(lite.line(), "main", Dialect::Sqlite, pgToB, "public", Dialect::Postgres);
    ASSERT_EQ(runScript(lite.line(), "DROP TABLE \"🍎 crate\"", Dialect::Sqlite), "");  // no name for MariaDB
    expectTablesToGoOver(lite.line(), "main", Dialect::Sqlite, myToB, "go_to_b", Dialect::MySql);
    expectTablesToGoOver(my, "go_from", Dialect::MySql, liteB, "main", Dialect::Sqlite);
    const std::string tidy = "DROP TABLE orchard.nothing";  // the others make no table without columns
    ASSERT_EQ(runScript(pg, tidy, Dialect::Postgres), "");
    expectTablesToGoOver(pg, "orchard", Dialect::Postgres, myToA, "go_to_a", Dialect::MySql);
    expectTablesToGoOver(pg, "orchard", Dialect::Postgres, liteA, "main", Dialect::Sqlite);
}

}  // namespace
}  // namespace pantry::db
