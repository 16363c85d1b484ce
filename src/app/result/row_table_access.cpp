#include "app/result/row_table_access.h"

#include <QAccessibleWidget>
#include <QItemSelectionModel>
#include <QPointer>
#include <algorithm>
#include <cstdint>
#include <limits>
#include <map>

#include "app/result/row_table.h"

namespace pantry::app {
namespace {

/// A cell, as long as somebody asks about it.
class CellAccess : public QAccessibleInterface, public QAccessibleTableCellInterface {
public:
    CellAccess(RowTable* table, int row, int column) : table_(table), row_(row), column_(column) {}

    [[nodiscard]] bool isValid() const override { return table_ != nullptr && index().isValid(); }
    [[nodiscard]] QObject* object() const override { return nullptr; }
    [[nodiscard]] QWindow* window() const override { return table_ != nullptr ? table_->windowHandle() : nullptr; }
    [[nodiscard]] QAccessibleInterface* parent() const override { return table(); }
    [[nodiscard]] QAccessibleInterface* childAt(int, int) const override { return nullptr; }
    [[nodiscard]] QAccessibleInterface* child(int) const override { return nullptr; }
    [[nodiscard]] int childCount() const override { return 0; }
    [[nodiscard]] int indexOfChild(const QAccessibleInterface*) const override { return -1; }
    [[nodiscard]] QAccessible::Role role() const override { return QAccessible::Cell; }
    void setText(QAccessible::Text, const QString&) override {}

    /// The value; and as its description where it stands.
    [[nodiscard]] QString text(QAccessible::Text kind) const override {
        if (!isValid()) return {};
        if (kind == QAccessible::Name || kind == QAccessible::Value) return index().data().toString();
        if (kind != QAccessible::Description) return {};
        const QAbstractItemModel* model = table_->model();
        return RowTable::tr("%1, row %2")
            .arg(model->headerData(column_, Qt::Horizontal).toString(),
                 model->headerData(row_, Qt::Vertical).toString());
    }

    [[nodiscard]] QRect rect() const override {
        if (!isValid()) return {};
        const QRect area = table_->visualRect(index());
        return area.isValid() ? QRect(table_->viewport()->mapToGlobal(area.topLeft()), area.size()) : QRect();
    }

    [[nodiscard]] QAccessible::State state() const override {
        QAccessible::State state;
        if (!isValid()) {
            state.invalid = true;
            return state;
        }
        state.selectable = true;
        state.focusable = true;
        state.selected = isSelected();
        state.focused = table_->hasFocus() && table_->currentIndex() == index();
        state.invisible = table_->isColumnHidden(column_);
        state.offscreen = !table_->viewport()->rect().intersects(table_->visualRect(index()));
        return state;
    }

    void* interface_cast(QAccessible::InterfaceType kind) override {
        return kind == QAccessible::TableCellInterface ? static_cast<QAccessibleTableCellInterface*>(this) : nullptr;
    }

    [[nodiscard]] bool isSelected() const override {
        return isValid() && table_->selectionModel() != nullptr && table_->selectionModel()->isSelected(index());
    }
    [[nodiscard]] QList<QAccessibleInterface*> columnHeaderCells() const override { return {}; }
    [[nodiscard]] QList<QAccessibleInterface*> rowHeaderCells() const override { return {}; }
    [[nodiscard]] int columnIndex() const override { return column_; }
    [[nodiscard]] int rowIndex() const override { return row_; }
    [[nodiscard]] int columnExtent() const override { return 1; }
    [[nodiscard]] int rowExtent() const override { return 1; }
    [[nodiscard]] QAccessibleInterface* table() const override { return QAccessible::queryAccessibleInterface(table_); }

private:
    [[nodiscard]] QModelIndex index() const {
        return table_->model() != nullptr ? table_->model()->index(row_, column_) : QModelIndex();
    }

