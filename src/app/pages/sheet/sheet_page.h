#pragma once

#include <QHBoxLayout>
#include <QSplitter>
#include <QTimer>
#include <functional>

#include "app/base/late_widget.h"
#include "app/editor/find_strip.h"
#include "app/editor/sql_editor.h"
#include "app/page/page.h"
#include "app/pages/sheet/context_band.h"
#include "app/pages/sheet/held_panel.h"
#include "app/pages/sheet/name_help.h"
#include "app/pages/sheet/parameter_strip.h"
#include "app/pages/sheet/query_changes.h"
#include "app/pages/sheet/ran_before.h"
#include "app/pages/sheet/snippet_work.h"
#include "app/pages/sheet/text_shape.h"
#include "app/pages/sheet/transaction_strip.h"
#include "app/pages/sheet/tray.h"
#include "app/result/result_pane.h"
#include "app/sheet/sheet.h"
#include "core/sql/layout/formatter.h"
#include "core/work/last_runs.h"

namespace pantry::app {

/// A sheet as people see it: band, editor, tray and result.
class SheetPage : public Page {
    Q_OBJECT

public:
    SheetPage(Desk& desk, Sheet* sheet, QWidget* parent = nullptr);

    [[nodiscard]] Sheet& sheet() const { return *sheet_; }
    [[nodiscard]] SqlEditor* editor() const { return editor_; }
    /// Made when it is first asked for, at the latest when the page was painted once.
    [[nodiscard]] ResultPane* result() { return result_.get(); }
    /// nullptr as long as nobody asked for it.
    [[nodiscard]] ResultPane* madeResult() const { return result_.made(); }
    /// Where the results come from that one can be compared with.
    void setComparable(std::function<std::vector<ResultSource*>()> sources) { comparable_ = std::move(sources); }
    [[nodiscard]] Tray* tray() const { return tray_; }

    [[nodiscard]] QString title() const override;
    [[nodiscard]] QIcon icon() const override { return colourDot(colour()); }
    [[nodiscard]] QColor tabColour() const override;
    [[nodiscard]] QString tip() const override;
    [[nodiscard]] QString detail() const override;
    [[nodiscard]] QString elapsed() const override { return sheet_->elapsedText(); }
    [[nodiscard]] bool isPassing() const override { return sheet_->isPassing(); }
    [[nodiscard]] bool canBePinned() const override { return true; }
    [[nodiscard]] bool isPinned() const override { return sheet_->isPinned(); }
    void setPinned(bool isPinned) override { sheet_->setPinned(isPinned); }
    [[nodiscard]] bool wasBeside() const override { return sheet_->isBeside(); }
    void noteBeside(bool isBeside) override { sheet_->setBeside(isBeside); }
    [[nodiscard]] std::optional<PagePlace> place() const override {
        return PagePlace{sheet_->connectionId(), sheet_->database()};
    }
    [[nodiscard]] bool hasCloseUp() const override { return true; }
    [[nodiscard]] std::optional<QString> editableName() const override { return sheet_->title(); }
    void setName(const QString& name) override { sheet_->setTitle(name); }
    void enter() override { editor_->setFocus(); }
    void notePosition(int position, bool isCurrent) override { sheet_->setPosition(position, isCurrent); }
    QString leave() override;

