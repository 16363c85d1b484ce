// What people rely on when they go between connections all day.
#include <gmock/gmock.h>

#include <QAbstractButton>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QMenuBar>
#include <QPushButton>
#include <QTabBar>
#include <algorithm>

#include "app/look/theme.h"
#include "app/window_fixture.h"

namespace pantry::app {
namespace {

class TrustWindowTest : public WindowTest {
protected:
    /// Another connection, to a database of the same shape with other rows.
    void addConnection(const QString& id, db::Environment environment, const std::string& colour) {
        ASSERT_TRUE(std::filesystem::copy_file(test::demoFile("orchard-live.db"), folder_ / (fromQt(id) + ".db")));
        db::ConnectionProfile p;
        p.id = fromQt(id);
        p.name = fromQt(id);
        p.database = (folder_ / (fromQt(id) + ".db")).string();
        p.environment = environment;
        p.colour = colour;
        desk_->connections().put(p);
    }
    void openAndRun(const QString& text) {
        openSheet(text);
        find(objectName::kEditor)->setFocus();
        key(Qt::Key_Return, Qt::ControlModifier);
        EVENTUALLY(isOver(0));
    }
    Sheet& sheet() { return window_->currentSheet()->sheet(); }
    void listen() {
        QObject::connect(&sheet(), &Sheet::remarked, window_.get(),
                         [this](const QString& words) { remarks_ += words; });
    }
    QStringList remarks_;
};

TEST_F(TrustWindowTest, AResultIsNotRunAgainWhereItDidNotComeFrom) {
    addConnection(QStringLiteral("other"), db::Environment::Trial, "beet");
    openAndRun(QStringLiteral("SELECT count(*) FROM frost_alert"));
    const data::ResultSetPtr before = card(0)->result();
    EXPECT_TRUE(sheet().isFromHere(card(0)));
    sheet().setConnection(QStringLiteral("other"));
    EXPECT_FALSE(sheet().isFromHere(card(0)));
    EXPECT_EQ(sheet().cardOf(0), nullptr) << "its outcome does not stand behind the statement that would run here";
    listen();
    find("card1")->setFocus();
    key(Qt::Key_R);
    EXPECT_EQ(card(0)->result(), before);
    EXPECT_EQ(sheet().cards().size(), 1U);
    ASSERT_EQ(remarks_.size(), 1);
    EXPECT_THAT(fromQt(remarks_.front()), testing::HasSubstr("came from Orchard records"));
    sheet().setConnection(QStringLiteral("orchard"));
    EXPECT_TRUE(sheet().isFromHere(card(0)));
    EXPECT_EQ(sheet().cardOf(0), card(0));
    key(Qt::Key_R);
    EVENTUALLY(card(0)->result() && card(0)->result() != before);
}

TEST_F(TrustWindowTest, OtherRowsOfAResultComeFromWhereItsFirstOnesCame) {
    addConnection(QStringLiteral("other"), db::Environment::Trial, "beet");
    openAndRun(
        QStringLiteral("WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n LIMIT 5000) SELECT i FROM n"));
    ASSERT_TRUE(card(0)->hasMore());
    sheet().runStatement("SELECT 1");  // its line is needed for another
    EVENTUALLY(isOver(1) && card(0)->state() == Card::State::Partial);
    sheet().setConnection(QStringLiteral("other"));
    listen();
    card(0)->fetchAll();
    EXPECT_EQ(sheet().cards().size(), 2U);
    ASSERT_EQ(remarks_.size(), 1);
    EXPECT_THAT(fromQt(remarks_.front()), testing::HasSubstr("came from"));
}

TEST_F(TrustWindowTest, PressingRunTwiceRunsOnce) {
    openSheet(QStringLiteral("WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n) SELECT max(i) FROM n"));
    listen();
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(card(0) != nullptr && card(0)->isGoingOn());
    key(Qt::Key_Return, Qt::ControlModifier);
    key(Qt::Key_Return, Qt::ControlModifier | Qt::ShiftModifier);
    EVENTUALLY(remarks_.size() == 2);
    EXPECT_EQ(sheet().cards().size(), 1U);
    EXPECT_THAT(fromQt(remarks_.front()), testing::HasSubstr("running already"));
    click(objectName::kStopButton);
    EVENTUALLY(isOver(0));
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(sheet().cards().size() == 2U);  // afterwards it is another run
    sheet().stop();
    EVENTUALLY(isOver(1));
}

TEST_F(TrustWindowTest, StopAlsoStopsWhatIsNotSentYet) {
    openSheet(QStringLiteral("SELECT 1"));
    window_->currentSheet()->runAtCaret();
    sheet().stop();
    window_->currentSheet()->runAll();  // comes behind it
    EVENTUALLY(isOver(0));
    EXPECT_EQ(sheet().cards().size(), 1U) << "only the second one ran";
}

TEST_F(TrustWindowTest, WhatRunsShowsForHowLong) {
    openSheet(QStringLiteral("WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n) SELECT max(i) FROM n"));
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(card(0) != nullptr && card(0)->state() == Card::State::Running);
    auto* button = find<QAbstractButton>("card1");
    ASSERT_NE(button, nullptr);
    const auto shows = [&](const char* words) { return button->accessibleName().contains(QString::fromUtf8(words)); };
    EVENTUALLY(shows(" · 1.0 s") || shows(" · 2.0 s"));
    EVENTUALLY(shows(" · 3.0 s") || shows(" · 4.0 s"));
    sheet().stop();
    EVENTUALLY(isOver(0));
    EVENTUALLY(shows("stopped"));
}

TEST_F(TrustWindowTest, AKeyOfAFindFieldDoesNotRunTheSheet) {
    openSheet(QStringLiteral("DELETE FROM frost_alert"));
    EVENTUALLY(hasCatalog());
    for (const char* field : {objectName::kCatalogFind}) {
        auto* input = find<QLineEdit>(field);
        ASSERT_NE(input, nullptr) << field;
        input->setFocus();
        key(Qt::Key_Return, Qt::ControlModifier);
        key(Qt::Key_Return, Qt::ControlModifier | Qt::ShiftModifier);
    }
    for (const Card* one : sheet().cards()) EXPECT_EQ(one->statement().text().find("DELETE"), std::string::npos);
}

TEST_F(TrustWindowTest, LiveIsRedWhateverColourWasChosen) {
    addConnection(QStringLiteral("vault"), db::Environment::Live, "sage");
    window_->openSheet(QStringLiteral("vault"), QStringLiteral("SELECT 1"));
    const QString red = Theme::current().connectionColour("tomato").name();
    const auto* band = find(objectName::kContextBand);
    ASSERT_NE(band, nullptr);
    bool isRed = false;
    for (const auto* label : band->findChildren<QLabel*>()) {
        if (label->text() == QStringLiteral("LIVE")) isRed = label->styleSheet().contains(red);
    }
    EXPECT_TRUE(isRed);
}

TEST_F(TrustWindowTest, ChoosingLiveInTheFormChoosesRedAndKeepsAColourOfOnesOwn) {
    for (const auto& [colour, wanted] : {std::pair{"sage", "tomato"}, {"beet", "beet"}}) {
        db::ConnectionProfile p = *desk_->connections().profile("orchard");
        p.id = colour;
        p.name = colour;
        p.environment = db::Environment::Local;
        p.colour = colour;
        desk_->connections().put(p);
        window_->showConnections();
        QWidget* card = nullptr;
        EVENTUALLY([&] {
            for (auto* c : window_->findChildren<QWidget*>(QStringLiteral("connectionCard"))) {
                if (c->isVisible() && c->property("connection").toString() == QLatin1String(colour)) card = c;
            }
            return card != nullptr;
        }());
        QTest::mouseClick(card, Qt::LeftButton);
        for (auto* button : window_->findChildren<QPushButton*>()) {
            if (button->isVisible() && button->text() == QStringLiteral("Live"))
                QTest::mouseClick(button, Qt::LeftButton);
        }
        click(objectName::kFormSave);
        EXPECT_EQ(desk_->connections().profile(fromQt(QLatin1String(colour)))->environment, db::Environment::Live);
        EXPECT_EQ(desk_->connections().profile(fromQt(QLatin1String(colour)))->colour, wanted);
    }
}

TEST_F(TrustWindowTest, TheFirstPartOfALongNameStaysInSightInANarrowWindow) {
    db::ConnectionProfile p = *desk_->connections().profile("orchard");
    p.name = "Larkspur Vale orchard records of all the years since the flood of the lower meadows";
    desk_->connections().put(p);
    openSheet(QStringLiteral("SELECT 1"));
    window_->resize(900, 640);
    QCoreApplication::processEvents();
    auto* button = find<QPushButton>(objectName::kBandConnection);
    ASSERT_NE(button, nullptr);
    EXPECT_TRUE(button->text().startsWith(QStringLiteral("Larkspur"))) << button->text().toStdString();
    EXPECT_GE(button->width(), button->sizeHint().width()) << "nothing of it is cut";
    EXPECT_THAT(fromQt(button->toolTip()), testing::HasSubstr("lower meadows"));
}

TEST_F(TrustWindowTest, TheLayoutDoesNotMoveByItself) {
    for (const int width : {1280, 900}) {
        window_->resize(width, 800);
        openSheet(QStringLiteral("SELECT * FROM tree"));
        QCoreApplication::processEvents();
        const int left = find(objectName::kLeftColumn)->width();
        ResultPane* result = window_->currentSheet()->result();
        find(objectName::kEditor)->setFocus();
        key(Qt::Key_Return, Qt::ControlModifier);
        EVENTUALLY(isOver(0) && result->grid()->isVisible());
        EXPECT_EQ(find(objectName::kLeftColumn)->width(), left) << width;
        const auto topOf = [this](const QWidget* widget) { return widget->mapTo(window_.get(), QPoint(0, 0)).y(); };
        EXPECT_LE(topOf(result->grid()->viewport()) - topOf(find(objectName::kTray)), 110);
        // A short text has given its room to its first result, and nothing moves after that.
        const int top = topOf(find(objectName::kTray));
        EXPECT_LT(top - topOf(find(objectName::kEditor)), 130);
        result->openExport();
        QCoreApplication::processEvents();
        EXPECT_GT(find(objectName::kExportPanel)->height(), 500) << "as high as the sheet";
        result->openCompare();
        QCoreApplication::processEvents();
        result->openExport();
        click(objectName::kExportClose);
        QCoreApplication::processEvents();
        key(Qt::Key_Return, Qt::ControlModifier);
        EXPECT_EQ(find(objectName::kLeftColumn)->width(), left) << width;
        EXPECT_EQ(topOf(find(objectName::kTray)), top) << width;
    }
}

TEST_F(TrustWindowTest, ToolsThatFindNoRoomFoldIntoAMenu) {
    window_->resize(900, 700);
    openAndRun(QStringLiteral("SELECT * FROM plot"));
    ResultPane* result = window_->currentSheet()->result();
    result->openExport();
    QCoreApplication::processEvents();
    auto* more = result->findChild<QPushButton*>(QLatin1String(objectName::kMoreTools));
    ASSERT_TRUE(more != nullptr && more->isVisible());
    for (QWidget* widget : result->findChildren<QWidget*>()) {
        const bool isTool = widget->isVisible() && widget->parentWidget() == more->parentWidget();
        if (!isTool) continue;
        EXPECT_LE(widget->geometry().right(), more->parentWidget()->width()) << fromQt(widget->objectName());
    }
    Q_EMIT more->menu()->aboutToShow();
    QStringList words;
    for (const QAction* action : more->menu()->actions()) words += action->text().section(QLatin1Char('\t'), 0, 0);
    EXPECT_TRUE(words.contains(QStringLiteral("Compare…"))) << fromQt(words.join(QLatin1Char(' ')));
    ASSERT_NE(find(objectName::kViewChoice), nullptr);
    auto* views = find<QPushButton>(objectName::kViewChoice)->menu();
    views->actions()[1]->trigger();
    EXPECT_EQ(result->view(), ResultPane::View::Record);
}

TEST_F(TrustWindowTest, TheKeyboardAloneLeadsToConnectionSessionAndTransaction) {
    addConnection(QStringLiteral("kitchen"), db::Environment::Local, "sage");
    openSheet(QStringLiteral("SELECT 1"));
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_C, Qt::ControlModifier | Qt::AltModifier);
    auto* list = window_->findChild<QWidget*>(QLatin1String(objectName::kPickList));
    ASSERT_NE(list, nullptr);
    auto* input = list->findChild<QLineEdit*>(QLatin1String(objectName::kPickInput));
    QTest::keyClicks(input, QStringLiteral("kit"));
    QTest::keyClick(input, Qt::Key_Return);
    EVENTUALLY(sheet().connectionId() == QStringLiteral("kitchen"));
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_D, Qt::ControlModifier | Qt::AltModifier);
    auto* session = window_->findChild<QMenu*>(QLatin1String(objectName::kSessionMenu));
    ASSERT_NE(session, nullptr);
    session->close();
    find(objectName::kEditor)->setFocus();
    sheet().session().setCommitsByHand(true);
    sheet().runStatement("DELETE FROM frost_alert WHERE 1 = 0");
    EVENTUALLY(sheet().session().state().connection.transaction == db::TransactionState::Open);
    window_->activateWindow();  // a window system does so when a popup goes
    EVENTUALLY(QApplication::focusWidget() != nullptr);
    key(Qt::Key_Z, Qt::ControlModifier | Qt::AltModifier);
    EVENTUALLY(sheet().session().state().connection.transaction == db::TransactionState::None);
    key(Qt::Key_F10);
    EXPECT_NE(window_->menuBar()->activeAction(), nullptr);
    window_->menuBar()->setActiveAction(nullptr);
    for (const QAction* action : window_->menuBar()->actions()) {
        EXPECT_TRUE(action->text().contains(QLatin1Char('&'))) << fromQt(action->text());
    }
}