    QPointer<RowTable> table_;
    int row_;
    int column_;
};

/// A table. It keeps the cells that were asked for, so that each is told by one interface, and few of them.
class TableAccess : public QAccessibleWidget, public QAccessibleTableInterface {
public:
    explicit TableAccess(RowTable* table) : QAccessibleWidget(table, QAccessible::Table), table_(table) {}
    ~TableAccess() override { forgetCells(); }

    void* interface_cast(QAccessible::InterfaceType kind) override {
        if (kind == QAccessible::TableInterface) return static_cast<QAccessibleTableInterface*>(this);
        return QAccessibleWidget::interface_cast(kind);
    }

    // Cells are the children, row by row. What has more of them than can be counted shows the first ones this way.
    [[nodiscard]] int childCount() const override {
        const std::int64_t cells = static_cast<std::int64_t>(rowCount()) * columnCount();
        return static_cast<int>(std::min<std::int64_t>(cells, std::numeric_limits<int>::max()));
    }
    [[nodiscard]] QAccessibleInterface* child(int index) const override {
        if (index < 0 || index >= childCount()) return nullptr;
        return cellAt(index / columnCount(), index % columnCount());
    }
    [[nodiscard]] int indexOfChild(const QAccessibleInterface* child) const override {
        const auto* cell = dynamic_cast<const CellAccess*>(child);
        if (cell == nullptr) return -1;
        const std::int64_t index = static_cast<std::int64_t>(cell->rowIndex()) * columnCount() + cell->columnIndex();
        return index < childCount() ? static_cast<int>(index) : -1;
    }
    [[nodiscard]] QAccessibleInterface* childAt(int x, int y) const override {
        const QModelIndex index = table_->indexAt(table_->viewport()->mapFromGlobal(QPoint(x, y)));
        return index.isValid() ? cellAt(index.row(), index.column()) : nullptr;
    }
    [[nodiscard]] QAccessibleInterface* focusChild() const override {
        const QModelIndex index = table_->currentIndex();
        return index.isValid() ? cellAt(index.row(), index.column()) : nullptr;
    }

    [[nodiscard]] QAccessibleInterface* caption() const override { return nullptr; }
    [[nodiscard]] QAccessibleInterface* summary() const override { return nullptr; }
    [[nodiscard]] QAccessibleInterface* cellAt(int row, int column) const override {
        if (row < 0 || row >= rowCount() || column < 0 || column >= columnCount()) return nullptr;
        const auto known = cells_.find({row, column});
        if (known != cells_.end()) return QAccessible::accessibleInterface(known->second);
        constexpr std::size_t kMaxCells = 4096;
        if (cells_.size() >= kMaxCells) forgetCells();
        auto* cell = new CellAccess(table_, row, column);
        cells_[{row, column}] = QAccessible::registerAccessibleInterface(cell);
        return cell;
    }
    [[nodiscard]] QString columnDescription(int column) const override {
        return table_->model() != nullptr ? table_->model()->headerData(column, Qt::Horizontal).toString() : QString();
    }
    [[nodiscard]] QString rowDescription(int row) const override {
        return table_->model() != nullptr ? table_->model()->headerData(row, Qt::Vertical).toString() : QString();
    }
    [[nodiscard]] int rowCount() const override { return table_->model() != nullptr ? table_->model()->rowCount() : 0; }
    [[nodiscard]] int columnCount() const override {
        return table_->model() != nullptr ? table_->model()->columnCount() : 0;
    }

