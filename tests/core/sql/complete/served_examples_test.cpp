// What the examples of functions promise is what the engines say.
#include <fmt/format.h>
#include <gmock/gmock.h>

#include "core/base/text.h"
#include "core/db/engine_bench.h"
#include "core/sql/complete/function_examples.h"
#include "core/sql/complete/function_names.h"

namespace pantry::sql {
namespace {

using test::Line;

void expectTrue(db::ConnectionProfile profile, Dialect dialect) {
    Line line(std::move(profile));
    ASSERT_GT(functionExamples(dialect).size(), 20U);
    for (const FunctionExample& one : functionExamples(dialect)) {
        const auto run = line.run(fmt::format("SELECT {}", one.call));
        ASSERT_FALSE(run->error()) << one.call << ": " << run->error()->text();
        const data::Cell cell = run->result()->cell(0, 0);
        EXPECT_EQ(cell.isNull() ? "NULL" : data::toText(cell), one.result) << one.call;
        const bool isKnown = std::ranges::any_of(
            functionsOf(dialect), [&](const FunctionFact& f) { return base::equalsIgnoringCase(f.name, one.name); });
        EXPECT_TRUE(isKnown) << one.name << " is never offered";
        EXPECT_EQ(exampleOf(one.name, dialect), &one) << "twice";
    }
}

TEST(ServedExamplesTest, SqliteGivesWhatIsPromised) {
    expectTrue({.engine = db::Engine::Sqlite, .database = ":memory:"}, Dialect::Sqlite);
}

TEST(ServedExamplesTest, PostgresGivesWhatIsPromised) {
    ASSERT_EQ(test::sharedPostgres().startup(), "");
    expectTrue(test::profileFor(test::sharedPostgres()), Dialect::Postgres);
}

TEST(ServedExamplesTest, MariaDbGivesWhatIsPromised) {
    ASSERT_EQ(test::sharedMariaDb().startup(), "");
    expectTrue(test::profileFor(test::sharedMariaDb()), Dialect::MySql);
}

}  // namespace
}  // namespace pantry::sql
