#include "app/pages/ledger/run_details.h"

#include <QApplication>
#include <QClipboard>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QVBoxLayout>
#include <algorithm>

#include "app/base/background.h"
#include "app/base/text.h"
#include "app/ledger/run_words.h"
#include "app/look/pick_list.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/base/text.h"
#include "core/db/profile.h"
#include "core/work/query_link.h"
#include "core/work/run_difference.h"
#include "core/work/text_reading.h"

namespace pantry::app {
namespace {

constexpr std::size_t kRunsShown = 60;  // of one statement
constexpr int kTallest = 320;           // pixels of the statement; more is scrolled

}  // namespace

RunDetails::RunDetails(Desk& desk, QWidget* parent)
    : QWidget(parent),
      desk_(desk),
      heading_(makeLabel({}, "section")),
      hint_(makeLabel(tr("← → go from run to run"), "small")),
      line_(new RunLine),
      outcome_(makeLabel({}, "")),
      note_(makeLabel({}, "quiet")),
      statement_(new CodeText(kTallest)),
      planHeading_(makeLabel(tr("Its plan"), "section")),
      plan_(new QPlainTextEdit),
      factsHeading_(makeLabel({}, "section")),
      facts_(new QGridLayout),
      content_(new QWidget(this)),
      empty_(makeLabel(tr("Choose a run to see it in full."), "quiet", this)) {
    name(this, "runDetails", tr("The chosen run"));
    name(statement_, "runStatement", tr("The statement as it ran"));
    outcome_->setObjectName(QStringLiteral("runOutcome"));
    note_->setObjectName(QStringLiteral("runNote"));
    for (QLabel* label : {outcome_, note_}) {
        label->setWordWrap(true);
        label->setTextInteractionFlags(Qt::TextSelectableByMouse);
    }
    name(plan_, "runPlan", tr("The plan that the server answered"));
    plan_->setReadOnly(true);
    plan_->setProperty("look", "code");
    plan_->setLineWrapMode(QPlainTextEdit::NoWrap);
    plan_->setTabChangesFocus(true);
    auto* top = new QHBoxLayout;
    top->addWidget(heading_);
    top->addStretch();
    top->addWidget(hint_);
    facts_->setHorizontalSpacing(16);
    facts_->setVerticalSpacing(3);
    facts_->setColumnStretch(1, 1);
    facts_->setColumnStretch(2, 1);
    auto* content = new QVBoxLayout(content_);
    content->setContentsMargins(16, 14, 16, 14);
    content->setSpacing(8);
    content->addLayout(top);
    content->addWidget(line_);
    content->addWidget(outcome_);
    content->addLayout(makeVerbs());
    content->addWidget(note_);
    content->addWidget(statement_);
    content->addWidget(planHeading_);
    content->addWidget(plan_);
    content->addWidget(factsHeading_);
    content->addLayout(facts_);
    content->addStretch();
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(content_);
    layout->addWidget(empty_, 0, Qt::AlignCenter);
    connect(line_, &RunLine::runChosen, this, &RunDetails::showRun);
    connect(&Theme::current(), &Theme::changed, this, &RunDetails::refresh);
    clear();
}

QLayout* RunDetails::makeVerbs() {
    again_ = makeButton(tr("Run again"), "main", "ledgerRunAgain", tr("Run the statement again, on its connection"));
    auto* elsewhere = makeButton(tr("Run on…"), "", "ledgerRunOn", tr("Run the statement on another connection"));
    auto* open = makeButton(tr("Open in a sheet"), "", "ledgerOpen", tr("Put the statement into a sheet"));
    auto* copy = makeButton(tr("Copy"), "", "ledgerCopy", tr("Copy the statement"));
    star_ = makeButton(tr("Star"), "plain", "ledgerStar", tr("Mark the run with a star"));
    auto* note = makeButton(tr("Note…"), "plain", "ledgerNote", tr("Write a note about the run"));
    auto* link = makeButton(tr("Copy link"), "plain", "ledgerCopyLink", tr("Copy an address that leads to this run"));
    auto* remove = makeButton(tr("Remove"), "plain", "ledgerRemove", tr("Remove the run from the ledger"));
    connect(again_, &QPushButton::clicked, this, [this] {
        if (shown_) Q_EMIT runRequested(toQt(shown_->start.connectionId), toQt(shown_->start.statement));
    });
    connect(elsewhere, &QPushButton::clicked, this, &RunDetails::openPlaces);
    connect(open, &QPushButton::clicked, this, [this] {
        if (shown_) Q_EMIT sheetRequested(toQt(shown_->start.connectionId), toQt(shown_->start.statement));
    });
    connect(copy, &QPushButton::clicked, this, &RunDetails::copy);
    connect(link, &QPushButton::clicked, this, &RunDetails::copyLink);
    connect(star_, &QPushButton::clicked, this, &RunDetails::toggleStar);
    connect(note, &QPushButton::clicked, this, &RunDetails::editNote);
    connect(remove, &QPushButton::clicked, this, [this] {
        if (shown_) Q_EMIT removeRequested({shown_->id});
    });
    auto* first = new QHBoxLayout;
    first->setSpacing(6);
    for (QPushButton* one : {again_, elsewhere, open, copy}) first->addWidget(one);
    first->addStretch();
    auto* second = new QHBoxLayout;
    second->setSpacing(6);
    for (QPushButton* one : {star_, note, link}) second->addWidget(one);
    second->addStretch();
    second->addWidget(remove);
    auto* layout = new QVBoxLayout;
    layout->setSpacing(4);
    layout->addLayout(first);
    layout->addLayout(second);
    return layout;
}

void RunDetails::clear() {
    shown_.reset();
    runs_.clear();
    content_->hide();
    empty_->show();
}

void RunDetails::show(const store::LedgerEntry& entry, store::LedgerAlike alike) {
    const bool isSameFold = shown_ && alike == alike_ && store::areAlike(*shown_, entry, alike);
    alike_ = alike;
    if (!isSameFold) runs_ = {entry};
    shown_ = entry;
    content_->show();
    empty_->hide();
    refresh();
    desk_.ledger().findLike(
        entry, kRunsShown, alike,
        whileThere(this, [this, asked = ++asked_](const Result<std::vector<store::LedgerEntry>>& runs) {
            if (asked != asked_ || !runs || runs->empty()) return;
            runs_ = *runs;
            refresh();
        }));
}

void RunDetails::showRun(std::int64_t id) {
    const auto run = std::ranges::find(runs_, id, &store::LedgerEntry::id);
    if (run == runs_.end()) return;
    shown_ = *run;
    refresh();
}

const store::LedgerEntry* RunDetails::runBefore() const {
    const auto run = std::ranges::find(runs_, shown_->id, &store::LedgerEntry::id);
    return run == runs_.end() || run + 1 == runs_.end() ? nullptr : &*(run + 1);
}

void RunDetails::refresh() {
    if (!shown_) return;
    RunPoints points;
    for (auto run = runs_.rbegin(); run != runs_.rend(); ++run)
        points.push_back({run->id, run->startedAt, run->end.status, run->end.duration, run->end.rows});
    const bool isAlone = points.size() < 2;
    heading_->setText(isAlone ? tr("This statement ran once") : tr("Runs of this statement"));
    hint_->setVisible(!isAlone);
    line_->setVisible(!isAlone);
    line_->setPoints(std::move(points), shown_->id);
    QString text = toQt(base::spoken(shown_->startedAt, base::now())) + QStringLiteral(" · ") + outcomeOf(*shown_);
    const auto fetching = shown_->end.fetching;
    if (shown_->end.status == store::RunStatus::Succeeded && fetching >= std::chrono::milliseconds(1))
        text += tr(", %1 of it fetching").arg(toQt(base::readable(fetching)));
    if (!shown_->end.errorCode.empty()) text += QStringLiteral(" (%1)").arg(toQt(shown_->end.errorCode));
    outcome_->setText(text);
    QPalette palette = outcome_->palette();
    palette.setColor(QPalette::WindowText, Theme::current().colour(statusColour(shown_->end.status)));
    outcome_->setPalette(palette);
    star_->setText(shown_->isStarred ? tr("★ Starred") : tr("Star"));
    note_->setText(toQt(shown_->note));
    note_->setVisible(!shown_->note.empty());
    showStatement();
    showPlan();
    showFacts();
}

void RunDetails::showStatement() {
    const base::SharedText text(shown_->start.statement);
    const auto engine = db::engineFromWord(shown_->start.engine);
    const sql::Language language = engine ? db::dialectOf(*engine) : sql::Dialect::Sqlite;
    statement_->show(text, language);
}

/// Of a statement that asked for one.
void RunDetails::showPlan() {
    constexpr int kAround = 38;  // pixels: borders, margins, and a bar to scroll by
    const QString plan = toQt(shown_->end.plan).trimmed();
    planHeading_->setVisible(!plan.isEmpty());
    plan_->setVisible(!plan.isEmpty());
    if (plan_->toPlainText() == plan) return;
    plan_->setPlainText(plan);
    const int lines = static_cast<int>(plan.count(QLatin1Char('\n'))) + 1;
    plan_->setFixedHeight(
        std::clamp(lines * plan_->fontMetrics().lineSpacing() + kAround, Theme::px(48), Theme::px(kTallest)));
}

void RunDetails::addFact(const QString& what, const QString& value, const QString& before) {
    const int row = facts_->rowCount();
    facts_->addWidget(makeLabel(what, "quiet"), row, 0, Qt::AlignTop);
    auto* now = makeLabel(value, "");
    now->setWordWrap(true);
    now->setTextInteractionFlags(Qt::TextSelectableByMouse);
    if (before.isEmpty()) return facts_->addWidget(now, row, 1, 1, 2);
    auto* old = makeLabel(before, "quiet");
    old->setWordWrap(true);
    facts_->addWidget(old, row, 1, Qt::AlignTop);
    facts_->addWidget(now, row, 2, Qt::AlignTop);
}

/// What differs from the run before, where there was one, and what it was run with.
void RunDetails::showFacts() {
    clearLayout(facts_);
    const store::LedgerEntry* before = runBefore();
    const auto differences =
        before != nullptr ? work::differencesOf(*before, *shown_) : std::vector<work::RunDifference>();
    factsHeading_->setText(before == nullptr     ? tr("What it was run with")
                           : differences.empty() ? tr("The run before it was the same")
                                                 : tr("What differs from the run before"));
    if (!differences.empty()) {
        const QString moment = toQt(base::spoken(before->startedAt, base::now()));
        addFact({}, tr("This run"), moment);
        for (const work::RunDifference& one : differences) addFact(toQt(one.what), toQt(one.now), toQt(one.before));
    }
    const store::RunStart& run = shown_->start;
    if (!differences.empty()) {
        auto* heading = makeLabel(tr("What it was run with"), "section");
        heading->setContentsMargins(0, 10, 0, 0);
        facts_->addWidget(heading, facts_->rowCount(), 0, 1, 3);
    }
    QStringList where{toQt(run.connectionName)};
    for (const std::string* part : {&run.database, &run.schema}) {
        if (!part->empty()) where += toQt(*part).section(QLatin1Char('/'), -1);  // of a file its name
    }
    addFact(tr("Connection"),
            where.join(QStringLiteral(" › ")) + (run.user.empty() ? QString() : tr(", as %1").arg(toQt(run.user))));
    if (!run.server.empty()) addFact(tr("Server"), toQt(run.server));
    addFact(tr("Sheet"), run.sheet.empty() ? tr("none: from the command line") : toQt(run.sheet));
    if (!run.saved.empty()) addFact(tr("Saved query"), toQt(run.saved));
    if (!run.parameters.empty()) addFact(tr("Parameters"), toQt(run.parameters));
}

void RunDetails::copy() {
    if (!shown_) return;
    QApplication::clipboard()->setText(toQt(shown_->start.statement));
    Q_EMIT remarked(tr("The statement is copied."));
}

void RunDetails::copyLink() {
    if (!shown_) return;
    QApplication::clipboard()->setText(toQt(work::runLink(*shown_, desk_.shelf().shelves())));
    Q_EMIT remarked(tr("The link is copied."));
}

void RunDetails::removeAll() {
    if (!shown_) return;
    constexpr std::size_t kAll = 10'000'000;
    desk_.ledger().findLike(*shown_, kAll, alike_,
                            whileThere(this, [this](const Result<std::vector<store::LedgerEntry>>& runs) {
                                if (!runs) return Q_EMIT remarked(toQt(runs.error()));
                                std::vector<std::int64_t> ids;
                                for (const store::LedgerEntry& one : *runs) ids.push_back(one.id);
                                Q_EMIT removeRequested(ids);
                            }));
}

void RunDetails::toggleStar() {
    if (!shown_) return;
    shown_->isStarred = !shown_->isStarred;
    desk_.ledger().setStarred(shown_->id, shown_->isStarred);
    const auto run = std::ranges::find(runs_, shown_->id, &store::LedgerEntry::id);
    if (run != runs_.end()) run->isStarred = shown_->isStarred;
    refresh();
}

void RunDetails::editNote() {
    if (!shown_) return;
    auto* dialog = new QInputDialog(this);
    dialog->setObjectName(QStringLiteral("noteDialog"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setOption(QInputDialog::UsePlainTextEditForTextInput);
    dialog->setWindowTitle(tr("Note"));
    dialog->setLabelText(
        tr("What is there to know about this run? It is searched, and keeps the run from being thinned out."));
    dialog->setTextValue(toQt(shown_->note));
    connect(dialog, &QInputDialog::textValueSelected, this, [this, id = shown_->id](const QString& text) {
        desk_.ledger().setNote(id, fromQt(text.trimmed()));
        if (!shown_ || shown_->id != id) return;
        shown_->note = fromQt(text.trimmed());
        refresh();
    });
    dialog->open();
}

/// Where else it can run, each with its environment: nobody takes one for the other.
void RunDetails::openPlaces() {
    if (!shown_) return;
    std::vector<PickList::Choice> choices;
    for (const db::ConnectionProfile& one : desk_.connections().profiles()) {
        if (one.isTemplate || one.id == shown_->start.connectionId) continue;
        choices.push_back({.text = toQt(one.name),
                           .detail = toQt(db::environmentWord(one.environment)),
                           .icon = {},
                           .isCurrent = false,
                           .act = [this, id = toQt(one.id)] {
                               if (shown_) Q_EMIT runRequested(id, toQt(shown_->start.statement));
                           }});
    }
    if (choices.empty()) return Q_EMIT remarked(tr("There is no other connection."));
    auto* list = new PickList(std::move(choices), tr("Connections to run it on"), window());
    list->openAt(again_->mapToGlobal(QPoint(0, again_->height())));
}

}  // namespace pantry::app

#include "moc_run_details.cpp"
