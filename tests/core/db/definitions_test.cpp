// Definitions as they are read from real servers: run on an empty database, they make the same objects again.
#include <gmock/gmock.h>

#include <deque>
#include <future>

#include "core/db/engine_bench.h"
#include "core/sql/syntax/splitter.h"

namespace pantry::db {
namespace {

using test::Line;

/// Everything that is in a database, with the statements that make it.
struct Described {
    catalog::ObjectName name;
    catalog::Definition definition;
};

catalog::CatalogPtr catalogOf(Line& line) {
    std::promise<Result<catalog::CatalogPtr>> promise;
    line->loadCatalog({}, [&](Result<catalog::CatalogPtr> c) { promise.set_value(std::move(c)); });
    auto catalog = promise.get_future().get();
    EXPECT_TRUE(catalog) << catalog.error().text();
    return catalog.value_or(std::make_shared<const catalog::Catalog>());
}

Result<catalog::Definition> definitionOf(Line& line, const catalog::ObjectName& name) {
    std::promise<Result<catalog::Definition>> promise;
    line->readDefinition(name, [&](Result<catalog::Definition> d) { promise.set_value(std::move(d)); });
    return promise.get_future().get();
}

/// What a table's definition makes along with it is no object to make by itself.
bool isMadeWithItsTable(const catalog::Object& object) {
    return object.kind == catalog::ObjectKind::Sequence && object.detail.starts_with("of ");
}

std::vector<Described> describe(Line& line) {
    std::vector<catalog::ObjectName> names;
    const catalog::CatalogPtr catalog = catalogOf(line);
    for (const catalog::SchemaPtr& schema : catalog->schemas()) {
        EXPECT_EQ(schema->problem, "");
        for (const catalog::Object& o : schema->objects) {
            if (!isMadeWithItsTable(o)) names.push_back({o.kind, o.schema, o.name, o.signature});
        }
        for (const catalog::Relation& r : schema->relations) names.push_back({r.kind, r.schema, r.name, {}});
    }
    std::vector<Described> all;
    for (const catalog::ObjectName& name : names) {
        auto definition = definitionOf(line, name);
        EXPECT_TRUE(definition) << name.name << ": " << definition.error().text();
        if (definition) all.push_back({name, std::move(*definition)});
    }
    return all;
}

/// Runs a script statement by statement; the message of the first that fails.
std::string runScript(Line& line, const std::string& script, sql::Dialect dialect) {
    for (const sql::StatementSpan& span : sql::splitStatements(script, dialect)) {
        const std::string statement = script.substr(span.start, span.length);
        if (const auto error = line.run(statement)->error()) return statement + "\n  → " + error->text();
    }
    return {};
}

/// Makes everything again. What stands on something that is not there yet waits for the next round, so that the order
/// is that of the dependencies.
void rebuild(Line& line, const std::vector<Described>& all, sql::Dialect dialect) {
    std::deque<const Described*> waiting;
    for (const Described& d : all) waiting.push_back(&d);
    std::string lastProblem;
    for (std::size_t failedInARow = 0; !waiting.empty() && failedInARow < waiting.size();) {
        const Described* next = waiting.front();
        waiting.pop_front();
        line.run("BEGIN");
        const std::string problem = runScript(line, next->definition.text, dialect);
        line.run(problem.empty() ? "COMMIT" : "ROLLBACK");
        failedInARow = problem.empty() ? 0 : failedInARow + 1;
        if (!problem.empty()) {
            waiting.push_back(next);
            lastProblem = problem;
        }
    }
    EXPECT_TRUE(waiting.empty()) << waiting.size() << " could not be made, such as " << waiting.front()->name.name
                                 << "\n"
                                 << lastProblem;
    for (const Described& d : all) EXPECT_EQ(runScript(line, d.definition.links, dialect), "");
}

void expectTheSame(const std::vector<Described>& before, const std::vector<Described>& after) {
    EXPECT_EQ(before.size(), after.size());
    for (const Described& b : before) {
        const auto found = std::ranges::find(after, b.name, &Described::name);
        if (found == after.end()) {
            ADD_FAILURE() << b.name.name << " is missing";
            continue;
        }
        EXPECT_EQ(found->definition.text, b.definition.text);
        EXPECT_EQ(found->definition.links, b.definition.links);
    }
}

const std::string kLetters63 = std::string(62, 'n') + "x";
const std::string kLetters64 = std::string(63, 'n') + "y";

/// One of every kind, with everything that can hang on it, and names that need quotes.
const char* const kPostgresObjects = R"sql(
CREATE SCHEMA orchard;
CREATE SCHEMA "Odd ""Schema"".1";
CREATE TYPE orchard.ripeness AS ENUM ('hard', 'it''s ripe', 'soft');
CREATE TYPE orchard.place AS (x numeric(8, 3), y numeric(8, 3), note text COLLATE "C");
COMMENT ON COLUMN orchard.place.x IS 'metres east';
CREATE DOMAIN orchard.sugar AS numeric(4, 1) DEFAULT 12.5 NOT NULL CONSTRAINT sensible CHECK (VALUE BETWEEN 0 AND 40);
COMMENT ON DOMAIN orchard.sugar IS 'degrees';
ALTER DOMAIN orchard.sugar ADD CONSTRAINT later CHECK (VALUE <> 13) NOT VALID;
CREATE TYPE orchard.span AS RANGE (SUBTYPE = numeric);
GRANT USAGE ON TYPE orchard.span TO gardener WITH GRANT OPTION;
REVOKE USAGE ON TYPE orchard.ripeness FROM PUBLIC;
CREATE SEQUENCE orchard.ticket AS integer INCREMENT BY 5 MINVALUE 10 MAXVALUE 1000 START WITH 20 CACHE 4 CYCLE;
COMMENT ON SEQUENCE orchard.ticket IS 'numbers at the gate';
GRANT USAGE ON SEQUENCE orchard.ticket TO gardener;
CREATE FUNCTION orchard.doubled(n integer, times integer DEFAULT 2) RETURNS integer LANGUAGE sql IMMUTABLE STRICT AS 'SELECT $1 * $2';
COMMENT ON FUNCTION orchard.doubled(integer, integer) IS 'it''s twice';
CREATE FUNCTION orchard.doubled(t text) RETURNS text LANGUAGE sql AS $$ SELECT t || ';' || t $$;
REVOKE EXECUTE ON FUNCTION orchard.doubled(text) FROM PUBLIC;
CREATE FUNCTION orchard.noted() RETURNS trigger LANGUAGE plpgsql AS $body$ BEGIN NEW.note := 'seen; ' || now(); RETURN NEW; END $body$;
CREATE PROCEDURE orchard.tidy(IN days integer, INOUT gone integer) LANGUAGE plpgsql AS $$ BEGIN gone := days; END $$;
CREATE AGGREGATE orchard.total(numeric) (SFUNC = numeric_add, STYPE = numeric, INITCOND = '0', PARALLEL = SAFE);
CREATE TABLE orchard.warden (warden_id integer GENERATED BY DEFAULT AS IDENTITY (START WITH 7 INCREMENT BY 2), name text NOT NULL,
  CONSTRAINT warden_pk PRIMARY KEY (warden_id) WITH (fillfactor = 80));
CREATE TABLE orchard.plot (plot_id serial PRIMARY KEY, name varchar(40) COLLATE "C" NOT NULL DEFAULT 'it''s new',
  area numeric(6, 2) CHECK (area > 0), twice numeric GENERATED ALWAYS AS (area * 2) STORED, ripe orchard.ripeness DEFAULT 'hard',
  sugar orchard.sugar, spots orchard.place[], tags text[] DEFAULT '{}', note text, warden_id integer REFERENCES orchard.warden ON DELETE SET NULL,
  during tsrange, CONSTRAINT plot_name UNIQUE (name, area) DEFERRABLE INITIALLY DEFERRED,
  CONSTRAINT no_overlap EXCLUDE USING gist (during WITH &&)) WITH (fillfactor = 70, autovacuum_enabled = false);
ALTER TABLE orchard.warden ADD COLUMN first_plot integer CONSTRAINT back REFERENCES orchard.plot (plot_id) DEFERRABLE;
COMMENT ON CONSTRAINT back ON orchard.warden IS 'both ways';
ALTER TABLE orchard.plot ADD CONSTRAINT not_yet CHECK (note <> 'x') NOT VALID;
ALTER TABLE orchard.plot ALTER COLUMN note SET STORAGE EXTERNAL;
ALTER TABLE orchard.plot ALTER COLUMN area SET STATISTICS 300;
ALTER TABLE orchard.plot ALTER COLUMN name SET (n_distinct = -0.5);
CREATE INDEX plot_lower ON orchard.plot (lower(name) DESC NULLS LAST) INCLUDE (area) WHERE area > 1;
CREATE UNIQUE INDEX plot_ident ON orchard.plot (plot_id, name);
ALTER TABLE orchard.plot REPLICA IDENTITY USING INDEX plot_ident;
ALTER TABLE orchard.plot CLUSTER ON plot_ident;
CREATE STATISTICS orchard.plot_stats (dependencies, ndistinct) ON name, area FROM orchard.plot;
COMMENT ON TABLE orchard.plot IS 'A piece of land; "quoted" and it''s fine \ too';
COMMENT ON COLUMN orchard.plot.name IS E'line one\nline two';
COMMENT ON CONSTRAINT plot_name ON orchard.plot IS 'a pair';
COMMENT ON INDEX orchard.plot_lower IS 'for finding';
CREATE TRIGGER note_it BEFORE INSERT OR UPDATE OF name ON orchard.plot FOR EACH ROW WHEN (NEW.area > 3) EXECUTE FUNCTION orchard.noted();
COMMENT ON TRIGGER note_it ON orchard.plot IS 'notes';
CREATE TRIGGER off_it AFTER DELETE ON orchard.plot FOR EACH STATEMENT EXECUTE FUNCTION orchard.noted();
ALTER TABLE orchard.plot DISABLE TRIGGER off_it;
ALTER TABLE orchard.plot ENABLE ROW LEVEL SECURITY;
ALTER TABLE orchard.plot FORCE ROW LEVEL SECURITY;
CREATE POLICY own_plots ON orchard.plot AS RESTRICTIVE FOR UPDATE TO gardener USING (name <> 'x') WITH CHECK (area < 100);
CREATE POLICY all_see ON orchard.plot FOR SELECT USING (true);
GRANT SELECT, UPDATE ON orchard.plot TO gardener;
GRANT INSERT ON orchard.plot TO gardener WITH GRANT OPTION;
GRANT SELECT ON orchard.plot TO PUBLIC;
GRANT UPDATE (name) ON orchard.warden TO gardener;
ALTER TABLE orchard.warden OWNER TO gardener;
CREATE RULE no_drop AS ON DELETE TO orchard.warden WHERE OLD.name = 'Ida' DO INSTEAD NOTHING;
CREATE TABLE orchard.reading (at timestamptz NOT NULL, probe integer NOT NULL, value real DEFAULT 0, PRIMARY KEY (at, probe)) PARTITION BY RANGE (at);
CREATE INDEX reading_probe ON orchard.reading (probe);
CREATE TABLE orchard.reading_2026 PARTITION OF orchard.reading FOR VALUES FROM ('2026-01-01 00:00+00') TO ('2027-01-01 00:00+00');
CREATE TABLE orchard.reading_rest PARTITION OF orchard.reading (CONSTRAINT small CHECK (value < 100)) DEFAULT PARTITION BY HASH (probe);
CREATE TABLE orchard.reading_rest_0 PARTITION OF orchard.reading_rest FOR VALUES WITH (MODULUS 1, REMAINDER 0);
ALTER TABLE orchard.reading_2026 ALTER COLUMN value SET DEFAULT 7;
CREATE INDEX only_here ON orchard.reading_2026 (value);
CREATE TRIGGER on_all AFTER INSERT ON orchard.reading FOR EACH ROW EXECUTE FUNCTION orchard.noted();
CREATE TABLE orchard.living (name text, born date DEFAULT '2020-01-01');
CREATE TABLE orchard.tree (height real) INHERITS (orchard.living);
ALTER TABLE orchard.tree ALTER COLUMN born SET DEFAULT '2021-02-03';
ALTER TABLE orchard.tree ALTER COLUMN name SET NOT NULL;
CREATE UNLOGGED TABLE orchard.scratch (a integer, b jsonb DEFAULT '{"a": [1, 2]}');
CREATE TABLE orchard.typed OF orchard.place (x WITH OPTIONS NOT NULL);
CREATE TABLE orchard.nothing ();
CREATE VIEW orchard.large_plot WITH (security_barrier = true) AS SELECT p.plot_id, upper(p.name) AS "Upper Name" FROM orchard.plot p WHERE p.area > 10 WITH LOCAL CHECK OPTION;
COMMENT ON VIEW orchard.large_plot IS 'big ones';
GRANT SELECT ON orchard.large_plot TO gardener;
CREATE MATERIALIZED VIEW orchard.plot_count AS SELECT warden_id, count(*) AS n FROM orchard.plot GROUP BY warden_id WITH NO DATA;
CREATE UNIQUE INDEX plot_count_warden ON orchard.plot_count (warden_id);
CREATE TABLE "Odd ""Schema"".1"."Sel.ect ""it""" ("Group" integer PRIMARY KEY, "ä ß" text DEFAULT 'é', "a.b" integer, "select" text,
  CONSTRAINT "Un''ique!" UNIQUE ("a.b", "select"));
CREATE TABLE "Odd ""Schema"".1"."table" (n integer REFERENCES "Odd ""Schema"".1"."Sel.ect ""it""" ("Group") MATCH FULL ON UPDATE CASCADE);
CREATE FUNCTION "Odd ""Schema"".1"."Do It"("My Arg" text) RETURNS TABLE ("Out Col" text) LANGUAGE sql AS $$ SELECT $1 $$;
CREATE SEQUENCE "Odd ""Schema"".1"."Seq.1";
CREATE TYPE "Odd ""Schema"".1"."Type One" AS ENUM ();
)sql";

TEST(PostgresDefinitionsTest, WhatTheyMakeIsDefinedByTheSameTextAgain) {
    const auto& server = test::sharedPostgres();
    Line admin(test::profileFor(server));
    for (const char* sql :
         {"DROP DATABASE IF EXISTS first_one", "DROP DATABASE IF EXISTS second_one", "DROP ROLE IF EXISTS gardener",
          "CREATE ROLE gardener", "CREATE DATABASE first_one", "CREATE DATABASE second_one"}) {
        ASSERT_FALSE(admin.run(sql)->error()) << sql;
    }
    Line first(test::profileFor(server, "first_one"));
    ASSERT_EQ(runScript(first, kPostgresObjects, sql::Dialect::Postgres), "");
    ASSERT_EQ(runScript(first, "CREATE TABLE orchard." + kLetters63 + " (n integer)", sql::Dialect::Postgres), "");
    const auto before = describe(first);
    EXPECT_EQ(before.size(), 29U);

    Line second(test::profileFor(server, "second_one"));
    for (const char* sql :
         {"CREATE SCHEMA orchard", "CREATE SCHEMA \"Odd \"\"Schema\"\".1\"", "SET check_function_bodies = off"}) {
        ASSERT_FALSE(second.run(sql)->error()) << sql;
    }
    rebuild(second, before, sql::Dialect::Postgres);
    expectTheSame(before, describe(second));
}

TEST(PostgresDefinitionsTest, WhatIsNotThereIsSaid) {
    Line line(test::profileFor(test::sharedPostgres()));
    const auto definition = definitionOf(line, {.schema = "public", .name = "no such table"});
    ASSERT_FALSE(definition);
    EXPECT_EQ(definition.error().kind, ErrorKind::NotFound);
    EXPECT_THAT(definition.error().message, testing::HasSubstr("no such table"));
}

TEST(PostgresDefinitionsTest, ReadingThemLeavesTheSearchPathAsItWas) {
    Line line(test::profileFor(test::sharedPostgres()));
    line.run("SET search_path TO pg_temp, public");
    (void)definitionOf(line, {.kind = catalog::ObjectKind::View, .schema = "information_schema", .name = "tables"});
    EXPECT_THAT(line.rows("SHOW search_path"), testing::ElementsAre("pg_temp, public"));
}

const char* const kMariaDbObjects = R"sql(
CREATE TABLE warden (warden_id int AUTO_INCREMENT PRIMARY KEY, name varchar(60) NOT NULL) AUTO_INCREMENT = 70 COMMENT = 'it''s people';
CREATE TABLE `plot` (plot_id int unsigned NOT NULL AUTO_INCREMENT, name varchar(40) CHARACTER SET latin1 NOT NULL DEFAULT 'it''s new',
  area decimal(6,2) CHECK (area > 0), twice decimal(8,2) GENERATED ALWAYS AS (area * 2) VIRTUAL, kind enum('a','it''s') DEFAULT 'a',
  marks set('x','y'), note text COMMENT 'free; text', data longtext CHECK (json_valid(data)), changed timestamp DEFAULT current_timestamp() ON UPDATE current_timestamp(),
  warden_id int, PRIMARY KEY (plot_id), UNIQUE KEY by_name (name, area), KEY part (note(20)), FULLTEXT KEY words (note),
  CONSTRAINT plot_warden FOREIGN KEY (warden_id) REFERENCES warden (warden_id) ON DELETE SET NULL, CONSTRAINT sane CHECK (area < 1000));
CREATE TABLE reading (at date NOT NULL, n int) PARTITION BY RANGE (year(at)) (PARTITION p0 VALUES LESS THAN (2026), PARTITION p1 VALUES LESS THAN MAXVALUE);
CREATE TABLE `Od``d "table". select` (`Group` int PRIMARY KEY, `ä ß` text, `a.b` int);
CREATE VIEW large_plot AS SELECT plot_id, upper(name) AS `Upper Name` FROM plot WHERE area > 10 WITH CASCADED CHECK OPTION;
CREATE SEQUENCE ticket START WITH 20 INCREMENT BY 5 MINVALUE 10 MAXVALUE 1000 CYCLE;
CREATE FUNCTION doubled(n int) RETURNS int DETERMINISTIC COMMENT 'it''s twice' RETURN n * 2;
CREATE PROCEDURE tidy(IN days int, OUT gone int) BEGIN DECLARE x int DEFAULT 1; SET gone = days + x; SELECT 'a; b'; END;
CREATE TRIGGER note_it BEFORE INSERT ON plot FOR EACH ROW BEGIN SET NEW.note = concat('seen; ', NEW.note); END;
CREATE EVENT nightly ON SCHEDULE EVERY 1 DAY STARTS '2030-01-01 00:00:00' DISABLE COMMENT 'tidies' DO DELETE FROM reading WHERE n < 0;
)sql";

