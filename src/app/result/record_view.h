#pragma once

#include <QAbstractTableModel>
#include <QLabel>
#include <QTableView>
#include <QWidget>

#include "app/result/grid_model.h"

namespace pantry::app {

/// Some rows of a grid turned on their side: a line for each column, the rows beside each other.
class RecordModel : public QAbstractTableModel {
    Q_OBJECT

public:
    explicit RecordModel(GridModel* grid, QObject* parent = nullptr);

    /// Positions of rows in the grid. The columns stand in `columns`, as the grid shows them.
    void setRows(std::vector<int> rows, std::vector<int> columns);
    [[nodiscard]] const std::vector<int>& rows() const { return rows_; }
    [[nodiscard]] int gridColumn(int line) const { return columns_[static_cast<std::size_t>(line)]; }

    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

private:
    GridModel* grid_;
    std::vector<int> rows_;
    std::vector<int> columns_;
};

/// One row as names and values, or several side by side; the next and the one before by key.
class RecordView : public QWidget {
    Q_OBJECT

public:
    explicit RecordView(GridModel* grid, QWidget* parent = nullptr);

    void showRows(std::vector<int> rows, std::vector<int> columns);

Q_SIGNALS:
    /// The cell that has the focus, as the grid counts.
    void cellFocused(int row, int column);
    /// Somebody went to another row.
    void rowChosen(int row);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void step(int by);

    GridModel* grid_;
    RecordModel* model_;
    QLabel* place_;
    QTableView* table_;
};

}  // namespace pantry::app