TEST_F(TrustWindowTest, TheCloseUpTellsOfNoConnectionThatTheSheetHasLeft) {
    openAndRun(QStringLiteral("SELECT 1 WHERE 1 = 0"));
    EVENTUALLY(find<QLabel>("closeUpServer") != nullptr);
    EXPECT_THAT(fromQt(find<QLabel>("closeUpServer")->text()), testing::HasSubstr("Orchard records"));
    sheet().setConnection(QStringLiteral("gone"));
    const auto* server = find<QLabel>("closeUpServer");
    EXPECT_TRUE(server == nullptr || !server->text().contains(QStringLiteral("Orchard records")));
}

TEST_F(TrustWindowTest, WhatWasKeptTakesNoRoomWhileNothingWas) {
    openSheet(QStringLiteral("SELECT 1"));
    EXPECT_EQ(find(objectName::kStatusKept), nullptr);
    const int before = find(objectName::kStatusSelection)->x();
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(find<QLabel>(objectName::kStatusKept) != nullptr);
    EXPECT_THAT(fromQt(find<QLabel>(objectName::kStatusKept)->text()), testing::HasSubstr("Kept in the ledger"));
    EVENTUALLY(find(objectName::kStatusSelection)->x() > before);
}

TEST_F(TrustWindowTest, ManySheetsStayReadableAndAreReached) {
    window_->resize(1280, 800);
    for (int i = 0; i < 17; ++i) openSheet(QStringLiteral("SELECT %1").arg(i));
    auto* tabs = find<QTabBar>(objectName::kSheetTabs);
    EVENTUALLY(find(objectName::kTabsAll) != nullptr);
    const int last = tabs->currentIndex();
    EXPECT_GE(tabs->tabRect(last).width(), 100);
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_Tab, Qt::ControlModifier);
    EXPECT_EQ(tabs->currentIndex(), 0);
    key(Qt::Key_Backtab, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_EQ(tabs->currentIndex(), last);
    click(objectName::kTabsAll);
    auto* input = window_->findChild<QLineEdit*>(QLatin1String(objectName::kPickInput));
    ASSERT_NE(input, nullptr);
    QTest::keyClicks(input, QStringLiteral("Sheet 3"));
    QTest::keyClick(input, Qt::Key_Return);
    EVENTUALLY(tabs->tabText(tabs->currentIndex()) == QStringLiteral("Sheet 3"));
    EXPECT_TRUE(find(objectName::kEditor)->hasFocus());
    QTest::mouseDClick(tabs, Qt::LeftButton, {}, tabs->tabRect(tabs->currentIndex()).center());
    auto* edit = find<QLineEdit>(objectName::kTabName);
    ASSERT_NE(edit, nullptr);
    QTest::keyClicks(edit, QStringLiteral("Frost"));
    QTest::keyClick(edit, Qt::Key_Return);
    EXPECT_EQ(tabs->tabText(tabs->currentIndex()), QStringLiteral("Frost"));
    EXPECT_TRUE(find(objectName::kEditor)->hasFocus());
}

