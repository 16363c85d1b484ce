// Prints rows of the table in docs/benchmarks.md: what reading a million rows from real servers takes, as a ratio to a
// bare loop over the same C client that reads each value's length and throws it away; best of several.
#include <fmt/format.h>
#include <libpq-fe.h>
#include <malloc.h>
#include <mysql.h>

#include <fstream>
#include <memory>

#include "core/db/engine_bench.h"
#include "core/exchange/row_export.h"
#include "demo/throwaway_server.h"
#include "measure.h"
#include "support/temporary_folder.h"

namespace {

using namespace pantry;
using bench::inTurns;
using bench::row;

std::string tenColumns(bool isPostgres) {
    return isPostgres
               ? "SELECT n, n * 3 AS b, n / 7.0 AS c, 'plot ' || (n % 24) AS d, DATE '2026-11-01' + n % 20 AS e, n % "
                 "11 AS f, 'a remark of some length, as people write them ' || n AS g, n * 1000003::int8 AS h, "
                 "NULL::text AS i, '\\x0102'::bytea AS j FROM big"
               : "SELECT n, n * 3 AS b, n / 7.0 AS c, concat('plot ', n % 24) AS d, DATE '2026-11-01' + INTERVAL n "
                 "% 20 DAY AS e, n % 11 AS f, concat('a remark of some length, as people write them ', n) AS g, n "
                 "* 1000003 AS h, NULL AS i, x'0102' AS j FROM big";
}

std::uint64_t barePostgres(const demo::PostgresServer& server, const std::string& query) {
    PGconn* c = PQconnectdb(server.address("postgres").c_str());
    PQsendQuery(c, query.c_str());
    PQsetSingleRowMode(c);
    std::uint64_t bytes = 0;
    while (PGresult* r = PQgetResult(c)) {
        for (int i = 0; i < PQntuples(r); ++i) {
            for (int column = 0; column < PQnfields(r); ++column) {
                bytes += static_cast<std::uint64_t>(PQgetlength(r, i, column));
            }
        }
        PQclear(r);
    }
    PQfinish(c);
    return bytes;
}

std::uint64_t bareMariaDb(const demo::MariaDbServer& server, const std::string& query) {
    MYSQL* c = mysql_init(nullptr);
    mysql_real_connect(c, nullptr, "root", nullptr, "records", 0, server.socket().c_str(), 0);
    mysql_query(c, query.c_str());
    MYSQL_RES* result = mysql_use_result(c);
    const unsigned columns = mysql_num_fields(result);
    std::uint64_t bytes = 0;
    while (mysql_fetch_row(result) != nullptr) {
        const unsigned long* lengths = mysql_fetch_lengths(result);
        for (unsigned i = 0; i < columns; ++i) bytes += lengths[i];
    }
    mysql_free_result(result);
    mysql_close(c);
    return bytes;
}

/// Memory of this program that is in use, in bytes.
std::uint64_t memoryInUse() {
    std::ifstream status("/proc/self/status");
    for (std::string line; std::getline(status, line);) {
        if (line.starts_with("VmRSS:")) return std::stoull(line.substr(6)) * 1024;
    }
    return 0;
}

/// Streams a query to a file, as an export does.
class StreamToCsv {
public:
    StreamToCsv(db::ConnectionProfile profile, std::string query)
        : profile_(std::move(profile)), query_(std::move(query)) {}

    /// The memory in use at its end, in bytes.
    std::uint64_t run() const {
        db::Session session(profile_, std::nullopt);
        auto file = std::make_shared<exchange::RowExport>(exchange::ExportChoices{},
                                                          std::make_unique<exchange::FileTarget>(folder_ / "out.csv"));
        auto run = std::make_shared<test::RunRecorder>();
        session.execute({.statement = query_,
                         .pageRows = std::nullopt,
                         .consumer = std::make_shared<exchange::ExportConsumer>(file)},
                        run);
        run->waitForEnd();
        const std::uint64_t most = memoryInUse();
        (void)file->finish();
        return most;
    }

    /// Making room for a file that is there already is no part of the work.
    void removeFile() const { std::filesystem::remove(folder_ / "out.csv"); }

    [[nodiscard]] std::uint64_t memoryAboveIdle() const {
        const std::uint64_t before = memoryInUse();
        const std::uint64_t most = run();
        return most > before ? most - before : 0;
    }

private:
    test::TemporaryFolder folder_;
    db::ConnectionProfile profile_;
    std::string query_;
};

void engine(const std::string& name, const db::ConnectionProfile& profile, const std::string& query,
            const std::function<std::uint64_t()>& bareLoop) {
    std::uint64_t bytes = 0;
    data::ResultSetPtr result;
    StreamToCsv stream(profile, query);
    // In turns, since this kind of machine is faster in one second than in the next.
    const auto turns = inTurns([&] { bytes = bareLoop(); },
                               [&] {
                                   result.reset();
                                   result = test::Line(profile).run(query)->result();
                               },
                               [&] { stream.run(); }, [&] { stream.removeFile(); });
    row(fmt::format("fetch {} x {} into a ResultSet ({})", result->rowCount(), result->columns().size(), name),
        turns.text(1, 0), "1.10");
    row(fmt::format("memory for those rows ({})", name),
        fmt::format("{:.2f} ({:.0f} MB / {:.0f} MB)", double(result->memoryBytes()) / double(bytes),
                    double(result->memoryBytes()) / 1e6, double(bytes) / 1e6),
        "1.35");
    row(fmt::format("stream them to a CSV file ({})", name), turns.text(2, 0), "1.25");
    result.reset();
    malloc_trim(0);
    row(fmt::format("memory above the idle program while streaming ({})", name),
        fmt::format("{:.0f} MiB", double(stream.memoryAboveIdle()) / (1 << 20)), "64 MiB");
}

}  // namespace

int main() {
    fmt::print("| what | measured | to reach |\n|---|---|---|\n");
    const demo::PostgresServer postgres;
    const demo::MariaDbServer mariadb;
    if (!postgres.startup().empty() || !mariadb.startup().empty()) return 1;
    const auto records = test::profileFor(postgres);
    test::Line(records).run("CREATE TABLE big AS SELECT n FROM generate_series(1, 1000000) n");
    auto kitchen = test::profileFor(mariadb);
    test::Line(kitchen).run("CREATE DATABASE records");
    kitchen.database = "records";
    test::Line(kitchen).run("CREATE TABLE big AS SELECT seq AS n FROM seq_1_to_1000000");
    engine("PostgreSQL", records, tenColumns(true), [&] { return barePostgres(postgres, tenColumns(true)); });
    engine("MariaDB", kitchen, tenColumns(false), [&] { return bareMariaDb(mariadb, tenColumns(false)); });
}
