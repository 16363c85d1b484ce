#include "app/result/result_pane.h"

#include <QApplication>
#include <QClipboard>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMenu>
#include <QScrollBar>
#include <QVBoxLayout>
#include <algorithm>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/base/widgets.h"
#include "app/result/grid_delegate.h"
#include "app/result/grid_header.h"
#include "app/theme/theme.h"
#include "core/base/text.h"
#include "core/data/cell_sums.h"
#include "core/data/text_search.h"
#include "core/exchange/clipboard_text.h"

namespace pantry::app {
namespace {

constexpr int kFilterRestMs = 250;
constexpr int kSumRestMs = 60;
constexpr int kWidestColumn = 340;
constexpr int kRowsMeasured = 60;
constexpr int kRowsBeforeEnd = 200;

}  // namespace

ResultPane::ResultPane(Sheet& sheet, QWidget* parent)
    : QFrame(parent),
      sheet_(sheet),
      model_(new GridModel(this)),
      summary_(makeLabel({}, "heading", this)),
      allRows_(
          makeButton(tr("All rows"), "plain", objectName::kAllRowsButton, tr("Read all rows of this result"), this)),
      filter_(new QLineEdit(this)),
      find_(new QLineEdit(this)),
      copy_(makeButton(tr("Copy ▾"), "plain", objectName::kCopyButton, tr("Copy the selected cells"), this)),
      export_(makeButton(tr("Export…"), "plain", objectName::kExportButton, tr("Write this result to a file"), this)),
      pages_(new QStackedWidget(this)),
      grid_(new QTableView(this)),
      message_(makeLabel({}, "quiet", this)),
      notices_(makeLabel({}, "notices", this)),
      exportPanel_(new ExportPanel(sheet, this)) {
    name(this, objectName::kResultPane, tr("Result"));
    makeGrid();
    message_->setAlignment(Qt::AlignCenter);
    message_->setWordWrap(true);
    message_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    message_->setMargin(24);
    pages_->addWidget(message_);
    pages_->addWidget(grid_);
    auto* body = new QHBoxLayout;
    body->setSpacing(0);
    body->addWidget(pages_, 1);
    body->addWidget(exportPanel_);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(makeBar());
    layout->addWidget(notices_);
    layout->addLayout(body, 1);
    name(notices_, objectName::kResultNotices, tr("What the server said beside"));
    notices_->setWordWrap(true);
    notices_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    filterTimer_.setSingleShot(true);
    filterTimer_.setInterval(kFilterRestMs);
    sumTimer_.setSingleShot(true);
    sumTimer_.setInterval(kSumRestMs);
    connect(&filterTimer_, &QTimer::timeout, this, [this] {
        if (card() == nullptr) return;
        data::ViewRequest request = card()->viewRequest();
        request.filterText = fromQt(filter_->text());
        card()->requestView(request);
    });
    connect(&sumTimer_, &QTimer::timeout, this, &ResultPane::sumSelection);
    connect(model_, &QAbstractItemModel::modelReset, this, [this] {
        fitColumns();
        refresh();
        Q_EMIT cellFocused(-1, -1);
    });
    connect(model_, &QAbstractItemModel::rowsInserted, this, [this] {
        if (!isFitted_) fitColumns();
        refresh();
    });
    connect(&sheet_, &Sheet::cardChanged, this, [this](Card* changed) {
        if (changed == card()) refresh();
    });
    exportPanel_->hide();
    refresh();
}

void ResultPane::makeGrid() {
    grid_->setModel(model_);
    name(grid_, objectName::kResultGrid, tr("Rows"));
    grid_->setHorizontalHeader(new GridHeader(grid_));
    grid_->setItemDelegate(new GridDelegate(grid_));
    grid_->verticalHeader()->setHighlightSections(false);
    grid_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    grid_->setSelectionBehavior(QAbstractItemView::SelectItems);
    grid_->setHorizontalScrollMode(QAbstractItemView::ScrollPerPixel);
    grid_->setWordWrap(false);
    grid_->setShowGrid(true);
    grid_->setCornerButtonEnabled(true);
    grid_->setTabKeyNavigation(false);
    grid_->verticalHeader()->setDefaultSectionSize(24);
    grid_->verticalHeader()->setSectionResizeMode(QHeaderView::Fixed);
    grid_->verticalHeader()->setDefaultAlignment(Qt::AlignRight | Qt::AlignVCenter);
    grid_->verticalHeader()->setMinimumWidth(44);
    grid_->installEventFilter(this);
    grid_->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(grid_, &QWidget::customContextMenuRequested, this, &ResultPane::showCellMenu);
    connect(grid_->horizontalHeader(), &QHeaderView::sectionClicked, this,
            [this](int column) { sortBy(column, QApplication::keyboardModifiers().testFlag(Qt::ShiftModifier)); });
    connect(grid_->selectionModel(), &QItemSelectionModel::currentChanged, this,
            [this](const QModelIndex& current) { Q_EMIT cellFocused(current.row(), current.column()); });
    connect(grid_->selectionModel(), &QItemSelectionModel::selectionChanged, &sumTimer_, qOverload<>(&QTimer::start));
    connect(grid_->verticalScrollBar(), &QScrollBar::valueChanged, this, &ResultPane::fetchWhenNearEnd);
}

QWidget* ResultPane::makeBar() {
    auto* bar = makeFrame("panel", this);
    auto* layout = new QHBoxLayout(bar);
    layout->setContentsMargins(14, 2, 10, 3);
    layout->setSpacing(6);
    name(summary_, objectName::kResultSummary, tr("What this result holds"));
    name(filter_, objectName::kResultFilter, tr("Show only rows that hold a text"));
    name(find_, objectName::kResultFind, tr("Go to cells that hold a text"));
    filter_->setProperty("look", "find");
    find_->setProperty("look", "find");
    filter_->setPlaceholderText(tr("Filter rows…"));
    find_->setPlaceholderText(tr("Find…  ↵ next"));
    filter_->setFixedWidth(118);
    find_->setFixedWidth(112);
    filter_->setClearButtonEnabled(true);
    find_->installEventFilter(this);
    filter_->setToolTip(tr("Only rows with a cell that holds this text"));
    find_->setToolTip(tr("Return goes to the next cell, Shift+Return to the one before (Ctrl+F in the grid)"));
    layout->addWidget(summary_);
    layout->addWidget(allRows_);
    layout->addStretch();
    layout->addWidget(filter_);
    layout->addWidget(find_);
    layout->addWidget(copy_);
    layout->addWidget(export_);
    connect(filter_, &QLineEdit::textChanged, &filterTimer_, qOverload<>(&QTimer::start));
    connect(export_, &QPushButton::clicked, this, &ResultPane::openExport);
    connect(allRows_, &QPushButton::clicked, this, [this] {
        if (card() != nullptr) sheet_.fetchAll(card());
    });
    auto* menu = new QMenu(copy_);
    connect(menu->addAction(tr("Copy cells\tCtrl+C")), &QAction::triggered, this, [this] { copySelection(false); });
    connect(menu->addAction(tr("Copy with headings\tCtrl+Shift+C")), &QAction::triggered, this,
            [this] { copySelection(true); });
    copy_->setMenu(menu);
    return bar;
}

void ResultPane::setCard(Card* card) {
    if (card != nullptr && card == model_->card()) return refresh();
    isFitted_ = false;
    const QSignalBlocker blocker(filter_);
    filter_->setText(card != nullptr ? toQt(card->viewRequest().filterText) : QString());
    model_->setCard(card);
    exportPanel_->setCard(card);
    refresh();
}

QString ResultPane::emptyWords() const {
    const Card* c = model_->card();
    if (c == nullptr) return tr("Results appear here. Ctrl+Return runs the statement at the cursor.");
    if (c->state() == Card::State::Failed) return toQt(*c->error());
    if (c->state() == Card::State::Stopped && !c->result()) return toQt(*c->error());
    if (c->isGoingOn()) return c->result() ? tr("Waiting for the first row…") : tr("Running…");
    if (c->result() && c->rowCount() == 0) return tr("The statement ran well, and no row matched.");
    if (c->result() && c->view()->rowCount() == 0) {
        return tr("None of the %1 holds “%2”.")
            .arg(toQt(base::counted(static_cast<std::int64_t>(c->rowCount()), "row", "rows")),
                 toQt(c->viewRequest().filterText));
    }
    return c->outcomeWords() + QStringLiteral(".");
}

void ResultPane::refresh() {
    const Card* c = model_->card();
    const bool hasRows = c != nullptr && model_->rowCount() > 0;
    const bool hasResult = c != nullptr && c->result() != nullptr;
    setLook(message_, c != nullptr && c->state() == Card::State::Failed && !hasRows ? "bad" : "quiet");
    message_->setText(emptyWords());
    refreshNotices();
    pages_->setCurrentWidget(hasRows ? static_cast<QWidget*>(grid_) : message_);
    allRows_->setVisible(c != nullptr && c->hasMore());
    for (QWidget* w : {static_cast<QWidget*>(filter_), static_cast<QWidget*>(find_), static_cast<QWidget*>(copy_),
                       static_cast<QWidget*>(export_)}) {
        w->setVisible(hasResult && c->rowCount() > 0);
    }
    if (!hasResult) {
        summary_->setText(c == nullptr ? QString() : tr("%1 · %2").arg(c->title(), c->outcomeWords()));
        return;
    }
    QString words = c->outcomeWords();
    if (c->view()->rowCount() != c->rowCount()) {
        words = tr("%1 of %2").arg(toQt(base::grouped(static_cast<std::int64_t>(c->view()->rowCount()))), words);
    }
    const auto columns = static_cast<std::int64_t>(c->result()->columns().size());
    if (!words.isEmpty()) words[0] = words[0].toUpper();
    summary_->setText(tr("%1 · %2 · ran %3")
                          .arg(words, toQt(base::counted(columns, "column", "columns")),
                               toQt(base::spoken(c->startedAt(), base::now()))));
    if (c->error()) summary_->setText(summary_->text() + QStringLiteral(" · ") + toQt(c->error()->message));
}

/// The last lines of what the server said; all of them in the tool tip.
void ResultPane::refreshNotices() {
    constexpr std::size_t kMostLines = 4;
    const Card* c = model_->card();
    const std::size_t count = c == nullptr ? 0 : c->notices().size();
    notices_->setVisible(count > 0);
    if (count == 0) return;
    QStringList lines;
    for (const db::Notice& notice : c->notices()) {
        lines += toQt(base::toLower(notice.severity)) + QStringLiteral(": ") + toQt(notice.message);
    }
    notices_->setToolTip(lines.join(QLatin1Char('\n')));
    if (count > kMostLines) {
        lines = lines.last(kMostLines);
        lines.prepend(tr("%1 earlier ones").arg(count - kMostLines));
    }
    notices_->setText(lines.join(QLatin1Char('\n')));
}

/// Columns as wide as what they show at first; widths the user sets later stay.
void ResultPane::fitColumns() {
    if (model_->columnCount() == 0 || model_->rowCount() == 0) return;
    const QFontMetrics metrics(grid_->font());
    const int columns = std::min(model_->columnCount(), 200);
    for (int column = 0; column < columns && !isFitted_; ++column) {
        int width = grid_->horizontalHeader()->sectionSizeHint(column);
        for (int row = 0; row < std::min(model_->rowCount(), kRowsMeasured); ++row) {
            const QString text = model_->index(row, column).data().toString().left(80);
            width = std::max(width, metrics.horizontalAdvance(text) + 24);
        }
        grid_->setColumnWidth(column, std::min(width, kWidestColumn));
    }
    isFitted_ = true;
}

void ResultPane::sortBy(int column, bool adds) {
    if (card() == nullptr) return;
    data::ViewRequest request = card()->viewRequest();
    const auto wanted = static_cast<std::size_t>(column);
    const auto found = std::ranges::find(request.order, wanted, &data::SortKey::column);
    const bool isThere = found != request.order.end();
    const bool wasDescending = isThere && found->isDescending;
    // Up, down, then the server's order again.
    if (!adds) request.order.clear();
    if (adds && isThere) request.order.erase(found);
    if (!wasDescending) request.order.push_back({wanted, isThere});
    card()->requestView(request);
}

/// Looks through everything once for a text, and then only steps from hit to hit.
void ResultPane::find(bool forward) {
    if (card() == nullptr || card()->view() == nullptr || find_->text().isEmpty()) return hits_.reset();
    const std::string text = fromQt(find_->text());
    if (hits_ && hits_->text == text) return stepToHit(forward);
    findCancellation_.request();
    findCancellation_ = base::Cancellation();
    inBackground(
        this,
        [view = *card()->view(), text, cancellation = findCancellation_] {
            return data::searchCells(view, text, cancellation);
        },
        [this, forward](std::optional<data::SearchHits> hits) {
            if (!hits) return;
            hits_ = std::move(*hits);
            stepToHit(forward);
        });
}

void ResultPane::stepToHit(bool forward) {
    const QModelIndex current = grid_->currentIndex();
    const data::CellPlace from{static_cast<std::size_t>(std::max(0, current.row())),
                               static_cast<std::size_t>(std::max(0, current.column()))};
    const auto number = hits_->next(from, forward);
    find_->setProperty("missed", !number);
    if (!number) return Q_EMIT selectionSummed(tr("No cell holds “%1”").arg(find_->text()));
    const data::CellPlace place = hits_->places[*number];
    const QModelIndex index = model_->index(static_cast<int>(place.row), static_cast<int>(place.column));
    grid_->setCurrentIndex(index);
    grid_->scrollTo(index);
    Q_EMIT selectionSummed(tr("%1 of %2")
                               .arg(toQt(base::grouped(static_cast<std::int64_t>(*number) + 1)),
                                    toQt(base::counted(static_cast<std::int64_t>(hits_->count), "cell that holds it",
                                                       "cells that hold it"))));
}

void ResultPane::openFind() {
    find_->setFocus();
    find_->selectAll();
}

bool ResultPane::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() != QEvent::KeyPress) return QFrame::eventFilter(watched, event);
    auto* key = static_cast<QKeyEvent*>(event);
    const bool isReturn = key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter;
    if (watched == find_ && isReturn) {
        find(!key->modifiers().testFlag(Qt::ShiftModifier));
        return true;
    }
    if (watched == find_ && key->key() == Qt::Key_Escape) {
        grid_->setFocus();
        return true;
    }
    if (watched == grid_) {
        if (key->matches(QKeySequence::Copy)) {
            copySelection(false);
            return true;
        }
        const bool isCopyWithHeadings =
            key->key() == Qt::Key_C && key->modifiers() == (Qt::ControlModifier | Qt::ShiftModifier);
        if (isCopyWithHeadings) {
            copySelection(true);
            return true;
        }
        if (key->matches(QKeySequence::Find)) {
            openFind();
            return true;
        }
    }
    return QFrame::eventFilter(watched, event);
}

