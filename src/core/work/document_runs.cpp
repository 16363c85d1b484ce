#include "core/work/document_runs.h"

#include <fmt/format.h>

#include <algorithm>
#include <utility>

#include "core/base/text.h"
#include "core/db/engine_traits.h"
#include "core/sql/check/failure_advice.h"
#include "core/store/log.h"
#include "core/work/not_again.h"
#include "core/work/run_events.h"

namespace pantry::work {
namespace {

constexpr std::size_t kMaxRuns = 200;  // that are shown; their rows share a limit of their own

}  // namespace

DocumentRuns::DocumentRuns(const Needs& needs, RunsClient& client)
    : owner_(needs.owner), session_(needs.session), ledger_(needs.ledger), memory_(needs.memory), client_(client) {}

// ---- The queue's client ----

std::optional<db::HeldBack> DocumentRuns::whyHeld(const sql::Statement& statement) const {
    return isConfirmedAhead_ ? std::nullopt : session_.whyHeld(statement);
}

bool DocumentRuns::send(const QueuedStatement& next, Consent consent) {
    if (isConfirmedAhead_ && consent == Consent::None) consent = Consent::Confirmed;
    return start(next, consent) != nullptr;
}

std::size_t DocumentRuns::underWay() const {
    return static_cast<std::size_t>(std::ranges::count_if(runs_, [](const RunPtr& run) { return run->isGoingOn(); }));
}

std::string DocumentRuns::connectionName() const {
    return session_.profile() != nullptr ? session_.profile()->name : std::string();
}

void DocumentRuns::noteLeftOut(std::size_t statements) {
    const auto count = static_cast<std::int64_t>(statements);
    client_.remark(base::counted(count, "statement", "statements") + " behind it not run.");
}

// ---- Running ----

bool DocumentRuns::isUnderWay(const sql::Statement& statement) const {
    const auto isGoing = [&](const RunPtr& run) { return run->isGoingOn() && run->statement() == statement; };
    return !held() && (std::ranges::any_of(runs_, isGoing) || queue_.isWaiting(statement));
}

void DocumentRuns::confirm(const std::string& name) {
    if (const Status confirmed = queue_.confirm(name); !confirmed) client_.remark(confirmed.error().text());
}

void DocumentRuns::connectWith(const std::string& password) {
    if (const auto refused = session_.connectWith(password)) queue_.add({*refused});
}

void DocumentRuns::stop() {
    queue_.stop();
    for (const GoingPtr& going : going_) {
        if (going->run->isGoingOn()) going->handle.cancel();
    }
}

/// Where statements run now, for people.
std::string DocumentRuns::placeText() const {
    const db::ConnectionProfile* p = session_.profile();
    if (p == nullptr) return {};
    const std::string& now = session_.state().connection.database;
    const std::string& database = now.empty() ? p->database : now;
    return database.empty() || db::isFile(p->engine) ? p->name : p->name + " · " + database;
}

/// Sends a statement. `again`: the run whose place its rows take.
DocumentRuns::GoingPtr DocumentRuns::start(const QueuedStatement& next, Consent consent, const RunPtr& again) {
    db::Session* session = session_.session();
    if (session == nullptr) {
        client_.noteNowhere();
        return nullptr;
    }
    auto going = std::make_shared<Going>();
    going->run = again ? again : std::make_shared<Run>(next.statement, nextNumber_++);
    going->batch = next.batch;
    going->attempt = session_.attempts();
    going->run->setPlace(session_.origin(), placeText());
    addRun(going);
    // The ledger has the run before the server has.
    going->entry = ledger_.start(record(next.statement), going->run->startedAt(), whileThere_([this, run = going->run] {
                                     run->noteKept();
                                     if (isHere(run)) client_.noteChanged(run, RunChange::Looks);
                                 }));
    db::RunRequest request = session_.request(next.statement, consent, queue_.batchToSend(next));
    client_.prepare(request);
    going->handle = session->execute(std::move(request), follow(going));
    forgetOldest();
    client_.noteRunning();
    return going;
}

void DocumentRuns::addRun(const GoingPtr& going) {
    std::erase_if(going_, [&](const GoingPtr& other) { return other->run == going->run; });
    going_.push_back(going);
    if (isHere(going->run)) return;
    runs_.push_back(going->run);
    client_.noteAdded(going->run);
}

/// Each result of a statement is a run; what the session tells is about the last one.
std::shared_ptr<db::RunObserver> DocumentRuns::follow(const GoingPtr& first) {
    const auto last = std::make_shared<GoingPtr>(first);
    const auto tell = [this](const RunPtr& run, RunChange change) {
        if (isHere(run)) client_.noteChanged(run, change);
    };
    return runEvents(owner_, whileThere_.there(),
                     {.started =
                          [last, tell] {
                              (*last)->run->noteStarted();
                              tell((*last)->run, RunChange::Started);
                          },
                      .columns =
                          [this, last](const data::ResultSetPtr& result) {
                              if (!isHere((*last)->run)) return;
                              if ((*last)->run->result()) *last = addNext(**last);
                              noteColumns(*(*last)->run, result);
                              client_.noteChanged((*last)->run, RunChange::Result);
                          },
                      .notices =
                          [last, tell](const std::vector<db::Notice>& notices) {
                              (*last)->run->noteNotices(notices);
                              tell((*last)->run, RunChange::Notices);
                          },
                      .rows =
                          [this, last, tell](std::size_t rows) {
                              (*last)->run->noteRows(rows);
                              if (memory_ != nullptr) memory_->enforce();
                              tell((*last)->run, RunChange::Rows);
                          },
                      .paused = [this, last](std::size_t rows) { notePaused(*last, rows); },
                      .finished = [this, last](const db::RunSummary& summary) { noteFinished(*last, summary); },
                      .failed = [this, last](const Error& error,
                                             const db::RunSummary& summary) { noteFailed(*last, error, summary); }});
}

// ---- What becomes of a run ----

void DocumentRuns::noteColumns(Run& run, const data::ResultSetPtr& result) {
    run.noteResult(result);
    if (memory_ != nullptr) memory_->keep(result, run.isPinned());
}

/// For the next result of a statement.
DocumentRuns::GoingPtr DocumentRuns::addNext(const Going& before) {
    before.run->noteNextResult();
    client_.noteChanged(before.run, RunChange::Rested);
    auto next = std::make_shared<Going>(before);
    next->run = std::make_shared<Run>(before.run->statement(), nextNumber_++);
    next->run->setTitle(before.run->title());
    next->run->setPlace(before.run->origin(), before.run->place());
    next->run->noteStarted();
    if (before.run->isKept()) next->run->noteKept();
    addRun(next);
    return next;
}

void DocumentRuns::notePaused(const GoingPtr& going, std::size_t rows) {
    going->run->noteRows(rows);
    going->run->notePaused();
    if (const Status concluded = client_.conclude(going->run); !concluded) {
        return noteFailure(going, concluded.error(), going->run->summary());
    }
    noteEnd(going, RunChange::Rested);
    queue_.goOn();
}

void DocumentRuns::noteFinished(const GoingPtr& going, const db::RunSummary& summary) {
    noteConnected(summary);
    session_.note(summary.session);
    const RunState before = going->run->state();
    going->run->noteFinished(summary);
    if (before != RunState::Paused) {
        if (const Status concluded = client_.conclude(going->run); !concluded) {
            return noteFailure(going, concluded.error(), summary);
        }
    }
    noteEnd(going, RunChange::Rested);
    session_.noteFinished(going->run->statement());
    if (before != RunState::Paused) queue_.goOn();
}

void DocumentRuns::noteFailed(const GoingPtr& going, const Error& error, const db::RunSummary& summary) {
    noteConnected(summary);
    const sql::Statement statement = isHere(going->run) ? going->run->statement() : sql::Statement();
    const bool runsAgain = session_.noteFailed(error, summary, statement, going->attempt);
    noteFailure(going, advised(error, going->run->statement().text()), summary);
    if (runsAgain && !statement.text().empty()) queue_.add({statement});
}

/// What the text and the catalog add to a complaint of the server.
Error DocumentRuns::advised(const Error& complaint, const std::string& statement) const {
    const sql::Language language = client_.language();
    const Error error = sql::withTextAdvice(complaint, statement, language);
    return sql::withAdvice(error, statement, language, client_.catalogFor(error));
}

/// What was held back waits in the queue; what was not sent behind it, too, or is given up with its batch.
void DocumentRuns::noteFailure(const GoingPtr& going, const Error& error, const db::RunSummary& summary) {
    const QueuedStatement failed{going->run->statement(), going->batch};
    going->run->noteFailed(error, summary);
    if (summary.isBehindBroken) {  // told with the one that failed
        if (held()) queue_.noteNotRun(failed);
        return dropUnsent(going);
    }
    if (!summary.held || summary.wasSent) noteEnd(going, RunChange::Failed);
    if (!summary.held) {
        return queue_.noteFailed(
            going->batch, fmt::format("Statement {} failed: {}", going->run->number(), going->run->outcomeText()));
    }
    if (!isHere(going->run)) return queue_.goOn();
    queue_.noteHeld(failed, *summary.held);
    if (summary.wasSent) return;
    ledger_.end(going->entry, going->run->record());  // that somebody wanted it is worth knowing
    drop(going);
}

store::RunStart DocumentRuns::record(const sql::Statement& statement) const {
    store::RunStart start = session_.record(statement, client_.documentTitle());
    start.saved = client_.savedQuery();
    return start;
}

/// The statements that the connection runs by itself, when one was opened for a run.
void DocumentRuns::noteConnected(const db::RunSummary& summary) {
    const auto ran = session_.ranOnConnect(summary);
    if (!ran) return;
    ledger_.end(ledger_.start(record(*ran), summary.startedAt), {});
}

/// The ledger hears also of one that nobody looks at any more.
void DocumentRuns::noteEnd(const GoingPtr& going, RunChange change) {
    const store::RunEnd end = going->run->record();
    ledger_.end(going->entry, end);
    store::log(store::LogLevel::Detail, fmt::format("run {} on {}: {}", going->run->number(),
                                                    session_.place().connection, store::statusWord(end.status)));
    if (isHere(going->run)) client_.noteChanged(going->run, change);
    client_.noteRunning();
}

/// No server has seen it, nor was there anything to decide: the ledger does not tell of it either.
void DocumentRuns::dropUnsent(const GoingPtr& going) {
    ledger_.remove(going->entry);
    drop(going);
}

void DocumentRuns::drop(const GoingPtr& going) {
    remove(going->run);
    if (!isRunning()) {  // its number is free again
        nextNumber_ = 1;
        for (const RunPtr& run : runs_) nextNumber_ = std::max(nextNumber_, run->number() + 1);
    }
    client_.noteRunning();
}

// ---- What is there ----

bool DocumentRuns::isHere(const RunPtr& run) const { return std::ranges::find(runs_, run) != runs_.end(); }

DocumentRuns::GoingPtr DocumentRuns::goingOf(const RunPtr& run) const {
    const auto found = std::ranges::find(going_, run, &Going::run);
    return found == going_.end() ? nullptr : *found;
}

void DocumentRuns::remove(const RunPtr& wanted) {
    const RunPtr run = wanted;  // what was given may be the one in the list
    if (const GoingPtr going = goingOf(run)) going->handle.cancel();
    std::erase_if(going_, [&](const GoingPtr& going) { return going->run == run; });
    if (std::erase(runs_, run) > 0) client_.noteRemoved(run);
}

void DocumentRuns::restore(const RunPtr& run) {
    if (std::ranges::find(runs_, run->number(), &Run::number) != runs_.end()) return;
    nextNumber_ = std::max(nextNumber_, run->number() + 1);
    runs_.push_back(run);
    if (run->result() && memory_ != nullptr) memory_->keep(run->result(), run->isPinned());
    client_.noteAdded(run);
}

void DocumentRuns::move(const RunPtr& run, int by) {
    const auto found = std::ranges::find(runs_, run);
    if (found == runs_.end()) return;
    const auto at = static_cast<int>(found - runs_.begin());
    const int to = std::clamp(at + by, 0, static_cast<int>(runs_.size()) - 1);
    if (to == at) return;
    std::swap(runs_[static_cast<std::size_t>(at)], runs_[static_cast<std::size_t>(to)]);
    client_.noteMoved(runs_[static_cast<std::size_t>(to)], to);
}

void DocumentRuns::setPinned(const RunPtr& run, bool isPinned) {
    run->setPinned(isPinned);
    if (run->result() && memory_ != nullptr) memory_->pin(run->result(), isPinned);
}

void DocumentRuns::addComparison(const std::string& title, const data::ResultSetPtr& differences,
                                 const std::string& text) {
    const auto run =
        std::make_shared<Run>(sql::Statement(std::string(), session_.language(client_.language())), nextNumber_++);
    run->setTitle(title);
    run->setPlace(session_.origin(), "two results");
    runs_.push_back(run);
    client_.noteAdded(run);
    run->becomeComparison(differences, text);
    if (memory_ != nullptr) memory_->keep(differences, false);
    client_.noteChanged(run, RunChange::Rested);
    forgetOldest();
}

/// Beyond very many the oldest go, but for pinned ones.
void DocumentRuns::forgetOldest() {
    while (runs_.size() > kMaxRuns) {
        const auto oldest =
            std::ranges::find_if(runs_, [](const RunPtr& run) { return !run->isGoingOn() && !run->isPinned(); });
        if (oldest == runs_.end() || *oldest == runs_.back()) return;
        remove(*oldest);
    }
}

// ---- Once more ----

void DocumentRuns::fetchMore(const RunPtr& run, std::size_t rows) {
    const GoingPtr going = goingOf(run);
    if (!going || run->state() != RunState::Paused) return;
    run->noteResumed();
    going->handle.fetchMore(rows);
    client_.noteRunning();
}

void DocumentRuns::fetchAll(const RunPtr& run) {
    if (const GoingPtr going = goingOf(run); going && run->state() == RunState::Paused) {
        run->noteResumed();
        going->handle.fetchAll();
        return client_.noteRunning();
    }
    if (run->state() != RunState::Partial) return;
    if (!isFromHere(*run)) {
        return client_.remark(
            fmt::format("This result came from {}. Go there with this sheet to read its other rows.", run->place()));
    }
    if (!run->statement().reading().isPlain()) {
        return client_.remark("The statement may change something, so it is not run again for its other rows.");
    }
    const QueuedStatement again{run->statement(), std::make_shared<db::RunBatch>()};
    if (const GoingPtr fresh = start(again, Consent::OnlyIfItReads)) fresh->handle.fetchAll();
}

void DocumentRuns::endPaused(const RunPtr& run) {
    if (const GoingPtr going = goingOf(run)) going->handle.endIfPaused();
}

void DocumentRuns::rerun(const RunPtr& run) {
    if (run->isGoingOn()) return;
    if (run->isComparison()) return client_.remark("A comparison has no statement to run; compare once more.");
    if (!isFromHere(*run)) {
        return client_.remark(fmt::format(
            "This result came from {}. Go there with this sheet to run its statement again.", run->place()));
    }
    if (whyHeld(run->statement())) return queue_.add({run->statement()});  // asked first, and then a run of its own
    if (session_.profile() == nullptr) return client_.noteNowhere();
    if (const GoingPtr before = goingOf(run)) {
        before->run = std::make_shared<Run>(run->statement(), run->number());  // its end is told to the ledger only
    }
    run->beginAnew();
    start({run->statement(), std::make_shared<db::RunBatch>()}, Consent::None, run);
}

std::optional<Error> DocumentRuns::whyNotAgain(const Run& run) const {
    if (run.isComparison()) return nothingToRunAgain();
    if (!isFromHere(run)) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = fmt::format("This result came from {}.", run.place()),
                     .hint = "Its sheet is elsewhere now. Go back there to export all rows of the statement."};
    }
    if (!run.statement().reading().isPlain()) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = "The statement may change something, so it is not run again for an export.",
                     .hint = "Read all rows first, then export them."};
    }
    return std::nullopt;
}

std::optional<RunBeside> DocumentRuns::runBeside(db::RunRequest request, std::shared_ptr<db::RunObserver> observer,
                                                 bool isInThisSession) {
    request.guard = db::onlyReading();  // it runs a second time
    if (isInThisSession) {
        db::Session* session = isRunning() ? nullptr : session_.session();
        if (session == nullptr) return std::nullopt;
        return RunBeside{session->execute(std::move(request), std::move(observer)), nullptr};
    }
    std::shared_ptr<db::Session> session = session_.another();
    if (!session) return std::nullopt;
    return RunBeside{session->execute(std::move(request), std::move(observer)), session};
}

}  // namespace pantry::work
