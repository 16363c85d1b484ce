// Tables made and changed by a design, on the servers themselves: what was wanted is there afterwards, and what was
// there stays.
#include <gmock/gmock.h>

#include <fstream>
#include <functional>

#include "core/db/script_bench.h"
#include "core/sql/define/alter_table.h"
#include "core/sql/define/create_table.h"
#include "core/sql/meaning/table_parts.h"
#include "support/temporary_folder.h"

namespace pantry::db {
namespace {

using sql::Dialect;
using sql::TableDesign;
using test::catalogOf;
using test::Line;
using test::runScript;
using testing::ElementsAre;
using testing::HasSubstr;

/// Types and words that one engine tells of what it was given.
struct Words {
    Dialect dialect;
    std::string schema;
    std::string whole;
    std::string large;
    std::string text;
    std::string day;
    std::string note;
};

TableDesign designAt(Line& line, const Words& words, const std::string& table) {
    const catalog::CatalogPtr catalog = catalogOf(line);
    const catalog::Relation* relation = catalog->find(words.schema, table);
    EXPECT_NE(relation, nullptr) << table;
    if (relation == nullptr) return {};
    std::string statement;
    if (words.dialect == Dialect::Sqlite) {
        statement = line.rows("SELECT sql FROM sqlite_schema WHERE name = '" + table + "'").front();
    }
    return sql::designOf(*relation, words.dialect, statement);
}

sql::OwnStatements ownOf(Line& line, const std::string& table) {
    sql::OwnStatements own;
    const auto list = [&](const char* type) {
        return line.rows(std::string("SELECT sql FROM sqlite_schema WHERE type = '") + type + "' AND tbl_name = '" +
                         table + "' AND sql IS NOT NULL ORDER BY rowid");
    };
    own.triggers = list("trigger");
    const auto statements = list("index");
    const auto names = line.rows("SELECT name FROM sqlite_schema WHERE type = 'index' AND tbl_name = '" + table +
                                 "' AND sql IS NOT NULL ORDER BY rowid");
    for (std::size_t i = 0; i < names.size(); ++i) own.indexes.emplace_back(names[i], statements[i]);
    return own;
}

/// What a design says once it is the table that stands.
TableDesign settled(TableDesign design) {
    for (sql::ColumnDesign& one : design.columns) one.was = one.column.name;
    return design;
}

/// Changes the table and expects that afterwards nothing is left to change.
void change(Line& line, const Words& words, const std::string& label, const std::function<void(TableDesign&)>& edit,
            const std::string& table = "plot") {
    SCOPED_TRACE(label);
    const TableDesign before = designAt(line, words, table);
    TableDesign after = before;
    edit(after);
    const sql::OwnStatements own = words.dialect == Dialect::Sqlite ? ownOf(line, table) : sql::OwnStatements{};
    const sql::DefinitionChange change = sql::alterTable(before, after, words.dialect, own);
    ASSERT_FALSE(change.isEmpty());
    ASSERT_EQ(runScript(line, change.script(), words.dialect), "") << change.script();
    const TableDesign now = designAt(line, words, after.name);
    const sql::DefinitionChange rest = sql::alterTable(now, settled(after), words.dialect);
    EXPECT_EQ(rest.script(), "") << "after\n" << change.script();
}

std::size_t placeOf(const TableDesign& design, const std::string& name) {
    for (std::size_t i = 0; i < design.columns.size(); ++i) {
        if (design.columns[i].column.name == name) return i;
    }
    ADD_FAILURE() << name;
    return 0;
}

catalog::Column& columnOf(TableDesign& design, const std::string& name) {
    return design.columns[placeOf(design, name)].column;
}

TableDesign orchardPlot(const Words& words) {
    TableDesign plot{
        .schema = words.schema, .name = "plot", .comment = words.dialect == Dialect::Sqlite ? "" : "it's \\ land"};
    const bool counts = words.dialect != Dialect::Sqlite;
    const auto key = counts ? catalog::Identity::ByDefault : catalog::Identity::None;
    const auto add = [&](catalog::Column column) { plot.columns.push_back({std::move(column), {}}); };
    add({.name = "plot_id", .typeName = words.whole, .isNullable = false, .identity = key});
    add({.name = "name", .typeName = words.text, .isNullable = false});
    add({.name = "hectares", .typeName = words.whole, .defaultValue = "1"});
    add({.name = "odd \"one\"", .typeName = words.day});
    add({.name = "twice",
         .typeName = words.whole,
         .isGenerated = true,
         .generation = "hectares * 2",
         .isStored = true});
    add({.name = "warden_id", .typeName = words.whole});
    add({.name = "note", .typeName = words.text, .comment = words.dialect == Dialect::Sqlite ? "" : "free 'text'"});
    plot.primaryKey.columns = {"plot_id"};
    plot.checks = {{.name = "positive", .expression = "hectares > 0", .column = {}}};
    plot.foreignKeys = {{.name = "plot_warden",
                         .columns = {"warden_id"},
                         .schema = words.schema,
                         .relation = "warden",
                         .referencedColumns = {"warden_id"},
                         .onDelete = "SET NULL"}};
    plot.indexes = {{.name = "by_name", .columns = {"name", "hectares"}, .isUnique = true}};
    return plot;
}

void make(Line& line, const TableDesign& design, Dialect dialect) {
    std::string script;
    for (const std::string& statement : sql::createTable(design, dialect).table) script += statement + ";\n";
    ASSERT_EQ(runScript(line, script, dialect), "") << script;
}

void makeOrchard(Line& line, const Words& words) {
    TableDesign warden{.schema = words.schema, .name = "warden"};
    warden.columns.push_back({{.name = "warden_id", .typeName = words.whole, .isNullable = false}, {}});
    warden.columns.push_back({{.name = "name", .typeName = words.text}, {}});
    warden.primaryKey.columns = {"warden_id"};
    make(line, warden, words.dialect);
    make(line, orchardPlot(words), words.dialect);
    const std::string rows =
        "INSERT INTO warden VALUES (1, 'Ida'); INSERT INTO plot (name, hectares, warden_id, note) "
        "VALUES ('Upper field', 3, 1, 'wet'), ('Long row', 5, NULL, NULL), ('Well', 2, 1, 'x')";
    ASSERT_EQ(runScript(line, rows, words.dialect), "");
    EXPECT_EQ(line.rows("SELECT name, twice FROM plot ORDER BY plot_id").size(), 3U);
}

/// What each engine can do.
void changeInAllWays(Line& line, const Words& words) {
    makeOrchard(line, words);
    EXPECT_EQ(sql::alterTable(designAt(line, words, "plot"), settled(orchardPlot(words)), words.dialect).script(), "")
        << "made as it was designed";
    change(line, words, "add a column", [&](TableDesign& t) {
        t.columns.push_back({{.name = "slope", .typeName = words.text}, {}});
    });
    change(line, words, "add one that must not be null", [&](TableDesign& t) {
        t.columns.push_back({{.name = "rows", .typeName = words.whole, .isNullable = false, .defaultValue = "4"}, {}});
    });
    change(line, words, "rename a column that keys and checks use",
           [&](TableDesign& t) { t.renameColumn(placeOf(t, "hectares"), "Hect.ares", words.dialect); });
    change(line, words, "change a type", [&](TableDesign& t) { columnOf(t, "rows").typeName = words.large; });
    change(line, words, "change a default", [&](TableDesign& t) { columnOf(t, "rows").defaultValue = "7"; });
    change(line, words, "drop a default", [&](TableDesign& t) { columnOf(t, "rows").defaultValue.reset(); });
    change(line, words, "let it be null", [&](TableDesign& t) { columnOf(t, "rows").isNullable = true; });
    change(line, words, "never null again", [&](TableDesign& t) { columnOf(t, "rows").isNullable = false; });
    change(line, words, "add a check", [&](TableDesign& t) {
        t.checks.push_back({.name = "few_rows",
                            .expression = words.dialect == Dialect::MySql ? "`rows` < 100" : "rows < 100",
                            .column = {}});
    });
    change(line, words, "drop it", [&](TableDesign& t) {
        std::erase_if(t.checks, [](const auto& check) { return check.name == "few_rows"; });
    });
    change(line, words, "add an index", [&](TableDesign& t) {
        t.indexes.push_back({.name = "by_slope", .columns = {"slope", "rows"}});
    });
    change(line, words, "drop a column with its index",
           [&](TableDesign& t) { t.removeColumn(placeOf(t, "slope"), words.dialect); });
    change(line, words, "a key of two columns", [&](TableDesign& t) {
        columnOf(t, "plot_id").identity = catalog::Identity::None;
        t.primaryKey.columns = {"plot_id", "name"};
    });
    change(line, words, "and of one again", [&](TableDesign& t) { t.primaryKey.columns = {"plot_id"}; });
    change(line, words, "drop a foreign key", [&](TableDesign& t) { t.foreignKeys.clear(); });
    change(line, words, "add one",
           [&](TableDesign& t) { t.foreignKeys.push_back(orchardPlot(words).foreignKeys.front()); });
    change(line, words, "several things at once", [&](TableDesign& t) {
        t.renameColumn(placeOf(t, "note"), "remark", words.dialect);
        t.removeColumn(placeOf(t, "odd \"one\""), words.dialect);
        t.columns.push_back({{.name = "planted", .typeName = words.day}, {}});
        columnOf(t, "rows").typeName = words.whole;
        t.indexes.push_back({.name = "by_remark", .columns = {"planted"}});
    });
    change(line, words, "another name", [](TableDesign& t) { t.name = "Plot of \"land\""; });
    EXPECT_THAT(line.rows(words.dialect == Dialect::MySql
                              ? "SELECT name, remark, `rows` FROM `Plot of \"land\"` ORDER BY plot_id"
                              : "SELECT name, remark, rows FROM \"Plot of \"\"land\"\"\" ORDER BY plot_id"),
                ElementsAre("Upper field|wet|4", "Long row|∅|4", "Well|x|4"));
}

TEST(AlterTableTest, PostgresTablesBecomeWhatTheyAreToBe) {
    const auto& server = test::sharedPostgres();
    Line admin(test::profileFor(server));
    (void)admin.run("DROP DATABASE IF EXISTS altering");
    ASSERT_FALSE(admin.run("CREATE DATABASE altering")->error());
    Line line(test::profileFor(server, "altering"));
    const Words words{.dialect = Dialect::Postgres,
                      .schema = "public",
                      .whole = "integer",
                      .large = "bigint",
                      .text = "text",
                      .day = "date",
                      .note = {}};
    changeInAllWays(line, words);
    change(
        line, words, "a comment", [](TableDesign& t) { t.comment = "it's ours"; }, "Plot of \"land\"");
    change(
        line, words, "counts up", [](TableDesign& t) { columnOf(t, "plot_id").identity = catalog::Identity::Always; },
        "Plot of \"land\"");
    change(
        line, words, "a unique key and a comment of a column",
        [](TableDesign& t) {
            t.uniques.push_back({"one_remark", {"remark", "planted"}});
            columnOf(t, "remark").comment = "what to know";
        },
        "Plot of \"land\"");
    change(
        line, words, "a generated column is made anew",
        [](TableDesign& t) { columnOf(t, "twice").generation = "(\"Hect.ares\" * 3)"; }, "Plot of \"land\"");
    ASSERT_EQ(runScript(line, "CREATE SCHEMA elsewhere", words.dialect), "");
    const TableDesign before = designAt(line, words, "Plot of \"land\"");
    TableDesign after = before;
    after.schema = "elsewhere";
    ASSERT_EQ(runScript(line, sql::alterTable(before, after, words.dialect).script(), words.dialect), "");
    EXPECT_EQ(line.rows("SELECT count(*) FROM elsewhere.\"Plot of \"\"land\"\"\""), std::vector<std::string>{"3"});
}

/// Changes the options of a table as the form does, which reads them from its definition.
std::string changeOptions(Line& line, const catalog::ObjectName& table, Dialect dialect, const std::string& from,
                          const std::string& to) {
    const auto definition = test::waitedFor<catalog::Definition>(
        [&](auto done) { line->readDefinition(table, [done](auto read) { done(std::move(read)); }); });
    EXPECT_TRUE(definition) << definition.error().text();
    const catalog::CatalogPtr catalog = catalogOf(line);
    const TableDesign before = sql::designOf(*catalog->find(table.schema, table.name), dialect, definition->text);
    EXPECT_THAT(before.options, ElementsAre(HasSubstr(from)));
    if (before.options.empty()) return "no options";
    TableDesign after = before;
    after.options.front().replace(after.options.front().find(from), from.size(), to);
    const sql::DefinitionChange change = sql::alterTable(before, after, dialect);
    EXPECT_EQ(change.steps.size(), 1U) << change.script();
    return runScript(line, change.script(), dialect);
}

TEST(AlterTableTest, OptionsOfATableThatIsThereAreChanged) {
    Line my(test::profileFor(test::sharedMariaDb()));
    ASSERT_EQ(runScript(my,
                        "DROP DATABASE IF EXISTS opting; CREATE DATABASE opting; CREATE TABLE opting.plot (n int "
                        "AUTO_INCREMENT PRIMARY KEY, t text) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COMMENT='a = b';"
                        "INSERT INTO opting.plot VALUES (7, 'x');",
                        Dialect::MySql),
              "");
    const catalog::ObjectName plot{.schema = "opting", .name = "plot"};
    EXPECT_EQ(changeOptions(my, plot, Dialect::MySql, "ENGINE=InnoDB", "ENGINE=Aria"), "");
    EXPECT_EQ(my.rows("SELECT engine FROM information_schema.tables WHERE table_schema = 'opting'"),
              std::vector<std::string>{"Aria"});
    EXPECT_EQ(my.rows("SELECT * FROM opting.plot"), std::vector<std::string>{"7|x"});
    Line pg(test::profileFor(test::sharedPostgres()));
    ASSERT_EQ(runScript(pg, "DROP TABLE IF EXISTS opting; CREATE TABLE opting (n integer) WITH (fillfactor = 70);",
                        Dialect::Postgres),
              "");
    EXPECT_EQ(changeOptions(pg, {.schema = "public", .name = "opting"}, Dialect::Postgres, "70", "85"), "");
    EXPECT_EQ(pg.rows("SELECT reloptions[1] FROM pg_class WHERE relname = 'opting'"),
              std::vector<std::string>{"fillfactor=85"});
}

TEST(AlterTableTest, MariaDbTablesBecomeWhatTheyAreToBe) {
    const auto& server = test::sharedMariaDb();
    Line admin(test::profileFor(server));
    (void)admin.run("DROP DATABASE IF EXISTS altering");
    ASSERT_FALSE(admin.run("CREATE DATABASE altering")->error());
    Line line(test::profileFor(server, "altering"));
    const Words words{.dialect = Dialect::MySql,
                      .schema = "altering",
                      .whole = "int(11)",
                      .large = "bigint(20)",
                      .text = "varchar(90)",
                      .day = "date",
                      .note = {}};
    changeInAllWays(line, words);
    change(
        line, words, "a column in the middle",
        [&](TableDesign& t) {
            t.columns.insert(t.columns.begin() + 2,
                             {{.name = "between", .typeName = words.text, .comment = "it's here"}, {}});
        },
        "Plot of \"land\"");
    change(
        line, words, "moved to the front",
        [&](TableDesign& t) { std::rotate(t.columns.begin(), t.columns.begin() + 2, t.columns.begin() + 3); },
        "Plot of \"land\"");
    EXPECT_EQ(designAt(line, words, "Plot of \"land\"").columns.front().column.name, "between");
    change(
        line, words, "counts up",
        [](TableDesign& t) { columnOf(t, "plot_id").identity = catalog::Identity::ByDefault; }, "Plot of \"land\"");
    change(
        line, words, "a column that is filled with the moment",
        [](TableDesign& t) {
            t.columns.push_back({{.name = "changed",
                                  .typeName = "timestamp",
                                  .isNullable = false,
                                  .defaultValue = "current_timestamp()",
                                  .attributes = "ON UPDATE current_timestamp()"},
                                 {}});
        },
        "Plot of \"land\"");
    change(
        line, words, "keeps that when its comment changes",
        [](TableDesign& t) { columnOf(t, "changed").comment = "last touched"; }, "Plot of \"land\"");
}

class SqliteAlterTest : public testing::Test {
protected:
    SqliteAlterTest() {
        std::ofstream{folder_ / "here.db"};
        line_ = std::make_unique<Line>(ConnectionProfile{
            .id = "lite", .name = "file", .engine = Engine::Sqlite, .database = (folder_ / "here.db").string()});
    }
    Line& line() { return *line_; }
    const Words words_{.dialect = Dialect::Sqlite,
                       .schema = "main",
                       .whole = "INTEGER",
                       .large = "BIGINT",
                       .text = "TEXT",
                       .day = "DATE",
                       .note = {}};

private:
    test::TemporaryFolder folder_;
    std::unique_ptr<Line> line_;
};

TEST_F(SqliteAlterTest, TablesBecomeWhatTheyAreToBe) { changeInAllWays(line(), words_); }

TEST_F(SqliteAlterTest, WhatHangsOnATableIsThereAfterItWasBuiltAnew) {
    makeOrchard(line(), words_);
    const std::string hanging =
        "CREATE TABLE visit (visit_id INTEGER PRIMARY KEY, plot_id INTEGER REFERENCES plot (plot_id) ON DELETE "
        "CASCADE);"
        "INSERT INTO visit VALUES (1, 1), (2, 1), (3, 2);"
        "CREATE VIEW large_plot AS SELECT name, hectares FROM plot WHERE hectares > 2;"
        "CREATE VIEW visited AS SELECT v.visit_id, l.name FROM visit v JOIN large_plot l ON l.hectares > 0;"
        "CREATE TABLE log (what TEXT);"
        "CREATE TRIGGER note_it AFTER UPDATE OF name ON plot BEGIN INSERT INTO log VALUES (OLD.name || ' > ' || "
        "NEW.name); END;"
        "CREATE TRIGGER on_visit AFTER INSERT ON visit BEGIN UPDATE plot SET note = 'visited' WHERE plot_id = "
        "NEW.plot_id; END;"
        "CREATE INDEX lowered ON plot (lower(name) DESC) WHERE hectares > 1;";
    ASSERT_EQ(runScript(line(), hanging, Dialect::Sqlite), "");
    const auto schema = [this] {
        return line().rows(
            "SELECT type || ' ' || name || ' ' || sql FROM sqlite_schema WHERE name <> 'plot' AND sql IS NOT NULL "
            "ORDER BY type, name");
    };
    const auto before = schema();
    const auto rows = line().rows("SELECT * FROM visit");

    change(line(), words_, "a check more and a column less", [](TableDesign& t) {
        t.checks.push_back({.name = "named", .expression = "name <> ''", .column = {}});
        t.removeColumn(placeOf(t, "odd \"one\""), Dialect::Sqlite);
    });

    EXPECT_EQ(schema(), before);
    EXPECT_EQ(line().rows("SELECT * FROM visit"), rows) << "nothing is deleted along with the old table";
    EXPECT_EQ(line().rows("SELECT count(*) FROM visited").front(), "6");
    EXPECT_EQ(line().rows("PRAGMA foreign_keys").front(), "1");
    ASSERT_EQ(
        runScript(line(), "UPDATE plot SET name = 'Lower field' WHERE plot_id = 1; INSERT INTO visit VALUES (9, 2)",
                  Dialect::Sqlite),
        "");
    EXPECT_THAT(line().rows("SELECT what FROM log"), ElementsAre("Upper field > Lower field"));
    EXPECT_THAT(line().rows("SELECT note FROM plot WHERE plot_id = 2"), ElementsAre("visited"));
    EXPECT_THAT(line().rows("INSERT INTO visit VALUES (10, 99)").front(), HasSubstr("failed"));
    EXPECT_THAT(line().rows("UPDATE plot SET name = '' WHERE plot_id = 1").front(), HasSubstr("named"));
}

TEST_F(SqliteAlterTest, RenamingWhileItIsBuiltAnewIsFollowedByViewsTriggersAndKeys) {
    makeOrchard(line(), words_);
    const std::string hanging =
        "CREATE TABLE visit (visit_id INTEGER PRIMARY KEY, plot_id INTEGER REFERENCES plot (plot_id), name TEXT);"
        "CREATE VIEW large_plot AS SELECT name, hectares FROM plot WHERE hectares > 2;"
        "CREATE TRIGGER note_it AFTER INSERT ON plot BEGIN INSERT INTO visit (plot_id, name) VALUES (NEW.plot_id, "
        "NEW.name); END;";
    ASSERT_EQ(runScript(line(), hanging, Dialect::Sqlite), "");
    change(line(), words_, "renamed and changed", [](TableDesign& t) {
        t.renameColumn(placeOf(t, "name"), "title", Dialect::Sqlite);
        t.renameColumn(placeOf(t, "plot_id"), "id", Dialect::Sqlite);
        t.checks.push_back({.name = "named", .expression = "title <> ''", .column = {}});
    });
    EXPECT_EQ(line().rows("SELECT count(*) FROM large_plot").front(), "2");
    ASSERT_EQ(runScript(line(), "INSERT INTO plot (title, hectares) VALUES ('New one', 9)", Dialect::Sqlite), "");
    EXPECT_THAT(line().rows("SELECT name FROM visit"), ElementsAre("New one"));
    EXPECT_THAT(line().rows("INSERT INTO visit (plot_id) VALUES (99)").front(), HasSubstr("failed"));
}

}  // namespace
}  // namespace pantry::db
