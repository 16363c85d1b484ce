// Changing a query and its text: written in another way, many carets, whole lines, what names are.
#include <gmock/gmock.h>

#include <QAction>
#include <QClipboard>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMimeData>
#include <QPlainTextEdit>
#include <QPushButton>

#include "app/editor_component.h"
#include "app/pages/object/object_page.h"
#include "app/window_fixture.h"

namespace pantry::app {
namespace {

using testing::EndsWith;
using testing::HasSubstr;
using testing::StartsWith;
using Sci = QsciScintillaBase;

/// Indicators of the editor: what belongs together, and what lacks its other.
constexpr int kPair = 14;
constexpr int kLone = 15;

class EditingWindowTest : public WindowTest {
protected:
    /// Opens a sheet with the caret where <|> stands, once the catalog is there.
    void open(const std::string& marked) {
        const std::size_t caret = marked.find("<|>");
        const std::string text = marked.substr(0, caret) + (caret == std::string::npos ? "" : marked.substr(caret + 3));
        openSheet(toQt(text));
        QObject::connect(page(), &SheetPage::remarked, window_.get(),
                         [this](const QString& words) { remarks_ += words; });
        EVENTUALLY(hasCatalog());
        editor()->setFocus();
        awaitReading();
        if (caret != std::string::npos) page()->editor()->setCaret(caret);
    }
    /// A command as the menu has it.
    void run(const char* command) {
        auto* action = window_->findChild<QAction*>(QStringLiteral("command.") + QLatin1String(command));
        ASSERT_NE(action, nullptr) << command;
        action->trigger();
    }
    SheetPage* page() { return window_->currentSheet(); }
    QsciScintilla* editor() { return find<QsciScintilla>(objectName::kEditor); }
    void select(const std::string& part) {
        const std::size_t at = editorText().find(part);
        page()->editor()->select(at, at + part.size());
    }
    bool wasRemarked(const char* part) { return remarks_.join(QLatin1Char('\n')).contains(QLatin1String(part)); }
    /// The bytes that an indicator marks.
    std::vector<std::size_t> marked(int indicator) {
        std::vector<std::size_t> starts;
        for (std::size_t i = 0; i < editorText().size(); ++i) {
            const auto at = static_cast<unsigned long>(i);
            const bool isOn = editor()->SendScintilla(Sci::SCI_INDICATORVALUEAT, static_cast<unsigned long>(indicator),
                                                      static_cast<long>(at)) != 0;
            const bool wasOn =
                i > 0 && editor()->SendScintilla(Sci::SCI_INDICATORVALUEAT, static_cast<unsigned long>(indicator),
                                                 static_cast<long>(i - 1)) != 0;
            if (isOn && !wasOn) starts.push_back(i);
        }
        return starts;
    }
    QStringList remarks_;
};

TEST_F(EditingWindowTest, UnfoldingWritesAllColumnsOrAllButTheTwoThatWereUnticked) {
    open("SELECT *<|> FROM plot");
    key(Qt::Key_8, Qt::ControlModifier | Qt::AltModifier);
    EVENTUALLY(QApplication::activePopupWidget() != nullptr);
    auto* list = QApplication::activePopupWidget()->findChild<QListWidget*>(QLatin1String(objectName::kTickChoices));
    ASSERT_NE(list, nullptr);
    const int columns = list->count();
    ASSERT_GT(columns, 4);
    const QString first = list->item(0)->text();
    // Typing narrows to a column, Space unticks it.
    auto* find = QApplication::activePopupWidget()->findChild<QLineEdit*>(QLatin1String(objectName::kTickFind));
    QTest::keyClicks(find, QStringLiteral("slope"));
    QTest::keyClick(find, Qt::Key_Space);
    find->clear();
    QTest::keyClicks(find, QStringLiteral("name"));
    QTest::keyClick(find, Qt::Key_Space);
    QTest::keyClick(find, Qt::Key_Return);
    EVENTUALLY(editorText() != "SELECT * FROM plot");
    EXPECT_THAT(editorText(), StartsWith("SELECT " + fromQt(first)));
    EXPECT_THAT(editorText(), testing::Not(HasSubstr("slope")));
    EXPECT_THAT(editorText(), testing::Not(HasSubstr(" name")));
    EXPECT_EQ(std::ranges::count(editorText(), ','), columns - 3);
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(editorText(), "SELECT * FROM plot") << "one step takes it back";
}

TEST_F(EditingWindowTest, ANameIsChangedWhereverItStandsInItsStatement) {
    open("SELECT t<|>.tag FROM tree t WHERE t.plot_id = 1;\nSELECT t.name FROM plot t");
    key(Qt::Key_N, Qt::ControlModifier | Qt::AltModifier);
    EVENTUALLY(page()->editor()->carets() == 3);
    type(QStringLiteral("apple"));
    EXPECT_EQ(editorText(), "SELECT apple.tag FROM tree apple WHERE apple.plot_id = 1;\nSELECT t.name FROM plot t")
        << "the other statement's t is another one";
    key(Qt::Key_Escape);
    EXPECT_EQ(page()->editor()->carets(), 1);
}

TEST_F(EditingWindowTest, WhatTheDatabaseHasIsNotRenamedFromHere) {
    open("SELECT name<|> FROM plot");
    key(Qt::Key_N, Qt::ControlModifier | Qt::AltModifier);
    EVENTUALLY(wasRemarked("Only names that the statement makes"));
    EXPECT_EQ(page()->editor()->carets(), 1);
}

TEST_F(EditingWindowTest, ASubqueryBecomesACommonTableWhoseNameIsTypedOnce) {
    open("SELECT name FROM plot WHERE plot_id IN (SELECT<|> plot_id FROM tree)");
    run("query.subquery-to-common-table");
    EVENTUALLY(page()->editor()->carets() == 2);
    type(QStringLiteral("planted"));
    EXPECT_EQ(editorText(),
              "WITH planted AS (\nSELECT plot_id FROM tree\n)\n"
              "SELECT name FROM plot WHERE plot_id IN (SELECT * FROM planted)");
}

TEST_F(EditingWindowTest, WhatCannotBeChangedIsSaid) {
    open("SELECT 1<|>");
    run("query.swap-join");
    EVENTUALLY(wasRemarked("There is no join at the cursor."));
    EXPECT_EQ(editorText(), "SELECT 1");
}

TEST_F(EditingWindowTest, EveryWayOfRewritingIsACommandThatWorksInTheWindow) {
    open("select t.tag, p.name n from tree t join plot p on p.plot_id = t.plot_id where t.tree_id = 7<|>");
    const auto change = [&](const char* way, const char* expected) {
        const std::string before = editorText();
        run(way);
        EVENTUALLY(editorText() != before);
        EXPECT_THAT(editorText(), HasSubstr(expected)) << way;
        awaitReading();
    };
    change("query.literal-to-parameter", "t.tree_id = :tree_id");
    change("query.add-as", "p.name as n");
    change("query.swap-join", "plot as p join tree as t");
    change("query.wrap-in-count", "select count(*) from (");
}

TEST_F(EditingWindowTest, TheNextOccurrencesAreChosenOneByOneOrAllAtOnce) {
    open("SELECT na<|>me, name AS n, Name FROM plot");
    key(Qt::Key_D, Qt::ControlModifier);
    EXPECT_EQ(page()->editor()->selection(), "name");
    key(Qt::Key_D, Qt::ControlModifier);
    EXPECT_EQ(page()->editor()->carets(), 2);
    type(QStringLiteral("soil"));
    EXPECT_EQ(editorText(), "SELECT soil, soil AS n, Name FROM plot") << "other letters are another word";
    key(Qt::Key_Z, Qt::ControlModifier);
    key(Qt::Key_Escape);
    page()->editor()->select(0, 0);
    open("a b a b a<|>");
    key(Qt::Key_A, Qt::ControlModifier | Qt::AltModifier);
    EXPECT_EQ(page()->editor()->carets(), 3);
}

TEST_F(EditingWindowTest, CaretsStandBelowEachOtherAndWriteTogether) {
    open("<|>one\ntwo\nthree");
    key(Qt::Key_Down, Qt::ControlModifier | Qt::AltModifier);
    key(Qt::Key_Down, Qt::ControlModifier | Qt::AltModifier);
    type(QStringLiteral("- "));
    EXPECT_EQ(editorText(), "- one\n- two\n- three");
    key(Qt::Key_Escape);
    type(QStringLiteral("x"));
    EXPECT_EQ(std::ranges::count(editorText(), 'x'), 1);
}

TEST_F(EditingWindowTest, AClickWithAltAddsACaret) {
    open("<|>one\ntwo");
    const auto pointOf = [&](long place) {
        return QPoint(static_cast<int>(editor()->SendScintilla(Sci::SCI_POINTXFROMPOSITION, 0UL, place)) + 1,
                      static_cast<int>(editor()->SendScintilla(Sci::SCI_POINTYFROMPOSITION, 0UL, place)) + 4);
    };
    QTest::mouseClick(editor()->viewport(), Qt::LeftButton, Qt::AltModifier, pointOf(4));
    EXPECT_EQ(page()->editor()->carets(), 2);
    type(QStringLiteral("*"));
    EXPECT_EQ(editorText(), "*one\n*two");
}

TEST_F(EditingWindowTest, LinesMoveAreDoubledJoinedAndSorted) {
    open("SELECT\n    c,\n    b,\n    a<|>\nFROM t");
    select("    c,\n    b,\n    a");
    run("editor.sort");
    EXPECT_EQ(editorText(), "SELECT\n    a,\n    b,\n    c\nFROM t");
    page()->editor()->setCaret(8);
    key(Qt::Key_Down, Qt::AltModifier);
    EXPECT_EQ(editorText(), "SELECT\n    b,\n    a,\n    c\nFROM t");
    key(Qt::Key_D, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_EQ(editorText(), "SELECT\n    b,\n    a,\n    a,\n    c\nFROM t");
    key(Qt::Key_Z, Qt::ControlModifier);
    key(Qt::Key_Z, Qt::ControlModifier);
    select("    a,\n    b,\n    c");
    key(Qt::Key_J, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_EQ(editorText(), "SELECT\n    a, b, c\nFROM t");
    select("FROM");
    key(Qt::Key_L, Qt::ControlModifier | Qt::AltModifier);
    EXPECT_THAT(editorText(), HasSubstr("\nfrom t"));
}

TEST_F(EditingWindowTest, TheUsesOfANameAreMarkedOnceTheCaretRests) {
    constexpr int kUses = 13;
    open("SELECT p<|>.name FROM plot p WHERE p.soil = 'loam'");
    EVENTUALLY(marked(kUses).size() == 3);
    EXPECT_EQ(marked(kUses), (std::vector<std::size_t>{7, 24, 32}));
    page()->editor()->setCaret(2);
    EVENTUALLY(marked(kUses).empty());
}

TEST_F(EditingWindowTest, TheDefinitionStandsBelowTheLineUntilEsc) {
    open("SELECT name FROM plot<|>");
    key(Qt::Key_Space, Qt::ControlModifier | Qt::ShiftModifier);
    EVENTUALLY(find<QPlainTextEdit>(objectName::kDefinitionCode) != nullptr);
    auto* code = find<QPlainTextEdit>(objectName::kDefinitionCode);
    EVENTUALLY(code->toPlainText().contains(QLatin1String("CREATE TABLE")));
    QStringList words;
    for (const QLabel* label : find(objectName::kDefinitionInset)->findChildren<QLabel*>()) words += label->text();
    EXPECT_TRUE(words.contains(QLatin1String("table"))) << fromQt(words.join(QLatin1Char('|')));
    key(Qt::Key_Escape);
    EVENTUALLY(find(objectName::kDefinitionInset) == nullptr);
    EXPECT_TRUE(page()->isVisible());
}

TEST_F(EditingWindowTest, ADefinitionGoesWhenSomebodyWritesOn) {
    open("WITH w AS (SELECT 1 AS one) SELECT * FROM w<|>");
    key(Qt::Key_Space, Qt::ControlModifier | Qt::ShiftModifier);
    EVENTUALLY(find<QPlainTextEdit>(objectName::kDefinitionCode) != nullptr);
    EXPECT_EQ(find<QPlainTextEdit>(objectName::kDefinitionCode)->toPlainText(), QStringLiteral("SELECT 1 AS one"));
    type(QStringLiteral(" "));
    EVENTUALLY(find(objectName::kDefinitionInset) == nullptr);
}

TEST_F(EditingWindowTest, AClickWithCtrlGoesToWhatTheTextMakesOrToTheDetails) {
    open("WITH w AS (SELECT 1 AS one) SELECT w.one FROM w JOIN plot ON true");
    const auto clickOn = [&](std::size_t place) {
        const auto at = static_cast<long>(place);
        const QPoint point(static_cast<int>(editor()->SendScintilla(Sci::SCI_POINTXFROMPOSITION, 0UL, at)) + 3,
                           static_cast<int>(editor()->SendScintilla(Sci::SCI_POINTYFROMPOSITION, 0UL, at)) + 4);
        QTest::mouseClick(editor()->viewport(), Qt::LeftButton, Qt::ControlModifier, point);
    };
    clickOn(editorText().find("w.one"));
    EVENTUALLY(page()->editor()->selection() == "w");
    EXPECT_EQ(page()->editor()->selectionStart(), 5U);
    clickOn(editorText().find("plot"));
    EVENTUALLY(window_->findChild<ObjectPage*>() != nullptr && window_->findChild<ObjectPage*>()->isVisible());
    EXPECT_EQ(window_->findChild<ObjectPage*>()->object().object.name, "plot");
}

TEST_F(EditingWindowTest, ParametersAreAskedForWithTheirTypesAndRemembered) {
    open("SELECT name FROM plot WHERE plot_id IN (:plots) AND leased_until < :until<|>");
    EVENTUALLY(find(objectName::kParameterStrip) != nullptr);
    const auto words = [&] {
        QStringList all;
        for (const QLabel* label : find(objectName::kParameterStrip)->findChildren<QLabel*>()) all += label->text();
        return all.join(QLatin1Char('|')).toLower();
    };
    EVENTUALLY(words().contains(QLatin1String("list of integer")) && words().contains(QLatin1String("date")));
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(wasRemarked("The parameter :plots has no value yet."));
    EVENTUALLY(QApplication::focusWidget() != nullptr &&
               QApplication::focusWidget()->property("parameter").toString() == QLatin1String("plots"));
    EXPECT_EQ(card(0), nullptr) << "nothing ran";
    type(QStringLiteral("1, 2"));
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Tab);
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Tab);
    type(QStringLiteral("2999-01-01"));
    key(Qt::Key_Return);
    EVENTUALLY(isOver(0));
    EXPECT_EQ(card(0)->state(), Card::State::Done) << (card(0)->error() ? card(0)->error()->text() : "");
    desk_->flush();
    closeWindow();
    openWindow();
    EVENTUALLY(window_->currentSheet() != nullptr && find(objectName::kParameterStrip) != nullptr);
    const auto fields = find(objectName::kParameterStrip)->findChildren<QLineEdit*>();
    ASSERT_EQ(fields.size(), 2);
    EXPECT_EQ(fields[0]->text(), QLatin1String("1, 2")) << "values stay with the sheet";
}

TEST_F(EditingWindowTest, ParametersStripGoesWhereThereAreNone) {
    open("SELECT :one;\nSELECT 2<|>");
    EVENTUALLY(hasCatalog());
    awaitReading();
    page()->editor()->setCaret(3);
    EVENTUALLY(find(objectName::kParameterStrip) != nullptr);
    page()->editor()->setCaret(editorText().size());
    EVENTUALLY(find(objectName::kParameterStrip) == nullptr);
}

TEST_F(EditingWindowTest, AValueThatBecomesAParameterKeepsItsValue) {
    open("SELECT name FROM plot WHERE plot_id = 2<|>");
    key(Qt::Key_P, Qt::ControlModifier | Qt::AltModifier);
    EVENTUALLY(editorText() == "SELECT name FROM plot WHERE plot_id = :plot_id");
    EVENTUALLY(find(objectName::kParameterStrip) != nullptr);
    EXPECT_EQ(find<QLineEdit>(objectName::kParameterValue)->text(), QLatin1String("2"));
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(isOver(0));
    EXPECT_EQ(card(0)->run().rowCount(), 1U);
    key(Qt::Key_R, Qt::ControlModifier | Qt::AltModifier);
    EVENTUALLY(isOver(1));
    EXPECT_EQ(card(1)->run().rowCount(), 1U) << "the same again, with its value";
}

TEST_F(EditingWindowTest, StatementsRunUpToTheCaretOrFromIt) {
    open("SELECT 1;\nSELECT 2<|>;\nSELECT 3;");
    run("run.upTo");
    EVENTUALLY(isOver(1));
    EXPECT_EQ(card(2), nullptr);
    run("run.from");
    EVENTUALLY(isOver(3));
    EXPECT_EQ(card(3)->run().statement().text(), "SELECT 3");
}

TEST_F(EditingWindowTest, ValuesOfAColumnAreOfferedFromTheDatabase) {
    open("SELECT * FROM tree WHERE plot_id =<|>");
    type(QStringLiteral(" "));
    EVENTUALLY(page()->editor()->isCompleting());
    auto* list = find(objectName::kCompletion)->findChild<QListWidget*>();
    const auto hasPlot = [&] {
        const auto found = list->findItems(QStringLiteral("*"), Qt::MatchWildcard);
        return std::ranges::any_of(found, [](const QListWidgetItem* item) {
            return item->data(Qt::UserRole).toString() == QLatin1String("Saltmarsh");
        });
    };
    EVENTUALLY(hasPlot());
    type(QStringLiteral("saltm"));
    EVENTUALLY(hasPlot() && list->item(0)->data(Qt::UserRole).toString() == QLatin1String("Saltmarsh"));
    key(Qt::Key_Tab);
    EXPECT_THAT(editorText(), testing::MatchesRegex("SELECT \\* FROM tree WHERE plot_id = [0-9]+"))
        << "the key is written, not its label";
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(isOver(0));
    EXPECT_GT(card(0)->run().rowCount(), 0U);
}

TEST_F(EditingWindowTest, AnOfferIsExplainedBesideTheList) {
    window_->resize(1280, 800);
    open("SELECT t.<|> FROM tree t");
    page()->editor()->complete();
    EVENTUALLY(page()->editor()->isCompleting());
    EVENTUALLY(find(objectName::kCompletionNote) != nullptr);
    QString words;
    for (const QLabel* label : find(objectName::kCompletionNote)->findChildren<QLabel*>())
        words += label->text() + QLatin1Char('\n');
    EXPECT_THAT(fromQt(words), testing::AllOf(HasSubstr("tree."), HasSubstr("Type: ")));
}

TEST_F(EditingWindowTest, ATextIsFoundCountedAndReplaced) {
    open("SELECT name FROM plot;\nSELECT Name, name_2 FROM plot<|>");
    key(Qt::Key_F, Qt::ControlModifier);
    EVENTUALLY(find(objectName::kFindStrip) != nullptr && find<QLineEdit>(objectName::kFindText)->hasFocus());
    type(QStringLiteral("name"));
    auto* count = find<QLabel>(objectName::kFindCount);
    EVENTUALLY(count->text() == QLatin1String("3 found"));
    key(Qt::Key_Return);
    EXPECT_EQ(count->text(), QLatin1String("1 of 3"));
    EXPECT_EQ(page()->editor()->selectionStart(), 7U);
    click("findWords");
    EVENTUALLY(count->text() == QLatin1String("1 of 2"));
    key(Qt::Key_Escape);
    EXPECT_EQ(find(objectName::kFindStrip), nullptr);
    key(Qt::Key_H, Qt::ControlModifier);
    EVENTUALLY(find(objectName::kReplaceText) != nullptr);
    find<QLineEdit>(objectName::kReplaceText)->setText(QStringLiteral("soil"));
    click(objectName::kReplaceAll);
    EVENTUALLY(editorText() == "SELECT soil FROM plot;\nSELECT soil, name_2 FROM plot");
    key(Qt::Key_Escape);
    editor()->setFocus();
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(editorText(), "SELECT name FROM plot;\nSELECT Name, name_2 FROM plot") << "one step takes all back";
}

TEST_F(EditingWindowTest, AnExpressionReplacesOneAfterTheOther) {
    open("a.x, a.y<|>");
    key(Qt::Key_H, Qt::ControlModifier);
    EVENTUALLY(find(objectName::kReplaceText) != nullptr);
    click("findExpression");
    find<QLineEdit>(objectName::kFindText)->setText(QStringLiteral("a\\.(\\w)"));
    auto* count = find<QLabel>(objectName::kFindCount);
    EVENTUALLY(count->text() == QLatin1String("2 found"));
    find<QLineEdit>(objectName::kReplaceText)->setText(QStringLiteral("$1$1"));
    click(objectName::kReplaceOne);  // goes to the first
    click(objectName::kReplaceOne);
    EVENTUALLY(editorText() == "xx, a.y");
    EVENTUALLY(page()->editor()->selection() == "a.y");
    find<QLineEdit>(objectName::kFindText)->setText(QStringLiteral("("));
    EVENTUALLY(count->text() == QLatin1String("not understood"));
}

TEST_F(EditingWindowTest, EveryOpenSheetIsLookedThrough) {
    open("SELECT 1 FROM plot");
    open("SELECT 2;\nSELECT 3 FROM plot");
    key(Qt::Key_F, Qt::ControlModifier);
    EVENTUALLY(find(objectName::kFindText) != nullptr);
    type(QStringLiteral("plot"));
    click(objectName::kFindEverywhere);
    EVENTUALLY(QApplication::activePopupWidget() != nullptr);
    auto* list = QApplication::activePopupWidget()->findChild<QListWidget*>(QLatin1String(objectName::kPickChoices));
    ASSERT_EQ(list->count(), 2);
    QTest::keyClick(QApplication::activePopupWidget()->findChild<QLineEdit*>(), Qt::Key_Return);
    EVENTUALLY(page()->editor()->selection() == "plot");
    EXPECT_EQ(editorText(), "SELECT 1 FROM plot");
}

TEST_F(EditingWindowTest, ASnippetIsMadeOfASelectionCheckedTriedAndUsed) {
    open("SELECT name FROM plot WHERE slope = 'gentle'");
    key(Qt::Key_A, Qt::ControlModifier);
    run("snippet.make");
    EVENTUALLY(find(objectName::kSnippetsPage) != nullptr);
    auto* text = find<QPlainTextEdit>(objectName::kSnippetText);
    EXPECT_EQ(fromQt(text->toPlainText()), "SELECT name FROM plot WHERE slope = 'gentle'");
    auto* save = find<QPushButton>(objectName::kSnippetSave);
    EXPECT_FALSE(save->isEnabled()) << "without a trigger";
    find<QLineEdit>(objectName::kSnippetTrigger)->setText(QStringLiteral("steepness"));
    find<QLineEdit>(objectName::kSnippetTitle)->setText(QStringLiteral("Plots of a slope"));
    // The selected value becomes a place, filled with it at first.
    QTextCursor cursor = text->textCursor();
    cursor.setPosition(37);
    cursor.setPosition(43, QTextCursor::KeepAnchor);
    text->setTextCursor(cursor);
    click(objectName::kSnippetPlace);
    EXPECT_EQ(fromQt(text->toPlainText()), "SELECT name FROM plot WHERE slope = '«gentle=gentle»'");
    text->setPlainText(QStringLiteral("SELECT name FROM plot WHERE slope = '«gentle=»' OR «"));
    EXPECT_THAT(fromQt(find<QLabel>(objectName::kSnippetMessage)->text()), StartsWith("Line 1, column "));
    EXPECT_FALSE(save->isEnabled());
    text->setPlainText(QStringLiteral("SELECT name FROM plot WHERE slope = '«slope=gentle»'"));
    ASSERT_TRUE(save->isEnabled());
    auto* trial = find(objectName::kSnippetsPage)->findChild<SqlEditor*>();
    EVENTUALLY(trial->text().str() == "SELECT name FROM plot WHERE slope = 'gentle'");
    click(objectName::kSnippetSave);
    click(objectName::kSnippetNew);
    find<QLineEdit>(objectName::kSnippetTrigger)->setText(QStringLiteral("steepness"));
    find<QPlainTextEdit>(objectName::kSnippetText)->setPlainText(QStringLiteral("SELECT 1"));
    EXPECT_THAT(fromQt(find<QLabel>(objectName::kSnippetMessage)->text()), HasSubstr("Plots of a slope"));
    EXPECT_FALSE(save->isEnabled()) << "a trigger used twice";
    open("steepn<|>");
    page()->editor()->complete();
    EVENTUALLY(page()->editor()->isCompleting());
    key(Qt::Key_Tab);
    EVENTUALLY(editorText() == "SELECT name FROM plot WHERE slope = 'gentle'");
}

TEST_F(EditingWindowTest, ProgramTextIsPastedAndCopied) {
    open("<|>");
    QApplication::clipboard()->setText(QStringLiteral("String q = \"SELECT name \" +\n \"FROM plot\";"));
    key(Qt::Key_V, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_EQ(editorText(), "SELECT name FROM plot");
    awaitReading();
    run("editor.copyCode");
    EVENTUALLY(QApplication::activePopupWidget() != nullptr);
    auto* field = QApplication::activePopupWidget()->findChild<QLineEdit*>();
    QTest::keyClicks(field, QStringLiteral("Java"));
    QTest::keyClick(field, Qt::Key_Return);
    EXPECT_EQ(fromQt(QApplication::clipboard()->text()), "\"SELECT name FROM plot\"");
}

TEST_F(EditingWindowTest, LinesAreGoneToAndShownAsTheSettingsSay) {
    open("one\ntwo\nthree (four)<|>");
    key(Qt::Key_L, Qt::ControlModifier);
    EVENTUALLY(QApplication::activePopupWidget() != nullptr);
    QTest::keyClicks(QApplication::activePopupWidget(), QStringLiteral("2"));
    QTest::keyClick(QApplication::activePopupWidget(), Qt::Key_Return);
    EXPECT_EQ(page()->editor()->caretPlace().line, 2);
    page()->editor()->setCaret(14);
    key(Qt::Key_M, Qt::ControlModifier);
    EVENTUALLY(page()->editor()->caretPlace().column == 13);
    run("view.wrapped");
    run("view.blanks");
    run("view.numbers");
    EXPECT_TRUE(page()->editor()->isWrapped());
    EXPECT_TRUE(page()->editor()->areBlanksShown());
    EXPECT_FALSE(page()->editor()->areNumbersShown());
    EXPECT_EQ(editor()->marginWidth(0), 0);
}

TEST_F(EditingWindowTest, TheArgumentsOfACallAreShownWhileTheyAreWritten) {
    open("SELECT 1,\n  coalesce<|>");
    type(QStringLiteral("("));
    EVENTUALLY(find<QLabel>(objectName::kSignature) != nullptr);
    EXPECT_THAT(fromQt(find<QLabel>(objectName::kSignature)->text()), StartsWith("coalesce(<b>"));
    type(QStringLiteral("1, 2)"));
    EVENTUALLY(find<QLabel>(objectName::kSignature) == nullptr);
}

TEST_F(EditingWindowTest, RowsThatAHeldBackChangeWouldTouchAreCountedWithItsValues) {
    desk_->connections().put([&] {
        db::ConnectionProfile p = *desk_->connections().profile("orchard");
        p.environment = db::Environment::Live;
        return p;
    }());
    open("UPDATE plot SET slope = :slope WHERE plot_id IN (:plots)<|>");
    page()->sheet().giveParameter("slope", {.typed = "gentle"});
    page()->sheet().giveParameter("plots", {.typed = "1, 2"});
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(find<QLabel>(objectName::kHeldCount) != nullptr &&
               find<QLabel>(objectName::kHeldCount)->text().startsWith(QLatin1String("2 rows")));
}

TEST_F(EditingWindowTest, FindingsThatTheSettingsTurnOffStaySilent) {
    open("SELECT name FROM plot WHERE slope = NULL<|>");
    EVENTUALLY(!page()->editor()->hints().empty());
    desk_->preferences().changeSettings([](auto& s) { s.findingsOff = {"null-comparison"}; });
    page()->editor()->setCaret(3);
    EVENTUALLY(page()->editor()->hints().empty());
}

TEST_F(EditingWindowTest, TheServerIsAskedWithoutRunningAnything) {
    open("SELECT name FROM plot;\nSELECT length(name, 2) FROM plot;\nDELETE FROM tree WHERE tree_id = :one");
    key(Qt::Key_K, Qt::ControlModifier | Qt::AltModifier);
    EVENTUALLY(wasRemarked("Of 3 statements, the server refuses 1."));
    const auto hints = page()->editor()->hints();
    ASSERT_FALSE(hints.empty());
    EXPECT_TRUE(
        std::ranges::any_of(hints, [](const TextHint& one) { return one.message.contains(QLatin1String("length")); }));
    EXPECT_EQ(card(0), nullptr);
}

TEST_F(EditingWindowTest, ASnippetIsTakenFromTheListAndItsPlacesAreFilledInEverywhere) {
    open("<|>");
    type(QStringLiteral("dupl"));
    EVENTUALLY(page()->editor()->isCompleting());
    key(Qt::Key_Tab);
    EVENTUALLY(editorText().starts_with("SELECT «column», count(*) AS how_many\nFROM «table»\nGROUP BY «column»"));
    EXPECT_EQ(page()->editor()->carets(), 2) << "the column stands twice";
    type(QStringLiteral("slope"));
    key(Qt::Key_Tab);
    EVENTUALLY(page()->editor()->isCompleting());  // tables are offered
    type(QStringLiteral("plo"));
    key(Qt::Key_Tab);
    EXPECT_THAT(editorText(), HasSubstr("FROM plot\nGROUP BY slope"));
    key(Qt::Key_Tab);
    EXPECT_EQ(page()->editor()->caret(), editorText().size());
    awaitReading();
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(isOver(0));
    EXPECT_EQ(card(0)->state(), Card::State::Done);
}

TEST_F(EditingWindowTest, PlacesInCommentsAndStringsChangeTogetherAndAnOpenOneDoesNotRun) {
    desk_->preferences().putSnippet({"noted", "Noted", "-- «who»\nSELECT '«who»' AS who, '«what»' AS what;", {}});
    open("noted<|>");
    page()->editor()->complete();
    EVENTUALLY(page()->editor()->isCompleting());
    key(Qt::Key_Down);
    key(Qt::Key_Up);
    key(Qt::Key_Tab);
    EVENTUALLY(page()->editor()->carets() == 2);
    type(QStringLiteral("ada"));
    EXPECT_EQ(editorText(), "-- ada\nSELECT 'ada' AS who, '«what»' AS what;");
    key(Qt::Key_Escape);
    awaitReading();
    page()->editor()->setCaret(12);
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(wasRemarked("not filled in yet"));
    EXPECT_EQ(card(0), nullptr);
}

TEST_F(EditingWindowTest, ARepeatedPartFollowsTheTable) {
    open("insertr<|>");
    page()->editor()->complete();
    EVENTUALLY(page()->editor()->isCompleting());
    key(Qt::Key_Tab);
    EVENTUALLY(editorText().starts_with("INSERT INTO «table»"));
    type(QStringLiteral("warden"));
    if (page()->editor()->isCompleting()) key(Qt::Key_Tab);
    key(Qt::Key_Tab);
    EVENTUALLY(editorText().starts_with("INSERT INTO warden (warden_id, "));
    EXPECT_THAT(editorText(), HasSubstr("VALUES (:warden_id, "));
    awaitReading();
    page()->editor()->setCaret(3);
    EVENTUALLY(find(objectName::kParameterStrip) != nullptr);
}

TEST_F(EditingWindowTest, WhatBelongsTogetherIsMarkedAndGoneTo) {
    open("SELECT CASE<|> WHEN (1 = 1) THEN 'a)' END FROM plot");
    EVENTUALLY(marked(kPair) == (std::vector<std::size_t>{7, editorText().find("END")}));
    key(Qt::Key_M, Qt::ControlModifier);
    EVENTUALLY(page()->editor()->caret() == editorText().find("END") + 3);
    key(Qt::Key_M, Qt::ControlModifier);
    EVENTUALLY(page()->editor()->caret() == 11);
    page()->editor()->setCaret(editorText().find("(1") + 1);
    EVENTUALLY(marked(kPair) == (std::vector<std::size_t>{editorText().find("(1"), editorText().find(") THEN")}));
    page()->editor()->setCaret(editorText().size());
    page()->editor()->insertText(" WHERE (slope");
    page()->editor()->setCaret(editorText().find("(slope"));
    EVENTUALLY(marked(kLone).size() == 1);
    page()->editor()->setCaret(2);
    EVENTUALLY(marked(kPair).empty() && marked(kLone).empty());
}

TEST_F(EditingWindowTest, StatementsAndBracketsFoldAndOpenWhereTheCaretGoes) {
    open("SELECT 1;\nSELECT name,\n  (SELECT 2\n   FROM plot)\nFROM tree<|>;\nSELECT 3");
    const auto isShown = [&](long line) {
        return editor()->SendScintilla(Sci::SCI_GETLINEVISIBLE, static_cast<unsigned long>(line)) != 0;
    };
    const auto level = [&](long line) {
        return editor()->SendScintilla(Sci::SCI_GETFOLDLEVEL, static_cast<unsigned long>(line)) & 0xFFF;
    };
    EVENTUALLY(level(3) == (Sci::SC_FOLDLEVELBASE & 0xFFF) + 2);
    EXPECT_GT(editor()->marginWidth(2), 0);
    run("editor.fold");
    EXPECT_TRUE(isShown(1));
    EXPECT_FALSE(isShown(2));
    EXPECT_FALSE(isShown(4));
    EXPECT_TRUE(isShown(5));
    run("editor.unfoldAll");
    EXPECT_TRUE(isShown(3));
    page()->editor()->setCaret(0);
    run("editor.foldAll");
    EXPECT_FALSE(isShown(3));
    page()->editor()->setCaret(editorText().find("FROM plot"));
    EXPECT_TRUE(isShown(3)) << "the caret is never out of sight";
}

TEST_F(EditingWindowTest, JsonFoldsAndItsBracketsAreShownInPairs) {
    open("{\"crates\": [\n1,\n2\n],\n\"by\": 3<|>}");
    const auto level = [&](long line) {
        return editor()->SendScintilla(Sci::SCI_GETFOLDLEVEL, static_cast<unsigned long>(line)) & 0xFFF;
    };
    EVENTUALLY(level(1) == (Sci::SC_FOLDLEVELBASE & 0xFFF) + 1);
    page()->editor()->setCaret(editorText().find('['));
    EVENTUALLY(marked(kPair).size() == 2);
    run("editor.fold");
    EXPECT_EQ(editor()->SendScintilla(Sci::SCI_GETLINEVISIBLE, 2UL), 0);
    page()->editor()->setCaret(editorText().find("3}"));
    EVENTUALLY(marked(kPair).empty());
}

TEST_F(EditingWindowTest, ALineThatIsBrokenIntoRowsFoldsAsTheLineThatItIs) {
    std::string names;
    for (int i = 0; i < 500; ++i) names += "name, ";
    open("SELECT " + names + "\n  slope\nFROM plot;\nSELECT 2<|>");
    const auto level = [&](long line) {
        return editor()->SendScintilla(Sci::SCI_GETFOLDLEVEL, static_cast<unsigned long>(line));
    };
    const long base = Sci::SC_FOLDLEVELBASE;
    EVENTUALLY((level(0) & Sci::SC_FOLDLEVELHEADERFLAG) != 0);
    const long rows = editor()->lines();
    ASSERT_GT(rows, 4) << "it is broken";
    EXPECT_EQ(level(1), base + 1) << "a row that goes on begins nothing";
    EXPECT_EQ(level(rows - 2), base + 1);
    EXPECT_EQ(level(rows - 1), base);
}

TEST_F(EditingWindowTest, WhatIsMarkedStandsInTheCloseUpAndIsTurnedOffThere) {
    open("SELECT name FROM plot WHERE slope = <|>NULL");
    auto* closeUp = find(objectName::kCloseUp);
    EVENTUALLY(!page()->editor()->hints().empty());
    page()->editor()->setCaret(editorText().find("NULL") + 1);
    auto* message = closeUp->findChild<QLabel*>(QStringLiteral("findingMessage"));
    ASSERT_NE(message, nullptr);
    EVENTUALLY(message->isVisible());
    EXPECT_THAT(fromQt(message->text()), HasSubstr("NULL"));
    auto* mend = closeUp->findChild<QPushButton*>(QStringLiteral("findingMend"));
    EXPECT_TRUE(mend->isVisible());
    window_->resize(900, 560);
    for (const char* part : {"findingMend", "findingSilence", "findingMessage"}) {
        const auto* shown = closeUp->findChild<QWidget*>(QLatin1String(part));
        EXPECT_LE(shown->mapTo(closeUp, QPoint(shown->width(), 0)).x(), closeUp->width()) << part << " is cut";
    }
    QTest::mouseClick(closeUp->findChild<QPushButton*>(QStringLiteral("findingSilence")), Qt::LeftButton);
    EVENTUALLY(page()->editor()->hints().empty());
    EXPECT_FALSE(message->isVisible());
    EXPECT_TRUE(wasRemarked("is off"));
    ASSERT_EQ(desk_->settings().findingsOff.size(), 1U);
    run("editor.allChecks");
    EVENTUALLY(!page()->editor()->hints().empty());
    EXPECT_TRUE(desk_->settings().findingsOff.empty());
    QTest::mouseClick(mend, Qt::LeftButton);
    EVENTUALLY(editorText() == "SELECT name FROM plot WHERE slope IS NULL");
}

TEST_F(EditingWindowTest, AStatementThatRanIsOfferedAgain) {
    open("SELECT name FROM plot WHERE slope = 3;<|>");
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(isOver(0));
    key(Qt::Key_Return);
    type(QStringLiteral("slo"));
    // The first question begins the reading of the ledger; a later one has what it told.
    const auto isOffered = [&] {
        page()->editor()->complete();
        QTest::qWait(20);
        auto* popup = window_->findChild<QWidget*>(QLatin1String(objectName::kCompletion));
        const auto* list = popup != nullptr ? popup->findChild<QListWidget*>() : nullptr;
        return list != nullptr &&
               !list->findItems(QStringLiteral("SELECT name FROM plot WHERE slope = 3"), Qt::MatchStartsWith).isEmpty();
    };
    EVENTUALLY(isOffered());
}

TEST_F(EditingWindowTest, ANewLineStandsAsDeepAsTheFormatterWouldPutIt) {
    open("SELECT<|>");
    key(Qt::Key_Return);
    type(QStringLiteral("name"));
    key(Qt::Key_Return);
    EXPECT_EQ(editorText(), "SELECT\n    name\n    ") << "as deep as the line before";
    key(Qt::Key_Backspace);
    type(QStringLiteral("FROM (SELECT 1"));
    key(Qt::Key_Return);
    type(QStringLiteral("AS one)"));
    key(Qt::Key_Return);
    EXPECT_EQ(editorText(), "SELECT\n    name\nFROM (SELECT 1\n    AS one)\n");
    page()->editor()->setCaret(6);
    key(Qt::Key_Return);
    EXPECT_THAT(editorText(), StartsWith("SELECT\n    \n"));
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_THAT(editorText(), StartsWith("SELECT\n    name")) << "one step takes line and indentation";
}

TEST_F(EditingWindowTest, TheRailSaysThatOnlyAPartRan) {
    open("SELECT name FROM plot WHERE name IN (SELECT name FROM plot LIMIT 2);<|>");
    select("SELECT name FROM plot LIMIT 2");
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(isOver(0));
    EXPECT_EQ(card(0)->whole(), "SELECT name FROM plot WHERE name IN (SELECT name FROM plot LIMIT 2)");
    ASSERT_EQ(page()->sheet().cardsOfStatements().size(), 1U);
    page()->editor()->setCaret(3);
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(isOver(1));
    EXPECT_TRUE(card(1)->whole().empty());
    EXPECT_EQ(page()->sheet().cardsOfStatements().begin()->second, card(1)) << "the latest run counts";
}

TEST_F(EditingWindowTest, SeveralNamesOfTheCatalogGoIntoATextAsAList) {
    open("SELECT 1");
    auto* objects = find<QListView>(objectName::kObjectList);
    EVENTUALLY(objects->model()->rowCount() > 5);
    QModelIndexList chosen;
    for (int row = 0; row < objects->model()->rowCount(); ++row) {
        const QModelIndex index = objects->model()->index(row, 0);
        const QString name = index.data().toString();
        if (name == QStringLiteral("tree") || name == QStringLiteral("plot")) chosen.prepend(index);
    }
    ASSERT_EQ(chosen.size(), 2);
    EXPECT_EQ(objects->selectionMode(), QAbstractItemView::ExtendedSelection);
    const std::unique_ptr<QMimeData> data(objects->model()->mimeData(chosen));
    EXPECT_EQ(data->text(), QStringLiteral("plot, tree")) << "in the order of the list";
}

TEST_F(EditingWindowTest, APageBesideStaysInSightAndTheOneWithTheFocusIsMeant) {
    open("SELECT 1");
    SheetPage* first = page();
    run("sheet.new");
    SheetPage* second = page();
    ASSERT_NE(first, second);
    run("page.beside");
    EVENTUALLY(first->isVisible() && second->isVisible());
    EXPECT_EQ(page(), second);
    second->editor()->setFocus();
    type(QStringLiteral("SELECT 22"));
    awaitReading();
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(second->sheet().cards().size() == 1);
    first->editor()->setFocus();
    EVENTUALLY(page() == first);
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(first->sheet().cards().size() == 1);
    run("page.beside");
    EXPECT_FALSE(second->isVisible()) << "the other one is beside now, alone in its half";
    run("page.beside");
    EVENTUALLY(first->isVisible() != second->isVisible());
}

TEST_F(EditingWindowTest, WhoeverReachedForSomethingWritesOn) {
    open("SELECT 1<|>");
    run("window.reach");
    EVENTUALLY(find<QLineEdit>(objectName::kReachInput) != nullptr);
    key(Qt::Key_Escape);
    EXPECT_TRUE(editor()->hasFocus());
    run("window.reach");
    EVENTUALLY(find<QLineEdit>(objectName::kReachInput) != nullptr);
    type(QStringLiteral("unfold everything"));
    EVENTUALLY(find<QListWidget>(objectName::kReachList)->count() > 0);
    key(Qt::Key_Return);
    EVENTUALLY(find<QLineEdit>(objectName::kReachInput) == nullptr && editor()->hasFocus());
    type(QStringLiteral("7"));
    EXPECT_EQ(editorText(), "SELECT 17");
}

TEST_F(EditingWindowTest, LinesBeginInSightAgainOnceWhatIsWrittenIsShort) {
    open("SELECT 1<|>");
    type(QStringLiteral(" + 1").repeated(60));
    EVENTUALLY(editor()->SendScintilla(Sci::SCI_GETXOFFSET) > 0);
    key(Qt::Key_A, Qt::ControlModifier);
    type(QStringLiteral("SELECT 2"));
    EXPECT_EQ(editor()->SendScintilla(Sci::SCI_GETXOFFSET), 0);
}

TEST_F(EditingWindowTest, AllOfTheSnippetsPageIsReachedByKeysAlone) {
    open("SELECT 1");
    run("snippet.manage");
    EVENTUALLY(find<QPlainTextEdit>(objectName::kSnippetText) != nullptr);
    std::set<QWidget*> reached;
    for (int i = 0; i < 30; ++i) {
        key(Qt::Key_Tab);
        reached.insert(QApplication::focusWidget());
    }
    for (const char* one : {objectName::kSnippetTrigger, objectName::kSnippetTitle, objectName::kSnippetText,
                            objectName::kSnippetPlace, objectName::kSnippetNew})
        EXPECT_TRUE(reached.contains(find(one))) << one;
}

TEST_F(EditingWindowTest, WhatRanBeforeComesBackWithItsFirstLetters) {
    open("SELECT 1 AS one<|>");
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(isOver(0));
    page()->appendStatement("SELECT name FROM plot WHERE plot_id = 7");
    awaitReading();
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(isOver(1));
    const std::string before = editorText();
    run("sheet.ranBefore");
    EVENTUALLY(find<QListWidget>("ranBeforeList") != nullptr && find<QListWidget>("ranBeforeList")->count() == 2);
    EXPECT_THAT(fromQt(find<QLabel>("ranBeforeWhole")->text()), HasSubstr("plot_id = 7")) << "the newest first";
    run("sheet.ranBefore");
    EXPECT_EQ(find<QLabel>("ranBeforeWhole")->text(), QStringLiteral("SELECT 1 AS one"))
        << "once more, and it is older";
    key(Qt::Key_Escape);
    EXPECT_EQ(find("ranBefore"), nullptr);
    EXPECT_EQ(editorText(), before);
    run("sheet.ranBefore");
    type(QStringLiteral("plot"));
    EVENTUALLY(find<QListWidget>("ranBeforeList")->count() == 1);
    key(Qt::Key_Tab);
    EVENTUALLY(editorText() == before + "\n\nSELECT name FROM plot WHERE plot_id = 7;");
    EXPECT_EQ(page()->editor()->selection(), "7") << "the value is what one changes";
    EXPECT_TRUE(editor()->hasFocus());
    run("sheet.ranBefore");
    type(QStringLiteral("no such thing"));
    EVENTUALLY(find<QListWidget>("ranBeforeList")->count() == 0);
    key(Qt::Key_Return);
    EXPECT_NE(find("ranBefore"), nullptr) << "there is nothing to take";
    key(Qt::Key_Escape);
    page()->editor()->setCaret(0);
    run("sheet.ranBefore");
    EVENTUALLY(find<QListWidget>("ranBeforeList")->count() == 2);
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(page()->sheet().cards().size() == 3);
    EXPECT_EQ(page()->sheet().cards().back()->statement().text(), "SELECT name FROM plot WHERE plot_id = 7")
        << "what was chosen ran, and not what the cursor stood in";
    run("sheet.ranBefore");
    type("AS one");
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(page()->sheet().cards().size() == 4);
    EXPECT_EQ(page()->sheet().cards().back()->statement().text(), "SELECT 1 AS one")
        << "a key that is pressed before the answer waits for it";
}

TEST_F(EditingWindowTest, AStatementThatRanBeforeRemembersHowItWent) {
    open("SELECT count(*) FROM plot<|>");
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(isOver(0));
    const auto words = [&] {
        std::string all;
        for (const StatementMark& one : page()->editor()->marks()) all += fromQt(one.label + one.details) + "\n";
        return all;
    };
    EVENTUALLY(words().find("1 row") != std::string::npos);
    EXPECT_EQ(words().find("last time"), std::string::npos) << "it has just run";
    run("sheet.new");
    page()->editor()->replaceText("select  count(*)\nfrom plot;\nSELECT 77;", 0);
    EVENTUALLY(words().find("last time 1 row · ") != std::string::npos);
    EXPECT_EQ(page()->editor()->marks().size(), 1U) << "what never ran says nothing";
}

TEST_F(EditingWindowTest, WhatStoodBesideStandsThereAgainAfterARestart) {
    open("SELECT 1");
    run("sheet.new");
    type(QStringLiteral("SELECT 2"));
    const std::string other = page()->sheet().id();
    run("page.beside");
    run("sheet.new");
    type(QStringLiteral("SELECT 3"));
    const std::string front = page()->sheet().id();
    closeWindow();
    openWindow();
    EVENTUALLY(window_->sheets().size() == 3);
    EXPECT_EQ(page()->sheet().id(), front);
    for (SheetPage* one : window_->sheets()) {
        const std::string id = one->sheet().id();
        EXPECT_EQ(one->isVisible(), id == other || id == front);
    }
}

TEST_F(EditingWindowTest, WhatWasDoneIsUndoneAndDoneAgainAfterARestart) {
    open("SELECT 1<|>");
    type(QStringLiteral(" AS n"));
    page()->editor()->setCaret(0);
    type(QStringLiteral("-- "));
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(editorText(), "SELECT 1 AS n");
    closeWindow();
    openWindow();
    EVENTUALLY(!window_->sheets().empty());
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_Y, Qt::ControlModifier);
    EXPECT_EQ(editorText(), "-- SELECT 1 AS n");
    key(Qt::Key_Z, Qt::ControlModifier);
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(editorText(), "SELECT 1");
    key(Qt::Key_Z, Qt::ControlModifier);
    key(Qt::Key_Z, Qt::ControlModifier);
    key(Qt::Key_Y, Qt::ControlModifier);
    key(Qt::Key_Y, Qt::ControlModifier);
    EXPECT_EQ(editorText(), "-- SELECT 1 AS n") << "before the first step there is nothing to undo";
    key(Qt::Key_Z, Qt::ControlModifier);
    page()->editor()->setCaret(editorText().size());
    type(QStringLiteral("!"));
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(editorText(), "SELECT 1 AS n");
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(editorText(), "SELECT 1") << "the component's own step, and then ours";
}

TEST_F(EditingWindowTest, APinnedSheetStandsFirstAndComesBackSo) {
    open("SELECT 1");
    run("sheet.new");
    const std::string pinned = page()->sheet().id();
    type(QStringLiteral("SELECT 2"));
    run("page.pin");
    EXPECT_TRUE(page()->isPinned());
    run("sheet.new");
    run("page.closeOthers");
    EVENTUALLY(window_->sheets().size() == 2);
    EXPECT_EQ(window_->sheets().front()->sheet().id(), pinned);
    closeWindow();
    openWindow();
    EVENTUALLY(!window_->sheets().empty());
    EXPECT_EQ(window_->sheets().front()->sheet().id(), pinned);
    EXPECT_TRUE(window_->sheets().front()->isPinned());
}

TEST_F(EditingWindowTest, ExamplesStandBesideFunctions) {
    open("SELECT replac<|>");
    page()->editor()->complete();
    EVENTUALLY(page()->editor()->isCompleting());
    auto* note = find(objectName::kCompletionNote);
    ASSERT_NE(note, nullptr);
    QString words;
    for (const QLabel* label : note->findChildren<QLabel*>()) words += label->text() + QLatin1Char('\n');
    EXPECT_THAT(fromQt(words), HasSubstr("replace('red pear', 'red', 'green')"));
    EXPECT_THAT(fromQt(words), HasSubstr("green pear"));
}

TEST_F(EditingWindowTest, NothingStandsBesideAnOfferOfWhichNothingIsKnown) {
    open("SELECT * FROM inspection i WHERE i.visited_on ><|>");
    type(QStringLiteral(" "));
    EVENTUALLY(page()->editor()->isCompleting());
    EXPECT_EQ(fromQt(find(objectName::kCompletion)->findChild<QListWidget*>()->item(0)->text()).substr(0, 4), "date");
    EXPECT_EQ(find(objectName::kCompletionNote), nullptr);
    const int narrow = find(objectName::kCompletion)->width();
    for (int i = 0; i < 20 && find(objectName::kCompletionNote) == nullptr; ++i) key(Qt::Key_Down);
    ASSERT_NE(find(objectName::kCompletionNote), nullptr) << "a column further down has a type";
    EXPECT_GT(find(objectName::kCompletion)->width(), narrow);
}

TEST_F(EditingWindowTest, FromStatementToStatement) {
    open("SELECT 1;\n\nSELECT 2<|>;\nSELECT 3");
    key(Qt::Key_PageUp, Qt::AltModifier);
    EXPECT_EQ(page()->editor()->caret(), 11U) << "this one's beginning first";
    key(Qt::Key_PageUp, Qt::AltModifier);
    EXPECT_EQ(page()->editor()->caret(), 0U);
    key(Qt::Key_PageUp, Qt::AltModifier);
    EVENTUALLY(wasRemarked("none above"));
    key(Qt::Key_PageDown, Qt::AltModifier);
    key(Qt::Key_PageDown, Qt::AltModifier);
    EXPECT_EQ(page()->editor()->caret(), editorText().find("SELECT 3"));
    key(Qt::Key_PageDown, Qt::AltModifier);
    EVENTUALLY(wasRemarked("no statement below"));
}

TEST_F(EditingWindowTest, BracketsAndQuotesCloseThemselvesAndAreNeverDoubled) {
    open("SELECT <|>");
    type(QStringLiteral("round("));
    EXPECT_EQ(editorText(), "SELECT round()");
    type(QStringLiteral("(slope"));
    EXPECT_EQ(editorText(), "SELECT round((slope))");
    type(QStringLiteral(")"));
    type(QStringLiteral(" + 1)"));
    EXPECT_EQ(editorText(), "SELECT round((slope) + 1)") << "what closed itself is passed by";
    EXPECT_EQ(page()->editor()->caret(), editorText().size());
    type(QStringLiteral(" WHERE name = 'O''Hara (north"));
    EXPECT_EQ(editorText(), "SELECT round((slope) + 1) WHERE name = 'O''Hara (north") << "nothing within a text";
    type(QStringLiteral("'"));
    EXPECT_THAT(editorText(), EndsWith("(north'"));
    type(QStringLiteral(" IN ("));
    EXPECT_THAT(editorText(), EndsWith("IN ()"));
    key(Qt::Key_Backspace);
    EXPECT_THAT(editorText(), EndsWith("IN ")) << "an empty pair goes as a whole";
    type(QStringLiteral("("));
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_THAT(editorText(), testing::Not(EndsWith("()"))) << "and is one step";
}

TEST_F(EditingWindowTest, WhatIsSelectedIsPutIntoBrackets) {
    open("SELECT slope + 1 FROM plot<|>");
    select("slope + 1");
    type(QStringLiteral("("));
    EXPECT_EQ(editorText(), "SELECT (slope + 1) FROM plot");
    EXPECT_EQ(page()->editor()->selection(), "slope + 1") << "still selected";
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(editorText(), "SELECT slope + 1 FROM plot");
}

TEST_F(EditingWindowTest, NothingClosesItselfBeforeAWordOrWhenSwitchedOff) {
    open("SELECT <|>slope FROM plot");
    type(QStringLiteral("("));
    EXPECT_EQ(editorText(), "SELECT (slope FROM plot");
    open("SELECT 1 -- don<|>");
    type(QStringLiteral("'t ("));
    EXPECT_EQ(editorText(), "SELECT 1 -- don't (");
    desk_->preferences().changeSettings([](store::Settings& s) { s.closesPairs = false; });
    open("SELECT <|>");
    type(QStringLiteral("("));
    EXPECT_EQ(editorText(), "SELECT (");
}

TEST_F(EditingWindowTest, AFunctionTakenFromTheListIsClosed) {
    open("SELECT coale<|>");
    page()->editor()->complete();
    EVENTUALLY(page()->editor()->isCompleting());
    key(Qt::Key_Tab);
    EXPECT_EQ(editorText(), "SELECT coalesce()");
    EXPECT_EQ(page()->editor()->caret(), editorText().size() - 1);
    type(QStringLiteral("name, 'none')"));
    EXPECT_EQ(editorText(), "SELECT coalesce(name, 'none')");
}

TEST_F(EditingWindowTest, WhatIsSelectedBelowALongLineIsShownFromTheBeginningOfItsLine) {
    open("SELECT '" + std::string(400, 'n') + "'<|>;\n\nSELECT name FROM plot;");
    const auto offset = [&] { return editor()->SendScintilla(Sci::SCI_GETXOFFSET); };
    key(Qt::Key_Left);
    EVENTUALLY(offset() > 0);
    select("name");
    EXPECT_EQ(offset(), 0);
    page()->editor()->setCaret(300);
    EXPECT_GT(offset(), 0);
    page()->editor()->setCaret(editorText().size());
    EXPECT_EQ(offset(), 0);
}

TEST_F(EditingWindowTest, SnippetsAreReachedFor) {
    open("<|>");
    window_->openReach();
    find<QLineEdit>(objectName::kReachInput)->setText(QStringLiteral("occur more than once"));
    auto* list = find<QListWidget>(objectName::kReachList);
    EVENTUALLY([&] {
        for (int i = 0; i < list->count(); ++i) {
            if (list->item(i)->data(Qt::UserRole).toString() == QStringLiteral("snippet")) return true;
        }
        return false;
    }());
}

}  // namespace
}  // namespace pantry::app
