#include <fmt/format.h>
#include <signal.h>
#include <spdlog/spdlog.h>
#include <unistd.h>
#include <algorithm>

#include <atomic>
#include <memory>
#include <thread>

#include "cli/command.h"
#include "cli/export_options.h"
#include "core/base/mutex.h"
#include "core/base/text.h"
#include "core/db/guard.h"
#include "core/db/session.h"
#include "core/exchange/row_export.h"
#include "core/exchange/table_text.h"
#include "core/sql/check/failure_advice.h"
#include "core/sql/syntax/splitter.h"
#include "core/store/guard_of_now.h"
#include "core/store/ledger.h"
#include "core/work/run_queue.h"
#include "core/work/run_record.h"

namespace pantry::cli {
namespace {

struct RunOptions {
    TextInput input;
    std::string connection;
    std::string as = "table";
    std::string to;
    std::size_t rows = 0;  // 0: all
    std::vector<std::string> values;
    std::string onError = "stop";
    std::string confirmed;    // the connection on which what is held back may run
    std::string environment;  // of a plain address
    bool showsProgress = false;
    ExportOptions exports;
};

/// Set by Ctrl+C; the waiting loop passes it on to the run.
std::atomic<bool> interrupted{false};
void noteInterrupt(int) { interrupted = true; }

/// Waits for the end of one run, showing progress meanwhile.
class Waiter final : public db::RunObserver {
public:
    explicit Waiter(bool showsProgress) : showsProgress_(showsProgress) {}

    void started(base::Moment) override {}
    void columns(data::ResultSetPtr result) override { results_.push_back(std::move(result)); }
    void notice(const db::Notice& notice) override {
        const base::Lock lock(mutex_);
        notices_.push_back(notice);
    }
    void rows(std::size_t count) override { rows_ = count; }
    void paused(std::size_t) override { end({}, {}, true); }
    void finished(const db::RunSummary& summary) override { end(summary, {}, false); }
    void failed(const Error& error, const db::RunSummary& summary) override { end(summary, error, false); }

    /// Until the run ended or paused; Ctrl+C stops it.
    void wait(const db::RunHandle& handle) {
        base::Lock lock(mutex_);
        bool isStopped = false;
        while (!lock.waitFor(wake_, std::chrono::milliseconds(50), [this]() REQUIRES(mutex_) { return isEnded_; })) {
            if (interrupted && !std::exchange(isStopped, true)) handle.cancel();
            if (showsProgress_)
                fmt::print(stderr, "\r{}", base::counted(static_cast<std::int64_t>(rows_), "row", "rows"));
        }
        if (showsProgress_)
            fmt::print(stderr, "\r{}\n", base::counted(static_cast<std::int64_t>(rows_), "row", "rows"));
    }

    [[nodiscard]] const db::RunSummary& summary() const { return summary_; }
    [[nodiscard]] const std::optional<Error>& error() const { return error_; }
    [[nodiscard]] const std::vector<data::ResultSetPtr>& results() const { return results_; }
    [[nodiscard]] const std::vector<db::Notice>& notices() const { return notices_; }
    [[nodiscard]] bool isPaused() const { return isPaused_; }

private:
    void end(const db::RunSummary& summary, std::optional<Error> error, bool isPaused) {
        const base::Lock lock(mutex_);
        if (isEnded_) return;  // a pause was told already
        summary_ = summary;
        error_ = std::move(error);
        isPaused_ = isPaused;
        isEnded_ = true;
        wake_.notify_all();
    }

    bool showsProgress_;
    base::Mutex mutex_;
    base::Condition wake_;
    bool isEnded_ = false;
    bool isPaused_ = false;
    std::atomic<std::size_t> rows_{0};
    db::RunSummary summary_;
    std::optional<Error> error_;
    std::vector<data::ResultSetPtr> results_;
    std::vector<db::Notice> notices_;
};

/// Runs the statements of one script, one after another.
class ScriptRunner final : private work::RunQueueClient {
public:
    ScriptRunner(Context& context, const RunOptions& options, store::ResolvedConnection connection)
        : context_(context),
          options_(options),
          profile_(connection.profile),
          session_(std::move(connection.profile), store::passwordProvider(std::move(connection.password))) {
        openLedger();
    }

