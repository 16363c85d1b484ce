// Texts that are files: opened, written on, saved, and changed by others meanwhile.
#include <gmock/gmock.h>

#include <QAbstractButton>
#include <QFileDialog>
#include <QTabBar>
#include <fstream>

#include "app/window_fixture.h"
#include "core/base/file.h"

namespace pantry::app {
namespace {

class FilesWindowTest : public WindowTest {
protected:
    void write(const std::string& bytes) const { std::ofstream(path_, std::ios::binary) << bytes; }
    [[nodiscard]] std::string bytes() const { return *base::readFile(path_); }
    void openIt(const std::string& content) {
        openSheet({});
        write(content);
        window_->openFile(toQt(path_.string()));
        EVENTUALLY(window_->currentSheet() != nullptr && window_->currentSheet()->sheet().file().state());
    }
    Sheet& sheet() { return window_->currentSheet()->sheet(); }
    QString tabText() {
        auto* tabs = find<QTabBar>(objectName::kSheetTabs);
        return tabs->tabText(tabs->currentIndex());
    }
    bool isStripShown() { return find(objectName::kFileStrip) != nullptr && find(objectName::kFileStrip)->isVisible(); }

    std::filesystem::path path_ = folder_ / "harvest.sql";
};

TEST_F(FilesWindowTest, AFileIsSavedAsItWasWrittenAndTheMarkTellsWhetherItIs) {
    openIt("SELECT 1;\r\n-- \xE4pple\r\n");
    EXPECT_EQ(tabText(), QStringLiteral("harvest"));
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_Home, Qt::ControlModifier);
    type(QStringLiteral("-- new "));
    EXPECT_EQ(tabText(), QStringLiteral("harvest •"));
    key(Qt::Key_S, Qt::ControlModifier);
    EVENTUALLY(!sheet().file().isUnsaved());
    EXPECT_EQ(bytes(), "-- new SELECT 1;\r\n-- \xE4pple\r\n");
    EXPECT_EQ(tabText(), QStringLiteral("harvest"));
    key(Qt::Key_End, Qt::ControlModifier);
    type(QStringLiteral("x"));
    EXPECT_TRUE(sheet().file().isUnsaved());
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_FALSE(sheet().file().isUnsaved()) << "undone is saved";
    EXPECT_FALSE(isStripShown()) << "what we wrote is not another program's";
}

TEST_F(FilesWindowTest, OfAMarkdownFileTheStatementsInItsBlocksRun) {
    path_ = folder_ / "notes.md";
    openIt("# Plots\nsel\n\n```sql\nSELECT count(*) FROM plot\n```\n\nand\n\n```sql\nSELECT 2\n```\n");
    SqlEditor* editor = window_->currentSheet()->editor();
    const std::string text = sheet().text().str();
    EVENTUALLY(sheet().reading()->script().statements().size() == 2);
    editor->setCaret(text.find("count"));
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(sheet().cards().size() == 1 && !sheet().isRunning());
    EXPECT_EQ(sheet().cards().front()->statement().text(), "SELECT count(*) FROM plot");
    find(objectName::kEditor)->setFocus();
    editor->setCaret(text.find("sel") + 3);
    editor->complete();
    editor->setCaret(text.find("SELECT 2") + 3);
    editor->complete();
    EVENTUALLY(editor->isCompleting());
}

TEST_F(FilesWindowTest, WhatAnotherProgramWroteIsNoticedAndComesOnlyWhenWanted) {
    openIt("SELECT 1;");
    write("SELECT 1, 2;");
    EVENTUALLY(isStripShown());
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_S, Qt::ControlModifier);
    QTest::qWait(100);
    EXPECT_EQ(bytes(), "SELECT 1, 2;");
    click(objectName::kFileReload);
    EVENTUALLY(sheet().text() == "SELECT 1, 2;");
    EXPECT_FALSE(isStripShown());
    EXPECT_FALSE(sheet().file().isUnsaved());
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(sheet().text(), "SELECT 1;") << "reloading can be taken back";
    EXPECT_TRUE(sheet().file().isUnsaved());
}

TEST_F(FilesWindowTest, AFileThatHasBecomeLargeIsReadAgainAndThatIsTakenBackToo) {
    openIt("SELECT 1;");
    std::string large;
    while (large.size() < 1'200'000) large += "SELECT 1, 2;\n";
    write(large);
    EVENTUALLY(isStripShown());
    click(objectName::kFileReload);
    EVENTUALLY(sheet().text() == large);
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(sheet().text(), "SELECT 1;");
}

