#include "core/db/drivers/sqlite/driver.h"

#include <unistd.h>

#include "core/db/session.h"
#include "support/run_recorder.h"
#include "support/sqlite_file.h"
#include "support/temporary_folder.h"

namespace pantry::db {
namespace {

using test::profileOf;
using test::RunRecorder;
using test::runScript;
using test::TemporaryFolder;

class SqliteDriverTest : public testing::Test {
protected:
    void SetUp() override { runScript(file(), "CREATE TABLE plot (plot_id INTEGER PRIMARY KEY, name TEXT NOT NULL)"); }
    [[nodiscard]] std::filesystem::path file() const { return folder_ / "a.db"; }

    std::shared_ptr<RunRecorder> run(const std::string& statement, sql::ParameterValues values = {}) {
        if (!session_) session_ = std::make_unique<Session>(profileOf(file()), std::nullopt);
        auto recorder = std::make_shared<RunRecorder>();
        session_->execute({.statement = sql::Statement(statement).with(std::move(values))}, recorder);
        recorder->waitForEnd();
        return recorder;
    }

    TemporaryFolder folder_;
    std::unique_ptr<Session> session_;
};

Error openingError(const ConnectionProfile& profile) {
    auto link = SqliteDriver().open(profile, std::nullopt, {});
    return link ? Error{.message = "opened"} : link.error();
}

TEST_F(SqliteDriverTest, ReturnsValuesOfEveryKind) {
    const auto r = run("SELECT 1 AS i, 1.5, 'text', x'00FF', NULL, 9223372036854775807, ''")->result();
    ASSERT_TRUE(r);
    EXPECT_EQ(r->columns()[0].name, "i");
    EXPECT_EQ(r->cell(0, 1).real, 1.5);
    EXPECT_EQ(r->cell(0, 3).kind, data::CellKind::Binary);
    EXPECT_TRUE(r->cell(0, 4).isNull());
    EXPECT_EQ(r->cell(0, 5).integer, INT64_MAX);
    EXPECT_FALSE(r->cell(0, 6).isNull());
}

TEST_F(SqliteDriverTest, ValuesOfParametersMeetWhatTheyAreComparedWith) {
    run("CREATE TABLE tag (number TEXT, size REAL)");
    run("INSERT INTO tag VALUES ('007', 2.5), ('20', 20), ('2.50', 1)");
    const auto count = [&](const std::string& condition, const char* value) {
        const auto result =
            run("SELECT count(*) FROM (SELECT number, size, count(*) OVER () AS all_of_them FROM tag) WHERE " +
                    condition,
                {{"v", value}})
                ->result();
        return result ? result->cell(0, 0).integer : -1;
    };
    EXPECT_EQ(count("all_of_them >= :v", "3"), 3) << "an expression has no affinity";
    EXPECT_EQ(count("all_of_them >= :v", "20"), 0);
    EXPECT_EQ(count("number = :v", "007"), 1);
    EXPECT_EQ(count("number = :v", "20"), 1);
    EXPECT_EQ(count("number = :v", "2.50"), 1);
    EXPECT_EQ(count("size > :v", "2.25"), 2);
    EXPECT_EQ(count("substr(number, 1, 2) = :v", "20"), 1) << "what makes a text is compared with a text";
    EXPECT_EQ(count("number || '' IN (:v)", "20"), 1);
    EXPECT_EQ(run("SELECT number FROM tag LIMIT :n", {{"n", "2"}})->result()->rowCount(), 2U);
    EXPECT_EQ(run("SELECT typeof(:a) || typeof(:b) || typeof(:c) = 'integerrealtext'",
                  {{"a", "7"}, {"b", "7.5"}, {"c", "07"}})
                  ->result()
                  ->cell(0, 0)
                  .integer,
              1);
}

TEST_F(SqliteDriverTest, TellsWhereAColumnComesFrom) {
    const auto column = run("SELECT name AS n FROM plot")->result()->columns()[0];
    EXPECT_EQ(column.originTable, "plot");
    EXPECT_EQ(column.originColumn, "name");
    EXPECT_EQ(column.typeName, "text");
}

TEST_F(SqliteDriverTest, OriginsTellTablesOfTheSameNameApart) {
    run("ATTACH ':memory:' AS loft");
    run("CREATE TABLE loft.plot (plot_id integer PRIMARY KEY, name text)");
    run("INSERT INTO loft.plot VALUES (1, 'up here')");
    run("CREATE TEMP VIEW seen AS SELECT name FROM loft.plot");
    const auto result =
        run("SELECT a.name, b.name, seen.name, upper(b.name) FROM main.plot a, loft.plot b, seen")->result();
    ASSERT_TRUE(result);
    EXPECT_EQ(result->columns()[0].originSchema, "main");
    EXPECT_EQ(result->columns()[1].originSchema, "loft");
    EXPECT_EQ(result->columns()[2].originSchema, "loft") << "SQLite looks through views";
    EXPECT_EQ(result->columns()[3].originSchema, "");
}

TEST_F(SqliteDriverTest, CountsChangedRows) {
    EXPECT_EQ(run("INSERT INTO plot (name) VALUES ('a'), ('b')")->summary().result.affectedRows, 2);
    EXPECT_EQ(run("UPDATE plot SET name = 'c' WHERE plot_id > 99")->summary().result.affectedRows, 0);
    EXPECT_FALSE(run("CREATE TABLE t (a)")->summary().result.affectedRows);
}

TEST_F(SqliteDriverTest, PointsAtAMistakeInTheStatement) {
    const auto error = run("SELECT name, nme FROM plot")->error();
    ASSERT_TRUE(error);
    EXPECT_EQ(error->byteOffset, 13U);
    EXPECT_THAT(error->message, testing::HasSubstr("nme"));
}

TEST_F(SqliteDriverTest, KeepsTheRowsThatCameBeforeAnError) {
    const auto r = run("SELECT n, CASE WHEN n = 150 THEN json(n || '{') END FROM (" + test::rowsQuery(200) + ")");
    EXPECT_TRUE(r->error());
    EXPECT_EQ(r->result()->rowCount(), 149U);
}

TEST_F(SqliteDriverTest, AsksForParametersThatHaveNoValue) {
    EXPECT_THAT(run("SELECT :since")->error()->message, testing::HasSubstr(":since"));
    EXPECT_EQ(run("SELECT :since", {{"since", "2026-01-01"}})->result()->cell(0, 0).bytes, "2026-01-01");
    EXPECT_TRUE(run("SELECT :since", {{"since", std::nullopt}})->result()->cell(0, 0).isNull());
}

TEST_F(SqliteDriverTest, TextWithZeroBytesComesWhole) {
    EXPECT_EQ(run("SELECT CAST(x'610062' AS TEXT)")->result()->cell(0, 0).bytes, std::string_view("a\0b", 3));
}

TEST_F(SqliteDriverTest, ReadsWideAndLargeResults) {
    std::string wide = "SELECT 0 AS c0";
    for (int i = 1; i < 1000; ++i) wide += ", " + std::to_string(i) + " AS c" + std::to_string(i);
    EXPECT_EQ(run(wide)->result()->columns().size(), 1000U);
    EXPECT_EQ(run("SELECT zeroblob(50000000)")->result()->cell(0, 0).bytes.size(), 50'000'000U);
}

TEST_F(SqliteDriverTest, SaysWhenAFileIsNoDatabase) {
    test::writeFile(folder_ / "notes.txt", std::string(5000, 'x'));
    const Error error = openingError(profileOf(folder_ / "notes.txt"));
    EXPECT_EQ(error.kind, ErrorKind::Damaged);
    EXPECT_THAT(error.message, testing::HasSubstr("notes.txt is not an SQLite database"));
}

TEST_F(SqliteDriverTest, SaysWhenAFileIsMissingOrAFolder) {
    EXPECT_EQ(openingError(profileOf(folder_ / "none.db")).kind, ErrorKind::NotFound);
    EXPECT_FALSE(std::filesystem::exists(folder_ / "none.db"));
    EXPECT_THAT(openingError(profileOf(folder_.path())).message, testing::HasSubstr("is a folder"));
}

TEST_F(SqliteDriverTest, ReadOnlyConnectionsCannotWrite) {
    ConnectionProfile p = profileOf(file());
    p.isReadOnly = true;
    session_ = std::make_unique<Session>(p, std::nullopt);
    EXPECT_EQ(run("DELETE FROM plot")->error()->kind, ErrorKind::ReadOnly);
    EXPECT_FALSE(run("SELECT * FROM plot")->error());
}

TEST_F(SqliteDriverTest, SaysWhenTheDatabaseIsLocked) {
    sqlite3* other = nullptr;
    sqlite3_open(file().c_str(), &other);
    sqlite3_exec(other, "BEGIN EXCLUSIVE", nullptr, nullptr, nullptr);
    ConnectionProfile p = profileOf(file());
    p.options["busy_wait_ms"] = "40";
    const Error error = openingError(p);
    sqlite3_close(other);
    EXPECT_EQ(error.kind, ErrorKind::Busy);
    EXPECT_THAT(error.message, testing::HasSubstr("locked"));
}

TEST_F(SqliteDriverTest, RunsStatementsOnConnecting) {
    ConnectionProfile p = profileOf(file());
    p.onConnect = "PRAGMA foreign_keys = ON; -- always\nCREATE TEMP TABLE seen (a);";
    session_ = std::make_unique<Session>(p, std::nullopt);
    EXPECT_EQ(run("PRAGMA foreign_keys")->result()->cell(0, 0).integer, 1);
    EXPECT_FALSE(run("SELECT * FROM seen")->error());
    p.onConnect = "SELEC 1";
    EXPECT_THAT(openingError(p).message, testing::HasSubstr("on connecting"));
}

TEST_F(SqliteDriverTest, TestsStageByStage) {
    const auto good = SqliteDriver().test(profileOf(file()), std::nullopt, {});
    EXPECT_EQ(good.size(), 4U);
    for (const TestStage& stage : good) EXPECT_FALSE(stage.error) << stage.name;
    const auto missing = SqliteDriver().test(profileOf(folder_ / "none.db"), std::nullopt, {});
    ASSERT_EQ(missing.size(), 1U);
    EXPECT_TRUE(missing[0].error);
    EXPECT_FALSE(missing[0].error->hint.empty());
}

}  // namespace
}  // namespace pantry::db