    [[nodiscard]] int selectedCellCount() const override {
        std::int64_t count = 0;
        for (const QItemSelectionRange& range : chosen())
            count += static_cast<std::int64_t>(range.height()) * range.width();
        return static_cast<int>(std::min<std::int64_t>(count, std::numeric_limits<int>::max()));
    }
    /// The first ones, where more are selected than anybody could be told.
    [[nodiscard]] QList<QAccessibleInterface*> selectedCells() const override {
        constexpr int kMaxTold = 1000;
        QList<QAccessibleInterface*> cells;
        for (const QItemSelectionRange& range : chosen()) {
            for (int row = range.top(); row <= range.bottom(); ++row) {
                for (int column = range.left(); column <= range.right(); ++column) {
                    if (cells.size() >= kMaxTold) return cells;
                    cells.append(cellAt(row, column));
                }
            }
        }
        return cells;
    }
    [[nodiscard]] int selectedColumnCount() const override { return static_cast<int>(selectedColumns().size()); }
    [[nodiscard]] int selectedRowCount() const override { return static_cast<int>(selectedRows().size()); }
    [[nodiscard]] QList<int> selectedColumns() const override {
        QList<int> columns;
        for (int column = 0; column < columnCount(); ++column) {
            if (isColumnSelected(column)) columns.append(column);
        }
        return columns;
    }
    [[nodiscard]] QList<int> selectedRows() const override {
        constexpr int kMaxTold = 1000;
        QList<int> rows;
        for (const QItemSelectionRange& range : chosen()) {
            if (range.width() < columnCount()) continue;
            for (int row = range.top(); row <= range.bottom() && rows.size() < kMaxTold; ++row) rows.append(row);
        }
        return rows;
    }
    [[nodiscard]] bool isColumnSelected(int column) const override {
        return std::ranges::any_of(chosen(), [this, column](const QItemSelectionRange& range) {
            return range.left() <= column && column <= range.right() && range.height() == rowCount();
        });
    }
    [[nodiscard]] bool isRowSelected(int row) const override {
        return std::ranges::any_of(chosen(), [this, row](const QItemSelectionRange& range) {
            return range.top() <= row && row <= range.bottom() && range.width() == columnCount();
        });
    }
    bool selectRow(int row) override {
        table_->selectRow(row);
        return isRowSelected(row);
    }
    bool selectColumn(int column) override {
        table_->selectColumn(column);
        return isColumnSelected(column);
    }
    bool unselectRow(int row) override {
        if (!isRowSelected(row)) return false;
        table_->selectionModel()->select(table_->model()->index(row, 0),
                                         QItemSelectionModel::Deselect | QItemSelectionModel::Rows);
        return true;
    }
    bool unselectColumn(int column) override {
        if (!isColumnSelected(column)) return false;
        table_->selectionModel()->select(table_->model()->index(0, column),
                                         QItemSelectionModel::Deselect | QItemSelectionModel::Columns);
        return true;
    }
    void modelChange(QAccessibleTableModelChangeEvent*) override { forgetCells(); }

private:
    [[nodiscard]] QItemSelection chosen() const {
        return table_->selectionModel() != nullptr ? table_->selectionModel()->selection() : QItemSelection();
    }
    void forgetCells() const {
        for (const auto& [place, id] : cells_) QAccessible::deleteAccessibleInterface(id);
        cells_.clear();
    }

    RowTable* table_;
    mutable std::map<std::pair<int, int>, QAccessible::Id> cells_;
};

QAccessibleInterface* accessOfRowTable(const QString& className, QObject* object) {
    if (className != QLatin1String(RowTable::staticMetaObject.className())) return nullptr;
    auto* table = qobject_cast<RowTable*>(object);
    return table != nullptr ? new TableAccess(table) : nullptr;
}

}  // namespace

void letRowTablesBeRead() { QAccessible::installFactory(accessOfRowTable); }  // Qt keeps it once

void tellCurrentCell(RowTable* table, int row, int column) {
    if (!QAccessible::isActive() || !table->hasFocus()) return;
    QAccessibleInterface* access = QAccessible::queryAccessibleInterface(table);
    QAccessibleTableInterface* cells = access != nullptr ? access->tableInterface() : nullptr;
    QAccessibleInterface* cell = cells != nullptr ? cells->cellAt(row, column) : nullptr;
    if (cell == nullptr) return;
    QAccessibleEvent event(cell, QAccessible::Focus);
    QAccessible::updateAccessibility(&event);
}

}  // namespace pantry::app
