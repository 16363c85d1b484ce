// The text component alone, without a sheet or a window around it.
#include "app/editor/sql_editor.h"

#include "app/base/text.h"
#include "app/window_fixture.h"
#include "core/sql/complete/completion.h"
#include "core/sql/syntax/script.h"

namespace pantry::app {
namespace {

class EditorTest : public testing::Test {
protected:
    EditorTest() {
        editor_.setScript(&script_);
        // Whoever owns the text keeps the script in step, as a sheet does.
        QObject::connect(&editor_, &SqlEditor::textEdited, &editor_, [this] { script_.setText(editor_.text().str()); });
        editor_.resize(600, 300);
        editor_.show();
        editor_.activateWindow();
        (void)QTest::qWaitForWindowActive(&editor_);
        editor_.setFocus();
    }
    void set(const std::string& text, std::size_t caret) {
        script_.setText(text);
        editor_.resetText(base::SharedText(text));
        editor_.setCaret(caret);
    }
    void key(Qt::Key k, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
        QTest::keyClick(QApplication::focusWidget(), k, modifiers);
    }
    void type(const char* text) { QTest::keyClicks(QApplication::focusWidget(), QString::fromUtf8(text)); }
    std::string text() { return editor_.text().str(); }

    sql::Script script_{sql::Dialect::Postgres};
    SqlEditor editor_;
};

TEST_F(EditorTest, CountsBytesWhileItShowsCharacters) {
    set("SELECT 'Äpfel';\nSELECT 2;", 0);
    EXPECT_EQ(text().size(), 26U);
    editor_.setCaret(15);
    EXPECT_EQ(editor_.caret(), 15U);
    EXPECT_EQ(editor_.caretPlace().line, 1);
    EXPECT_EQ(editor_.caretPlace().column, 15) << "as people count: Ä is one";
    editor_.setCaret(17);
    EXPECT_EQ(editor_.caretPlace().line, 2);
    editor_.select(8, 15);
    EXPECT_EQ(editor_.selection(), "Äpfel'");
    EXPECT_EQ(editor_.selectionStart(), 8U);
}

TEST_F(EditorTest, WhatIsTypedCanBeUndoneAndDoneAgain) {
    set("", 0);
    type("SELECT");
    EXPECT_EQ(text(), "SELECT");
    editor_.undo();
    EXPECT_EQ(text(), "");
    editor_.redo();
    EXPECT_EQ(text(), "SELECT");
    editor_.replaceText("VALUES (1)", 3);
    EXPECT_EQ(editor_.caret(), 3U);
    editor_.undo();
    EXPECT_EQ(text(), "SELECT") << "replacing everything is one step";
}

TEST_F(EditorTest, CommentsLinesAndTakesTheMarksAwayAgain) {
    set("SELECT 1;\n  SELECT 2;\nSELECT 3;", 0);
    editor_.select(0, 15);
    editor_.toggleComment();
    const std::string commented = text();
    EXPECT_THAT(commented, testing::StartsWith("-- SELECT 1;"));
    EXPECT_THAT(commented, testing::EndsWith("\nSELECT 3;"));
    EXPECT_EQ(std::ranges::count(commented, '-'), 4);
    EXPECT_THAT(editor_.selection(), testing::StartsWith("-- SELECT 1;")) << "the lines stay chosen";
    editor_.toggleComment();
    EXPECT_EQ(text(), "SELECT 1;\n  SELECT 2;\nSELECT 3;");
}

TEST_F(EditorTest, PutsTextBelowAfterABlankLine) {
    set("SELECT 1;", 3);
    editor_.appendBelow("SELECT 2;");
    EXPECT_EQ(text(), "SELECT 1;\n\nSELECT 2;");
    EXPECT_EQ(editor_.caret(), text().size());
    editor_.insertAt(0, "-- both\n");
    EXPECT_THAT(text(), testing::StartsWith("-- both\nSELECT 1;"));
    set("", 0);
    editor_.appendBelow("SELECT 3;");
    EXPECT_EQ(text(), "SELECT 3;") << "no blank line over the first";
}

TEST_F(EditorTest, TakesWhatIsChosenFromTheListInPlaceOfTheWord) {
    editor_.setCompleter([this](std::size_t caret) {
        return sql::completeAt(script_, caret, catalog::View({{.schema = "public", .name = "harvest"}}, {"public"}));
    });
    set("SELECT * FROM ", 14);
    type("harv");
    EVENTUALLY(editor_.isCompleting());
    key(Qt::Key_Tab);
    EVENTUALLY(!editor_.isCompleting());
    EXPECT_EQ(text(), "SELECT * FROM harvest");
}

TEST_F(EditorTest, EscapeClosesTheListAndTakesNothing) {
    editor_.setCompleter([this](std::size_t caret) {
        return sql::completeAt(script_, caret, catalog::View({{.schema = "public", .name = "harvest"}}, {"public"}));
    });
    set("SELECT * FROM ", 14);
    type("harv");
    EVENTUALLY(editor_.isCompleting());
    key(Qt::Key_Escape);
    EXPECT_FALSE(editor_.isCompleting());
    EXPECT_EQ(text(), "SELECT * FROM harv");
}

TEST_F(EditorTest, MendsWhatIsMarkedOnTheLineOfTheCaret) {
    set("SELECT 1\nSELECT 2;", 2);
    EXPECT_FALSE(editor_.mend()) << "nothing is marked";
    editor_.setHints({{8, 0, QStringLiteral("The statement has no end"), sql::TextEdit{8, 0, ";"}}});
    EXPECT_TRUE(editor_.mend());
    EXPECT_EQ(text(), "SELECT 1;\nSELECT 2;");
}

TEST_F(EditorTest, WithoutHelpersItOnlyEdits) {
    editor_.setHelpers(false);
    editor_.setCompleter([](std::size_t) -> sql::Completion {
        ADD_FAILURE() << "nobody asks what could stand there";
        return {};
    });
    set("", 0);
    type("SELECT h");
    EXPECT_EQ(text(), "SELECT h");
    EXPECT_FALSE(editor_.isCompleting());
}

TEST_F(EditorTest, IsAsHighAsItsText) {
    set("SELECT 1;", 0);
    const int low = editor_.contentHeight();
    set("SELECT\n1\n;\n\n", 0);
    EXPECT_GT(editor_.contentHeight(), low);
    const int usual = editor_.contentHeight();
    editor_.setTextSize(20);
    EXPECT_GT(editor_.contentHeight(), usual);
}

}  // namespace
}  // namespace pantry::app
