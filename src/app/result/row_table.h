#pragma once

#include <QAbstractItemView>
#include <QHeaderView>
#include <cstdint>
#include <vector>

namespace pantry::app {

class RowNumbers;

/// A table whose rows all have one height, so that it needs no room for a row however many there are: a place is
/// reckoned, not kept. Columns are those of a QHeaderView, with its widths, its order and what it hides. What it shows
/// of cells is the delegate's.
///
/// Rows scroll by whole rows, columns by pixels. Typed letters search nothing: that would walk through all rows.
/// Threads: the window's thread.
class RowTable : public QAbstractItemView {
    Q_OBJECT

public:
    explicit RowTable(QWidget* parent = nullptr);
    ~RowTable() override;

    void setModel(QAbstractItemModel* model) override;
    void setSelectionModel(QItemSelectionModel* selection) override;
    /// Takes the headings over. There is a plain one until then.
    void setHorizontalHeader(QHeaderView* header);
    [[nodiscard]] QHeaderView* horizontalHeader() const { return header_; }
    /// The numbers at the left; their width follows the number of the last row.
    [[nodiscard]] QWidget* rowNumbers() const;
    void setRowNumbersShown(bool isShown);

    void setRowHeight(int pixels);
    [[nodiscard]] int rowHeight() const { return rowHeight_; }
    void setColumnWidth(int column, int width) { header_->resizeSection(column, width); }
    [[nodiscard]] int columnWidth(int column) const { return header_->sectionSize(column); }
    void setColumnHidden(int column, bool isHidden) { header_->setSectionHidden(column, isHidden); }
    [[nodiscard]] bool isColumnHidden(int column) const { return header_->isSectionHidden(column); }
    /// Where a column begins in the viewport.
    [[nodiscard]] int columnViewportPosition(int column) const { return header_->sectionViewportPosition(column); }
    /// The row at a height in the viewport; -1 below the last one.
    [[nodiscard]] int rowAt(int y) const;

    /// Chooses a whole row or column, and nothing else.
    void selectRow(int row);
    void selectColumn(int column);

    [[nodiscard]] QRect visualRect(const QModelIndex& index) const override;
    void scrollTo(const QModelIndex& index, ScrollHint hint = EnsureVisible) override;
    [[nodiscard]] QModelIndex indexAt(const QPoint& point) const override;
    void doItemsLayout() override;
    void keyboardSearch(const QString& search) override;

protected:
    void paintEvent(QPaintEvent* event) override;
    void scrollContentsBy(int dx, int dy) override;
    void updateGeometries() override;
    [[nodiscard]] QItemSelectionModel::SelectionFlags selectionCommand(const QModelIndex& index,
                                                                       const QEvent* event) const override;
    void currentChanged(const QModelIndex& current, const QModelIndex& previous) override;
    void rowsInserted(const QModelIndex& parent, int start, int end) override;
    [[nodiscard]] int horizontalOffset() const override { return header_->offset(); }
    [[nodiscard]] int verticalOffset() const override;
    [[nodiscard]] bool isIndexHidden(const QModelIndex& index) const override;
    [[nodiscard]] QModelIndex moveCursor(CursorAction action, Qt::KeyboardModifiers modifiers) override;
    void setSelection(const QRect& rect, QItemSelectionModel::SelectionFlags command) override;
    [[nodiscard]] QRegion visualRegionForSelection(const QItemSelection& selection) const override;

private:
    friend class RowNumbers;

    [[nodiscard]] int rowCount() const;
    [[nodiscard]] int topRow() const;
    [[nodiscard]] int wholeRowsShown() const;
    [[nodiscard]] int rowPosition(int row) const;
    [[nodiscard]] std::int64_t rowOfPlace(int y) const;
    [[nodiscard]] int clampedRowAt(int y) const;
    [[nodiscard]] int clampedVisualAt(int x) const;
    /// The nearest shown column from a visual place on, in steps of `by`; -1 when there is none.
    [[nodiscard]] int shownVisualFrom(int visual, int by) const;
    [[nodiscard]] std::vector<int> columnsWithin(int left, int right) const;
    void followHeader();
    void pressColumn(int column);
    void followModel();
    void paintRow(QPainter& painter, QStyleOptionViewItem& option, int row, const std::vector<int>& columns);
    /// What a press on headings does with what is chosen already.
    enum class Choice { Alone, Also };
    void chooseRows(int from, int to, Choice choice);
    void chooseColumns(int from, int to, Choice choice);
    void choose(const QItemSelection& chosen, Choice choice);
    void scrollToColumn(int column, ScrollHint hint);
    void scrollToRow(int row, ScrollHint hint);
    void placeHeadings();
    void setScrollRanges();

    QHeaderView* header_;
    RowNumbers* numbers_;
    QWidget* corner_;
    int rowHeight_ = 24;
    int columnAnchor_ = -1;  // where choosing several columns began
    bool hasNumbers_ = true;
    bool isPlacing_ = false;
    std::vector<QMetaObject::Connection> ofModel_;
};

}  // namespace pantry::app
