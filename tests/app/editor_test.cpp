// The text component alone, without a sheet or a window around it.
#include "app/editor/sql_editor.h"

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/editor_component.h"
#include "app/window_fixture.h"
#include "core/sql/complete/completion.h"
#include "core/sql/syntax/script.h"
#include "core/work/text_reading.h"

namespace pantry::app {
namespace {

class EditorTest : public testing::Test {
protected:
    EditorTest() {
        // Whoever owns the text tells what is found in it, as a sheet does; here at once, unless the test waits.
        QObject::connect(&editor_, &SqlEditor::textEdited, &editor_, [this] {
            if (isReadAtOnce_) read();
        });
        QObject::connect(&editor_, &SqlEditor::completionRequested, &editor_, [this](std::size_t at, quint64 question) {
            askedAt_ = at;
            question_ = question;
        });
        editor_.resize(600, 300);
        editor_.show();
        editor_.activateWindow();
        (void)QTest::qWaitForWindowActive(&editor_);
        editor_.setFocus();
    }
    void set(const std::string& text, std::size_t caret) {
        editor_.resetText(base::SharedText(text));
        read();
        editor_.setCaret(caret);
    }
    void read() {
        reading_ = std::make_shared<const work::TextReading>(
            work::TextReading::of(editor_.text(), sql::Dialect::Postgres, reading_.get()));
        editor_.setReading(reading_);
    }
    /// What could stand at a place, with one table to choose from.
    [[nodiscard]] sql::Completion completion(std::size_t caret) const {
        return sql::completeAt(
            reading_->script(), caret,
            catalog::View({{.schema = "public", .name = "harvest", .columns = {{"kilos", "numeric"}}}}, {"public"}));
    }
    void offerAtOnce() {
        QObject::connect(&editor_, &SqlEditor::completionRequested, &editor_,
                         [this](std::size_t caret, quint64 question) { editor_.offer(completion(caret), question); });
    }
    QsciScintilla& area() { return *editor_.findChild<QsciScintilla*>(); }
    /// How the component shows a byte.
    char styleAt(long at) {
        area().grab();
        return static_cast<char>(area().SendScintilla(QsciScintilla::SCI_GETSTYLEAT, static_cast<unsigned long>(at)));
    }
    void key(Qt::Key k, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
        QTest::keyClick(QApplication::focusWidget(), k, modifiers);
    }
    void type(const char* text) { QTest::keyClicks(QApplication::focusWidget(), QString::fromUtf8(text)); }
    std::string text() { return editor_.text().str(); }