    void run(const std::string& script) {
        auto values = parameterValues();
        if (!values) {
            context_.exitCode = kWrongUse;
            return warn(values.error());
        }
        values_ = std::move(*values);
        const sql::Language language = db::dialectOf(profile_.engine);
        spans_ = sql::splitStatements(script, language);
        if (spans_.empty()) return fail(context_, {.message = "There is no statement to run."});
        std::vector<sql::Statement> statements;
        for (const sql::StatementSpan& span : spans_) {
            statements.emplace_back(script.substr(span.start, span.length), language);
        }
        script_ = script;
        if (!mayRun(statements)) return;
        queue_.setOnError(options_.onError == "stop" ? work::OnError::Stop : work::OnError::GoOn);
        queue_.add(statements);
    }

private:
    static void warn(const Error& error) { tell(fmt::format("pantry: {}\n", error.text())); }

    void openLedger() {
        const store::Home home = context_.home();
        if (Status status = home.prepare(); !status) return warn(status.error());
        auto ledger = store::Ledger::open(home.ledgerFile());
        if (!ledger) return warn(ledger.error());  // the work goes on; it is only not kept
        ledger_ = std::move(*ledger);
    }

    [[nodiscard]] db::RunGuard guard() const {
        db::RunGuard guard = db::runGuardOf(profile_);
        guard.isConfirmed = options_.confirmed == profile_.name;
        return guard;
    }

    [[nodiscard]] std::optional<db::HeldBack> whyHeld(const sql::Statement& statement) const override {
        return db::heldBack(guard(), {.engine = profile_.engine}, statement);
    }
    bool send(const work::QueuedStatement& next, work::Consent /*consent*/) override {
        const sql::StatementSpan& span = spans_[sent_++];
        if (!runOne(span, next.statement)) queue_.noteFailed(next.batch, {});
        return !interrupted;
    }
    [[nodiscard]] std::size_t underWay() const override { return 0; }  // each is waited for
    [[nodiscard]] std::string connectionName() const override { return profile_.name; }
    void noteHeldChanged() override {}  // mayRun() has looked at all of them
    void noteLeftOut(std::size_t statements) override {
        if (interrupted) return;
        const auto count = static_cast<std::int64_t>(statements);
        tell(fmt::format("pantry: {} behind it not run.\n", base::counted(count, "statement", "statements")));
    }

    /// Before anything runs: what is held back needs the connection's name once more. The session looks again at each
    /// statement when its turn comes, since only the server knows what functions do.
    bool mayRun(const std::vector<sql::Statement>& statements) {
        for (std::size_t i = 0; i < statements.size(); ++i) {
            const auto held = whyHeld(statements[i]);
            if (!held) continue;
            failAt(context_, options_.input.name(), script_, spans_[i].start, heldError(*held, "so nothing was run"));
            return false;
        }
        return true;
    }

    [[nodiscard]] Error heldError(const db::HeldBack& held, std::string_view consequence) const {
        const bool isLive = profile_.environment == db::Environment::Live;
        return {.kind = ErrorKind::HeldBack,
                .message = fmt::format("Held back on {}{}, {}. {}", profile_.name, isLive ? ", which is live" : "",
                                       consequence, held.reason),
                .hint = fmt::format("To run it, add --confirm \"{}\".", profile_.name)};
    }

    Result<db::ParameterValues> parameterValues() const {
        db::ParameterValues values;
        for (const std::string& pair : options_.values) {
            const std::size_t equals = pair.find('=');
            if (equals == std::string::npos || equals == 0) {
                return Error{.kind = ErrorKind::InvalidInput,
                             .message = fmt::format("--set {} has no value.", pair),
                             .hint = "Write --set name=value."};
            }
            values[pair.substr(0, equals)] = pair.substr(equals + 1);
        }
        return values;
    }

    std::int64_t noteStart(const sql::Statement& statement) {
        if (!ledger_) return 0;
        return ledger_->start(work::startRecord(profile_, statement), base::now()).value_or(0);
    }

    void noteEnd(std::int64_t id, const Waiter& waiter, bool isPartial) {
        if (!ledger_ || id == 0) return;
        const std::string& onConnect = waiter.summary().ranOnConnect;
        if (!onConnect.empty()) (void)ledger_->end(noteStart(onConnect), {});
        const bool hasRows = waiter.summary().result.hasRows || waiter.summary().rowCount > 0;
        const auto rows = hasRows ? std::optional(static_cast<std::int64_t>(waiter.summary().rowCount)) : std::nullopt;
        (void)ledger_->end(
            id, work::endRecord(
                    {.summary = waiter.summary(), .rows = rows, .error = waiter.error(), .isPartial = isPartial}));
    }

