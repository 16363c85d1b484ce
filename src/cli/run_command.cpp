#include <fmt/format.h>
#include <signal.h>
#include <unistd.h>

#include <atomic>
#include <memory>

#include "cli/command.h"
#include "cli/run_command.h"
#include "core/base/text.h"
#include "core/db/engine_traits.h"
#include "core/exchange/row_export.h"
#include "core/exchange/table_text.h"
#include "core/sql/syntax/splitter.h"
#include "core/store/log.h"
#include "core/work/document_runs.h"
#include "core/work/parameter_values.h"
#include "core/work/preferences.h"
#include "core/work/surroundings.h"
#include "core/work/work_loop.h"

namespace pantry::cli {
namespace {

/// Set by Ctrl+C; the waiting loop passes it on to the run.
std::atomic<bool> interrupted{false};
void noteInterrupt(int) { interrupted = true; }

/// What `pantry run` has around it: an application without a window, on this thread.
class Application {
public:
    Application(const store::Home& home, const store::ResolvedConnection& connection)
        : around_(home, loop_.owner(), [](const Error& error) { tell(fmt::format("pantry: {}\n", error.text())); }) {
        if (Status status = home.prepare(); !status) around_.raise(status.error());  // it is only not kept
        ledger_.open();
        connections_.lend(connection.profile, connection.password);
        session_.emplace(work::DocumentSession::Needs{around_.owner(), connections_, catalogs_, preferences_},
                         work::RunPlace{.connection = connection.profile.id},
                         work::DocumentSession::Told{
                             .changed = [] {}, .placeChanged = [] {}, .left = [] {}, .remarked = [](const auto&) {}});
    }

    [[nodiscard]] work::WorkLoop& loop() { return loop_; }
    [[nodiscard]] const work::OwnerThread& owner() const { return around_.owner(); }
    [[nodiscard]] work::DocumentSession& session() { return *session_; }
    [[nodiscard]] work::LedgerKeeper& ledger() { return ledger_; }
    [[nodiscard]] const db::ConnectionProfile& profile() const { return *session_->profile(); }

private:
    work::WorkLoop loop_;
    work::Surroundings around_;
    work::Preferences preferences_{around_, [] {}};
    work::LedgerKeeper ledger_{around_, [] {}};
    work::Connections connections_{around_,
                                   {.changed = [] {}, .ledElsewhere = [](const auto&) {}, .begun = [](const auto&) {}}};
    work::Catalogs catalogs_{
        around_, connections_, {[](const auto&) {}, [](const auto&) {}, [](const auto&, const auto&) {}}};
    std::optional<work::DocumentSession> session_;
};

/// Runs the statements of one script, one after another, and prints or writes what they return.
class ScriptRunner final : private work::RunsClient {
public:
    ScriptRunner(Context& context, const RunChoices& options, const store::ResolvedConnection& connection)
        : context_(context), options_(options), application_(context.home(), connection) {}

    void run(const std::string& script) {
        if (const Status status = takeValues(); !status) {
            context_.exitCode = kWrongUse;
            return tell(fmt::format("pantry: {}\n", status.error().text()));
        }
        script_ = script;
        spans_ = sql::splitStatements(script, language());
        if (spans_.empty()) return fail(context_, {.message = "There is no statement to run."});
        std::vector<sql::Statement> statements;
        for (const sql::StatementSpan& span : spans_) {
            const sql::Statement statement(script.substr(span.start, span.length), language());
            statements.push_back(work::withTyped(statement, typed_));
        }
        runs_.sendOneByOne();
        runs_.setOnError(options_.onError == "stop" ? work::OnError::Stop : work::OnError::GoOn);
        if (!options_.confirmed.empty()) runs_.confirmAhead(options_.confirmed);
        if (!mayRun(statements)) return;
        runs_.add(statements);
        application_.loop().until([this] { return !runs_.held() && !runs_.isRunning(); }, [this] { lookUp(); });
    }

private:
    // ---- The client of what runs ----

