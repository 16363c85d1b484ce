#pragma once

#include <QObject>
#include <QString>
#include <memory>
#include <optional>

#include "core/data/view/column_shape.h"
#include "core/data/view/result_view.h"
#include "core/db/session.h"
#include "core/store/ledger.h"
#include "core/work/run.h"

namespace pantry::app {

/// A result as everybody who shows it sees it: a run, its rows as they are ordered and narrowed here, a way to ask for
/// more, and signals of change. A sheet's card is one, and so is a comparison; whoever shows results takes one and
/// knows no more. By itself it is a result that is only here: nothing more can be asked for.
///
/// Threads: the window's thread.
class ResultSource : public QObject {
    Q_OBJECT

public:
    using State = work::RunState;
    using Message = work::Run::Message;

    /// It is the one that listens to the run.
    ResultSource(work::RunPtr run, QObject* parent);
    ~ResultSource() override;

    [[nodiscard]] work::Run& run() const { return *run_; }
    [[nodiscard]] const work::RunPtr& runPtr() const { return run_; }
    [[nodiscard]] QString title() const;
    /// What tells it from others beside its title, such as a card's number; may be empty.
    [[nodiscard]] virtual QString mark() const { return {}; }
    void rename(const QString& title);
    /// A pinned card is kept, in memory too, until somebody takes the pin away.
    [[nodiscard]] bool isPinned() const { return run_->isPinned(); }
    virtual void setPinned(bool isPinned) { run_->setPinned(isPinned); }
    /// Where its statement ran: for people, and for whatever is asked about its rows later.
    [[nodiscard]] QString place() const;
    [[nodiscard]] const work::Origin& origin() const { return run_->origin(); }
    [[nodiscard]] QString connectionId() const { return QString::fromStdString(origin().connectionId); }
    [[nodiscard]] const sql::Statement& statement() const { return run_->statement(); }
    [[nodiscard]] State state() const { return run_->state(); }
    /// How long it has been running so far; nothing below a second, and for what does not run.
    [[nodiscard]] QString elapsed() const;
    [[nodiscard]] bool isGoingOn() const { return run_->isGoingOn(); }
    [[nodiscard]] bool hasMore() const { return run_->hasMore(); }
    [[nodiscard]] const data::ResultSetPtr& result() const { return run_->result(); }
    [[nodiscard]] std::size_t rowCount() const { return run_->rowCount(); }
    [[nodiscard]] const std::optional<Error>& error() const { return run_->error(); }
    /// The error as the server worded it, however long; error() is cut.
    [[nodiscard]] const std::optional<Error>& wholeError() const { return run_->wholeError(); }
    [[nodiscard]] const db::RunSummary& summary() const { return run_->summary(); }
    [[nodiscard]] base::Moment startedAt() const { return run_->startedAt(); }
    /// What is other than in the result before of the same saved query; null while that is not known.
    [[nodiscard]] const work::ResultChangePtr& change() const { return run_->change(); }
    [[nodiscard]] bool isComparison() const { return run_->isComparison(); }
    /// What the server said beside, in its order.
    [[nodiscard]] const std::vector<Message>& messages() const { return run_->messages(); }
    /// “24 rows · 18 ms”, “first 1 000 rows · 31 ms”, “stopped”: the second line of the card.
    [[nodiscard]] QString outcome() const;
    /// The same without the time: what is written behind the statement, before its own time.
    [[nodiscard]] QString outcomeText() const;
    [[nodiscard]] QString timeText() const;

    // How its rows are shown
    [[nodiscard]] const data::ResultView* view() const { return view_ ? &*view_ : nullptr; }
    [[nodiscard]] const data::ViewRequest& viewRequest() const { return viewRequest_; }
    /// Orders and filters the rows; the work is done elsewhere, viewChanged() follows.
    void requestView(const data::ViewRequest& request);
    /// Rows are being ordered or narrowed now.
    [[nodiscard]] bool isArranging() const { return arranging_ > 0; }
    /// How far that has come, between 0 and 1.
    [[nodiscard]] double arrangedShare() const { return viewProgress_.share(); }
    /// What the columns look like, as far as it is worked out; one for each of the first columns.
    [[nodiscard]] const std::vector<data::ColumnShape>& shapes() const { return shapes_; }
    /// How many rows there are in all, when that was asked for.
    [[nodiscard]] std::optional<std::int64_t> countOfAll() const { return countOfAll_; }
    void setCountOfAll(std::int64_t rows);

    // What can be asked of it
    /// Reads on where it paused.
    virtual void fetchMore() {}
    /// Reads all rows: goes on where it paused, or runs the statement anew when its connection was needed since.
    virtual void fetchAll() {}
    /// Why its statement cannot run once more for the same rows; nothing when it can.
    [[nodiscard]] virtual std::optional<Error> whyNotAgain() const;
    /// Runs the statement once more, as one that only reads: where it ran, or on a connection of its own. Nothing when
    /// none is free. To be asked only when whyNotAgain() has nothing to say.
    [[nodiscard]] virtual std::optional<work::RunBeside> runAgain(db::RunRequest /*request*/,
                                                                  std::shared_ptr<db::RunObserver> /*observer*/,
                                                                  bool /*isWhereItRan*/) const {
        return std::nullopt;
    }
    /// What holds on the connection that it came from now, such as an open transaction whose changes it may show.
    [[nodiscard]] virtual db::ConnectionState connection() const { return {}; }
    /// What the ledger keeps of another run of its statement.
    [[nodiscard]] virtual store::RunStart record() const { return {}; }
    /// In which its statement is written, and names and values that go into statements.
    [[nodiscard]] const sql::Language& language() const { return statement().language(); }

Q_SIGNALS:
    void changed();
    /// It has come a step further: rows, a page, a message, its end.
    void progressed();
    void resultArrived();
    void rowsArrived();
    void viewChanged();
    void shapesChanged();
    /// What is other than in the result before is known.
    void compared();

private:
    void follow(work::RunChange change);
    void forgetRows();
    void takeResult();
    void workOutShapes();

    work::RunPtr run_;
    std::optional<data::ResultView> view_;
    data::ViewRequest viewRequest_;
    base::Cancellation viewCancellation_;
    base::Progress viewProgress_;
    int arranging_ = 0;  // views on their way
    std::vector<data::ColumnShape> shapes_;
    base::Cancellation shapeCancellation_;
    std::optional<std::int64_t> countOfAll_;
};

}  // namespace pantry::app
