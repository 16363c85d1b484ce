#include "app/result/row_table.h"

#include <gtest/gtest.h>

#include <malloc.h>
#include <QAbstractTableModel>
#include <QAccessible>
#include <QScrollBar>
#include <QSignalSpy>
#include <QStyledItemDelegate>
#include <QTest>
#include <set>

namespace pantry::app {
namespace {

/// As many rows as one likes, none of which is kept anywhere. Counts how often it was asked for a text.
class EndlessModel : public QAbstractTableModel {
public:
    explicit EndlessModel(int rows, int columns = 5) : rows_(rows), columns_(columns) {}

    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override { return parent.isValid() ? 0 : rows_; }
    [[nodiscard]] int columnCount(const QModelIndex& parent = {}) const override {
        return parent.isValid() ? 0 : columns_;
    }
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override {
        if (role != Qt::DisplayRole) return {};
        asked.insert(index.row());
        return QStringLiteral("%1/%2").arg(index.row()).arg(index.column());
    }
    void setRows(int rows) {
        if (rows > rows_) {
            beginInsertRows({}, rows_, rows - 1);
            rows_ = rows;
            endInsertRows();
        } else {
            beginRemoveRows({}, rows, rows_ - 1);
            rows_ = rows;
            endRemoveRows();
        }
    }

    mutable std::set<int> asked;

private:
    int rows_;
    int columns_;
};

class RowTableTest : public testing::Test {
protected:
    void show(int rows, int columns = 5) {
        model_ = std::make_unique<EndlessModel>(rows, columns);
        table_.setModel(model_.get());
        table_.horizontalHeader()->setSectionsClickable(true);
        for (int column = 0; column < columns; ++column) table_.setColumnWidth(column, 90);
        table_.resize(kWidth, kHeight);
        table_.show();
        ASSERT_TRUE(QTest::qWaitForWindowExposed(&table_));
        table_.setFocus();
        table_.setCurrentIndex(model_->index(0, 0));
    }

    void key(Qt::Key key, Qt::KeyboardModifiers modifiers = {}) { QTest::keyClick(&table_, key, modifiers); }
    [[nodiscard]] std::pair<int, int> place() const {
        return {table_.currentIndex().row(), table_.currentIndex().column()};
    }
    [[nodiscard]] bool isChosen(int row, int column) const {
        return table_.selectionModel()->isSelected(model_->index(row, column));
    }
    [[nodiscard]] std::set<int> chosenRows() const {
        std::set<int> rows;
        for (const QItemSelectionRange& range : table_.selectionModel()->selection()) {
            for (int row = range.top(); row <= range.bottom(); ++row) rows.insert(row);
        }
        return rows;
    }
    [[nodiscard]] std::set<int> chosenColumns() const {
        std::set<int> columns;
        for (int column = 0; column < model_->columnCount(); ++column) {
            if (table_.selectionModel()->isColumnSelected(column)) columns.insert(column);
        }
        return columns;
    }
    [[nodiscard]] QPoint cell(int row, int column) const {
        return table_.visualRect(model_->index(row, column)).center();
    }
    [[nodiscard]] QPoint number(int row) const { return {10, cell(row, 0).y()}; }
    void clickNumber(int row, Qt::KeyboardModifiers modifiers = {}) {
        QTest::mouseClick(table_.rowNumbers(), Qt::LeftButton, modifiers, number(row));
    }
    void clickHeading(int column, Qt::KeyboardModifiers modifiers = {}) {
        QHeaderView* header = table_.horizontalHeader();
        const QPoint at(header->sectionViewportPosition(column) + 20, header->height() / 2);
        QTest::mouseClick(header->viewport(), Qt::LeftButton, modifiers, at);
    }

    static constexpr int kWidth = 640;
    static constexpr int kHeight = 320;
    static constexpr int kEndless = 80'000'000;

