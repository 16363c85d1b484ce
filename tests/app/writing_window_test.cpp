// Writing: what the editor says about a text, and what formatting does to it.
#include <gmock/gmock.h>

#include <QScrollBar>

#include "app/editor_component.h"
#include "app/look/theme.h"
#include "app/window_fixture.h"

namespace pantry::app {
namespace {

using testing::HasSubstr;
using Sci = QsciScintillaBase;

class WritingWindowTest : public WindowTest {
protected:
    void open(const QString& text) {
        openSheet(text);
        QObject::connect(window_->currentSheet(), &SheetPage::remarked, window_.get(),
                         [this](const QString& words) { remarks_ += words; });
        editor()->setFocus();
        awaitReading();
    }
    QsciScintilla* editor() { return find<QsciScintilla>(objectName::kEditor); }
    std::string lastRemark() { return remarks_.isEmpty() ? "none" : fromQt(remarks_.back()); }
    void select(const std::string& part) {
        const std::size_t at = editorText().find(part);
        window_->currentSheet()->editor()->select(at, at + part.size());
    }
    /// The style of the first byte of a word of the text; the same for what has the same colour.
    long styleOf(const std::string& word) {
        editor()->SendScintilla(Sci::SCI_COLOURISE, 0UL, -1L);
        return editor()->SendScintilla(Sci::SCI_GETSTYLEAT, static_cast<unsigned long>(editorText().find(word)));
    }
    QStringList remarks_;
};

TEST_F(WritingWindowTest, TwoStatementsThatNothingPartsAreMarkedColouredAndMended) {
    open(QStringLiteral("select * from plot\n\nselect name as other from tree"));
    EVENTUALLY(hasCatalog());
    EXPECT_EQ(styleOf("as other"), styleOf("select")) << "keywords of the second have their colour";
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(isOver(0));
    ASSERT_EQ(card(0)->state(), Card::State::Failed);
    EXPECT_THAT(card(0)->error()->hint, HasSubstr("Line 3 of it begins another statement"));
    editor()->setFocus();
    key(Qt::Key_Return, Qt::AltModifier);
    EXPECT_EQ(editorText(), "select * from plot;\n\nselect name as other from tree");
    awaitReading();
    key(Qt::Key_Return, Qt::AltModifier);
    EXPECT_THAT(lastRemark(), HasSubstr("Nothing is marked"));
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(editorText(), "select * from plot\n\nselect name as other from tree") << "one step takes it back";
}

TEST_F(WritingWindowTest, AClickOnTheWordsBehindTheLineMendsIt) {
    open(QStringLiteral("select 1\n\nselect 2"));
    const auto line = [&](long n) { return editor()->SendScintilla(Sci::SCI_GETLINEENDPOSITION, n); };
    const QPoint behind(static_cast<int>(editor()->SendScintilla(Sci::SCI_POINTXFROMPOSITION, 0UL, line(2))) + 60,
                        static_cast<int>(editor()->SendScintilla(Sci::SCI_POINTYFROMPOSITION, 0UL, line(2))) + 6);
    QTest::mouseClick(editor()->viewport(), Qt::LeftButton, {}, behind);
    EXPECT_EQ(editorText(), "select 1;\n\nselect 2");
}

TEST_F(WritingWindowTest, FormattingSaysWhichStatementCouldNotBeReadAndWhere) {
    open(QStringLiteral("select  name from plot;\nselect from from plot;\nselect  1 as a"));
    format();
    EXPECT_EQ(editorText(), "SELECT name FROM plot;\nselect from from plot;\nSELECT 1 AS a");
    EXPECT_THAT(lastRemark(), HasSubstr("One statement could not be read and stays as it is. Line 2: "));
    format();
    EXPECT_THAT(lastRemark(), HasSubstr("Line 2: ")) << "also when nothing else is to be done";
}

TEST_F(WritingWindowTest, WhatIsAskedForWhileTheTextIsLaidOutIsDoneBehindIt) {
    open(QStringLiteral("select  1 as a;\nselect  2 as b;"));
    SheetPage* page = window_->currentSheet();
    page->editor()->setCaret(editorText().size());
    page->format();
    page->editor()->setCaret(3);  // the caret goes on meanwhile
    page->runAtCaret();
    EVENTUALLY(isOver(0));
    EXPECT_EQ(editorText(), "SELECT 1 AS a;\nSELECT 2 AS b;");
    EXPECT_EQ(page->editor()->caret(), 3U);
    EXPECT_EQ(card(0)->statement().text(), "SELECT 1 AS a");
}

TEST_F(WritingWindowTest, WritingOnWhileTheTextIsLaidOutLosesNoLetter) {
    open(QStringLiteral("select  1 as a"));
    SheetPage* page = window_->currentSheet();
    page->editor()->setCaret(editorText().size());
    page->format();
    page->editor()->insertText("b");
    page->editor()->setCaret(14);
    EVENTUALLY(!page->isFormatting());
    EXPECT_THAT(editorText(), HasSubstr("ab"));
}

TEST_F(WritingWindowTest, APartOfAStatementIsFormattedAndStaysSelected) {
    open(QStringLiteral("select  name from plot where  name  like 'a%'   and plot_id>3 order  by 1"));
    select("where  name  like 'a%'   and plot_id>3");
    format();
    EXPECT_EQ(editorText(), "select  name from plot WHERE name LIKE 'a%' AND plot_id > 3 order  by 1");
    EXPECT_EQ(window_->currentSheet()->editor()->selection(), "WHERE name LIKE 'a%' AND plot_id > 3");
    format();
    EXPECT_EQ(lastRemark(), "The selection is formatted already.");
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_THAT(editorText(), HasSubstr("like 'a%'   and"));
}

TEST_F(WritingWindowTest, MistakesAreUnderlinedOnceTypingRestsAndMendedByAKey) {
    openSheet(QStringLiteral("SELECT nam FROM plot WHERE lead_warden_id = NULL;\n"));
    EVENTUALLY(hasCatalog());
    auto* editor = window_->currentSheet()->editor();
    editor->setCaret(editor->text().size());
    const auto messages = [editor] {
        QStringList all;
        for (const TextHint& hint : editor->hints()) all += hint.message;
        return all;
    };
    EVENTUALLY(messages().size() == 2);
    EXPECT_TRUE(messages()[0].contains(QStringLiteral("nam")));
    EXPECT_TRUE(messages()[0].contains(QStringLiteral("name"))) << "the nearest name";
    editor->setCaret(45);  // on NULL
    key(Qt::Key_Return, Qt::AltModifier);
    EVENTUALLY(editorText().find("IS NULL") != std::string::npos);
    EVENTUALLY(messages().size() == 1);
    key(Qt::Key_Return, Qt::AltModifier);
    EVENTUALLY(editorText().starts_with("SELECT name FROM"));
    EVENTUALLY(messages().isEmpty());
    editor->setCaret(editor->text().size());
    type(QStringLiteral("SELECT 1 FROM nowhere;"));
    key(Qt::Key_Escape);
    EVENTUALLY(messages().size() == 1 && messages()[0].contains(QStringLiteral("nowhere")));
}

TEST_F(WritingWindowTest, AfterFormattingTheViewBeginsAtTheLeft) {
    QString wide = QStringLiteral("select ");
    for (int i = 0; i < 40; ++i) wide += QStringLiteral("name as a_rather_long_name_%1, ").arg(i);
    open(wide + QStringLiteral("1 from plot"));
    key(Qt::Key_End);
    const auto offset = [&] { return editor()->SendScintilla(Sci::SCI_GETXOFFSET); };
    ASSERT_GT(offset(), 0);
    ASSERT_TRUE(editor()->horizontalScrollBar()->isVisible());
    format();
    EXPECT_EQ(offset(), 0);
    EVENTUALLY(!editor()->horizontalScrollBar()->isVisible());  // nothing is wider than the view any more
}

TEST_F(WritingWindowTest, OutcomesStandBesideTheTextAlsoWhenItIsScrolledOrLong) {
    const QString wide = QStringLiteral("select '%1' as a\nfrom plot limit 1").arg(QString(400, QLatin1Char('x')));
    open(wide);
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(isOver(0));
    // The colour of an outcome is nowhere else on the first line.
    const auto hasOutcome = [&](int fromX, int toX) {
        const QImage image = editor()->viewport()->grab().toImage();
        const QColor sage = Theme::current().colour("sage");
        for (int x = std::max(0, fromX); x < std::min(toX, image.width()); ++x) {
            for (int y = 0; y < 20; ++y) {
                const QColor at = image.pixelColor(x, y);
                const int apart = std::abs(at.red() - sage.red()) + std::abs(at.green() - sage.green()) +
                                  std::abs(at.blue() - sage.blue());
                if (apart < 24) return true;
            }
        }
        return false;
    };
    const int width = editor()->viewport()->width();
    editor()->SendScintilla(Sci::SCI_SETXOFFSET, 0UL);
    EVENTUALLY(hasOutcome(width - 230, width));  // over the end of a long line
    editor()->SendScintilla(Sci::SCI_SETXOFFSET, 30'000UL);
    const int margin = editor()->marginWidth(0) + editor()->marginWidth(1);
    EVENTUALLY(hasOutcome(margin, width));
    EXPECT_FALSE(hasOutcome(0, editor()->marginWidth(0))) << "never over the numbers of lines";
}

}  // namespace
}  // namespace pantry::app
