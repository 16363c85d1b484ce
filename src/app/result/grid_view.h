#pragma once

#include <QHash>
#include <QTimer>

#include "app/result/frozen_columns.h"
#include "app/result/grid_model.h"
#include "app/result/row_table.h"

namespace pantry::app {

/// The table of a result: widths by content, order, hidden and frozen columns as they are chosen for its query.
class GridView : public RowTable {
    Q_OBJECT

public:
    GridView(GridModel* model, ResultLook* look, QWidget* parent = nullptr);

    /// Puts what is chosen in the look into effect, and widths by content where nothing is chosen.
    void applyChoices();
    void fitColumn(int column);
    void setTextSize(int points);
    /// What stands in place of rows while there are none.
    void setEmptyText(const QString& text);

    void hideColumn(int column, bool isHidden);
    /// Shows all columns, or one alone.
    void showAllColumns();
    void showOnlyColumn(int column);
    void freezeUpTo(int column);
    /// Goes to a column, which shows again if it was hidden.
    void goToColumn(int column);
    /// Columns from left to right, with whether each is shown.
    [[nodiscard]] std::vector<std::pair<int, bool>> columnsAsShown() const;
    /// Those that are shown, from left to right.
    [[nodiscard]] std::vector<int> shownColumns() const;
    /// Rows with a selected cell, from the top; the current one when nothing is selected.
    [[nodiscard]] std::vector<int> chosenRows(std::size_t most) const;

Q_SIGNALS:
    /// Somebody changed widths, order, what is hidden or frozen.
    void choicesChanged(const pantry::data::GridChoices& choices);
    void columnMenuWanted(int column, const QPoint& at);
    void zoomWanted(int steps);

protected:
    void wheelEvent(QWheelEvent* event) override;
    void paintEvent(QPaintEvent* event) override;

private:
    void noteChoices();
    [[nodiscard]] int widthByContent(int column) const;

    GridModel* grid_;
    ResultLook* look_;
    FrozenColumns* frozen_;
    QTimer noteTimer_;
    QTimer widenTimer_;
    QHash<int, int> fitted_;  // widths that no hand has given
    QString emptyText_;
    void fit(int column, int width);
    void widenToShown();
    bool isApplying_ = false;
};

}  // namespace pantry::app