TEST_F(TrustWindowTest, BandAndTabShowForHowLongSomethingRunsAndNoTabMoves) {
    openSheet(QStringLiteral("WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n) SELECT max(i) FROM n"));
    auto* tabs = find<QTabBar>(objectName::kSheetTabs);
    const QRect before = tabs->tabRect(tabs->currentIndex());
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(find<QLabel>(objectName::kBandElapsed) != nullptr &&
               find<QLabel>(objectName::kBandElapsed)->text().endsWith(QStringLiteral(" s")));
    EXPECT_THAT(fromQt(tabs->accessibleTabName(tabs->currentIndex())), testing::HasSubstr("running for"));
    EXPECT_EQ(tabs->tabRect(tabs->currentIndex()), before);
    sheet().stop();
    EVENTUALLY(isOver(0));
    EVENTUALLY(find(objectName::kBandElapsed) == nullptr);
    EXPECT_TRUE(tabs->accessibleTabName(tabs->currentIndex()).isEmpty());
}

TEST_F(TrustWindowTest, TheReachKnowsOtherWordsAndNoStrewnLetters) {
    openAndRun(QStringLiteral("SELECT * FROM plot"));
    const auto hits = [this](const QString& words) {
        window_->openReach();
        find<QLineEdit>(objectName::kReachInput)->setText(words);
        const auto* reach = static_cast<Reach*>(find(objectName::kReach));
        EXPECT_TRUE(QTest::qWaitFor([&] { return !reach->isSearching(); }, kTimeoutMs));
        QStringList out;
        auto* list = find<QListWidget>(objectName::kReachList);
        for (int i = 0; i < list->count(); ++i) {
            const bool isHeading = !list->item(i)->flags().testFlag(Qt::ItemIsEnabled);
            const QString kind = list->item(i)->data(Qt::UserRole).toString();
            if (!isHeading && kind != QStringLiteral("ledger")) out += list->item(i)->text();
        }
        return out;
    };
    for (const auto& [words, wanted] :
         std::initializer_list<std::pair<const char*, const char*>>{{"dark", "Lamplight theme"},
                                                                    {"sort", "Sort ascending by this column"},
                                                                    {"freeze", "Freeze columns up to here"},
                                                                    {"csv", "Export…"},
                                                                    {"history", "Ledger"},
                                                                    {"diff", "Compare with another result…"},
                                                                    {"settings", "Lamplight theme"},
                                                                    {"save", "Save"},
                                                                    {"font", "Larger"}}) {
        EXPECT_TRUE(hits(QLatin1String(words)).contains(QString::fromUtf8(wanted))) << words;
    }
    const QStringList plots = hits(QStringLiteral("plot"));
    EXPECT_TRUE(plots.contains(QStringLiteral("plot")));
    for (const QString& hit : plots)
        EXPECT_TRUE(hit.contains(QStringLiteral("plot"), Qt::CaseInsensitive)) << fromQt(hit);
}

