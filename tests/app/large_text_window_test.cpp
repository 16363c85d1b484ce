#include <fmt/format.h>

#include <QClipboard>
#include <QFile>

#include <fstream>

#include "app/window_fixture.h"
#include "core/base/file.h"
#include "core/base/soft_breaks.h"
#include "core/store/sheet_store.h"

namespace pantry::app {
namespace {

/// Texts larger than anybody writes by hand: a dump, a list of a hundred thousand keys, a document in one line.
class LargeTextWindowTest : public WindowTest {
protected:
    static std::string longLine(std::size_t bytes) {
        std::string line = "SELECT length('";
        for (int i = 0; line.size() < bytes; ++i) line += fmt::format("tree {}, ", i);
        return line + "')";
    }
    static std::string manyLines(std::size_t bytes) {
        std::string text;
        for (int i = 0; text.size() < bytes; ++i) text += fmt::format("SELECT {} AS n;\n", i);
        return text;
    }
    void open(const std::string& text) {
        const auto path = folder_ / "large.sql";
        std::ofstream(path) << text;
        const auto before = window_->currentSheet();
        window_->openFile(toQt(path.string()));
        EVENTUALLY(window_->currentSheet() != before && window_->currentSheet() != nullptr);
        find(objectName::kEditor)->setFocus();
        awaitReading();
    }
    SqlEditor* editor() { return window_->currentSheet()->editor(); }
    Sheet& sheet() { return window_->currentSheet()->sheet(); }
    /// What the file of the sheet says, as another start would read it.
    std::string kept() {
        desk_->flush();
        const auto file = home().sheetsFolder() / (sheet().id() + ".json");
        const auto document = base::readFile(file.string());
        return document ? *document : std::string();
    }
    [[nodiscard]] bool isNoted() { return find(objectName::kLargeText) != nullptr; }
};

TEST_F(LargeTextWindowTest, TypingIntoAVeryLongLineChangesThatPlaceAndNothingElse) {
    const std::string text = longLine(1'000'000);
    open(text);
    EVENTUALLY(isNoted());
    EXPECT_EQ(editorText(), text);
    editor()->setCaret(500'000);
    type(QStringLiteral("twelve chars"));
    EXPECT_EQ(editorText(), text.substr(0, 500'000) + "twelve chars" + text.substr(500'000));
    EXPECT_EQ(editor()->caret(), 500'012U);
    EXPECT_EQ(editor()->caretPlace().line, 1);
    EXPECT_EQ(editor()->caretPlace().column, 500'013);
    for (int i = 0; i < 12; ++i) key(Qt::Key_Backspace);
    EXPECT_EQ(editorText(), text);
}

TEST_F(LargeTextWindowTest, KeysAtTheEndsOfARowMeanTheTextBeyondIt) {
    const std::string text = longLine(20'000);
    open(text);
    // The first byte of the second row of the line, wherever that begins.
    const std::size_t row = base::SoftBreaks::broken(text).find(base::SoftBreaks::kBreak);
    editor()->setCaret(row);
    key(Qt::Key_Backspace);
    EXPECT_EQ(editorText(), text.substr(0, row - 1) + text.substr(row));
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(editorText(), text);
    editor()->setCaret(row - 1);
    key(Qt::Key_End);
    key(Qt::Key_Delete);
    EXPECT_EQ(editorText(), text.substr(0, row) + text.substr(row + 1));
    key(Qt::Key_Z, Qt::ControlModifier);
    editor()->setCaret(row);
    key(Qt::Key_Left);
    EXPECT_EQ(editor()->caret(), row - 1);
    key(Qt::Key_Right);
    key(Qt::Key_Right);
    EXPECT_EQ(editor()->caret(), row + 1);
    key(Qt::Key_Home);
    type(QStringLiteral("x"));
    EXPECT_EQ(editorText(), text.substr(0, row) + "x" + text.substr(row));
}

TEST_F(LargeTextWindowTest, WhatIsCopiedAndPastedIsTheText) {
    const std::string text = longLine(30'000);
    open(text);
    key(Qt::Key_A, Qt::ControlModifier);
    key(Qt::Key_C, Qt::ControlModifier);
    EXPECT_EQ(fromQt(QApplication::clipboard()->text()), text);
    openSheet();
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_V, Qt::ControlModifier);
    EXPECT_EQ(editorText(), text);
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(editorText(), "");
    key(Qt::Key_Y, Qt::ControlModifier);
    EXPECT_EQ(editorText(), text);
}

TEST_F(LargeTextWindowTest, ALineThatGrowsWhileSomebodyTypesIsBrokenIntoRows) {
    openSheet(QStringLiteral("-- ") + QString(2'030, QLatin1Char('x')));
    find(objectName::kEditor)->setFocus();
    type(QString(40, QLatin1Char('y')));
    QCoreApplication::processEvents();
    EXPECT_EQ(editorText(), "-- " + std::string(2'030, 'x') + std::string(40, 'y'));
    type(QStringLiteral("z"));
    EXPECT_EQ(editorText(), "-- " + std::string(2'030, 'x') + std::string(40, 'y') + "z");
    EXPECT_EQ(editor()->caretPlace().line, 1);
    EXPECT_FALSE(isNoted()) << "colours and marks stay where a line is long and the text is not";
}

TEST_F(LargeTextWindowTest, CommentingALongLineTouchesItsBeginningOnly) {
    const std::string text = longLine(20'000);
    open(text);
    key(Qt::Key_A, Qt::ControlModifier);
    key(Qt::Key_Slash, Qt::ControlModifier);
    EXPECT_EQ(editorText(), "-- " + text);
    key(Qt::Key_A, Qt::ControlModifier);
    key(Qt::Key_Tab);
    EXPECT_EQ(editorText(), "    -- " + text);
}

TEST_F(LargeTextWindowTest, RunsWhatTheCaretMeansAndIsKept) {
    const std::string text = manyLines(3'000'000);
    open(text);
    EVENTUALLY(isNoted());
    const std::string wanted = "SELECT 100000 AS n";
    editor()->setCaret(text.find(wanted) + 3);
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(isOver(0));
    EXPECT_EQ(card(0)->statement().text(), wanted);
    EXPECT_EQ(card(0)->outcomeText(), QStringLiteral("1 row"));
    type(QStringLiteral("/* here */"));
    const std::string after = editorText();
    EXPECT_NE(after, text);
    EVENTUALLY(kept().find("SEL/* here */ECT 100000") != std::string::npos);
    closeWindow();
    openWindow();
    ASSERT_NE(window_->currentSheet(), nullptr);
    EXPECT_EQ(editorText(), after);
}

TEST_F(LargeTextWindowTest, KeysLeadThroughAllPartsOfAText) {
    const std::string text = manyLines(3'000'000);
    const auto lines = static_cast<long>(std::ranges::count(text, '\n'));
    open(text);
    editor()->setCaret(0);
    EXPECT_TRUE(editor()->part().isFirst);
    EXPECT_FALSE(editor()->part().isLast);
    key(Qt::Key_End, Qt::ControlModifier);
    EXPECT_EQ(editor()->caret(), text.size());
    EXPECT_TRUE(editor()->part().isLast);
    EXPECT_EQ(editor()->caretPlace().line, lines + 1);
    type(QStringLiteral("-- the end"));
    EXPECT_EQ(editorText(), text + "-- the end");
    click(objectName::kEarlierPart);
    EXPECT_FALSE(editor()->part().isLast);
    const long before = editor()->part().firstLine;
    EXPECT_GT(before, 1);
    // Down, line by line, over the edge of what is shown.
    editor()->setCaret(0);
    const long edge = editor()->part().lastLine;
    const std::size_t line = text.find(fmt::format("SELECT {} AS", edge - 30));
    editor()->setCaret(line);
    for (int i = 0; i < 60; ++i) key(Qt::Key_Down);
    EXPECT_GT(editor()->part().lastLine, edge);
    EXPECT_EQ(editor()->caretPlace().line, std::ranges::count(text.substr(0, line), '\n') + 61);
    key(Qt::Key_Home, Qt::ControlModifier);
    EXPECT_EQ(editor()->caret(), 0U);
    type(QStringLiteral("x"));
    EXPECT_EQ(editorText(), "x" + text + "-- the end");
}

TEST_F(LargeTextWindowTest, APartThatBeginsWithinALineGoesOnSeamlessly) {
    const std::string text = longLine(3'000'000);
    open(text);
    for (const std::size_t at : {std::size_t(1'500'000), text.size(), std::size_t(0), std::size_t(700'001)}) {
        editor()->setCaret(at);
        EXPECT_EQ(editor()->caret(), at);
        EXPECT_EQ(editor()->caretPlace().line, 1);
        type(QStringLiteral("y"));
        EXPECT_EQ(editorText(), text.substr(0, at) + "y" + text.substr(at));
        key(Qt::Key_Backspace);
        ASSERT_EQ(editorText() == text, true);
    }
}

TEST_F(LargeTextWindowTest, SelectingEverythingOfAPartSaysThatItIsAPart) {
    open(manyLines(2'000'000));
    QStringList remarks;
    QObject::connect(window_->currentSheet(), &SheetPage::remarked, window_.get(),
                     [&](const QString& words) { remarks += words; });
    key(Qt::Key_A, Qt::ControlModifier);
    EXPECT_EQ(remarks, QStringList(QStringLiteral("The part that is shown is selected, not the whole text.")));
}

TEST_F(LargeTextWindowTest, WhatWasTypedInOnePartIsTakenBackFromAnother) {
    const std::string text = manyLines(3'000'000);
    open(text);
    editor()->setCaret(0);
    type(QStringLiteral("first "));
    key(Qt::Key_End, Qt::ControlModifier);
    EVENTUALLY(editor()->part().isLast);
    type(QStringLiteral("last"));
    key(Qt::Key_Home, Qt::ControlModifier);
    EVENTUALLY(editor()->part().isFirst);
    EXPECT_EQ(editorText(), "first " + text + "last");
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(editorText(), "first " + text);
    EXPECT_TRUE(editor()->part().isLast) << "it is shown where that was";
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(editorText(), text);
    EXPECT_EQ(editor()->caret(), 0U);
    key(Qt::Key_Y, Qt::ControlModifier);
    key(Qt::Key_Y, Qt::ControlModifier);
    EXPECT_EQ(editorText(), "first " + text + "last");
    editor()->setCaret(0);
    type(QStringLiteral("x"));
    key(Qt::Key_Z, Qt::ControlModifier);
    key(Qt::Key_Y, Qt::ControlModifier);
    EXPECT_EQ(editorText(), "xfirst " + text + "last");
}

TEST_F(LargeTextWindowTest, ReplacingAllOfALargeTextIsOneStep) {
    const std::string text = manyLines(1'200'000);
    open(text);
    const std::string other = manyLines(2'000'000) + "-- all";
    editor()->replaceText(other, 5);
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(editorText(), text);
    key(Qt::Key_Y, Qt::ControlModifier);
    EXPECT_EQ(editorText(), other);
}

TEST_F(LargeTextWindowTest, AStatementThatIsAppendedStandsBehindAllOfIt) {
    const std::string text = manyLines(2'000'000);
    open(text);
    editor()->setCaret(0);
    window_->currentSheet()->appendStatement("SELECT 'appended'");
    const std::string after = editorText();
    EXPECT_TRUE(after.starts_with(text));
    EXPECT_TRUE(after.ends_with("SELECT 'appended';"));
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(isOver(0));
    EXPECT_EQ(card(0)->statement().text(), "SELECT 'appended'");
}

TEST_F(LargeTextWindowTest, ALongStatementRunsAndItsErrorIsShownAtItsPlace) {
    const std::string text = longLine(200'000) + " FROM nowhere";
    open(text);
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(isOver(0));
    EXPECT_EQ(card(0)->state(), Card::State::Failed);
    EXPECT_EQ(card(0)->statement().text(), text);
    EXPECT_THAT(fromQt(card(0)->outcomeText()), testing::HasSubstr("nowhere"));
}

TEST_F(LargeTextWindowTest, HelpersComeBackWhenTheTextHasBecomeSmall) {
    open(longLine(300'000));
    EVENTUALLY(isNoted());
    key(Qt::Key_A, Qt::ControlModifier);
    type(QStringLiteral("SELECT 1"));
    EVENTUALLY(!isNoted());
    EVENTUALLY(sheet().script().statements().size() == 1U);
}

TEST_F(LargeTextWindowTest, ThousandsOfStatementsRunInOrder) {
    std::string text;
    constexpr int kStatements = 600;
    for (int i = 1; i <= kStatements; ++i) text += fmt::format("SELECT {};\n", i);
    openSheet(toQt(text));
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_Return, Qt::ControlModifier | Qt::ShiftModifier);
    const std::string last = fmt::format("SELECT {}", kStatements);
    EVENTUALLY(!sheet().isRunning() && !sheet().cards().empty() && sheet().cards().back()->statement().text() == last);
    EXPECT_EQ(sheet().cards().back()->number(), kStatements);
    EXPECT_LE(sheet().cards().size(), 200U) << "the latest stay, all are in the ledger";
}

TEST_F(LargeTextWindowTest, NothingRunsBehindAStatementThatFailed) {
    std::string text = "SELECT 1;\nSELECT nothing;\n";
    for (int i = 0; i < 100; ++i) text += "INSERT INTO plot(name) VALUES ('never');\n";
    openSheet(toQt(text));
    find(objectName::kEditor)->setFocus();
    QStringList remarks;
    QObject::connect(&sheet(), &Sheet::remarked, window_.get(), [&](const QString& words) { remarks += words; });
    key(Qt::Key_Return, Qt::ControlModifier | Qt::ShiftModifier);
    EVENTUALLY(!remarks.isEmpty());
    EXPECT_THAT(fromQt(remarks.join(QLatin1Char('\n'))), testing::HasSubstr("statements behind it not run."));
    EVENTUALLY(!sheet().isRunning());
    openSheet(QStringLiteral("SELECT count(*) FROM plot WHERE name = 'never'"));
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(isOver(0));
    EXPECT_EQ(window_->currentSheet()->result()->model()->index(0, 0).data().toString(), QStringLiteral("0"));
}

TEST_F(LargeTextWindowTest, StopEndsWhatWaitsToo) {
    std::string text = "WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n) SELECT max(i) FROM n;\n";
    for (int i = 0; i < 100; ++i) text += fmt::format("SELECT {};\n", i);
    openSheet(toQt(text));
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_Return, Qt::ControlModifier | Qt::ShiftModifier);
    EVENTUALLY(card(0) != nullptr && card(0)->state() == Card::State::Running);
    click(objectName::kStopButton);
    EVENTUALLY(!sheet().isRunning());
    QTest::qWait(50);
    for (const Card* one : sheet().cards()) EXPECT_NE(one->state(), Card::State::Done) << one->statement().text();
}

}  // namespace
}  // namespace pantry::app
