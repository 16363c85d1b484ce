#include <fmt/format.h>

#include <memory>

#include "cli/command.h"
#include "core/base/text.h"
#include "core/exchange/json_text.h"
#include "core/store/ledger.h"

namespace pantry::cli {
namespace {

std::string optionalNumber(const std::optional<std::int64_t>& value) { return value ? std::to_string(*value) : "null"; }

std::string entryJson(const store::LedgerEntry& e) {
    return fmt::format(
        R"({{"id":{},"startedAt":"{}","connection":{},"environment":{},"database":{},"user":{},"statement":{},"parameters":{},"status":"{}","milliseconds":{:.3f},"rows":{},"affected":{},"partial":{},"error":{}}})",
        e.id, base::isoUtc(e.startedAt), exchange::jsonString(e.start.connectionName),
        exchange::jsonString(e.start.environment), exchange::jsonString(e.start.database),
        exchange::jsonString(e.start.user), exchange::jsonString(e.start.statement),
        exchange::jsonString(e.start.parameters), store::statusWord(e.end.status),
        static_cast<double>(e.end.duration.count()) / 1000, optionalNumber(e.end.rows), optionalNumber(e.end.affected),
        e.end.isPartial, exchange::jsonString(e.end.error));
}

void printEntry(const store::LedgerEntry& e) {
    const std::string rows = e.end.rows ? base::counted(*e.end.rows, "row", "rows") : "";
    fmt::print("{:<17} {:<11} {:>9} {:>14}  {:<22} {}\n", base::spoken(e.startedAt, base::now()),
               store::statusWord(e.end.status), base::readable(e.end.duration), rows, e.start.connectionName,
               base::oneLine(e.start.statement, 90));
    if (!e.end.error.empty()) fmt::print("{:>56}  {}\n", "", e.end.error);
}

}  // namespace

void addHistory(CLI::App& app, Context& context) {
    struct Options {
        std::string connection;
        std::string find;
        bool onlyFailed = false;
        bool asJson = false;
        std::size_t limit = 100;
    };
    auto o = std::make_shared<Options>();
    CLI::App* command = app.add_subcommand("history", "Search what ran, newest first");
    command->footer(
        "--find takes words, all of which must occur, and among them: failed, slow, today, rows>1000.\n"
        "A run whose program was killed shows as interrupted.");
    command->add_option("-c,--connection", o->connection, "Only runs of this connection");
    command->add_option("--find", o->find, "What to look for")->type_name("TEXT");
    command->add_flag("--failed", o->onlyFailed, "Only runs that failed or were interrupted");
    command->add_option("--limit", o->limit, "At most this many (100)")->check(CLI::PositiveNumber);
    command->add_flag("--json", o->asJson, "Write JSON");
    command->callback([o, &context] {
        const store::Home home = context.home();
        if (Status status = home.prepare(); !status) return fail(context, status.error());
        auto ledger = store::Ledger::open(home.ledgerFile());
        if (!ledger) return fail(context, ledger.error());
        store::LedgerQuery query = store::parseLedgerSearch(o->find, base::now());
        query.onlyFailed = query.onlyFailed || o->onlyFailed;
        query.limit = o->limit;
        if (!o->connection.empty()) {
            auto connection = findConnection(context, o->connection);
            if (!connection) return fail(context, connection.error());
            query.connectionId = connection->profile.id;
        }
        auto entries = (*ledger)->find(query);
        if (!entries) return fail(context, entries.error());
        std::string separator = "[";
        for (const store::LedgerEntry& entry : *entries) {
            if (o->asJson) {
                fmt::print("{}{}", separator, entryJson(entry));
                separator = ",\n ";
            } else {
                printEntry(entry);
            }
        }
        if (o->asJson) fmt::print("{}]\n", entries->empty() ? "[" : "");
        if (!o->asJson && entries->empty()) tell(fmt::format("Nothing in {} fits.\n", home.ledgerFile().string()));
    });
}

}  // namespace pantry::cli