    bool runOne(const sql::StatementSpan& span, const sql::Statement& statement) {
        const std::int64_t id = noteStart(statement);
        auto waiter = std::make_shared<Waiter>(options_.showsProgress);
        db::RunRequest request{
            .statement = statement, .parameters = values_, .pageRows = std::nullopt, .guard = guard()};
        if (!profile_.id.starts_with("address:")) {
            request.guardOfNow = store::guardOfNow(context_.home().connectionsFile(), profile_.id);
        }
        std::shared_ptr<exchange::RowExport> rows;
        if (options_.as == "table") {
            if (options_.rows > 0) request.pageRows = options_.rows;
        } else {
            rows = makeExport();
            request.consumer = std::make_shared<exchange::ExportConsumer>(rows);
        }
        const db::RunHandle handle = session_.execute(std::move(request), waiter);
        waiter->wait(handle);
        const bool hasEnough = rows && rows->hasEnough() && waiter->error();
        noteEnd(id, *waiter, hasEnough || waiter->isPaused());
        for (const db::Notice& n : waiter->notices())
            tell(fmt::format("{}: {}\n", base::toLower(n.severity), n.message));
        if (const auto& held = waiter->summary().held; held && waiter->error()) {
            const bool wasSent = waiter->summary().wasSent;
            return report(span, statement, heldError(*held, wasSent ? "by the server" : "so it was not run"));
        }
        if (waiter->error() && !hasEnough) return report(span, statement, abandoned(rows.get(), *waiter->error()));
        if (rows) {
            if (Status status = finish(*rows, *waiter); !status) {
                return report(span, statement, abandoned(rows.get(), status.error()));
            }
            return true;
        }
        print(*waiter, statement);
        handle.endIfPaused();
        return true;
    }

    std::shared_ptr<exchange::RowExport> makeExport() const {
        exchange::ExportChoices choices = options_.exports.choices();
        choices.format = exchange::formatFromWord(options_.as).value_or(exchange::Format::Csv);
        choices.forms.insert.dialect =
            sql::dialectFromName(options_.exports.dialect).value_or(db::dialectOf(profile_.engine));
        choices.mostRows = options_.rows;
        choices.takesSeveralResults = options_.to.empty() || options_.to == "-";
        std::unique_ptr<exchange::ExportTarget> target;
        if (options_.to.empty() || options_.to == "-") {
            target = std::make_unique<exchange::StreamTarget>(STDOUT_FILENO);
        } else {
            target = std::make_unique<exchange::FileTarget>(options_.to);
        }
        return std::make_shared<exchange::RowExport>(std::move(choices), std::move(target));
    }

    /// Statements without columns write nothing.
    Status finish(exchange::RowExport& rows, const Waiter& waiter) {
        if (!rows.hasBegun()) return {};
        const bool isFile = !options_.to.empty() && options_.to != "-";
        if (isFile && std::exchange(hasWrittenFile_, true)) {
            return Error{.kind = ErrorKind::InvalidInput,
                         .message = fmt::format("{} holds the rows of an earlier statement.", options_.to),
                         .hint = "Run the statements one by one, each with a file of its own."};
        }
        Status status = rows.finish();
        if (status && waiter.summary().rowCount > 0 && !rows.remark().empty()) {
            tell(fmt::format("pantry: {}\n", rows.remark()));
        }
        return status;
    }

    /// The error, and how far the export came.
    static Error abandoned(exchange::RowExport* rows, Error error) {
        if (rows == nullptr) return error;
        const std::string part = rows->abandon();
        const std::size_t count = rows->keptRowCount();
        if (part.empty()) return error;
        error.detail = fmt::format("{} came before; they are in {}.{}{}",
                                   base::counted(static_cast<std::int64_t>(count), "row", "rows"), part,
                                   error.detail.empty() ? "" : " ", error.detail);
        return error;
    }

    /// What the text adds to a complaint, and the catalog to one about a name: where it stands, which one may be meant.
    Error advised(const std::string& statement, const Error& complaint) {
        const sql::Dialect dialect = db::dialectOf(profile_.engine);
        const Error error = sql::withTextAdvice(complaint, statement, dialect);
        if (error.kind != ErrorKind::UnknownName) return error;
        const auto catalog = loadCatalogOf(session_);
        return catalog ? sql::withAdvice(error, statement, dialect, catalog::View(*catalog)) : error;
    }

