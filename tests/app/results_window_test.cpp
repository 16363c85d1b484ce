// What somebody does with the rows of a result, in the real window with keys and mouse.
#include <gmock/gmock.h>

#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QHeaderView>
#include <QListWidget>
#include <QMenu>
#include <QPlainTextEdit>
#include <QTableView>

#include "app/results_fixture.h"

namespace pantry::app {
namespace {

TEST_F(ResultsWindowTest, RowsAreNarrowedByATypedConditionAndComeBack) {
    run(QStringLiteral("SELECT plot_id, name, hectares FROM plot ORDER BY plot_id"));
    const int all = model()->rowCount();
    pane()->grid()->setCurrentIndex(model()->index(0, columnOf(QStringLiteral("plot_id"))));
    key(Qt::Key_R, Qt::ControlModifier | Qt::ShiftModifier);
    auto* panel = window_->findChild<FilterPanel*>(QLatin1String(resultName::kFilterPanel));
    EVENTUALLY(panel->isVisible());
    auto* test = panel->findChild<QComboBox*>(QLatin1String(resultName::kFilterTest));
    test->setCurrentIndex(test->findData(int(data::Test::AtMost)));
    auto* value = panel->findChild<QLineEdit*>(QLatin1String(resultName::kFilterValue));
    value->setFocus();
    QTest::keyClicks(value, QStringLiteral("many"));
    QTest::keyClick(value, Qt::Key_Return);
    auto* problem = panel->findChild<QLabel*>(QLatin1String(resultName::kFilterProblem));
    EXPECT_THAT(problem->text().toStdString(), testing::HasSubstr("not a number"));
    value->clear();
    QTest::keyClicks(value, QStringLiteral("5"));
    QTest::keyClick(value, Qt::Key_Return);
    EVENTUALLY(model()->rowCount() == 5);
    EVENTUALLY(find(resultName::kFilterBar) != nullptr);
    EXPECT_THAT(find<QLabel>(objectName::kResultSummary)->text().toStdString(), testing::HasSubstr("5 of"));
    EVENTUALLY(find("filterConditionAway") != nullptr);
    click("filterConditionAway");
    EVENTUALLY(model()->rowCount() == all);
}

TEST_F(ResultsWindowTest, TicksOnTheCommonestValuesChooseRows) {
    run(QStringLiteral("SELECT tree_id, plot_id FROM tree"));
    pane()->grid()->setCurrentIndex(model()->index(0, 1));
    pane()->openFilter();
    auto* common = window_->findChild<QListWidget*>(QLatin1String(resultName::kFilterCommon));
    EVENTUALLY(common->count() > 2);
    const QString chosen = common->item(0)->text().section(QLatin1Char(' '), -1);
    common->item(0)->setCheckState(Qt::Checked);
    QTest::mouseClick(window_->findChild<QPushButton*>(QLatin1String(resultName::kFilterApply)), Qt::LeftButton);
    EVENTUALLY(model()->source()->view()->rowCount() < model()->source()->rowCount());
    for (int row = 0; row < std::min(model()->rowCount(), 20); ++row) EXPECT_EQ(cellText(row, 1), chosen);
}

TEST_F(ResultsWindowTest, RowsThatScrollIntoSightHaveTheNamesOfTheirKeysToo) {
    run(QStringLiteral("SELECT inspection_id, warden_id FROM inspection ORDER BY warden_id"));
    click(objectName::kAllRowsButton);
    EVENTUALLY(model()->source()->state() == Card::State::Done);
    const int last = model()->rowCount() - 1;
    const auto label = [&](int row) { return model()->index(row, 1).data(GridModel::LabelRole).toString(); };
    EVENTUALLY(!label(0).isEmpty());
    EXPECT_TRUE(label(last).isEmpty()) << "nobody has looked there";
    EVENTUALLY((pane()->grid()->scrollToBottom(), pane()->grid()->rowAt(5) > last - 100));
    EVENTUALLY(!label(last).isEmpty());
}

TEST_F(ResultsWindowTest, ATypedConditionColoursItsCells) {
    run(QStringLiteral("SELECT plot_id, name FROM plot ORDER BY plot_id"));
    pane()->grid()->setCurrentIndex(model()->index(0, 0));
    pane()->openFilter();
    auto* panel = window_->findChild<FilterPanel*>(QLatin1String(resultName::kFilterPanel));
    auto* test = panel->findChild<QComboBox*>(QLatin1String(resultName::kFilterTest));
    test->setCurrentIndex(test->findData(int(data::Test::Between)));
    panel->findChild<QLineEdit*>(QLatin1String(resultName::kFilterValue))->setText(QStringLiteral("2"));
    panel->findChild<QLineEdit*>(QLatin1String(resultName::kFilterSecond))->setText(QStringLiteral("3"));
    auto* colours = panel->findChild<QPushButton*>(QLatin1String(resultName::kFilterColour));
    colours->menu()->actions().front()->trigger();
    const auto isColoured = [&](int row) {
        return model()->index(row, 0).data(GridModel::CellBackgroundRole).value<QColor>().isValid();
    };
    EVENTUALLY(isColoured(1));
    EXPECT_FALSE(isColoured(0));
    EXPECT_TRUE(isColoured(2));
    EXPECT_FALSE(isColoured(3));
    EXPECT_EQ(model()->source()->view()->rowCount(), model()->source()->rowCount()) << "no row is gone";
}

TEST_F(ResultsWindowTest, FormsChangeWhatIsSeenAndNotWhatIsCopied) {
    run(QStringLiteral("SELECT 1234567.891 AS weight, 0.256 AS share"));
    columnMenu(0, QStringLiteral("Show as>Thousands apart"));
    columnMenu(0, QStringLiteral("Show as>1 decimal"));
    columnMenu(1, QStringLiteral("Show as>Per cent"));
    EXPECT_EQ(cellText(0, 0), QStringLiteral("1\u2009234\u2009567.9"));
    EXPECT_EQ(cellText(0, 1), QStringLiteral("25.6 %"));
    pane()->grid()->selectAll();
    pane()->copySelection(false);
    EVENTUALLY(QApplication::clipboard()->text() == QStringLiteral("1234567.891\t0.256"));
    pane()->copyAsShown();
    EXPECT_EQ(QApplication::clipboard()->text(), QStringLiteral("1\u2009234\u2009567.9\t25.6 %")) << "when asked";
    closeWindow();
    openWindow();
    run(QStringLiteral("select 1234567.891 AS weight,  0.256 AS share"));
    EXPECT_EQ(cellText(0, 1), QStringLiteral("25.6 %")) << "the query has its forms again, whatever its layout";
}

TEST_F(ResultsWindowTest, ColumnsAreHiddenFoundByNameAndKeptInSight) {
    run(QStringLiteral("SELECT * FROM inspection LIMIT 20"));
    const int last = model()->columnCount() - 1;
    const QString wanted = model()->headerData(last, Qt::Horizontal, Qt::DisplayRole).toString();
    columnMenu(last, QStringLiteral("Hide"));
    EXPECT_TRUE(pane()->grid()->isColumnHidden(last));
    EVENTUALLY(find<QLabel>(objectName::kResultSummary)->text().contains(QStringLiteral("1 hidden")));
    key(Qt::Key_G, Qt::ControlModifier);
    auto* search = window_->findChild<QLineEdit*>(QLatin1String(resultName::kColumnsFind));
    EVENTUALLY(search->isVisible());
    QTest::keyClicks(search, wanted);
    QTest::keyClick(search, Qt::Key_Return);
    EXPECT_FALSE(pane()->grid()->isColumnHidden(last)) << "going to a column shows it";
    EXPECT_EQ(pane()->grid()->currentIndex().column(), last);
    columnMenu(0, QStringLiteral("Freeze columns"));
    auto* held = window_->findChild<RowTable*>(QLatin1String(resultName::kFrozenGrid));
    EVENTUALLY(held->isVisible());
    EXPECT_FALSE(held->isColumnHidden(0));
    EXPECT_TRUE(held->isColumnHidden(1));
}

TEST_F(ResultsWindowTest, ARecordShowsARowAndStepsToTheNext) {
    run(QStringLiteral("SELECT plot_id, name FROM plot ORDER BY plot_id"));
    pane()->grid()->setFocus();
    pane()->grid()->setCurrentIndex(model()->index(0, 0));
    key(Qt::Key_Return);
    auto* record = find<QTableView>(resultName::kRecordTable);
    ASSERT_NE(record, nullptr);
    EXPECT_EQ(record->model()->rowCount(), 2);
    EXPECT_EQ(record->model()->index(1, 0).data().toString(), cellText(0, 1));
    key(Qt::Key_PageDown);
    EXPECT_EQ(record->model()->index(1, 0).data().toString(), cellText(1, 1));
    pane()->showView(ResultPane::View::Grid);
    pane()->grid()->selectionModel()->select(model()->index(0, 0), QItemSelectionModel::Select);
    pane()->grid()->selectionModel()->select(model()->index(3, 0), QItemSelectionModel::Select);
    click(resultName::kViewRecord);
    EXPECT_EQ(record->model()->columnCount(), 3) << "the rows chosen stand side by side";
}

TEST_F(ResultsWindowTest, TextAndJsonAreReadyToCopy) {
    run(QStringLiteral("SELECT 7 AS plot, 'Saltmarsh' AS name"));
    click(resultName::kViewText);
    auto* text = find<QPlainTextEdit>(resultName::kPlainText);
    EVENTUALLY(text->toPlainText().contains(QStringLiteral("Saltmarsh")));
    click(resultName::kViewJson);
    EVENTUALLY(text->toPlainText().contains(QStringLiteral("\"name\":\"Saltmarsh\"")) ||
               text->toPlainText().contains(QStringLiteral("\"name\": \"Saltmarsh\"")));
    click(resultName::kPlainTextCopy);
    EVENTUALLY(QApplication::clipboard()->text().contains(QStringLiteral("\"plot\"")));
}

TEST_F(ResultsWindowTest, AProfileTellsOfEachColumnAndAClickNarrowsTheRows) {
    run(QStringLiteral("SELECT 'Cox' AS variety UNION ALL SELECT 'Cox' UNION ALL SELECT 'Belle'"));
    click(resultName::kViewProfile);
    const auto value = [this] { return find<QPushButton>("profileValue"); };
    EVENTUALLY(value() != nullptr);
    EXPECT_THAT(value()->text().toStdString(), testing::HasSubstr("Cox"));
    QTest::mouseClick(value(), Qt::LeftButton);
    EVENTUALLY(model()->rowCount() == 2);
    EXPECT_EQ(cellText(0, 0), QStringLiteral("Cox"));
}

TEST_F(ResultsWindowTest, AnEmptyResultSaysWhetherTheTableIsEmptyOrNothingMatched) {
    run(QStringLiteral("SELECT * FROM plot WHERE plot_id = -1"));
    const auto says = [this](const QString& words) {
        return pane()->grid()->isVisible() && pane()->grid()->accessibleDescription().contains(words);
    };
    EXPECT_EQ(model()->headerData(0, Qt::Horizontal, Qt::DisplayRole).toString(), QStringLiteral("plot_id"));
    EVENTUALLY(says(QStringLiteral("plot has rows, but none matched")));
    run(QStringLiteral("CREATE TABLE shed (n int)"));
    run(QStringLiteral("SELECT * FROM shed"));
    const auto said = [this] { return find<QLabel>(objectName::kResultSummary)->text().toStdString(); };
    ASSERT_TRUE(QTest::qWaitFor([&] { return says(QStringLiteral("shed is empty")); }, kTimeoutMs)) << said();
}

TEST_F(ResultsWindowTest, AnOrderOfAPartSaysSoAndTheServerOrdersAllWhenAsked) {
    desk_->preferences().changeSettings([](auto& s) { s.pageRows = 50; });
    run(QStringLiteral("SELECT tree_id FROM tree ORDER BY tree_id DESC"));
    EXPECT_EQ(find(objectName::kPartStrip), nullptr);
    QTest::mouseClick(pane()->grid()->horizontalHeader()->viewport(), Qt::LeftButton, {}, QPoint(20, 10));
    EVENTUALLY(find(objectName::kPartStrip) != nullptr);
    click(objectName::kSortOnServer);
    EVENTUALLY(model()->source()->mark() == QStringLiteral("2") && isOver(1));
    EXPECT_THAT(editorText(), testing::HasSubstr("SELECT tree_id FROM tree ORDER BY tree_id;"));
    EVENTUALLY(model()->rowCount() == 50);
    EXPECT_EQ(data::toText(model()->cell(0, 0)), "1");
}

TEST_F(ResultsWindowTest, ANumberThatFindsNoRoomIsNeverShownAsAnotherOne) {
    run(QStringLiteral("SELECT 123456789012345 AS n, '2026-11-28' AS d UNION ALL SELECT 1, NULL"));
    EXPECT_TRUE(model()->index(0, 0).data(GridModel::ExactRole).toBool());
    const GridView* grid = pane()->grid();
    const auto fits = [&](int row) {
        return QFontMetrics(grid->font()).horizontalAdvance(model()->index(row, 0).data().toString()) <
               grid->columnWidth(0);
    };
    EXPECT_TRUE(fits(0));
    const int before = grid->columnWidth(0);
    const int heading = grid->horizontalHeader()->height();
    desk_->preferences().changeSettings([](auto& s) { s.gridTextSize = 22; });
    EVENTUALLY(grid->columnWidth(0) > before && fits(0));
    EXPECT_GT(grid->horizontalHeader()->sizeHint().height(), heading) << "headings grow with their cells";
    // Wider numbers that come into sight later widen their column too.
    run(
        QStringLiteral("WITH RECURSIVE r(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM r LIMIT 400) "
                       "SELECT CASE WHEN i > 300 THEN i * 10000000000000 ELSE i END AS n FROM r"));
    EVENTUALLY(model()->rowCount() == 400);
    grid = pane()->grid();  // of another sheet
    const int narrow = grid->columnWidth(0);
    pane()->grid()->scrollToBottom();
    EVENTUALLY(grid->columnWidth(0) > narrow && fits(399));
    EXPECT_TRUE(desk_->preferences()
                    .gridChoices(store::gridKey("orchard", model()->source()->statement().text(), sql::Dialect::Sqlite))
                    .columns.empty())
        << "nobody has sized it by hand";
}

TEST_F(ResultsWindowTest, APartSaysSoAndIsCountedWhenAsked) {
    desk_->preferences().changeSettings([](auto& s) { s.pageRows = 50; });
    run(QStringLiteral("SELECT * FROM tree"));
    EXPECT_THAT(find<QLabel>(objectName::kResultSummary)->text().toStdString(), testing::HasSubstr("First 50 rows"));
    click(resultName::kCountAll);
    EVENTUALLY(find<QLabel>(objectName::kResultSummary)->text().contains(QStringLiteral("of 1")));
    EXPECT_GT(*model()->source()->countOfAll(), 1000);
}

TEST_F(ResultsWindowTest, CardsArePinnedNamedMovedAndRunAgainByKeys) {
    run(QStringLiteral("SELECT count(*) AS n FROM plot"));
    SheetPage* page = window_->currentSheet();
    page->appendStatement("SELECT 2 AS two");
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(isOver(1));
    find<QAbstractButton>("card1")->setFocus();
    key(Qt::Key_P);
    EXPECT_TRUE(card(0)->isPinned());
    key(Qt::Key_F2);
    EVENTUALLY(find<QLineEdit>("cardName") != nullptr);
    type(QStringLiteral("All plots"));
    key(Qt::Key_Return);
    EXPECT_EQ(card(0)->title(), QStringLiteral("All plots"));
    find<QAbstractButton>("card1")->setFocus();
    key(Qt::Key_F2);
    EVENTUALLY(find<QLineEdit>("cardName") != nullptr);
    type(QStringLiteral("Something else"));
    key(Qt::Key_Escape);
    EVENTUALLY(find<QLineEdit>("cardName") == nullptr);
    EXPECT_EQ(card(0)->title(), QStringLiteral("All plots"));
    EXPECT_TRUE(find<QAbstractButton>("card1")->hasFocus());
    key(Qt::Key_Right, Qt::AltModifier);
    EXPECT_EQ(card(1)->title(), QStringLiteral("All plots"));
    const auto before = card(1)->startedAt();
    find<QAbstractButton>("card1")->setFocus();
    key(Qt::Key_R);
    EVENTUALLY(isOver(1) && card(1)->startedAt() != before);
    EXPECT_EQ(page->sheet().cards().size(), 2U) << "its rows took the place of those that were there";
    EXPECT_EQ(card(1)->rowCount(), 1U);
}

TEST_F(ResultsWindowTest, ACardThatGoesTakesTheFieldForItsNameAlong) {
    run(QStringLiteral("SELECT count(*) AS n FROM plot"));
    find<QAbstractButton>("card1")->setFocus();
    key(Qt::Key_F2);
    EVENTUALLY(find<QLineEdit>("cardName") != nullptr);
    type(QStringLiteral("All plots"));
    window_->currentSheet()->sheet().runs().remove(card(0)->runPtr());
    EVENTUALLY(find<QLineEdit>("cardName") == nullptr);
    EXPECT_TRUE(window_->currentSheet()->sheet().cards().empty());
}

TEST_F(ResultsWindowTest, TheWindowMayCloseWhileACardIsBeingNamed) {
    run(QStringLiteral("SELECT count(*) AS n FROM plot"));
    find<QAbstractButton>("card1")->setFocus();
    key(Qt::Key_F2);
    EVENTUALLY(find<QLineEdit>("cardName") != nullptr);
    type(QStringLiteral("All plots"));
    closeWindow();
    openWindow();
    EVENTUALLY(window_->currentSheet() != nullptr);
    EVENTUALLY(window_->currentSheet()->sheet().cards().size() == 1U);
}

TEST_F(ResultsWindowTest, TheFilterSaysWhatItIsAtTheUsualWidth) {
    window_->resize(1280, 800);
    run(QStringLiteral("SELECT plot_id, name, hectares FROM plot"));
    auto* filter = find<QLineEdit>(objectName::kResultFilter);
    ASSERT_NE(filter, nullptr);
    EVENTUALLY(filter->width() > 0);
    const int text = filter->fontMetrics().horizontalAdvance(filter->placeholderText());
    EXPECT_GE(filter->width(), text + 18) << "with what its looks put around";
    EXPECT_NE(find("columnsButton"), nullptr) << "and no tool had to go for it";
}

TEST_F(ResultsWindowTest, AKeyNamesTheRowItPointsAtAndIsFollowedThereAndBack) {
    openSheet(QStringLiteral("SELECT tree_id, plot_id FROM tree ORDER BY tree_id LIMIT 5"));
    EVENTUALLY(hasCatalog());
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(isOver(0));
    EVENTUALLY(!model()->index(0, 1).data(GridModel::LabelRole).toString().isEmpty());
    EXPECT_EQ(model()->headerData(1, Qt::Horizontal, GridModel::KeyMarkRole).toString(), QStringLiteral("→"));
    pane()->grid()->setCurrentIndex(model()->index(0, 1));
    EVENTUALLY(find<QPushButton>("followLink") != nullptr);
    const QString label = model()->index(0, 1).data(GridModel::LabelRole).toString();
    EXPECT_THAT(find<QPushButton>("followLink")->accessibleName().toStdString(),
                testing::HasSubstr(label.toStdString()));
    click("followLink");
    EVENTUALLY(find<QPushButton>("followBack") != nullptr);
    auto* row = find<QListWidget>(objectName::kCloseUpRow);
    EVENTUALLY(row->findItems(QStringLiteral("hectares"), Qt::MatchExactly).size() == 1);
    click("followBack");
    EVENTUALLY(find<QPushButton>("followBack") == nullptr);
    EVENTUALLY(find<QPushButton>("followLink") != nullptr);
    click("followLink");
    EVENTUALLY(find<QPushButton>("followInSheet") != nullptr);
    click("followInSheet");
    EVENTUALLY(window_->currentSheet()->sheet().cards().size() == 1 && isOver(0));
    EXPECT_EQ(card(0)->rowCount(), 1U);
}

TEST_F(ResultsWindowTest, ACardStandsInAWindowOfItsOwnAndIsPinnedMeanwhile) {
    run(QStringLiteral("SELECT plot_id, name FROM plot"));
    find<QAbstractButton>("card1")->setFocus();
    key(Qt::Key_W);
    const auto own = [] {
        for (QWidget* w : QApplication::topLevelWidgets()) {
            if (w->objectName() == QStringLiteral("resultWindow")) return w;
        }
        return static_cast<QWidget*>(nullptr);
    };
    EVENTUALLY(own() != nullptr && own()->isVisible());
    EXPECT_TRUE(card(0)->isPinned());
    auto* rows = own()->findChild<GridView*>(QLatin1String(objectName::kResultGrid));
    EXPECT_EQ(rows->model()->rowCount(), model()->rowCount());
    QStringList origin;
    for (const QLabel* label : own()->findChild<QWidget*>(QStringLiteral("originBand"))->findChildren<QLabel*>())
        origin += label->text();
    EXPECT_EQ(origin.value(0), QStringLiteral("TRIAL"));
    EXPECT_TRUE(origin.value(1).startsWith(QStringLiteral("Orchard records"))) << origin.value(1).toStdString();
    own()->close();
    EVENTUALLY(own() == nullptr);
    EXPECT_FALSE(card(0)->isPinned());
}

TEST_F(ResultsWindowTest, ResultsBeyondTheMemoryGoToDiskAndAreReadAsBefore) {
    closeWindow();
    store::Settings settings;
    settings.resultMegabytes = 1;
    ASSERT_TRUE(store::saveSettings(home().settingsFile(), settings));
    openWindow();
    run(
        QStringLiteral("WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 200000) "
                       "SELECT i, 'reading number ' || i AS words FROM n"));
    card(0)->fetchAll();
    EVENTUALLY(card(0)->state() == Card::State::Done && card(0)->rowCount() == 200'000);
    EVENTUALLY(desk_->results().usage().onDisk > 1'000'000);
    EXPECT_EQ(data::toText(card(0)->result()->cell(123'455, 1)), "reading number 123456");
}

TEST_F(ResultsWindowTest, SelectedCellsAreCopiedInManyForms) {
    run(QStringLiteral("SELECT plot_id, name FROM plot ORDER BY plot_id LIMIT 2"));
    pane()->grid()->selectAll();
    pane()->copyAs(exchange::Format::Markdown);
    const auto copied = [] { return QApplication::clipboard()->text(); };
    EVENTUALLY(copied().startsWith(QStringLiteral("| plot_id | name |")));
    pane()->copyAs(exchange::Format::Insert);
    EVENTUALLY(copied().startsWith(QStringLiteral("INSERT INTO plot (plot_id, name) VALUES")));
    pane()->copyInList();
    EVENTUALLY(copied() == QStringLiteral("(1, 2)"));
    pane()->copyColumnNames();
    EVENTUALLY(copied() == QStringLiteral("plot_id, name"));
}

TEST_F(ResultsWindowTest, MessagesHaveTheirTimesAndAMistakeItsCode) {
    run(QStringLiteral("SELECT wheer FROM plot"));
    click(resultName::kViewMessages);
    auto* messages = find<QPlainTextEdit>(resultName::kMessagesList);
    ASSERT_NE(messages, nullptr);
    EXPECT_THAT(messages->toPlainText().toStdString(), testing::HasSubstr("began on Orchard records"));
    EXPECT_THAT(messages->toPlainText().toStdString(), testing::HasSubstr("wheer"));
}

}  // namespace
}  // namespace pantry::app
