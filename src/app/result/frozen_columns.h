#pragma once

#include <QObject>

#include "app/result/row_table.h"

namespace pantry::app {

/// The first columns of a grid, held at its left while the others scroll: a second view of the same model and the same
/// selection, laid over the first.
class FrozenColumns : public QObject {
    Q_OBJECT

public:
    explicit FrozenColumns(RowTable* grid);

    /// How many columns, counted from the left as they are shown.
    void setCount(int count);
    [[nodiscard]] int count() const { return count_; }
    /// Follows what changed in the grid: widths, order, what is hidden, its font.
    void refresh();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    [[nodiscard]] bool isHeld(int logical) const;
    void attach(bool isWanted);
    void place();

    RowTable* grid_;
    RowTable* held_;
    int count_ = 0;
};

}  // namespace pantry::app
