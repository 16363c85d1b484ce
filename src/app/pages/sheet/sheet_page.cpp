#include "app/pages/sheet/sheet_page.h"
#include "app/editor/text_settings.h"

#include <QHBoxLayout>
#include <QVBoxLayout>
#include <algorithm>
#include <set>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/command/command.h"
#include "app/look/desktop_notice.h"
#include "app/look/first_paint.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "app/pages/sheet/file_strip.h"
#include "app/pages/sheet/large_text_strip.h"
#include "app/pages/sheet/password_panel.h"
#include "app/pages/sheet/regular_strip.h"
#include "app/result/result_window.h"
#include "core/base/text.h"
#include "core/work/run_difference.h"
#include "core/work/server_check.h"

namespace pantry::app {

SheetPage::SheetPage(Desk& desk, Sheet* sheet, QWidget* parent)
    : Page(parent),
      desk_(desk),
      sheet_(sheet),
      band_(new ContextBand(desk, *sheet, this)),
      strip_(new TransactionStrip(*sheet, this)),
      held_(new HeldPanel(desk, *sheet, this)),
      editor_(new SqlEditor(this)),
      parameters_(new ParameterStrip(*sheet, *editor_, this)),
      shape_(new TextShape(*sheet, *editor_, this)),
      finding_([this] { return makeFinding(); }),
      ranBefore_([this] { return makeRanBefore(); }),
      lastRuns_(desk.ledger(), [this] { refreshMarks(); }),
      changes_(new QueryChanges(*sheet, *editor_, this)),
      names_(new NameHelp(desk, *sheet, *editor_, this)),
      snippets_(new SnippetWork(desk, *sheet, *editor_, this)),
      tray_(new Tray(*sheet, this)),
      result_([this] { return makeResult(); }),
      splitter_(makeSplitter(Qt::Vertical, this)),
      upper_(new QWidget(this)),
      lower_(new QWidget(this)),
      body_(new QHBoxLayout) {
    sheet_->setParent(this);
    setObjectName(QLatin1String(objectName::kSheetPage));
    makeLayout();
    setFocusProxy(editor_);
    editor_->setReading(sheet_->reading());  // a text that is too large to be looked at is known to be before it comes
    editor_->resetText(sheet_->text());
    editor_->setHistory(sheet_->history());
    editor_->setCaret(sheet_->caret());
    followText();
    followSheet();
    followResults();
    desk_.catalogs().want(fromQt(sheet_->connectionId()), sheet_->database());
    applySettings();
    editor_->setReading(sheet_->reading());
    refreshMarks();
    afterPaintOf(this, [this] { result_.get(); });
}

void SheetPage::makeLayout() {
    auto* lowerLayout = new QVBoxLayout(lower_);
    lowerLayout->setContentsMargins(0, 0, 0, 0);
    lowerLayout->setSpacing(0);
    lowerLayout->addWidget(tray_);
    auto* upperLayout = new QVBoxLayout(upper_);
    upperLayout->setContentsMargins(0, 0, 0, 0);
    upperLayout->setSpacing(0);
    upperLayout->addWidget(editor_, 1);
    splitter_->addWidget(upper_);
    splitter_->addWidget(lower_);
    const int share = desk_.windowState().editorShare;
    splitter_->setSizes({share * 10, (100 - share) * 10});
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(band_);
    auto* password = new PasswordPanel(desk_, *sheet_, this);
    layout->addWidget(password);
    connect(password, &PasswordPanel::taken, this, [this] { editor_->setFocus(); });
    layout->addWidget(strip_);
    layout->addWidget(new RegularStrip(*sheet_, this));
    layout->addWidget(parameters_);
    layout->addWidget(held_);
    layout->addWidget(new FileStrip(*sheet_, this));
    layout->addWidget(new LargeTextStrip(*sheet_, *editor_, this));
    // Beside everything: a low result leaves no room for forms, and nothing moves when they come or go.
    body_->setSpacing(0);
    body_->addWidget(splitter_, 1);
    layout->addLayout(body_, 1);
    connect(splitter_, &QSplitter::splitterMoved, this, [this] {
        const auto sizes = splitter_->sizes();
        const int sum = sizes[0] + sizes[1];
        hasGivenRoom_ = true;
        if (sum > 0 && !isBeside())
            desk_.preferences().changeWindowState([&](auto& s) { s.editorShare = sizes[0] * 100 / sum; });
    });
}

FindStrip* SheetPage::makeFinding() {
    auto* strip = new FindStrip(FindStrip::Reach::Sheets, *editor_, upper_);
    upper_->layout()->addWidget(strip);
    connect(strip, &FindStrip::remarked, this, &SheetPage::remarked);
    connect(strip, &FindStrip::everywhereWanted, this, &SheetPage::everywhereWanted);
    return strip;
}

RanBefore* SheetPage::makeRanBefore() {
    auto* choice = new RanBefore(desk_, *sheet_, *editor_, this);
    connect(choice, &RanBefore::taken, this, &SheetPage::take);
    connect(choice, &RanBefore::runRequested, this, [this](const std::string& statement) {
        take(statement, false);
        sheet_->whenRead([this] { runAtCaret(); });
    });
    return choice;
}

/// Not in the first picture of a start, and not for the sheets behind the one in front.
ResultPane* SheetPage::makeResult() {
    auto* result = new ResultPane(desk_, lower_);
    lower_->layout()->addWidget(result);
    static_cast<QBoxLayout*>(lower_->layout())->setStretchFactor(result, 1);
    body_->addWidget(result->side());
    putBehindInTabOrder(tray_, result);
    result->setComparable([this] { return comparable_ ? comparable_() : std::vector<ResultSource*>(); });
    connect(result->side(), &ResultSide::compared, sheet_, &Sheet::addComparison);
    connect(result, &ResultPane::differencesWanted, sheet_, &Sheet::addComparison);
    connect(result, &ResultPane::statementWanted, this, [this](const QString& statement) {
        appendStatement(fromQt(statement));
        sheet_->whenRead([this] { runAtCaret(); });
    });
    connect(result, &ResultPane::selectionSummed, this, &SheetPage::selectionSummed);
    connect(result, &ResultPane::cellFocused, this, &SheetPage::cellFocused);
    connect(result, &ResultPane::sheetWanted, this, &SheetPage::sheetWanted);
    return result;
}

void SheetPage::followText() {
    connect(editor_, &SqlEditor::textEdited, this, [this] {
        sheet_->setPassing(false);
        sheet_->setText(editor_->text());
    });
    connect(editor_, &SqlEditor::completionRequested, sheet_,
            [this](std::size_t caret, quint64 question, bool isAsked) {
                sheet_->complete(caret, isAsked, [this, question](const sql::Completion& completion) {
                    editor_->offer(completion, question);
                });
            });
    connect(sheet_, &Sheet::readingChanged, this, [this] {
        editor_->setReading(sheet_->reading());
        refreshMarks();
        checkSoon();
    });
    connect(&desk_, &Desk::ledgerChanged, this, [this] {
        lastRuns_.noteRun();
        if (!marksTimer_.isActive()) marksTimer_.start();
    });
    connect(&desk_, &Desk::catalogChanged, this, [this](const QString& connectionId) {
        if (connectionId != sheet_->connectionId()) return;
        checkSoon();
        parameters_->lookSoon();
    });
    connect(&sheet_->file(), &SheetFile::textRead, this, [this](const base::SharedText& text) {
        if (sheet_->hasHelpers()) return editor_->replaceText(text.str(), editor_->caret());
        editor_->resetText(text);
        sheet_->setText(text);
    });
    connect(editor_, &SqlEditor::partSelected, this,
            [this] { Q_EMIT remarked(tr("The part that is shown is selected, not the whole text.")); });
    connect(editor_, &SqlEditor::caretMoved, this, [this] {
        sheet_->setCaret(editor_->caret());
        Q_EMIT findingChanged();
        checkSoon();
    });
    constexpr int kRestMs = 600;
    checkTimer_.setSingleShot(true);
    checkTimer_.setInterval(kRestMs);
    connect(&checkTimer_, &QTimer::timeout, this, [this] {
        if (editor_->isCompleting()) return checkSoon();
        sheet_->check([this](const work::TextReadingPtr& reading, const std::vector<sql::Finding>& findings) {
            if (reading != sheet_->reading()) return;  // somebody went on
            checkedReading_ = reading;
            findings_ = findings;
            showHints();
        });
    });
    connect(parameters_, &ParameterStrip::runRequested, this, &SheetPage::runAtCaret);
    connect(parameters_, &ParameterStrip::remarked, this, &SheetPage::remarked);
    connect(changes_, &QueryChanges::parameterMade, this, [this](const QString& key, const QString& value) {
        sheet_->giveParameter(fromQt(key), {.typed = fromQt(value)});
    });
    connect(changes_, &QueryChanges::remarked, this, &SheetPage::remarked);
    connect(snippets_, &SnippetWork::remarked, this, &SheetPage::remarked);
    connect(names_, &NameHelp::remarked, this, &SheetPage::remarked);
    connect(names_, &NameHelp::objectRequested, this, &SheetPage::objectRequested);
    connect(editor_, &SqlEditor::commandRequested, this, &SheetPage::commandRequested);
    connect(editor_, &SqlEditor::markClicked, this, [this](int statement) {
        if (Card* card = sheet_->cardOf(static_cast<std::size_t>(statement))) tray_->choose(card);
    });
}

void SheetPage::followSheet() {
    connect(sheet_, &Sheet::titleChanged, this, &Page::changed);
    connect(sheet_, &Sheet::connectionChanged, this, &Page::changed);
    connect(&desk_, &Desk::profilesChanged, this, &Page::changed);
    connect(sheet_, &Sheet::elapsedChanged, this, &Page::elapsedChanged);
    connect(sheet_, &Sheet::runningChanged, this, &Page::elapsedChanged);
    connect(&desk_, &Desk::settingsChanged, this, &SheetPage::applySettings);
    connect(band_, &ContextBand::runRequested, this, &SheetPage::runAtCaret);
    connect(band_, &ContextBand::runAllRequested, this, &SheetPage::runAll);
    connect(band_, &ContextBand::stopRequested, sheet_, &Sheet::stop);
    connect(band_, &ContextBand::formatRequested, this, &SheetPage::format);
    connect(band_, &ContextBand::versionsRequested, this, &SheetPage::versionsRequested);
    connect(sheet_, &Sheet::remarked, this, &SheetPage::remarked);
    connect(sheet_, &Sheet::heldChanged, this, [this] {
        if (!sheet_->runs().held()) editor_->setFocus();
    });
    connect(sheet_, &Sheet::connectionChanged, this, [this] {
        refreshMarks();
        desk_.catalogs().want(fromQt(sheet_->connectionId()), sheet_->database());
    });
    connect(&desk_, &Desk::begun, this, [this](const QString& connectionId) {
        if (connectionId == sheet_->connectionId()) desk_.catalogs().want(fromQt(connectionId), sheet_->database());
    });
}

void SheetPage::followResults() {
    connect(&sheet_->regular(), &RegularRunner::found, this, [this](const QString& title, const QString& text) {
        Q_EMIT remarked(tr("%1: %2").arg(title, text));
        if (!isActiveWindow()) tellDesktop(title, text);
    });
    connect(tray_, &Tray::chosen, this, &SheetPage::showCard);
    connect(tray_, &Tray::rowsWanted, this, [this] { result_->grid()->setFocus(Qt::TabFocusReason); });
    connect(tray_, &Tray::windowWanted, this, [this](Card* card) {
        auto* window = new ResultWindow(desk_, card);
        connect(this, &QObject::destroyed, window, &QWidget::close);
        window->show();
    });
    // Of very many results a moment's are shown together.
    constexpr int kFrameMs = 16;
    marksTimer_.setSingleShot(true);
    marksTimer_.setInterval(kFrameMs);
    connect(&marksTimer_, &QTimer::timeout, this, &SheetPage::refreshMarks);
    const auto refreshSoon = [this] {
        if (!marksTimer_.isActive()) marksTimer_.start();
    };
    connect(sheet_, &Sheet::cardChanged, this, refreshSoon);
    connect(sheet_, &Sheet::cardRemoved, this, refreshSoon);
}

/// The result in front from now on runs again by itself.
void SheetPage::runRegularly() {
    const Card* card = tray_->current();
    if (card == nullptr || card->isComparison() || !sheet_->isFromHere(card))
        return Q_EMIT remarked(tr("Run the statement first; its result can run again by itself then."));
    sheet_->regular().begin(card->runPtr());
}

void SheetPage::runAllRegularly() {
    const auto begin = [this](const Card* card) { sheet_->regular().begin(card->runPtr()); };
    connect(sheet_, &Sheet::cardAdded, this, begin, Qt::SingleShotConnection);
    runAll();
}

// ---- As a page ----

QColor SheetPage::colour() const { return sheet_->colourOf(sheet_->connectionId()); }

QString SheetPage::title() const {
    return sheet_->title() + (sheet_->file().isUnsaved() ? QStringLiteral(" •") : QString());
}

QColor SheetPage::tabColour() const { return Theme::current().tinted(colour(), 0.16); }

QString SheetPage::detail() const {
    const db::ConnectionProfile* p = sheet_->profile();
    return p != nullptr ? toQt(p->name) : QString();
}

QString SheetPage::tip() const {
    const SheetFile& file = sheet_->file();
    QString tip = sheet_->profile() != nullptr ? tr("%1 on %2").arg(sheet_->title(), detail()) : sheet_->title();
    if (file.state()) tip += QStringLiteral("\n") + toQt(file.state()->path);
    if (sheet_->isPassing())
        tip += QStringLiteral("\n") + tr("In passing: the next table's rows take its place, until you write in it");
    if (file.isUnsaved())
        tip += QStringLiteral("\n") + tr("Not saved since it was changed (%1)").arg(keyText("sheet.save"));
    return tip;
}

QString SheetPage::leave() {
    sheet_->close();
    return tr("Closed %1. %2 brings it back.").arg(sheet_->title(), keyText("sheet.reopen"));
}

void SheetPage::applySettings() {
    pantry::app::applySettings(*editor_, desk_.settings());
    checkSoon();  // other checks may be on
}

void SheetPage::appendStatement(const std::string& statement) {
    sheet_->whenRead([this, statement] { putBelow(statement); });
}

/// A last statement without its terminator gets one: else the new one would become part of it.
void SheetPage::putBelow(const std::string& statement) {
    const auto& statements = sheet_->script().statements();
    if (!sheet_->hasHelpers()) editor_->appendBelow(";");  // what stands above may be without its terminator
    if (!statements.empty() && !statements.back().span.isTerminated)
        editor_->insertAt(statements.back().span.end(), ";");
    editor_->appendBelow(statement + ";");
    editor_->setCaret(editor_->caret() - 1);
    editor_->setFocus();
}

/// Below what is there, ready to be run, or with its first value selected to be changed.
void SheetPage::take(const std::string& statement, bool toEdit) {
    sheet_->whenRead([this, statement, toEdit] {
        putBelow(statement);
        if (!toEdit) return;
        const auto [start, end] = work::firstValueOf(statement, sheet_->dialect());
        const std::size_t first = editor_->caret() - statement.size();
        editor_->select(first + start, first + end);
    });
}

void SheetPage::showInPassing(const QString& title, const std::string& statement) {
    const std::vector<Card*> before = sheet_->cards();
    for (Card* card : before) {
        if (!card->isPinned()) sheet_->runs().remove(card->runPtr());
    }
    editor_->resetText(statement + ";");
    sheet_->setText(editor_->text());
    sheet_->setTitle(title);
    sheet_->setPassing(true);
    refreshMarks();
    editor_->setFocus();
    runAll();
}

void SheetPage::runAtCaret() {
    if (isFormatting_) {  // what was asked for first comes first
        isRunDue_ = true;
        return;
    }
    if (editor_->selection().empty() && snippets_->isOpenAt(editor_->caret())) return;
    sheet_->runAt(editor_->caret(), editor_->selection());
}

void SheetPage::runAll() { sheet_->runAll(); }
void SheetPage::runUpTo() { sheet_->runUpTo(editor_->caret()); }
void SheetPage::runFrom() { sheet_->runFrom(editor_->caret()); }

/// The selection when there is one, else the whole sheet; the caret stays on its token.
void SheetPage::format() {
    const std::string selection = editor_->selection();
    if (selection.empty() && !sheet_->hasHelpers()) {
        return Q_EMIT remarked(
            tr("This text is too large to be formatted here. Select a part of it, or use pantry format FILE."));
    }
    const std::size_t start = editor_->selectionStart();
    const std::size_t caret = editor_->caret();
    const bool isPart = !selection.empty();
    isFormatting_ = true;
    sheet_->format(
        {.start = start, .end = start + selection.size(), .caret = caret, .options = desk_.settings().format},
        [this, start, caret, length = selection.size(), isPart](const work::FormattedEdit& edit) {
            if (!isPart && editor_->caret() != caret)
                return format();  // it went on, and stays on the token it is on now
            isFormatting_ = false;
            isPart ? putFormattedPart(edit, start, length) : putFormatted(edit);
            if (std::exchange(isRunDue_, false)) runAtCaret();
        });
}

void SheetPage::mend() {
    if (!editor_->mend()) Q_EMIT remarked(tr("Nothing is marked here that can be mended."));
}

/// Whether somebody went on writing before the text was laid out, which is said.
bool SheetPage::isOutOfDate(const work::FormattedEdit& edit) {
    if (edit.of.isCopyOf(editor_->text())) return false;
    Q_EMIT remarked(tr("The text was changed before it was formatted, and stays as it is."));
    return true;
}

void SheetPage::putFormatted(const work::FormattedEdit& edit) {
    if (isOutOfDate(edit)) return;
    if (!edit.isSame) editor_->replaceText(edit.text, edit.caret);
    if (!edit.unread.empty()) return tellUnread(edit);
    if (edit.isSame) Q_EMIT remarked(tr("The sheet is formatted already."));
}

void SheetPage::putFormattedPart(const work::FormattedEdit& edit, std::size_t start, std::size_t length) {
    if (isOutOfDate(edit)) return;
    if (!edit.isSame) {
        editor_->select(edit.start, edit.end);
        editor_->insertText(edit.text);
        const std::size_t behind = start + length > edit.end ? start + length - edit.end : 0;  // blanks stay selected
        editor_->select(std::min(start, edit.start), edit.start + edit.text.size() + behind);
    }
    if (!edit.unread.empty()) return tellUnread(edit);
    if (edit.isSame) Q_EMIT remarked(tr("The selection is formatted already."));
}

/// Says what stays as it is, and underlines where the first of it could not be read.
void SheetPage::tellUnread(const work::FormattedEdit& edit) {
    const sql::UnreadStatement& first = edit.unread.front();
    sheet_->whenRead([this, at = first.formattedOffset] { editor_->setErrorAt(static_cast<std::int64_t>(at)); });
    Q_EMIT remarked(
        tr("%1 could not be read and stays as it is. Line %2: %3")
            .arg(edit.unread.size() == 1 ? tr("One statement") : tr("%1 statements").arg(edit.unread.size()))
            .arg(edit.unreadLine)
            .arg(toQt(first.message)));
}

void SheetPage::showBeside(bool isBeside) {
    splitter_->setOrientation(isBeside ? Qt::Horizontal : Qt::Vertical);
    lower_->show();
}

void SheetPage::toggleResult() { lower_->setVisible(!lower_->isVisible()); }

void SheetPage::chooseCard(int number) {
    if (number < 1 || number > static_cast<int>(sheet_->cards().size())) return;
    tray_->choose(sheet_->cards()[static_cast<std::size_t>(number - 1)]);
}

/// A first result takes the room that a short text leaves; afterwards the parts stay as they are, or as they were put.
void SheetPage::giveRoomOnce() {
    if (hasGivenRoom_ || isBeside() || splitter_->height() == 0) return;
    hasGivenRoom_ = true;
    constexpr int kLeastEditor = 110;
    const int wanted = std::max(kLeastEditor, editor_->contentHeight());
    const auto sizes = splitter_->sizes();
    if (sizes[0] <= wanted) return;
    splitter_->setSizes({wanted, sizes[0] + sizes[1] - wanted});
}

void SheetPage::showCard(Card* card) {
    lower_->show();
    if (card != nullptr) giveRoomOnce();
    result_->setSource(card);
    refreshMarks();
}

StatementMark SheetPage::markOf(std::size_t statement, const Card& card) {
    using Status = StatementMark::Status;
    StatementMark mark{
        .statement = statement, .label = card.outcomeText(), .details = QStringLiteral(" → %1").arg(card.number())};
    switch (card.state()) {
        case Card::State::Waiting:
        case Card::State::Running: mark.status = Status::Running; break;
        case Card::State::Done: mark.status = Status::Done; break;
        case Card::State::Paused:
        case Card::State::Partial: mark.status = Status::Partial; break;
        case Card::State::Failed: mark.status = Status::Failed; break;
        case Card::State::Stopped: mark.status = Status::Stopped; break;
    }
    const bool hasTime = !card.isGoingOn() && card.state() != Card::State::Failed;
    if (hasTime) mark.details = QStringLiteral(" · ") + card.timeText() + mark.details;
    if (!card.whole().empty()) mark.details = tr(" · of the part that was selected") + mark.details;
    return mark;
}

/// Outcomes, hints and the first error, as they belong to the text that was read last.
void SheetPage::refreshMarks() {
    std::vector<StatementMark> marks;
    std::int64_t errorAt = -1;
    for (const auto& [statement, card] : sheet_->cardsOfStatements()) {
        marks.push_back(markOf(statement, *card));
        if (card->state() == Card::State::Failed && errorAt < 0) errorAt = sheet_->errorOffset(card);
    }
    rememberLastRuns(marks);
    editor_->setMarks(std::move(marks));
    showHints();
    editor_->setErrorAt(errorAt);
}

/// Statements that did not run here yet say how they went the last time, quietly.
void SheetPage::rememberLastRuns(std::vector<StatementMark>& marks) {
    constexpr std::size_t kMax = 300;  // of a longer script, those at its beginning
    lastRuns_.setPlace(fromQt(sheet_->connectionId()), sheet_->dialect());
    std::set<std::size_t> ran;
    for (const StatementMark& one : marks) ran.insert(one.statement);
    const sql::Script& script = sheet_->reading()->script();
    for (std::size_t i = 0; i < std::min(script.statements().size(), kMax); ++i) {
        if (ran.contains(i)) continue;
        const std::string text = lastRuns_.textOf(script.statements()[i].textHash, script.textOf(i));
        if (!text.empty()) marks.push_back({.statement = i, .label = {}, .details = toQt(text)});
    }
    std::ranges::sort(marks, {}, &StatementMark::statement);
    lastRuns_.readAsked();
}

/// Where somebody writes, nothing is finished yet, and so nothing is wrong: at the caret, and before it with nothing
/// but blanks between.
bool isBeingWritten(const sql::Finding& finding, std::size_t caret, const base::SharedText& text) {
    const std::size_t end = finding.start + finding.length;
    constexpr std::size_t kNear = 80;
    if (finding.severity != sql::Severity::Error || finding.start > caret || caret > end + kNear) return false;
    return caret <= end || std::ranges::all_of(text.part(end, caret - end), base::isAsciiBlank);
}

/// What was found since typing rests; until then what reading finds by itself.
void SheetPage::showHints() {
    const bool isChecked = checkedReading_ == sheet_->reading();
    const std::size_t caret = editor_->caret();
    std::vector<sql::Finding> shown = isChecked ? findings_ : sheet_->reading()->findings();
    std::erase_if(shown, [&](const sql::Finding& one) {
        return isChecked && !one.fix && isBeingWritten(one, caret, editor_->text());
    });
    std::vector<TextHint> hints;
    for (const sql::Finding& finding : shown) hints.push_back(hintOf(finding));
    if (saidReading_ == sheet_->reading()) {
        for (const sql::Finding& finding : work::serverFindings(saidReading_->script(), said_, shown)) {
            hints.push_back(hintOf(finding));
            hints.back().rule.clear();  // what a server says cannot be silenced
        }
    }
    std::ranges::stable_sort(hints, {}, &TextHint::start);
    editor_->setHints(std::move(hints));
    Q_EMIT findingChanged();
}

void SheetPage::goToStatement(int direction) {
    const auto& statements = sheet_->script().statements();
    const std::size_t caret = editor_->caret();
    const auto startOf = [](const sql::ScriptStatement& one) { return one.span.start; };
    const auto at = direction > 0 ? std::ranges::upper_bound(statements, caret, {}, startOf)
                                  : std::ranges::lower_bound(statements, caret, {}, startOf);
    const bool isNone = direction > 0 ? at == statements.end() : at == statements.begin();
    if (isNone) return Q_EMIT remarked(direction > 0 ? tr("There is no statement below.") : tr("There is none above."));
    editor_->setCaret(startOf(direction > 0 ? *at : *std::prev(at)));
}

void SheetPage::silenceFinding() {
    const TextHint* hint = editor_->hintAtCaret();
    if (hint == nullptr) return Q_EMIT remarked(tr("Nothing is marked at the cursor."));
    if (hint->rule.empty()) return Q_EMIT remarked(tr("A mistake in the language itself is always told."));
    const std::string rule = hint->rule;
    desk_.preferences().changeSettings([&](auto& s) {
        if (std::ranges::find(s.findingsOff, rule) == s.findingsOff.end()) s.findingsOff.push_back(rule);
    });
    checkedReading_.reset();  // what was found before the check was off
    checkSoon();
    Q_EMIT remarked(
        tr("“%1” is off. Query › %2 brings it back.").arg(toQt(rule), QString(command("editor.allChecks").text)));
}

void SheetPage::checkOnServer() {
    if (!sheet_->hasHelpers()) return Q_EMIT remarked(tr("This text is too large to be checked here."));
    Q_EMIT remarked(tr("The server is asked…"));
    sheet_->checkOnServer([this](const work::TextReadingPtr& reading, const Sheet::Opinions& opinions) {
        if (!opinions) return Q_EMIT remarked(toQt(opinions.error()));
        saidReading_ = reading;
        said_ = *opinions;
        showHints();
        const auto count = static_cast<std::int64_t>(reading->script().statements().size());
        const QString asked = toQt(base::counted(count, "statement", "statements"));
        const auto errors = std::ranges::count(work::serverFindings(reading->script(), said_), sql::Severity::Error,
                                               &sql::Finding::severity);
        if (reading != sheet_->reading()) return Q_EMIT remarked(tr("The text was changed meanwhile; ask again."));
        Q_EMIT remarked(errors == 0 ? tr("The server has nothing against %1.").arg(asked)
                                    : tr("Of %1, the server refuses %2.").arg(asked).arg(errors));
    });
}

void SheetPage::checkSoon() { checkTimer_.start(); }

}  // namespace pantry::app

#include "moc_sheet_page.cpp"
