#pragma once

#include <QColor>
#include <QObject>
#include <QString>
#include <QTimer>
#include <functional>
#include <map>
#include <memory>
#include <set>
#include <vector>

#include "app/base/background.h"
#include "app/desk/desk.h"
#include "app/sheet/card.h"
#include "app/sheet/regular_runner.h"
#include "app/sheet/sheet_file.h"
#include "core/work/column_values.h"
#include "core/work/document_runs.h"
#include "core/work/document_session.h"
#include "core/work/language_service.h"
#include "core/work/parameter_values.h"

namespace pantry::app {

/// A text with SQL in it and one connection: runs its statements, keeps its cards, is kept on disk.
///
/// Threads: the window's thread; sessions work on their own.
class Sheet : public QObject, private work::RunsClient {
    Q_OBJECT

public:
    Sheet(Desk& desk, store::SheetState state, QObject* parent);
    ~Sheet() override;

    [[nodiscard]] const std::string& id() const { return state_.id; }
    [[nodiscard]] QString title() const;
    void setTitle(const QString& title);
    /// Where and by which rules its statements run.
    [[nodiscard]] work::DocumentSession& session() { return session_; }
    [[nodiscard]] const work::DocumentSession& session() const { return session_; }
    [[nodiscard]] QString connectionId() const;
    void setConnection(const QString& profileId) { session_.goTo(profileId.toStdString()); }
    /// Goes to another database of the connection's server. Refused, with a word about it, while changes are open.
    void setDatabase(const std::string& database) { session_.goToDatabase(database); }
    /// The database, when it is not the connection's own.
    [[nodiscard]] const std::string& database() const { return session_.place().database; }
    /// Where statements run: the connection, led to this sheet's database; nullptr without a connection.
    [[nodiscard]] const db::ConnectionProfile* profile() const { return session_.profile(); }
    /// What a new sheet takes over from this one: connection, database and schema.
    [[nodiscard]] store::SheetState likeThis() const;
    [[nodiscard]] sql::Dialect dialect() const { return language_.dialect; }

    // Text
    [[nodiscard]] const base::SharedText& text() const { return state_.text; }
    /// What was found in the text, or in how it was a moment ago; readingChanged() follows each change of the text.
    [[nodiscard]] const work::TextReadingPtr& reading() const { return reading_; }
    /// The text as statements, as it was read last; none in one that is too large.
    [[nodiscard]] const sql::Script& script() const { return reading_->script(); }
    /// Whether the text is looked at while it is written: beyond some size that would cost too much. What runs is the
    /// same with and without.
    [[nodiscard]] bool hasHelpers() const { return !reading_->isTooLarge(); }
    /// Does something as soon as the reading is that of the text as it is: at once, when it is already.
    void whenRead(std::function<void()> act);
    /// Tells what could stand at a byte of the text, unless that is another one by then.
    void complete(std::size_t caret, bool isAsked, std::function<void(const sql::Completion&)> told);
    /// Tells what can be found out about the text, with the reading that it is about.
    void check(std::function<void(const work::TextReadingPtr&, const std::vector<sql::Finding>&)> told);
    /// Asks the server what it says of the statements, without running them; in a session of its own.
    using Opinions = Result<std::vector<db::Session::Opinion>>;
    void checkOnServer(std::function<void(const work::TextReadingPtr&, const Opinions&)> told);
    /// Lays out the text or a part of it; tells what to change.
    void format(const work::FormatWish& wish, std::function<void(const work::FormattedEdit&)> told);
    /// What answers about the text. Each answer comes from another thread; whileSame() brings it here.
    [[nodiscard]] work::LanguageService& service() { return service_; }
    /// Brings an answer onto the window's thread, as long as the text is the one that it is about.
    template <class Answer>
    [[nodiscard]] work::LanguageService::Told<Answer> whileSame(std::function<void(const Answer&)> told);
    void setText(const base::SharedText& text);
    [[nodiscard]] std::size_t caret() const { return state_.caret; }
    void setCaret(std::size_t caret);
    /// Whether it shows the first rows of a table in passing, and may show those of the next one: until somebody writes
    /// in it or names it.
    [[nodiscard]] bool isPassing() const { return isPassing_; }
    void setPassing(bool isPassing);
    /// Its place among the open sheets and whether it is in front; kept with it.
    void setPosition(double position, bool isCurrent);
    [[nodiscard]] bool isPinned() const { return state_.isPinned; }
    void setPinned(bool isPinned);
    /// What can be undone in the text. Whoever edits it writes it on.
    [[nodiscard]] base::TextHistory& history() { return history_; }
    /// Whether it stands beside the others, for the next start.
    [[nodiscard]] bool isBeside() const { return state_.isBeside; }
    void setBeside(bool isBeside);
    void keepNow();
    /// The file that its text is saved in, if there is one.
    [[nodiscard]] SheetFile& file() const { return *file_; }
    /// Puts the sheet away; it is about to go.
    void close();

