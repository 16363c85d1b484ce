// The page Catalog and the object page in the real window.
#include <QAbstractItemModelTester>
#include <QListView>
#include <QMenu>
#include <QMimeData>
#include <QPlainTextEdit>

#include "app/catalog/catalog_model.h"
#include "app/catalog/row_delegate.h"
#include "app/editor/code_text.h"
#include "app/pages/object/object_page.h"
#include "app/window_fixture.h"
#include "core/shelf/shelf.h"

namespace pantry::app {
namespace {

class CatalogWindowTest : public WindowTest {
protected:
    void clickTheConnection() {
        auto* connections = window_->findChild<QListWidget*>(QLatin1String(objectName::kConnectionList));
        ASSERT_NE(connections, nullptr);
        click(objectName::kCatalogTab);
        QTest::mouseClick(connections->viewport(), Qt::LeftButton, {},
                          connections->visualItemRect(connections->item(0)).center());
    }
    void SetUp() override {
        WindowTest::SetUp();
        openSheet();
        EVENTUALLY(hasCatalog());
        EVENTUALLY((list_ = find<QListView>(objectName::kObjectList)) != nullptr);
        new QAbstractItemModelTester(list_->model(), QAbstractItemModelTester::FailureReportingMode::Fatal, list_);
        EVENTUALLY(rows().contains(QStringLiteral("plot")));
    }
    QStringList rows() const {
        QStringList texts;
        for (int i = 0; i < list_->model()->rowCount(); ++i) texts += list_->model()->index(i, 0).data().toString();
        return texts;
    }
    QString remark() const {
        auto* label = window_->findChild<QLabel*>(QLatin1String(objectName::kCatalogRemark));
        return label != nullptr && label->isVisible() ? label->text() : QString();
    }
    void choose(const QString& name) {
        const int row = static_cast<int>(rows().indexOf(name));
        ASSERT_GE(row, 0) << name.toStdString();
        list_->setCurrentIndex(list_->model()->index(row, 0));
        list_->setFocus();
    }
    QListView* list_ = nullptr;
};

TEST_F(CatalogWindowTest, AllOpenConnectionsAreLookedThroughAndSayWhereTheyAre) {
    ASSERT_TRUE(test::copyOrchard(folder_ / "second.db"));
    db::ConnectionProfile second{.id = "second", .name = "Second orchard"};
    second.database = (folder_ / "second.db").string();
    desk_->connections().put(second);
    desk_->connections().beginWith("second");
    desk_->catalogs().want("second");
    EVENTUALLY(desk_->catalogs().state("second").catalog != nullptr);
    key(Qt::Key_F, Qt::ControlModifier | Qt::ShiftModifier);
    EVENTUALLY(QApplication::focusWidget() == find(objectName::kCatalogFind));
    type(QStringLiteral("frost_al"));
    EVENTUALLY(rows().count(QStringLiteral("frost_alert")) == 1);
    key(Qt::Key_A, Qt::AltModifier);
    EVENTUALLY(rows().count(QStringLiteral("frost_alert")) == 2);
    // The one of the other connection opens there.
    int last = -1;
    for (int i = 0; i < rows().size(); ++i) {
        if (rows()[i] == QStringLiteral("frost_alert")) last = i;
    }
    EXPECT_TRUE(list_->model()->index(last, 0).data(DetailRole).toString().contains(QStringLiteral("Second orchard")))
        << list_->model()->index(last, 0).data(DetailRole).toString().toStdString();
    list_->setCurrentIndex(list_->model()->index(last, 0));
    list_->setFocus();
    key(Qt::Key_Return);
    EVENTUALLY(window_->findChild<ObjectPage*>() != nullptr);
    EXPECT_EQ(window_->findChild<ObjectPage*>()->object().connectionId, QStringLiteral("second"));
    key(Qt::Key_A, Qt::AltModifier);
}

TEST_F(CatalogWindowTest, ReturnInTheFindFieldConnectsWhereNobodyHasYet) {
    closeWindow();
    openWindow();
    key(Qt::Key_F, Qt::ControlModifier | Qt::ShiftModifier);
    EVENTUALLY(QApplication::focusWidget() == find(objectName::kCatalogFind));
    EVENTUALLY(remark().startsWith(QStringLiteral("Not connected to Orchard records.")));
    type(QStringLiteral("warden"));
    key(Qt::Key_Return);
    list_ = find<QListView>(objectName::kObjectList);
    EVENTUALLY(rows().contains(QStringLiteral("warden")));
    key(Qt::Key_Return);
    EVENTUALLY(find(objectName::kObjectPage) != nullptr);
}

TEST_F(CatalogWindowTest, AnObjectHasItsQueriesAndThoseThatWereSaved) {
    ASSERT_TRUE(
        shelf::Shelf::openOwn(home().shelfFolder())->save("plots/ours.sql", "-- title: Ours\n\nSELECT * FROM plot;\n"));
    ASSERT_TRUE(
        shelf::Shelf::openOwn(home().shelfFolder())->save("plots/not.sql", "-- title: Not plot\n\nSELECT 1;\n"));
    EVENTUALLY(desk_->shelf().queries().size() == 2U);
    choose(QStringLiteral("plot"));
    Q_EMIT list_->customContextMenuRequested(list_->visualRect(list_->currentIndex()).center());
    QMenu* queries = nullptr;
    EVENTUALLY((queries = window_->findChild<QMenu*>(QLatin1String(objectName::kObjectQueries))) != nullptr);
    const auto action = [&](const QString& text) -> QAction* {
        for (QAction* one : queries->actions()) {
            if (one->text() == text) return one;
        }
        return nullptr;
    };
    EVENTUALLY(action(QStringLiteral("Ours")) != nullptr);
    EXPECT_EQ(action(QStringLiteral("Not plot")), nullptr) << "only its title names it";
    ASSERT_NE(action(QStringLiteral("How many rows")), nullptr);
    action(QStringLiteral("How many rows"))->trigger();
    EVENTUALLY(window_->currentSheet()->sheet().title() == QStringLiteral("plot: how many rows"));
    EVENTUALLY(isOver(0));
    EXPECT_EQ(card(0)->state(), Card::State::Done);
    QApplication::activePopupWidget() != nullptr ? QApplication::activePopupWidget()->close() : false;
}

TEST_F(CatalogWindowTest, WhatATransactionDefinesShowsOnceOthersCanSeeIt) {
    const auto run = [this](const std::string& statement, std::size_t before) {
        window_->currentSheet()->sheet().runStatement(statement);
        EVENTUALLY(isOver(before));
    };
    const auto isThere = [this] {
        const auto state = desk_->catalogs().state("orchard");
        return state.catalog && !state.isLoading && state.catalog->find("main", "shed") != nullptr;
    };
    run("BEGIN", 0);
    run("CREATE TABLE shed (n INTEGER)", 1);
    QTest::qWait(200);
    EXPECT_FALSE(isThere());
    run("COMMIT", 2);
    EVENTUALLY(isThere());
    EVENTUALLY(rows().contains(QStringLiteral("shed")));
    run("ALTER TABLE shed RENAME TO barn", 3);
    EVENTUALLY(rows().contains(QStringLiteral("barn")) && !rows().contains(QStringLiteral("shed")));
}

TEST_F(CatalogWindowTest, TheFindFieldFindsNamesAndColumns) {
    auto* field = find<QLineEdit>(objectName::kCatalogFind);
    QTest::keyClicks(field, QStringLiteral("hect"));
    EVENTUALLY(rows() ==
               QStringList({QStringLiteral("Columns · 1"), QStringLiteral("plot"), QStringLiteral("hectares")}));
    QTest::keyClick(field, Qt::Key_Return);
    EXPECT_NE(find(objectName::kObjectPage), nullptr);
    field->setText(QStringLiteral("zzz"));
    EVENTUALLY(remark().contains(QStringLiteral("“zzz”")));
    EXPECT_TRUE(rows().isEmpty());
    QTest::keyClick(field, Qt::Key_Escape);
    EVENTUALLY(rows().value(0).startsWith(QStringLiteral("Recently used")));
    EXPECT_EQ(rows().value(1), QStringLiteral("plot"));
}

TEST_F(CatalogWindowTest, WhatIsHiddenIsOfferedWhereNothingIsFound) {
    desk_->catalogs().changeChoices("orchard", {},
                                    [](catalog::Choices& c) { c.hiddenKinds.insert(catalog::ObjectKind::Table); });
    auto* field = find<QLineEdit>(objectName::kCatalogFind);
    QTest::keyClicks(field, QStringLiteral("variety"));
    EVENTUALLY(remark().contains(QStringLiteral("“variety”")));
    QPushButton* way = nullptr;
    EVENTUALLY((way = find<QPushButton>(objectName::kCatalogElsewhere)) != nullptr);
    EXPECT_TRUE(way->text().contains(QStringLiteral("tables"))) << way->text().toStdString();
    QTest::mouseClick(way, Qt::LeftButton);
    EVENTUALLY(rows().contains(QStringLiteral("variety")));
}

TEST_F(CatalogWindowTest, TextsOfViewsAndTriggersAreLookedIntoOnDemand) {
    window_->currentSheet()->sheet().runStatement("CREATE VIEW ripe_now AS SELECT name FROM variety /* quincewood */");
    EVENTUALLY(rows().contains(QStringLiteral("ripe_now")));
    auto* field = find<QLineEdit>(objectName::kCatalogFind);
    QTest::keyClicks(field, QStringLiteral("quincewood"));
    EVENTUALLY(remark().contains(QStringLiteral("“quincewood”")));
    QTest::keyClick(field, Qt::Key_T, Qt::AltModifier);
    EVENTUALLY(rows().value(0) == QStringLiteral("Texts · 1"));
    EXPECT_EQ(rows().value(1), QStringLiteral("ripe_now"));
    EXPECT_TRUE(rows().value(2).contains(QStringLiteral("quincewood")));
}

TEST_F(CatalogWindowTest, AFavouriteFollowsItsTableToAnotherName) {
    choose(QStringLiteral("variety"));
    QTest::keyClick(list_, Qt::Key_Space);
    EVENTUALLY(rows().value(0) == QStringLiteral("Favourites · 1"));
    window_->currentSheet()->sheet().runStatement("ALTER TABLE variety RENAME TO sort_of_fruit");
    EVENTUALLY(rows().mid(0, 2) == QStringList({QStringLiteral("Favourites · 1"), QStringLiteral("sort_of_fruit")}));
}

TEST_F(CatalogWindowTest, TheServersLineTellsTheVersionAndReadsAgain) {
    auto* server = find<QPushButton>(objectName::kCatalogServer);
    ASSERT_NE(server, nullptr);
    EXPECT_TRUE(server->toolTip().contains(QStringLiteral("SQLite 3"))) << server->toolTip().toStdString();
    const auto before = desk_->catalogs().state("orchard").readAt;
    QTest::mouseClick(server, Qt::LeftButton);
    EVENTUALLY(desk_->catalogs().state("orchard").readAt > before);
}

TEST_F(CatalogWindowTest, TheCardTellsOfWhatHasNoColumnsToo) {
    choose(QStringLiteral("plot"));
    auto* card = find(objectName::kObjectCard);
    ASSERT_NE(card, nullptr);
    EVENTUALLY(card->isVisible());
}

TEST_F(CatalogWindowTest, ReturnTakesWhatFitsAllThatWasTypedHoweverQuickly) {
    auto* field = find<QLineEdit>(objectName::kCatalogFind);
    QTest::keyClicks(field, QStringLiteral("variety"));
    QTest::keyClick(field, Qt::Key_Return);  // at once, before any list can be there
    EVENTUALLY(find(objectName::kObjectPage) != nullptr);
    EXPECT_TRUE(rows().contains(QStringLiteral("variety")));
    EXPECT_EQ(list_->currentIndex().data().toString(), QStringLiteral("variety"));
}

TEST_F(CatalogWindowTest, WhoTypesOnAfterReturnMeantSomethingElse) {
    auto* field = find<QLineEdit>(objectName::kCatalogFind);
    QTest::keyClicks(field, QStringLiteral("va"));
    QTest::keyClick(field, Qt::Key_Return);
    QTest::keyClicks(field, QStringLiteral("riety"));
    EVENTUALLY(rows().value(0).startsWith(QStringLiteral("Names")) && rows().contains(QStringLiteral("variety")));
    EXPECT_EQ(find(objectName::kObjectPage), nullptr);
}

TEST_F(CatalogWindowTest, AFavouriteStandsOnTopAndStaysThere) {
    choose(QStringLiteral("variety"));
    QTest::keyClick(list_, Qt::Key_Space);
    EVENTUALLY(rows().mid(0, 2) == QStringList({QStringLiteral("Favourites · 1"), QStringLiteral("variety")}));
    closeWindow();
    openWindow();
    clickTheConnection();
    EVENTUALLY(hasCatalog());
    EVENTUALLY((list_ = find<QListView>(objectName::kObjectList)) != nullptr);
    EVENTUALLY(rows().value(0) == QStringLiteral("Favourites · 1"));
}

TEST_F(CatalogWindowTest, KindsAreHiddenByTheirTicks) {
    EXPECT_TRUE(rows().filter(QStringLiteral("Views")).size() == 1);
    click(objectName::kCatalogPlace);
    auto* menu = window_->findChild<QMenu*>(QLatin1String(objectName::kPlaceMenu));
    ASSERT_NE(menu, nullptr);
    QCheckBox* views = nullptr;
    for (auto* box : menu->findChildren<QCheckBox*>()) {
        if (box->text() == QStringLiteral("Views")) views = box;
    }
    ASSERT_NE(views, nullptr);
    views->click();
    EVENTUALLY(rows().filter(QStringLiteral("Views")).isEmpty());
    EXPECT_TRUE(menu->isVisible());
    menu->close();
}

TEST_F(CatalogWindowTest, AStatementThatDefinesSomethingShowsInTheListByItself) {
    window_->currentSheet()->editor()->insertText("CREATE TABLE ladder (ladder_id INTEGER PRIMARY KEY)");
    window_->currentSheet()->runAtCaret();
    EVENTUALLY(rows().contains(QStringLiteral("ladder")));
}

TEST_F(CatalogWindowTest, TheStoryOfATableHoldsTheStatementsThatMakeIt) {
    choose(QStringLiteral("plot"));
    QTest::keyClick(list_, Qt::Key_Return);
    EVENTUALLY(find<CodeText>(objectName::kObjectDefinition) != nullptr &&
               find<CodeText>(objectName::kObjectDefinition)->text().str().starts_with("CREATE TABLE"));
}

TEST_F(CatalogWindowTest, FirstRowsByOneKeyAndANameToDrag) {
    choose(QStringLiteral("plot"));
    const std::unique_ptr<QMimeData> dragged(list_->model()->mimeData({list_->currentIndex()}));
    EXPECT_EQ(dragged->text(), QStringLiteral("plot"));
    QTest::keyClick(list_, Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(isOver(0));
    EXPECT_EQ(card(0)->rowCount(), 24U);
}

TEST_F(CatalogWindowTest, ConnectingIsSaid) {
    const auto says = [this](const QString& words) {
        for (auto* label : window_->findChildren<QLabel*>()) {
            if (label->text().contains(words)) return true;
        }
        return false;
    };
    closeWindow();
    openWindow();
    QTest::qWait(100);
    EXPECT_FALSE(hasCatalog()) << "the start connects to nothing by itself";
    EXPECT_FALSE(says(QStringLiteral("Connected to")));
    clickTheConnection();
    EVENTUALLY(says(QStringLiteral("Connected to Orchard records: SQLite 3")));
}

}  // namespace
}  // namespace pantry::app
