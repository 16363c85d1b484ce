#include "app/pages/ledger/ledger_page.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPainter>
#include <QScrollArea>
#include <QScrollBar>
#include <QSplitter>
#include <QVBoxLayout>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/pick_list.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/base/text.h"
#include "core/db/profile.h"

namespace pantry::app {
namespace {

constexpr int kDebounceMs = 40;

}  // namespace

LedgerPage::LedgerPage(Desk& desk, QWidget* parent)
    : Page(parent),
      desk_(desk),
      find_(new QLineEdit),
      scopes_(new QButtonGroup(this)),
      terms_(new QWidget),
      list_(new QListView),
      model_(new FoldModel(desk, this)),
      state_(makeLabel({}, "small")),
      splitter_(makeSplitter(Qt::Horizontal, this)),
      undoStrip_(new QWidget),
      undoText_(makeLabel({}, "")),
      statisticsTab_(makeButton(tr("Statistics"), "toggle", "ledgerStatisticsTab", tr("What all runs say together"))),
      right_(new QStackedWidget),
      details_(new RunDetails(desk)),
      statistics_(new StatisticsView(desk)) {
    name(this, "ledgerWholePage", tr("Ledger"));
    right_->addWidget(details_);
    right_->addWidget(statistics_);
    statisticsTab_->setCheckable(true);
    auto* scroll = new QScrollArea;
    scroll->setWidget(right_);
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    splitter_->setObjectName(QStringLiteral("ledgerSplitter"));
    splitter_->addWidget(makeLeft());
    splitter_->addWidget(scroll);
    splitter_->setStretchFactor(0, 6);
    splitter_->setStretchFactor(1, 5);
    splitter_->setSizes({600, 500});
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(splitter_);
    debounce_.setSingleShot(true);
    debounce_.setInterval(kDebounceMs);
    connect(&debounce_, &QTimer::timeout, this, &LedgerPage::search);
    connect(find_, &QLineEdit::textChanged, &debounce_, qOverload<>(&QTimer::start));
    connect(scopes_, &QButtonGroup::idClicked, this, &LedgerPage::search);
    connect(model_, &FoldModel::filled, this, &LedgerPage::noteFilled);
    connect(model_, &FoldModel::rested, this, &LedgerPage::noteRested);
    connect(&desk_, &Desk::ledgerChanged, this, [this] { model_->list().again(); });
    connect(&Theme::current(), &Theme::changed, list_->viewport(), qOverload<>(&QWidget::update));
    connect(list_->selectionModel(), &QItemSelectionModel::currentChanged, this, &LedgerPage::chooseRow);
    connect(list_, &QListView::doubleClicked, this, [this] {
        if (const store::LedgerEntry* one = details_->entry())
            Q_EMIT sheetRequested(toQt(one->start.connectionId), toQt(one->start.statement));
    });
    connect(statisticsTab_, &QPushButton::clicked, this, &LedgerPage::showStatistics);
    connect(statistics_, &StatisticsView::runChosen, this, [this](const store::LedgerEntry& entry) {
        showStatistics(false);
        details_->show(entry);
    });
    connect(details_, &RunDetails::runRequested, this, &LedgerPage::runRequested);
    connect(details_, &RunDetails::sheetRequested, this, &LedgerPage::sheetRequested);
    connect(details_, &RunDetails::remarked, this, &LedgerPage::remarked);
    connect(details_, &RunDetails::removeRequested, this, &LedgerPage::remove);
    search();
}

/// Where both find no room side by side, the chosen run stands below the list.
void LedgerPage::resizeEvent(QResizeEvent* event) {
    constexpr int kRoomForBoth = 860;  // pixels at the usual size
    Page::resizeEvent(event);
    splitter_->setOrientation(width() < Theme::px(kRoomForBoth) ? Qt::Vertical : Qt::Horizontal);
}

QIcon LedgerPage::icon() const { return markIcon(Theme::current().colour("quiet")); }

QWidget* LedgerPage::makeLeft() {
    name(find_, "ledgerPageFind", tr("Find in the ledger"));
    find_->setProperty("look", "find");
    find_->setPlaceholderText(tr("Find…  failed  since:2026-11-01  rows>1000  table:name"));
    find_->setClearButtonEnabled(true);
    find_->installEventFilter(this);
    auto* words = makeButton(tr("Words ▾"), "", "ledgerWords", tr("Words that the find field understands"));
    connect(words, &QPushButton::clicked, this, &LedgerPage::openWords);
    auto* top = new QHBoxLayout;
    top->setContentsMargins(14, 12, 14, 0);
    top->addWidget(find_, 1);
    top->addWidget(words);
    top->addWidget(statisticsTab_);
    top->addSpacing(6);
    top->addLayout(makeScopes());
    terms_->setObjectName(QStringLiteral("ledgerTerms"));
    auto* terms = new QHBoxLayout(terms_);
    terms->setContentsMargins(14, 0, 14, 0);
    terms->setSpacing(6);
    name(list_, "ledgerFolds", tr("Runs by day, equal ones as one"));
    list_->setModel(model_);
    list_->setItemDelegate(new FoldDelegate(list_));
    list_->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_->setResizeMode(QListView::Adjust);
    list_->setFrameShape(QFrame::NoFrame);
    list_->installEventFilter(this);
    state_->setObjectName(QStringLiteral("ledgerState"));
    state_->setContentsMargins(14, 2, 14, 4);
    state_->setWordWrap(true);
    undoText_->setObjectName(QStringLiteral("ledgerRemoved"));
    auto* undo = makeButton(tr("Undo"), "", "ledgerUndo", tr("Put the removed runs back"));
    connect(undo, &QPushButton::clicked, this, [this] {
        desk_.ledger().restore(std::exchange(removed_, {}));
        undoStrip_->hide();
    });
    auto* strip = new QHBoxLayout(undoStrip_);
    strip->setContentsMargins(14, 4, 14, 6);
    strip->addWidget(undoText_);
    strip->addStretch();
    strip->addWidget(undo);
    undoStrip_->hide();
    auto* left = new QWidget;
    auto* layout = new QVBoxLayout(left);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    layout->addLayout(top);
    layout->addWidget(terms_);
    layout->addWidget(list_, 1);
    layout->addWidget(state_);
    layout->addWidget(undoStrip_);
    return left;
}

QLayout* LedgerPage::makeScopes() {
    const std::array labels{tr("Connection"), tr("Group"), tr("All")};
    const std::array tips{tr("Runs of the connection in front"), tr("Runs of all connections of its group"),
                          tr("Runs of all connections")};
    static constexpr std::array kNames{"ledgerOfConnection", "ledgerOfGroup", "ledgerOfAll"};
    auto* layout = new QHBoxLayout;
    layout->setSpacing(0);
    for (std::size_t i = 0; i < labels.size(); ++i) {
        auto* button = makeButton(labels[i], i + 1 < labels.size() ? "segment" : "segmentLast", kNames[i], tips[i]);
        button->setToolTip(tips[i]);
        button->setCheckable(true);
        scopes_->addButton(button, static_cast<int>(i));
        layout->addWidget(button);
    }
    scopes_->button(OfAll)->setChecked(true);
    return layout;
}

void LedgerPage::enter() {
    find_->setFocus();
    find_->selectAll();
}

void LedgerPage::setConnection(const QString& id) {
    if (id == connectionId_) return;
    connectionId_ = id;
    if (scopes_->checkedId() != OfAll) search();
}

std::vector<std::string> LedgerPage::connectionsMeant() const {
    if (scopes_->checkedId() == OfAll) return {};
    if (scopes_->checkedId() == OfConnection) return {fromQt(connectionId_)};
    std::vector<std::string> ids;
    const db::ConnectionProfile* own = desk_.connections().profile(fromQt(connectionId_));
    for (const db::ConnectionProfile& one : desk_.connections().profiles()) {
        if (own != nullptr && one.group == own->group) ids.push_back(one.id);
    }
    return ids.empty() ? std::vector<std::string>{fromQt(connectionId_)} : ids;
}

/// In place of the chosen run; that comes back with a click on one.
void LedgerPage::showStatistics(bool isShown) {
    statisticsTab_->setChecked(isShown);
    right_->setCurrentWidget(isShown ? static_cast<QWidget*>(statistics_) : details_);
    if (isShown) statistics_->show(connectionsMeant());
}

void LedgerPage::search() {
    if (statisticsTab_->isChecked()) statistics_->show(connectionsMeant());
    model_->list().search(connectionsMeant(), store::parseLedgerSearch(fromQt(find_->text()), base::now()));
    showTerms();
    noteRested();
}

/// Each condition as it was understood, with a cross that takes it out; what was not understood says why.
void LedgerPage::showTerms() {
    clearLayout(terms_->layout());
    auto* row = qobject_cast<QHBoxLayout*>(terms_->layout());
    const store::LedgerSearch& search = model_->list().asked();
    for (const store::LedgerTerm& one : search.terms) {
        auto* chip = makeButton(toQt(store::explained(one)) + QStringLiteral("  ×"), "chip", "ledgerTerm",
                                tr("Remove: %1").arg(toQt(store::explained(one))));
        connect(chip, &QPushButton::clicked, this,
                [this, start = one.start, length = one.length] { takeOut(start, length); });
        row->addWidget(chip);
    }
    for (const store::LedgerSearchProblem& one : search.problems) {
        auto* problem = makeLabel(toQt(one.message), "bad");
        problem->setObjectName(QStringLiteral("ledgerProblem"));
        problem->setWordWrap(true);
        row->addWidget(problem, 1);
    }
    row->addStretch();
    terms_->setVisible(!search.terms.empty() || !search.problems.empty());
}

void LedgerPage::takeOut(std::size_t start, std::size_t length) {
    std::string text = fromQt(find_->text());
    if (start + length > text.size()) return;
    text.erase(start, length);
    find_->setText(toQt(base::trimmed(text)));
    find_->setFocus();
}

/// The run that is shown stays chosen while it is among those found.
void LedgerPage::noteFilled(bool isAnew) {
    if (!isAnew) return;
    const store::LedgerEntry* shown = details_->entry();
    const std::optional<int> row = shown != nullptr ? model_->rowOf(*shown) : std::nullopt;
    const QModelIndex wanted = row ? model_->index(*row) : model_->firstFold();
    if (!wanted.isValid()) return details_->clear();
    list_->setCurrentIndex(wanted);
    if (!row) list_->scrollToTop();
}

void LedgerPage::noteRested() {
    work::LedgerList& found = model_->list();
    QString text;
    if (found.problem()) {
        text = toQt(found.problem()->text());
    } else if (found.isReading() && found.lookedBackTo()) {
        text = tr("Looking further back than %1…").arg(toQt(base::localDate(*found.lookedBackTo())));
    } else if (!found.isReading() && found.folds().empty()) {
        text = find_->text().isEmpty() ? tr("Nothing ran yet.") : tr("No run fits.");
        if (scopes_->checkedId() != OfAll) text += tr(" All looks at the other connections too.");
    }
    state_->setText(text);
    state_->setVisible(!text.isEmpty());
}

void LedgerPage::chooseRow(const QModelIndex& index) {
    const store::LedgerFold* fold = model_->foldAt(index);
    if (fold == nullptr) return;
    const store::LedgerEntry* shown = details_->entry();
    const store::LedgerAlike alike = model_->list().asked().alike();
    const bool isShown = shown != nullptr && shown->id != fold->last.id && store::areAlike(*shown, fold->last, alike);
    if (list_->hasFocus()) showStatistics(false);
    details_->show(isShown && list_->hasFocus() == false ? *shown : fold->last, alike);
}

/// The words that mean more than themselves; a click writes one.
void LedgerPage::openWords() {
    std::vector<PickList::Choice> choices;
    for (const store::LedgerSearchWord& one : store::ledgerSearchWords()) {
        choices.push_back({.text = toQt(one.word),
                           .detail = toQt(one.meaning),
                           .icon = {},
                           .isCurrent = false,
                           .act = [this, word = toQt(one.word)] {
                               const QString before = find_->text().trimmed();
                               find_->setText(before.isEmpty() ? word : before + QLatin1Char(' ') + word);
                               find_->setFocus();
                           }});
    }
    auto* list = new PickList(std::move(choices), tr("Words of the find field"), window());
    list->openAt(find_->mapToGlobal(QPoint(0, find_->height())));
}

void LedgerPage::remove(const std::vector<std::int64_t>& ids) {
    if (ids.empty()) return;
    details_->clear();
    desk_.ledger().remove(
        ids, whileThere(this, [this](std::vector<store::LedgerEntry> gone) {
            if (gone.empty()) return;
            removed_ = std::move(gone);
            const auto count = static_cast<std::int64_t>(removed_.size());
            undoText_->setText(tr("%1 removed from the ledger.").arg(toQt(base::counted(count, "run", "runs"))));
            undoStrip_->show();
        }));
}

void LedgerPage::showRun(const store::LedgerEntry& entry) {
    showStatistics(false);
    list_->setCurrentIndex({});
    details_->show(entry);
}

bool LedgerPage::eventFilter(QObject* watched, QEvent* event) {
    if (watched == list_ && claimsReturn(event)) return true;
    if (event->type() != QEvent::KeyPress) return Page::eventFilter(watched, event);
    const auto* key = static_cast<QKeyEvent*>(event);
    const bool isReturn = key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter;
    const store::LedgerEntry* shown = details_->entry();
    if (watched == find_ && (key->key() == Qt::Key_Down || isReturn)) {
        list_->setFocus();
        if (!list_->currentIndex().isValid()) list_->setCurrentIndex(model_->firstFold());
        return true;
    }
    if (watched == find_ && key->key() == Qt::Key_Escape && !find_->text().isEmpty()) {
        find_->clear();
        return true;
    }
    if (watched != list_ || shown == nullptr) return Page::eventFilter(watched, event);
    if (isReturn) {
        const bool isPlain = !key->modifiers().testFlag(Qt::ControlModifier);
        if (isPlain) Q_EMIT sheetRequested(toQt(shown->start.connectionId), toQt(shown->start.statement));
        if (!isPlain) Q_EMIT runRequested(toQt(shown->start.connectionId), toQt(shown->start.statement));
        return true;
    }
    if (key->key() == Qt::Key_Delete) {
        details_->removeAll();
        return true;
    }
    if (key->key() == Qt::Key_Left || key->key() == Qt::Key_Right) {
        auto* line = details_->findChild<RunLine*>();
        QCoreApplication::sendEvent(line, event);
        return true;
    }
    return Page::eventFilter(watched, event);
}

}  // namespace pantry::app

#include "moc_ledger_page.cpp"
