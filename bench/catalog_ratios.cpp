// Prints rows of the table in docs/benchmarks.md: what opening a catalog of 10,000 tables takes, as a ratio to the same
// queries sent by a bare client that throws their rows away. The queries are those that the server noted down.
#include <fmt/format.h>
#include <libpq-fe.h>
#include <mysql.h>
#include <sqlite3.h>

#include <algorithm>
#include <fstream>
#include <future>
#include <regex>
#include <sstream>

#include "core/catalog/catalog_list.h"
#include "core/db/engine_bench.h"
#include "demo/throwaway_server.h"
#include "measure.h"
#include "support/temporary_folder.h"

namespace {

using namespace pantry;
using bench::inTurns;
using bench::row;
using bench::secondsOf;

constexpr int kTables = 10'000;

catalog::CatalogPtr load(const db::ConnectionProfile& profile, catalog::Request request = {}) {
    db::Session session(profile, std::nullopt);
    std::promise<Result<catalog::CatalogPtr>> promise;
    session.loadCatalog(std::move(request), [&](Result<catalog::CatalogPtr> c) { promise.set_value(std::move(c)); });
    return promise.get_future().get().value();
}

std::string tableStatement(int number) {
    return fmt::format(
        "CREATE TABLE t{0} (t{0}_id int PRIMARY KEY, name varchar(40) NOT NULL DEFAULT 'new', plot_id int, warden_id "
        "int, "
        "height decimal(6,2), planted date, remark text, ripe int, weight double precision, parent_id int{1})",
        number,
        number > 0 ? fmt::format(", FOREIGN KEY (parent_id) REFERENCES t{} (t{}_id)", number - 1, number - 1) : "");
}

void report(const std::string& name, const db::ConnectionProfile& profile, const catalog::CatalogPtr& catalog,
            const bench::Turns<2>& turns) {
    row(fmt::format("open a catalog of {} tables ({})", catalog->relations().size(), name), turns.text(0, 1), "1.3");
    const catalog::Request one{.schemas = {catalog->relations().front()->schema}, .known = catalog, .names = {"t5000"}};
    row(fmt::format("read one of them again after an ALTER TABLE ({})", name),
        fmt::format("{:.2f} s", secondsOf([&] { (void)load(profile, one); })), "");
    row(fmt::format("memory of that catalog ({})", name),
        fmt::format("{:.0f} MB", double(catalog->memoryBytes()) / 1e6), "100 MB");
}

/// The statements in a server's log, which continues long ones on lines that begin with a tab.
std::vector<std::string> loggedQueries(const std::filesystem::path& log) {
    std::ifstream file(log);
    std::vector<std::string> queries;
    const std::string mark = "LOG:  statement: ";
    for (std::string line; std::getline(file, line);) {
        const std::size_t at = line.find(mark);
        if (at != std::string::npos) {
            queries.push_back(line.substr(at + mark.size()));
        } else if (!queries.empty() && line.starts_with('\t')) {
            queries.back() += "\n" + line.substr(1);
        }
    }
    std::erase_if(queries, [](const std::string& q) { return q.find("pg_catalog.pg_") == std::string::npos; });
    return queries;
}

void postgres() {
    const demo::PostgresServer server;
    if (!server.startup().empty()) return;
    db::ConnectionProfile profile = test::profileFor(server);
    test::Line maker(profile);
    maker.run("BEGIN");
    for (int i = 0; i < kTables; ++i) {
        maker.run(tableStatement(i));
        if (i % 500 == 499) {  // locks of one transaction are limited
            maker.run("COMMIT");
            maker.run("BEGIN");
        }
    }
    maker.run("COMMIT");
    maker.run("ANALYZE");
    db::ConnectionProfile noted = profile;
    noted.onConnect = "SET log_statement = 'all'";
    (void)load(noted);
    const std::vector<std::string> queries = loggedQueries(server.folder() / "log");
    PGconn* bare = PQconnectdb(server.address("postgres").c_str());
    catalog::CatalogPtr catalog;
    const auto turns = inTurns([&] { catalog = load(profile); },
                               [&] {
                                   for (const std::string& q : queries) PQclear(PQexec(bare, q.c_str()));
                               });
    PQfinish(bare);
    report(fmt::format("PostgreSQL, {} queries", queries.size()), profile, catalog, turns);
    std::size_t hits = 0;
    const double find = secondsOf([&] { hits = catalog::listCatalog({{.catalog = catalog}}, {"ward"}).size(); });
    row("find by typing in those names and columns", fmt::format("{:.0f} ms, {} hits", find * 1000, hits), "");
}

void mariaDb() {
    const demo::MariaDbServer server;
    if (!server.startup().empty()) return;
    db::ConnectionProfile profile = test::profileFor(server);
    test::Line maker(profile);
    maker.run("CREATE DATABASE records");
    maker.run("USE records");
    // Aria and no foreign keys: making ten thousand InnoDB tables takes this server a quarter of an hour.
    maker.run("SET default_storage_engine = Aria");
    for (int i = 0; i < kTables; ++i)
        maker.run(std::regex_replace(tableStatement(0), std::regex("t0"), fmt::format("t{}", i)));
    profile.database = "records";
    maker.run("SET GLOBAL log_output = 'TABLE'");
    maker.run("SET GLOBAL general_log = 1");
    (void)load(profile);
    maker.run("SET GLOBAL general_log = 0");
    const std::vector<std::string> queries = maker.rows(
        "SELECT argument FROM mysql.general_log WHERE command_type = 'Query' AND argument LIKE '%FROM "
        "information_schema%'");
    MYSQL* bare = mysql_init(nullptr);
    mysql_real_connect(bare, nullptr, "root", nullptr, "records", 0, server.socket().c_str(), 0);
    catalog::CatalogPtr catalog;
    const auto turns = inTurns([&] { catalog = load(profile); },
                               [&] {
                                   for (const std::string& q : queries) {
                                       mysql_query(bare, q.c_str());
                                       mysql_free_result(mysql_store_result(bare));
                                   }
                               });
    mysql_close(bare);
    report(fmt::format("MariaDB, {} queries", queries.size()), profile, catalog, turns);
}

std::vector<std::string> sqliteQueries;  // those that ran since tracing began

int noteStatement(unsigned, void*, void* statement, void*) {
    const std::string sql = sqlite3_sql(static_cast<sqlite3_stmt*>(statement));
    if (sql.starts_with("SELECT")) sqliteQueries.push_back(sql);
    return 0;
}

int traceNewLine(sqlite3* db, char**, const sqlite3_api_routines*) {
    return sqlite3_trace_v2(db, SQLITE_TRACE_STMT, noteStatement, nullptr);
}

/// Runs them on a line of its own and throws their rows away.
void runBare(const std::string& file, const std::vector<std::string>& queries) {
    sqlite3* db = nullptr;
    sqlite3_open(file.c_str(), &db);
    for (const std::string& query : queries) {
        sqlite3_stmt* statement = nullptr;
        sqlite3_prepare_v2(db, query.c_str(), -1, &statement, nullptr);
        while (sqlite3_step(statement) == SQLITE_ROW) {
        }
        sqlite3_finalize(statement);
    }
    sqlite3_close(db);
}

void sqlite() {
    const test::TemporaryFolder folder;
    db::ConnectionProfile profile{.id = "s", .name = "s", .engine = db::Engine::Sqlite};
    profile.database = (folder / "big.db").string();
    sqlite3* db = nullptr;
    sqlite3_open(profile.database.c_str(), &db);
    std::string script = "BEGIN;";
    for (int i = 0; i < kTables; ++i) script += tableStatement(i) + ";";
    sqlite3_exec(db, (script + "COMMIT;").c_str(), nullptr, nullptr, nullptr);
    sqlite3_close(db);
    catalog::CatalogPtr catalog;
    const auto trace = reinterpret_cast<void (*)()>(traceNewLine);
    sqlite3_auto_extension(trace);
    (void)load(profile);
    sqlite3_cancel_auto_extension(trace);
    const std::vector<std::string> queries = sqliteQueries;
    const auto turns = inTurns([&] { catalog = load(profile); }, [&] { runBare(profile.database, queries); });
    report(fmt::format("SQLite, {} queries", queries.size()), profile, catalog, turns);
}

}  // namespace

/// Without arguments all engines; else those that are named: sqlite, postgres, mariadb.
int main(int argc, char** argv) {
    const std::vector<std::string> named(argv + 1, argv + argc);
    const auto isWanted = [&](const char* engine) {
        return named.empty() || std::ranges::find(named, engine) != named.end();
    };
    fmt::print("| what | measured | to reach |\n|---|---|---|\n");
    if (isWanted("sqlite")) sqlite();
    if (isWanted("postgres")) postgres();
    if (isWanted("mariadb")) mariaDb();
}
