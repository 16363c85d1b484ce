#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QHeaderView>
#include <QMessageBox>
#include <QProcess>
#include <QSignalSpy>
#include <QTabBar>
#include <csignal>

#include "app/base/background.h"
#include "app/look/theme.h"
#include "app/window_fixture.h"

namespace pantry::app {
namespace {

TEST_F(WindowTest, TheWholeWayWithTheKeyboardAlone) {
    // Connect: the first screen holds the connection; Return on its card opens a sheet.
    ASSERT_NE(find(objectName::kConnectionsPage), nullptr);
    EVENTUALLY(find("connectionCard") != nullptr);
    for (int i = 0; i < 40 && QApplication::focusWidget()->objectName() != QLatin1String("connectionCard"); ++i)
        key(Qt::Key_Tab);
    ASSERT_EQ(QApplication::focusWidget()->objectName(), QStringLiteral("connectionCard"));
    key(Qt::Key_Return);
    ASSERT_NE(window_->currentSheet(), nullptr);
    EVENTUALLY(hasCatalog());

    // Write, with completion by keys.
    type(QStringLiteral("select sca"));
    type(QStringLiteral("b_score from insp"));
    EVENTUALLY(window_->currentSheet()->editor()->isCompleting());
    key(Qt::Key_Tab);
    EXPECT_EQ(editorText(), "select scab_score from inspection");
    type(QStringLiteral(" i where i.scab"));
    EVENTUALLY(window_->currentSheet()->editor()->isCompleting());
    key(Qt::Key_Tab);
    type(QStringLiteral(" > 5 order by 1 desc"));
    key(Qt::Key_Escape);

    // Format and run.
    format();
    EXPECT_EQ(editorText(), "SELECT scab_score\nFROM inspection i\nWHERE i.scab_score > 5\nORDER BY 1 DESC");
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(isOver(0));
    EXPECT_EQ(card(0)->state(), Card::State::Done);
    EXPECT_GT(card(0)->rowCount(), 50U);

    // Read: the next part of the window is the grid; arrows move in it, and the close-up follows.
    key(Qt::Key_F6);
    ASSERT_EQ(QApplication::focusWidget(), window_->currentSheet()->result()->grid())
        << QApplication::focusWidget()->objectName().toStdString();
    key(Qt::Key_Down);
    EVENTUALLY(find<QPlainTextEdit>(objectName::kCloseUpValue) != nullptr);
    key(Qt::Key_C, Qt::ControlModifier);
    const QString second = window_->currentSheet()->result()->model()->index(1, 0).data().toString();
    EVENTUALLY(QApplication::clipboard()->text() == second);

    // Export.
    key(Qt::Key_E, Qt::ControlModifier);
    ASSERT_EQ(QApplication::focusWidget()->objectName(), QLatin1String(objectName::kExportFile));
    key(Qt::Key_A, Qt::ControlModifier);
    type(toQt((folder_ / "out.csv").string()));
    key(Qt::Key_Return);
    EVENTUALLY(find<QLabel>(objectName::kExportState) != nullptr &&
               find<QLabel>(objectName::kExportState)->text().startsWith(QStringLiteral("Wrote")));
    EXPECT_TRUE(test::contentOf(folder_ / "out.csv").starts_with("scab_score\r\n10\r\n"));

    // Find it again after a restart: the sheet is there, and the ledger knows the run.
    closeWindow();
    openWindow();
    ASSERT_NE(window_->currentSheet(), nullptr);
    EXPECT_EQ(editorText(), "SELECT scab_score\nFROM inspection i\nWHERE i.scab_score > 5\nORDER BY 1 DESC");
    key(Qt::Key_2, Qt::ControlModifier | Qt::ShiftModifier);
    ASSERT_EQ(QApplication::focusWidget()->objectName(), QLatin1String(objectName::kLedgerFind));
    type(QStringLiteral("scab_score"));
    auto* list = find<QListView>(objectName::kLedgerList);
    EVENTUALLY(list->model()->rowCount() == 2);  // a heading and the run
    key(Qt::Key_Return);
    key(Qt::Key_Return);
    EXPECT_THAT(editorText(), testing::EndsWith("ORDER BY 1 DESC;"));
    EVENTUALLY(window_->currentSheet()->sheet().script().statements().size() == 2U);
}

TEST_F(WindowTest, AChangeOnALiveConnectionWaitsForItsName) {
    db::ConnectionProfile live = *desk_->connections().profile("orchard");
    live.id = "live";
    live.name = "Live orchard";
    live.environment = db::Environment::Live;
    desk_->connections().put(live);
    window_->openSheet(QStringLiteral("live"), QStringLiteral("update plot set hectares = 2 where plot_id < 4"));
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(find(objectName::kHeldPanel) != nullptr);
    EXPECT_EQ(card(0), nullptr) << "nothing runs yet";
    EVENTUALLY(find<QLabel>(objectName::kHeldCount)->text() == QLatin1String("3 rows match now."));

    // Return alone confirms nothing, nor does another name.
    ASSERT_EQ(QApplication::focusWidget(), find(objectName::kHeldName));
    key(Qt::Key_Return);
    type(QStringLiteral("orchard"));
    key(Qt::Key_Return);
    EXPECT_NE(find(objectName::kHeldPanel), nullptr);
    EXPECT_EQ(card(0), nullptr);
    key(Qt::Key_Escape);
    EXPECT_EQ(find(objectName::kHeldPanel), nullptr);
    EXPECT_EQ(card(0), nullptr);

    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(find(objectName::kHeldPanel) != nullptr);
    type(QStringLiteral("Live orchard"));
    key(Qt::Key_Return);
    EVENTUALLY(isOver(0));
    EXPECT_EQ(card(0)->summary().result.affectedRows, 3);
    EXPECT_EQ(find(objectName::kHeldPanel), nullptr);
}

TEST_F(WindowTest, WhatReadsIsNeverHeldBackAndTheRecklessAlwaysIs) {
    openSheet(
        QStringLiteral("select 1;\nupdate plot set name = name where plot_id = 1;\ndelete from picking;\nselect 2"));
    key(Qt::Key_Return, Qt::ControlModifier | Qt::ShiftModifier);
    EVENTUALLY(isOver(0) && isOver(1));
    EVENTUALLY(find(objectName::kHeldPanel) != nullptr);
    EXPECT_EQ(card(2), nullptr) << "what stands behind it waits as well";
    click(objectName::kHeldLeave);
    EXPECT_EQ(window_->currentSheet()->sheet().cards().size(), 2U);
}

TEST_F(WindowTest, OpenChangesAreShownAndAskedAbout) {
    openSheet(QStringLiteral("update plot set hectares = 3 where plot_id < 3"));
    window_->currentSheet()->sheet().session().setCommitsByHand(true);
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(isOver(0));
    EVENTUALLY(find<QLabel>(objectName::kTransactionWords)->text().startsWith(QLatin1String("2 changes open since")));

    // Closing asks; staying keeps the sheet and its changes.
    bool hasAsked = false;
    QTimer::singleShot(100, window_.get(), [&] {
        auto* question = qobject_cast<QMessageBox*>(QApplication::activeModalWidget());
        hasAsked = question != nullptr && question->objectName() == QLatin1String(objectName::kOpenChanges);
        if (question != nullptr) question->reject();
    });
    key(Qt::Key_W, Qt::ControlModifier);
    EXPECT_TRUE(hasAsked);
    ASSERT_NE(window_->currentSheet(), nullptr);
    click(objectName::kUndoButton);
    EVENTUALLY(!window_->currentSheet()->sheet().session().hasOpenChanges());
    EVENTUALLY(!window_->currentSheet()->sheet().isRunning());
}

TEST_F(WindowTest, AfterAnErrorItStopsAsksOrGoesOn) {
    openSheet(QStringLiteral("select 1; select nonsense; select 2"));
    Sheet& sheet = window_->currentSheet()->sheet();
    sheet.runAll();
    EVENTUALLY(isOver(1) && !sheet.isRunning());
    EXPECT_EQ(sheet.cards().size(), 2U) << "what was not run has no card";

    sheet.runs().setOnError(work::OnError::GoOn);
    sheet.runAll();
    EVENTUALLY(isOver(4));
    EXPECT_EQ(card(3)->state(), Card::State::Failed);
    EXPECT_EQ(card(4)->state(), Card::State::Done);

    sheet.runs().setOnError(work::OnError::Ask);
    sheet.runAll();
    EVENTUALLY(find(objectName::kHeldPanel) != nullptr);
    EXPECT_TRUE(isOver(6));
    EXPECT_EQ(card(7), nullptr) << "it asks before it goes on";
    EXPECT_EQ(find(objectName::kHeldName), nullptr) << "nothing is held back, so no name is asked for";
    EXPECT_EQ(find<QPushButton>(objectName::kHeldRun)->text(), QStringLiteral("Continue"));
    EVENTUALLY(QApplication::focusWidget() == find(objectName::kHeldRun));
    key(Qt::Key_Return);
    EVENTUALLY(isOver(7));
    EXPECT_EQ(card(7)->state(), Card::State::Done);
}

TEST_F(WindowTest, RestoredSheetsHaveTheirTabs) {
    openSheet(QStringLiteral("select 1"));
    openSheet(QStringLiteral("select 2"));
    closeWindow();
    openWindow();
    auto* tabs = find<QTabBar>(objectName::kSheetTabs);
    ASSERT_EQ(tabs->count(), 2);
    EXPECT_GE(tabs->width(), tabs->tabRect(0).width() + tabs->tabRect(1).width());
    EXPECT_TRUE(tabs->rect().contains(tabs->tabRect(0).center()));
    EXPECT_TRUE(tabs->rect().contains(tabs->tabRect(1).center()));
}

TEST_F(WindowTest, AClickOnAConnectionInTheBandLeavesTheCaretInTheText) {
    openSheet();
    click(objectName::kRunButton);
    type(QStringLiteral("select"));
    EXPECT_EQ(editorText(), "select");
}

TEST_F(WindowTest, FormatsWhatIsSelectedAndLeavesTheRest) {
    openSheet(QStringLiteral("select 1;\nselect name from plot where hectares > 1;\nselect 3"));
    window_->currentSheet()->editor()->setCaret(10);
    key(Qt::Key_Down, Qt::ShiftModifier);
    format();
    const std::string laidOut = "SELECT name\nFROM plot\nWHERE hectares > 1;\n";
    EXPECT_EQ(editorText(), "select 1;\n" + laidOut + "select 3");
    EXPECT_EQ(window_->currentSheet()->editor()->selection(), laidOut);
}

TEST_F(WindowTest, TheWholeWayWithTheMouseAlone) {
    EVENTUALLY(find("connectionCard") != nullptr);
    QTest::mouseDClick(find("connectionCard"), Qt::LeftButton);
    ASSERT_NE(window_->currentSheet(), nullptr);
    EVENTUALLY(hasCatalog());

    // Look at a table.
    auto* objects = find<QListView>(objectName::kObjectList);
    QModelIndexList items;
    EVENTUALLY((items = objects->model()->match(objects->model()->index(0, 0), Qt::DisplayRole,
                                                QStringLiteral("inspection"), -1, Qt::MatchExactly))
                   .size() == 1);
    const QPoint at = objects->visualRect(items[0]).center();
    QTest::mouseClick(objects->viewport(), Qt::LeftButton, {}, at);
    EXPECT_NE(find(objectName::kObjectCard), nullptr);
    QTest::mouseDClick(objects->viewport(), Qt::LeftButton, {}, at);
    ASSERT_NE(find(objectName::kObjectPage), nullptr);
    click(objectName::kObjectFirstRows);
    EVENTUALLY(window_->currentSheet() != nullptr && isOver(0));
    EXPECT_EQ(card(0)->rowCount(), 1000U);
    EXPECT_TRUE(find<QLabel>(objectName::kResultSummary)
                    ->text()
                    .startsWith(QStringLiteral("First 1\u2009000 rows · 7 columns")));

    // All rows, ordered by a heading.
    click(objectName::kAllRowsButton);
    EVENTUALLY(card(0)->state() == Card::State::Done);
    EXPECT_EQ(card(0)->rowCount(), 8412U);
    auto* grid = find<GridView>(objectName::kResultGrid);
    auto* header = grid->horizontalHeader();
    const QPoint heading(header->sectionViewportPosition(1) + 20, header->height() / 2);
    QSignalSpy reset(grid->model(), &QAbstractItemModel::modelReset);
    QTest::mouseClick(header->viewport(), Qt::LeftButton, {}, heading);
    ASSERT_TRUE(reset.wait(kTimeoutMs));
    EXPECT_EQ(grid->model()->index(0, 1).data().toString(), QStringLiteral("1"));

    // A cell in the close-up, then the export.
    QTest::mouseClick(grid->viewport(), Qt::LeftButton, {}, grid->visualRect(grid->model()->index(2, 3)).center());
    EVENTUALLY(find<QListWidget>(objectName::kCloseUpRow) != nullptr);
    EXPECT_EQ(find<QListWidget>(objectName::kCloseUpRow)->count(), 7);
    click(objectName::kExportButton);
    find<QLineEdit>(objectName::kExportFile)->setText(toQt((folder_ / "all.csv").string()));
    click(objectName::kExportStart);
    EVENTUALLY(find<QLabel>(objectName::kExportState)->text().startsWith(QStringLiteral("Wrote 8\u2009412 rows")));
    click(objectName::kExportClose);

    // Find it again.
    click(objectName::kLedgerTab);
    auto* ledger = find<QListView>(objectName::kLedgerList);
    EVENTUALLY(ledger->model()->rowCount() >= 2);
    const std::string before = editorText();
    const QPoint second = ledger->visualRect(ledger->model()->index(1, 0)).center();
    QTest::mouseClick(ledger->viewport(), Qt::LeftButton, {}, second);
    EXPECT_EQ(ledger->currentIndex().row(), 1);
    QTest::mouseDClick(ledger->viewport(), Qt::LeftButton, {}, second);
    EXPECT_GT(editorText().size(), before.size());
}

TEST_F(WindowTest, AMistakeIsSaidWhereItIs) {
    openSheet(QStringLiteral("SELECT name,\n  nme\nFROM plot;"));
    click(objectName::kRunButton);
    EVENTUALLY(isOver(0));
    EXPECT_EQ(card(0)->state(), Card::State::Failed);
    EXPECT_EQ(window_->currentSheet()->sheet().errorOffset(card(0)), 15);
    EXPECT_TRUE(card(0)->outcomeText().contains(QStringLiteral("nme")));
}

TEST_F(WindowTest, AResultWithoutRowsSaysSo) {
    openSheet(QStringLiteral("SELECT * FROM plot WHERE plot_id > 99;"));
    click(objectName::kRunButton);
    EVENTUALLY(isOver(0));
    EXPECT_TRUE(find<QLabel>(objectName::kResultSummary)->text().startsWith(QStringLiteral("0 rows")));
    auto* grid = window_->currentSheet()->result()->grid();
    const auto says = [&](const QString& words) {
        return grid->isVisible() && grid->accessibleDescription().contains(words);
    };
    // First that no row came, and, once the server was asked, why.
    EVENTUALLY(says(QStringLiteral("plot has rows, but none matched the conditions")));
}

TEST_F(WindowTest, StopStopsAndTheWindowStaysLively) {
    openSheet(
        QStringLiteral("WITH RECURSIVE s(n) AS (SELECT 1 UNION ALL SELECT n + 1 FROM s) SELECT count(*) FROM s;"));
    click(objectName::kRunButton);
    EVENTUALLY(find<QPushButton>(objectName::kStopButton)->isEnabled());
    key(Qt::Key_J, Qt::ControlModifier);
    EXPECT_NE(find(objectName::kReach), nullptr);
    key(Qt::Key_Escape);
    click(objectName::kStopButton);
    EVENTUALLY(isOver(0));
    EXPECT_EQ(card(0)->state(), Card::State::Stopped);
}

TEST_F(WindowTest, RunAllStopsAtTheFirstMistake) {
    openSheet(QStringLiteral("SELECT 1;\nSELECT wrong;\nSELECT 3;"));
    click(objectName::kRunAllButton);
    EVENTUALLY(isOver(1) && !window_->currentSheet()->sheet().isRunning());
    EXPECT_EQ(card(0)->state(), Card::State::Done);
    EXPECT_EQ(card(1)->state(), Card::State::Failed);
    EXPECT_EQ(window_->currentSheet()->sheet().cards().size(), 2U) << "what was not run has no card";
    EVENTUALLY(window_->currentSheet()->result()->source() == card(1));
    const auto kept = [this] {
        desk_->flush();
        auto ledger = store::Ledger::open(home().ledgerFile());
        return ledger ? (*ledger)->find({})->size() : 0;
    };
    EVENTUALLY(kept() == 2);  // and what was not run is not in the ledger
}

TEST_F(WindowTest, OutcomesGoWhenTheStatementChanges) {
    openSheet(QStringLiteral("SELECT 1;"));
    click(objectName::kRunButton);
    EVENTUALLY(isOver(0));
    EXPECT_EQ(window_->currentSheet()->sheet().cardOf(0), card(0));
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_Home);
    type(QStringLiteral("  "));
    awaitReading();
    EXPECT_EQ(window_->currentSheet()->sheet().cardOf(0), card(0));
    key(Qt::Key_End);
    key(Qt::Key_Backspace);
    type(QStringLiteral("0;"));
    EXPECT_EQ(editorText(), "  SELECT 10;");
    awaitReading();
    EXPECT_EQ(window_->currentSheet()->sheet().cardOf(0), nullptr);
}

TEST_F(WindowTest, FiltersAndFindsInTheRows) {
    openSheet(QStringLiteral("SELECT name FROM plot ORDER BY plot_id;"));
    click(objectName::kRunButton);
    EVENTUALLY(isOver(0));
    auto* grid = find<GridView>(objectName::kResultGrid);
    window_->currentSheet()->result()->openFind();
    ASSERT_TRUE(find(objectName::kResultFind)->hasFocus());
    type(QStringLiteral("mill"));
    key(Qt::Key_Return);
    EVENTUALLY(grid->currentIndex().data().toString() == QStringLiteral("Mill Orchard"));
    find(objectName::kResultFilter)->setFocus();
    type(QStringLiteral("field"));
    EVENTUALLY(grid->model()->rowCount() == 2);
    EXPECT_TRUE(find<QLabel>(objectName::kResultSummary)->text().startsWith(QStringLiteral("2 of 24 rows")));
}

TEST_F(WindowTest, ReachFindsTablesActionsAndSettings) {
    openSheet();
    EVENTUALLY(hasCatalog());
    key(Qt::Key_J, Qt::ControlModifier);
    type(QStringLiteral("frost"));
    key(Qt::Key_Return);
    EVENTUALLY(find(objectName::kObjectPage) != nullptr);  // Return waited for the list of these letters
    key(Qt::Key_J, Qt::ControlModifier);
    type(QStringLiteral("lamplight"));
    key(Qt::Key_Return);
    EVENTUALLY(Theme::current().name() == QStringLiteral("lamplight"));
    EXPECT_EQ(desk_->settings().theme, "lamplight");
    Theme::current().choose(QStringLiteral("daylight"));
}

TEST_F(WindowTest, ReachSetsNumbersSwitchesAndChoices) {
    openSheet();
    key(Qt::Key_J, Qt::ControlModifier);
    type(QStringLiteral("first page 750"));
    auto* list = find<QListWidget>(objectName::kReachList);
    ASSERT_NE(list, nullptr);
    const auto shows = [&](const QString& title) { return !list->findItems(title, Qt::MatchExactly).isEmpty(); };
    EVENTUALLY(shows(QStringLiteral("First page: 750 rows")));
    list->setCurrentItem(list->findItems(QStringLiteral("First page: 750 rows"), Qt::MatchExactly).front());
    key(Qt::Key_Return);
    EVENTUALLY(desk_->settings().pageRows == 750U);
    key(Qt::Key_J, Qt::ControlModifier);
    type(QStringLiteral("rows between"));
    EVENTUALLY(shows(QStringLiteral("Rows between starts: off")));
    list->setCurrentItem(list->findItems(QStringLiteral("Rows between starts: off"), Qt::MatchExactly).front());
    key(Qt::Key_Return);
    EVENTUALLY(!desk_->settings().keepsRows);
    // A number that is chosen as it is leads to where another one is typed.
    key(Qt::Key_J, Qt::ControlModifier);
    type(QStringLiteral("idle time"));
    EVENTUALLY(shows(QStringLiteral("Idle time: 15 minutes")) || list->count() > 0);
    const auto idle = list->findItems(QStringLiteral("Idle time:"), Qt::MatchStartsWith);
    ASSERT_FALSE(idle.isEmpty());
    list->setCurrentItem(idle.front());
    key(Qt::Key_Return);
    EVENTUALLY(list->isVisible());
    type(QStringLiteral("33"));
    EVENTUALLY(shows(QStringLiteral("Idle time: 33 minutes")));
    list->setCurrentItem(list->findItems(QStringLiteral("Idle time: 33 minutes"), Qt::MatchExactly).front());
    key(Qt::Key_Return);
    EVENTUALLY(desk_->settings().idleMinutes == 33);
}

TEST_F(WindowTest, WhatAnotherWindowChoseIsTaken) {
    store::Settings elsewhere = desk_->settings();
    elsewhere.theme = "lamplight";
    desk_->preferences().take(elsewhere);
    EXPECT_EQ(Theme::current().name(), QStringLiteral("lamplight"));
    desk_->preferences().changeSettings([](store::Settings& s) { s = store::Settings{}; });
    EXPECT_EQ(Theme::current().name(), QStringLiteral("daylight"));
}

TEST_F(WindowTest, ANewSheetTakesTheConnectionInFront) {
    openSheet();
    key(Qt::Key_T, Qt::ControlModifier);
    EXPECT_EQ(window_->currentSheet()->sheet().connectionId(), QStringLiteral("orchard"));
    EXPECT_TRUE(find(objectName::kEditor)->hasFocus());
}

TEST_F(WindowTest, AClosedSheetComesBackWithItsText) {
    openSheet(QStringLiteral("SELECT 'precious';"));
    key(Qt::Key_W, Qt::ControlModifier);
    EXPECT_EQ(window_->currentSheet(), nullptr);
    key(Qt::Key_T, Qt::ControlModifier | Qt::ShiftModifier);
    EVENTUALLY(window_->currentSheet() != nullptr);
    EXPECT_EQ(editorText(), "SELECT 'precious';");
}

TEST_F(WindowTest, MakesTestsAndRemovesAConnection) {
    click(objectName::kNewConnection);
    find(objectName::kFormAddress)->setFocus();
    type(QStringLiteral("sqlite://") + toQt((folder_ / "orchard.db").string()));
    EXPECT_EQ(find<QLineEdit>(objectName::kFormFile)->text(), toQt((folder_ / "orchard.db").string()));
    find<QLineEdit>(objectName::kFormName)->setText(QStringLiteral("Second"));
    click(objectName::kFormTest);
    EVENTUALLY(std::ranges::any_of(find(objectName::kConnectionForm)->findChildren<QLabel*>(), [](const QLabel* l) {
        return l->text().startsWith(QStringLiteral("Read the catalog: 10"));
    }));
    click(objectName::kFormSave);
    EXPECT_EQ(desk_->connections().profiles().size(), 2U);
    click(objectName::kFormRemove);
    EXPECT_EQ(desk_->connections().profiles().size(), 2U);  // asked once
    click(objectName::kFormRemove);
    EXPECT_EQ(desk_->connections().profiles().size(), 1U);
}

TEST_F(WindowTest, AFormWithAMistakeIsNotSaved) {
    click(objectName::kNewConnection);
    find<QLineEdit>(objectName::kFormName)->setText(QStringLiteral("orchard RECORDS"));
    click(objectName::kFormSave);
    EXPECT_EQ(desk_->connections().profiles().size(), 1U);
    EXPECT_EQ(find<QLabel>(objectName::kFormState)->text(), QStringLiteral("not saved"));
}

TEST_F(WindowTest, ABrokenConnectionsFileIsToldAndKept) {
    closeWindow();
    test::writeFile(home().connectionsFile(), "{ broken");
    openWindow();
    EVENTUALLY(find(objectName::kNotice) != nullptr);
    const auto labels = find(objectName::kNotice)->findChildren<QLabel*>();
    EXPECT_TRUE(labels[0]->text().contains(QStringLiteral("was kept as")));
}

TEST_F(WindowTest, EveryWidgetThatTakesTheFocusHasAName) {
    openSheet(QStringLiteral("SELECT * FROM plot;"));
    click(objectName::kRunButton);
    EVENTUALLY(isOver(0));
    click(objectName::kExportButton);
    for (const QWidget* w : window_->findChildren<QWidget*>()) {
        const bool takesFocus = w->isVisible() && (w->focusPolicy() & Qt::TabFocus) != 0 && w->focusProxy() == nullptr;
        const bool isPart =
            qobject_cast<const QComboBox*>(w->parent()) != nullptr || w->objectName().startsWith(QLatin1String("qt_"));
        if (!takesFocus || isPart || qobject_cast<const QScrollArea*>(w) != nullptr) continue;
        EXPECT_FALSE(w->objectName().isEmpty())
            << w->metaObject()->className() << " in " << w->parent()->objectName().toStdString();
        EXPECT_FALSE(w->accessibleName().isEmpty()) << w->objectName().toStdString();
    }
}

TEST_F(WindowTest, AThousandColumnsAndFiftyMegabytesAreNoTrouble) {
    std::string wide =
        "SELECT printf('%.*c', 50000000, 'x') AS c0, CAST(x'610062' AS TEXT) AS c1, zeroblob(50000000) AS c2";
    for (int i = 3; i < 1000; ++i) wide += ", " + std::to_string(i) + " AS c" + std::to_string(i);
    openSheet(toQt(wide + ";"));
    click(objectName::kRunButton);
    EVENTUALLY(isOver(0));
    ASSERT_EQ(card(0)->state(), Card::State::Done);
    auto* grid = find<GridView>(objectName::kResultGrid);
    EXPECT_EQ(grid->model()->columnCount(), 1000);
    grid->setCurrentIndex(grid->model()->index(0, 0));
    auto* value = window_->findChild<QPlainTextEdit*>(QLatin1String(objectName::kCloseUpValue));
    EVENTUALLY(value->toPlainText().count(QLatin1Char('x')) == 200'000);
    grid->setCurrentIndex(grid->model()->index(0, 1));
    EVENTUALLY(value->toPlainText() == QStringLiteral("a␀b"));
    grid->setCurrentIndex(grid->model()->index(0, 2));
    EVENTUALLY(value->toPlainText().startsWith(QStringLiteral("0000  00 00")));
}

TEST_F(WindowTest, AConnectionThatLeadsNowhereSaysSoWhereItIsUsed) {
    db::ConnectionProfile p = *desk_->connections().profile("orchard");
    test::writeFile(folder_ / "notes.txt", std::string(5000, 'x'));
    for (const auto& [file, words] :
         {std::pair{"gone.db", "There is no file"}, std::pair{"notes.txt", "is not an SQLite database"}}) {
        p.database = (folder_ / file).string();
        desk_->connections().put(p);
        openSheet(QStringLiteral("SELECT 1;"));
        click(objectName::kRunButton);
        EVENTUALLY(isOver(0));
        EXPECT_TRUE(card(0)->outcomeText().contains(QLatin1String(words))) << card(0)->outcomeText().toStdString();
        EVENTUALLY(desk_->catalogs().state("orchard").error.has_value());
    }
}

TEST_F(WindowTest, AnExportThatCannotBeWrittenSaysWhy) {
    openSheet(QStringLiteral("SELECT * FROM plot;"));
    click(objectName::kRunButton);
    EVENTUALLY(isOver(0));
    click(objectName::kExportButton);
    find<QLineEdit>(objectName::kExportFile)->setText(QStringLiteral("/no/such/folder/plot.csv"));
    click(objectName::kExportStart);
    EVENTUALLY(find<QLabel>(objectName::kExportState)->text().contains(QStringLiteral("/no/such/folder/plot.csv")));
}

TEST_F(WindowTest, KillDuringALongQueryLosesNeitherTextNorLedger) {
    closeWindow();
    QProcess child;
    child.start(QApplication::applicationFilePath(),
                {QStringLiteral("--long-query"), toQt((folder_ / "home").string())});
    ASSERT_TRUE(child.waitForStarted());
    const auto isRunningThere = [&] {
        auto ledger = store::Ledger::open(home().ledgerFile());
        if (!ledger) return false;
        const auto entries = (*ledger)->find({});
        if (!entries || entries->empty() || entries->front().end.status != store::RunStatus::Running) return false;
        for (const auto& file : std::filesystem::directory_iterator(home().sheetsFolder())) {
            const bool isWhole = file.path().extension() == ".json";  // not one that is just being written
            if (isWhole && test::contentOf(file.path()).find("not saved by anyone") != std::string::npos) return true;
        }
        return false;
    };
    EVENTUALLY(isRunningThere());
    ::kill(static_cast<pid_t>(child.processId()), SIGKILL);
    ASSERT_TRUE(child.waitForFinished());

    openWindow();
    ASSERT_NE(window_->currentSheet(), nullptr);
    EXPECT_THAT(editorText(), testing::StartsWith("-- not saved by anyone\n"));
    click(objectName::kLedgerTab);
    auto* list = find<QListView>(objectName::kLedgerList);
    EVENTUALLY(list->model()->rowCount() == 2);
    std::optional<store::RunStatus> status;
    desk_->ledger().find({}, whileThere(window_.get(), [&](Result<std::vector<store::LedgerEntry>> entries) {
                             if (entries && !entries->empty()) status = entries->front().end.status;
                         }));
    EVENTUALLY(status.has_value());
    EXPECT_EQ(*status, store::RunStatus::Interrupted);
}

TEST_F(WindowTest, WhatAConnectionRunsByItselfIsInTheLedger) {
    db::ConnectionProfile p = *desk_->connections().profile("orchard");
    p.onConnect = "PRAGMA recursive_triggers = ON";
    desk_->connections().put(p);
    openSheet(QStringLiteral("SELECT 1"));
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(isOver(0));
    const auto found = [this] {
        desk_->flush();
        auto ledger = store::Ledger::open(home().ledgerFile());
        const auto entries = ledger ? (*ledger)->find({}) : Result<std::vector<store::LedgerEntry>>(ledger.error());
        return entries && std::ranges::any_of(*entries, [](const store::LedgerEntry& entry) {
                   return entry.start.statement == "PRAGMA recursive_triggers = ON" &&
                          entry.end.status == store::RunStatus::Succeeded;
               });
    };
    EVENTUALLY(found());
}

TEST_F(WindowTest, OpenChangesOutliveChangesOfTheirConnection) {
    openSheet(QStringLiteral("BEGIN; UPDATE warden SET phone = '1' WHERE warden_id = 1;"));
    window_->currentSheet()->runAll();
    Sheet& sheet = window_->currentSheet()->sheet();
    EVENTUALLY(sheet.session().hasOpenChanges());
    db::ConnectionProfile p = *desk_->connections().profile("orchard");
    p.group = "Orchard";
    p.colour = "beet";
    desk_->connections().put(p);
    EXPECT_TRUE(sheet.session().hasOpenChanges());  // only how it is shown
    p.onConnect = "PRAGMA foreign_keys = ON";
    desk_->connections().put(p);
    EXPECT_TRUE(sheet.session().hasOpenChanges());
    click(objectName::kUndoButton);
    EVENTUALLY(!sheet.session().hasOpenChanges() && !sheet.isRunning());
    EXPECT_FALSE(sheet.session().state().isConnected);  // the next run begins with a new line
    sheet.runStatement("SELECT count(*) FROM warden");
    EVENTUALLY(!sheet.isRunning() && sheet.session().state().isConnected);
    EXPECT_FALSE(sheet.cards().back()->error());
}

}  // namespace
}  // namespace pantry::app