    [[nodiscard]] std::string documentTitle() const override { return {}; }
    [[nodiscard]] std::string savedQuery() const override { return options_.saved; }
    [[nodiscard]] sql::Language language() const override { return db::dialectOf(application_.profile().engine); }
    /// It takes its time, so that it is read only for a name that nobody knows; on this connection, which may have
    /// tables of its own.
    [[nodiscard]] catalog::View catalogFor(const Error& error) const override {
        if (error.kind != ErrorKind::UnknownName) return {};
        const auto catalog = loadCatalogOf(*application_.session().session());
        return catalog ? catalog::View(*catalog) : catalog::View();
    }
    void noteAdded(const work::RunPtr& /*run*/) override {}
    void noteRemoved(const work::RunPtr& /*run*/) override {}
    void noteRunning() override {}
    void noteNowhere() override {}
    void noteChanged(const work::RunPtr& run, work::RunChange change) override {
        if (change == work::RunChange::Rows) rowsRead_ = run->rowsRead();
        if (change == work::RunChange::Notices) printNotices(*run);
        if (change == work::RunChange::Rested && run != concluded_ && !export_) addToPrint(*run);  // more results come
        if (change == work::RunChange::Failed) {
            endProgress();
            if (!printed_.empty()) write();
            report(*run->error());
        }
    }
    /// mayRun() has looked at all of them; only the session knows what else a function does.
    void noteHeld() override {
        if (!runs_.held()) return;
        report(heldError(runs_.held()->why, "so it was not run"));
        application_.owner().post([this] { runs_.passOver(); });
    }
    void remark(const std::string& text) override {
        if (!interrupted) tell(fmt::format("pantry: {}\n", text));
    }
    void prepare(db::RunRequest& request) override {
        span_ = &spans_[sent_++];
        told_ = 0;
        rowsRead_ = 0;
        request.pageRows = std::nullopt;
        export_.reset();
        if (options_.as == "table") {
            if (options_.rows > 0) request.pageRows = options_.rows;
            return;
        }
        export_ = makeExport();
        request.consumer = std::make_shared<exchange::ExportConsumer>(export_);
    }
    Status conclude(const work::RunPtr& run) override {
        rowsRead_ = run->rowsRead();
        concluded_ = run;
        endProgress();
        if (export_) return finish(*run);
        addToPrint(*run);
        write();
        runs_.endPaused(run);
        return {};
    }

    /// Between events: whether somebody wants it to end, how far it has come.
    void lookUp() {
        if (interrupted && !std::exchange(isStopped_, true)) runs_.stop();
        if (options_.showsProgress) tellProgress("");
    }
    void tellProgress(std::string_view end) const {
        tell(fmt::format("\r{}{}", base::counted(static_cast<std::int64_t>(rowsRead_), "row", "rows"), end));
    }
    void endProgress() const {
        if (options_.showsProgress) tellProgress("\n");
    }

    // ---- What is held back ----

    /// Before anything runs: what is held back needs the connection's name once more. The session looks again at each
    /// statement when its turn comes, since only the server knows what functions do.
    bool mayRun(const std::vector<sql::Statement>& statements) {
        for (std::size_t i = 0; i < statements.size(); ++i) {
            const auto held = runs_.whyHeld(statements[i]);
            if (!held) continue;
            failAt(context_, options_.inputName, script_, spans_[i].start, heldError(*held, "so nothing was run"));
            return false;
        }
        return true;
    }

    [[nodiscard]] Error heldError(const db::HeldBack& held, std::string_view consequence) const {
        const db::ConnectionProfile& profile = application_.profile();
        const bool isLive = profile.environment == db::Environment::Live;
        return {.kind = ErrorKind::HeldBack,
                .message = fmt::format("Held back on {}{}, {}. {}", profile.name, isLive ? ", which is live" : "",
                                       consequence, held.reason),
                .hint = fmt::format("To run it, add --confirm \"{}\".", profile.name)};
    }

