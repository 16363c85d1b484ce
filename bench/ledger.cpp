// A million runs: how long the first page takes, and each letter of a search.
#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <chrono>
#include <filesystem>
#include <functional>
#include <string>
#include <vector>

#include "core/store/ledger.h"
#include "core/store/ledger_statistics.h"

using namespace pantry;
using namespace std::chrono_literals;

namespace {

constexpr int kRuns = 1'000'000;

double millisecondsOf(const std::function<void()>& work) {
    const auto start = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count();
}

/// What people run: some statements over and over, most of them with other values, a few only once.
std::string statementOf(int i) {
    static constexpr std::array kTables{"plot",       "tree",      "variety", "warden",
                                        "inspection", "treatment", "picking", "batch"};
    const auto* table = kTables[static_cast<std::size_t>(i * 7 % 8)];
    if (i % 50 == 0) return fmt::format("SELECT count(*) AS n_{} FROM {} WHERE remark LIKE '%canker%'", i, table);
    if (i % 3 == 0) return fmt::format("SELECT * FROM {} WHERE {}_id = {}", table, table, i % 90'000);
    if (i % 7 == 0) return fmt::format("UPDATE {} SET name = 'n{}' WHERE {}_id = {}", table, i % 1000, table, i % 500);
    return fmt::format(
        "SELECT a.name, count(*) AS visits, max(b.visited_on) AS last\nFROM {} a\nJOIN inspection b USING "
        "({}_id)\nWHERE b.visited_on >= '2026-{:02}-01'\nGROUP BY a.name\nORDER BY {}",
        table, table, i % 12 + 1, i % 40);
}

void fill(store::Ledger& ledger) {
    constexpr int kAtOnce = 20'000;
    for (int first = 0; first < kRuns; first += kAtOnce) {
        std::vector<store::LedgerEntry> entries;
        for (int i = first; i < first + kAtOnce; ++i) {
            const bool isFailed = i % 37 == 0;
            entries.push_back(
                {.startedAt = base::fromMicroseconds(1'750'000'000'000'000LL + i * 30'000'000LL),
                 .start = {.connectionId = fmt::format("c{}", i % 4),
                           .connectionName = fmt::format("Orchard {}", i % 4),
                           .engine = "postgres",
                           .user = "inspector",
                           .statement = statementOf(i)},
                 .end = {.status = isFailed ? store::RunStatus::Failed : store::RunStatus::Succeeded,
                         .duration = std::chrono::microseconds(i % 997 == 0 ? 3'000'000 : 2000 + i % 5000),
                         .rows = i % 1000,
                         .error = isFailed ? fmt::format("No column named x{}", i % 200) : ""}});
        }
        if (!ledger.import(entries)) std::abort();
    }
}

void row(const std::string& what, double measured, std::string_view goal) {
    fmt::print("| {} | {:.1f} ms | {} |\n", what, measured, goal);
}

void pages(const store::Ledger& ledger, const std::string& text, std::vector<std::string> connections = {}) {
    const store::LedgerQuery query{
        .connections = std::move(connections), .search = store::parseLedgerSearch(text, base::now()), .limit = 40};
    std::size_t count = 0;
    double worst = 0;
    for (int i = 0; i < 3; ++i)
        worst = std::max(worst, millisecondsOf([&] { count = ledger.findFolded(query)->folds.size(); }));
    const std::string where = query.connections.empty() ? "" : ", one connection";
    row(fmt::format("first page of “{}”{} ({} entries)", text, where, count), worst, "50 ms");
}

void letters(const store::Ledger& ledger, const std::string& typed) {
    double worst = 0;
    std::string at;
    for (std::size_t n = 1; n <= typed.size(); ++n) {
        const store::LedgerQuery query{.search = store::parseLedgerSearch(typed.substr(0, n), base::now()),
                                       .limit = 40};
        const double took = millisecondsOf([&] { (void)ledger.findFolded(query); });
        if (took > worst) at = typed.substr(0, n);
        worst = std::max(worst, took);
    }
    row(fmt::format("each letter of “{}”, the slowest (“{}”)", typed, at), worst, "16 ms");
}

}  // namespace

int main(int argc, char** argv) {
    const std::filesystem::path path = argc > 1 ? argv[1] : "/tmp/ledger_bench.db";
    const bool isThere = std::filesystem::exists(path);
    auto ledger = store::Ledger::open(path);
    if (!ledger) std::abort();
    fmt::print("| what | measured | to reach |\n|---|---|---|\n");
    if (!isThere) row("writing a million runs", millisecondsOf([&] { fill(**ledger); }), "");
    pages(**ledger, "");
    pages(**ledger, "", {"c1"});
    for (const char* text :
         {"inspection", "canker", "n_999950", "no such word", "failed", "slow", "table:batch", "rows>998", "rows>5000",
          "took>2s", "changes", "changes -table:plot", "on:Orchard", "by:nobody", "starred",
          "since:2026-01-01 inspection", "\"no column named x17\"", "before:2025-06-20", "-select"})
        pages(**ledger, text);
    for (const char* text : {"inspection visited", "canker tree", "n_999950", "update plot", "failed x17"})
        letters(**ledger, text);
    row("statistics of all runs", millisecondsOf([&] { (void)(*ledger)->statistics({}, {}); }), "");
    if (argc < 2) std::filesystem::remove(path);
}