TEST_F(TrustWindowTest, FirstRowsComeInASheetOfTheirOwnThatTheNextTableUsesAgain) {
    openSheet(QStringLiteral("{\"not\": \"SQL\"}"));
    EVENTUALLY(hasCatalog());
    auto* tabs = find<QTabBar>(objectName::kSheetTabs);
    const int count = tabs->count();
    const auto showRows = [this](const char* table) {
        Q_EMIT window_->findChild<CatalogPanel*>()->rowsRequested(
            {QStringLiteral("orchard"), {}, {.kind = catalog::ObjectKind::Table, .schema = "main", .name = table}});
    };
    showRows("plot");
    EVENTUALLY(isOver(0));
    EXPECT_EQ(tabs->count(), count + 1);
    EXPECT_TRUE(sheet().isPassing());
    EXPECT_EQ(sheet().title(), QStringLiteral("plot"));
    showRows("warden");
    EVENTUALLY(sheet().title() == QStringLiteral("warden") && isOver(0) && sheet().cards().size() == 1);
    EXPECT_EQ(tabs->count(), count + 1) << "used again";
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_End, Qt::ControlModifier);
    type(QStringLiteral(" "));
    EXPECT_FALSE(sheet().isPassing()) << "what somebody writes in is somebody's";
    showRows("plot");
    EVENTUALLY(sheet().title() == QStringLiteral("plot"));
    EXPECT_EQ(tabs->count(), count + 2);
    window_->openSheet(QStringLiteral("orchard"));
    EXPECT_EQ(tabs->count(), count + 3);
    tabs->setCurrentIndex(count - 1);
    EXPECT_EQ(editorText(), "{\"not\": \"SQL\"}") << "what was in front stays as it was";
}

