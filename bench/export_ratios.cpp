// Prints rows of the table in docs/benchmarks.md: what every form of export takes, beside a bare loop that fetches the
// same rows and throws them away, and what it takes to compare two large results; best of several.
#include <fmt/format.h>
#include <sqlite3.h>

#include <numeric>

#include "core/data/view/comparison.h"
#include "core/exchange/row_export.h"
#include "measure.h"
#include "support/run_recorder.h"
#include "support/sqlite_file.h"
#include "support/temporary_folder.h"

namespace {

using namespace pantry;

constexpr int kRows = 1'000'000;
constexpr const char* kQuery =
    "SELECT n, n * 3 AS b, n / 7.0 AS c, 'plot ' || (n % 24) AS d, date('2026-11-01', (n % 20) || ' days') AS e, n % "
    "11 AS "
    "f, 'a remark of some length, as people write them ' || n AS g, n * 1000003 AS h, NULL AS i, x'0102' AS j FROM big";

void makeTable(const std::filesystem::path& file) {
    sqlite3* db = nullptr;
    sqlite3_open(file.c_str(), &db);
    const std::string make = fmt::format(
        "CREATE TABLE big AS WITH RECURSIVE s(n) AS (SELECT 1 UNION ALL SELECT n + 1 FROM s LIMIT {}) SELECT n FROM s",
        kRows);
    sqlite3_exec(db, make.c_str(), nullptr, nullptr, nullptr);
    sqlite3_close(db);
}

std::uint64_t bareLoop(const std::filesystem::path& file) {
    sqlite3* db = nullptr;
    sqlite3_open(file.c_str(), &db);
    sqlite3_stmt* statement = nullptr;
    sqlite3_prepare_v2(db, kQuery, -1, &statement, nullptr);
    std::uint64_t bytes = 0;
    while (sqlite3_step(statement) == SQLITE_ROW) {
        for (int i = 0; i < 10; ++i) bytes += static_cast<std::uint64_t>(sqlite3_column_bytes(statement, i));
    }
    sqlite3_finalize(statement);
    sqlite3_close(db);
    return bytes;
}

std::uint64_t exportAll(const std::filesystem::path& file, const std::filesystem::path& to,
                        const exchange::ExportChoices& choices) {
    db::Session session(test::profileOf(file), std::nullopt);
    auto out = std::make_shared<exchange::RowExport>(choices, std::make_unique<exchange::FileTarget>(to));
    auto run = std::make_shared<test::RunRecorder>();
    session.execute(
        {.statement = kQuery, .pageRows = std::nullopt, .consumer = std::make_shared<exchange::ExportConsumer>(out)},
        run);
    run->waitForEnd();
    if (!out->finish()) return 0;
    return out->byteCount();
}

void formats(const test::TemporaryFolder& folder) {
    const auto file = folder / "big.db";
    makeTable(file);
    const double bare = bench::secondsOf([&] { bareLoop(file); }, 3);
    fmt::print(
        "| 1,000,000 x 10 from SQLite to a file | against the bare loop ({:.2f} s) | rows a second | MB/s | size |\n"
        "|---|---|---|---|---|\n",
        bare);
    const auto line = [&](const std::string& name, const exchange::ExportChoices& choices) {
        std::uint64_t bytes = 0;
        const double taken = bench::secondsOf([&] { bytes = exportAll(file, folder / "out", choices); }, 2);
        fmt::print("| {} | {:.2f} ({:.2f} s) | {:.0f} | {:.0f} | {:.0f} MB |\n", name, taken / bare, taken,
                   kRows / taken, static_cast<double>(bytes) / 1e6 / taken, static_cast<double>(bytes) / 1e6);
        std::fflush(stdout);
    };
    for (const std::string& word : exchange::formatWords()) {
        line(word, {.format = *exchange::formatFromWord(word)});
    }
    line("csv, gzip", {.compression = exchange::Compression::Gzip});
    line("csv, zstd", {.compression = exchange::Compression::Zstd});
    exchange::ExportChoices spelled;
    spelled.forms.valueFormat.decimalSign = ',';
    spelled.forms.valueFormat.dateForm = exchange::DateForm::DayMonthYear;
    line("csv, other dates and decimal sign", spelled);
}

/// A million rows, a few of which differ by `seed`.
data::ResultSetPtr rowsOf(int seed) {
    auto result =
        std::make_shared<data::ResultSet>(std::vector<data::Column>{{"id", "bigint", data::ColumnType::Integer},
                                                                    {"name", "text", data::ColumnType::Text},
                                                                    {"price", "numeric", data::ColumnType::Decimal},
                                                                    {"day", "date", data::ColumnType::Date},
                                                                    {"jars", "integer", data::ColumnType::Integer}});
    data::ChunkBuilder builder(5);
    for (int i = 0; i < kRows; ++i) {
        if ((i + seed) % 1000 == 7) continue;  // gone, or added
        const std::int64_t id = (static_cast<std::int64_t>(i) * 7919 + seed) % kRows;
        builder.addInteger(id);
        builder.addText(fmt::format("a jar of number {}", id % 10'007));
        builder.addText(fmt::format("{}.50", id % 100));
        builder.addText("2026-11-17");
        builder.addInteger(id % 1000 == 3 ? seed : id % 17);
        builder.endRow();
        if (builder.isFull()) result->append(builder.take());
    }
    result->append(builder.take());
    return result;
}

void comparison() {
    const data::ResultView before(rowsOf(0));
    const data::ResultView after(rowsOf(1));
    const data::ComparisonRequest byKey{.columns = {{0, 0}, {1, 1}, {2, 2}, {3, 3}, {4, 4}}, .keys = {0}};
    data::ComparisonRequest byPosition = byKey;
    byPosition.keys.clear();
    std::optional<data::Comparison> found;
    const double keyed = bench::secondsOf([&] { found = data::compareResults(before, after, byKey, {}); }, 3);
    const double ordered = bench::secondsOf([&] { (void)data::compareResults(before, before, byPosition, {}); }, 3);
    fmt::print("\n| two results of {} rows x 5 columns | seconds | rows of both a second |\n|---|---|---|\n",
               before.rowCount());
    const auto both = static_cast<double>(before.rowCount() + after.rowCount());
    fmt::print("| compared by a key: {} changed, {} added, {} removed | {:.2f} | {:.0f} |\n", found->changed,
               found->added, found->removed, keyed, both / keyed);
    fmt::print("| compared by position | {:.2f} | {:.0f} |\n", ordered, both / ordered);
}

}  // namespace

int main() {
    const test::TemporaryFolder folder;
    formats(folder);
    comparison();
}
