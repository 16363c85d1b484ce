#include "core/work/regular_run.h"

#include <algorithm>

namespace pantry::work {

std::optional<Error> RegularRun::whyNot(const sql::Statement& statement, const db::ConnectionProfile* profile,
                                        bool isLiveAllowed) {
    if (profile == nullptr) {
        return Error{.kind = ErrorKind::Connection,
                     .message = "This sheet has no connection.",
                     .hint = "Choose one in the band above."};
    }
    if (!statement.reading().isPlain()) {
        return Error{.kind = ErrorKind::HeldBack,
                     .message = "The statement may change something, so it does not run by itself.",
                     .hint = "Choose one that only reads."};
    }
    if (profile->environment == db::Environment::Live && !isLiveAllowed) {
        return Error{.kind = ErrorKind::HeldBack,
                     .message = profile->name + " is live: nothing runs there by itself until you allow it."};
    }
    return std::nullopt;
}

void RegularRun::begin(int minutes, base::Moment now) {
    minutes_ = std::clamp(minutes, kFewestMinutes, kMostMinutes);
    noteRun(now);
}

void RegularRun::noteRun(base::Moment now) { next_ = now + std::chrono::minutes(minutes_); }

}  // namespace pantry::work
