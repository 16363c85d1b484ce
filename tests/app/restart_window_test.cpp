// What is there again after the program was closed and started anew.
#include <gmock/gmock.h>

#include "app/result/result_names.h"
#include "app/window_fixture.h"

namespace pantry::app {
namespace {

class RestartWindowTest : public WindowTest {
protected:
    void run(const QString& text, std::size_t count) {
        openSheet(text);
        window_->currentSheet()->runAll();
        EVENTUALLY(isOver(count - 1));
    }
    void restart() {
        closeWindow();
        openWindow();
        EVENTUALLY(window_->currentSheet() != nullptr);
    }
};

TEST_F(RestartWindowTest, ResultsAreThereAgainWithTheirRows) {
    run(QStringLiteral("SELECT 'Cox' AS variety, 4 AS trees;\nSELECT * FROM no_such_table;"), 2);
    card(0)->rename(QStringLiteral("Coxes"));
    card(0)->setPinned(true);
    restart();
    EVENTUALLY(card(1) != nullptr);
    EXPECT_EQ(card(0)->title(), QStringLiteral("Coxes"));
    EXPECT_TRUE(card(0)->isPinned());
    ASSERT_NE(card(0)->view(), nullptr);
    EXPECT_EQ(data::toText(card(0)->result()->cell(0, 0)), "Cox");
    EXPECT_EQ(card(1)->state(), Card::State::Failed);
    EXPECT_EQ(window_->currentSheet()->sheet().statementOf(card(0)), 0) << "it belongs to its statement";
    window_->currentSheet()->tray()->choose(card(0));
    auto* grid = window_->currentSheet()->result()->grid();
    EVENTUALLY(grid->model()->rowCount() == 1);
    EXPECT_EQ(grid->model()->index(0, 1).data().toString(), QStringLiteral("4"));
    // It can be worked with as before: run again, into the same card.
    window_->currentSheet()->sheet().runs().rerun(card(0)->runPtr());
    EVENTUALLY(isOver(0) && card(0)->rowCount() == 1);
    EXPECT_EQ(window_->currentSheet()->sheet().cards().size(), 2U);
}

TEST_F(RestartWindowTest, ManyRowsAreToldAndReadAgain) {
    run(QStringLiteral("WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n LIMIT 2500) SELECT i FROM n;"),
        1);
    card(0)->fetchAll();
    EVENTUALLY(card(0)->state() == Card::State::Done);
    restart();
    EVENTUALLY(card(0) != nullptr);
    EXPECT_EQ(card(0)->result(), nullptr);
    EXPECT_THAT(fromQt(card(0)->outcomeText()), testing::HasSubstr("500 rows"));
    EVENTUALLY(find<QLabel>(resultName::kResultText) != nullptr);  // after the first picture
    const QString told = find<QLabel>(resultName::kResultText)->text();
    EXPECT_TRUE(told.contains(QStringLiteral("too many to be kept"))) << fromQt(told);
}

TEST_F(RestartWindowTest, RemovedResultsStayAway) {
    run(QStringLiteral("SELECT 1;\nSELECT 2;"), 2);
    auto& sheet = window_->currentSheet()->sheet();
    sheet.runs().remove(card(0)->runPtr());
    restart();
    EVENTUALLY(card(0) != nullptr);
    EXPECT_EQ(window_->currentSheet()->sheet().cards().size(), 1U);
    EXPECT_EQ(card(0)->statement().text(), "SELECT 2");
    EXPECT_EQ(card(0)->number(), 2);
    window_->currentSheet()->runAtCaret();
    EVENTUALLY(isOver(1));
    EXPECT_EQ(card(1)->number(), 3) << "numbers go on";
}

TEST_F(RestartWindowTest, ASheetThatIsReopenedHasItsResults) {
    run(QStringLiteral("SELECT 'quince' AS fruit;"), 1);
    key(Qt::Key_W, Qt::ControlModifier);
    EVENTUALLY(window_->sheets().empty());
    key(Qt::Key_T, Qt::ControlModifier | Qt::ShiftModifier);
    EVENTUALLY(window_->currentSheet() != nullptr && card(0) != nullptr);
    ASSERT_NE(card(0)->view(), nullptr);
    EXPECT_EQ(data::toText(card(0)->result()->cell(0, 0)), "quince");
}

}  // namespace
}  // namespace pantry::app
