// Definitions as they are read from real servers: run on an empty database, they make the same objects again.
#include <gmock/gmock.h>

#include <deque>
#include <future>

#include "core/db/script_bench.h"
#include "core/db/served_objects.h"

namespace pantry::db {
namespace {

using test::catalogOf;
using test::kLetters63;
using test::kLetters64;
using test::kMariaDbObjects;
using test::kPostgresObjects;
using test::Line;
using test::runScript;

/// Everything that is in a database, with the statements that make it.
struct Described {
    catalog::ObjectName name;
    catalog::Definition definition;
};

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

TEST(PostgresDefinitionsTest, WhatTheyMakeIsDefinedByTheSameTextAgain) {
    const auto& server = test::sharedPostgres();
    Line admin(test::profileFor(server));
    (void)admin.run("CREATE ROLE gardener");  // it may be there, with rights in databases of other tests
    for (const char* sql : {"DROP DATABASE IF EXISTS first_one", "DROP DATABASE IF EXISTS second_one",
                            "CREATE DATABASE first_one", "CREATE DATABASE second_one"}) {
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
