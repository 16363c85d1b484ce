// Designs of tables without a server: types carried over, expressions translated, problems told, lines read.
#include <gmock/gmock.h>
#include <rapidcheck/gtest.h>

#include "core/sql/define/alter_table.h"
#include "core/sql/define/create_table.h"
#include "core/sql/define/design_rules.h"
#include "core/sql/define/routine_call.h"
#include "core/sql/define/scripts.h"
#include "core/sql/define/table_design.h"
#include "core/sql/define/table_options.h"
#include "core/sql/define/translate.h"
#include "core/sql/define/type_map.h"
#include "core/sql/meaning/table_parts.h"

namespace pantry::sql {
namespace {

using testing::ElementsAre;
using testing::HasSubstr;

TEST(TypeMapTest, EveryUsualTypeHasACounterpart) {
    const auto name = [](std::string_view type, Dialect from, Dialect to) { return typeIn(type, from, to).name; };
    EXPECT_EQ(name("character varying(40)", Dialect::Postgres, Dialect::MySql), "varchar(40)");
    EXPECT_EQ(name("varchar(40)", Dialect::MySql, Dialect::Postgres), "character varying(40)");
    EXPECT_EQ(name("tinyint(1)", Dialect::MySql, Dialect::Postgres), "boolean");
    EXPECT_EQ(name("int(10) unsigned", Dialect::MySql, Dialect::Postgres), "bigint");
    EXPECT_EQ(name("bigint(20) unsigned", Dialect::MySql, Dialect::Postgres), "numeric(20)");
    EXPECT_EQ(name("numeric(6,2)", Dialect::Postgres, Dialect::MySql), "decimal(6,2)");
    EXPECT_EQ(name("jsonb", Dialect::Postgres, Dialect::MySql), "json");
    EXPECT_EQ(name("bytea", Dialect::Postgres, Dialect::Sqlite), "BLOB");
    EXPECT_EQ(name("datetime", Dialect::MySql, Dialect::Postgres), "timestamp");
    EXPECT_EQ(name("timestamp without time zone", Dialect::Postgres, Dialect::MySql), "datetime(6)");
    EXPECT_EQ(name("enum('ripe','it''s')", Dialect::MySql, Dialect::Postgres), "character varying(4)");
    EXPECT_EQ(name("INTEGER", Dialect::Sqlite, Dialect::Postgres), "integer");
    EXPECT_EQ(name("text", Dialect::Postgres, Dialect::Postgres), "text");
}

TEST(TypeMapTest, WhatIsLostIsSaid) {
    EXPECT_THAT(typeIn("timestamp with time zone", Dialect::Postgres, Dialect::MySql).remark, HasSubstr("time zone"));
    EXPECT_THAT(typeIn("integer[]", Dialect::Postgres, Dialect::MySql).remark, HasSubstr("JSON"));
    EXPECT_THAT(typeIn("enum('a','b')", Dialect::MySql, Dialect::Sqlite).remark, HasSubstr("'a', 'b'"));
    EXPECT_THAT(typeIn("tsvector", Dialect::Postgres, Dialect::Sqlite).remark, HasSubstr("no counterpart"));
    EXPECT_EQ(typeIn("text", Dialect::Postgres, Dialect::MySql, {.isInKey = true}).name, "varchar(255)");
    EXPECT_EQ(typeIn("date", Dialect::Postgres, Dialect::MySql).remark, "");
}

TEST(TranslateTest, ExpressionsThatAllEnginesReadAreCarriedOver) {
    const auto to = [](std::string_view text, Dialect from, Dialect into) {
        return expressionIn(text, from, into).value_or("(nothing)");
    };
    EXPECT_EQ(to("'new'::character varying(20)", Dialect::Postgres, Dialect::MySql), "'new'");
    EXPECT_EQ(to("now()", Dialect::Postgres, Dialect::Sqlite), "CURRENT_TIMESTAMP");
    EXPECT_EQ(to("current_timestamp(6)", Dialect::MySql, Dialect::Postgres), "now()");
    EXPECT_EQ(to("area > 0::numeric AND area < 100", Dialect::Postgres, Dialect::Sqlite), "area > 0 AND area < 100");
    EXPECT_EQ(to("`Group` <> 'a b'", Dialect::MySql, Dialect::Postgres), "\"Group\" <> 'a b'");
    EXPECT_EQ(to("kind = ANY (ARRAY['a'::text, 'b'::text])", Dialect::Postgres, Dialect::MySql), "kind IN ('a', 'b')");
    EXPECT_EQ(to("(kind)::text = ANY ((ARRAY['a'::character varying, 'b'::character varying])::text[])",
                 Dialect::Postgres, Dialect::MySql),
              "(kind) IN ('a', 'b')");
    EXPECT_EQ(to("x % 2", Dialect::Postgres, Dialect::Postgres), "x % 2");
}

TEST(TranslateTest, WhatTheOtherMayNotUnderstandIsLeftOut) {
    EXPECT_FALSE(expressionIn("name ~ '^a'", Dialect::Postgres, Dialect::MySql));
    EXPECT_FALSE(expressionIn("orchard.ripe(x)", Dialect::Postgres, Dialect::MySql));
    EXPECT_FALSE(expressionIn("E'a\\n'", Dialect::Postgres, Dialect::MySql));
    EXPECT_FALSE(expressionIn("json_valid(`data`)", Dialect::MySql, Dialect::Postgres));
}

TEST(TranslateTest, AColumnIsRenamedWhereItIsMeant) {
    EXPECT_EQ(withColumnRenamed("area > 0 AND lower(area) <> 'area'", "area", "Hect are", Dialect::Postgres),
              "\"Hect are\" > 0 AND lower(\"Hect are\") <> 'area'");
    EXPECT_EQ(withColumnRenamed("area(area)", "area", "x", Dialect::Postgres), "area(x)")
        << "a function keeps its name";
}

TEST(TablePartsTest, AStatementTellsWhatTheCatalogDoesNot) {
    const auto parts = tablePartsOf(
        "CREATE TABLE IF NOT EXISTS plot (id INTEGER CONSTRAINT pk PRIMARY KEY AUTOINCREMENT, name TEXT COLLATE NOCASE "
        "NOT NULL UNIQUE, "
        "area REAL DEFAULT (1 + 1) CONSTRAINT pos CHECK (area > (0)), twice REAL GENERATED ALWAYS AS (area * 2) "
        "STORED, "
        "w INT REFERENCES warden (id) ON DELETE SET NULL DEFERRABLE INITIALLY DEFERRED NOT NULL, -- who\n"
        "CONSTRAINT two UNIQUE (name, area DESC), CHECK (name <> ''), "
        "CONSTRAINT far FOREIGN KEY (w, id) REFERENCES other (a, b) ON UPDATE NO ACTION) STRICT, WITHOUT ROWID;",
        Dialect::Sqlite);
    ASSERT_TRUE(parts);
    ASSERT_EQ(parts->columns.size(), 5U);
    EXPECT_TRUE(parts->columns[0].countsUp);
    EXPECT_EQ(parts->primaryKeyName, "pk");
    EXPECT_EQ(parts->columns[1].collation, "NOCASE");
    EXPECT_EQ(parts->columns[3].generation, "area * 2");
    EXPECT_TRUE(parts->columns[3].isStored);
    ASSERT_EQ(parts->constraints.size(), 4U);
    EXPECT_EQ(parts->constraints[1].name, "pos");
    EXPECT_EQ(parts->constraints[1].definition, "CHECK (area > (0))");
    EXPECT_THAT(parts->constraints[2].columns, ElementsAre("name", "area"));
    ASSERT_EQ(parts->foreignKeys.size(), 2U);
    EXPECT_EQ(parts->foreignKeys[0].deferral, "DEFERRABLE INITIALLY DEFERRED");
    EXPECT_EQ(parts->foreignKeys[1].name, "far");
    EXPECT_THAT(parts->options, ElementsAre("STRICT", "WITHOUT ROWID"));
    EXPECT_FALSE(tablePartsOf("CREATE VIEW v AS SELECT 1", Dialect::Sqlite));
    EXPECT_FALSE(tablePartsOf("CREATE TABLE (", Dialect::Sqlite));
    EXPECT_EQ(predicateOf("CREATE INDEX i ON t (lower(a)) WHERE a > 1;", Dialect::Sqlite), "a > 1");
    EXPECT_EQ(predicateOf("CREATE INDEX i ON t (a)", Dialect::Sqlite), "");
}

TableDesign plot() {
    TableDesign design{.schema = "orchard", .name = "plot"};
    design.columns = {{{.name = "id", .typeName = "integer", .isNullable = false}, "id"},
                      {{.name = "name", .typeName = "text"}, "name"},
                      {{.name = "area", .typeName = "integer"}, "area"}};
    design.primaryKey.columns = {"id"};
    design.checks = {{"positive", "area > 0", {}}};
    design.indexes = {{.name = "by_name", .columns = {"name", "(lower(name))"}}};
    return design;
}

std::vector<std::string> messagesOf(const TableDesign& design, Dialect dialect) {
    std::vector<std::string> messages;
    for (const DesignProblem& one : problemsOf(design, dialect)) messages.push_back(one.message);
    return messages;
}

TEST(TableDesignTest, WhatKeepsItFromBeingMadeIsToldAtItsPlace) {
    EXPECT_THAT(messagesOf(plot(), Dialect::Postgres), testing::IsEmpty());
    TableDesign bad = plot();
    bad.name.clear();
    bad.columns[1].column.name = "id";
    bad.columns[2].column.typeName.clear();
    bad.foreignKeys.push_back(
        {.name = "k", .columns = {"id"}, .schema = "orchard", .relation = "warden", .referencedColumns = {"a", "b"}});
    EXPECT_THAT(messagesOf(bad, Dialect::Postgres),
                ElementsAre("The table has no name yet.", "There are two columns named id.", "area has no type yet.",
                            "The foreign key has 1 column here and 2 in warden.",
                            "The index names name, which is no column here."));
    EXPECT_EQ(problemsOf(bad, Dialect::Postgres)[1].number, 1U);
    TableDesign lengthy = plot();
    lengthy.columns[1].column.name = std::string(64, 'n');
    lengthy.indexes.clear();
    EXPECT_THAT(messagesOf(lengthy, Dialect::Postgres), ElementsAre(HasSubstr("64 bytes; the engine takes 63")));
    EXPECT_THAT(messagesOf(lengthy, Dialect::MySql), testing::IsEmpty());
    TableDesign counting = plot();
    counting.columns[2].column.identity = catalog::Identity::ByDefault;
    EXPECT_THAT(messagesOf(counting, Dialect::MySql), ElementsAre(HasSubstr("must be in a key")));
    EXPECT_THAT(messagesOf(counting, Dialect::Sqlite), ElementsAre(HasSubstr("primary key by itself")));
    EXPECT_THAT(messagesOf({.name = "empty"}, Dialect::Sqlite), ElementsAre("The table has no column yet."));
}

TEST(TableDesignTest, AColumnTakesItsKeysAlong) {
    TableDesign design = plot();
    design.renameColumn(1, "Title", Dialect::Postgres);
    EXPECT_THAT(design.indexes[0].columns, ElementsAre("Title", "(lower(\"Title\"))"));
    design.removeColumn(2, Dialect::Postgres);
    EXPECT_TRUE(design.checks.empty());
    design.removeColumn(1, Dialect::Postgres);
    EXPECT_TRUE(design.indexes.empty());
    EXPECT_EQ(design.primaryKey.columns, std::vector<std::string>{"id"});
}

TEST(TableDesignTest, LinesThatPeoplePasteBecomeColumns) {
    std::vector<std::string> key;
    const auto columns = columnsFromLines(
        "id integer primary key,\n\"odd name\"\tvarchar(40) NOT NULL\n-- a remark\nprice: numeric(6,2) default 1.5 not "
        "null,\nnote\n\n",
        Dialect::Postgres, &key);
    ASSERT_EQ(columns.size(), 4U);
    EXPECT_EQ(key, std::vector<std::string>{"id"});
    EXPECT_FALSE(columns[0].column.isNullable);
    EXPECT_EQ(columns[1].column.name, "odd name");
    EXPECT_EQ(columns[1].column.typeName, "varchar(40)");
    EXPECT_FALSE(columns[1].column.isNullable);
    EXPECT_EQ(columns[2].column.typeName, "numeric(6,2)");
    EXPECT_EQ(columns[2].column.defaultValue, "1.5");
    EXPECT_EQ(columns[3].column.typeName, "text");
    EXPECT_TRUE(columns[3].column.isNullable);
}

TEST(AlterTableTextTest, NothingChangesWhereNothingDiffers) {
    for (const Dialect dialect : {Dialect::Postgres, Dialect::MySql, Dialect::Sqlite}) {
        TableDesign other = plot();
        other.checks[0].expression = dialect == Dialect::MySql ? "(`area` > 0)" : "(\"area\" > 0)";
        EXPECT_TRUE(alterTable(plot(), plot(), dialect).isEmpty());
        EXPECT_EQ(alterTable(plot(), other, dialect).script(), "");
    }
}

TEST(AlterTableTextTest, MariaDbGetsOneStatementAndDestructionIsMarked) {
    TableDesign after = plot();
    after.columns.push_back({{.name = "note", .typeName = "text", .comment = "it's"}, {}});
    after.columns[1].column.typeName = "varchar(90)";
    const DefinitionChange change = alterTable(plot(), after, Dialect::MySql);
    ASSERT_EQ(change.steps.size(), 1U);
    EXPECT_EQ(
        change.steps[0].statement,
        "ALTER TABLE orchard.plot\n    ADD COLUMN note text COMMENT 'it''s',\n    MODIFY COLUMN name varchar(90)");
    EXPECT_TRUE(change.isDestructive()) << "another type may cut values";
    TableDesign less = plot();
    less.removeColumn(2, Dialect::MySql);
    EXPECT_TRUE(alterTable(plot(), less, Dialect::MySql).isDestructive());
    TableDesign more = plot();
    more.indexes.push_back({.name = "by_area", .columns = {"area"}});
    EXPECT_FALSE(alterTable(plot(), more, Dialect::MySql).isDestructive());
}

TEST(ScriptTextTest, AnInsertHasALineForEachColumnWithItsTypeBehindIt) {
    const catalog::Relation relation{.schema = "orchard",
                                     .name = "plot",
                                     .columns = {{.name = "id",
                                                  .typeName = "integer",
                                                  .isNullable = false,
                                                  .keyPosition = 1,
                                                  .identity = catalog::Identity::Always},
                                                 {.name = "a name", .typeName = "text", .isNullable = false},
                                                 {.name = "area", .typeName = "numeric(6,2)", .defaultValue = "1"}}};
    const ScriptObject one{.relation = &relation};
    const ScriptPlace place{.from = Dialect::Postgres, .to = Dialect::Postgres};
    EXPECT_EQ(writeScript(ScriptKind::Insert, {one}, place).value(),
              "-- left out: id (counts up)\nINSERT INTO orchard.plot (\n    \"a name\",\n    area\n) VALUES (\n"
              "    :a_name,  -- text, not null\n    :area     -- numeric(6,2), default 1\n);\n");
    EXPECT_THAT(writeScript(ScriptKind::Upsert, {one}, place).value(), HasSubstr("OVERRIDING SYSTEM VALUE"));
    EXPECT_EQ(writeScript(ScriptKind::Delete, {one}, place).value(), "DELETE FROM orchard.plot\nWHERE id = :id;\n");
    EXPECT_EQ(writeScript(ScriptKind::Drop, {}, place).error().kind, ErrorKind::InvalidInput);
}

TEST(DesignRulesTest, RulesAreLinesOfTextThatCanBeWritten) {
    TableDesign design = plot();
    const DesignRule key = addRule(design, DesignRule::Kind::ForeignKey, {"area"});
    EXPECT_EQ(ruleText(design, key, DesignRule::Field::Name, Dialect::Postgres), "plot_area_fkey");
    setRuleText(design, key, DesignRule::Field::RefersTo, "\"other place\".warden (a, \"b c\")", Dialect::Postgres);
    EXPECT_EQ(design.foreignKeys[0].schema, "other place");
    EXPECT_EQ(design.foreignKeys[0].relation, "warden");
    EXPECT_THAT(design.foreignKeys[0].referencedColumns, ElementsAre("a", "b c"));
    EXPECT_EQ(ruleText(design, key, DesignRule::Field::RefersTo, Dialect::Postgres),
              "\"other place\".warden (a, \"b c\")");
    setRuleText(design, key, DesignRule::Field::OnDelete, "set null", Dialect::Postgres);
    EXPECT_EQ(design.foreignKeys[0].onDelete, "SET NULL");
    EXPECT_THAT(columnsFromText("a, \"b c\", lower(d), (e + 1)", Dialect::Postgres),
                ElementsAre("a", "b c", "(lower(d))", "(e + 1)"));
    EXPECT_EQ(rulesOf(design).size(), 3U);
    removeRule(design, key);
    EXPECT_TRUE(design.foreignKeys.empty());
    addRule(design, DesignRule::Kind::Index, {"area"});
    addRule(design, DesignRule::Kind::Index, {"area"});
    EXPECT_EQ(design.indexes.back().name, "plot_area_idx2") << "no two of one name";
}

TEST(RoutineCallTest, ArgumentsAreWrittenByTheirTypesAndOutValuesAreRead) {
    using Mode = catalog::RoutineParameter::Mode;
    const catalog::ObjectName procedure{.kind = catalog::ObjectKind::Procedure, .schema = "s", .name = "tidy up"};
    const catalog::ObjectDetails details{.parameters = {{.name = "days", .typeName = "integer"},
                                                        {.name = "label", .typeName = "text", .defaultValue = "'x'"},
                                                        {.name = "gone", .typeName = "integer", .mode = Mode::Out}}};
    const std::vector<Argument> arguments{{Argument::Kind::Text, "3"}, {Argument::Kind::Text, "it's"}};
    EXPECT_THAT(callOf(procedure, details, arguments, Dialect::MySql).value(),
                ElementsAre("CALL s.`tidy up`(3, 'it''s', @gone)", "SELECT @gone AS gone"));
    EXPECT_THAT(callOf(procedure, details, arguments, Dialect::Postgres).value(),
                ElementsAre("CALL s.\"tidy up\"(3, 'it''s', NULL)"));
    EXPECT_THAT(callOf(procedure, details, {{Argument::Kind::Text, "three"}}, Dialect::Postgres).error().message,
                HasSubstr("days takes a number"));
    EXPECT_EQ(parametersToFill(details).size(), 2U);
    const catalog::ObjectName function{.kind = catalog::ObjectKind::Function, .schema = "s", .name = "f"};
    const catalog::ObjectDetails rows{
        .parameters = {{.name = "a", .typeName = "integer", .defaultValue = "1"}, {.name = "b", .typeName = "date"}},
        .returns = "SETOF x",
        .returnsRows = true};
    EXPECT_THAT(callOf(function, rows, {{Argument::Kind::Default, ""}, {Argument::Kind::Expression, "current_date"}},
                       Dialect::Postgres)
                    .value(),
                ElementsAre("SELECT * FROM s.f(b => current_date)"));
    const catalog::ObjectDetails both{.parameters = {{.name = "n", .typeName = "int", .mode = Mode::InOut}}};
    EXPECT_THAT(callOf(procedure, both, {{Argument::Kind::Text, "4"}}, Dialect::MySql).value(),
                ElementsAre("SET @n = 4", "CALL s.`tidy up`(@n)", "SELECT @n AS n"));
}

/// Any bytes, and pieces of SQL in any order: nothing that reads them ends badly or goes on forever.
void readInEveryWay(const std::string& text) {
    for (const Dialect from : {Dialect::Postgres, Dialect::MySql, Dialect::Sqlite}) {
        (void)tablePartsOf(text, from);
        (void)predicateOf(text, from);
        (void)columnsFromText(text, from);
        (void)columnsFromLines(text, from);
        (void)ownStatementsIn(text);
        (void)withColumnRenamed(text, "a", "b c", from);
        TableDesign design = plot();
        const DesignRule rule = addRule(design, DesignRule::Kind::ForeignKey, {});
        setRuleText(design, rule, DesignRule::Field::RefersTo, text, from);
        (void)problemsOf(design, from);
        for (const Dialect to : {Dialect::Postgres, Dialect::MySql, Dialect::Sqlite, Dialect::Ansi}) {
            (void)expressionIn(text, from, to);
            (void)typeIn(text, from, to);
        }
    }
}

RC_GTEST_PROP(DefinePropertiesTest, AnyBytesAreReadWithoutHarm, (const std::string& text)) { readInEveryWay(text); }

RC_GTEST_PROP(DefinePropertiesTest, PiecesInAnyOrderAreReadWithoutHarm, ()) {
    static const std::vector<std::string> kPieces{"CREATE TABLE t (",
                                                  ")",
                                                  "(",
                                                  "a",
                                                  "\"b c\"",
                                                  "`d`",
                                                  "integer",
                                                  "CHECK (",
                                                  "UNIQUE",
                                                  "REFERENCES",
                                                  "ON DELETE SET",
                                                  "DEFERRABLE",
                                                  "NOT",
                                                  "NULL",
                                                  "DEFAULT",
                                                  "'x''",
                                                  "'y'",
                                                  "::text[]",
                                                  "= ANY (ARRAY[",
                                                  "]",
                                                  ",",
                                                  ";",
                                                  "CONSTRAINT",
                                                  "GENERATED ALWAYS AS (",
                                                  "STORED",
                                                  "PRIMARY KEY",
                                                  "WHERE",
                                                  "CREATE INDEX i ON",
                                                  "--",
                                                  "/*",
                                                  "\n",
                                                  ".",
                                                  "$$",
                                                  "E'",
                                                  "1",
                                                  "enum('a'",
                                                  "[",
                                                  "::"};
    const auto chosen = *rc::gen::container<std::vector<std::size_t>>(rc::gen::inRange<std::size_t>(0, kPieces.size()));
    std::string text;
    for (const std::size_t one : chosen) text += kPieces[one] + " ";
    readInEveryWay(text);
    readInEveryWay("CREATE TABLE t (" + text);
}

TEST(RoutineCallTest, FewValuesAreChosenFrom) {
    const auto choices = [](const char* type, Dialect dialect, const catalog::Catalog* catalog = nullptr) {
        return choicesFor({.name = "p", .typeName = type}, catalog, dialect);
    };
    EXPECT_THAT(choices("boolean", Dialect::Postgres), ElementsAre("true", "false"));
    EXPECT_THAT(choices("enum('hard','it''s ripe')", Dialect::MySql), ElementsAre("hard", "it's ripe"));
    EXPECT_THAT(choices("varchar(20)", Dialect::MySql), testing::IsEmpty());
    auto schema = std::make_shared<catalog::Schema>();
    schema->name = "orchard";
    catalog::Object type;
    type.kind = catalog::ObjectKind::Type;
    type.schema = "orchard";
    type.name = "Ripeness";
    type.detail = "enum: hard, soft";
    schema->objects.push_back(type);
    const catalog::Catalog catalog({}, {schema});
    EXPECT_THAT(choices("orchard.\"Ripeness\"", Dialect::Postgres, &catalog), ElementsAre("hard", "soft"));
    EXPECT_THAT(choices("ripeness", Dialect::Postgres, &catalog), testing::IsEmpty());
}

TEST(TableOptionsTest, WhatStandsBehindTheColumnsIsReadAndOnlyWhatDiffersIsWritten) {
    const std::string mysql =
        "CREATE TABLE `t` (\n `a` int COMMENT 'x) y',\n KEY (`a`)\n) ENGINE=InnoDB AUTO_INCREMENT=8 DEFAULT "
        "CHARSET=utf8mb4 COLLATE=utf8mb4_bin COMMENT='it''s' ROW_FORMAT=DYNAMIC\n PARTITION BY HASH (a);";
    const std::string options = optionsIn(mysql, Dialect::MySql);
    EXPECT_EQ(options, "ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin ROW_FORMAT=DYNAMIC");
    EXPECT_THAT(optionChanges(options, options, Dialect::MySql), testing::IsEmpty());
    EXPECT_THAT(optionChanges(options, "ENGINE=InnoDB CHARSET = utf8mb4, COLLATE=utf8mb4_general_ci", Dialect::MySql),
                ElementsAre("COLLATE = utf8mb4_general_ci"));
    EXPECT_THAT(optionChanges("", "engine=Aria CHARACTER SET=latin1", Dialect::MySql),
                ElementsAre("ENGINE = Aria, CHARACTER SET = latin1"));
    EXPECT_THAT(optionChanges(options, "something else", Dialect::MySql), ElementsAre("something else"))
        << "what is not understood is the server's to judge";
    const std::string postgres =
        "CREATE TABLE t (a integer)\nWITH (fillfactor='70', autovacuum_enabled='false') "
        "TABLESPACE fast;\nALTER TABLE t OWNER TO x;";
    const std::string with = optionsIn(postgres, Dialect::Postgres);
    EXPECT_EQ(with, "WITH (fillfactor='70', autovacuum_enabled='false') TABLESPACE fast");
    EXPECT_THAT(optionChanges(with, "WITH (fillfactor = 80) TABLESPACE slow", Dialect::Postgres),
                ElementsAre("SET TABLESPACE slow", "SET (fillfactor = 80)", "RESET (autovacuum_enabled)"));
    EXPECT_EQ(optionsIn("CREATE TABLE t (a) STRICT", Dialect::Sqlite), "") << "read with the table's parts";
}

RC_GTEST_PROP(TableOptionsTest, AnyTextIsRead, (const std::string& before, const std::string& after)) {
    for (const Dialect dialect : {Dialect::MySql, Dialect::Postgres}) {
        (void)optionsIn("CREATE TABLE t (" + before + ")" + after, dialect);
        RC_ASSERT(optionChanges(after, after, dialect).empty());
        for (const std::string& clause : optionChanges(before, after, dialect)) RC_ASSERT(!clause.empty());
    }
}

}  // namespace
}  // namespace pantry::sql
