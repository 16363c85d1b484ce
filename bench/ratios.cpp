// Prints the table of docs/benchmarks.md: what the program takes for a piece of work, as a ratio to the least that the
// work can take, both measured in this run, best of several.
#include <fmt/format.h>
#include <sqlite3.h>

#include <algorithm>
#include <chrono>
#include <cstring>
#include <numeric>
#include <random>

#include "core/data/view/result_view.h"
#include "core/exchange/row_export.h"
#include "measure.h"
#include "support/run_recorder.h"
#include "support/sqlite_file.h"
#include "support/temporary_folder.h"

namespace {

using namespace pantry;
using bench::row;
using bench::secondsOf;
volatile std::size_t seen = 0;  // keeps the compiler from leaving work out
constexpr long kRows = 1'000'000;

std::string ratio(double ours, double least) {
    return fmt::format("{:.2f} ({:.3f} s / {:.3f} s)", ours / least, ours, least);
}

const std::string kTenColumns =
    "SELECT n, n * 3 AS b, n / 7.0 AS c, 'plot ' || (n % 24) AS d, '2026-11-' || (10 + n % 20) AS e, n % 11 AS f, "
    "'a remark of some length, as people write them ' || n AS g, n * 1000003 AS h, NULL AS i, x'0102' AS j FROM big";

void makeTable(const std::filesystem::path& file) {
    test::runScript(
        file,
        "CREATE TABLE big (n INTEGER PRIMARY KEY); INSERT INTO big WITH RECURSIVE s(n) AS (SELECT 1 UNION ALL "
        "SELECT n + 1 FROM s WHERE n < " +
            std::to_string(kRows) + ") SELECT n FROM s");
}

/// Reads each value's length and throws it away; returns the bytes as sent.
std::uint64_t bareLoop(const std::filesystem::path& file, bool takesText) {
    sqlite3* db = nullptr;
    sqlite3_open(file.c_str(), &db);
    sqlite3_stmt* statement = nullptr;
    sqlite3_prepare_v2(db, kTenColumns.c_str(), -1, &statement, nullptr);
    std::uint64_t bytes = 0;
    const int columns = sqlite3_column_count(statement);
    while (sqlite3_step(statement) == SQLITE_ROW) {
        for (int i = 0; i < columns; ++i) {
            switch (sqlite3_column_type(statement, i)) {
                case SQLITE_INTEGER:
                case SQLITE_FLOAT:
                    if (takesText) (void)sqlite3_column_int64(statement, i);
                    bytes += 8;
                    break;
                case SQLITE_NULL: break;
                default: bytes += static_cast<std::uint64_t>(sqlite3_column_bytes(statement, i));
            }
        }
    }
    sqlite3_finalize(statement);
    sqlite3_close(db);
    return bytes;
}

data::ResultSetPtr fetchAll(const std::filesystem::path& file) {
    db::Session session(test::profileOf(file), std::nullopt);
    auto run = std::make_shared<test::RunRecorder>();
    session.execute({.statement = kTenColumns, .pageRows = std::nullopt}, run);
    run->waitForEnd();
    return run->result();
}

void exportAll(const std::filesystem::path& file, const std::filesystem::path& to) {
    db::Session session(test::profileOf(file), std::nullopt);
    auto output =
        std::make_shared<exchange::RowExport>(exchange::ExportChoices{}, std::make_unique<exchange::FileTarget>(to));
    auto run = std::make_shared<test::RunRecorder>();
    session.execute({.statement = kTenColumns,
                     .pageRows = std::nullopt,
                     .consumer = std::make_shared<exchange::ExportConsumer>(output)},
                    run);
    run->waitForEnd();
    (void)output->finish();
}

void sorted(const std::vector<std::int64_t>& values, const char* how) {
    auto rows =
        std::make_shared<data::ResultSet>(std::vector<data::Column>{{"v", "integer", data::ColumnType::Integer}});
    data::ChunkBuilder builder(1);
    for (const auto v : values) {
        builder.addInteger(v);
        builder.endRow();
        if (builder.isFull()) rows->append(builder.take());
    }
    rows->append(builder.take());
    const auto turns = bench::inTurns(
        [&] {
            (void)data::ResultView::make(rows, {.order = {{0, false}}}, {});
        },
        [&] {
            std::vector<std::uint32_t> index(values.size());
            std::iota(index.begin(), index.end(), 0U);
            std::ranges::stable_sort(index, [&](auto a, auto b) { return values[a] < values[b]; });
            seen = index[0];
        });
    row(fmt::format("sort 1,000,000 rows by one column of whole numbers, {}", how), turns.text(0, 1), "1.3");
}

void results(const test::TemporaryFolder& folder) {
    const auto file = folder / "big.db";
    makeTable(file);
    std::uint64_t bytes = 0;
    data::ResultSetPtr result;
    const auto turns = bench::inTurns([&] { bytes = bareLoop(file, true); },
                                      [&] {
                                          result.reset();
                                          result = fetchAll(file);
                                      },
                                      [&] { exportAll(file, folder / "out.csv"); },
                                      [&] { std::filesystem::remove(folder / "out.csv"); });
    row("fetch 1,000,000 x 10 into a ResultSet (SQLite)", turns.text(1, 0), "1.10");
    row("memory for those rows",
        fmt::format("{:.2f} ({:.0f} MB / {:.0f} MB)", double(result->memoryBytes()) / double(bytes),
                    double(result->memoryBytes()) / 1e6, double(bytes) / 1e6),
        "1.35");
    row("stream them to a CSV file", turns.text(2, 0), "1.25");

    std::vector<std::int64_t> values;  // in runs of some hundred that ascend
    for (std::size_t i = 0; i < result->rowCount(); ++i)
        values.push_back(static_cast<std::int64_t>(i * 7919 % 999'983));
    sorted(values, "which ascend in runs");
    std::ranges::shuffle(values, std::mt19937_64(1));
    sorted(values, "shuffled");

    std::string all;
    for (std::size_t r = 0; r < result->rowCount(); ++r) {
        for (std::size_t c = 0; c < 10; ++c) {
            const data::Cell cell = result->cell(r, c);
            data::appendText(all, cell);
        }
    }
    const double plainSearch = secondsOf([&] {
        std::size_t hits = 0;
        const char* at = all.data();
        const char* end = all.data() + all.size();
        while ((at = static_cast<const char*>(::memmem(at, static_cast<std::size_t>(end - at), "nowhere", 7))) !=
               nullptr) {
            ++at;
            ++hits;
        }
        seen = hits;
    });
    row("search 1,000,000 x 10 cells for a text",
        ratio(secondsOf([&] { (void)data::ResultView::make(result, {.filterText = "nowhere"}, {}); }), plainSearch),
        "2.0");
}

}  // namespace

int main() {
    fmt::print("| what | measured | to reach |\n|---|---|---|\n");
    const test::TemporaryFolder folder;
    results(folder);
}
