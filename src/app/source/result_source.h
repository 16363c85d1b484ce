#pragma once

#include <QObject>
#include <QString>
#include <memory>
#include <optional>

#include "core/data/view/column_shape.h"
#include "core/data/view/result_view.h"
#include "core/db/session.h"
#include "core/store/ledger.h"
#include "core/work/origin.h"

namespace pantry::app {

/// A result as everybody who shows it sees it: a statement, where it ran, what has become of it, its rows so far, a way
/// to ask for more, and signals of change. A sheet's card is one, and so is a comparison; whoever shows results takes
/// one and knows no more. By itself it is a result that is only here: nothing more can be asked for.
///
/// Threads: the window's thread.
class ResultSource : public QObject {
    Q_OBJECT

public:
    enum class State { Waiting, Running, Paused, Done, Partial, Failed, Stopped };

    ResultSource(QString title, sql::Statement statement, QObject* parent);

    [[nodiscard]] const QString& title() const { return title_; }
    /// What tells it from others beside its title, such as a card's number; may be empty.
    [[nodiscard]] virtual QString mark() const { return {}; }
    void rename(const QString& title);
    /// A pinned card is kept, in memory too, until somebody takes the pin away.
    [[nodiscard]] bool isPinned() const { return isPinned_; }
    virtual void setPinned(bool isPinned);
    /// Where its statement ran: for people, and for whatever is asked about its rows later.
    [[nodiscard]] const QString& place() const { return place_; }
    [[nodiscard]] const work::Origin& origin() const { return origin_; }
    [[nodiscard]] QString connectionId() const { return QString::fromStdString(origin_.connectionId); }
    void setPlace(const work::Origin& origin, const QString& place);
    [[nodiscard]] const sql::Statement& statement() const { return statement_; }
    [[nodiscard]] State state() const { return state_; }
    /// How long it has been running so far; nothing below a second, and for what does not run.
    [[nodiscard]] QString elapsed() const;
    void noteTime() { Q_EMIT changed(); }
    [[nodiscard]] bool isGoingOn() const { return state_ == State::Waiting || state_ == State::Running; }
    [[nodiscard]] bool hasMore() const { return state_ == State::Paused || state_ == State::Partial; }
    [[nodiscard]] const data::ResultSetPtr& result() const { return result_; }
    [[nodiscard]] const data::ResultView* view() const { return view_ ? &*view_ : nullptr; }
    [[nodiscard]] const data::ViewRequest& viewRequest() const { return viewRequest_; }
    /// Rows are being ordered or narrowed now.
    [[nodiscard]] bool isArranging() const { return arranging_ > 0; }
    /// How far that has come, between 0 and 1.
    [[nodiscard]] double arrangedShare() const { return viewProgress_.share(); }
    [[nodiscard]] std::size_t rowCount() const { return result_ ? result_->rowCount() : 0; }
    [[nodiscard]] const std::optional<Error>& error() const { return error_; }
    [[nodiscard]] const db::RunSummary& summary() const { return summary_; }
    [[nodiscard]] base::Moment startedAt() const { return startedAt_; }
    /// Whether it holds the differences of two results instead of what a statement returned.
    [[nodiscard]] bool isComparison() const { return isComparison_; }
    void becomeComparison(const data::ResultSetPtr& differences, const QString& words);
    struct Message {
        base::Moment when;
        db::Notice notice;
    };
    /// The longest text that is shown without being asked for; a server may say a megabyte.
    static constexpr std::size_t kShownBytes = 4096;
    /// The error as the server worded it, however long; error() is cut.
    [[nodiscard]] const std::optional<Error>& wholeError() const { return wholeError_; }
    /// What the server said beside, in its order.
    [[nodiscard]] const std::vector<Message>& messages() const { return messages_; }
    /// How many rows there are in all, when that was asked for.
    [[nodiscard]] std::optional<std::int64_t> countOfAll() const { return countOfAll_; }
    void setCountOfAll(std::int64_t rows);

    /// “24 rows · 18 ms”, “first 1 000 rows · 31 ms”, “stopped”: the second line of the card.
    [[nodiscard]] QString outcome() const;
    /// The same without the time: what is written behind the statement, before its own time.
    [[nodiscard]] QString outcomeText() const;
    [[nodiscard]] QString timeWords() const;

    /// What the columns look like, as far as it is worked out; one for each of the first columns.
    [[nodiscard]] const std::vector<data::ColumnShape>& shapes() const { return shapes_; }

    // What can be asked of it
    /// Reads on where it paused.
    virtual void fetchMore() {}
    /// Reads all rows: goes on where it paused, or runs the statement anew when its line was needed since.
    virtual void fetchAll() {}
    /// Why its statement cannot run once more for the same rows; nothing when it can.
    [[nodiscard]] virtual std::optional<Error> whyNotAgain() const;
    /// A run of its statement beside this one, and the session that it has to itself, if any.
    struct Again {
        db::RunHandle handle;
        std::shared_ptr<db::Session> session;
    };
    /// Runs the statement once more, as one that only reads: where it ran, or on a connection of its own. Nothing when
    /// none is free. To be asked only when whyNotAgain() has nothing to say.
    [[nodiscard]] virtual std::optional<Again> runAgain(db::RunRequest /*request*/,
                                                        std::shared_ptr<db::RunObserver> /*observer*/,
                                                        bool /*isWhereItRan*/) const {
        return std::nullopt;
    }
    /// What holds on the connection that it came from now, such as an open transaction whose changes it may show.
    [[nodiscard]] virtual db::ConnectionState line() const { return {}; }
    /// What the ledger keeps of another run of its statement.
    [[nodiscard]] virtual store::RunStart record() const { return {}; }
    /// In which its statement is written, and names and values that go into statements.
    [[nodiscard]] const sql::Language& language() const { return statement_.language(); }

    /// Forgets its run, since its statement is about to run again.
    virtual void beginAnew();
    /// Follows the run; called by its owner.
    void noteStarted();
    void noteResult(const data::ResultSetPtr& result);
    void noteNotices(const std::vector<db::Notice>& notices);
    /// Another result of its statement begins, which has a card of its own: this one is whole.
    void noteNextResult();
    void noteRows();
    void notePaused();
    void noteResumed();
    void noteFinished(const db::RunSummary& summary);
    void noteFailed(const Error& error, const db::RunSummary& summary);

    /// Orders and filters the rows; the work is done elsewhere, viewChanged() follows.
    void requestView(const data::ViewRequest& request);

Q_SIGNALS:
    void changed();
    /// It has come a step further: rows, a page, a message, its end.
    void progressed();
    void resultArrived();
    void rowsArrived();
    void viewChanged();
    void shapesChanged();

private:
    void workOutShapes();

    QString title_;
    QString place_;
    work::Origin origin_;
    bool isPinned_ = false;
    bool isComparison_ = false;
    QString comparisonText_;
    std::optional<std::int64_t> countOfAll_;
    sql::Statement statement_;
    State state_ = State::Waiting;
    data::ResultSetPtr result_;
    std::optional<data::ResultView> view_;
    data::ViewRequest viewRequest_;
    base::Cancellation viewCancellation_;
    base::Progress viewProgress_;
    int arranging_ = 0;  // views on their way
    std::vector<data::ColumnShape> shapes_;
    base::Cancellation shapeCancellation_;
    std::optional<Error> error_;
    std::optional<Error> wholeError_;
    std::vector<Message> messages_;
    db::RunSummary summary_;
    base::Moment startedAt_ = base::now();
};

}  // namespace pantry::app
