// Forms as they are filled in, on the servers themselves: every choice can be read, every statement runs, and what was
// wanted is there afterwards.
#include "core/sql/forms/form.h"

#include <gmock/gmock.h>

#include "core/db/script_bench.h"
#include "core/sql/define/edited_text.h"

namespace pantry::db {
namespace {

using sql::Dialect;
using sql::FieldValues;
using test::Line;
using testing::ElementsAre;
using testing::HasSubstr;
using testing::IsEmpty;

/// A form that is filled in as somebody would.
class Filled {
public:
    Filled(Line& line, std::string_view id, sql::FormPlace place)
        : line_(line), form_(*sql::formEntry(id)), place_(std::move(place)) {
        for (const sql::FormField& field : form_.fields(place_)) values_[std::string(field.id)] = field.value;
    }
    Filled& put(std::string_view id, std::string value) {
        EXPECT_TRUE(values_.contains(id)) << form_.id << " has no field " << id;
        values_[std::string(id)] = std::move(value);
        return *this;
    }
    /// Reads what the fields hold now.
    Filled& read() {
        const std::string subject = values_.begin() == values_.end() ? "" : first();
        const auto recorder = line_.run(form_.currentQuery(place_, subject));
        EXPECT_FALSE(recorder->error()) << recorder->error()->text();
        const data::ResultSetPtr rows = recorder->result();
        EXPECT_EQ(rows ? rows->rowCount() : 0, 1U) << form_.id << " of " << subject;
        if (!rows || rows->rowCount() != 1) return *this;
        for (std::size_t c = 0; c < rows->columns().size(); ++c) {
            const data::Cell cell = rows->cell(0, c);
            const std::string& name = rows->columns()[c].name;
            EXPECT_TRUE(values_.contains(name)) << name << " is no field of " << form_.id;
            before_[name] = values_[name] = cell.isNull() ? "" : data::toText(cell);
        }
        return *this;
    }
    [[nodiscard]] std::string value(std::string_view id) const { return sql::valueOf(values_, id); }
    [[nodiscard]] sql::DefinitionChange change() const { return form_.write(place_, values_, before_); }
    /// The statement that fails, or nothing.
    std::string run() {
        EXPECT_EQ(sql::whyIncomplete(form_.fields(place_), values_), "") << form_.id;
        const sql::DefinitionChange change = this->change();
        EXPECT_FALSE(change.isEmpty()) << form_.id;
        for (const sql::DefinitionStep& step : change.steps) {
            EXPECT_NE(step.label, "");
            if (const auto error = line_.run(step.statement)->error()) return step.statement + "\n  → " + error->text();
        }
        return {};
    }

private:
    [[nodiscard]] std::string first() const { return sql::valueOf(values_, form_.fields(place_).front().id); }
    Line& line_;
    const sql::FormEntry& form_;
    sql::FormPlace place_;
    FieldValues values_;
    FieldValues before_;
};

/// All queries that fill choices run.
void readChoices(Line& line, const sql::FormPlace& place) {
    int asked = 0;
    for (const sql::FormEntry& form : sql::formEntries()) {
        if (!form.isFor(place)) continue;
        for (const sql::FormField& field : form.fields(place)) {
            if (field.choicesQuery.empty()) continue;
            const auto recorder = line.run(field.choicesQuery);
            EXPECT_FALSE(recorder->error()) << form.id << "." << field.id << ": " << recorder->error()->text();
            EXPECT_EQ(recorder->result()->columns().size(), 1U) << form.id << "." << field.id;
            ++asked;
        }
    }
    EXPECT_GT(asked, 10);
}

std::string ticks(std::initializer_list<const char*> some) {
    std::string out;
    for (const char* one : some) out += (out.empty() ? "" : std::string(1, sql::kBetweenTicks)) + one;
    return out;
}

TEST(FormsOnServersTest, PostgresDoesWhatIsFilledIn) {
    Line admin(test::profileFor(test::sharedPostgres()));
    for (const char* one :
         {"DROP DATABASE IF EXISTS \"Forms of\"", "DROP DATABASE IF EXISTS filled",
          "DROP DATABASE IF EXISTS form_place", "DROP ROLE IF EXISTS \"it's me\"", "DROP ROLE IF EXISTS gatekeeper",
          "DROP ROLE IF EXISTS heir", "DROP ROLE IF EXISTS pickers", "CREATE ROLE heir", "CREATE ROLE pickers"}) {
        (void)admin.run(one);
    }
    ASSERT_FALSE(admin.run("CREATE DATABASE form_place")->error());
    Line line(test::profileFor(test::sharedPostgres(), "form_place"));
    const sql::FormPlace place{.dialect = Dialect::Postgres, .database = "form_place", .object = {.schema = "public"}};
    readChoices(line, place);

    EXPECT_EQ(
        Filled(line, "schema.new", place).put("name", "Odd \"one\"").put("owner", "heir").put("comment", "it's").run(),
        "");
    sql::FormPlace odd = place;
    odd.object.schema = "Odd \"one\"";
    Filled schema(line, "schema.change", odd);
    schema.read();
    EXPECT_EQ(schema.value("owner"), "heir");
    EXPECT_EQ(schema.value("comment"), "it's");
    EXPECT_TRUE(schema.change().isEmpty()) << "nothing was changed yet";
    EXPECT_EQ(schema.put("newName", "orchard").put("comment", "").put("owner", "pickers").run(), "");
    EXPECT_THAT(line.rows("SELECT nspowner::regrole FROM pg_namespace WHERE nspname = 'orchard'"),
                ElementsAre("pickers"));

    sql::FormPlace orchard = place;
    orchard.object.schema = "orchard";
    EXPECT_EQ(Filled(line, "sequence.new", orchard)
                  .put("name", "ticket no")
                  .put("type", "integer")
                  .put("start", "20")
                  .put("increment", "5")
                  .put("minimum", "10")
                  .put("maximum", "1000")
                  .put("cache", "4")
                  .put("cycle", "yes")
                  .put("comment", "numbers")
                  .run(),
              "");
    orchard.object = {.kind = catalog::ObjectKind::Sequence, .schema = "orchard", .name = "ticket no"};
    Filled sequence(line, "sequence.change", orchard);
    sequence.read();
    EXPECT_EQ(sequence.value("increment"), "5");
    EXPECT_EQ(sequence.value("cycle"), "yes");
    EXPECT_EQ(sequence.value("type"), "integer");
    EXPECT_TRUE(sequence.change().isEmpty());
    EXPECT_EQ(sequence.put("cycle", "").put("restart", "55").put("maximum", "5000").run(), "");
    EXPECT_THAT(line.rows("SELECT nextval('orchard.\"ticket no\"'), seqcycle, seqmax FROM pg_sequence "
                          "WHERE seqrelid = 'orchard.\"ticket no\"'::regclass"),
                ElementsAre("55|false|5000"));

    EXPECT_EQ(Filled(line, "role.new", place)
                  .put("name", "it's me")
                  .put("login", "yes")
                  .put("password", "s'e;cret")
                  .put("createdb", "yes")
                  .put("connections", "7")
                  .put("until", "2040-01-01")
                  .put("memberOf", ticks({"pickers", "pg_monitor"}))
                  .put("comment", "the gardener")
                  .run(),
              "");
    Filled role(line, "role.change", place);
    role.put("name", "it's me").read();
    EXPECT_EQ(role.value("login"), "yes");
    EXPECT_EQ(role.value("superuser"), "");
    EXPECT_EQ(role.value("memberOf"), ticks({"pickers", "pg_monitor"}));
    EXPECT_TRUE(role.change().isEmpty());
    EXPECT_EQ(role.put("memberOf", ticks({"pickers"}))
                  .put("createdb", "")
                  .put("connections", "-1")
                  .put("comment", "")
                  .put("newName", "gatekeeper")
                  .run(),
              "");
    EXPECT_THAT(line.rows("SELECT rolcreatedb, rolconnlimit FROM pg_roles WHERE rolname = 'gatekeeper'"),
                ElementsAre("false|-1"));

    ASSERT_EQ(
        test::runScript(line,
                        "CREATE TABLE orchard.\"bin 1\" (\"n o\" integer, m text);"
                        "CREATE FUNCTION orchard.twice(n integer) RETURNS integer LANGUAGE sql AS 'SELECT n * 2';",
                        Dialect::Postgres),
        "");
    orchard.object = {.kind = catalog::ObjectKind::Table, .schema = "orchard", .name = "bin 1"};
    EXPECT_EQ(Filled(line, "object.grant", orchard)
                  .put("privileges", ticks({"SELECT", "UPDATE"}))
                  .put("columns", "n o, m")
                  .put("who", "gatekeeper")
                  .put("option", "yes")
                  .run(),
              "");
    EXPECT_THAT(
        line.rows("SELECT has_column_privilege('gatekeeper', 'orchard.\"bin 1\"', 'n o', 'UPDATE WITH GRANT OPTION')"),
        ElementsAre("true"));
    EXPECT_EQ(Filled(line, "object.revoke", orchard)
                  .put("privileges", ticks({"UPDATE"}))
                  .put("columns", "n o")
                  .put("who", "gatekeeper")
                  .put("cascade", "yes")
                  .run(),
              "");
    EXPECT_THAT(line.rows("SELECT has_column_privilege('gatekeeper', 'orchard.\"bin 1\"', 'n o', 'UPDATE')"),
                ElementsAre("false"));
    orchard.object = {
        .kind = catalog::ObjectKind::Function, .schema = "orchard", .name = "twice", .signature = "n integer"};
    EXPECT_EQ(Filled(line, "object.grant", orchard).put("privileges", "EXECUTE").put("who", "PUBLIC").run(), "");
    EXPECT_EQ(Filled(line, "schema.grant", orchard)
                  .put("privileges", ticks({"USAGE", "CREATE"}))
                  .put("tables", "SELECT")
                  .put("future", "yes")
                  .put("who", "heir")
                  .run(),
              "");
    EXPECT_THAT(line.rows("SELECT has_table_privilege('heir', 'orchard.\"bin 1\"', 'SELECT')"), ElementsAre("true"));
    EXPECT_EQ(
        Filled(line, "schema.revoke", orchard).put("tables", "SELECT").put("future", "yes").put("who", "heir").run(),
        "");
    EXPECT_EQ(Filled(line, "database.grant", place)
                  .put("privileges", ticks({"CONNECT", "TEMPORARY"}))
                  .put("who", "heir")
                  .run(),
              "");
    EXPECT_EQ(Filled(line, "database.revoke", place).put("privileges", "TEMPORARY").put("who", "heir").run(), "");
    EXPECT_EQ(Filled(line, "role.grant", place).put("role", "heir").put("who", "gatekeeper").put("admin", "yes").run(),
              "");
    EXPECT_EQ(Filled(line, "role.revoke", place).put("role", "heir").put("who", "gatekeeper").run(), "");

    ASSERT_FALSE(line.run("ALTER TABLE orchard.\"bin 1\" OWNER TO gatekeeper")->error());
    EXPECT_EQ(Filled(line, "role.drop", place).put("name", "gatekeeper").put("heir", "heir").run(), "");
    EXPECT_THAT(line.rows("SELECT relowner::regrole FROM pg_class WHERE relname = 'bin 1'"), ElementsAre("heir"));
    EXPECT_THAT(Filled(line, "schema.drop", orchard).run(), HasSubstr("depend")) << "not without CASCADE";
    EXPECT_EQ(Filled(line, "schema.drop", orchard).put("cascade", "yes").run(), "");

    Filled database(line, "database.new", place);
    EXPECT_EQ(database.put("name", "Forms of")
                  .put("owner", "heir")
                  .put("template", "template0")
                  .put("encoding", "UTF8")
                  .put("locale", "C")
                  .put("connections", "9")
                  .put("comment", "made by a form")
                  .run(),
              "");
    EXPECT_TRUE(database.change().isOneByOne) << "no transaction takes it";
    Filled changed(line, "database.change", place);
    changed.put("name", "Forms of").read();
    EXPECT_EQ(changed.value("owner"), "heir");
    EXPECT_EQ(changed.value("connections"), "9");
    EXPECT_EQ(changed.put("newName", "filled").put("connections", "-1").put("comment", "").run(), "");
    EXPECT_EQ(Filled(line, "database.drop", place).put("name", "filled").put("force", "yes").run(), "");
}

TEST(FormsOnServersTest, MariaDbDoesWhatIsFilledIn) {
    Line line(test::profileFor(test::sharedMariaDb()));
    for (const char* one : {"DROP DATABASE IF EXISTS form_place", "DROP DATABASE IF EXISTS `Forms ``of`",
                            "DROP USER IF EXISTS 'it''s me'@'%'", "DROP USER IF EXISTS gatekeeper@localhost",
                            "DROP ROLE IF EXISTS pickers", "DROP ROLE IF EXISTS heir", "CREATE DATABASE form_place"}) {
        (void)line.run(one);
    }
    sql::FormPlace place{.dialect = Dialect::MySql, .object = {.schema = "form_place"}};
    readChoices(line, place);
    EXPECT_EQ(Filled(line, "role.new", place).put("name", "pickers").run(), "");
    EXPECT_EQ(Filled(line, "role.new", place).put("name", "heir").run(), "");

    EXPECT_EQ(Filled(line, "database.new", place)
                  .put("name", "Forms `of")
                  .put("charset", "utf8mb4")
                  .put("collation", "utf8mb4_bin")
                  .put("comment", "it's made")
                  .run(),
              "");
    sql::FormPlace odd = place;
    odd.object.schema = "Forms `of";
    Filled database(line, "database.change", odd);
    database.read();
    EXPECT_EQ(database.value("collation"), "utf8mb4_bin");
    EXPECT_EQ(database.value("comment"), "it's made");
    EXPECT_TRUE(database.change().isEmpty());
    EXPECT_EQ(database.put("collation", "utf8mb4_general_ci").put("comment", "").run(), "");
    EXPECT_EQ(Filled(line, "database.drop", odd).run(), "");

    EXPECT_EQ(Filled(line, "sequence.new", place)
                  .put("name", "ticket no")
                  .put("start", "20")
                  .put("increment", "5")
                  .put("minimum", "10")
                  .put("maximum", "1000")
                  .put("cache", "4")
                  .put("cycle", "yes")
                  .put("comment", "it's")
                  .run(),
              "");
    place.object = {.kind = catalog::ObjectKind::Sequence, .schema = "form_place", .name = "ticket no"};
    Filled sequence(line, "sequence.change", place);
    sequence.read();
    EXPECT_EQ(sequence.value("increment"), "5");
    EXPECT_EQ(sequence.value("cycle"), "yes");
    EXPECT_TRUE(sequence.change().isEmpty());
    EXPECT_EQ(sequence.put("cycle", "").put("restart", "55").put("cache", "0").run(), "");
    EXPECT_THAT(line.rows("SELECT NEXTVAL(form_place.`ticket no`)"), ElementsAre("55"));
    EXPECT_EQ(Filled(line, "object.grant", place)
                  .put("privileges", ticks({"SELECT", "INSERT"}))
                  .put("who", "'pickers'")
                  .run(),
              "");

    EXPECT_EQ(Filled(line, "user.new", place)
                  .put("name", "it's me")
                  .put("password", "s'e;cret")
                  .put("locked", "yes")
                  .put("connections", "7")
                  .put("memberOf", ticks({"'heir'", "'pickers'"}))
                  .run(),
              "");
    Filled user(line, "user.change", place);
    user.put("name", "'it\\'s me'@'%'").read();
    EXPECT_EQ(user.value("locked"), "yes");
    EXPECT_EQ(user.value("tls"), "");
    EXPECT_EQ(user.value("connections"), "7");
    EXPECT_EQ(user.value("memberOf"), ticks({"'heir'", "'pickers'"}));
    EXPECT_TRUE(user.change().isEmpty());
    EXPECT_EQ(
        user.put("locked", "").put("tls", "yes").put("memberOf", "'heir'").put("newName", "gatekeeper@localhost").run(),
        "");
    EXPECT_THAT(line.rows("SELECT ssl_type FROM mysql.user WHERE user = 'gatekeeper' AND host = 'localhost'"),
                ElementsAre("ANY"));

    ASSERT_FALSE(line.run("CREATE TABLE form_place.`bin 1` (`n o` int, m varchar(9))")->error());
    place.object = {.kind = catalog::ObjectKind::Table, .schema = "form_place", .name = "bin 1"};
    EXPECT_EQ(Filled(line, "object.grant", place)
                  .put("privileges", ticks({"SELECT", "UPDATE"}))
                  .put("columns", "n o, m")
                  .put("who", "gatekeeper@localhost")
                  .put("option", "yes")
                  .run(),
              "");
    EXPECT_EQ(line.rows("SELECT count(*) FROM information_schema.column_privileges WHERE grantee LIKE '%gatekeeper%'")
                  .front(),
              "4");
    EXPECT_EQ(Filled(line, "object.revoke", place)
                  .put("privileges", "UPDATE")
                  .put("columns", "m")
                  .put("who", "gatekeeper@localhost")
                  .run(),
              "");
    EXPECT_EQ(Filled(line, "database.grant", place)
                  .put("database", "form_place")
                  .put("privileges", ticks({"SELECT", "CREATE VIEW"}))
                  .put("who", "'heir'")
                  .run(),
              "");
    EXPECT_EQ(Filled(line, "database.revoke", place)
                  .put("database", "form_place")
                  .put("privileges", "SELECT")
                  .put("who", "'heir'")
                  .run(),
              "");
    EXPECT_EQ(Filled(line, "database.grant", place)
                  .put("database", "*")
                  .put("privileges", "EVENT")
                  .put("who", "'heir'")
                  .run(),
              "");
    EXPECT_EQ(Filled(line, "role.grant", place)
                  .put("role", "'pickers'")
                  .put("who", "gatekeeper@localhost")
                  .put("admin", "yes")
                  .run(),
              "");
    EXPECT_EQ(Filled(line, "role.revoke", place).put("role", "'pickers'").put("who", "gatekeeper@localhost").run(), "");
    EXPECT_EQ(Filled(line, "user.drop", place).put("name", "'gatekeeper'@'localhost'").run(), "");
    EXPECT_EQ(Filled(line, "role.drop", place).put("name", "'pickers'").run(), "");
    EXPECT_EQ(Filled(line, "role.drop", place).put("name", "'heir'").run(), "");
}

// ---- Texts that are put in the place of what is there ----

/// Applies a text as the page does; the statement that fails, or nothing.
std::string apply(Line& line, const sql::EditedObject& edited, const std::string& text, const std::string& before,
                  bool drops, Dialect dialect) {
    const auto change = sql::applyText(edited, text, before, drops, dialect);
    if (!change) return change.error().text();
    for (const sql::DefinitionStep& step : change->change.steps) {
        if (const auto error = line.run(step.statement)->error()) return step.statement + "\n  → " + error->text();
    }
    return {};
}

TEST(EditedTextOnServersTest, WhatBeginsANewOneRunsOnItsEngine) {
    Line postgres(test::profileFor(test::sharedPostgres()));
    Line mariadb(test::profileFor(test::sharedMariaDb()));
    ASSERT_EQ(test::runScript(postgres,
                              "DROP SCHEMA IF EXISTS \"new texts\" CASCADE; CREATE SCHEMA \"new texts\";"
                              "CREATE TABLE \"new texts\".\"of us\" (n integer);",
                              Dialect::Postgres),
              "");
    ASSERT_EQ(test::runScript(mariadb,
                              "DROP DATABASE IF EXISTS `new texts`; CREATE DATABASE `new texts`;"
                              "CREATE TABLE `new texts`.`of us` (n int);",
                              Dialect::MySql),
              "");
    for (const auto& [line, dialect] : {std::pair{&postgres, Dialect::Postgres}, {&mariadb, Dialect::MySql}}) {
        for (const catalog::ObjectKind kind : sql::writtenKinds(dialect)) {
            const sql::EditedObject edited{.object = {.kind = kind, .schema = "new texts"}};
            const std::string text = sql::textToBegin(edited, dialect);
            EXPECT_EQ(apply(*line, edited, text, {}, false, dialect), "");
            if (kind == catalog::ObjectKind::View) {
                EXPECT_NE(apply(*line, edited, text, {}, false, dialect), "")
                    << "a new one replaces nothing that is there";
            }
            if (kind == catalog::ObjectKind::View)
                (void)line->run("DROP VIEW " +
                                std::string(dialect == Dialect::MySql ? "`new texts`" : "\"new texts\"") + ".new_view");
        }
        const sql::EditedObject trigger{.object = {.schema = "new texts", .name = "of us"}, .isNewTrigger = true};
        EXPECT_EQ(apply(*line, trigger, sql::textToBegin(trigger, dialect), {}, false, dialect), "");
    }
}

TEST(EditedTextOnServersTest, PostgresReplacesOrDropsFirst) {
    Line line(test::profileFor(test::sharedPostgres()));
    ASSERT_EQ(
        test::runScript(
            line,
            "DROP SCHEMA IF EXISTS texts CASCADE; CREATE SCHEMA texts; CREATE TABLE texts.tree (id integer, name text);"
            "CREATE VIEW texts.old AS SELECT id FROM texts.tree; COMMENT ON VIEW texts.old IS 'trees';"
            "CREATE MATERIALIZED VIEW texts.kept AS SELECT id FROM texts.tree;"
            "CREATE FUNCTION texts.twice(n integer) RETURNS integer LANGUAGE sql AS 'SELECT n * 2';"
            "CREATE FUNCTION texts.seen() RETURNS trigger LANGUAGE plpgsql AS 'BEGIN RETURN NEW; END';"
            "CREATE TRIGGER watch BEFORE UPDATE ON texts.tree FOR EACH ROW EXECUTE FUNCTION texts.seen();"
            "CREATE CONSTRAINT TRIGGER late AFTER UPDATE ON texts.tree DEFERRABLE FOR EACH ROW EXECUTE FUNCTION "
            "texts.seen();",
            Dialect::Postgres),
        "");
    const sql::EditedObject view{.object = {.kind = catalog::ObjectKind::View, .schema = "texts", .name = "old"}};
    const std::string before =
        "CREATE VIEW texts.old AS SELECT id FROM texts.tree;\nCOMMENT ON VIEW texts.old IS 'trees';";
    const std::string more =
        "-- all of it\nCREATE VIEW texts.old AS SELECT id, name FROM texts.tree;\nCOMMENT ON VIEW texts.old IS "
        "'trees';";
    EXPECT_EQ(apply(line, view, more, before, false, Dialect::Postgres), "");
    EXPECT_THAT(apply(line, view, before, more, false, Dialect::Postgres), HasSubstr("Cannot drop columns"));
    EXPECT_EQ(apply(line, view, before, more, true, Dialect::Postgres), "");
    EXPECT_THAT(line.rows("SELECT obj_description('texts.old'::regclass)"), ElementsAre("trees"))
        << "what hangs on it is made again";

    const sql::EditedObject kept{
        .object = {.kind = catalog::ObjectKind::MaterializedView, .schema = "texts", .name = "kept"}};
    EXPECT_EQ(apply(line, kept, "CREATE MATERIALIZED VIEW texts.kept AS SELECT id, name FROM texts.tree",
                    "CREATE MATERIALIZED VIEW texts.kept AS SELECT id FROM texts.tree", false, Dialect::Postgres),
              "");
    const sql::EditedObject twice{
        .object = {
            .kind = catalog::ObjectKind::Function, .schema = "texts", .name = "twice", .signature = "n integer"}};
    const std::string function =
        "CREATE OR REPLACE FUNCTION texts.twice(n integer) RETURNS integer LANGUAGE sql AS 'SELECT n * 2'";
    EXPECT_EQ(
        apply(line, twice,
              "create or replace function texts.twice(n integer) returns integer language sql as $$ select n + n; $$",
              function, false, Dialect::Postgres),
        "");
    EXPECT_THAT(
        apply(line, twice, "CREATE FUNCTION texts.twice(n integer) RETURNS text LANGUAGE sql AS $$ SELECT 'x' $$",
              function, false, Dialect::Postgres),
        HasSubstr("Cannot change return type"));
    EXPECT_EQ(apply(line, twice, "CREATE FUNCTION texts.twice(n integer) RETURNS text LANGUAGE sql AS $$ SELECT 'x' $$",
                    function, true, Dialect::Postgres),
              "");
    EXPECT_THAT(line.rows("SELECT texts.twice(1)"), ElementsAre("x"));

    const sql::EditedObject watch{.object = {.schema = "texts", .name = "tree"}, .trigger = "watch"};
    EXPECT_EQ(
        apply(line, watch, "CREATE TRIGGER watch AFTER UPDATE ON texts.tree FOR EACH ROW EXECUTE FUNCTION texts.seen()",
              "x", false, Dialect::Postgres),
        "");
    const sql::EditedObject late{.object = {.schema = "texts", .name = "tree"}, .trigger = "late"};
    EXPECT_EQ(apply(line, late,
                    "CREATE CONSTRAINT TRIGGER late AFTER INSERT ON texts.tree DEFERRABLE FOR EACH ROW EXECUTE "
                    "FUNCTION texts.seen()",
                    "x", false, Dialect::Postgres),
              "");
    EXPECT_THAT(line.rows("SELECT tgname, tgtype FROM pg_trigger WHERE tgrelid = 'texts.tree'::regclass ORDER BY 1"),
                ElementsAre("late|5", "watch|17"));
}

TEST(EditedTextOnServersTest, MariaDbReplaces) {
    Line line(test::profileFor(test::sharedMariaDb()));
    ASSERT_EQ(
        test::runScript(
            line,
            "DROP DATABASE IF EXISTS texts; CREATE DATABASE texts; CREATE TABLE texts.tree (id int, name varchar(20));"
            "CREATE VIEW texts.old AS SELECT id FROM texts.tree;"
            "CREATE PROCEDURE texts.tidy(IN n int) BEGIN SELECT n; END;"
            "CREATE TRIGGER texts.watch BEFORE UPDATE ON texts.tree FOR EACH ROW SET NEW.name = 'x';"
            "CREATE EVENT texts.daily ON SCHEDULE EVERY 1 DAY DISABLE DO SELECT 1;",
            Dialect::MySql),
        "");
    const auto edited = [](catalog::ObjectKind kind, const char* name, const char* trigger = "") {
        return sql::EditedObject{.object = {.kind = kind, .schema = "texts", .name = name}, .trigger = trigger};
    };
    using catalog::ObjectKind;
    EXPECT_EQ(apply(line, edited(ObjectKind::View, "old"),
                    "CREATE ALGORITHM=MERGE VIEW texts.old AS SELECT name FROM texts.tree", "x", false, Dialect::MySql),
              "");
    EXPECT_EQ(apply(line, edited(ObjectKind::Procedure, "tidy"),
                    "CREATE PROCEDURE texts.tidy(IN n int)\nBEGIN\n  SELECT n;\n  SELECT n + 1;\nEND", "x", false,
                    Dialect::MySql),
              "");
    EXPECT_EQ(apply(line, edited(ObjectKind::Table, "tree", "watch"),
                    "CREATE TRIGGER texts.watch BEFORE UPDATE ON texts.tree FOR EACH ROW SET NEW.name = 'y';", "x",
                    false, Dialect::MySql),
              "");
    EXPECT_EQ(apply(line, edited(ObjectKind::Event, "daily"),
                    "CREATE EVENT texts.daily ON SCHEDULE EVERY 2 DAY DISABLE DO SELECT 2", "x", false, Dialect::MySql),
              "");
    EXPECT_THAT(line.rows("SELECT interval_value FROM information_schema.events WHERE event_schema = 'texts'"),
                ElementsAre("2"));
}

}  // namespace
}  // namespace pantry::db
