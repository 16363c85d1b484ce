// The page of everything that ran, in the real window with keys and mouse.
#include <gmock/gmock.h>

#include <QAbstractItemModelTester>
#include <QClipboard>
#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QPlainTextEdit>
#include <QSplitter>

#include "app/pages/ledger/ledger_page.h"
#include "app/window_fixture.h"

namespace pantry::app {
namespace {

using testing::ElementsAre;
using testing::HasSubstr;
using namespace std::chrono_literals;

class LedgerWindowTest : public WindowTest {
protected:
    /// A run of some time ago on the fixture's connection.
    void ran(const std::string& statement, store::RunEnd end = {.duration = 5ms, .rows = 3},
             std::chrono::minutes ago = 0min, const std::string& name = {}) {
        const db::ConnectionProfile& own = desk_->connections().profiles().front();
        auto ledger = store::Ledger::open(home().ledgerFile());
        ASSERT_TRUE(ledger);
        ASSERT_TRUE((*ledger)->import({{.startedAt = base::now() - ago,
                                        .start = {.connectionId = name.empty() ? own.id : name,
                                                  .connectionName = name.empty() ? own.name : name,
                                                  .engine = "sqlite",
                                                  .statement = statement},
                                        .end = std::move(end)}}));
    }
    void open() {
        window_->findChild<QAction*>(QStringLiteral("command.view.wholeLedger"))->trigger();
        EVENTUALLY(find("ledgerWholePage") != nullptr);
        page_ = static_cast<LedgerPage*>(find("ledgerWholePage"));
    }
    std::vector<std::string> found() {
        std::vector<std::string> all;
        for (int i = 0; i < page_->model().rowCount(); ++i) {
            const auto* fold = page_->model().foldAt(page_->model().index(i));
            if (fold != nullptr) all.push_back(fold->last.start.statement);
        }
        return all;
    }
    /// The entry of a statement, whichever day it stands below: around midnight there are more headings.
    void choose(const std::string& statement) {
        for (int i = 0; i < page_->model().rowCount(); ++i) {
            const auto* fold = page_->model().foldAt(page_->model().index(i));
            if (fold == nullptr || fold->last.start.statement != statement) continue;
            return find<QListView>("ledgerFolds")->setCurrentIndex(page_->model().index(i));
        }
        FAIL() << statement;
    }
    void look(const QString& text) {
        find<QLineEdit>("ledgerPageFind")->setFocus();
        find<QLineEdit>("ledgerPageFind")->selectAll();
        type(text);
    }
    std::string words(const char* label) { return fromQt(page_->findChild<QLabel*>(QLatin1String(label))->text()); }