TEST_F(TrustWindowTest, TheLedgersListIsGoneThroughFromTheTopAndEntriesGoWithAKey) {
    openAndRun(QStringLiteral("SELECT 'first of them'"));
    sheet().runStatement("SELECT count(*) AS second");
    EVENTUALLY(isOver(1));
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_2, Qt::ControlModifier | Qt::ShiftModifier);
    auto* list = find<QListView>(objectName::kLedgerList);
    const auto holds = [list](const QString& words) {
        for (int i = 0; i < list->model()->rowCount(); ++i) {
            if (list->model()->index(i, 0).data().toString().contains(words)) return i;
        }
        return -1;
    };
    EVENTUALLY(holds(QStringLiteral("second")) > 0 && holds(QStringLiteral("first of")) > 0);
    list->setFocus();
    list->setCurrentIndex(list->model()->index(holds(QStringLiteral("second")), 0));
    key(Qt::Key_Delete);
    EVENTUALLY(holds(QStringLiteral("second")) < 0);
    EXPECT_GT(holds(QStringLiteral("first of")), 0);
    EVENTUALLY(find("ledgerPanelUndo") != nullptr);
    click("ledgerPanelUndo");
    EVENTUALLY(holds(QStringLiteral("second")) > 0) << "and come back";
}

TEST_F(TrustWindowTest, AfterARestartOneGoesOnWriting) {
    openSheet(QStringLiteral("SELECT 1"));
    closeWindow();
    openWindow();
    EVENTUALLY(find(objectName::kEditor) != nullptr && find(objectName::kEditor)->hasFocus());
    type(QStringLiteral("k"));
    EXPECT_EQ(editorText(), "SELECT 1k");
}

TEST_F(TrustWindowTest, TheBandTellsWhoAndWhere) {
    openAndRun(QStringLiteral("SELECT 1"));
    EVENTUALLY(hasCatalog());
    EVENTUALLY(find(objectName::kBandPlace)->toolTip().contains(QStringLiteral("SQLite 3")));
    EXPECT_TRUE(find(objectName::kBandPlace)->toolTip().contains(QStringLiteral("orchard.db")));
    EXPECT_TRUE(find(objectName::kBandPlace)->toolTip().contains(QStringLiteral("trial")));
}

