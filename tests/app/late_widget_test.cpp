#include "app/base/late_widget.h"

#include <QFontDatabase>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QStackedWidget>

#include "app/look/early_fonts.h"
#include "app/look/first_paint.h"
#include "app/look/late_strip.h"
#include "app/window_fixture.h"

namespace pantry::app {
namespace {

TEST(LateWidgetTest, APartIsMadeOnceAndWhenItIsWanted) {
    QWidget window;
    int made = 0;
    QStringList told;
    LateWidget<QLabel> part(
        [&] {
            ++made;
            return new QLabel(QStringLiteral("pears"), &window);
        },
        [&](QLabel& label) { told << label.text(); });
    EXPECT_EQ(part.made(), nullptr);
    EXPECT_EQ(made, 0);
    part->setText(QStringLiteral("quinces"));
    EXPECT_EQ(part.get()->text(), QStringLiteral("quinces"));
    EXPECT_EQ(made, 1);
    EXPECT_EQ(told, QStringList{QStringLiteral("pears")});
}

TEST(FirstPaintTest, WhatIsPutOffComesOnceAfterTheFirstPicture) {
    QWidget window;
    int count = 0;
    afterFirstPaint(&window, [&] { ++count; });
    QCoreApplication::processEvents();
    EXPECT_EQ(count, 0);
    window.show();
    EXPECT_EQ(count, 0);
    EVENTUALLY(count == 1);
    window.repaint();
    QCoreApplication::processEvents();
    EXPECT_EQ(count, 1);
    afterFirstPaint(&window, [&] { ++count; });
    EXPECT_EQ(count, 2);  // there is nothing to wait for
}

TEST(FirstPaintTest, ItIsForgottenWithItsWidget) {
    QWidget window;
    int count = 0;
    auto* part = new QWidget(&window);
    afterFirstPaint(part, [&] { ++count; });
    delete part;
    window.show();
    QTest::qWait(20);
    EXPECT_EQ(count, 0);
}

/// Two buttons that are made when they are first shown.
class Buttons : public LateStrip {
public:
    using LateStrip::LateStrip;
    using LateStrip::showIf;
    int made = 0;
    QPushButton* first = nullptr;
    QPushButton* second = nullptr;

protected:
    void makeContent() override {
        ++made;
        first = new QPushButton(QStringLiteral("Keep"), this);
        second = new QPushButton(QStringLiteral("Leave"), this);
        auto* layout = new QHBoxLayout(this);
        layout->addWidget(first);
        layout->addWidget(second);
    }
};

TEST(LateStripTest, ItsContentIsMadeOnceWhenItIsFirstShown) {
    QWidget window;
    auto* strip = new Buttons(&window);
    EXPECT_FALSE(strip->showIf(false));
    EXPECT_EQ(strip->made, 0);
    EXPECT_TRUE(strip->showIf(true));
    EXPECT_FALSE(strip->showIf(false));
    EXPECT_TRUE(strip->isHidden());
    EXPECT_TRUE(strip->showIf(true));
    EXPECT_EQ(strip->made, 1);
    EXPECT_FALSE(strip->isHidden());
}

TEST(LateStripTest, ItsContentStandsInTheRoundOfTheTabKeyWhereTheStripDoes) {
    QWidget window;
    auto* before = new QLineEdit(&window);
    auto* strip = new Buttons(&window);
    auto* behind = new QLineEdit(&window);
    window.show();
    strip->showIf(true);
    std::vector<QWidget*> round;
    for (QWidget* one = before->nextInFocusChain(); one != before; one = one->nextInFocusChain())
        if (one->focusPolicy() != Qt::NoFocus) round.push_back(one);
    EXPECT_EQ(round, (std::vector<QWidget*>{strip->first, strip->second, behind}));
}

TEST(EarlyFontsTest, WhoNeedsFontsWaitsForThoseThatAreReadEarly) {
    awaitFonts();  // nobody reads them
    EarlyFonts fonts;
    awaitFonts();  // nobody told it of the application: waiting would have no end
    fonts.noteApplication();
    awaitFonts();
    EXPECT_FALSE(QFontDatabase::families().isEmpty());
    awaitFonts();
}

class FirstPictureTest : public WindowTest {};

TEST_F(FirstPictureTest, TheFirstCardHasTheFocusAlsoWhenAllAreMadeAnew) {
    const auto focused = [] {
        const QWidget* focus = QApplication::focusWidget();
        return focus == nullptr ? QString() : focus->objectName();
    };
    EVENTUALLY(focused() == QStringLiteral("connectionCard"));
    EVENTUALLY(find(objectName::kConnectionForm) != nullptr);
    for (const char* name : {"Cider house", "Hedge"}) {
        db::ConnectionProfile another;
        another.id = name;
        another.name = name;
        another.database = (folder_ / "cider.db").string();
        desk_->connections().put(another);
        EVENTUALLY(std::ranges::any_of(
            window_->findChildren<QWidget*>(QStringLiteral("connectionCard")),
            [&](const QWidget* card) { return card->isVisible() && card->accessibleName().startsWith(toQt(name)); }));
        QTest::qWait(50);  // whatever follows
        EXPECT_EQ(focused(), QStringLiteral("connectionCard"));
    }
}

/// What the connections have put off must not take the focus from where somebody went meanwhile.
TEST_F(FirstPictureTest, ASheetThatIsOpenedAtOnceKeepsTheFocus) {
    closeWindow();
    showWindow();
    ASSERT_TRUE(QTest::qWaitForWindowActive(window_.get()));
    db::ConnectionProfile another;
    another.id = "cider";
    another.name = "Cider house";
    another.database = (folder_ / "cider.db").string();
    desk_->connections().put(another);  // the cards are made anew
    window_->openSheet(QStringLiteral("orchard"));
    window_->currentSheet()->editor()->setFocus();
    for (int i = 0; i < 10; ++i) {
        QTest::qWait(20);
        ASSERT_NE(QApplication::focusWidget(), nullptr);
        ASSERT_NE(QApplication::focusWidget()->objectName(), QStringLiteral("connectionCard"));
    }
    type(QStringLiteral("SELECT 1"));
    EXPECT_EQ(editorText(), "SELECT 1");
}

TEST_F(FirstPictureTest, StripsOfASheetAreFilledWhenTheyAreFirstShown) {
    openSheet(QStringLiteral("SELECT 1;"));
    for (const char* part : {objectName::kCommitButton, objectName::kHeldRun, objectName::kPasswordInput,
                             objectName::kFileReload, objectName::kLaterPart, objectName::kRegularNow})
        EXPECT_EQ(window_->findChild<QWidget*>(QLatin1String(part)), nullptr) << part;
    window_->currentSheet()->editor()->setFocus();
    window_->currentSheet()->sheet().runStatement("BEGIN");
    EVENTUALLY(find(objectName::kCommitButton) != nullptr);
    find(objectName::kCommitButton)->setFocus();
    key(Qt::Key_Tab);
    EXPECT_EQ(QApplication::focusWidget()->objectName(), QLatin1String(objectName::kUndoButton));
    click(objectName::kUndoButton);
    EVENTUALLY(find(objectName::kCommitButton) == nullptr);
}

TEST_F(FirstPictureTest, TheConnectionsNeedNeitherLeftColumnNorCloseUpNorReach) {
    EVENTUALLY(find(objectName::kConnectionForm) != nullptr);
    for (const char* part : {objectName::kCatalogPage, objectName::kShelfPage, objectName::kLedgerPage,
                             objectName::kCloseUp, objectName::kReach, objectName::kFormHost})
        EXPECT_EQ(window_->findChild<QWidget*>(QLatin1String(part)), nullptr) << part;
    openSheet();
    EXPECT_NE(find(objectName::kCatalogPage), nullptr);
    EXPECT_NE(find(objectName::kCloseUp), nullptr);
    EXPECT_EQ(window_->findChild<QWidget*>(QLatin1String(objectName::kShelfPage)), nullptr);
    click(objectName::kShelfTab);
    EXPECT_NE(find(objectName::kShelfPage), nullptr);
}

TEST_F(FirstPictureTest, TheFormOfTheFirstConnectionComesUnlessSomethingElseWasChosen) {
    closeWindow();
    showWindow();
    click(objectName::kExportConnections);  // before anything was painted
    QTest::qWait(50);
    EXPECT_NE(find(objectName::kTransferPanel), nullptr);
    EXPECT_EQ(find(objectName::kConnectionForm), nullptr);
}

TEST_F(FirstPictureTest, WhatComesLateHasItsPlaceInTheRoundOfTheTabKey) {
    EVENTUALLY(find<QComboBox>(objectName::kFormEngine) != nullptr);
    auto* engine = find<QComboBox>(objectName::kFormEngine);
    engine->setCurrentIndex(engine->findText(QStringLiteral("PostgreSQL")));
    EVENTUALLY(find(objectName::kFormHost) != nullptr);
    engine->setFocus();
    key(Qt::Key_Tab);
    EXPECT_EQ(QApplication::focusWidget()->objectName(), QLatin1String(objectName::kFormHost));
    find(objectName::kFormCa)->setFocus();
    key(Qt::Key_Tab);
    EXPECT_EQ(QApplication::focusWidget()->objectName(), QStringLiteral("formLocal"));
}

TEST_F(FirstPictureTest, TheConnectionsAreThereAlsoWhenASheetWasFirst) {
    openSheet(QStringLiteral("SELECT 1;"));
    closeWindow();
    showWindow();
    EXPECT_EQ(window_->findChild<QWidget*>(QLatin1String(objectName::kConnectionsPage)), nullptr);
    window_->showConnections();  // before anything was painted
    window_->findChild<ConnectionsPage*>()->choose(QStringLiteral("orchard"));
    EVENTUALLY(find("connectionCard") != nullptr);
    EVENTUALLY(find(objectName::kConnectionForm) != nullptr);
    EXPECT_GT(find("connectionCard")->visibleRegion().boundingRect().height(), 20);
}

TEST_F(FirstPictureTest, ASheetBehindTheOneInFrontHasItsResultWhenItIsSeen) {
    openSheet(QStringLiteral("SELECT 1;"));
    openSheet(QStringLiteral("SELECT 2;"));
    closeWindow();
    openWindow();
    const std::vector<SheetPage*> pages = window_->sheets();
    ASSERT_EQ(pages.size(), 2U);
    EVENTUALLY(pages[1]->madeResult() != nullptr);
    EXPECT_EQ(pages[0]->madeResult(), nullptr);
    key(Qt::Key_Tab, Qt::ControlModifier);
    EVENTUALLY(window_->currentSheet() == pages[0]);
    EVENTUALLY(pages[0]->madeResult() != nullptr);
    pages[0]->runAll();
    EVENTUALLY(pages[0]->result()->model()->rowCount() == 1);
}

}  // namespace
}  // namespace pantry::app
