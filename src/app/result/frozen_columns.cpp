#include "app/result/frozen_columns.h"

#include <QEvent>
#include <QHeaderView>
#include <QScrollBar>

#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "app/result/grid_delegate.h"
#include "app/result/grid_header.h"
#include "app/result/result_names.h"

namespace pantry::app {

FrozenColumns::FrozenColumns(RowTable* grid) : QObject(grid), grid_(grid), held_(new RowTable(grid)) {
    name(held_, resultName::kFrozenGrid, tr("Columns that stay"));
    held_->setHorizontalHeader(new GridHeader(held_));
    held_->setItemDelegate(new GridDelegate(held_));
    held_->setRowNumbersShown(false);
    held_->setFocusPolicy(Qt::NoFocus);
    held_->setFrameShape(QFrame::NoFrame);
    held_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    held_->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    held_->setSelectionMode(grid->selectionMode());
    held_->setSelectionBehavior(grid->selectionBehavior());
    held_->setContextMenuPolicy(Qt::CustomContextMenu);
    held_->hide();
    grid->viewport()->stackUnder(held_);
    grid->installEventFilter(this);
    connect(grid->verticalScrollBar(), &QScrollBar::valueChanged, held_->verticalScrollBar(), &QScrollBar::setValue);
    connect(held_->verticalScrollBar(), &QScrollBar::valueChanged, grid->verticalScrollBar(), &QScrollBar::setValue);
    connect(held_, &QWidget::customContextMenuRequested, this, [this](const QPoint& at) {
        Q_EMIT grid_->customContextMenuRequested(
            grid_->viewport()->mapFrom(grid_, held_->viewport()->mapTo(grid_, at)));
    });
    connect(held_->horizontalHeader(), &QHeaderView::sectionClicked, grid->horizontalHeader(),
            &QHeaderView::sectionClicked);
    connect(grid->horizontalHeader(), &QHeaderView::sectionResized, this, &FrozenColumns::refresh);
    connect(&Theme::current(), &Theme::changed, this, &FrozenColumns::refresh);
    connect(grid->horizontalHeader(), &QHeaderView::sectionMoved, this, &FrozenColumns::refresh);
}

bool FrozenColumns::isHeld(int logical) const {
    if (grid_->isColumnHidden(logical)) return false;
    int before = 0;
    for (int visual = 0; visual < grid_->horizontalHeader()->visualIndex(logical); ++visual) {
        if (!grid_->isColumnHidden(grid_->horizontalHeader()->logicalIndex(visual))) ++before;
    }
    return before < count_;
}

void FrozenColumns::setCount(int count) {
    count_ = count;
    refresh();
}

/// While nothing stays it has no rows to follow.
void FrozenColumns::attach(bool isWanted) {
    if (isWanted == (held_->model() != nullptr)) return;
    held_->setModel(isWanted ? grid_->model() : nullptr);
    if (isWanted) held_->setSelectionModel(grid_->selectionModel());
}

void FrozenColumns::refresh() {
    const bool isWanted = count_ > 0 && grid_->model()->columnCount() > 0;
    attach(isWanted);
    held_->setVisible(isWanted);
    if (!held_->isVisibleTo(grid_)) return;
    held_->setFont(grid_->font());
    // It lies over the other one, and so must hide it.
    const QString background =
        QStringLiteral("QAbstractItemView#frozenGrid { background: %1; }").arg(Theme::current().colour("card").name());
    held_->setStyleSheet(
        background + grid_->styleSheet().replace(QStringLiteral("resultGrid"), QLatin1String(resultName::kFrozenGrid)));
    held_->setRowHeight(grid_->rowHeight());
    auto* header = held_->horizontalHeader();
    for (int visual = 0; visual < header->count(); ++visual) {
        const int logical = grid_->horizontalHeader()->logicalIndex(visual);
        header->moveSection(header->visualIndex(logical), visual);
    }
    for (int column = 0; column < grid_->model()->columnCount(); ++column) {
        held_->setColumnHidden(column, !isHeld(column));
        if (isHeld(column)) held_->setColumnWidth(column, grid_->columnWidth(column));
    }
    place();
}

void FrozenColumns::place() {
    int width = 0;
    for (int column = 0; column < grid_->model()->columnCount(); ++column) {
        if (isHeld(column)) width += grid_->columnWidth(column);
    }
    width = std::min(width, grid_->viewport()->width());
    held_->setGeometry(grid_->rowNumbers()->width() + grid_->frameWidth(), grid_->frameWidth(), width,
                       grid_->viewport()->height() + grid_->horizontalHeader()->height());
    held_->verticalScrollBar()->setValue(grid_->verticalScrollBar()->value());
    held_->raise();
}

bool FrozenColumns::eventFilter(QObject* watched, QEvent* event) {
    const bool isPlaced = event->type() == QEvent::Resize || event->type() == QEvent::Show;
    if (watched == grid_ && isPlaced && count_ > 0)
        QMetaObject::invokeMethod(this, &FrozenColumns::refresh, Qt::QueuedConnection);
    return QObject::eventFilter(watched, event);
}

}  // namespace pantry::app

#include "moc_frozen_columns.cpp"