TEST_F(TrustWindowTest, TheFocusStaysWhereTheWorkGoesOn) {
    openAndRun(QStringLiteral("SELECT plot_id, name FROM plot"));
    find("card1")->setFocus();
    key(Qt::Key_F2);
    ASSERT_NE(find("cardName"), nullptr);
    type(QStringLiteral("Plots"));
    key(Qt::Key_Return);
    EXPECT_EQ(card(0)->title(), QStringLiteral("Plots"));
    EXPECT_TRUE(find("card1")->hasFocus()) << "named, and still on it";
    EVENTUALLY(find("cardName") == nullptr);
    QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    key(Qt::Key_Return);
    QWidget* grid = window_->currentSheet()->result()->grid();
    EXPECT_TRUE(grid->hasFocus());
    window_->currentSheet()->result()->grid()->setCurrentIndex(window_->currentSheet()->result()->model()->index(2, 1));
    key(Qt::Key_Space, Qt::ControlModifier);
    EXPECT_TRUE(grid->hasFocus());
    EXPECT_TRUE(window_->currentSheet()->result()->grid()->selectionModel()->isColumnSelected(1));
    EXPECT_FALSE(window_->currentSheet()->editor()->isCompleting());
    window_->currentSheet()->result()->openExport();
    find<QLineEdit>(objectName::kExportFile)->setText(toQt((folder_ / "plots.csv").string()));
    find(objectName::kExportStart)->setFocus();
    QTest::keyClick(find(objectName::kExportStart), Qt::Key_Space);
    EVENTUALLY(find<QLabel>(objectName::kExportState)->text().startsWith(QStringLiteral("Wrote")));
    EVENTUALLY(find(objectName::kExportStart)->hasFocus());
    click(objectName::kExportClose);
    EXPECT_TRUE(grid->hasFocus()) << "closing leads back to the rows";
    window_->currentSheet()->result()->openExport();
    find(objectName::kExportFile)->setFocus();
    key(Qt::Key_Escape);
    EXPECT_EQ(find(objectName::kExportFile), nullptr);
    EXPECT_TRUE(grid->hasFocus());
}

TEST_F(TrustWindowTest, AnotherThemeReachesSheetsThatAreHiddenAndWindowsOfTheirOwn) {
    openAndRun(QStringLiteral("SELECT * FROM plot"));
    find("card1")->setFocus();
    key(Qt::Key_W);
    openSheet(QStringLiteral("SELECT 2"));
    window_->chooseTheme(QStringLiteral("lamplight"));
    const auto isDark = [](QWidget* widget) {
        return widget->grab().toImage().pixelColor(widget->width() - 20, widget->height() - 20).lightness() < 100;
    };
    EXPECT_TRUE(isDark(find(objectName::kEditor)));
    auto* tabs = find<QTabBar>(objectName::kSheetTabs);
    tabs->setCurrentIndex(tabs->currentIndex() - 1);
    EXPECT_TRUE(isDark(window_->currentSheet()));
    QWidget* own = nullptr;
    for (QWidget* widget : QApplication::topLevelWidgets()) {
        if (widget->objectName() == QStringLiteral("resultWindow")) own = widget;
    }
    ASSERT_NE(own, nullptr);
    EXPECT_TRUE(isDark(own));
    window_->chooseTheme(QStringLiteral("daylight"));
    EXPECT_FALSE(isDark(own));
    EXPECT_FALSE(isDark(window_->currentSheet()));
}

TEST_F(TrustWindowTest, AChoiceThatIsLeftChangesNothing) {
    addConnection(QStringLiteral("kitchen"), db::Environment::Local, "sage");
    openSheet(QStringLiteral("SELECT 1"));
    click(objectName::kBandConnection);
    auto* input = window_->findChild<QLineEdit*>(QLatin1String(objectName::kPickInput));
    ASSERT_NE(input, nullptr);
    QTest::keyClicks(input, QStringLiteral("no such name"));
    QTest::keyClick(input, Qt::Key_Return);
    EXPECT_EQ(sheet().connectionId(), QStringLiteral("orchard"));
    QTest::keyClick(input, Qt::Key_Escape);
    EVENTUALLY(window_->findChild<QLineEdit*>(QLatin1String(objectName::kPickInput)) == nullptr);
    EXPECT_EQ(sheet().connectionId(), QStringLiteral("orchard"));
}

/// What a widget shows with the focus and without it.
bool looksFocused(QWidget* focus) {
    QWidget* around = focus->window();
    const QImage with = around->grab().toImage();
    focus->clearFocus();
    QCoreApplication::processEvents();
    const QImage without = around->grab().toImage();
    focus->setFocus(Qt::TabFocusReason);
    return with != without;
}

TEST_F(TrustWindowTest, TheRoundOfThePartsIsSeenAtEachStop) {
    QApplication::setCursorFlashTime(0);
    openAndRun(QStringLiteral("SELECT plot_id, name FROM plot"));
    EVENTUALLY(hasCatalog());
    find(objectName::kEditor)->setFocus();
    QStringList stops;
    for (int i = 0; i < 4; ++i) {
        key(Qt::Key_F6);
        QWidget* focus = QApplication::focusWidget();
        ASSERT_NE(focus, nullptr);
        EXPECT_TRUE(focus->isVisible());
        EXPECT_FALSE(focus->accessibleName().isEmpty()) << fromQt(focus->objectName());
        EXPECT_TRUE(looksFocused(focus)) << fromQt(focus->objectName());
        stops += focus->objectName();
    }
    EXPECT_THAT(stops,
                testing::ElementsAre(QLatin1String(objectName::kResultGrid), QLatin1String(objectName::kCloseUpRow),
                                     QLatin1String(objectName::kCatalogFind), QLatin1String(objectName::kEditor)));
}