    std::unique_ptr<EndlessModel> model_;
    RowTable table_;
};

TEST_F(RowTableTest, EightyMillionRowsTakeNoMemory) {
    show(10);
    const auto used = [] { return mallinfo2().uordblks + mallinfo2().hblkhd; };
    const std::size_t before = used();
    model_->setRows(kEndless);
    table_.scrollToBottom();
    (void)table_.grab();
    constexpr std::size_t kMax = 2U << 20U;
    EXPECT_LT(used(), before + kMax);
    EXPECT_TRUE(model_->asked.contains(kEndless - 1)) << "and the last one is in sight";
}

TEST_F(RowTableTest, PaintsOnlyWhatIsInSight) {
    show(kEndless);
    model_->asked.clear();
    table_.verticalScrollBar()->setValue(1000);
    (void)table_.grab();
    ASSERT_FALSE(model_->asked.empty());
    EXPECT_GE(*model_->asked.begin(), 0);
    EXPECT_LE(model_->asked.size(), static_cast<std::size_t>(kHeight / table_.rowHeight() + 2));
    EXPECT_EQ(*model_->asked.begin(), 1000);
}

TEST_F(RowTableTest, KeysLeadToBothEnds) {
    show(kEndless);
    key(Qt::Key_End, Qt::ControlModifier);
    EXPECT_EQ(place(), std::pair(kEndless - 1, 4));
    EXPECT_TRUE(table_.viewport()->rect().contains(cell(kEndless - 1, 4)));
    key(Qt::Key_Down);
    key(Qt::Key_Right);
    EXPECT_EQ(place(), std::pair(kEndless - 1, 4)) << "there is nothing farther";
    key(Qt::Key_Home, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_EQ(place(), std::pair(0, 0));
    EXPECT_EQ(table_.selectionModel()->selection().size(), 1);
    EXPECT_TRUE(isChosen(0, 0));
    EXPECT_TRUE(isChosen(kEndless / 2, 2));
    EXPECT_TRUE(isChosen(kEndless - 1, 4));
    key(Qt::Key_Up);
    key(Qt::Key_Left);
    EXPECT_EQ(place(), std::pair(0, 0));
}

TEST_F(RowTableTest, PagesAreAsHighAsTheWindow) {
    show(1000);
    const int page = table_.viewport()->height() / table_.rowHeight();
    key(Qt::Key_PageDown);
    EXPECT_EQ(place(), std::pair(page, 0));
    key(Qt::Key_PageDown, Qt::ShiftModifier);
    EXPECT_EQ(place(), std::pair(2 * page, 0));
    EXPECT_EQ(chosenRows().size(), static_cast<std::size_t>(page + 1));
    key(Qt::Key_PageUp);
    key(Qt::Key_PageUp);
    key(Qt::Key_PageUp);
    EXPECT_EQ(place(), std::pair(0, 0));
}

TEST_F(RowTableTest, KeysFollowTheOrderThatIsShown) {
    show(20);
    table_.horizontalHeader()->moveSection(4, 0);  // 4 0 1 2 3
    table_.setColumnHidden(1, true);
    key(Qt::Key_Home);
    EXPECT_EQ(place().second, 4);
    key(Qt::Key_Right);
    EXPECT_EQ(place().second, 0);
    key(Qt::Key_Right);
    EXPECT_EQ(place().second, 2) << "a hidden column is stepped over";
    key(Qt::Key_Left);
    EXPECT_EQ(place().second, 0);
    table_.setColumnHidden(3, true);
    key(Qt::Key_End);
    EXPECT_EQ(place().second, 2);
    EXPECT_FALSE(table_.visualRect(model_->index(0, 1)).isValid());
}

TEST_F(RowTableTest, DraggingChoosesARectangleOfWhatIsShown) {
    show(20);
    table_.horizontalHeader()->moveSection(4, 1);  // 0 4 1 2 3
    QTest::mousePress(table_.viewport(), Qt::LeftButton, {}, cell(1, 4));
    QTest::mouseMove(table_.viewport(), cell(2, 1));
    QTest::mouseMove(table_.viewport(), cell(3, 2));
    QTest::mouseRelease(table_.viewport(), Qt::LeftButton, {}, cell(3, 2));
    EXPECT_EQ(chosenRows(), (std::set<int>{1, 2, 3}));
    for (const int column : {4, 1, 2}) EXPECT_TRUE(isChosen(2, column)) << column;
    for (const int column : {0, 3}) EXPECT_FALSE(isChosen(2, column)) << column;
}

TEST_F(RowTableTest, NumbersChooseRows) {
    show(100);
    clickNumber(2);
    EXPECT_EQ(chosenRows(), (std::set<int>{2}));
    EXPECT_TRUE(isChosen(2, 0) && isChosen(2, 4));
    clickNumber(5, Qt::ShiftModifier);
    EXPECT_EQ(chosenRows(), (std::set<int>{2, 3, 4, 5}));
    clickNumber(8, Qt::ControlModifier);
    EXPECT_EQ(chosenRows(), (std::set<int>{2, 3, 4, 5, 8}));
    clickNumber(8, Qt::ControlModifier);
    EXPECT_EQ(chosenRows(), (std::set<int>{2, 3, 4, 5}));
    QTest::mousePress(table_.rowNumbers(), Qt::LeftButton, {}, number(1));
    QTest::mouseMove(table_.rowNumbers(), number(3));
    QTest::mouseRelease(table_.rowNumbers(), Qt::LeftButton, {}, number(3));
    EXPECT_EQ(chosenRows(), (std::set<int>{1, 2, 3}));
    EXPECT_TRUE(table_.hasFocus());
}

TEST_F(RowTableTest, HeadingsChooseColumns) {
    show(100);
    table_.horizontalHeader()->moveSection(4, 0);  // 4 0 1 2 3
    clickHeading(0);
    EXPECT_EQ(chosenColumns(), (std::set<int>{0}));
    clickHeading(2, Qt::ShiftModifier);
    EXPECT_EQ(chosenColumns(), (std::set<int>{0, 1, 2}));
    clickHeading(4, Qt::ControlModifier);
    EXPECT_EQ(chosenColumns(), (std::set<int>{0, 1, 2, 4}));
    clickHeading(4, Qt::ControlModifier);
    EXPECT_EQ(chosenColumns(), (std::set<int>{0, 1, 2}));
    table_.selectColumn(3);
    EXPECT_EQ(chosenColumns(), (std::set<int>{3}));
    table_.selectRow(7);
    EXPECT_EQ(chosenRows(), (std::set<int>{7}));
}

TEST_F(RowTableTest, TheCornerChoosesEverything) {
    show(50);
    QWidget* corner = table_.childAt(10, 5);
    ASSERT_NE(corner, nullptr);
    QTest::mouseClick(corner, Qt::LeftButton);
    EXPECT_EQ(chosenRows().size(), 50U);
    EXPECT_EQ(chosenColumns().size(), 5U);
}

TEST_F(RowTableTest, RowsThatComeAndGoAreFollowed) {
    show(9);
    EXPECT_EQ(table_.verticalScrollBar()->maximum(), 0);
    const int narrow = table_.rowNumbers()->width();
    model_->setRows(10'000'000);
    EXPECT_GT(table_.rowNumbers()->width(), narrow) << "eight digits want more room than one";
    EXPECT_EQ(table_.rowNumbers()->geometry().right() + 1, table_.viewport()->geometry().left());
    table_.scrollToBottom();
    const int page = table_.viewport()->height() / table_.rowHeight();
    EXPECT_EQ(table_.verticalScrollBar()->value(), 10'000'000 - page);
    model_->setRows(30);
    EXPECT_EQ(table_.verticalScrollBar()->value(), 30 - page) << "never beyond the last row";
    model_->setRows(3);
    EXPECT_EQ(table_.rowAt(table_.viewport()->height() - 1), -1) << "below the last row there is none";
    EXPECT_EQ(table_.rowAt(1), 0);
    EXPECT_FALSE(table_.indexAt({10, table_.viewport()->height() - 1}).isValid());
}

TEST_F(RowTableTest, TypedLettersDoNotWalkThroughAllRows) {
    show(kEndless);
    (void)table_.grab();
    model_->asked.clear();
    QTest::keyClicks(&table_, QStringLiteral("7"));
    EXPECT_TRUE(model_->asked.empty());
    EXPECT_EQ(place(), std::pair(0, 0));
}

TEST_F(RowTableTest, GoingToACellScrollsNoFartherThanNeeded) {
    show(1000, 30);
    table_.scrollTo(model_->index(500, 20));
    const QRect there = table_.visualRect(model_->index(500, 20));
    EXPECT_TRUE(table_.viewport()->rect().contains(there));
    const int top = table_.verticalScrollBar()->value();
    const int left = table_.horizontalScrollBar()->value();
    table_.scrollTo(model_->index(499, 19));
    EXPECT_EQ(table_.verticalScrollBar()->value(), top);
    EXPECT_EQ(table_.horizontalScrollBar()->value(), left);
    table_.scrollTo(model_->index(100, 10), QAbstractItemView::PositionAtCenter);
    const QPoint middle = table_.viewport()->rect().center();
    EXPECT_NEAR(cell(100, 10).y(), middle.y(), table_.rowHeight());
    EXPECT_NEAR(cell(100, 10).x(), middle.x(), 90);
}

TEST_F(RowTableTest, AssistiveProgramsReadItAsATable) {
    show(40);
    QAccessibleInterface* reader = QAccessible::queryAccessibleInterface(&table_);
    ASSERT_NE(reader, nullptr);
    EXPECT_EQ(reader->role(), QAccessible::Table);
    QAccessibleTableInterface* cells = reader->tableInterface();
    ASSERT_NE(cells, nullptr);
    EXPECT_EQ(cells->rowCount(), 40);
    EXPECT_EQ(cells->columnCount(), 5);
    ASSERT_NE(cells->cellAt(3, 2), nullptr);
    EXPECT_EQ(cells->cellAt(3, 2)->text(QAccessible::Name), QStringLiteral("3/2"));
    table_.selectRow(3);
    EXPECT_TRUE(cells->cellAt(3, 2)->state().selected);
}

TEST_F(RowTableTest, ATableWithoutAModelOrWithoutRowsTakesKeysAndClicks) {
    RowTable empty;
    empty.show();
    ASSERT_TRUE(QTest::qWaitForWindowExposed(&empty));
    QTest::keyClick(&empty, Qt::Key_Down);
    QTest::mouseClick(empty.viewport(), Qt::LeftButton);
    empty.selectRow(0);
    empty.selectColumn(0);
    show(0, 0);
    key(Qt::Key_End, Qt::ControlModifier);
    QTest::mouseClick(table_.rowNumbers(), Qt::LeftButton, {}, QPoint(5, 5));
    EXPECT_FALSE(table_.currentIndex().isValid());
    table_.setModel(nullptr);
    EXPECT_EQ(table_.rowAt(0), -1);
}

}  // namespace
}  // namespace pantry::app
