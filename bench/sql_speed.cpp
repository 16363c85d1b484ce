// How fast SQL is read, split, checked, laid out and completed, and how often memory is asked for on the way.
// Prints rows of the table in docs/benchmarks.md; best of several rounds.
#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <atomic>
#include <chrono>
#include <cstdlib>
#include <fstream>
#include <iterator>
#include <new>

#include "core/sql/check/findings.h"
#include "core/sql/complete/completion.h"
#include "core/sql/layout/formatter.h"
#include "core/sql/syntax/script.h"
#include "core/sql/text/lexer.h"
#include "measure.h"

namespace {
std::atomic<std::size_t> allocations{0};
}

void* operator new(std::size_t size) {
    allocations.fetch_add(1, std::memory_order_relaxed);
    if (void* p = std::malloc(size)) return p;
    throw std::bad_alloc();
}
void operator delete(void* p) noexcept { std::free(p); }
void operator delete(void* p, std::size_t) noexcept { std::free(p); }

namespace {

using namespace pantry;
using bench::row;
using bench::secondsOf;

std::string largeScript(std::size_t bytes) {
    const std::string piece =
        "-- which plots need treatment before blossom?\nselect p.name as plot, count(*) as visits, avg(i.scab_score) "
        "as scab\n"
        "from inspection i join tree t using (tree_id) join plot p on p.plot_id = t.plot_id and p.hectares > 0.5\n"
        "where i.visited_on >= '2026-01-01' and (i.remark is null or i.remark like '%scab%') group by p.name\n"
        "having count(*) > 3 order by scab desc limit 10;\n\nupdate treatment set dose_ml = 40, cost = cost * 1.1 "
        "where treatment_id in (1, 2, 3);\n\n";
    std::string out;
    while (out.size() < bytes) out += piece;
    return out;
}

/// A script that comes with a server's package, as often as it takes to fill a megabyte; empty when it is not
/// installed.
std::string scriptAt(const char* path) {
    std::ifstream in(path);
    const std::string piece{std::istreambuf_iterator<char>(in), {}};
    std::string out;
    while (!piece.empty() && out.size() < 1'000'000) out += piece + "\n";
    return out;
}

void texts(const std::string& name, const std::string& script, sql::Dialect dialect) {
    if (script.empty()) return;
    fmt::print("| **{}**, {:.2f} tokens a byte | | |\n", name,
               double(sql::lex(script, dialect).size()) / double(script.size()));
    const auto rate = [&](double seconds) { return fmt::format("{:.0f} MB/s", double(script.size()) / 1e6 / seconds); };
    const auto asked = [&](auto work) {
        const std::size_t before = allocations;
        work();
        return fmt::format("{:.1f}", double(allocations - before) / (double(script.size()) / 1e3));
    };
    // How fast this machine is at the moment: one look-up for each byte, each depending on the one before.
    std::array<unsigned char, 256> table{};
    for (std::size_t i = 0; i < table.size(); ++i) table[i] = static_cast<unsigned char>(i * 7 + 3);
    volatile unsigned char last = 0;
    row("to compare: a look-up for each byte", rate(secondsOf([&] {
            unsigned char state = 0;
            for (const char c : script) state = table[state ^ static_cast<unsigned char>(c)];
            last = state;
        })),
        "");
    row("lex", rate(secondsOf([&] { (void)sql::lex(script, dialect); })), "200 MB/s");
    row("split (lexing included)", rate(secondsOf([&] { (void)sql::splitStatements(script, dialect); })), "200 MB/s");
    row("check", rate(secondsOf([&] { (void)sql::checkScript(script, dialect); })), "20 MB/s");
    row("format", rate(secondsOf([&] { (void)sql::formatScript(script, dialect); })), "20 MB/s");
    row("allocations a KB, split", asked([&] { (void)sql::splitStatements(script, dialect); }), "");
    row("allocations a KB, check", asked([&] { (void)sql::checkScript(script, dialect); }), "");
    row("allocations a KB, format", asked([&] { (void)sql::formatScript(script, dialect); }), "");
}

void editing() {
    std::string sheet = largeScript(1);
    for (int i = 0; std::ranges::count(sheet, '\n') < 5000; ++i)
        sheet += "select " + std::to_string(i) + " as n, " + largeScript(1).substr(50);
    std::vector<catalog::Relation> relations;
    for (int t = 0; t < 10'000; ++t) {
        catalog::Relation fact{.schema = "main", .name = "table_" + std::to_string(t)};
        for (int c = 0; c < 10; ++c)
            fact.columns.push_back({"column_" + std::to_string(c) + "_" + std::to_string(t), "integer"});
        relations.push_back(std::move(fact));
    }
    const catalog::View catalog(std::move(relations), {"main"});
    sql::Script script(sql::Dialect::Sqlite);
    script.setText(sheet);
    std::vector<double> reparse;
    std::vector<double> complete;
    const std::string typed = "\nselect c from table_77";
    std::string text = sheet;
    for (const char c : typed) {
        text += c;
        reparse.push_back(secondsOf([&] { script.setText(text); }, 1));
        complete.push_back(secondsOf([&] { (void)sql::completeAt(script, text.size(), catalog); }, 1));
    }
    std::ranges::sort(reparse);
    std::ranges::sort(complete);
    row("reparse after a keystroke, 5,000 lines (worst of 23)", fmt::format("{:.1f} ms", reparse.back() * 1e3), "2 ms");
    row("completion, 10,000 tables, 5,000 lines (worst of 23)", fmt::format("{:.1f} ms", complete.back() * 1e3),
        "5 ms");
}

}  // namespace

int main() {
    fmt::print("| what | measured | to reach |\n|---|---|---|\n");
    texts("a dense script of our own", largeScript(4'000'000), sql::Dialect::Postgres);
    texts("PostgreSQL's system views", scriptAt("/usr/share/postgresql/15/system_views.sql"), sql::Dialect::Postgres);
    texts("MariaDB's sys schema", scriptAt("/usr/share/mysql/mysql_sys_schema.sql"), sql::Dialect::MySql);
    fmt::print("| **a sheet of 5,000 lines** | | |\n");
    editing();
}