    /// Puts a statement below the others, ended by a terminator, and the caret into it.
    void appendStatement(const std::string& statement);
    /// Shows the rows of one statement in passing: it takes the place of the text and of the results.
    void showInPassing(const QString& title, const std::string& statement);
    void runAtCaret();
    void runAll();
    void runUpTo();
    void runRegularly();
    /// Runs the sheet, and its first statement from then on by itself.
    void runAllRegularly();
    void runFrom();
    void format();
    /// Carries out the mend that is marked at the caret.
    /// To the beginning of the statement below, or of this one or else the one above.
    void goToStatement(int direction);
    void mend();
    /// Turns off the check that marked what is at the caret, everywhere and for good.
    void silenceFinding();
    /// Asks the server what it says of the sheet, without running it; its answer stands where it belongs.
    void checkOnServer();
    /// Changes the query at the caret.
    [[nodiscard]] QueryChanges& changes() const { return *changes_; }
    /// Tells what names are.
    /// The values of its parameters.
    [[nodiscard]] ParameterStrip& parameters() const { return *parameters_; }
    [[nodiscard]] SnippetWork& snippets() const { return *snippets_; }
    [[nodiscard]] TextShape& shape() const { return *shape_; }
    [[nodiscard]] FindStrip& finding() { return *finding_.get(); }
    [[nodiscard]] RanBefore& ranBefore() { return *ranBefore_.get(); }
    [[nodiscard]] NameHelp& names() const { return *names_; }
    void showBeside(bool isBeside);
    [[nodiscard]] bool isBeside() const { return splitter_->orientation() == Qt::Horizontal; }
    void toggleResult();
    void chooseCard(int number);
    /// Who and where this sheet runs, a line each.
    [[nodiscard]] QString facts() const { return band_->facts(); }
    void chooseConnection() { band_->offerConnections(); }
    void chooseSession() { band_->offerSession(); }
    void applySettings();
    /// Whether the text is being laid out; it is changed when that is done.
    [[nodiscard]] bool isFormatting() const { return isFormatting_; }

Q_SIGNALS:
    void remarked(const QString& text);
    void commandRequested(const QString& id);
    /// What became of the saved query that the sheet is.
    void versionsRequested();
    /// Another thing is marked at the caret, or nothing any more: see SqlEditor::hintAtCaret().
    void findingChanged();
    /// A text is to be looked for in every open sheet.
    void everywhereWanted(const pantry::work::TextQuery& query);
    /// Somebody wants to see the details of what a name means.
    void objectRequested(const pantry::app::ObjectPlace& place);

    /// Of its result, as ResultPane says.
    void selectionSummed(const QString& text);
    void cellFocused(int row, int column);
    void sheetWanted(const QString& title, const QString& text);

private:
    void makeLayout();
    FindStrip* makeFinding();
    RanBefore* makeRanBefore();
    ResultPane* makeResult();
    void followText();
    void followSheet();
    void followResults();
    [[nodiscard]] QColor colour() const;
    [[nodiscard]] bool isOutOfDate(const work::FormattedEdit& edit);
    void putFormatted(const work::FormattedEdit& edit);
    void putFormattedPart(const work::FormattedEdit& edit, std::size_t start, std::size_t length);
    void tellUnread(const work::FormattedEdit& edit);
    [[nodiscard]] static StatementMark markOf(std::size_t statement, const Card& card);
    void refreshMarks();
    void checkSoon();
    void showHints();
    void putBelow(const std::string& statement);
    void take(const std::string& statement, bool toEdit);
    void rememberLastRuns(std::vector<StatementMark>& marks);
    void giveRoomOnce();
    void showCard(Card* card);

    Desk& desk_;
    Sheet* sheet_;
    ContextBand* band_;
    TransactionStrip* strip_;
    HeldPanel* held_;
    QTimer marksTimer_;
    QTimer checkTimer_;                    // typing rests
    work::TextReadingPtr checkedReading_;  // that the findings are about
    std::vector<sql::Finding> findings_;
    work::TextReadingPtr saidReading_;  // that the server was asked about
    std::vector<db::Session::Opinion> said_;
    SqlEditor* editor_;
    ParameterStrip* parameters_;
    TextShape* shape_;
    LateWidget<FindStrip> finding_;
    LateWidget<RanBefore> ranBefore_;
    work::LastRuns lastRuns_;
    QueryChanges* changes_;
    NameHelp* names_;
    SnippetWork* snippets_;
    Tray* tray_;
    LateWidget<ResultPane> result_;
    std::function<std::vector<ResultSource*>()> comparable_;
    QSplitter* splitter_;
    QWidget* upper_;
    QWidget* lower_;
    QHBoxLayout* body_;
    bool isFormatting_ = false;
    bool isRunDue_ = false;      // asked for while the text was laid out
    bool hasGivenRoom_ = false;  // or somebody has moved the splitter
};

}  // namespace pantry::app