TEST(MariaDbDefinitionsTest, WhatTheyMakeIsDefinedByTheSameTextAgain) {
    const auto& server = test::sharedMariaDb();
    Line admin(test::profileFor(server));
    for (const char* sql : {"DROP DATABASE IF EXISTS orchard_a", "DROP DATABASE IF EXISTS orchard_b",
                            "CREATE DATABASE orchard_a", "CREATE DATABASE orchard_b"}) {
        ASSERT_FALSE(admin.run(sql)->error()) << sql;
    }
    Line first(test::profileFor(server, "orchard_a"));
    ASSERT_EQ(runScript(first, kMariaDbObjects, sql::Dialect::MySql), "");
    ASSERT_EQ(runScript(first, "CREATE TABLE " + kLetters64 + " (n int)", sql::Dialect::MySql), "");
    const auto in = [](std::vector<Described> all, const std::string& schema) {
        std::erase_if(all, [&](const Described& d) { return d.name.schema != schema; });
        for (Described& d : all) d.name.schema.clear();
        return all;
    };
    const auto before = in(describe(first), "orchard_a");
    EXPECT_EQ(before.size(), 10U);

    Line second(test::profileFor(server, "orchard_b"));
    rebuild(second, before, sql::Dialect::MySql);
    auto after = in(describe(second), "orchard_b");
    for (Described& d : after) {  // a view names the database of its tables
        for (std::size_t at = d.definition.text.find("orchard_b"); at != std::string::npos;
             at = d.definition.text.find("orchard_b", at)) {
            d.definition.text.replace(at, 9, "orchard_a");
        }
    }
    expectTheSame(before, after);
}

}  // namespace
}  // namespace pantry::db