    /// What --set says.
    Status takeValues() {
        for (const std::string& pair : options_.values) {
            const std::size_t equals = pair.find('=');
            if (equals == std::string::npos || equals == 0) {
                return Error{.kind = ErrorKind::InvalidInput,
                             .message = fmt::format("--set {} has no value.", pair),
                             .hint = "Write --set name=value."};
            }
            typed_.insert_or_assign(pair.substr(0, equals), pair.substr(equals + 1));
        }
        return {};
    }

    // ---- What comes of it ----

    [[nodiscard]] bool isToFile() const { return !options_.to.empty() && options_.to != "-"; }

    [[nodiscard]] std::shared_ptr<exchange::RowExport> makeExport() const {
        exchange::ExportChoices choices = options_.exports.choices();
        choices.format = exchange::formatFromWord(options_.as).value_or(exchange::Format::Csv);
        choices.forms.insert.dialect = sql::dialectFromName(options_.exports.dialect).value_or(language().dialect);
        choices.mostRows = options_.rows;
        choices.takesSeveralResults = !isToFile();
        std::unique_ptr<exchange::ExportTarget> target;
        if (isToFile()) {
            target = std::make_unique<exchange::FileTarget>(options_.to);
        } else {
            target = std::make_unique<exchange::StreamTarget>(STDOUT_FILENO);
        }
        return std::make_shared<exchange::RowExport>(std::move(choices), std::move(target));
    }

    /// Statements without columns write nothing.
    Status finish(const work::Run& run) {
        if (!export_->hasBegun()) return {};
        if (isToFile() && std::exchange(hasWrittenFile_, true)) {
            return Error{.kind = ErrorKind::InvalidInput,
                         .message = fmt::format("{} holds the rows of an earlier statement.", options_.to),
                         .hint = "Run the statements one by one, each with a file of its own."};
        }
        Status status = export_->finish();
        if (status && run.rowsRead() > 0 && !export_->remark().empty()) {
            tell(fmt::format("pantry: {}\n", export_->remark()));
        }
        return status;
    }

    /// The error, and how far the export came.
    [[nodiscard]] Error abandoned(Error error) const {
        if (!export_) return error;
        const std::string part = export_->abandon();
        const std::size_t count = export_->keptRowCount();
        if (part.empty()) return error;
        error.detail = fmt::format("{} came before; they are in {}.{}{}",
                                   base::counted(static_cast<std::int64_t>(count), "row", "rows"), part,
                                   error.detail.empty() ? "" : " ", error.detail);
        return error;
    }

    void report(const Error& complaint) {
        const Error error = abandoned(complaint);
        failAt(context_, options_.inputName, script_, span_->start + error.byteOffset.value_or(0), error);
        store::log(store::LogLevel::Note, fmt::format("run failed on {}: {}", application_.profile().name, error.code));
    }

    void printNotices(const work::Run& run) {
        for (; told_ < run.messages().size(); ++told_) {
            const db::Notice& notice = run.messages()[told_].notice;
            tell(fmt::format("{}: {}\n", base::toLower(notice.severity), notice.message));
        }
    }

    /// All results of a statement go into one file.
    void addToPrint(const work::Run& run) {
        if (run.result()) {
            const std::size_t rows = run.rowCount();
            printed_ += exchange::tableText(*run.result(), rows);
            printed_ += fmt::format(fmt::runtime(run.hasMore() ? "first {}; there are more\n" : "{}\n"),
                                    base::counted(static_cast<std::int64_t>(rows), "row", "rows"));
        } else if (run.summary().result.affectedRows) {
            printed_ += fmt::format("{} changed\n", base::counted(*run.summary().result.affectedRows, "row", "rows"));
        } else {
            printed_ += fmt::format("done: {}\n", base::oneLine(run.statement().text(), 60));
        }
    }
    void write() {
        if (Status status = writeOutput(options_.to, printed_); !status) fail(context_, status.error());
        if (!isToFile()) printed_.clear();  // a file is written anew with what was in it before
    }

