#pragma once

#include <QFrame>
#include <QLabel>
#include <QListWidget>
#include <QPlainTextEdit>

#include "app/result/grid_model.h"
#include "app/result/value_text.h"

namespace pantry::app {

/// The panel at the right: the cell that has the focus in full, and its row.
class CloseUp : public QFrame {
    Q_OBJECT

public:
    explicit CloseUp(QWidget* parent = nullptr);

    /// Shows a cell of a model; row -1 shows what one can do here.
    void show(GridModel* model, int row, int column);
    void setTextSize(int points);

Q_SIGNALS:
    /// A column of the row was chosen.
    void columnChosen(int column);

private:
    void showValue(const data::Cell& cell, data::ColumnType type);
    void fitValue(const QString& text);
    void showRow(int row, int column);

    QLabel* place_;
    QLabel* columnName_;
    QLabel* facts_;
    QPlainTextEdit* value_;
    QLabel* picture_;
    QListWidget* row_;
    GridModel* model_ = nullptr;
};

}  // namespace pantry::app
