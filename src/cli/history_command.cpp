#include <fmt/format.h>

#include <functional>
#include <memory>
#include <string>
#include <vector>

#include "cli/command.h"
#include "core/base/text.h"
#include "core/store/ledger_statistics.h"
#include "core/store/ledger_transfer.h"

namespace pantry::cli {
namespace {

struct HistoryOptions {
    std::string connection;
    bool isOfAll = false;
    std::string find;
    std::string since;
    bool onlyFailed = false;
    bool asJson = false;
    std::size_t limit = 100;
    std::string file;
};

void printEntry(const store::LedgerEntry& e) {
    const std::string rows = e.end.rows ? base::counted(*e.end.rows, "row", "rows") : "";
    fmt::print("{:<17} {:<11} {:>9} {:>14}  {:<22} {}\n", base::spoken(e.startedAt, base::now()),
               store::statusWord(e.end.status), base::readable(e.end.duration), rows, e.start.connectionName,
               base::oneLine(e.start.statement, 90));
    if (!e.end.error.empty()) fmt::print("{:>56}  {}\n", "", e.end.error);
    if (!e.note.empty()) fmt::print("{:>56}  note: {}\n", "", base::oneLine(e.note, 90));
}

void printAll(const std::vector<store::LedgerEntry>& entries, bool asJson) {
    if (!asJson) {
        for (const store::LedgerEntry& entry : entries) printEntry(entry);
        return;
    }
    std::string separator = "[";
    for (const store::LedgerEntry& entry : entries)
        fmt::print("{}{}", std::exchange(separator, ",\n "), store::ledgerLine(entry));
    fmt::print("{}]\n", entries.empty() ? "[" : "");
}

Result<std::unique_ptr<store::Ledger>> openLedger(const Context& context) {
    const store::Home home = context.home();
    if (Status status = home.prepare(); !status) return status.error();
    return store::Ledger::open(home.ledgerFile());
}

/// The runs that the options ask for.
Result<store::LedgerQuery> queryOf(const HistoryOptions& o, const Context& context) {
    std::string text = o.find;
    if (o.onlyFailed) text += " failed";
    if (!o.since.empty()) text += " since:" + o.since;
    store::LedgerQuery query{.search = store::parseLedgerSearch(text, base::now()), .limit = o.limit};
    if (!query.search.problems.empty()) {
        const store::LedgerSearchProblem& first = query.search.problems.front();
        return Error{.kind = ErrorKind::InvalidInput, .message = first.message};
    }
    if (o.connection.empty()) return query;
    auto connection = findConnection(context, o.connection);
    if (!connection) return connection.error();
    query.connections = {connection->profile.id};
    return query;
}

void listRuns(const HistoryOptions& o, Context& context) {
    auto ledger = openLedger(context);
    if (!ledger) return fail(context, ledger.error());
    const auto query = queryOf(o, context);
    if (!query) return fail(context, query.error());
    const auto entries = (*ledger)->find(*query);
    if (!entries) return fail(context, entries.error());
    printAll(*entries, o.asJson);
    if (!o.asJson && entries->empty()) tell(fmt::format("Nothing in {} fits.\n", context.home().ledgerFile().string()));
}

void exportRuns(const HistoryOptions& o, Context& context) {
    auto ledger = openLedger(context);
    if (!ledger) return fail(context, ledger.error());
    const auto query = queryOf(o, context);
    if (!query) return fail(context, query.error());
    const auto count = store::writeLedgerFile(**ledger, *query, o.file);
    if (!count) return fail(context, count.error());
    tell(fmt::format("Wrote {} to {}.\n", base::counted(static_cast<std::int64_t>(*count), "run", "runs"), o.file));
}

void importRuns(const HistoryOptions& o, Context& context) {
    const auto entries = store::readLedgerFile(o.file);
    if (!entries) return fail(context, entries.error());
    auto ledger = openLedger(context);
    if (!ledger) return fail(context, ledger.error());
    const auto added = (*ledger)->import(*entries);
    if (!added) return fail(context, added.error());
    const std::string known = *added == entries->size()
                                  ? ""
                                  : fmt::format(" {} were there already.",
                                                base::grouped(static_cast<std::int64_t>(entries->size() - *added)));
    tell(fmt::format("Added {}.{}\n", base::counted(static_cast<std::int64_t>(*added), "run", "runs"), known));
}

void printCounts(std::string_view heading, const std::vector<store::RunCount>& counts,
                 const std::function<std::string(const store::RunCount&)>& tell) {
    if (counts.empty()) return;
    fmt::print("{}\n", heading);
    for (const store::RunCount& one : counts)
        fmt::print("  {:>24}  {:<22} {}\n", tell(one), one.last.start.connectionName,
                   base::oneLine(one.last.start.statement, 90));
}

void printStatistics(const HistoryOptions& o, Context& context) {
    auto ledger = openLedger(context);
    if (!ledger) return fail(context, ledger.error());
    const auto query = queryOf(o, context);
    if (!query) return fail(context, query.error());
    base::Moment since{};
    for (const store::LedgerTerm& term : query->search.terms) {
        if (term.kind == store::LedgerTerm::Kind::Since) since = term.moment;
    }
    const auto counted = (*ledger)->statistics(query->connections, since);
    if (!counted) return fail(context, counted.error());
    fmt::print("{}, {} failed\n", base::counted(counted->runs, "run", "runs"), base::grouped(counted->failed));
    printCounts("Run most often", counted->most,
                [](const auto& one) { return base::counted(one.runs, "run", "runs"); });
    printCounts("Took longest in all", counted->longest, [](const auto& one) { return base::readable(one.total); });
    printCounts("Failed most often", counted->failing, [](const auto& one) {
        return fmt::format("{} of {}", base::grouped(one.failed), base::counted(one.runs, "run", "runs"));
    });
    printCounts("Got slower", counted->slower, [](const auto& one) {
        return fmt::format("{:.1f} times since {}", one.times, base::localDate(one.since));
    });
}

std::string helpOfSearch() {
    std::string help = "--find takes words, all of which must occur in statement, error or note, and conditions:\n";
    for (const store::LedgerSearchWord& one : store::ledgerSearchWords())
        help += fmt::format("  {:<18} {}\n", one.word, one.meaning);
    return help +
           "  -failed            a minus before any of them: not so\n"
           "A run whose program was killed shows as interrupted.";
}

void addSearch(CLI::App& command, HistoryOptions& o) {
    auto* one = command.add_option("-c,--connection", o.connection, "Only runs of this connection");
    command.add_flag("--all", o.isOfAll, "Runs of all connections (that is so without --connection)")->excludes(one);
    command.add_option("--find", o.find, "What to look for")->type_name("TEXT");
    command.add_option("--since", o.since, "Only runs of that day and later: 2026-11-01, today, yesterday")
        ->type_name("DAY");
    command.add_flag("--failed", o.onlyFailed, "Only runs that failed or were interrupted");
}

}  // namespace

void addHistory(CLI::App& app, Context& context) {
    auto o = std::make_shared<HistoryOptions>();
    CLI::App* command = app.add_subcommand("history", "Search what ran, newest first; export and import it");
    command->footer(helpOfSearch());
    addSearch(*command, *o);
    command->add_option("--limit", o->limit, "At most this many (100)")->check(CLI::PositiveNumber);
    command->add_flag("--json", o->asJson, "Write JSON");
    command->require_subcommand(0, 1);

    CLI::App* counted = command->add_subcommand("statistics", "What ran most, took longest, failed most, got slower");
    auto* of = counted->add_option("-c,--connection", o->connection, "Only runs of this connection");
    counted->add_flag("--all", o->isOfAll, "Runs of all connections (that is so without --connection)")->excludes(of);
    counted->add_option("--since", o->since, "Only runs of that day and later")->type_name("DAY");
    counted->callback([o, &context] { printStatistics(*o, context); });

    CLI::App* out = command->add_subcommand("export", "Write runs to a file: JSON Lines, or CSV by its name");
    addSearch(*out, *o);
    out->add_option("file", o->file, "FILE.jsonl or FILE.csv")->required();
    out->callback([o, &context] { exportRuns(*o, context); });

    CLI::App* in = command->add_subcommand("import", "Add the runs of such a file; those that are there are left out");
    in->add_option("file", o->file, "FILE.jsonl or FILE.csv")->required();
    in->callback([o, &context] { importRuns(*o, context); });

    command->callback([o, command, &context] {
        if (command->get_subcommands().empty()) listRuns(*o, context);
    });
}

}  // namespace pantry::cli