TEST_F(TrustWindowTest, TheTabKeyGoesRoundTheSheetAndIsSeenAtEachStop) {
    openAndRun(QStringLiteral("SELECT plot_id, name FROM plot"));
    EVENTUALLY(hasCatalog());
    find(objectName::kCatalogFind)->setFocus();
    QList<QWidget*> stops;
    for (int i = 0; i < 60; ++i) {
        key(Qt::Key_Tab);
        QWidget* focus = QApplication::focusWidget();
        ASSERT_NE(focus, nullptr);
        if (focus->objectName() == QLatin1String(objectName::kEditor)) {  // there Tab writes: on by F6
            EXPECT_FALSE(stops.contains(focus));
            stops += focus;
            key(Qt::Key_F6);
            stops += QApplication::focusWidget();
            continue;
        }
        if (stops.contains(focus)) break;
        EXPECT_TRUE(focus->isVisibleTo(window_.get())) << fromQt(focus->objectName());
        auto* button = qobject_cast<QAbstractButton*>(focus);
        const bool isNamed = !focus->accessibleName().isEmpty() || (button != nullptr && !button->text().isEmpty());
        EXPECT_TRUE(isNamed) << focus->metaObject()->className() << " " << fromQt(focus->objectName());
        EXPECT_TRUE(looksFocused(focus)) << focus->metaObject()->className() << " " << fromQt(focus->objectName());
        stops += focus;
    }
    EXPECT_GT(stops.size(), 8);
    for (const char* wanted : {objectName::kObjectList, objectName::kEditor, objectName::kResultGrid}) {
        EXPECT_TRUE(std::ranges::any_of(stops, [&](QWidget* w) { return w->objectName() == QLatin1String(wanted); }))
            << wanted;
    }
}

TEST_F(TrustWindowTest, ZoomEnlargesCatalogCloseUpPopupsAndForms) {
    openAndRun(QStringLiteral("SELECT plot_id, name FROM plot"));
    EVENTUALLY(hasCatalog());
    auto* objects = find<QListView>(objectName::kObjectList);
    const auto rowHeight = [&] { return objects->visualRect(objects->model()->index(1, 0)).height(); };
    const auto heightOf = [&](const char* name) { return find(name)->sizeHint().height(); };
    const int row = rowHeight();
    const int tab = heightOf(objectName::kCatalogTab);
    const int band = find(objectName::kContextBand)->height();
    const int tray = find(objectName::kTray)->height();
    find(objectName::kEditor)->setFocus();
    for (int i = 0; i < 5; ++i) key(Qt::Key_Plus, Qt::ControlModifier);
    EVENTUALLY(rowHeight() > row);
    EXPECT_GE(rowHeight(), row * 14 / 10);
    EXPECT_GT(heightOf(objectName::kCatalogTab), tab);
    EXPECT_EQ(find(objectName::kContextBand)->height(), band * 15 / 10);
    EXPECT_GT(find(objectName::kTray)->height(), tray);
    EXPECT_EQ(QApplication::font().pixelSize(), 20) << "13 at the usual size: menus and popups follow it";
    // A form that was never shown is as large, and the usual size brings everything back.
    window_->showConnections();
    EXPECT_GE(find(objectName::kConnectionForm)->width(), 600);
    key(Qt::Key_0, Qt::ControlModifier);
    EVENTUALLY(QApplication::font().pixelSize() == 13);
    EXPECT_EQ(find(objectName::kConnectionForm)->width(), 452);
}

TEST_F(TrustWindowTest, OnlyTheTickedColumnsStay) {
    openAndRun(QStringLiteral("SELECT * FROM plot"));
    key(Qt::Key_G, Qt::ControlModifier);
    QWidget* panel = nullptr;
    EVENTUALLY((panel = QApplication::activePopupWidget()) != nullptr);
    auto* list = panel->findChild<QListWidget*>();
    auto* none = panel->findChild<QPushButton*>(QStringLiteral("columnsUntickAll"));
    QTest::mouseClick(none, Qt::LeftButton);
    const auto* grid = find<GridView>(objectName::kResultGrid);
    const auto shown = [&] {
        int count = 0;
        for (int c = 0; c < grid->model()->columnCount(); ++c) count += grid->isColumnHidden(c) ? 0 : 1;
        return count;
    };
    EXPECT_EQ(shown(), grid->model()->columnCount()) << "without a column there is no grid";
    list->item(2)->setCheckState(Qt::Checked);
    EXPECT_EQ(shown(), 1);
    EXPECT_FALSE(grid->isColumnHidden(2));
    list->item(0)->setCheckState(Qt::Checked);
    EXPECT_EQ(shown(), 2);
    panel->close();
}

