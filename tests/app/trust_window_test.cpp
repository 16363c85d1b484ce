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

#include "app/theme/theme.h"
#include "app/window_fixture.h"

namespace pantry::app {
namespace {

class TrustWindowTest : public WindowTest {
protected:
    /// Another connection, to a database of the same shape with other rows.
    void addConnection(const QString& id, db::Environment environment, const std::string& colour) {
        ASSERT_TRUE(demo::writeOrchard(folder_ / (fromQt(id) + ".db"), true));
        db::ConnectionProfile p;
        p.id = fromQt(id);
        p.name = fromQt(id);
        p.database = (folder_ / (fromQt(id) + ".db")).string();
        p.environment = environment;
        p.colour = colour;
        desk_->putProfile(p);
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
    sheet().fetchAll(card(0));
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
    EXPECT_EQ(sheet().cards().size(), 1U);
    EXPECT_EQ(remarks_.size(), 2);
    EXPECT_THAT(fromQt(remarks_.front()), testing::HasSubstr("running already"));
    click(objectName::kStopButton);
    EVENTUALLY(isOver(0));
    key(Qt::Key_Return, Qt::ControlModifier);
    EXPECT_EQ(sheet().cards().size(), 2U) << "afterwards it is another run";
    sheet().stop();
    EVENTUALLY(isOver(1));
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
    for (const Card* one : sheet().cards()) EXPECT_EQ(one->statement().find("DELETE"), std::string::npos);
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
        db::ConnectionProfile p = *desk_->profile(QStringLiteral("orchard"));
        p.id = colour;
        p.name = colour;
        p.environment = db::Environment::Local;
        p.colour = colour;
        desk_->putProfile(p);
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
        EXPECT_EQ(desk_->profile(QLatin1String(colour))->environment, db::Environment::Live);
        EXPECT_EQ(desk_->profile(QLatin1String(colour))->colour, wanted);
    }
}

TEST_F(TrustWindowTest, TheFirstPartOfALongNameStaysInSightInANarrowWindow) {
    db::ConnectionProfile p = *desk_->profile(QStringLiteral("orchard"));
    p.name = "Larkspur Vale orchard records of all the years since the flood of the lower meadows";
    desk_->putProfile(p);
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
    sheet().setCommitsByHand(true);
    sheet().runStatement("DELETE FROM frost_alert WHERE 1 = 0");
    EVENTUALLY(sheet().sessionState().line.transaction == db::TransactionState::Open);
    window_->activateWindow();  // a window system does so when a popup goes
    EVENTUALLY(QApplication::focusWidget() != nullptr);
    key(Qt::Key_Z, Qt::ControlModifier | Qt::AltModifier);
    EVENTUALLY(sheet().sessionState().line.transaction == db::TransactionState::None);
    key(Qt::Key_F10);
    EXPECT_NE(window_->menuBar()->activeAction(), nullptr);
    window_->menuBar()->setActiveAction(nullptr);
    for (const QAction* action : window_->menuBar()->actions()) {
        EXPECT_TRUE(action->text().contains(QLatin1Char('&'))) << fromQt(action->text());
    }
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
        QStringList out;
        auto* list = find<QListWidget>(objectName::kReachList);
        for (int i = 0; i < list->count(); ++i) {
            if (list->item(i)->data(Qt::UserRole).toString() != QStringLiteral("ledger")) out += list->item(i)->text();
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
            {QStringLiteral("orchard"), {}, {.kind = db::ObjectKind::Table, .schema = "main", .name = table}});
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
    sheet().runStatement("SELECT 'second'");
    EVENTUALLY(isOver(1));
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_2, Qt::ControlModifier | Qt::ShiftModifier);
    auto* list = find<QListWidget>(objectName::kLedgerList);
    const auto holds = [list](const QString& words) {
        for (int i = 0; i < list->count(); ++i) {
            if (list->item(i)->text().contains(words)) return i;
        }
        return -1;
    };
    EVENTUALLY(holds(QStringLiteral("second")) > 0 && holds(QStringLiteral("first of")) > 0);
    list->setFocus();
    list->setCurrentRow(holds(QStringLiteral("second")));
    key(Qt::Key_Delete);
    EVENTUALLY(holds(QStringLiteral("second")) < 0);
    EXPECT_GT(holds(QStringLiteral("first of")), 0);
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

}  // namespace
}  // namespace pantry::app
