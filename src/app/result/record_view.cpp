#include "app/result/record_view.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QVBoxLayout>
#include <algorithm>

#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "app/result/grid_delegate.h"
#include "app/result/result_names.h"
#include "core/base/text.h"

namespace pantry::app {
namespace {

constexpr std::size_t kMaxBeside = 12;  // rows side by side
constexpr int kValueWidth = 320;
constexpr int kNarrowestValue = 150;

}  // namespace

RecordModel::RecordModel(GridModel* grid, QObject* parent) : QAbstractTableModel(parent), grid_(grid) {}

void RecordModel::setRows(std::vector<int> rows, std::vector<int> columns) {
    beginResetModel();
    rows_ = std::move(rows);
    columns_ = std::move(columns);
    endResetModel();
}

int RecordModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(columns_.size());
}

int RecordModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}

QVariant RecordModel::data(const QModelIndex& index, int role) const {
    const auto at = static_cast<std::size_t>(index.column());
    if (!index.isValid() || at >= rows_.size() || rows_[at] >= grid_->rowCount()) return {};
    if (role == Qt::TextAlignmentRole) return static_cast<int>(Qt::AlignVCenter | Qt::AlignLeft);
    return grid_->index(rows_[at], gridColumn(index.row())).data(role);
}

QVariant RecordModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation == Qt::Horizontal) {
        const auto at = static_cast<std::size_t>(section);
        if (role != Qt::DisplayRole || at >= rows_.size()) return {};
        return tr("row %1").arg(toQt(base::grouped(rows_[at] + 1)));
    }
    if (section >= rowCount()) return {};
    if (role == Qt::TextAlignmentRole) return static_cast<int>(Qt::AlignVCenter | Qt::AlignRight);
    if (role != Qt::DisplayRole) return grid_->headerData(gridColumn(section), Qt::Horizontal, role);
    const QString type = grid_->headerData(gridColumn(section), Qt::Horizontal, GridModel::TypeNameRole).toString();
    const QString column = grid_->headerData(gridColumn(section), Qt::Horizontal, Qt::DisplayRole).toString();
    return type.isEmpty() ? column : column + QStringLiteral("  ") + type;
}

RecordView::RecordView(GridModel* grid, QWidget* parent)
    : QWidget(parent),
      grid_(grid),
      model_(new RecordModel(grid, this)),
      place_(makeLabel({}, "small", this)),
      table_(new QTableView(this)) {
    name(table_, resultName::kRecordTable, tr("The row as names and values"));
    setObjectName(QStringLiteral("plainBox"));
    table_->setModel(model_);
    table_->setItemDelegate(new GridDelegate(table_));
    table_->setWordWrap(false);
    table_->setTabKeyNavigation(false);
    table_->horizontalHeader()->setDefaultSectionSize(kValueWidth);
    table_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    table_->verticalHeader()->setSectionResizeMode(QHeaderView::Fixed);
    table_->verticalHeader()->setDefaultSectionSize(25);
    table_->verticalHeader()->setHighlightSections(false);
    table_->installEventFilter(this);
    auto* before =
        makeButton(tr("‹ Previous"), "plain", resultName::kRecordBefore, tr("The row before (Page Up)"), this);
    auto* next = makeButton(tr("Next ›"), "plain", resultName::kRecordNext, tr("The next row (Page Down)"), this);
    auto* row = new QHBoxLayout;
    row->setContentsMargins(12, 2, 12, 2);
    row->addWidget(before);
    row->addWidget(next);
    row->addWidget(place_);
    row->addStretch();
    row->addWidget(makeLabel(tr("Choose several rows in the grid to see them side by side."), "small", this));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addLayout(row);
    layout->addWidget(table_, 1);
    setFocusProxy(table_);
    connect(before, &QPushButton::clicked, this, [this] { step(-1); });
    connect(next, &QPushButton::clicked, this, [this] { step(1); });
    connect(table_->selectionModel(), &QItemSelectionModel::currentChanged, this, [this](const QModelIndex& current) {
        if (!current.isValid()) return;
        Q_EMIT cellFocused(model_->rows()[static_cast<std::size_t>(current.column())],
                           model_->gridColumn(current.row()));
    });
}

void RecordView::showRows(std::vector<int> rows, std::vector<int> columns) {
    if (rows.size() > kMaxBeside) rows.resize(kMaxBeside);
    const int line = table_->currentIndex().isValid() ? table_->currentIndex().row() : 0;
    const bool isAlone = rows.size() == 1;
    const QString place =
        rows.empty() ? QString()
        : isAlone
            ? tr("Row %1 of %2").arg(toQt(base::grouped(rows[0] + 1)), toQt(base::grouped(grid_->rowCount())))
            : tr("%1 side by side").arg(toQt(base::counted(static_cast<std::int64_t>(rows.size()), "row", "rows")));
    place_->setText(place);
    model_->setRows(std::move(rows), std::move(columns));
    table_->horizontalHeader()->setStretchLastSection(isAlone);
    const int beside = std::max(1, model_->columnCount());
    const int room = (table_->viewport()->width() > 0 ? table_->viewport()->width() : width()) / beside;
    for (int i = 0; i < model_->columnCount(); ++i)
        table_->setColumnWidth(i, std::clamp(room, kNarrowestValue, kValueWidth));
    table_->setCurrentIndex(model_->index(std::min(line, model_->rowCount() - 1), 0));
}

/// All rows that are shown go on by one, as far as there are more.
void RecordView::step(int by) {
    std::vector<int> rows = model_->rows();
    if (rows.empty()) return;
    const int first = rows.front() + by;
    if (first < 0 || rows.back() + by >= grid_->rowCount()) return;
    for (int& row : rows) row += by;
    std::vector<int> columns;
    for (int line = 0; line < model_->rowCount(); ++line) columns.push_back(model_->gridColumn(line));
    showRows(std::move(rows), std::move(columns));
    Q_EMIT rowChosen(first);
}

bool RecordView::eventFilter(QObject* watched, QEvent* event) {
    if (watched != table_ || event->type() != QEvent::KeyPress) return QWidget::eventFilter(watched, event);
    const int key = static_cast<QKeyEvent*>(event)->key();
    if (key != Qt::Key_PageDown && key != Qt::Key_PageUp) return QWidget::eventFilter(watched, event);
    step(key == Qt::Key_PageDown ? 1 : -1);
    return true;
}

}  // namespace pantry::app

#include "moc_record_view.cpp"