TEST_F(TrustWindowTest, TheConnectionsFoldAndTheCardLeavesTheListItsRoom) {
    for (const char* id : {"a", "b", "c", "d", "e", "f", "g", "h"}) {
        db::ConnectionProfile p;
        p.id = id;
        p.name = std::string("Records ") + id;
        p.database = (folder_ / "orchard.db").string();
        desk_->connections().put(p);
    }
    window_->resize(1280, 800);
    openSheet();
    EVENTUALLY(hasCatalog());
    auto* objects = find<QListView>(objectName::kObjectList);
    find(objectName::kCatalogFind)->setFocus();
    type(QStringLiteral("inspection"));
    EVENTUALLY(find(objectName::kObjectCard) != nullptr);
    find<QLineEdit>(objectName::kCatalogFind)->clear();
    EVENTUALLY(find(objectName::kObjectCard)->height() >= 140 && objects->height() < 300);  // laid out
    EVENTUALLY(objects->model()->rowCount() > 5);
    const int rows = objects->height() / objects->visualRect(objects->model()->index(1, 0)).height();
    EXPECT_GE(rows, 10);
    click("connectionsFold");
    EVENTUALLY(objects->height() / objects->visualRect(objects->model()->index(1, 0)).height() >= rows + 5);
    EXPECT_LT(find(objectName::kConnectionList)->height(), 40);
    closeWindow();
    openWindow();
    openSheet();
    EXPECT_LT(find(objectName::kConnectionList)->height(), 40) << "it stays folded";
    click("connectionsFold");
    EXPECT_GT(find(objectName::kConnectionList)->height(), 100);
}

TEST_F(TrustWindowTest, TheCatalogSaysWhenTheSheetRunsElsewhere) {
    addConnection(QStringLiteral("other"), db::Environment::Live, "tomato");
    openSheet();
    EVENTUALLY(hasCatalog());
    EXPECT_EQ(find("catalogOfSheet"), nullptr);
    auto* connections = find<QListWidget>(objectName::kConnectionList);
    for (int i = 0; i < connections->count(); ++i) {
        if (connections->item(i)->text() == QStringLiteral("other")) connections->setCurrentRow(i);
    }
    auto* elsewhere = find<QPushButton>("catalogOfSheet");
    ASSERT_NE(elsewhere, nullptr);
    EXPECT_EQ(elsewhere->text(), QStringLiteral("Sheet runs on Orchard records"));
    click("catalogOfSheet");
    EXPECT_EQ(connections->currentItem()->text(), QStringLiteral("Orchard records"));
    EXPECT_EQ(find("catalogOfSheet"), nullptr);
}

TEST_F(TrustWindowTest, TheCloseUpBeginsWithWhoAndWhere) {
    openAndRun(QStringLiteral("DELETE FROM frost_alert WHERE 0"));
    EVENTUALLY(find<QLabel>("closeUpServer") != nullptr);
    EVENTUALLY(find<QLabel>("closeUpServer")->text().contains(QStringLiteral("connected since")));
    EXPECT_TRUE(find<QLabel>("closeUpServer")->text().startsWith(QStringLiteral("Orchard records · trial")));
}

TEST_F(TrustWindowTest, TheConnectionsUsedLastStandInARowAboveTheCards) {
    for (const char* id : {"a", "b", "c", "d"}) addConnection(QLatin1String(id), db::Environment::Local, "sage");
    openAndRun(QStringLiteral("SELECT 1"));
    window_->openSheet(QStringLiteral("c"), QStringLiteral("SELECT 2"));
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(isOver(0));
    window_->showConnections();
    EVENTUALLY(find<QPushButton>("usedLast") != nullptr);
    QStringList names;
    for (auto* button : window_->findChildren<QPushButton*>(QStringLiteral("usedLast"))) {
        if (button->isVisible()) names += button->text();
    }
    EXPECT_THAT(names, testing::ElementsAre(QStringLiteral("c"), QStringLiteral("Orchard records")));
    click("usedLast");
    EXPECT_EQ(sheet().connectionId(), QStringLiteral("c"));
}

TEST_F(TrustWindowTest, WhatNoFontHasShowsAsItsCode) {
    openAndRun(QStringLiteral("SELECT 'apple' AS a, char(0x10FFF0) AS b, 'é €' AS c"));
    const QAbstractItemModel* rows = find<GridView>(objectName::kResultGrid)->model();
    EXPECT_EQ(rows->index(0, 0).data().toString(), QStringLiteral("apple"));
    EXPECT_EQ(rows->index(0, 1).data().toString(), QStringLiteral("⟨U+10FFF0⟩"));
    EXPECT_EQ(rows->index(0, 2).data().toString(), QStringLiteral("é €"));
}

}  // namespace
}  // namespace pantry::app