/// Rows and columns of the selection; a selection with gaps copies the rectangle around it, row by row.
void ResultPane::copySelection(bool hasHeadings) {
    if (card() == nullptr || card()->view() == nullptr) return;
    exchange::CellRange range;
    std::vector<bool> columns(static_cast<std::size_t>(model_->columnCount()), false);
    std::vector<bool> rows(static_cast<std::size_t>(model_->rowCount()), false);
    for (const QItemSelectionRange& r : grid_->selectionModel()->selection()) {
        for (int row = r.top(); row <= r.bottom(); ++row) rows[static_cast<std::size_t>(row)] = true;
        for (int column = r.left(); column <= r.right(); ++column) columns[static_cast<std::size_t>(column)] = true;
    }
    for (std::size_t i = 0; i < rows.size(); ++i) {
        if (rows[i]) range.rows.push_back(i);
    }
    for (int visual = 0; visual < model_->columnCount(); ++visual) {
        const auto logical = static_cast<std::size_t>(grid_->horizontalHeader()->logicalIndex(visual));
        if (columns[logical]) range.columns.push_back(logical);
    }
    if (range.rows.empty()) return Q_EMIT selectionSummed(tr("Select cells first, then copy."));
    const auto cells = static_cast<std::int64_t>(range.rows.size() * range.columns.size());
    inBackground(
        this,
        [view = *card()->view(), range = std::move(range), hasHeadings] {
            return exchange::clipboardText(view, range, hasHeadings);
        },
        [this, cells](const std::string& text) {
            QApplication::clipboard()->setText(toQt(text));
            Q_EMIT selectionSummed(tr("Copied %1").arg(toQt(base::counted(cells, "cell", "cells"))));
        });
}