TEST_F(FilesWindowTest, OnesOwnTextReplacesAnothersOnlyAfterAWord) {
    openIt("SELECT 1;");
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_End, Qt::ControlModifier);
    type(QStringLiteral(" -- mine"));
    write("SELECT 1, 2;");
    EVENTUALLY(isStripShown());
    click(objectName::kFileKeepOurs);
    EVENTUALLY(!isStripShown());
    EXPECT_EQ(bytes(), "SELECT 1, 2;");
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_S, Qt::ControlModifier);
    EVENTUALLY(bytes() == "SELECT 1; -- mine");
    EVENTUALLY(!sheet().file().isUnsaved());
}

TEST_F(FilesWindowTest, AFileThatIsGoneIsWrittenAgainWhenWanted) {
    openIt("SELECT 1;");
    std::filesystem::remove(path_);
    EVENTUALLY(isStripShown());
    click(objectName::kFileSave);
    EVENTUALLY(std::filesystem::exists(path_) && bytes() == "SELECT 1;");
    EVENTUALLY(!isStripShown());
}

TEST_F(FilesWindowTest, CharactersThatTheEncodingLacksAreAskedAbout) {
    openIt("-- \xE4");
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_End, Qt::ControlModifier);
    window_->currentSheet()->editor()->insertText(" →");
    key(Qt::Key_S, Qt::ControlModifier);
    EVENTUALLY(isStripShown());
    EXPECT_EQ(bytes(), "-- \xE4");
    click(objectName::kFileSaveAsUtf8);
    EVENTUALLY(bytes() == "-- ä →");
    EVENTUALLY(!isStripShown());
}

TEST_F(FilesWindowTest, AfterARestartTheMarkAndAnotherProgramsChangeAreStillTold) {
    openIt("SELECT 1;");
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_End, Qt::ControlModifier);
    type(QStringLiteral(" -- mine"));
    closeWindow();
    openWindow();
    EVENTUALLY(tabText() == QStringLiteral("harvest •"));
    EXPECT_FALSE(isStripShown());
    EXPECT_EQ(sheet().text(), "SELECT 1; -- mine");
    closeWindow();
    write("SELECT 1, 2;");
    openWindow();
    EVENTUALLY(isStripShown());
    EXPECT_EQ(sheet().text(), "SELECT 1; -- mine") << "nothing is lost by it";
    EXPECT_EQ(bytes(), "SELECT 1, 2;");
}

TEST_F(FilesWindowTest, TheSameFileIsOpenedOnce) {
    openIt("SELECT 1;");
    auto* tabs = find<QTabBar>(objectName::kSheetTabs);
    const int count = tabs->count();
    const int index = tabs->currentIndex();
    tabs->setCurrentIndex(0);
    window_->openFile(toQt(path_.string()));
    EVENTUALLY(tabs->currentIndex() == index);
    EXPECT_EQ(tabs->count(), count);
}

TEST_F(FilesWindowTest, ASheetBecomesAFile) {
    openSheet(QStringLiteral("SELECT 7;"));
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_S, Qt::ControlModifier);
    EVENTUALLY(find("saveElsewhere") != nullptr);  // on the shelf, or somewhere else
    click("saveElsewhere");
    auto* dialog = window_->findChild<QFileDialog*>(QLatin1String(objectName::kSaveAs));
    ASSERT_NE(dialog, nullptr);
    Q_EMIT dialog->fileSelected(toQt(path_.string()));
    EVENTUALLY(std::filesystem::exists(path_) && bytes() == "SELECT 7;");
    EVENTUALLY(tabText() == QStringLiteral("harvest"));
    dialog->close();
}

TEST_F(FilesWindowTest, ClosingAsksAboutWhatIsNotSaved) {
    openIt("SELECT 1;");
    auto* tabs = find<QTabBar>(objectName::kSheetTabs);
    const int count = tabs->count();
    find(objectName::kEditor)->setFocus();
    type(QStringLiteral("-- "));
    const auto answer = [this](const char* button) {
        QTimer::singleShot(50, window_.get(), [button] {
            auto* found = QApplication::activeModalWidget()->findChild<QAbstractButton*>(QLatin1String(button));
            QTest::mouseClick(found, Qt::LeftButton);
        });
        key(Qt::Key_W, Qt::ControlModifier);
    };
    answer(objectName::kUnsavedFileSave);
    EVENTUALLY(tabs->count() == count - 1);
    EXPECT_EQ(bytes(), "SELECT 1;-- ");
}

}  // namespace
}  // namespace pantry::app