    Context& context_;
    const RunChoices& options_;
    mutable Application application_;
    std::map<std::string, std::string, std::less<>> typed_;  // values of parameters
    std::string script_;
    std::vector<sql::StatementSpan> spans_;
    std::size_t sent_ = 0;                         // of them
    const sql::StatementSpan* span_ = nullptr;     // the one that runs
    std::shared_ptr<exchange::RowExport> export_;  // of what runs, unless it is printed
    bool hasWrittenFile_ = false;
    work::RunPtr concluded_;  // the one before
    std::string printed_;     // and not written yet; for a file, all of it
    std::size_t told_ = 0;    // of its messages
    std::size_t rowsRead_ = 0;
    bool isStopped_ = false;
    work::DocumentRuns runs_{{application_.owner(), application_.session(), application_.ledger()}, *this};
};

}  // namespace

void RunChoices::addTo(CLI::App& command) {
    std::vector<std::string> forms{"table"};
    for (std::string& word : exchange::formatWords()) forms.push_back(std::move(word));
    command.add_option("--as", as, "Form of the rows (table)")->check(CLI::IsMember(forms));
    command.add_option("--to", to, "Write FILE instead of standard output")->type_name("FILE");
    command.add_option("--rows", rows, "At most this many rows of each statement")->check(CLI::PositiveNumber);
    command.add_option("--set", values, "Value of a parameter, as name=value; once for each")->type_name("NAME=VALUE");
    command.add_option("--on-error", onError, "After a statement that failed: stop or continue")
        ->check(CLI::IsMember({"stop", "continue"}));
    command.add_option("--confirm", confirmed, "Name of the connection on which what is held back may run")
        ->type_name("NAME");
    command
        .add_option("--environment", environment,
                    "What an address leads to: local, trial or live (live, unless it is on this machine)")
        ->check(CLI::IsMember({"local", "trial", "live"}));
    command.add_flag("--progress", showsProgress, "Count the rows on standard error");
    exports.addTo(command);
}

void runScript(Context& context, const RunChoices& choices, const std::string& script) {
    auto connection = findConnection(context, choices.connection);
    if (!connection) return fail(context, connection.error());
    if (!choices.environment.empty()) {
        if (!connection->profile.id.starts_with("address:")) {
            fail(context,
                 {.kind = ErrorKind::InvalidInput,
                  .message = fmt::format("--environment is for addresses, and {} is saved.", connection->profile.name),
                  .hint = "Change the environment of the connection itself."});
            context.exitCode = kWrongUse;
            return;
        }
        connection->profile.environment = *db::environmentFromWord(choices.environment);
    }
    ::signal(SIGINT, noteInterrupt);
    ScriptRunner(context, choices, *connection).run(script);
}

void addRun(CLI::App& app, Context& context) {
    struct Options {
        TextInput input;
        RunChoices choices;
    };
    auto o = std::make_shared<Options>();
    CLI::App* command = app.add_subcommand("run", "Run SQL on a connection");
    command->footer(
        "Rows of all forms but table stream in constant memory. Every run is kept in the history, without secrets.\n"
        "Ctrl+C stops the statement at the database.\n"
        "Example: pantry run -c Kitchen -e \"SELECT * FROM batch WHERE jars > :least\" --set least=200 --as csv --to "
        "batch.csv");
    o->input.addTo(*command, true);
    command->add_option("-c,--connection", o->choices.connection, "Saved connection or address")->required();
    o->choices.addTo(*command);
    command->callback([o, &context] {
        auto text = o->input.read();
        if (!text) return fail(context, text.error());
        o->choices.inputName = o->input.name();
        runScript(context, o->choices, *text);
    });
}

}  // namespace pantry::cli
