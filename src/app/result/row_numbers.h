#pragma once

#include <QWidget>

namespace pantry::app {

class RowTable;

/// The numbers of a table's rows, at its left. A press chooses a row, moving on or Shift a range, Ctrl one more.
class RowNumbers : public QWidget {
    Q_OBJECT

public:
    explicit RowNumbers(RowTable* table);
    /// Wide enough for the number of the last row.
    [[nodiscard]] QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;

private:
    RowTable* table_;
    int anchor_ = -1;
};

/// The place above the numbers, which chooses everything.
class TableCorner : public QWidget {
    Q_OBJECT

public:
    explicit TableCorner(RowTable* table);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    RowTable* table_;
};

}  // namespace pantry::app
