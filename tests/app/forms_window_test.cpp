// Texts of views and triggers that are applied, forms of a few fields, and what the details tell on demand, in the real
// window on SQLite.
#include <gmock/gmock.h>

#include <QCheckBox>
#include <QListWidget>
#include <QMenu>
#include <QMimeData>
#include <QTableWidget>

#include "app/catalog/catalog_panel.h"
#include "app/define/definition_panel.h"
#include "app/pages/form/form_page.h"
#include "app/pages/object/object_page.h"
#include "app/pages/server/server_page.h"
#include "app/pages/text/text_page.h"
#include "app/window_fixture.h"
#include "core/db/run_and_wait.h"
#include "core/store/defined_file.h"
#include "core/store/process_identity.h"

namespace pantry::app {
namespace {

using testing::HasSubstr;

class FormsWindowTest : public WindowTest {
protected:
    void SetUp() override {
        WindowTest::SetUp();
        openSheet();
        EVENTUALLY(hasCatalog());
    }
    CatalogPanel* panel() { return window_->findChild<CatalogPanel*>(); }
    TextPage* text() { return window_->findChild<TextPage*>(); }
    static ObjectPlace at(const char* name, catalog::ObjectKind kind = catalog::ObjectKind::Table) {
        return {QStringLiteral("orchard"), {}, {.kind = kind, .schema = "main", .name = name}};
    }
    void run(const std::string& statement) {
        openSheet(QString::fromStdString(statement));
        window_->currentSheet()->runAll();
        EVENTUALLY(isOver(0));
        ASSERT_EQ(card(0)->state(), Card::State::Done) << statement;
    }
    std::string definition(const char* name) {
        openSheet(QStringLiteral("SELECT sql FROM sqlite_schema WHERE name = '%1'").arg(QLatin1String(name)));
        window_->currentSheet()->runAll();
        if (!QTest::qWaitFor([&] { return isOver(0); }, kTimeoutMs) || card(0)->result()->rowCount() == 0) return {};
        return data::toText(card(0)->result()->cell(0, 0));
    }
    void editText(const ObjectPlace& place, const sql::EditedObject& edited) {
        Q_EMIT panel()->textRequested(place, edited);
        EVENTUALLY(text() != nullptr && text()->isVisible() && !text()->editor()->text().empty());
    }
    std::string written() { return text()->editor()->text().str(); }
    void writeInstead(const std::string& all) {
        text()->editor()->setFocus();
        text()->editor()->replaceText(all, all.size());
    }
    QString message() {
        auto* label = find<QLabel>(objectName::kDefinitionMessage);
        return label != nullptr ? label->text() : QString();
    }
    bool isReady() {
        auto* verb = find<QPushButton>(objectName::kDefinitionRun);
        return verb != nullptr && verb->isEnabled();
    }
};

TEST_F(FormsWindowTest, ATextIsAppliedWhereItStandsAndAFailureIsMarkedThere) {
    run("CREATE VIEW old_trees AS SELECT tree_id FROM tree WHERE planted_on < '2000-01-01'");
    EVENTUALLY(desk_->catalogs().state("orchard").catalog->find("main", "old_trees") != nullptr);
    editText(at("old_trees", catalog::ObjectKind::View), {.object = at("old_trees", catalog::ObjectKind::View).object});
    EXPECT_THAT(written(), HasSubstr("CREATE VIEW old_trees AS SELECT tree_id"));
    EXPECT_FALSE(isReady()) << "nothing is changed yet";

    writeInstead("CREATE VIEW old_trees AS\nSELECT tree_id FROM tree WHERE GROUP;\n");
    EVENTUALLY(isReady());
    EXPECT_THAT(message().toStdString(),
                HasSubstr("DROP VIEW main.old_trees first, and then the text, in one transaction"));
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(message().contains(QStringLiteral("Near \"GROUP\"")));
    EXPECT_THAT(message().toStdString(), HasSubstr("rolled back"));
    EXPECT_THAT(written(), HasSubstr("WHERE GROUP")) << "the text is kept";
    EXPECT_EQ(text()->editor()->caret(), written().find("GROUP")) << "and one stands where it fails";

    writeInstead("CREATE VIEW old_trees AS\nSELECT tree_id, planted_on FROM tree;\n");
    EVENTUALLY(isReady());
    QTest::mouseClick(find<QPushButton>(objectName::kDefinitionRun), Qt::LeftButton);
    EVENTUALLY(message().startsWith(QStringLiteral("Applied at ")));
    EXPECT_NE(text(), nullptr) << "one goes on writing";
    EVENTUALLY([&] {
        const auto catalog = desk_->catalogs().state("orchard").catalog;
        const auto* view = catalog->find("main", "old_trees");
        return view != nullptr && view->columns.size() == 2;
    }());
    EXPECT_FALSE(text()->unfinished()) << "nothing would be lost";
    EXPECT_THAT(definition("old_trees"), HasSubstr("planted_on FROM tree"));
}

TEST_F(FormsWindowTest, ANewViewIsNamedFirstMadeAndShown) {
    editText({QStringLiteral("orchard"), {}, {.schema = "main"}},
             {.object = {.kind = catalog::ObjectKind::View, .schema = "main"}});
    EVENTUALLY(text()->editor()->selection() == "new_view") << written();
    type(QStringLiteral("few_plots"));
    EVENTUALLY(isReady());
    EXPECT_THAT(written(), HasSubstr("few_plots"));
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(text() == nullptr);
    EVENTUALLY(window_->findChild<ObjectPage*>() != nullptr);
    EXPECT_EQ(window_->findChild<ObjectPage*>()->title(), QStringLiteral("few_plots"));
}

TEST_F(FormsWindowTest, ATriggerIsAddedChangedAndStandsWithItsTable) {
    editText(at("plot"), {.object = at("plot").object, .isNewTrigger = true});
    writeInstead("CREATE TRIGGER plot_seen AFTER UPDATE ON plot BEGIN UPDATE warden SET name = name; END;");
    EVENTUALLY(isReady());
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(text() == nullptr && find(objectName::kObjectTextEdit) != nullptr);
    click(objectName::kObjectTextEdit);
    EVENTUALLY(text() != nullptr && written().find("plot_seen") != std::string::npos);
    EXPECT_EQ(text()->title(), QStringLiteral("Edit plot_seen"));
    writeInstead("CREATE TRIGGER plot_noted AFTER DELETE ON plot BEGIN UPDATE warden SET name = name; END;");
    EVENTUALLY(isReady());
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(message().startsWith(QStringLiteral("Applied at ")));
    EXPECT_EQ(definition("plot_seen"), "") << "dropped first, as the engine has no other way";
    EXPECT_THAT(definition("plot_noted"), HasSubstr("AFTER DELETE"));
}

TEST_F(FormsWindowTest, WhatWasNotAppliedGoesIntoASheetAndCancelMeansIt) {
    const ObjectPlace nowhere{QStringLiteral("orchard"), {}, {.schema = "main"}};
    const sql::EditedObject view{.object = {.kind = catalog::ObjectKind::View, .schema = "main"}};
    editText(nowhere, view);
    key(Qt::Key_W, Qt::ControlModifier);
    EVENTUALLY(text() == nullptr);
    EXPECT_EQ(window_->currentSheet() == nullptr ? "" : editorText(), "") << "what nobody has written is not kept";
    editText(nowhere, view);
    writeInstead("CREATE VIEW half AS SELECT");
    click(objectName::kDefinitionCancel);
    EVENTUALLY(text() == nullptr);
    EXPECT_EQ(window_->currentSheet() == nullptr ? "" : editorText(), "");
    editText(nowhere, view);
    writeInstead("CREATE VIEW half AS SELECT");
    key(Qt::Key_W, Qt::ControlModifier);
    EVENTUALLY(window_->currentSheet() != nullptr && editorText() == "CREATE VIEW half AS SELECT");
    editText(nowhere, view);
    writeInstead("CREATE VIEW other_half AS SELECT");
    closeWindow();  // the same when the program ends
    openWindow();
    bool isThere = false;
    for (SheetPage* sheet : window_->findChildren<SheetPage*>()) {
        isThere = isThere || sheet->sheet().text().str() == "CREATE VIEW other_half AS SELECT";
    }
    EXPECT_TRUE(isThere);
}

TEST_F(FormsWindowTest, TheTextPageWritesLikeASheet) {
    editText({QStringLiteral("orchard"), {}, {.schema = "main"}},
             {.object = {.kind = catalog::ObjectKind::View, .schema = "main"}});
    writeInstead("create view v as select warden_nam from plot");
    EVENTUALLY(!text()->editor()->hints().empty());
    EXPECT_THAT(text()->editor()->hints().front().message.toStdString(), HasSubstr("warden_nam"));
    key(Qt::Key_F, Qt::ControlModifier | Qt::AltModifier);
    EVENTUALLY(written().find("SELECT") != std::string::npos) << "laid out";
    writeInstead("CREATE VIEW v AS SELECT hec");
    key(Qt::Key_Space, Qt::ControlModifier);
    EVENTUALLY(text()->editor()->isCompleting());
    key(Qt::Key_Escape);
    key(Qt::Key_F, Qt::ControlModifier);
    EVENTUALLY(find(objectName::kFindStrip) != nullptr);
    EXPECT_EQ(find(objectName::kFindEverywhere), nullptr) << "there is this text only";
    type(QStringLiteral("VIEW"));
    EVENTUALLY(find<QLabel>(objectName::kFindCount)->text().contains(QLatin1Char('1')));
}

TEST_F(FormsWindowTest, AFormKeepsWhatIsWrongAndSaysIt) {
    Q_EMIT panel()->formRequested(at("plot"), QStringLiteral("object.rename"));
    EVENTUALLY(find<QLineEdit>("formFieldtext") != nullptr);
    EXPECT_TRUE(find<QLabel>(objectName::kFormAbout)->text().startsWith(QStringLiteral("table main.plot")));
    auto* field = find<QLineEdit>("formFieldtext");
    field->clear();
    EXPECT_EQ(message(), QStringLiteral("“New name” is not filled in yet."));
    EXPECT_FALSE(isReady());
    field->setFocus();
    type(QStringLiteral("tree"));
    EVENTUALLY(isReady());
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(message().contains(QStringLiteral("already")));
    EXPECT_EQ(field->text(), QStringLiteral("tree"));
    key(Qt::Key_Escape);
    EVENTUALLY(window_->findChild<FormPage*>() == nullptr);
}

TEST_F(FormsWindowTest, WhatCanBeMadeIsReachedByItsName) {
    key(Qt::Key_J, Qt::ControlModifier);
    EVENTUALLY(find(objectName::kReach) != nullptr);
    type(QStringLiteral("new view"));
    auto* list = find<QListWidget>(objectName::kReachList);
    ASSERT_NE(list, nullptr);
    EVENTUALLY([&] {
        for (int i = 0; i < list->count(); ++i) {
            if (list->item(i)->text().contains(QStringLiteral("New view…"))) return true;
        }
        return false;
    }());
    key(Qt::Key_Escape);
}

TEST_F(FormsWindowTest, TheServersPageShowsASubjectAtATime) {
    key(Qt::Key_E, Qt::ControlModifier | Qt::AltModifier);
    EVENTUALLY(find(objectName::kServerPage) != nullptr);
    auto* page = window_->findChild<ServerPage*>();
    const auto column = [&](std::size_t at) {
        return page->pane()->source() != nullptr && page->pane()->source()->result() &&
                       page->pane()->source()->result()->columns().size() > at
                   ? page->pane()->source()->result()->columns()[at].name
                   : std::string();
    };
    EVENTUALLY(column(2) == "file");
    EXPECT_EQ(find(objectName::kServerChange), nullptr) << "a file has no roles to change";
    QPushButton* settings = nullptr;
    for (QPushButton* word : page->findChildren<QPushButton*>(QLatin1String(objectName::kServerSubject))) {
        if (word->text() == QStringLiteral("Settings")) settings = word;
    }
    ASSERT_NE(settings, nullptr);
    QTest::mouseClick(settings, Qt::LeftButton);
    EVENTUALLY(column(1) == "value" && page->pane()->source()->result()->rowCount() == 7);
    EXPECT_TRUE(settings->isChecked());
    click("serverSheet");
    EVENTUALLY(window_->currentSheet() != nullptr && editorText().find("journal_mode") != std::string::npos);
    key(Qt::Key_E, Qt::ControlModifier | Qt::AltModifier);
    EXPECT_EQ(window_->findChildren<ServerPage*>().size(), 1) << "one page for a server";
}

TEST_F(FormsWindowTest, TheShapeOfAColumnIsReadOnDemandAndNamesCanBeDragged) {
    Q_EMIT panel()->objectRequested(at("tree"));
    QTableWidget* columns = nullptr;
    EVENTUALLY((columns = find<QTableWidget>("objectColumns")) != nullptr);
    EXPECT_EQ(find(objectName::kShapeVerb), nullptr) << "no column is chosen";
    EVENTUALLY(find(objectName::kObjectDefinition) != nullptr);
    const auto rowOf = [&](const char* name) {
        columns = find<QTableWidget>("objectColumns");
        for (int row = 0; columns != nullptr && row < columns->rowCount(); ++row) {
            if (columns->item(row, 0)->text() == QLatin1String(name)) return row;
        }
        return -1;
    };
    // The page is made anew while its parts arrive.
    EVENTUALLY([&] {
        if (rowOf("plot_id") < 0) return false;
        columns->setCurrentCell(rowOf("plot_id"), 0);
        auto* verb = find<QPushButton>(objectName::kShapeVerb);
        return verb != nullptr && verb->text() == QStringLiteral("Values of plot_id");
    }());
    click(objectName::kShapeVerb);
    EVENTUALLY(find<QTableWidget>("objectShape") != nullptr);
    EXPECT_THAT(find<QLabel>(objectName::kShapeSummary)->text().toStdString(),
                HasSubstr("24 different values, from 1 to 24"));
    auto* frequent = find<QTableWidget>("objectShape");
    ASSERT_NE(frequent, nullptr);
    EXPECT_EQ(frequent->rowCount(), 8);
    EXPECT_TRUE(frequent->item(0, 2)->text().endsWith(QStringLiteral("%")));

    columns = find<QTableWidget>("objectColumns");
    columns->selectRow(0);
    const std::unique_ptr<QMimeData> dragged(columns->model()->mimeData({columns->model()->index(0, 0)}));
    EXPECT_EQ(dragged->text(), QStringLiteral("tree_id"));
}

TEST_F(FormsWindowTest, TheDefinitionIsSearched) {
    Q_EMIT panel()->objectRequested(at("tree"));
    EVENTUALLY(find(objectName::kObjectFind) != nullptr);
    EVENTUALLY([&] {
        auto* code = find<SqlEditor>(objectName::kObjectDefinition);
        return code != nullptr && code->text().str().find("CREATE TABLE") != std::string::npos;
    }());
    find<QPushButton>(objectName::kObjectFind)->click();
    EVENTUALLY(find(objectName::kFindStrip) != nullptr);
    EVENTUALLY(QApplication::focusWidget() == find(objectName::kFindText));
    type(QStringLiteral("plot_id"));
    EVENTUALLY(find<SqlEditor>(objectName::kObjectDefinition)->selection() == "plot_id" ||
               find<QLabel>(objectName::kFindCount)->text().contains(QStringLiteral("found")));
    EXPECT_TRUE(find<SqlEditor>(objectName::kObjectDefinition)->text().str().find("CREATE TABLE") != std::string::npos);
}

TEST_F(FormsWindowTest, WhatAnotherProgramDefinesIsSeen) {
    db::Session beside(*desk_->connections().profile("orchard"), std::optional<std::string>());
    ASSERT_TRUE(db::runAndWait(beside, sql::Statement("CREATE TABLE from_elsewhere (n INTEGER)")));
    ASSERT_TRUE(store::addDefined(home().definedFile(),
                                  {.connection = "orchard", .process = "another one", .at = base::now()}));
    EVENTUALLY(desk_->catalogs().state("orchard").catalog->find("main", "from_elsewhere") != nullptr);
    // And what is defined here is told to others.
    Q_EMIT panel()->formRequested(at("from_elsewhere"), QStringLiteral("object.drop"));
    EVENTUALLY(isReady());
    QTest::mouseClick(find<QPushButton>(objectName::kDefinitionRun), Qt::LeftButton);
    EVENTUALLY(desk_->catalogs().state("orchard").catalog->find("main", "from_elsewhere") == nullptr);
    desk_->flush();
    const auto told = store::loadDefined(home().definedFile());
    ASSERT_TRUE(told);
    EXPECT_EQ(told->back().process, store::thisProcess());
}

TEST_F(FormsWindowTest, AnObjectThatIsDroppedWhileItIsShownSaysSo) {
    run("CREATE TABLE passing_by (n INTEGER)");
    EVENTUALLY(desk_->catalogs().state("orchard").catalog->find("main", "passing_by") != nullptr);
    Q_EMIT panel()->objectRequested(at("passing_by"));
    EVENTUALLY(find("objectColumns") != nullptr);
    db::Session beside(*desk_->connections().profile("orchard"), std::optional<std::string>());
    ASSERT_TRUE(db::runAndWait(beside, sql::Statement("DROP TABLE passing_by")));
    desk_->catalogs().load("orchard");
    auto* page = window_->findChild<ObjectPage*>();
    ASSERT_NE(page, nullptr);
    EVENTUALLY([&] {
        for (const QLabel* label : page->findChildren<QLabel*>()) {
            if (label->text().startsWith(QStringLiteral("There is no passing_by here any more."))) return true;
        }
        return false;
    }());
}

}  // namespace
}  // namespace pantry::app
