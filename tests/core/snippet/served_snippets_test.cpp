// Each snippet that comes with the program runs on its engine as it is offered there.
#include <fmt/format.h>
#include <gmock/gmock.h>

#include <fstream>

#include "core/db/engine_bench.h"
#include "core/snippet/built_in.h"
#include "core/snippet/snippets.h"
#include "support/temporary_folder.h"

namespace pantry::snippet {
namespace {

using db::Engine;
using test::Line;

/// What somebody would write into the places, by snippet where it matters.
std::map<std::string, std::string> valuesFor(const std::string& trigger) {
    std::map<std::string, std::string> values{{"table", "plot"},       {"other", "shed"},       {"column", "name"},
                                              {"key", "plot_id"},      {"parent", "parent_id"}, {"group", "name"},
                                              {"order", "planted_on"}, {"number", "hectares"},  {"link", "plot_id"},
                                              {"date", "planted_on"},  {"view", "plots_seen"}};
    if (trigger == "newtable") values["table"] = "orchard_log";
    if (trigger == "addcolumn") values["column"] = "note";
    if (trigger == "foreignkey") values["column"] = "shed_id", values["key"] = "shed_id";
    if (trigger == "islands" || trigger == "gaps") values["number"] = "plot_id";
    return values;
}

catalog::View fields() {
    return catalog::View({{.schema = "main",
                           .name = "plot",
                           .columns = {{"plot_id", "int"},
                                       {"name", "text"},
                                       {"parent_id", "int"},
                                       {"hectares", "numeric"},
                                       {"planted_on", "date"}}}},
                         {"main"});
}

class ServedSnippetsTest : public testing::TestWithParam<Engine> {
protected:
    [[nodiscard]] db::ConnectionProfile profile() const {
        if (GetParam() == Engine::Sqlite)
            return {.engine = Engine::Sqlite, .database = (folder_ / "plots.db").string()};
        if (GetParam() == Engine::Postgres) return test::profileFor(test::sharedPostgres());
        db::ConnectionProfile p = test::profileFor(test::sharedMariaDb());
        p.database = "snippets";
        return p;
    }
    void SetUp() override {
        if (GetParam() == Engine::Postgres) {
            ASSERT_EQ(test::sharedPostgres().startup(), "");
        }
        if (GetParam() == Engine::Sqlite) std::ofstream(folder_ / "plots.db").flush();
        if (GetParam() != Engine::MariaDb) return;
        ASSERT_EQ(test::sharedMariaDb().startup(), "");
        Line(test::profileFor(test::sharedMariaDb())).run("CREATE DATABASE IF NOT EXISTS snippets");
    }
    void makeFresh(Line& line) const {
        for (const char* drop : {"DROP VIEW IF EXISTS plots_seen", "DROP TABLE IF EXISTS orchard_log",
                                 "DROP TABLE IF EXISTS plot", "DROP TABLE IF EXISTS shed"}) {
            line.run(drop);
        }
        line.run("CREATE TABLE shed (shed_id int PRIMARY KEY, plot_id int)");
        // SQLite makes the column with its key; elsewhere it is there.
        line.run(
            fmt::format("CREATE TABLE plot (plot_id int PRIMARY KEY, name varchar(40), parent_id int, hectares "
                        "decimal(6,2), planted_on date{})",
                        GetParam() == Engine::Sqlite ? "" : ", shed_id int"));
        line.run(
            "INSERT INTO plot (plot_id, name, parent_id, hectares, planted_on) VALUES (1, 'a', NULL, 1.5, "
            "'2026-01-01'), (2, 'a', 1, 2, '2026-01-03'), (4, 'b', 1, 3, '2026-02-01')");
    }
    test::TemporaryFolder folder_;
};

TEST_P(ServedSnippetsTest, EachRunsAsItIsOffered) {
    const sql::Dialect dialect = db::dialectOf(GetParam());
    const sql::ParameterValues row{{"plot_id", "2"},
                                   {"name", "c"},
                                   {"parent_id", std::nullopt},
                                   {"hectares", "1.25"},
                                   {"planted_on", "2026-03-01"}};
    const sql::ParameterValues newRow{{"plot_id", "9"},
                                      {"name", "c"},
                                      {"parent_id", std::nullopt},
                                      {"hectares", "1.25"},
                                      {"planted_on", "2026-03-01"}};
    Line line(profile());
    for (const Snippet& one : offeredIn(dialect, {})) {
        makeFresh(line);
        const auto parsed = parseTemplate(one.text);
        ASSERT_TRUE(parsed) << one.trigger;
        const Rendered out = render(*parsed, valuesFor(one.trigger), columnsIn(fields(), dialect));
        for (const Place& place : out.places) EXPECT_TRUE(place.isFilled) << one.trigger << ": " << place.name;
        const bool isInsert = one.trigger == "insertrow";
        const bool asks = out.text.find(":plot_id") != std::string::npos;
        const auto run = line.run(out.text, asks ? (isInsert ? newRow : row) : sql::ParameterValues());
        EXPECT_FALSE(run->error()) << one.trigger << "\n"
                                   << out.text << "\n"
                                   << (run->error() ? run->error()->text() : "");
    }
}

INSTANTIATE_TEST_SUITE_P(All, ServedSnippetsTest, testing::Values(Engine::Sqlite, Engine::Postgres, Engine::MariaDb),
                         [](const auto& of) { return std::string(db::engineWord(of.param)); });

}  // namespace
}  // namespace pantry::snippet
