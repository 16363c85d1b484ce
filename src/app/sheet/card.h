#pragma once

#include <QObject>
#include <QString>
#include <memory>
#include <optional>

#include "core/data/view/column_shape.h"
#include "core/data/view/result_view.h"
#include "core/db/session.h"
#include "core/work/origin.h"

namespace pantry::app {

/// One run of a sheet: its statement, what became of it, and its rows.
///
/// Threads: the window's thread.
class Card : public QObject {
    Q_OBJECT

public:
    enum class State { Waiting, Running, Paused, Done, Partial, Failed, Stopped };

    Card(int number, QString title, sql::Statement statement, QObject* parent);

    [[nodiscard]] int number() const { return number_; }
    [[nodiscard]] const QString& title() const { return title_; }
    void rename(const QString& title);
    /// A pinned card is kept, in memory too, until somebody takes the pin away.
    [[nodiscard]] bool isPinned() const { return isPinned_; }
    void setPinned(bool isPinned);
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
    bool wasNeverSent = false;  ///< it is about to go, and nothing is to be kept of it
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
    [[nodiscard]] QString outcomeWords() const;
    [[nodiscard]] QString timeWords() const;

    /// What the columns look like, as far as it is worked out; one for each of the first columns.
    [[nodiscard]] const std::vector<data::ColumnShape>& shapes() const { return shapes_; }

    /// Forgets its run, since its statement is about to run again.
    void beginAnew();
    /// Follows the run; called by the sheet.
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

    db::RunHandle handle;
    std::int64_t ledgerId = 0;

Q_SIGNALS:
    void changed();
    void resultArrived();
    void rowsArrived();
    void viewChanged();
    void shapesChanged();

private:
    void workOutShapes();

    int number_;
    QString title_;
    QString place_;
    work::Origin origin_;
    bool isPinned_ = false;
    bool isComparison_ = false;
    QString comparisonWords_;
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
