// What leaves the program, and two results laid beside each other, in the real window with keys and mouse.
#include <fmt/format.h>
#include <gmock/gmock.h>

#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QWheelEvent>

#include "app/results_fixture.h"

namespace pantry::app {
namespace {

class HandingOnTest : public ResultsWindowTest {
protected:
    void openExportOf(const QString& sql) {
        run(sql);
        key(Qt::Key_E, Qt::ControlModifier);
        EVENTUALLY(find("exportFormat") != nullptr);
    }
    void chooseFormat(exchange::Format format) {
        auto* box = find<QComboBox>("exportFormat");
        box->setCurrentIndex(box->findData(static_cast<int>(format)));
    }
    void chooseIn(const char* name, int data) {
        auto* box = find<QComboBox>(name);
        ASSERT_NE(box, nullptr) << name;
        ASSERT_GE(box->findData(data), 0) << name;
        box->setCurrentIndex(box->findData(data));
    }
    void exportTo(const std::filesystem::path& path) {
        find<QLineEdit>(objectName::kExportFile)->setText(toQt(path.string()));
        click(objectName::kExportStart);
    }
    QString state() { return find<QLabel>(objectName::kExportState)->text(); }
};

TEST_F(HandingOnTest, AnExportShowsItsFirstLinesAndWritesTheChosenForm) {
    run(QStringLiteral("SELECT plot_id, name FROM plot ORDER BY plot_id LIMIT 3"));
    key(Qt::Key_E, Qt::ControlModifier);
    auto* format = find<QComboBox>("exportFormat");
    ASSERT_NE(format, nullptr);
    format->setCurrentIndex(format->findData(int(exchange::Format::JsonLines)));
    auto* file = find<QLineEdit>(objectName::kExportFile);
    EXPECT_TRUE(file->text().endsWith(QStringLiteral(".jsonl")));
    auto* preview = find<QPlainTextEdit>("exportPreview");
    EVENTUALLY(preview->toPlainText().startsWith(QStringLiteral("{\"plot_id\": 1")));
    const auto path = folder_ / "plots.jsonl";
    file->setText(toQt(path.string()));
    click(objectName::kExportStart);
    EVENTUALLY(find<QLabel>(objectName::kExportState)->text().startsWith(QStringLiteral("Wrote 3 rows")));
    EXPECT_EQ(toQt(test::contentOf(path)), preview->toPlainText());
}

TEST_F(HandingOnTest, ColumnsAreChosenAndOrdered) {
    openExportOf(QStringLiteral("SELECT plot_id, name, hectares FROM plot ORDER BY plot_id LIMIT 1"));
    click("exportColumnsUnfold");
    auto* columns = find<QListWidget>("exportColumns");
    ASSERT_EQ(columns->count(), 3);
    columns->setFocus();
    columns->setCurrentRow(2);
    QTest::keyClick(columns, Qt::Key_Up, Qt::AltModifier);
    QTest::keyClick(columns, Qt::Key_Up, Qt::AltModifier);
    columns->setCurrentRow(1);
    QTest::keyClick(columns, Qt::Key_Space);
    EXPECT_EQ(find<QLabel>("exportColumnsSummary")->text(), QStringLiteral("2 of 3 columns go"));
    exportTo(folder_ / "some.csv");
    EVENTUALLY(state().startsWith(QStringLiteral("Wrote 1 row")));
    EXPECT_TRUE(test::contentOf(folder_ / "some.csv").starts_with("hectares,name\r\n"));
}

TEST_F(HandingOnTest, SelectedRowsGoAloneAndAFileIsReplacedOnlyWhenSomebodySaysSo) {
    openExportOf(QStringLiteral("SELECT plot_id FROM plot ORDER BY plot_id"));
    for (const int row : {1, 3}) {
        pane()->grid()->selectionModel()->select(model()->index(row, 0), QItemSelectionModel::Select);
    }
    auto* rows = find<QComboBox>("exportRows");
    EVENTUALLY(rows->findText(QStringLiteral("The 2 rows selected")) >= 0);
    rows->setCurrentIndex(rows->findText(QStringLiteral("The 2 rows selected")));
    test::writeFile(folder_ / "there.csv", "the old one");
    exportTo(folder_ / "there.csv");
    EVENTUALLY(state().startsWith(QStringLiteral("there.csv is there already")));
    ASSERT_NE(find(objectName::kExportReplace), nullptr) << "as soon as it is asked for";
    // The same gesture once more, and twice quickly, is no consent.
    find(objectName::kExportFile)->setFocus();
    key(Qt::Key_Return);
    key(Qt::Key_Return);
    QTest::mouseDClick(find(objectName::kExportStart), Qt::LeftButton);
    QTest::qWait(200);
    EXPECT_EQ(test::contentOf(folder_ / "there.csv"), "the old one");
    click(objectName::kExportReplace);
    click(objectName::kExportStart);
    EVENTUALLY(state().startsWith(QStringLiteral("Wrote 2 rows")));
    EXPECT_EQ(test::contentOf(folder_ / "there.csv"), "plot_id\r\n2\r\n4\r\n");
}

TEST_F(HandingOnTest, AnExportSaysAndDoesWhatTheGridShowsNow) {
    openExportOf(QStringLiteral("SELECT plot_id FROM plot ORDER BY plot_id"));
    auto* rows = find<QComboBox>("exportRows");
    EXPECT_EQ(fromQt(rows->currentText()), "All 24 rows");
    // Typed a moment ago, and not in effect yet when Export is pressed.
    find<QLineEdit>(objectName::kResultFilter)->setText(QStringLiteral("7"));
    exportTo(folder_ / "narrow.csv");
    EVENTUALLY(state().startsWith(QStringLiteral("Wrote 2 rows")));
    EXPECT_EQ(test::contentOf(folder_ / "narrow.csv"), "plot_id\r\n7\r\n17\r\n");
    EXPECT_EQ(fromQt(rows->currentText()), "2 of 24 rows, as filtered");
    find<QLineEdit>(objectName::kResultFilter)->clear();
    EVENTUALLY(rows->currentText() == QStringLiteral("All 24 rows"));
    EXPECT_TRUE(state().contains(QStringLiteral("rows have changed"))) << fromQt(state());
    // Another run is another result.
    window_->currentSheet()->sheet().runStatement("SELECT plot_id FROM plot WHERE plot_id < 4");
    EVENTUALLY(rows->currentText() == QStringLiteral("All 3 rows"));
    exportTo(folder_ / "fresh.csv");
    EVENTUALLY(state().startsWith(QStringLiteral("Wrote 3 rows")));
    EXPECT_EQ(desk_->preferences().exportPresets().folder, folder_.path().string()) << "the next export begins there";
}

TEST_F(HandingOnTest, OfAnotherRunThatIsOnlyPartlyHereAllRowsAreOffered) {
    desk_->preferences().changeSettings([](auto& settings) { settings.pageRows = 50; });
    openExportOf(QStringLiteral("SELECT plot_id FROM plot"));
    auto* rows = find<QComboBox>("exportRows");
    EXPECT_EQ(fromQt(rows->currentText()), "All 24 rows");
    Sheet& sheet = window_->currentSheet()->sheet();
    sheet.runStatement("SELECT tree_id FROM tree");
    EVENTUALLY(isOver(1) || (card(1) != nullptr && card(1)->state() == Card::State::Paused));
    EVENTUALLY(rows->currentText() == QStringLiteral("All rows, from the server"));
    // What somebody has chosen stays chosen while rows come and go.
    rows->setCurrentIndex(rows->findText(QStringLiteral("The 50 rows that are here")));
    find<QLineEdit>(objectName::kResultFilter)->setText(QStringLiteral("7"));
    EVENTUALLY(rows->currentText().endsWith(QStringLiteral("as filtered")));
}

TEST_F(HandingOnTest, EveryFormatIsWrittenFromAFilteredSelection) {
    openExportOf(QStringLiteral("SELECT plot_id, name FROM plot ORDER BY plot_id"));
    data::ViewRequest request;
    request.filter.conditions = {{.column = 0, .test = data::Test::AtMost, .values = {"5"}}};
    model()->source()->requestView(request);
    EVENTUALLY(model()->rowCount() == 5);
    for (const int row : {1, 3}) {
        pane()->grid()->selectionModel()->select(model()->index(row, 0), QItemSelectionModel::Select);
    }
    auto* rows = find<QComboBox>("exportRows");
    for (const std::string& word : exchange::formatWords()) {
        const exchange::Format format = *exchange::formatFromWord(word);
        chooseFormat(format);
        EVENTUALLY(rows->findText(QStringLiteral("The 2 rows selected")) >= 0);
        rows->setCurrentIndex(rows->findText(QStringLiteral("The 2 rows selected")));
        const auto path = folder_ / ("selected." + word);
        exportTo(path);
        EVENTUALLY(std::filesystem::exists(path) && state().startsWith(QStringLiteral("Wrote 2 rows")));
        const std::string content = test::contentOf(path);
        EXPECT_GT(content.size(), 20U) << word;
        if (!exchange::isText(format)) continue;
        EXPECT_THAT(content, testing::HasSubstr(fromQt(cellText(1, 1)))) << word;
        EXPECT_THAT(content, testing::Not(testing::HasSubstr(fromQt(cellText(2, 1))))) << word;
    }
}

TEST_F(HandingOnTest, RowsGoToTheClipboardAndIntoASheet) {
    openExportOf(QStringLiteral("SELECT plot_id FROM plot ORDER BY plot_id LIMIT 2"));
    chooseFormat(exchange::Format::Markdown);
    chooseIn("exportTarget", 1);
    click(objectName::kExportStart);
    EVENTUALLY(QApplication::clipboard()->text() == QStringLiteral("| plot_id |\n| ---: |\n| 1 |\n| 2 |\n"));
    chooseFormat(exchange::Format::Json);
    chooseIn("exportTarget", 2);
    click(objectName::kExportStart);
    EVENTUALLY(editorText() == "[\n{\"plot_id\": 1},\n{\"plot_id\": 2}\n]\n");
    EXPECT_TRUE(window_->currentSheet()->sheet().title().endsWith(QStringLiteral(".json")));
}

TEST_F(HandingOnTest, TheWheelScrollsTheFormAndChangesNoChoice) {
    openExportOf(QStringLiteral("SELECT plot_id FROM plot LIMIT 1"));
    auto* quoting = find<QComboBox>("exportQuoting");
    const int before = quoting->currentIndex();
    for (int i = 0; i < 3; ++i) {
        QWheelEvent turn(QPointF(5, 5), quoting->mapToGlobal(QPointF(5, 5)), {}, QPoint(0, -120), Qt::NoButton,
                         Qt::NoModifier, Qt::NoScrollPhase, false);
        QApplication::sendEvent(quoting, &turn);
    }
    EXPECT_EQ(quoting->currentIndex(), before);
}

TEST_F(HandingOnTest, JsonInASheetSaysWhereItIsNone) {
    openSheet(QStringLiteral("{\n  \"plot\": {\n    \"n\": 1\n  }\n}"));
    const auto problem = [this] { return find(objectName::kEditor)->accessibleDescription(); };
    EXPECT_EQ(problem(), QString());
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_End, Qt::ControlModifier);
    QTest::keyClicks(find(objectName::kEditor), QStringLiteral("]"));
    EVENTUALLY(problem().startsWith(QStringLiteral("Line 5: Nothing is open")));
    key(Qt::Key_Backspace);
    EVENTUALLY(problem().isEmpty());
}

TEST_F(HandingOnTest, ChoicesAreRememberedForTheirFormatAndKeptUnderAName) {
    openExportOf(QStringLiteral("SELECT plot_id FROM plot LIMIT 1"));
    find<QComboBox>("exportDelimiter")->setEditText(QStringLiteral("::"));
    find<QLineEdit>("exportNullText")->setText(QStringLiteral("none"));
    chooseIn("exportCompression", static_cast<int>(exchange::Compression::Gzip));
    EXPECT_TRUE(find<QLineEdit>(objectName::kExportFile)->text().endsWith(QStringLiteral(".csv.gz")));
    exportTo(folder_ / "a.csv.gz");
    EVENTUALLY(state().startsWith(QStringLiteral("Wrote 1 row")));
    chooseFormat(exchange::Format::Json);
    chooseFormat(exchange::Format::Csv);
    EXPECT_EQ(find<QComboBox>("exportDelimiter")->currentText(), QStringLiteral("::"));
    EXPECT_EQ(find<QLineEdit>("exportNullText")->text(), QStringLiteral("none"));
    desk_->flush();
    const auto presets = store::loadExportPresets(home().exportsFile());
    ASSERT_TRUE(presets);
    EXPECT_EQ(presets->lastUsed.at(exchange::Format::Csv).forms.csv.delimiter, "::");

    auto* menu = find<QPushButton>("exportPresets")->menu();
    Q_EMIT menu->aboutToShow();
    menu->actions().back()->trigger();
    find<QLineEdit>("exportPresetName")->setText(QStringLiteral("for the stall"));
    click("exportPresetKeep");
    find<QComboBox>("exportDelimiter")->setEditText(QStringLiteral(";"));
    Q_EMIT menu->aboutToShow();
    ASSERT_EQ(menu->actions().front()->text(), QStringLiteral("for the stall"));
    menu->actions().front()->trigger();
    EXPECT_EQ(find<QComboBox>("exportDelimiter")->currentText(), QStringLiteral("::"));
}

TEST_F(HandingOnTest, AStoppedExportKeepsAPartAndSaysHowFarItCame) {
    openExportOf(QStringLiteral("WITH RECURSIVE s(n) AS (SELECT 1 UNION ALL SELECT n + 1 FROM s) SELECT n FROM s"));
    EVENTUALLY(find<QComboBox>("exportRows")->currentText() == QStringLiteral("All rows, from the server"));
    exportTo(folder_ / "endless.csv");
    EVENTUALLY(state().contains(QStringLiteral("MB")));
    EXPECT_FALSE(std::filesystem::exists(folder_ / "endless.csv.part")) << "nothing is there under a name yet";
    click(objectName::kExportStop);
    EVENTUALLY(state().startsWith(QStringLiteral("Stopped.")));
    EXPECT_THAT(state().remove(QChar(0x200B)).toStdString(), testing::HasSubstr("endless.csv.part"));
    EXPECT_FALSE(std::filesystem::exists(folder_ / "endless.csv"));
    const std::string part = test::contentOf(folder_ / "endless.csv.part");
    EXPECT_TRUE(part.ends_with("\r\n")) << "the last row is whole";
    desk_->flush();
    auto ledger = store::Ledger::open(home().ledgerFile());
    ASSERT_TRUE(ledger);
    const auto entries = (*ledger)->find({});
    ASSERT_TRUE(entries && entries->size() == 2) << "the statement ran twice";
    EXPECT_EQ(entries->front().end.status, store::RunStatus::Stopped);
}

TEST_F(HandingOnTest, AnExportOnTheSheetsOwnLineSeesItsOpenChanges) {
    openSheet(
        QStringLiteral("BEGIN;\nUPDATE plot SET name = 'Changed' WHERE plot_id = 1;\n"
                       "WITH RECURSIVE s(n) AS (SELECT 1 UNION ALL SELECT n + 1 FROM s LIMIT 5000)\n"
                       "SELECT name FROM plot, s WHERE plot_id = 1;"));
    window_->currentSheet()->runAll();
    EVENTUALLY(window_->currentSheet()->sheet().cards().size() == 3 && !window_->currentSheet()->sheet().isRunning());
    key(Qt::Key_E, Qt::ControlModifier);
    EVENTUALLY(find<QCheckBox>("exportOwnLine") != nullptr);
    EXPECT_TRUE(find<QCheckBox>("exportOwnLine")->isChecked()) << "since a transaction is open";
    exportTo(folder_ / "own.csv");
    EVENTUALLY(state().startsWith(QStringLiteral("Wrote 5\u2009000 rows")));
    EXPECT_TRUE(test::contentOf(folder_ / "own.csv").starts_with("name\r\nChanged\r\n"));
    EXPECT_TRUE(window_->currentSheet()->sheet().session().hasOpenChanges());
    click(objectName::kUndoButton);
    EVENTUALLY(!window_->currentSheet()->sheet().session().hasOpenChanges());
}

TEST_F(HandingOnTest, TwoResultsAreComparedAndTheDifferencesAreACard) {
    run(QStringLiteral("SELECT plot_id, name, hectares FROM plot ORDER BY plot_id"));
    window_->currentSheet()->sheet().setText(
        "SELECT plot_id, upper(name) AS name, hectares FROM plot WHERE plot_id > 1 "
        "UNION ALL SELECT 1, (SELECT name FROM plot WHERE plot_id = 1), 99");
    window_->currentSheet()->runAll();
    EVENTUALLY(window_->currentSheet()->sheet().cards().size() == 2 && isOver(1));
    pane()->openCompare();
    auto* keys = find<QListWidget>(resultName::kCompareKeys);
    EVENTUALLY(keys->count() == 3);
    EXPECT_EQ(keys->item(0)->checkState(), Qt::Checked) << "plot_id tells rows apart";
    EXPECT_EQ(find<QComboBox>(resultName::kCompareBefore)->currentIndex(), 0);
    click(resultName::kCompareStart);
    EVENTUALLY(pane()->source()->isComparison());
    const int rows = static_cast<int>(window_->currentSheet()->sheet().cards()[0]->rowCount());
    EXPECT_EQ(model()->rowCount(), 2 * rows);
    EXPECT_EQ(cellText(0, 0), QStringLiteral("before"));
    EXPECT_EQ(cellText(1, 0), QStringLiteral("after"));
    EXPECT_FALSE(model()->index(0, 2).data(GridModel::CellBackgroundRole).value<QColor>().isValid())
        << "the name is the same";
    EXPECT_TRUE(model()->index(0, 3).data(GridModel::CellBackgroundRole).value<QColor>().isValid())
        << "the area is not";
    EXPECT_THAT(find<QLabel>(resultName::kCompareState)->text().toStdString(),
                testing::HasSubstr(fmt::format("{} changed (name {}, hectares 1)", rows, rows - 1)));

    key(Qt::Key_E, Qt::ControlModifier);
    exportTo(folder_ / "differences.csv");
    EVENTUALLY(state().startsWith(QStringLiteral("Wrote")));
    EXPECT_TRUE(test::contentOf(folder_ / "differences.csv").starts_with("change,plot_id,name,hectares\r\nbefore,1,"));
}

}  // namespace
}  // namespace pantry::app