    bool report(const sql::StatementSpan& span, const sql::Statement& statement, const Error& complaint) {
        const Error error = advised(statement.text(), complaint);
        failAt(context_, options_.input.name(), script_, span.start + error.byteOffset.value_or(0), error);
        spdlog::info("run failed on {}: {}", profile_.name, error.code);
        return false;
    }

    void print(const Waiter& waiter, const sql::Statement& statement) {
        std::string out;
        for (const data::ResultSetPtr& result : waiter.results()) {
            const std::size_t rows = result->rowCount();
            const bool hasMore = waiter.isPaused() && result == waiter.results().back();
            out += exchange::tableText(*result, rows);
            out += fmt::format(fmt::runtime(hasMore ? "first {}; there are more\n" : "{}\n"),
                               base::counted(static_cast<std::int64_t>(rows), "row", "rows"));
        }
        if (!waiter.results().empty()) {
            // The rows say it all.
        } else if (waiter.summary().result.affectedRows) {
            out = fmt::format("{} changed\n", base::counted(*waiter.summary().result.affectedRows, "row", "rows"));
        } else {
            out = fmt::format("done: {}\n", base::oneLine(statement.text(), 60));
        }
        if (Status status = writeOutput(options_.to, out); !status) fail(context_, status.error());
    }

    Context& context_;
    const RunOptions& options_;
    db::ConnectionProfile profile_;
    db::Session session_;
    std::unique_ptr<store::Ledger> ledger_;
    bool hasWrittenFile_ = false;
    db::ParameterValues values_;
    std::string script_;
    std::vector<sql::StatementSpan> spans_;
    std::size_t sent_ = 0;  // of them
    work::RunQueue queue_{*this};
};

}  // namespace

void addRun(CLI::App& app, Context& context) {
    auto o = std::make_shared<RunOptions>();
    CLI::App* command = app.add_subcommand("run", "Run SQL on a connection");
    command->footer(
        "Rows of all forms but table stream in constant memory. Every run is kept in the history, without secrets.\n"
        "Ctrl+C stops the statement at the database.\n"
        "Example: pantry run -c Kitchen -e \"SELECT * FROM batch WHERE jars > :least\" --set least=200 --as csv --to "
        "batch.csv");
    o->input.addTo(*command, true);
    command->add_option("-c,--connection", o->connection, "Saved connection or address")->required();
    std::vector<std::string> forms{"table"};
    for (std::string& word : exchange::formatWords()) forms.push_back(std::move(word));
    command->add_option("--as", o->as, "Form of the rows (table)")->check(CLI::IsMember(forms));
    command->add_option("--to", o->to, "Write FILE instead of standard output")->type_name("FILE");
    command->add_option("--rows", o->rows, "At most this many rows of each statement")->check(CLI::PositiveNumber);
    command->add_option("--set", o->values, "Value of a parameter, as name=value; once for each")
        ->type_name("NAME=VALUE");
    command->add_option("--on-error", o->onError, "After a statement that failed: stop or continue")
        ->check(CLI::IsMember({"stop", "continue"}));
    command->add_option("--confirm", o->confirmed, "Name of the connection on which what is held back may run")
        ->type_name("NAME");
    command
        ->add_option("--environment", o->environment,
                     "What an address leads to: local, trial or live (live, unless it is on this machine)")
        ->check(CLI::IsMember({"local", "trial", "live"}));
    command->add_flag("--progress", o->showsProgress, "Count the rows on standard error");
    o->exports.addTo(*command);
    command->callback([o, &context] {
        auto text = o->input.read();
        if (!text) return fail(context, text.error());
        auto connection = findConnection(context, o->connection);
        if (!connection) return fail(context, connection.error());
        if (!o->environment.empty()) {
            if (!connection->profile.id.starts_with("address:")) {
                fail(context, {.kind = ErrorKind::InvalidInput,
                               .message = fmt::format("--environment is for addresses, and {} is saved.",
                                                      connection->profile.name),
                               .hint = "Change the environment of the connection itself."});
                context.exitCode = kWrongUse;
                return;
            }
            connection->profile.environment = *db::environmentFromWord(o->environment);
        }
        ::signal(SIGINT, noteInterrupt);
        ScriptRunner(context, *o, std::move(*connection)).run(*text);
    });
}

}  // namespace pantry::cli
