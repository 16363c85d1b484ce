#include "app/base/late_widget.h"

#include <QStackedWidget>

#include "app/look/first_paint.h"
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

class FirstPictureTest : public WindowTest {};

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
    desk_ = std::make_unique<Desk>(home());
    desk_->open();
    window_ = std::make_unique<MainWindow>(*desk_);
    window_->show();
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
    desk_ = std::make_unique<Desk>(home());
    desk_->open();
    window_ = std::make_unique<MainWindow>(*desk_);
    window_->show();
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
