#pragma once

#include <chrono>
#include <optional>

#include "core/base/error.h"
#include "core/base/time.h"
#include "core/db/profile.h"
#include "core/sql/meaning/statement.h"

namespace pantry::work {

/// When a statement runs again by itself, every so many minutes, while the program is open.
///
/// Threads: one.
class RegularRun {
public:
    static constexpr int kFewestMinutes = 1;
    static constexpr int kMostMinutes = 24 * 60;

    /// Why a statement does not run by itself; nothing when it may: it must do nothing but read, and where the data is
    /// live somebody must have allowed it. `profile`: nullptr without a connection.
    [[nodiscard]] static std::optional<Error> whyNot(const sql::Statement& statement,
                                                     const db::ConnectionProfile* profile, bool isLiveAllowed);

    /// From now on; the first time after that many minutes, which are brought into the bounds.
    void begin(int minutes, base::Moment now);
    void end() { next_.reset(); }
    [[nodiscard]] bool isOn() const { return next_.has_value(); }
    [[nodiscard]] int minutes() const { return minutes_; }
    /// When it runs next; nothing while it is off.
    [[nodiscard]] std::optional<base::Moment> next() const { return next_; }
    [[nodiscard]] bool isDue(base::Moment now) const { return next_ && *next_ <= now; }
    /// It has just begun to run, by itself or by somebody. Times that were missed, as by a machine that slept, are not
    /// made up for.
    void noteRun(base::Moment now);

private:
    int minutes_ = 5;
    std::optional<base::Moment> next_;
};

}  // namespace pantry::work