    LedgerPage* page_ = nullptr;
};

TEST_F(LedgerWindowTest, APlanThatWasAskedForStandsWithItsRun) {
    openSheet(QStringLiteral("SELECT 1;\nEXPLAIN QUERY PLAN SELECT * FROM plot WHERE plot_id = 3;"));
    window_->currentSheet()->runAll();
    EVENTUALLY(isOver(1));
    open();
    EVENTUALLY(found().size() == 2);
    const auto* plan = page_->findChild<QPlainTextEdit*>(QStringLiteral("runPlan"));
    EVENTUALLY(plan->isVisible());
    EXPECT_THAT(fromQt(plan->toPlainText()), HasSubstr("SEARCH plot USING INTEGER PRIMARY KEY"));
    look(QStringLiteral("-explain"));
    EVENTUALLY(found() == std::vector<std::string>{"SELECT 1"});
    EVENTUALLY(!plan->isVisible());
}

TEST_F(LedgerWindowTest, TheChosenRunStandsBelowWhereThereIsNoRoomBeside) {
    openSheet({});
    ran("SELECT * FROM plot");
    open();
    EVENTUALLY(found().size() == 1);
    const auto* splitter = page_->findChild<QSplitter*>(QStringLiteral("ledgerSplitter"));
    const int wide = page_->width();
    EXPECT_EQ(splitter->orientation(), wide < 860 ? Qt::Vertical : Qt::Horizontal);
    window_->resize(900, 700);
    EVENTUALLY(splitter->orientation() == Qt::Vertical);
    const auto* details = page_->findChild<QWidget*>(QStringLiteral("runDetails"));
    EVENTUALLY(details->mapTo(page_, QPoint(details->width(), 0)).x() <= page_->width() + 1);
    window_->resize(1900, 900);
    EVENTUALLY(splitter->orientation() == Qt::Horizontal);
}

TEST_F(LedgerWindowTest, EqualRunsAreOneEntryAndTheFindFieldNarrows) {
    openSheet({});
    ran("SELECT * FROM plot WHERE plot_id = 1", {.duration = 5ms, .rows = 3}, 60min);
    ran("SELECT * FROM plot WHERE plot_id = 2", {.duration = 6ms, .rows = 9}, 30min);
    ran("DELETE FROM tree", {.status = store::RunStatus::Failed, .error = "locked by a warden"}, 20min);
    open();
    const QAbstractItemModelTester tester(&page_->model(), QAbstractItemModelTester::FailureReportingMode::Fatal);
    EVENTUALLY(found().size() == 2);
    EXPECT_THAT(found(), ElementsAre("DELETE FROM tree", "SELECT * FROM plot WHERE plot_id = 2"));
    look(QStringLiteral("table:plot -failed"));
    EVENTUALLY(found().size() == 1);
    EXPECT_EQ(page_->findChildren<QPushButton*>(QStringLiteral("ledgerTerm")).size(), 2);
    EXPECT_EQ(page_->model().foldAt(page_->model().firstFold())->runs, 2);
    look(QStringLiteral("warden"));
    EVENTUALLY((found() == std::vector<std::string>{"DELETE FROM tree"}));
    EXPECT_THAT(words("runOutcome"), HasSubstr("locked by a warden"));
    look(QStringLiteral("rows>many"));
    EVENTUALLY(page_->findChild<QLabel*>(QStringLiteral("ledgerProblem")) != nullptr);
    EXPECT_THAT(words("ledgerProblem"), HasSubstr("rows>1000"));
    look(QStringLiteral("nothing like it"));
    EVENTUALLY(found().empty());
    EVENTUALLY(words("ledgerState") == "No run fits.");
}

TEST_F(LedgerWindowTest, ATermIsTakenOutByAClick) {
    openSheet({});
    ran("SELECT 1");
    open();
    look(QStringLiteral("failed select"));
    EVENTUALLY(found().empty() && page_->findChildren<QPushButton*>(QStringLiteral("ledgerTerm")).size() == 2);
    QTest::mouseClick(page_->findChildren<QPushButton*>(QStringLiteral("ledgerTerm")).front(), Qt::LeftButton);
    EVENTUALLY(found().size() == 1);
    EXPECT_EQ(find<QLineEdit>("ledgerPageFind")->text(), QStringLiteral("select"));
}

TEST_F(LedgerWindowTest, OneWalksFromRunToRunAndSeesWhatDiffers) {
    openSheet({});
    ran("SELECT * FROM plot WHERE plot_id = 1", {.duration = 5ms, .rows = 3}, 60min);
    ran("SELECT * FROM plot WHERE plot_id = 2", {.duration = 6ms, .rows = 9}, 30min);
    open();
    EVENTUALLY(page_->details().runs().size() == 2);
    const auto shownFacts = [&] {
        std::string all;
        for (const QLabel* label : page_->details().findChildren<QLabel*>()) all += fromQt(label->text()) + "\n";
        return all;
    };
    EXPECT_THAT(shownFacts(), HasSubstr("Value of plot_id"));
    find("ledgerFolds")->setFocus();
    key(Qt::Key_Left);
    EXPECT_EQ(page_->details().entry()->start.statement, "SELECT * FROM plot WHERE plot_id = 1");
    EVENTUALLY(shownFacts().find("Value of plot_id") == std::string::npos);  // nothing stands before the first
    key(Qt::Key_Right);
    EXPECT_EQ(page_->details().entry()->start.statement, "SELECT * FROM plot WHERE plot_id = 2");
}

TEST_F(LedgerWindowTest, AStatementRunsAgainOrGoesIntoASheet) {
    openSheet({});
    ran("SELECT count(*) FROM plot");
    open();
    EVENTUALLY(page_->details().entry() != nullptr);
    click("ledgerRunAgain");
    EVENTUALLY(window_->currentSheet() != nullptr && window_->currentSheet()->sheet().cards().size() == 1);
    EXPECT_THAT(editorText(), HasSubstr("SELECT count(*) FROM plot"));
    open();
    EVENTUALLY(page_->model().foldAt(page_->model().firstFold())->runs == 2) << "it is told at once";
    find("ledgerFolds")->setFocus();
    key(Qt::Key_Return);
    EVENTUALLY(window_->currentSheet() != nullptr);
    EXPECT_EQ(window_->currentSheet()->sheet().cards().size(), 1U) << "nothing runs by itself";
    open();
    find("ledgerFolds")->setFocus();
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(window_->currentSheet() != nullptr && window_->currentSheet()->sheet().cards().size() == 2);
}

TEST_F(LedgerWindowTest, StatisticsTellWhatRanMostAndLeadToItsRuns) {
    openSheet({});
    for (int i = 0; i < 4; ++i)
        ran("SELECT * FROM plot WHERE plot_id = " + std::to_string(i), {.duration = 5ms}, 60min);
    ran("DELETE FROM tree", {.status = store::RunStatus::Failed, .error = "locked"}, 20min);
    open();
    click("ledgerStatisticsTab");
    EVENTUALLY(find("ledgerStatistics") != nullptr);
    EVENTUALLY(words("statisticsState") == "5 runs, 1 failed");
    EVENTUALLY(find<QPushButton>("statisticsRun") != nullptr);
    auto* first = find<QPushButton>("statisticsRun");
    EXPECT_THAT(fromQt(first->text()), HasSubstr("SELECT * FROM plot"));
    QTest::mouseClick(first, Qt::LeftButton);
    EVENTUALLY(page_->details().isVisible() && page_->details().runs().size() == 4);
}

TEST_F(LedgerWindowTest, ALinkLeadsToItsRun) {
    openSheet({});
    ran("SELECT 1", {}, 20min);
    ran("SELECT name FROM plot", {}, 10min);
    open();
    EVENTUALLY(found().size() == 2);
    choose("SELECT 1");
    EVENTUALLY(page_->details().entry() != nullptr && page_->details().entry()->start.statement == "SELECT 1");
    click("ledgerCopyLink");
    const QString link = QApplication::clipboard()->text();
    EXPECT_TRUE(link.startsWith(QStringLiteral("agile-pantry:run/"))) << fromQt(link);
    choose("SELECT name FROM plot");
    EVENTUALLY(page_->details().entry()->start.statement == "SELECT name FROM plot");
    window_->openFile(link);
    EVENTUALLY(page_->details().entry()->start.statement == "SELECT 1");
    // A run that is elsewhere is told.
    window_->openFile(QStringLiteral("agile-pantry:run/1764446260123456-9ae16a3b2f90404f"));
    EVENTUALLY(find(objectName::kNotice) != nullptr);
}

TEST_F(LedgerWindowTest, ValuesStandApartAndAllRunsOfAnEntryGo) {
    openSheet({});
    for (int i = 0; i < 70; ++i) ran("SELECT * FROM plot WHERE plot_id = 1", {}, std::chrono::minutes(200 - i));
    ran("SELECT * FROM plot WHERE plot_id = 2", {}, 1min);
    open();
    EVENTUALLY(found().size() == 1);
    look(QStringLiteral("apart"));
    EVENTUALLY(found().size() == 2);
    EXPECT_EQ(page_->model().foldAt(page_->model().firstFold())->runs, 1);
    look(QStringLiteral("apart \"= 1\""));
    EVENTUALLY(found().size() == 1);
    EVENTUALLY(page_->model().foldAt(page_->model().firstFold())->runs == 70);
    EVENTUALLY(page_->details().entry() != nullptr);
    EVENTUALLY(page_->details().runs().size() == 60U);
    auto* list = find<QListView>("ledgerFolds");
    list->setFocus();
    list->setCurrentIndex(page_->model().firstFold());
    key(Qt::Key_Delete);
    EVENTUALLY(words("ledgerRemoved") == "70 runs removed from the ledger.");
    look(QStringLiteral(" "));
    EVENTUALLY((found() == std::vector<std::string>{"SELECT * FROM plot WHERE plot_id = 2"}));
}

TEST_F(LedgerWindowTest, WhatIsRemovedComesBack) {
    openSheet({});
    ran("SELECT * FROM plot WHERE plot_id = 1", {}, 60min);
    ran("SELECT * FROM plot WHERE plot_id = 2");
    ran("SELECT 5", {}, 90min);
    open();
    EVENTUALLY(page_->details().runs().size() == 2);
    find("ledgerFolds")->setFocus();
    key(Qt::Key_Delete);
    EVENTUALLY((found() == std::vector<std::string>{"SELECT 5"}));
    EVENTUALLY(find("ledgerUndo") != nullptr);
    EXPECT_EQ(words("ledgerRemoved"), "2 runs removed from the ledger.");
    click("ledgerUndo");
    EVENTUALLY(found().size() == 2);
    EXPECT_EQ(find("ledgerUndo"), nullptr);
}

TEST_F(LedgerWindowTest, StarsAndNotesAreKeptAndFound) {
    openSheet({});
    ran("SELECT 1");
    ran("SELECT a FROM b", {}, 10min);
    open();
    EVENTUALLY(page_->details().entry() != nullptr && found().size() == 2);
    click("ledgerStar");
    click("ledgerNote");
    EVENTUALLY(window_->findChild<QDialog*>(QStringLiteral("noteDialog")) != nullptr);
    auto* dialog = window_->findChild<QDialog*>(QStringLiteral("noteDialog"));
    dialog->findChild<QPlainTextEdit*>()->setPlainText(QStringLiteral("ask the warden"));
    dialog->accept();
    EVENTUALLY(words("runNote") == "ask the warden");
    look(QStringLiteral("starred warden"));
    EVENTUALLY((found() == std::vector<std::string>{"SELECT 1"}));
}

TEST_F(LedgerWindowTest, ScopesChooseWhoseRunsAreShown) {
    openSheet({});
    ran("SELECT mine");
    ran("SELECT theirs", {}, 10min, "elsewhere");
    open();
    EVENTUALLY(found().size() == 2);
    click("ledgerOfConnection");
    EVENTUALLY((found() == std::vector<std::string>{"SELECT mine"}));
    look(QStringLiteral("theirs"));
    EVENTUALLY(words("ledgerState") == "No run fits. All looks at the other connections too.");
    click("ledgerOfAll");
    EVENTUALLY((found() == std::vector<std::string>{"SELECT theirs"}));
}

TEST_F(LedgerWindowTest, TheKeyOfTheColumnPressedTwiceOpensThePage) {
    openSheet({});
    const auto press = [&] { window_->findChild<QAction*>(QStringLiteral("command.view.ledger"))->trigger(); };
    press();
    EVENTUALLY(find<QLineEdit>(objectName::kLedgerFind)->hasFocus());
    EXPECT_EQ(find("ledgerWholePage"), nullptr);
    press();
    EVENTUALLY(find("ledgerWholePage") != nullptr);
    EXPECT_TRUE(find<QLineEdit>("ledgerPageFind")->hasFocus());
}

}  // namespace
}  // namespace pantry::app
