// Saved queries in the real window with keys and mouse: saving, finding, versions, sharing.
#include <gmock/gmock.h>

#include <QAbstractItemModelTester>
#include <QClipboard>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QMenu>
#include <QMimeData>
#include <QPlainTextEdit>
#include <QScrollBar>
#include <QSpinBox>
#include <QTimer>
#include <cstdlib>

#include "app/pages/shelf/conflict_page.h"
#include "app/pages/shelf/query_page.h"
#include "app/result/grid_model.h"
#include "app/result/result_names.h"
#include "app/shelf/save_panel.h"
#include "app/shelf/shelf_list.h"
#include "app/window_fixture.h"
#include "core/shelf/git_program.h"
#include "core/shelf/shelf.h"
#include "core/store/grid_choices_file.h"

namespace pantry::app {
namespace {

using testing::HasSubstr;
using testing::Not;

class ShelfWindowTest : public WindowTest {
protected:
    void SetUp() override {
        // Nothing of who runs the tests.
        ::setenv("HOME", folder_.path().c_str(), 1);
        ::setenv("GIT_CONFIG_NOSYSTEM", "1", 1);
        WindowTest::SetUp();
    }
    [[nodiscard]] std::filesystem::path shelfFile(const std::string& path) const { return home().shelfFolder() / path; }
    shelf::Shelf shelfOnDisk() { return std::move(*shelf::Shelf::openOwn(home().shelfFolder())); }
    /// Another program saves something.
    void putThere(const std::string& path, const std::string& content) {
        shelf::Shelf shelf = shelfOnDisk();
        ASSERT_TRUE(shelf.save(path, content));
        EVENTUALLY(std::ranges::any_of(desk_->shelf().queries(), [&](const auto& q) { return q.place.path == path; }));
    }
    void openShelf() {
        run("view.shelf");
        EVENTUALLY(find(objectName::kShelfList) != nullptr);
    }
    QListView* list() { return find<QListView>(objectName::kShelfList); }
    std::vector<std::string> shown() {
        std::vector<std::string> all;
        for (int i = 0; i < list()->model()->rowCount(); ++i)
            all.push_back(fromQt(list()->model()->index(i, 0).data().toString()));
        return all;
    }
    void choose(const QString& title) {
        for (int i = 0; i < list()->model()->rowCount(); ++i) {
            if (list()->model()->index(i, 0).data().toString() == title)
                list()->setCurrentIndex(list()->model()->index(i, 0));
        }
        list()->setFocus();
        ASSERT_EQ(list()->currentIndex().data().toString(), title);
    }
    /// An entry of the menu of what is chosen.
    void takeFromMenu(const QString& words) {
        Q_EMIT list()->customContextMenuRequested(list()->visualRect(list()->currentIndex()).center());
        QMenu* menu = nullptr;
        EVENTUALLY((menu = qobject_cast<QMenu*>(QApplication::activePopupWidget())) != nullptr);
        const auto actions = menu->actions();
        const auto found = std::ranges::find(actions, words, &QAction::text);
        ASSERT_NE(found, actions.end());
        (*found)->trigger();
        menu->close();
    }
    void run(const char* command) {
        auto* action = window_->findChild<QAction*>(QStringLiteral("command.") + QLatin1String(command));
        ASSERT_NE(action, nullptr) << command;
        action->trigger();
    }
    /// Answers the next question of a dialog.
    void answer(const QString& text) {
        auto* timer = new QTimer(window_.get());
        connect(timer, [timer, text] {
            auto* dialog = qobject_cast<QInputDialog*>(QApplication::activeModalWidget());
            if (dialog == nullptr) return;
            timer->deleteLater();
            dialog->setTextValue(text);
            dialog->accept();
        });
        timer->start(10);
    }
    template <class Act>
    static void connect(QTimer* timer, Act act) {
        QObject::connect(timer, &QTimer::timeout, timer, act);
    }
    std::string label(const char* name) {
        auto* found = find<QLabel>(name);
        return found == nullptr ? "" : fromQt(found->text());
    }
    std::string status() { return fromQt(find<QLabel>(objectName::kStatusSelection)->text()); }
    /// Saves the sheet in front to the shelf under a title.
    void save(const QString& title) {
        key(Qt::Key_S, Qt::ControlModifier);
        EVENTUALLY(find(objectName::kSavePanel) != nullptr);
        find<QLineEdit>(objectName::kSaveTitle)->selectAll();
        type(title);
        key(Qt::Key_Return);
        EVENTUALLY(window_->currentSheet()->sheet().file().state().has_value());
    }
};

TEST_F(ShelfWindowTest, SnippetsStandOnTheShelfAndAreFilledIn) {
    putThere("plots/small.sql", "-- title: Small plots\n\nSELECT 1;\n");
    openShelf();
    EXPECT_TRUE(std::ranges::none_of(shown(), [](const std::string& row) { return row.starts_with("Snippets"); }))
        << "they go with a sheet's dialect";
    openSheet({});
    EVENTUALLY(std::ranges::any_of(shown(), [](const std::string& row) { return row.starts_with("Snippets · "); }));
    const auto* model = dynamic_cast<ShelfModel*>(list()->model());
    ASSERT_NE(model, nullptr);
    const QAbstractItemModelTester tester(list()->model(), QAbstractItemModelTester::FailureReportingMode::Fatal);
    find<QLineEdit>(objectName::kShelfFind)->setFocus();
    type(QStringLiteral("duplicates"));
    EVENTUALLY(model->count() == 0 && list()->model()->rowCount() == 2);
    const QModelIndex row = list()->model()->index(1, 0);
    ASSERT_NE(model->snippetAt(row), nullptr);
    EXPECT_EQ(model->queryAt(row), nullptr);
    list()->setCurrentIndex(row);
    list()->setFocus();
    key(Qt::Key_Delete);  // does nothing to one
    key(Qt::Key_Return);
    EVENTUALLY(editorText().find("HAVING count(*) > 1") != std::string::npos);
    EXPECT_TRUE(window_->currentSheet()->editor()->hasFocus()) << "its places are filled in there";
}

TEST_F(ShelfWindowTest, ALinkIsCopiedFromTheMenu) {
    putThere("plots/small.sql", "-- title: Small plots\n\nSELECT 1;\n");
    openShelf();
    choose(QStringLiteral("Small plots"));
    takeFromMenu(QStringLiteral("Copy link"));
    EXPECT_EQ(fromQt(QApplication::clipboard()->text()), "agile-pantry:query/plots/small.sql");
    window_->openFile(QApplication::clipboard()->text());
    EVENTUALLY(window_->currentSheet() != nullptr && editorText().find("Small plots") != std::string::npos);
}

TEST_F(ShelfWindowTest, ASavedQueryTellsWhatIsOtherThanTheLastTime) {
    openSheet(QStringLiteral("SELECT plot_id, name FROM plot ORDER BY plot_id"));
    save(QStringLiteral("Plots"));
    window_->currentSheet()->runAtCaret();
    EVENTUALLY(isOver(0));
    EXPECT_EQ(find(resultName::kChangeStrip), nullptr) << "there was none before";
    const auto rows = card(0)->rowCount();
    window_->currentSheet()->sheet().runStatement("UPDATE plot SET name = 'Renamed' WHERE plot_id = 1");
    EVENTUALLY(isOver(1));
    window_->currentSheet()->runAtCaret();
    EVENTUALLY(isOver(2));
    EVENTUALLY(card(2)->change() != nullptr);
    EVENTUALLY(find(resultName::kChangeStrip) != nullptr);
    EXPECT_THAT(label(resultName::kChangeText), HasSubstr("1 changed (name 1)"));
    auto* grid = window_->currentSheet()->result()->grid();
    EVENTUALLY(static_cast<std::size_t>(grid->model()->rowCount()) == rows);
    const auto ground = [&](int row, int column) {
        return grid->model()->index(row, column).data(GridModel::CellBackgroundRole).value<QColor>();
    };
    EXPECT_TRUE(ground(0, 1).isValid()) << "the cell that changed";
    EXPECT_FALSE(ground(0, 0).isValid());
    EXPECT_FALSE(ground(1, 1).isValid());
    click(resultName::kShowDifferences);
    EVENTUALLY(card(3) != nullptr && card(3)->isComparison() && card(3)->rowCount() == 2U);
    // It is known after the next start too.
    closeWindow();
    openWindow();
    EVENTUALLY(window_->currentSheet() != nullptr && card(2) != nullptr && desk_->shelf().isRead());
    const auto cards = window_->currentSheet()->sheet().cards().size();
    window_->currentSheet()->runAtCaret();
    EVENTUALLY(isOver(cards) && find(resultName::kChangeStrip) != nullptr);
    EXPECT_THAT(label(resultName::kChangeText), HasSubstr("no difference"));
    EXPECT_EQ(find(resultName::kShowDifferences), nullptr);
}

TEST_F(ShelfWindowTest, WhatIsChosenForTheColumnsGoesWithTheQuery) {
    const std::string query = "SELECT plot_id, name FROM plot ORDER BY plot_id";
    const std::string grid = store::gridKey("orchard", query, sql::Dialect::Sqlite);
    data::GridChoices choices;
    choices.columns["plot_id"].isHidden = true;
    openSheet(QString::fromStdString(query));
    save(QStringLiteral("Plots"));
    const auto place = desk_->shelf().placeOf(window_->currentSheet()->sheet().file().state()->path);
    ASSERT_TRUE(place);
    desk_->preferences().changeGridChoices(grid, choices);
    key(Qt::Key_S, Qt::ControlModifier);
    const std::string line = "-- grid: {\"columns\":{\"plot_id\":{\"hidden\":true}}}\n";
    EVENTUALLY(test::contentOf(shelfFile(place->path)).find(line) != std::string::npos);
    EVENTUALLY(editorText().find(line) != std::string::npos);
    // Somebody else, who has chosen nothing.
    closeWindow();
    std::filesystem::remove(home().gridChoicesFile());
    std::filesystem::remove_all(home().sheetsFolder());
    openWindow();
    openSheet(QStringLiteral("SELECT 1"));
    EVENTUALLY(desk_->shelf().isRead());
    openShelf();
    choose(QStringLiteral("Plots"));
    key(Qt::Key_Return);
    EVENTUALLY(editorText().find(line) != std::string::npos);
    EXPECT_EQ(desk_->preferences().gridChoices(grid), choices);
    window_->currentSheet()->runAll();
    EVENTUALLY(isOver(0));
    EVENTUALLY(window_->currentSheet()->result()->grid()->isColumnHidden(0));
}

TEST_F(ShelfWindowTest, ASavedQueryRunsRegularlyFromItsMenu) {
    putThere("plots/count.sql",
             "-- title: Plots in all\n-- connection: Orchard\n\nSELECT count(*) FROM plot;\nSELECT 2;\n");
    openSheet(QStringLiteral("SELECT 1"));
    openShelf();
    choose(QStringLiteral("Plots in all"));
    takeFromMenu(QStringLiteral("Run regularly"));
    EVENTUALLY(window_->currentSheet()->title() == QStringLiteral("Plots in all") && isOver(1));
    RegularRunner& regular = window_->currentSheet()->sheet().regular();
    EXPECT_TRUE(regular.isOn());
    EXPECT_EQ(regular.run(), card(0)->runPtr()) << "its first statement";
    EVENTUALLY(find(objectName::kRegularStrip) != nullptr);
}

TEST_F(ShelfWindowTest, AResultRunsRegularlyAndTellsWhatChanged) {
    openSheet(QStringLiteral("SELECT count(*) AS plots FROM plot"));
    run("run.regularly");
    EVENTUALLY(status().find("Run the statement first") != std::string::npos);
    window_->currentSheet()->runAtCaret();
    EVENTUALLY(isOver(0));
    run("run.regularly");
    EVENTUALLY(find(objectName::kRegularStrip) != nullptr);
    RegularRunner& regular = window_->currentSheet()->sheet().regular();
    ASSERT_TRUE(regular.isOn());
    find<QSpinBox>(objectName::kRegularMinutes)->setValue(30);
    EXPECT_EQ(regular.plan().minutes(), 30);
    EXPECT_GT(*regular.plan().next(), base::now() + std::chrono::minutes(29));
    click(objectName::kRegularNow);
    EVENTUALLY(isOver(0) && card(0)->change() != nullptr);
    EXPECT_TRUE(card(0)->change()->isNone());
    window_->currentSheet()->sheet().runStatement("INSERT INTO plot (name, hectares) VALUES ('New one', 1)");
    EVENTUALLY(isOver(1));
    ASSERT_EQ(card(1)->state(), Card::State::Done) << card(1)->error()->text();
    EVENTUALLY(find<QPushButton>(objectName::kRegularNow)->isEnabled());
    click(objectName::kRegularNow);
    EVENTUALLY(card(0)->change() != nullptr && !card(0)->change()->isNone());
    EXPECT_EQ(window_->currentSheet()->sheet().cards().size(), 2U) << "its card is replaced, no other one comes";
    EXPECT_THAT(status(), HasSubstr("1 added, 1 removed"));
    // A failure is told too, and it goes on.
    window_->currentSheet()->sheet().runStatement("ALTER TABLE plot RENAME TO plot_away");
    EVENTUALLY(isOver(2));
    EVENTUALLY(find<QPushButton>(objectName::kRegularNow)->isEnabled());
    click(objectName::kRegularNow);
    EVENTUALLY(status().find("failed: ") != std::string::npos);
    EXPECT_TRUE(regular.isOn());
    // What may change something never runs by itself.
    window_->currentSheet()->tray()->choose(card(1));
    run("run.regularly");
    EXPECT_FALSE(regular.isOn());
    EXPECT_THAT(label(objectName::kRegularNext), HasSubstr("may change something"));
    EXPECT_EQ(find(objectName::kRegularAllow), nullptr);
    click(objectName::kRegularEnd);
    EVENTUALLY(find(objectName::kRegularStrip) == nullptr);
}

TEST_F(ShelfWindowTest, NothingRunsByItselfOnLiveDataUntilItIsAllowed) {
    db::ConnectionProfile live = *desk_->connections().profile("orchard");
    live.environment = db::Environment::Live;
    desk_->connections().put(live);
    openSheet(QStringLiteral("SELECT count(*) AS plots FROM plot"));
    window_->currentSheet()->runAtCaret();
    EVENTUALLY(isOver(0));
    run("run.regularly");
    EVENTUALLY(find(objectName::kRegularAllow) != nullptr);
    RegularRunner& regular = window_->currentSheet()->sheet().regular();
    EXPECT_FALSE(regular.isOn());
    EXPECT_THAT(label(objectName::kRegularNext), HasSubstr("is live"));
    regular.runNow();
    EXPECT_FALSE(card(0)->isGoingOn()) << "it did not run";
    click(objectName::kRegularAllow);
    EXPECT_TRUE(regular.isOn());
    click(objectName::kRegularNow);
    EVENTUALLY(card(0)->change() != nullptr);
}

TEST_F(ShelfWindowTest, CtrlSPutsASheetOnTheShelfAndEachSavingIsAVersion) {
    openSheet(QStringLiteral("SELECT plot_id, count(*) AS trees FROM tree WHERE planted_on > :since GROUP BY plot_id"));
    EVENTUALLY(window_->currentSheet()->sheet().reading() != nullptr);
    key(Qt::Key_S, Qt::ControlModifier);
    EVENTUALLY(find(objectName::kSavePanel) != nullptr);
    EXPECT_EQ(find<QLineEdit>(objectName::kSaveTitle)->text(), QStringLiteral("Trees by plot id")) << "it is proposed";
    EXPECT_THAT(label("savePlace"), HasSubstr("orchard-records/trees-by-plot-id.sql"));
    key(Qt::Key_Return);
    EVENTUALLY(std::filesystem::exists(shelfFile("orchard-records/trees-by-plot-id.sql")));
    EVENTUALLY(window_->currentSheet()->title() == QStringLiteral("Trees by plot id"));
    EXPECT_THAT(editorText(),
                testing::StartsWith("-- title: Trees by plot id\n-- connection: Orchard records\n-- parameter: since"));
    EXPECT_EQ(test::contentOf(shelfFile("orchard-records/trees-by-plot-id.sql")), editorText());
    EXPECT_FALSE(window_->currentSheet()->sheet().file().isUnsaved());
    EVENTUALLY(find<QPushButton>(objectName::kBandSaved) != nullptr);
    EXPECT_THAT(fromQt(find<QPushButton>(objectName::kBandSaved)->toolTip()), HasSubstr("trees-by-plot-id.sql"));
    window_->currentSheet()->editor()->setFocus();
    key(Qt::Key_End, Qt::ControlModifier);
    type(QStringLiteral("ORDER BY trees"));
    EVENTUALLY(window_->currentSheet()->sheet().file().isUnsaved());
    key(Qt::Key_S, Qt::ControlModifier);
    EVENTUALLY(status().find("Order added") != std::string::npos);
    EXPECT_FALSE(window_->currentSheet()->sheet().file().isUnsaved());
    shelf::Shelf shelf = shelfOnDisk();
    EXPECT_EQ((*shelf.repository())->versionsOf("orchard-records/trees-by-plot-id.sql", 9)->size(), 2U);
    key(Qt::Key_Z, Qt::ControlModifier);
    EVENTUALLY(editorText().find("ORDER BY trees") == std::string::npos) << "it can be undone all the same";
}

TEST_F(ShelfWindowTest, ASavedSheetStaysSavedAfterARestart) {
    openSheet(QStringLiteral("SELECT 1 AS one"));
    save(QStringLiteral("One"));
    closeWindow();
    openWindow();
    EVENTUALLY(window_->currentSheet() != nullptr);
    EVENTUALLY(find<QPushButton>(objectName::kBandSaved) != nullptr);
    EXPECT_EQ(window_->currentSheet()->title(), QStringLiteral("One"));
    EXPECT_FALSE(window_->currentSheet()->sheet().file().isUnsaved());
}

TEST_F(ShelfWindowTest, AQueryOpensWithItsLastValuesAndRunsFromTheList) {
    putThere("plots/few.sql",
             "-- title: Few plots\n-- connection: Orchard records\n-- parameter: most integer = 3\n\n"
             "SELECT plot_id FROM plot WHERE plot_id <= :most;\n");
    openShelf();
    EVENTUALLY((shown() == std::vector<std::string>{"Plots · 1", "Few plots"}));
    choose(QStringLiteral("Few plots"));
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(window_->currentSheet() != nullptr && window_->currentSheet()->sheet().cards().size() == 1);
    EVENTUALLY(!window_->currentSheet()->sheet().isRunning());
    EXPECT_EQ(window_->currentSheet()->sheet().cards().front()->rowCount(), 3U);
    EXPECT_EQ(window_->currentSheet()->title(), QStringLiteral("Few plots"));
    EXPECT_EQ(window_->currentSheet()->sheet().connectionId(), QStringLiteral("orchard"));
    const auto last = [&] {
        auto ledger = store::Ledger::open(home().ledgerFile());
        return (*ledger)->lastOfSaved("plots/few.sql").value();
    };
    EVENTUALLY(last().has_value() && last()->end.rows == 3);
    choose(QStringLiteral("Few plots"));
    key(Qt::Key_Return);
    EVENTUALLY(window_->currentSheet() != nullptr);
    EXPECT_EQ(window_->sheets().size(), 1U) << "it is open already";
}

TEST_F(ShelfWindowTest, FindsStarsRenamesRemovesAndBringsBack) {
    putThere("kitchen/jars.sql", "-- title: Jars left\n\nSELECT 1;\n");
    putThere("plots/scab.sql", "-- title: Scab\n-- note: before blossom\n\nSELECT 2;\n");
    openShelf();
    const QAbstractItemModelTester tester(list()->model(), QAbstractItemModelTester::FailureReportingMode::Fatal);
    EVENTUALLY((shown() == std::vector<std::string>{"Kitchen · 1", "Jars left", "Plots · 1", "Scab"}));
    type(QStringLiteral("blossom"));
    EVENTUALLY((shown() == std::vector<std::string>{"Plots · 1", "Scab"}));
    key(Qt::Key_Escape);
    EVENTUALLY(shown().size() == 4);
    choose(QStringLiteral("Scab"));
    answer(QStringLiteral("Scab by plot"));
    key(Qt::Key_F2);
    EVENTUALLY((shown() == std::vector<std::string>{"Kitchen · 1", "Jars left", "Plots · 1", "Scab by plot"}));
    EXPECT_TRUE(std::filesystem::exists(shelfFile("plots/scab-by-plot.sql")));
    EXPECT_EQ(list()->currentIndex().data().toString(), QStringLiteral("Scab by plot")) << "it stays chosen";
    window_->activateWindow();
    list()->setFocus();
    EVENTUALLY(list()->hasFocus());
    key(Qt::Key_Delete);
    EVENTUALLY((shown() == std::vector<std::string>{"Kitchen · 1", "Jars left"}));
    click(objectName::kShelfUndo);
    EVENTUALLY(shown().size() == 4);
    EXPECT_THAT(test::contentOf(shelfFile("plots/scab-by-plot.sql")), HasSubstr("-- note: before blossom"));
    run("view.shelf");
    type(QStringLiteral("no such words"));
    EVENTUALLY(shown().empty());
    EXPECT_THAT(label("shelfEmpty"), HasSubstr("Nothing on the shelf has all of these words"));
}

TEST_F(ShelfWindowTest, DraggingMovesAndAStarPutsFirst) {
    putThere("kitchen/jars.sql", "-- title: Jars left\n\nSELECT 1;\n");
    putThere("plots/scab.sql", "-- title: Scab\n\nSELECT 2;\n");
    openShelf();
    EVENTUALLY(shown().size() == 4);
    QAbstractItemModel* model = list()->model();
    const std::unique_ptr<QMimeData> dragged(model->mimeData({model->index(1, 0)}));
    ASSERT_NE(dragged, nullptr);
    EXPECT_FALSE(model->dropMimeData(dragged.get(), Qt::MoveAction, -1, 0, model->index(0, 0)))
        << "it is there already";
    EXPECT_TRUE(model->dropMimeData(dragged.get(), Qt::MoveAction, -1, 0, model->index(3, 0)));
    EVENTUALLY((shown() == std::vector<std::string>{"Plots · 2", "Jars left", "Scab"}));
    EVENTUALLY(status() == "Moved to Plots.");
    EXPECT_TRUE(std::filesystem::exists(shelfFile("plots/jars.sql")));
    EXPECT_FALSE(std::filesystem::exists(shelfFile("kitchen"))) << "an empty folder goes";
    auto* verbs = window_->findChild<ShelfVerbs*>();
    const auto query = [&](const std::string& path) {
        return *std::ranges::find_if(desk_->shelf().queries(), [&](const auto& one) { return one.place.path == path; });
    };
    verbs->toggleStar(query("plots/scab.sql"));
    EVENTUALLY((shown() == std::vector<std::string>{"Starred · 1", "Scab", "Plots · 2", "Jars left", "Scab"}));
    verbs->duplicate(query("plots/jars.sql"));
    EVENTUALLY(std::filesystem::exists(shelfFile("plots/jars-2.sql")));
    EVENTUALLY(shown().size() == 6);
    verbs->moveTo({"", "plots/scab.sql"}, "old/trees");
    EVENTUALLY(std::filesystem::exists(shelfFile("old/trees/scab.sql")));
    EVENTUALLY(shown().front() == "Starred · 1");
    EXPECT_EQ(shown()[1], "Scab") << "the star went along";
}

TEST_F(ShelfWindowTest, ATakenNameBecomesANewVersionAndEscSavesNothing) {
    putThere("orchard-records/one.sql", "-- title: One\n-- note: kept\n\nSELECT 1;\n");
    openSheet(QStringLiteral("SELECT 1, 2"));
    key(Qt::Key_S, Qt::ControlModifier);
    EVENTUALLY(find(objectName::kSavePanel) != nullptr);
    key(Qt::Key_Escape);
    EXPECT_EQ(find(objectName::kSavePanel), nullptr);
    EXPECT_FALSE(window_->currentSheet()->sheet().file().state().has_value());
    EXPECT_TRUE(window_->currentSheet()->editor()->isAncestorOf(QApplication::focusWidget()));
    key(Qt::Key_S, Qt::ControlModifier);
    EVENTUALLY(find(objectName::kSavePanel) != nullptr);
    find<QLineEdit>(objectName::kSaveTitle)->selectAll();
    type(QStringLiteral("One"));
    EXPECT_THAT(label("savePlace"), HasSubstr("is there already: saving makes a new version"));
    key(Qt::Key_Return);
    EVENTUALLY(test::contentOf(shelfFile("orchard-records/one.sql")).find("SELECT 1, 2") != std::string::npos);
    EXPECT_THAT(test::contentOf(shelfFile("orchard-records/one.sql")), HasSubstr("-- note: kept"));
    EVENTUALLY(status().find("Saved as orchard-records/one.sql") != std::string::npos);
}

TEST_F(ShelfWindowTest, WhatOtherProgramsDoIsNoticed) {
    putThere("a.sql", "-- title: First\n\nSELECT 1;\n");
    openShelf();
    test::writeFile(shelfFile("a.sql"), "-- title: Second\n\nSELECT 1;\n");
    EVENTUALLY((shown() == std::vector<std::string>{"In no folder · 1", "Second"}));
    std::filesystem::create_directories(shelfFile("new"));
    test::writeFile(shelfFile("new/b.sql"), "SELECT 2");
    EVENTUALLY((shown() == std::vector<std::string>{"In no folder · 1", "Second", "New · 1", "B"}));
}

/// A folder without a query is watched as well, and one within it, whenever something comes into it.
TEST_F(ShelfWindowTest, WhatComesIntoAFolderLaterIsNoticed) {
    const auto isWatched = [&](const std::filesystem::path& folder) {
        const auto& infos = desk_->shelf().shelves();
        return !infos.empty() && std::ranges::find(infos.front().folders, folder) != infos.front().folders.end();
    };
    std::filesystem::create_directories(shelfFile("quiet/inner"));
    EVENTUALLY(isWatched(shelfFile("quiet/inner")));
    QTest::qWait(400);  // nothing else is going on
    test::writeFile(shelfFile("quiet/inner/late.sql"), "SELECT 1");
    openShelf();
    EVENTUALLY(std::ranges::count(shown(), "Late") == 1);
}

TEST_F(ShelfWindowTest, NothingSecretGetsOnTheShelf) {
    openSheet(QStringLiteral("SELECT 1"));
    save(QStringLiteral("One"));
    window_->currentSheet()->editor()->setFocus();
    key(Qt::Key_End, Qt::ControlModifier);
    type(QStringLiteral("ALTER ROLE maud PASSWORD 'hunter2'"));
    key(Qt::Key_S, Qt::ControlModifier);
    const auto noticed = [&] {
        auto* notice = find(objectName::kNotice);
        if (notice == nullptr) return std::string();
        std::string all;
        for (const QLabel* one : notice->findChildren<QLabel*>()) all += fromQt(one->text());
        return all;
    };
    EVENTUALLY(noticed().find("Not saved.") != std::string::npos);
    EXPECT_THAT(noticed(), Not(HasSubstr("hunter2")));
    EXPECT_THAT(test::contentOf(shelfFile("orchard-records/one.sql")), Not(HasSubstr("hunter2")));
}

TEST_F(ShelfWindowTest, VersionsStandBesideEachOtherAndComeBack) {
    putThere("a.sql", "-- title: Plots\n-- connection: Orchard records\n\nSELECT name FROM plot;\n");
    putThere("a.sql", "-- title: Plots\n-- connection: Orchard records\n\nSELECT name, area FROM plot;\n");
    openShelf();
    choose(QStringLiteral("Plots"));
    key(Qt::Key_Return, Qt::ShiftModifier);
    EVENTUALLY(find("queryPage") != nullptr);
    auto* page = static_cast<QueryPage*>(find("queryPage"));
    EVENTUALLY(find<QListWidget>("versionLine") != nullptr && find<QListWidget>("versionLine")->count() == 2);
    EXPECT_EQ(find<QListWidget>("versionLine")->item(0)->text(), QStringLiteral("area added"));
    const auto differing = [&] {
        std::vector<std::string> all;
        for (const auto& line : page->findChild<DifferenceView*>()->lines()) {
            if (!line.isSame)
                all.push_back((line.before ? line.before->text : "") + " | " + (line.now ? line.now->text : ""));
        }
        return all;
    };
    EVENTUALLY((differing() == std::vector<std::string>{"SELECT name FROM plot; | SELECT name, area FROM plot;"}));
    click("queryRestore");
    EVENTUALLY(find<QListWidget>("versionLine")->count() == 3);
    EXPECT_THAT(test::contentOf(shelfFile("a.sql")), HasSubstr("SELECT name FROM plot;"));
    EXPECT_THAT(fromQt(find<QListWidget>("versionLine")->item(0)->text()), HasSubstr("Restored as of"));
    click("queryRun");
    EVENTUALLY(window_->currentSheet() != nullptr && window_->currentSheet()->sheet().cards().size() == 1);
}

TEST_F(ShelfWindowTest, TheReachFindsRunsAndPutsBesideByKinds) {
    putThere("plots/few.sql", "-- title: Few plots\n-- connection: Orchard records\n\nSELECT 1 AS few;\n");
    openSheet(QStringLiteral("SELECT 2"));
    const auto reach = [&](const QString& text) {
        key(Qt::Key_J, Qt::ControlModifier);
        EVENTUALLY(find(objectName::kReachInput) != nullptr);
        EXPECT_THAT(label("reachHint"), HasSubstr("q: saved queries"));
        type(text);
        const auto* box = static_cast<Reach*>(find(objectName::kReach));
        EVENTUALLY(!box->isSearching());
    };
    const auto rows = [&] {
        std::vector<std::string> all;
        auto* found = find<QListWidget>(objectName::kReachList);
        for (int i = 0; i < found->count(); ++i) all.push_back(fromQt(found->item(i)->text()));
        return all;
    };
    reach(QStringLiteral("q: few"));
    EXPECT_EQ(rows(), std::vector<std::string>{"Few plots"}) << "of one kind alone there is no heading";
    key(Qt::Key_Return, Qt::AltModifier);
    EVENTUALLY(window_->sheets().size() == 2 && window_->currentSheet()->sheet().cards().size() == 1);
    window_->currentSheet()->editor()->setFocus();
    reach(QStringLiteral("few plots"));
    EXPECT_EQ(rows().front(), "Sheets and pages  ·  s:") << "several kinds have headings";
    EXPECT_EQ(find<QListWidget>(objectName::kReachList)->currentRow(), 1) << "a heading is never chosen";
    key(Qt::Key_Escape);
    reach(QStringLiteral("l: few"));
    EVENTUALLY(rows() == std::vector<std::string>{"SELECT 1 AS few"});
    EXPECT_EQ(label("reachWhole"), "SELECT 1 AS few") << "all of the statement";
    key(Qt::Key_Escape);
    reach(QStringLiteral("s: sheet 1"));
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(find("besideBox") != nullptr) << "what is opened stands beside";
}

TEST_F(ShelfWindowTest, ALinkOpensItsQueryOrSaysWhatIsMissing) {
    putThere("plots/few.sql", "-- title: Few plots\n\nSELECT 1 AS few;\n");
    window_->openFile(QStringLiteral("agile-pantry:query/plots/few.sql"));
    EVENTUALLY(window_->currentSheet() != nullptr && window_->currentSheet()->title() == QStringLiteral("Few plots"));
    window_->openFile(QStringLiteral("agile-pantry:query/plots/none.sql"));
    EVENTUALLY(find(objectName::kNotice) != nullptr);
    std::string all;
    for (const QLabel* one : find(objectName::kNotice)->findChildren<QLabel*>()) all += fromQt(one->text());
    EXPECT_THAT(all, HasSubstr("“plots/none.sql” is not on your shelf"));
}

/// Somebody else, with a clone of the same repository.
class SharedWindowTest : public ShelfWindowTest {
protected:
    void share() {
        putThere("a.sql", "SELECT 1;\n");
        const auto remote = folder_ / "remote.git";
        ASSERT_EQ(std::system(("git init -q --bare -b main '" + remote.string() + "'").c_str()), 0);
        shelf::Shelf mine = shelfOnDisk();
        ASSERT_TRUE((*mine.repository())->addRemote("origin", remote.string()));
        ASSERT_TRUE((shelf::GitProgram{.folder = mine.folder()}.push("origin", "main")));
        ASSERT_TRUE(shelf::GitProgram::clone(remote.string(), folder_ / "theirs"));
        desk_->shelf().refresh();
        openShelf();
        EVENTUALLY(label("shelfSharedState") == "as on origin");
    }
    void theySave(const std::string& path, const std::string& content) {
        auto theirs = shelf::Shelf::open(folder_ / "theirs");
        ASSERT_TRUE(theirs->save(path, content));
        ASSERT_TRUE((shelf::GitProgram{.folder = theirs->folder()}.push("origin", "main")));
    }
};

TEST_F(SharedWindowTest, PullAndPushAreOneClick) {
    share();
    theySave("b.sql", "SELECT 2;\n");
    click("shelfPull");
    EVENTUALLY(std::filesystem::exists(shelfFile("b.sql")));
    EVENTUALLY(status() == "Brought in 1 version.");
    putThere("c.sql", "SELECT 3;\n");
    EVENTUALLY(label("shelfSharedState") == "1 version not pushed");
    click("shelfPush");
    EVENTUALLY(status() == "Pushed 1 version.");
    EVENTUALLY(label("shelfSharedState") == "as on origin");
}

TEST_F(SharedWindowTest, AConflictIsSeenSideBySideAndResolvedByChoice) {
    share();
    theySave("a.sql", "SELECT 'theirs';\n");
    {
        shelf::Shelf mine = shelfOnDisk();
        ASSERT_TRUE(mine.save("a.sql", "SELECT 'mine';\n"));
    }
    EVENTUALLY(label("shelfSharedState") == "1 version not pushed");
    click("shelfPull");
    EVENTUALLY(find("conflictPage") != nullptr);
    auto* difference = find<DifferenceView>("differenceView");
    ASSERT_EQ(difference->lines().size(), 1U);
    EXPECT_EQ(difference->lines()[0].before->text, "SELECT 'mine';");
    EXPECT_EQ(difference->lines()[0].now->text, "SELECT 'theirs';");
    EXPECT_FALSE(find("conflictFinish")->isEnabled()) << "nothing is chosen yet";
    EXPECT_EQ(test::contentOf(shelfFile("a.sql")), "SELECT 'mine';\n");
    click("conflictBoth");
    EVENTUALLY(find("conflictText") != nullptr);
    find<QPlainTextEdit>("conflictText")->setPlainText(QStringLiteral("SELECT 'both';"));
    click("conflictFinish");
    EVENTUALLY(test::contentOf(shelfFile("a.sql")) == "SELECT 'both';\n");
    EVENTUALLY(find("conflictPage") == nullptr);
    openShelf();
    EVENTUALLY(label("shelfSharedState") == "2 versions not pushed");
    click("shelfPush");
    EVENTUALLY(label("shelfSharedState") == "as on origin");
}

TEST_F(SharedWindowTest, WhatChangedIsInSightWithTheBeginningOfItsLineWhereBothFit) {
    share();
    const std::string note = "-- " + std::string(300, 'n') + "\n";
    theySave("a.sql", note + "SELECT * FROM batch WHERE jars > 5;\n");
    {
        shelf::Shelf mine = shelfOnDisk();
        ASSERT_TRUE(mine.save("a.sql", note + "SELECT * FROM batch WHERE jars > 7;\n"));
    }
    EVENTUALLY(label("shelfSharedState") == "1 version not pushed");
    click("shelfPull");
    EVENTUALLY(find("differenceView") != nullptr);
    const QScrollBar* bar = find<DifferenceView>("differenceView")->horizontalScrollBar();
    EVENTUALLY(bar->maximum() > 0);
    EXPECT_EQ(bar->value(), 0);
}

TEST_F(SharedWindowTest, ARemoteThatIsGoneIsNoHarm) {
    share();
    std::filesystem::rename(folder_ / "remote.git", folder_ / "elsewhere.git");
    click("shelfPull");
    EVENTUALLY(status().find("is not there any more") != std::string::npos);
    EXPECT_EQ(test::contentOf(shelfFile("a.sql")), "SELECT 1;\n");
}

}  // namespace
}  // namespace pantry::app
