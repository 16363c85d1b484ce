#pragma once

#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/error.h"
#include "core/base/time.h"
#include "core/data/store/result_set.h"
#include "core/db/session.h"
#include "core/sql/meaning/statement.h"
#include "core/work/origin.h"
#include "core/work/result_change.h"
#include "core/work/run_record.h"

namespace pantry::work {

/// How far a run has come.
enum class RunState {
    Waiting,
    Running,
    Paused,   ///< a page is here, and the server has more
    Done,     ///< with all rows
    Partial,  ///< ended before all rows were read
    Failed,
    Stopped,  ///< by somebody, or not run behind one that failed
};

/// What has just become of a run.
enum class RunChange {
    Begun,    ///< it is to run again: what was known of it is gone
    Started,  ///< its turn has come
    Result,   ///< its columns are known
    Notices,
    Rows,      ///< some more
    Rested,    ///< a page of its rows or all of them are here
    Resumed,   ///< reads on
    Failed,    ///< or was stopped
    Compared,  ///< what is other than in the result before is known
    Looks,     ///< its title, its pin, whether the ledger has it, the time that it takes
};

/// One run of a statement as it stands: where it ran, what has become of it, its rows so far. Each result of a
/// statement has one of its own.
///
/// Threads: the owner's.
class Run {
public:
    explicit Run(sql::Statement statement, int number = 0);
    Run(const Run&) = delete;
    Run& operator=(const Run&) = delete;

    /// Tells it from others of its document; 0 for one that belongs to none.
    [[nodiscard]] int number() const { return number_; }
    /// What people call it; its statement's title at first.
    [[nodiscard]] const std::string& title() const { return title_; }
    void setTitle(const std::string& title);
    [[nodiscard]] const sql::Statement& statement() const { return statement_; }
    [[nodiscard]] const Origin& origin() const { return origin_; }
    /// The same for people, such as “Kitchen · bakery”.
    [[nodiscard]] const std::string& place() const { return place_; }
    void setPlace(const Origin& origin, const std::string& place);

    [[nodiscard]] RunState state() const { return state_; }
    [[nodiscard]] bool isGoingOn() const { return state_ == RunState::Waiting || state_ == RunState::Running; }
    [[nodiscard]] bool hasMore() const { return state_ == RunState::Paused || state_ == RunState::Partial; }
    [[nodiscard]] base::Moment startedAt() const { return startedAt_; }
    /// Null as long as no columns are known, and for statements without rows.
    [[nodiscard]] const data::ResultSetPtr& result() const { return result_; }
    [[nodiscard]] std::size_t rowCount() const { return result_ ? result_->rowCount() : 0; }
    /// It is back from an earlier start and had rows, which were too many to be kept.
    [[nodiscard]] bool isWithoutRows() const { return isWithoutRows_; }
    /// Rows that came from the server, also those that went elsewhere than into a result.
    [[nodiscard]] std::size_t rowsRead() const { return std::max(rowsRead_, rowCount()); }
    [[nodiscard]] const db::RunSummary& summary() const { return summary_; }

    /// The longest text that is shown without being asked for; a server may say a megabyte.
    static constexpr std::size_t kShownBytes = 4096;
    /// Why it failed, cut to what can be shown.
    [[nodiscard]] const std::optional<Error>& error() const { return error_; }
    /// The same as the server worded it, however long.
    [[nodiscard]] const std::optional<Error>& wholeError() const { return wholeError_; }
    struct Message {
        base::Moment when;
        db::Notice notice;
    };
    /// What the server said beside, in its order.
    [[nodiscard]] const std::vector<Message>& messages() const { return messages_; }

    /// A pinned run is kept, its rows in memory, until somebody takes the pin away.
    [[nodiscard]] bool isPinned() const { return isPinned_; }
    void setPinned(bool isPinned);
    /// Whether the ledger has it.
    [[nodiscard]] bool isKept() const { return isKept_; }
    void noteKept();
    /// Whether it holds the differences of two results instead of what a statement returned.
    [[nodiscard]] bool isComparison() const { return isComparison_; }
    /// What is other than in the result before of the same saved query; null while that is not known.
    [[nodiscard]] const ResultChangePtr& change() const { return change_; }
    void noteChange(ResultChangePtr change);
    void becomeComparison(const data::ResultSetPtr& differences, const std::string& text);

    /// “24 rows · 18 ms”, “first 1 000 rows · 31 ms”, “stopped”.
    [[nodiscard]] std::string outcome() const;
    /// The same without the time.
    [[nodiscard]] std::string outcomeText() const;
    [[nodiscard]] std::string timeText() const;
    /// How long it has been running so far; empty below a second, and for what does not run.
    [[nodiscard]] std::string elapsedText() const;
    /// How the ledger is to keep it. A paused run counts as well done so far, and is completed again when it goes on.
    [[nodiscard]] store::RunEnd record() const;

    /// What is kept of a run between starts.
    struct Kept {
        RunState state = RunState::Done;
        base::Moment startedAt{};
        db::RunSummary summary = {};
        std::optional<Error> error = {};
        bool hadResult = false;
        data::ResultSetPtr rows = {};  ///< null when they were too many
    };
    /// As it was; before anybody listens.
    void restore(Kept kept);

    // What becomes of it; called by whoever runs it
    void beginAnew();
    void noteStarted();
    void noteResult(const data::ResultSetPtr& result);
    void noteNotices(const std::vector<db::Notice>& notices);
    /// `read`: rows of the result at hand, when they go elsewhere than into it.
    void noteRows(std::size_t read = 0);
    void notePaused();
    void noteResumed();
    /// Another result of its statement begins, which is a run of its own: this one is whole.
    void noteNextResult();
    void noteFinished(const db::RunSummary& summary);
    void noteFailed(const Error& error, const db::RunSummary& summary);
    /// The time that it takes is shown anew.
    void noteTime() { tell(RunChange::Looks); }

    /// Who hears of every change; one at a time, nullptr for nobody.
    void setListener(std::function<void(RunChange)> listener) { listener_ = std::move(listener); }

private:
    void tell(RunChange change);
    [[nodiscard]] std::chrono::microseconds sinceStart() const;

    int number_;
    sql::Statement statement_;
    std::string title_;
    Origin origin_;
    std::string place_;
    RunState state_ = RunState::Waiting;
    base::Moment startedAt_ = base::now();
    data::ResultSetPtr result_;
    std::size_t rowsRead_ = 0;
    db::RunSummary summary_;
    std::optional<Error> error_;
    std::optional<Error> wholeError_;
    std::vector<Message> messages_;
    bool isPinned_ = false;
    bool isKept_ = false;
    bool isComparison_ = false;
    bool isWithoutRows_ = false;
    ResultChangePtr change_;
    std::string comparisonText_;
    std::function<void(RunChange)> listener_;
};

using RunPtr = std::shared_ptr<Run>;

/// A statement that runs beside, without a Run of its own, and the session that it has to itself, if any.
struct RunBeside {
    db::RunHandle handle;
    std::shared_ptr<db::Session> session;
};

}  // namespace pantry::work