    // Running
    /// The statement that the caret means; `selection` (may be empty) takes its place. Says what to do when there is
    /// none.
    void runAt(std::size_t caret, const std::string& selection);
    void runAll();
    /// All statements up to that at the caret, or from it on.
    void runUpTo(std::size_t caret);
    void runFrom(std::size_t caret);
    /// What was run last, as it was then, with the values that it had.
    void runAgain();
    /// What its statements' parameters stand for.
    [[nodiscard]] const work::ParameterMemory& parameters() const { return parameters_; }
    void giveParameter(const std::string& key, work::ParameterMemory::Given value);
    /// Runs a statement that is not in the text: what a click in the band means.
    void runStatement(const std::string& statement);
    void stop();
    [[nodiscard]] bool isRunning() const { return runs_.isRunning(); }
    /// For how long what runs has been running; empty below a second, and while nothing runs.
    [[nodiscard]] QString elapsedText() const;
    /// What runs here and has run, what is held back, and what becomes of it.
    [[nodiscard]] work::DocumentRuns& runs() { return runs_; }
    [[nodiscard]] const work::DocumentRuns& runs() const { return runs_; }
    /// What runs again by itself.
    [[nodiscard]] RegularRunner& regular() { return *regular_; }
    /// How many rows are read before a result pauses.
    [[nodiscard]] std::size_t pageRows() const { return desk_.settings().pageRows; }
    [[nodiscard]] const std::vector<Card*>& cards() const { return cards_; }
    /// A card of its own for the differences of two results.
    void addComparison(const QString& title, const data::ResultSetPtr& differences, const QString& text);
    [[nodiscard]] bool isFromHere(const Card* card) const { return runs_.isFromHere(card->run()); }
    /// The colour that tells a connection; quiet when it is gone.
    [[nodiscard]] QColor colourOf(const QString& connectionId) const;

    /// The card of a statement as it was read last; nullptr when it was changed or never ran.
    [[nodiscard]] Card* cardOf(std::size_t statementIndex) const;
    /// The same for all that have one, in the order of the statements.
    /// Cost: grows with the cards, not with the text.
    [[nodiscard]] std::map<std::size_t, Card*> cardsOfStatements() const;
    /// The statement that made a card, as it was read last; -1 when it was changed.
    [[nodiscard]] int statementOf(const Card* card) const;
    /// Byte offset in the text where a failed card's error lies; -1 when unknown.
    [[nodiscard]] std::int64_t errorOffset(const Card* card) const;

Q_SIGNALS:
    void titleChanged();
    /// The text was read; see reading().
    void readingChanged();
    /// Whether the text is looked at while it is written.
    void helpersChanged();
    void connectionChanged();
    void cardAdded(pantry::app::Card* card);
    void cardChanged(pantry::app::Card* card);
    void cardRemoved(pantry::app::Card* card);
    void cardMoved(pantry::app::Card* card, int position);
    void runningChanged();
    /// Now and then while something runs, and at its end.
    void elapsedChanged();
    void heldChanged();
    void sessionChanged();
    /// The value of a parameter is another one, or was remembered.
    void parametersChanged();
    /// Something was to be run, and this parameter has no value yet.
    void parameterMissing(const QString& key);
    /// Something to tell at the sheet, such as “There is no statement here.”
    void remarked(const QString& text);

private:
    // Of what runs
    [[nodiscard]] std::string documentTitle() const override { return state_.title; }
    [[nodiscard]] std::string savedQuery() const override;
    [[nodiscard]] sql::Language language() const override { return language_; }
    [[nodiscard]] catalog::View catalogFor(const Error&) const override { return session_.catalogView(); }
    void noteAdded(const work::RunPtr& run) override;
    void noteChanged(const work::RunPtr& run, work::RunChange change) override;
    void noteRemoved(const work::RunPtr& run) override;
    void noteMoved(const work::RunPtr& run, int position) override;
    void noteRunning() override;
    void noteHeld() override { Q_EMIT heldChanged(); }
    void noteNowhere() override;
    void remark(const std::string& text) override;

    void restore(const std::vector<work::RestoredRun>& runs);
    void compareWithLast(const work::RunPtr& run);
    void keepRunSoon(const Card* card);
    void keepRuns();
    void noteReading(const work::TextReadingPtr& reading);
    /// Finds statements of the text elsewhere than on the window's thread, then does something with them here.
    void findStatements(work::WantedStatements wanted, std::function<void(const std::vector<sql::Statement>&)> then);
    void noteSettings();
    void noteKind();
    void dismissHeld();
    void noteForKeeping();
    void tellWithValues(sql::Completion completion, const std::function<void(const sql::Completion&)>& told);
    void runMany(work::WantedStatements wanted);
    void add(const std::vector<sql::Statement>& statements);
    [[nodiscard]] bool hasValues(const work::FoundStatements& found, std::vector<sql::Statement>& ready);
    void tellElapsed();
    void notePlace();
    [[nodiscard]] sql::Language languageNow() const;
    [[nodiscard]] Card* cardOf(const work::RunPtr& run) const;

    Desk& desk_;
    store::SheetState state_;
    base::TextHistory history_;
    SheetFile* file_;
    sql::Language language_;  // that the text is read in
    work::TextReadingPtr reading_;
    std::vector<std::function<void()>> whenRead_;
    int stops_ = 0;  // how often somebody has stopped what ran
    bool isPassing_ = false;
    QTimer elapsedTimer_;  // while something runs
    QTimer keepTimer_;
    std::vector<Card*> cards_;  // of the runs, in their order
    std::set<int> unkept_;      // numbers of those that are other than what is kept of them
    QTimer idleTimer_;
    QTimer lookTimer_;
    work::LanguageService service_;
    work::ParameterMemory parameters_;
    std::vector<sql::Statement> lastRun_;
    std::shared_ptr<db::Session> checking_;  // while a server is asked
    work::DocumentSession session_;
    [[nodiscard]] std::string wholeOf(std::size_t caret, std::string_view selection) const;

    std::string whole_;  // of which what is being added is only a part
    work::ColumnValues values_;
    work::DocumentRuns runs_;
    RegularRunner* regular_;
};

template <class Answer>
work::LanguageService::Told<Answer> Sheet::whileSame(std::function<void(const Answer&)> told) {
    return [this, guard = QPointer<QObject>(this), told = std::move(told)](const base::SharedText& of,
                                                                           const Answer& answer) {
        onWindowThread(guard, [this, told, of, answer] {
            if (of.isCopyOf(text())) told(answer);
        });
    };
}

}  // namespace pantry::app