void ResultPane::sumSelection() {
    if (card() == nullptr || card()->view() == nullptr) return Q_EMIT selectionSummed({});
    std::vector<data::CellBlock> blocks;
    for (const QItemSelectionRange& r : grid_->selectionModel()->selection()) {
        blocks.push_back({static_cast<std::size_t>(r.top()), static_cast<std::size_t>(r.bottom()),
                          static_cast<std::size_t>(r.left()), static_cast<std::size_t>(r.right())});
    }
    sumCancellation_.request();
    sumCancellation_ = base::Cancellation();
    inBackground(
        this,
        [view = *card()->view(), blocks = std::move(blocks), cancellation = sumCancellation_] {
            return data::sumCells(view, blocks, cancellation);
        },
        [this](const std::optional<data::CellSums>& sums) {
            if (sums) Q_EMIT selectionSummed(sums->cellCount > 1 ? toQt(data::describe(*sums)) : QString());
        });
}

/// Scrolling on is the wish for more rows.
void ResultPane::fetchWhenNearEnd() {
    if (card() == nullptr || card()->state() != Card::State::Paused || !card()->view()->isWhole()) return;
    const int lastShown = grid_->rowAt(grid_->viewport()->height() - 1);
    if (lastShown >= 0 && lastShown < model_->rowCount() - kRowsBeforeEnd) return;
    if (grid_->verticalScrollBar()->value() == 0) return;
    sheet_.fetchMore(card());
}

void ResultPane::showCellMenu(const QPoint& at) {
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    connect(menu->addAction(tr("Copy\tCtrl+C")), &QAction::triggered, this, [this] { copySelection(false); });
    connect(menu->addAction(tr("Copy with headings\tCtrl+Shift+C")), &QAction::triggered, this,
            [this] { copySelection(true); });
    menu->addSeparator();
    connect(menu->addAction(tr("Export…\tCtrl+E")), &QAction::triggered, this, &ResultPane::openExport);
    menu->popup(grid_->viewport()->mapToGlobal(at));
}

void ResultPane::openExport() {
    if (card() == nullptr || !card()->result())
        return Q_EMIT selectionSummed(tr("Run a statement that returns rows first."));
    exportPanel_->open(card());
}

void ResultPane::setTextSize(int points) {
    QFont font(QStringLiteral("Hack"));
    font.setPointSize(points);
    grid_->setFont(font);
    grid_->setStyleSheet(QStringLiteral("QTableView#resultGrid { font-size: %1pt; }").arg(points));
    grid_->verticalHeader()->setDefaultSectionSize(QFontMetrics(font).height() + 9);
}

}  // namespace pantry::app
