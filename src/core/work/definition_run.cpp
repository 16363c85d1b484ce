#include "core/work/definition_run.h"

#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <utility>

#include "core/base/text.h"
#include "core/db/engine_traits.h"

namespace pantry::work {
namespace {

constexpr std::chrono::seconds kLockLimit{10};

bool isBegin(const std::string& statement) { return base::startsWithIgnoringCase(statement, "begin"); }
bool isCommit(const std::string& statement) { return base::equalsIgnoringCase(statement, "commit"); }

/// Rows of this one tell of keys that lead nowhere.
bool isKeyCheck(const std::string& statement) {
    return base::startsWithIgnoringCase(statement, "pragma") && statement.ends_with("foreign_key_check");
}

}  // namespace

std::vector<sql::DefinitionStep> stepsToRun(const sql::DefinitionChange& change, db::Engine engine) {
    const db::EngineTraits& traits = db::traitsOf(engine);
    std::vector<sql::DefinitionStep> steps;
    if (change.isEmpty()) return steps;
    if (traits.setLockLimit != nullptr) {
        steps.push_back({traits.setLockLimit(kLockLimit), "Wait at most ten seconds for locks of others"});
    }
    const bool standsAlone = change.hasOwnTransaction || change.isOneByOne || change.steps.size() == 1;
    const bool isWrapped = traits.canRollBackDefinitions && !standsAlone;
    if (isWrapped) steps.push_back({std::string(traits.beginTransaction), "Begin a transaction"});
    steps.insert(steps.end(), change.steps.begin(), change.steps.end());
    if (isWrapped) steps.push_back({"COMMIT", "Keep it all"});
    return steps;
}

DefinitionRun::DefinitionRun(const Needs& needs, RunPlace place, std::string title, Told told)
    : owner_(needs.owner),
      title_(std::move(title)),
      told_(std::move(told)),
      session_({.owner = needs.owner,
                .connections = needs.connections,
                .catalogs = needs.catalogs,
                .preferences = needs.preferences},
               std::move(place),
               {.changed = [] {}, .placeChanged = [] {}, .left = [] {}, .remarked = [](const std::string&) {}}),
      runs_({.owner = needs.owner, .session = session_, .ledger = needs.ledger}, *this) {
    runs_.sendOneByOne();
}

DefinitionRun::~DefinitionRun() = default;

sql::Language DefinitionRun::language() const {
    return session_.language(profile() != nullptr ? db::dialectOf(profile()->engine) : sql::Dialect::Ansi);
}

std::string DefinitionRun::whyHeld(const sql::DefinitionChange& change) const {
    for (const sql::DefinitionStep& step : change.steps) {
        if (const auto held = session_.whyHeld(sql::Statement(step.statement, language()))) return held->reason;
    }
    return {};
}

void DefinitionRun::run(const sql::DefinitionChange& change, const std::string& name) {
    if (isRunning_ || profile() == nullptr) return;
    steps_ = stepsToRun(change, profile()->engine);
    at_ = 0;
    const auto own = std::search(steps_.begin(), steps_.end(), change.steps.begin(), change.steps.end());
    ownFrom_ = static_cast<std::size_t>(own - steps_.begin());
    ownTo_ = ownFrom_ + change.steps.size();
    name_ = name;
    outcome_ = {};
    isRunning_ = true;
    isRollingBack_ = false;
    runs_.confirmAhead(name);
    next();
}

void DefinitionRun::stop() {
    if (isRunning_) runs_.stop();
}

void DefinitionRun::connectWith(const std::string& password) {
    runs_.confirmAhead(name_);
    runs_.connectWith(password);
}

void DefinitionRun::next() {
    if (at_ >= steps_.size()) return finish();
    told_.progressed(at_, steps_.size(), steps_[at_].label);
    runs_.add({sql::Statement(steps_[at_].statement, language())});
}

void DefinitionRun::noteChanged(const RunPtr& run, RunChange change) {
    if (!isRunning_) return;
    const bool isOver = run->state() == RunState::Done || run->state() == RunState::Paused;
    if (change == RunChange::Rested && isOver) {
        // The queue is in the middle of something: what follows comes after it.
        owner_.post(whileThere_([this, run] { noteDone(run); }));
    } else if (change == RunChange::Failed) {
        owner_.post(whileThere_([this, run] {
            if (session_.wantsPassword()) return told_.passwordWanted();
            fail(run->wholeError().value_or(
                Error{.kind = ErrorKind::Cancelled, .message = "Stopped before it had ended."}));
        }));
    }
}

void DefinitionRun::noteDone(const RunPtr& run) {
    if (!isRunning_) return;
    if (isRollingBack_) {
        outcome_.isRolledBack = true;
        outcome_.labels.clear();
        return finish();
    }
    const sql::DefinitionStep& step = steps_[at_];
    if (isKeyCheck(step.statement) && run->rowCount() > 0) {
        return fail({.kind = ErrorKind::Statement,
                     .message = fmt::format("{} would refer to something that is not there.",
                                            base::counted(static_cast<std::int64_t>(run->rowCount()), "row", "rows")),
                     .hint = "“PRAGMA foreign_key_check” in a sheet lists them."});
    }
    if (at_ >= ownFrom_ && at_ < ownTo_) outcome_.labels.push_back(step.label);
    ++at_;
    next();
}

/// Takes back what an open transaction has done; the session ends with it, and with what was set in it.
void DefinitionRun::fail(const Error& error) {
    if (isRollingBack_) return finish();  // the connection is gone, and the transaction with it
    outcome_.error = error;
    outcome_.failed = steps_[at_].statement;
    if (error.byteOffset || steps_[at_].textStart)
        outcome_.place = steps_[at_].placeInText(error.byteOffset.value_or(0));
    const auto begun = std::ranges::find_if(steps_, isBegin, &sql::DefinitionStep::statement);
    const auto committed = std::ranges::find_if(steps_, isCommit, &sql::DefinitionStep::statement);
    const auto here = steps_.begin() + static_cast<std::ptrdiff_t>(at_);
    if (begun == steps_.end() || begun >= here || committed < here) return finish();
    isRollingBack_ = true;
    runs_.confirmAhead(name_);
    runs_.add({sql::Statement("ROLLBACK", language())});
}

void DefinitionRun::finish() {
    isRunning_ = false;
    if (outcome_.error) session_.leave();
    const Outcome outcome = std::exchange(outcome_, {});
    told_.finished(outcome);
}

/// The name was not the connection's, or the rules have become stricter meanwhile.
void DefinitionRun::noteHeld() {
    if (!runs_.held() || !isRunning_) return;
    owner_.post(whileThere_([this] {
        if (!runs_.held()) return;
        const std::string reason = runs_.held()->why.reason;
        runs_.dismiss();
        fail({.kind = ErrorKind::HeldBack,
              .message = "Held back: " + reason,
              .hint = "Confirm it with the connection's name."});
    }));
}

void DefinitionRun::noteNowhere() {
    fail({.kind = ErrorKind::NotFound, .message = "There is no connection to run on."});
}

}  // namespace pantry::work