    work::TextReadingPtr reading_;
    bool isReadAtOnce_ = true;
    std::size_t askedAt_ = 0;
    quint64 question_ = 0;
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
    offerAtOnce();
    set("SELECT * FROM ", 14);
    type("harv");
    EVENTUALLY(editor_.isCompleting());
    key(Qt::Key_Tab);
    EVENTUALLY(!editor_.isCompleting());
    EXPECT_EQ(text(), "SELECT * FROM harvest");
}

TEST_F(EditorTest, EscapeClosesTheListAndTakesNothing) {
    offerAtOnce();
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

TEST_F(EditorTest, AHintIsCarriedOutOnceHoweverFastSomebodyIs) {
    set("SELECT 1\nSELECT 2;", 2);
    isReadAtOnce_ = false;  // the text is not read anew between the two
    editor_.setHints({{8, 0, QStringLiteral("The statement has no end"), sql::TextEdit{8, 0, ";"}}});
    EXPECT_TRUE(editor_.mend());
    EXPECT_FALSE(editor_.mend());
    EXPECT_EQ(text(), "SELECT 1;\nSELECT 2;");
}

TEST_F(EditorTest, AHintMovesWithItsPlaceUntilTheTextIsReadAgain) {
    set("SELECT 1\nSELECT 2;", 0);
    editor_.setHints({{8, 0, QStringLiteral("The statement has no end"), sql::TextEdit{8, 0, ";"}}});
    isReadAtOnce_ = false;
    type("-- ");
    key(Qt::Key_Home);
    EXPECT_TRUE(editor_.mend());
    EXPECT_EQ(text(), "-- SELECT 1;\nSELECT 2;");
}

TEST_F(EditorTest, ColoursFollowTheReadingAndStayUntilTheNextOne) {
    set("SELECT apples FROM crate", 6);
    const char keyword = styleAt(0);
    EXPECT_NE(keyword, styleAt(8)) << "a keyword does not look like a name";
    EXPECT_EQ(keyword, styleAt(15));
    isReadAtOnce_ = false;
    type("E");
    EXPECT_EQ(styleAt(6), keyword) << "what is typed looks like what stands before it";
    EXPECT_EQ(styleAt(17), keyword) << "and nothing behind it loses its colour";
    read();
    EXPECT_NE(styleAt(0), keyword) << "SELECTE begins nothing";
}

TEST_F(EditorTest, AReadingOfATextThatWasTakenAwayIsNotShown) {
    set("SELECT 1;", 0);
    const work::TextReadingPtr old = reading_;
    set("apples and pears", 0);
    const char plain = styleAt(0);
    editor_.setReading(old);
    EXPECT_EQ(styleAt(0), plain);
}

TEST_F(EditorTest, AnAnswerForAnotherPlaceOrTextIsNotOffered) {
    set("SELECT * FROM ", 14);
    type("harv");
    ASSERT_EQ(askedAt_, 18U);
    const quint64 first = question_;
    type("e");
    editor_.offer(completion(18), first);
    EXPECT_FALSE(editor_.isCompleting()) << "one letter too late";
    editor_.offer(completion(19), question_);
    EXPECT_TRUE(editor_.isCompleting());
    key(Qt::Key_Escape);
    editor_.offer(completion(19), question_);
    EXPECT_FALSE(editor_.isCompleting()) << "one answer to one question";
}

TEST_F(EditorTest, AKeyThatTakesWaitsForTheListOfTheLettersBeforeIt) {
    set("SELECT * FROM ", 14);
    type("har");
    editor_.offer(completion(17), question_);
    ASSERT_TRUE(editor_.isCompleting());
    type("v");
    key(Qt::Key_Tab);
    EXPECT_EQ(text(), "SELECT * FROM harv") << "the list is of the letters before";
    editor_.offer(completion(18), question_);
    EXPECT_EQ(text(), "SELECT * FROM harvest");
    EXPECT_FALSE(editor_.isCompleting());
}

TEST_F(EditorTest, ReturnTakesOnlyWhatSomebodyWentTo) {
    set("SELECT * FROM ", 14);
    offerAtOnce();
    type("ha");
    ASSERT_TRUE(editor_.isCompleting());
    key(Qt::Key_Return);
    EXPECT_EQ(text(), "SELECT * FROM ha\n");
    EXPECT_FALSE(editor_.isCompleting());
    key(Qt::Key_Backspace);
    type("r");
    ASSERT_TRUE(editor_.isCompleting());
    key(Qt::Key_Down);
    key(Qt::Key_Return);
    EXPECT_EQ(text(), "SELECT * FROM harvest");
}

TEST_F(EditorTest, TheListOpensBehindFromByItselfAndNotBehindOtherWords) {
    set("", 0);
    offerAtOnce();
    type("SELECT * ");
    EXPECT_FALSE(editor_.isCompleting());
    type("FROM");
    key(Qt::Key_Escape);
    type(" ");
    EXPECT_TRUE(editor_.isCompleting());
    key(Qt::Key_Tab);
    EXPECT_EQ(text(), "SELECT * FROM harvest");
    type(" ");
    EXPECT_FALSE(editor_.isCompleting());
}

TEST_F(EditorTest, AColumnWritesItsTableIntoFromAndOneStepBackTakesBoth) {
    set("SELECT ", 7);
    offerAtOnce();
    type("ki");
    ASSERT_TRUE(editor_.isCompleting());
    key(Qt::Key_Tab);
    EXPECT_EQ(text(), "SELECT kilos\nFROM harvest");
    EXPECT_EQ(editor_.caret(), 12U) << "where the list goes on";
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(text(), "SELECT ki");
}

TEST_F(EditorTest, AShortNameThatIsTakenGoesOnToItsColumns) {
    set("SELECT ", 7);
    offerAtOnce();
    type("h");
    if (!editor_.isCompleting()) editor_.complete();
    ASSERT_TRUE(editor_.isCompleting());
    key(Qt::Key_Tab);
    EXPECT_EQ(text(), "SELECT h.");
    EXPECT_TRUE(editor_.isCompleting()) << "the columns";
    key(Qt::Key_Tab);
    EXPECT_EQ(text(), "SELECT h.kilos\nFROM harvest h");
}

TEST_F(EditorTest, InALowEditorTheListIsShorterAndNotCut) {
    editor_.resize(600, 150);
    set("SELECT * FROM harvest WHERE ", 28);
    offerAtOnce();
    editor_.complete();
    ASSERT_TRUE(editor_.isCompleting());
    const auto* list = editor_.findChild<QWidget*>(QLatin1String(objectName::kCompletion));
    ASSERT_NE(list, nullptr);
    EXPECT_TRUE(list->parentWidget()->rect().contains(list->geometry()));
    EXPECT_GT(list->y(), area().textHeight(0)) << "the line that is written stays in sight";
}

TEST_F(EditorTest, AParenthesisThatIsThereIsNotWrittenTwice) {
    set("SELECT coun(1)", 11);
    offerAtOnce();
    editor_.complete();
    ASSERT_TRUE(editor_.isCompleting());
    key(Qt::Key_Tab);
    EXPECT_EQ(text(), "SELECT count(1)");
}

TEST_F(EditorTest, ATextTooLargeToBeReadIsOnlyEdited) {
    QObject::connect(&editor_, &SqlEditor::completionRequested, &editor_,
                     [] { ADD_FAILURE() << "nobody asks what could stand there"; });
    const std::string longOne = "'" + std::string(work::TextReading::kLongestStatement, 'x') + "'";
    set("SELECT " + longOne, 0);
    ASSERT_TRUE(reading_->isTooLarge());
    type("SELECT h");
    EXPECT_EQ(text(), "SELECT hSELECT " + longOne);
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

TEST_F(EditorTest, AShortTextAfterALongOneHasNothingToScroll) {
    set("SELECT '" + std::string(400, 'x') + "'", 0);
    area().grab();
    EVENTUALLY(area().horizontalScrollBar()->isVisible());
    area().SendScintilla(QsciScintilla::SCI_SETXOFFSET, 300UL);
    set("SELECT 1", 0);
    area().grab();
    EVENTUALLY(!area().horizontalScrollBar()->isVisible());
    EXPECT_EQ(area().SendScintilla(QsciScintilla::SCI_GETXOFFSET), 0);
}

TEST_F(EditorTest, ItsKeysAreThoseOfTheTable) {
    set("plum", 4);
    auto* component = editor_.findChild<QsciScintilla*>();
    ASSERT_NE(component, nullptr);
    const auto press = [&](const char* keys) {
        const QKeyCombination key = QKeySequence(QLatin1String(keys))[0];
        QTest::keyClick(component, key.key(), key.keyboardModifiers());
    };
    press("Ctrl+A");
    press("Ctrl+X");
    EXPECT_EQ(text(), "");
    press("Ctrl+V");
    press("Ctrl+V");
    EXPECT_EQ(text(), "plumplum");
    press("Ctrl+Z");
    EXPECT_EQ(text(), "plum");
    press("Ctrl+Shift+Z");
    EXPECT_EQ(text(), "plumplum");
    press("Ctrl+Z");
    press("Ctrl+Y");
    EXPECT_EQ(text(), "plumplum");
    for (const char* others : {"Ctrl+D", "Ctrl+L", "Ctrl+T", "Ctrl+U", "Ctrl+Shift+L", "Ctrl+Shift+U", "Ctrl+Return"}) {
        press(others);
        EXPECT_EQ(text(), "plumplum") << others << " is the program's, not the component's";
    }
}

}  // namespace
}  // namespace pantry::app
