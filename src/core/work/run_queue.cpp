#include "core/work/run_queue.h"

#include <fmt/format.h>

#include <algorithm>
#include <utility>

namespace pantry::work {

void RunQueue::add(const std::vector<sql::Statement>& statements) {
    if (held_) waiting_.clear();
    const auto batch = std::make_shared<db::RunBatch>();
    for (const sql::Statement& statement : statements) waiting_.push_back({statement, batch});
    if (held_) {
        held_.reset();
        client_.noteHeldChanged();
    }
    goOn();
}

void RunQueue::goOn(Consent consent) {
    if (isSending_) return;  // what is sent may end at once: the loop below goes on then
    isSending_ = true;
    while (sendNext(consent)) consent = Consent::None;
    isSending_ = false;
}

/// Whether it sent one.
bool RunQueue::sendNext(Consent consent) {
    const std::size_t most = onError_ == OnError::Ask ? 1 : maxUnderWay_;
    if (waiting_.empty() || held_ || client_.underWay() >= most) return false;
    const QueuedStatement next = waiting_.front();
    if (consent == Consent::None) {
        if (auto why = client_.whyHeld(next.statement)) {
            hold(next.statement, std::move(*why));
            return false;
        }
    }
    waiting_.pop_front();
    const bool isSent = client_.send(next, consent);
    if (!isSent) waiting_.clear();
    return isSent;
}

/// The statement stands in front of those that wait.
void RunQueue::hold(const sql::Statement& statement, db::HeldBack why, std::string afterWhat) {
    held_ = Held{statement, std::move(why), waiting_.size() - 1, std::move(afterWhat)};
    returned_ = 1;
    client_.noteHeldChanged();
}

Status RunQueue::confirm(std::string_view name) {
    if (!held_) return {};
    const bool isOnlyAsked = held_->isOnlyAsked();
    if (!isOnlyAsked && name != client_.connectionName()) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = fmt::format("To run it, type the connection's name: {}", client_.connectionName())};
    }
    held_.reset();
    if (!waiting_.empty()) {
        // Its batch may have ended with it: those that wait behind it begin one of their own.
        const auto batch = std::make_shared<db::RunBatch>();
        const auto before = waiting_.front().batch;
        for (QueuedStatement& waiting : waiting_) {
            if (waiting.batch == before) waiting.batch = batch;
        }
    }
    client_.noteHeldChanged();
    goOn(isOnlyAsked ? Consent::None : Consent::Confirmed);
    return {};
}

void RunQueue::dismiss() {
    if (!held_) return;
    held_.reset();
    waiting_.clear();
    client_.noteHeldChanged();
}

void RunQueue::passOver() {
    if (!held_) return;
    const QueuedStatement passed = waiting_.front();
    waiting_.pop_front();
    held_.reset();
    client_.noteHeldChanged();
    noteFailed(passed.batch, {});
}

bool RunQueue::isWaiting(const sql::Statement& statement) const {
    return !held_ && std::ranges::find(waiting_, statement, &QueuedStatement::statement) != waiting_.end();
}

void RunQueue::stop() {
    if (!held_) waiting_.clear();
}

void RunQueue::noteHeld(const QueuedStatement& statement, db::HeldBack why) {
    waiting_.push_front(statement);
    hold(statement.statement, std::move(why));
}

void RunQueue::noteNotRun(const QueuedStatement& statement) {
    const std::size_t at = std::min(returned_++, waiting_.size());
    waiting_.insert(waiting_.begin() + static_cast<std::ptrdiff_t>(at), statement);
    held_->after = waiting_.size() - 1;
    client_.noteHeldChanged();
}

void RunQueue::noteFailed(const std::shared_ptr<db::RunBatch>& batch, const std::string& text) {
    if (held_) return;
    if (onError_ == OnError::Ask && !waiting_.empty()) return askAfter(text);
    if (onError_ != OnError::GoOn) {
        const std::size_t dropped =
            std::erase_if(waiting_, [&](const QueuedStatement& waiting) { return waiting.batch == batch; });
        if (dropped + client_.underWay() > 0) client_.noteLeftOut(dropped + client_.underWay());
    }
    goOn();
}

/// What holds the next one back by itself is told with the question, so that one look is enough and none is skipped.
void RunQueue::askAfter(const std::string& text) {
    const sql::Statement next = waiting_.front().statement;
    hold(next, client_.whyHeld(next).value_or(db::HeldBack{}), text);
}

}  // namespace pantry::work
