// Exports from real servers, and what was exported put back into them.
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "core/data/view/result_view.h"
#include "core/db/engine_bench.h"
#include "core/exchange/row_export.h"
#include "core/sql/syntax/splitter.h"
#include "core/sql/text/lexer.h"
#include "support/sqlite_file.h"
#include "support/temporary_folder.h"

namespace pantry::exchange {
namespace {

using test::Line;
using testing::HasSubstr;

struct Served {
    std::string name;
    db::Engine engine;
    std::string awkwardTable;  ///< statements that make “old plot” with awkward values of every type
};

void PrintTo(const Served& served, std::ostream* out) { *out << served.name; }

const std::vector<Served> kEngines{{"Postgres", db::Engine::Postgres, R"(
CREATE TABLE "old plot" (id bigint, "Paid, in all" numeric(30,4), words text, code char(6), facts jsonb, raw json,
    bytes bytea, ok boolean, day date, moment timestamptz, span interval, list int[], names text[], bits varbit(8),
    at time with time zone, one uuid, place point, ratio float8, little real, net inet);
INSERT INTO "old plot" VALUES
 (9223372036854775807, 12345678901234567890.1234, E'a,b;\t"c" ''d'' \\e \\N | <f> & g\r\nh', 'ab', '{"b": [1.10, null]}',
  '{"a" :  "\\"}', '\x00ff0a275c', true, '2026-11-17', '2026-11-17 08:30:15.123456+02', '1 year 2 mons -3 days 04:05:06',
  '{1,NULL,3}', '{"a,b","c\"d",NULL,"e\\f"}', B'0101', '08:30:00+02', '6f2b1f6e-3f43-4a0c-9d7b-5f4c1b7f0a11', '(1,2)',
  0.1, 0.3, '10.0.0.0/8'),
 (-1, 'NaN', '', '', '[]', 'null', '', false, 'infinity', '-infinity', '0', '{}', '{}', B'', '00:00+00',
  '00000000-0000-0000-0000-000000000000', '(0,0)', 'Infinity', '-Infinity', '::1'),
 (0, -0.5, E'\x01 🍏 Äpfel -- ]]> ${x} \b\f\v', E'\t', '"x"', '"\u00e4"', '\xff', NULL, '0044-03-15 BC', NULL, NULL, NULL,
  NULL, NULL, NULL, NULL, NULL, 'NaN', 1e-30, NULL),
 (NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL))"},
                                   {"MariaDb", db::Engine::MariaDb, R"(
CREATE TABLE `old plot` (id bigint unsigned, `Paid, in all` decimal(30,4), words longtext, code char(6), facts json,
    bytes longblob, ok boolean, day date, moment datetime(6), stamp timestamp NULL, span time(2), kinds set('a','b'),
    kind enum('it''s','x'), bits bit(8), year_ year, ratio double, little float);
INSERT INTO `old plot` VALUES
 (18446744073709551615, 12345678901234567890.1234, 'a,b;	"c" ''d'' \\e \\N | <f> & g\r\nh', 'ab', '{"b": [1.10, null]}',
  x'00ff0a275c', true, '2026-11-17', '2026-11-17 08:30:15.123456', '2026-11-17 08:30:15', '-838:59:59', 'a,b', 'it''s',
  b'00000101', 2026, 0.1, 0.25),
 (0, -0.5, '', '', '[]', '', false, '0001-01-01', '1000-01-01', NULL, '00:00:00', '', 'x', b'0', 1901, 1e300, -1e30),
 (1, 0, '🍏 Äpfel -- ]]> ${x} %_', ' x', '"x"', x'ff', NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL),
 (NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL))"},
                                   {"Sqlite", db::Engine::Sqlite, R"(
CREATE TABLE "old plot" (id integer, "Paid, in all" numeric, words text, bytes blob, ok boolean, ratio real, any_);
INSERT INTO "old plot" VALUES
 (9223372036854775807, 12345678901234567890, 'a,b;	"c" ''d'' \e \N | <f> & g' || char(13, 10) || 'h', x'00ff0a275c', 1, 0.1, 'x'),
 (-1, 'NaN', '', x'', 0, 9e999, 1),
 (0, -0.5, '🍏 Äpfel -- ]]> ${x}', x'ff', NULL, -1e-300, 1.5),
 (NULL, NULL, NULL, NULL, NULL, NULL, x'00'))"}};

class ServedExportTest : public testing::TestWithParam<Served> {
protected:
    void SetUp() override {
        ASSERT_EQ(test::sharedPostgres().startup(), "");
        ASSERT_EQ(test::sharedMariaDb().startup(), "");
        if (GetParam().engine == db::Engine::MariaDb)
            Line(plainProfile()).run("CREATE DATABASE IF NOT EXISTS exports CHARACTER SET utf8mb4");
        if (GetParam().engine == db::Engine::Sqlite) test::writeFile(folder_ / "plots.db", "");
        Line line(profile());
        const std::string script = "DROP TABLE IF EXISTS " + old() + ";\nDROP TABLE IF EXISTS " + fresh() + ";\n";
        runScript(line, script + GetParam().awkwardTable);
    }
    [[nodiscard]] db::ConnectionProfile plainProfile() const {
        switch (GetParam().engine) {
            case db::Engine::Postgres: return test::profileFor(test::sharedPostgres());
            case db::Engine::MariaDb: return test::profileFor(test::sharedMariaDb());
            default: return test::profileOf((folder_ / "plots.db").string());
        }
    }
    [[nodiscard]] db::ConnectionProfile profile() const {
        db::ConnectionProfile p = plainProfile();
        if (GetParam().engine == db::Engine::MariaDb) p.database = "exports";
        return p;
    }
    [[nodiscard]] sql::Dialect dialect() const { return db::dialectOf(GetParam().engine); }
    [[nodiscard]] std::string old() const { return sql::quotedName("old plot", dialect()); }
    [[nodiscard]] std::string fresh() const { return sql::quotedName("new plot", dialect()); }

    void runScript(Line& line, const std::string& script) const {
        for (const sql::StatementSpan& span : sql::splitStatements(script, dialect())) {
            const auto run = line.run(script.substr(span.start, span.length));
            ASSERT_FALSE(run->error()) << run->error()->text() << "\n" << script.substr(span.start, span.length);
        }
    }

    /// Streams a query to a file and gives back what is in it.
    std::string exported(const std::string& query, ExportChoices choices) {
        auto out = std::make_shared<RowExport>(std::move(choices), std::make_unique<FileTarget>(folder_ / "out"));
        auto run = std::make_shared<test::RunRecorder>();
        db::Session session(profile(), std::nullopt);
        session.execute(
            {.statement = query, .pageRows = std::nullopt, .consumer = std::make_shared<ExportConsumer>(out)}, run);
        run->waitForEnd();
        EXPECT_FALSE(run->error()) << run->error()->text();
        EXPECT_TRUE(out->finish());
        return test::contentOf(folder_ / "out");
    }

    const test::TemporaryFolder folder_;
};

TEST_P(ServedExportTest, AStreamHoldsTheSameValuesAsTheResult) {
    Line line(profile());
    const auto run = line.run("SELECT * FROM " + old() + " -- all of them");
    for (const Format format : {Format::Csv, Format::Json, Format::Insert}) {
        const ExportChoices choices{.format = format, .forms = {.insert = {.dialect = dialect()}}};
        const std::string streamed = exported("SELECT * FROM " + old() + " -- all of them", choices);
        RowExport whole(choices, std::make_unique<FileTarget>(folder_ / "whole"));
        ASSERT_TRUE(exportView(data::ResultView(run->result()), nullptr, whole, {}, [](std::size_t) {}));
        EXPECT_EQ(streamed, test::contentOf(folder_ / "whole"));
    }
}

TEST_P(ServedExportTest, InsertsMakeTheSameRowsAgain) {
    ExportChoices choices{.format = Format::Insert};
    choices.forms.insert = {.dialect = dialect(), .table = "new plot", .batchRows = 3, .hasCreateTable = true};
    const std::string script = exported("SELECT * FROM " + old(), choices);
    Line line(profile());
    runScript(line, script);
    const auto before = line.rows("SELECT * FROM " + old());
    EXPECT_EQ(before.size(), 4U);
    EXPECT_EQ(line.rows("SELECT * FROM " + fresh()), before) << script;
}

TEST_P(ServedExportTest, ValuesListsAreRowsAgain) {
    Line line(profile());
    const auto run = line.run("SELECT id, words FROM " + old() + " WHERE id IS NOT NULL");
    const data::ResultView view(run->result());
    const std::string list = valuesListOf(view, {0, 1, 2}, {0, 1}, dialect());
    EXPECT_EQ(line.rows(list), test::rowsOf(run->result()));
}

TEST_P(ServedExportTest, AStopInTheMiddleKeepsAPart) {
    const std::string many = GetParam().engine == db::Engine::Postgres ? "SELECT n FROM generate_series(1, 100000000) n"
                             : GetParam().engine == db::Engine::MariaDb
                                 ? "SELECT seq FROM seq_1_to_100000000"
                                 : "WITH RECURSIVE s(n) AS (SELECT 1 UNION ALL SELECT n + 1 FROM s) SELECT n FROM s";
    auto out = std::make_shared<RowExport>(ExportChoices{}, std::make_unique<FileTarget>(folder_ / "many.csv"));
    auto run = std::make_shared<test::RunRecorder>();
    Line line(profile());
    const db::RunHandle handle = line->execute(
        {.statement = many, .pageRows = std::nullopt, .consumer = std::make_shared<ExportConsumer>(out)}, run);
    run->waitForRows(100'000);
    handle.cancel();
    run->waitForEnd();
    ASSERT_TRUE(run->error());
    EXPECT_EQ(run->error()->kind, ErrorKind::Cancelled);
    EXPECT_GE(out->rowCount(), 100'000U);
    EXPECT_EQ(out->abandon(), (folder_ / "many.csv.part").string());
    const std::string part = test::contentOf(folder_ / "many.csv.part");
    EXPECT_TRUE(part.ends_with(fmt::format("\r\n{}\r\n", out->rowCount())));
    EXPECT_EQ(line.rows("SELECT 1"), std::vector<std::string>{"1"}) << "the line lives";
}

TEST_P(ServedExportTest, AColumnThatIsNotThereIsTold) {
    auto out = std::make_shared<RowExport>(ExportChoices{.columnNames = {"jars"}},
                                           std::make_unique<FileTarget>(folder_ / "none.csv"));
    auto run = std::make_shared<test::RunRecorder>();
    Line line(profile());
    line->execute({.statement = "SELECT id, words FROM " + old(),
                   .pageRows = std::nullopt,
                   .consumer = std::make_shared<ExportConsumer>(out)},
                  run);
    run->waitForEnd();
    ASSERT_TRUE(run->error());
    EXPECT_THAT(run->error()->text(), HasSubstr("No column is called “jars”. There are id, words."));
    EXPECT_FALSE(std::filesystem::exists(folder_ / "none.csv"));
}

TEST_P(ServedExportTest, AnErrorIsToldAtItsPlace) {
    auto out = std::make_shared<RowExport>(ExportChoices{}, std::make_unique<FileTarget>(folder_ / "none.csv"));
    auto run = std::make_shared<test::RunRecorder>();
    Line line(profile());
    const std::string query = "SELECT id, jars FROM " + old();
    line->execute({.statement = query, .pageRows = std::nullopt, .consumer = std::make_shared<ExportConsumer>(out)},
                  run);
    run->waitForEnd();
    ASSERT_TRUE(run->error());
    EXPECT_THAT(run->error()->text(), HasSubstr("jars"));
    if (GetParam().engine == db::Engine::Postgres) {
        EXPECT_EQ(run->error()->byteOffset, query.find("jars"));
    }
    EXPECT_EQ(line.rows("SELECT 1"), std::vector<std::string>{"1"});
}

INSTANTIATE_TEST_SUITE_P(All, ServedExportTest, testing::ValuesIn(kEngines),
                         [](const auto& engine) { return engine.param.name; });

TEST(PostgresExportTest, AnErrorAmongTheRowsIsToldWithItsPlaceInTheQuery) {
    ASSERT_EQ(test::sharedPostgres().startup(), "");
    const test::TemporaryFolder folder;
    Line line(test::profileFor(test::sharedPostgres()));
    const auto outcomeOf = [&](const std::string& query) {
        auto out = std::make_shared<RowExport>(ExportChoices{}, std::make_unique<FileTarget>(folder / "x.csv"));
        auto run = std::make_shared<test::RunRecorder>();
        line->execute({.statement = query, .pageRows = std::nullopt, .consumer = std::make_shared<ExportConsumer>(out)},
                      run);
        run->waitForEnd();
        return run;
    };
    EXPECT_EQ(outcomeOf("SELECT 10 / (5000 - n) FROM generate_series(1, 10000) n")->error()->code, "22012");
    const std::string broken = "SELECT n::text::int + 'x'::int FROM generate_series(1, 3) n";
    EXPECT_EQ(outcomeOf(broken)->error()->byteOffset, broken.find("'x'"));
    EXPECT_FALSE(outcomeOf("SELECT 1 INTO TEMP kept")->error());
    EXPECT_FALSE(outcomeOf("SELECT n FROM generate_series(1, 3) n FOR READ ONLY")->error());
    EXPECT_EQ(line.rows("SELECT * FROM kept"), std::vector<std::string>{"1"});
    EXPECT_FALSE(outcomeOf("SELECT")->error()) << "rows without columns";
}

}  // namespace
}  // namespace pantry::exchange
