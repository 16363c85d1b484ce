// Tables made, changed and dropped by their forms in the real window; scripts and details of objects.
#include <QAbstractItemModelTester>
#include <QClipboard>
#include <QListView>
#include <QMenu>
#include <QTableView>

#include "app/base/object_place.h"
#include "app/define/definition_panel.h"
#include "app/pages/object/object_page.h"
#include "app/pages/object/rows_view.h"
#include "app/pages/table/table_page.h"
#include "app/window_fixture.h"
#include "core/db/run_and_wait.h"

namespace pantry::app {
namespace {

class TableWindowTest : public WindowTest {
protected:
    void SetUp() override {
        WindowTest::SetUp();
        openSheet();
        EVENTUALLY(hasCatalog());
    }

    [[nodiscard]] const catalog::Relation* relation(const std::string& name) {
        const auto state = desk_->catalogs().state("orchard");
        catalog_ = state.catalog;
        return catalog_ && !state.isLoading ? catalog_->find("main", name) : nullptr;
    }
    QString statements() {
        auto* panel = window_->findChild<DefinitionPanel*>();
        return panel != nullptr ? panel->text() : QString();
    }
    QString message() {
        auto* label = find<QLabel>(objectName::kDefinitionMessage);
        return label != nullptr ? label->text() : QString();
    }
    TablePage* tablePage() { return window_->findChild<TablePage*>(); }
    QTableView* columns() { return find<QTableView>(objectName::kTableColumns); }
    QTableView* rules() { return find<QTableView>(objectName::kTableRules); }
    static void put(QTableView* grid, int row, int column, const QString& text) {
        ASSERT_TRUE(grid->model()->setData(grid->model()->index(row, column), text));
    }
    static void tick(QTableView* grid, int row, int column, bool isOn) {
        ASSERT_TRUE(grid->model()->setData(grid->model()->index(row, column), isOn ? Qt::Checked : Qt::Unchecked,
                                           Qt::CheckStateRole));
    }
    void changeTable(const char* name, TableWish wish) {
        Q_EMIT catalogPanel()->tableRequested({QStringLiteral("orchard"), {}, {.schema = "main", .name = name}}, wish);
        EVENTUALLY(tablePage() != nullptr && columns() != nullptr && columns()->model()->rowCount() > 1);
        for (QTableView* grid : {columns(), rules()})
            new QAbstractItemModelTester(grid->model(), QAbstractItemModelTester::FailureReportingMode::Fatal, grid);
    }
    void change(const char* name, const char* form) {
        Q_EMIT catalogPanel()->formRequested({QStringLiteral("orchard"), {}, {.schema = "main", .name = name}},
                                             QLatin1String(form));
        EVENTUALLY(find(objectName::kFormPage) != nullptr);
    }
    CatalogPanel* catalogPanel() { return window_->findChild<CatalogPanel*>(); }
    void runShown() {
        EVENTUALLY(find<QPushButton>(objectName::kDefinitionRun) != nullptr &&
                   find<QPushButton>(objectName::kDefinitionRun)->isEnabled());
        QTest::mouseClick(find<QPushButton>(objectName::kDefinitionRun), Qt::LeftButton);
    }
    /// A new table with one column, in whose type somebody writes.
    void beginTheTypeOf(const char* table, const QString& typed) {
        key(Qt::Key_T, Qt::ControlModifier | Qt::AltModifier);
        EVENTUALLY(columns() != nullptr);
        find<QLineEdit>(objectName::kTableName)->setFocus();
        type(QLatin1String(table));
        put(columns(), 0, ColumnsModel::Name, QStringLiteral("rungs"));
        columns()->setFocus();
        const QModelIndex type = columns()->model()->index(0, ColumnsModel::Type);
        columns()->setCurrentIndex(type);
        columns()->edit(type);
        EVENTUALLY(qobject_cast<QLineEdit*>(QApplication::focusWidget()) != nullptr &&
                   columns()->isAncestorOf(QApplication::focusWidget()));
        QTest::keyClicks(QApplication::focusWidget(), typed);
    }
    catalog::CatalogPtr catalog_;
};

TEST_F(TableWindowTest, ATableIsTypedLineByLineAndShownWhenItIsMade) {
    key(Qt::Key_T, Qt::ControlModifier | Qt::AltModifier);
    EVENTUALLY(tablePage() != nullptr && find(objectName::kTableName) != nullptr);
    EVENTUALLY(QApplication::focusWidget() == find(objectName::kTableName));
    type(QStringLiteral("ladder"));
    EVENTUALLY(message().contains(QStringLiteral("no column")));
    // Name, Tab, type, and so on: the line below is the next one.
    columns()->setFocus();
    columns()->setCurrentIndex(columns()->model()->index(0, 0));
    const auto typeIn = [&](const QString& text) {
        EVENTUALLY(qobject_cast<QLineEdit*>(QApplication::focusWidget()) != nullptr &&
                   columns()->isAncestorOf(QApplication::focusWidget()));
        QTest::keyClicks(QApplication::focusWidget(), text);
    };
    typeIn(QStringLiteral("ladder_id"));
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Tab);
    typeIn(QStringLiteral("INTEGER"));
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Tab);
    tick(columns(), 0, ColumnsModel::Key, true);
    put(columns(), 1, ColumnsModel::Name, QStringLiteral("rungs"));
    put(columns(), 1, ColumnsModel::Default, QStringLiteral("12"));
    put(columns(), 1, ColumnsModel::Type, QStringLiteral("INTEGER"));
    tick(columns(), 1, ColumnsModel::Null, false);
    EVENTUALLY(statements() == QStringLiteral("CREATE TABLE main.ladder (\n    ladder_id INTEGER PRIMARY KEY NOT "
                                              "NULL,\n    rungs INTEGER NOT NULL DEFAULT 12\n);\n"));
    EXPECT_EQ(relation("ladder"), nullptr) << "nothing runs before somebody says so";
    runShown();
    EVENTUALLY(relation("ladder") != nullptr);
    EVENTUALLY(tablePage() == nullptr);
    EVENTUALLY(window_->findChild<ObjectPage*>() != nullptr &&
               window_->findChild<ObjectPage*>()->object().object.name == "ladder");
}

TEST_F(TableWindowTest, TheCellThatIsBeingWrittenRunsWithTheRest) {
    beginTheTypeOf("ladder", QStringLiteral("NUMERIC(3)"));
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(relation("ladder") != nullptr);
    EXPECT_EQ(relation("ladder")->columns.at(0).typeName, "NUMERIC(3)");
}

TEST_F(TableWindowTest, AListOfOffersMakesWayForTheKeyThatRuns) {
    beginTheTypeOf("ladder", QStringLiteral("INT"));
    EVENTUALLY(QApplication::activePopupWidget() != nullptr);
    QTest::keyClick(QApplication::activePopupWidget(), Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(relation("ladder") != nullptr);
    EXPECT_EQ(relation("ladder")->columns.at(0).typeName, "INT") << "what was written, not what is offered";
}

TEST_F(TableWindowTest, HowItEndedStandsWhileTheSameStatementsDo) {
    DefinitionPanel panel(*desk_, QStringLiteral("orchard"), {}, window_.get());
    panel.setVisible(true);
    const sql::DefinitionChange change{.steps = {{.statement = "DROP TABLE cellar", .label = "Drop cellar"}}};
    panel.show(change, {});
    auto* said = panel.findChild<QLabel*>(QLatin1String(objectName::kDefinitionMessage));
    panel.run();
    EVENTUALLY(said->text().contains(QStringLiteral("It failed at")));
    panel.show(change, {}, QStringLiteral("Read later."));
    EXPECT_TRUE(said->text().contains(QStringLiteral("It failed at"))) << said->text().toStdString();
    panel.show({.steps = {{.statement = "DROP TABLE other", .label = "Drop other"}}}, {},
               QStringLiteral("Read later."));
    EXPECT_FALSE(said->text().contains(QStringLiteral("It failed at")));
    panel.show(change, {});
    EXPECT_FALSE(said->text().contains(QStringLiteral("It failed at"))) << "it may end otherwise now";
}

TEST_F(TableWindowTest, PastedLinesBecomeColumnsAndAForeignKeyIsPicked) {
    key(Qt::Key_T, Qt::ControlModifier | Qt::AltModifier);
    EVENTUALLY(columns() != nullptr);
    find<QLineEdit>(objectName::kTableName)->setFocus();
    type(QStringLiteral("crate"));
    QApplication::clipboard()->setText(
        QStringLiteral("crate_id integer primary key\nplot_id integer not null\nlabel varchar(40)\n"));
    columns()->setFocus();
    QTest::keyClick(columns(), Qt::Key_V, Qt::ControlModifier);
    EVENTUALLY(columns()->model()->rowCount() == 4);
    for (QPushButton* button : window_->findChildren<QPushButton*>(QLatin1String(objectName::kTableAddRule))) {
        if (button->property("kind").toInt() == int(sql::DesignRule::Kind::ForeignKey)) button->click();
    }
    EVENTUALLY(rules()->model()->rowCount() == 1);
    put(rules(), 0, RulesModel::Columns, QStringLiteral("plot_id"));
    EVENTUALLY(message().contains(QStringLiteral("refers to no table")));
    EXPECT_FALSE(find<QPushButton>(objectName::kDefinitionRun)->isEnabled());
    put(rules(), 0, RulesModel::RefersTo, QStringLiteral("plot (plot_id)"));
    put(rules(), 0, RulesModel::OnDelete, QStringLiteral("cascade"));
    EVENTUALLY(
        statements().contains(QStringLiteral("FOREIGN KEY (plot_id) REFERENCES plot (plot_id) ON DELETE CASCADE")));
    runShown();
    EVENTUALLY(relation("crate") != nullptr);
    EXPECT_EQ(relation("crate")->foreignKeys.front().relation, "plot");
}

TEST_F(TableWindowTest, AChangeIsTheDifferenceAndRowsStay) {
    const auto before = relation("variety")->rowEstimate;
    changeTable("variety", TableWish::Look);
    EVENTUALLY(message() == QStringLiteral("Nothing is changed yet."));
    const int next = columns()->model()->rowCount() - 1;
    put(columns(), next, ColumnsModel::Name, QStringLiteral("usage_note"));
    EVENTUALLY(statements() == QStringLiteral("ALTER TABLE main.variety ADD COLUMN usage_note text;\n"));
    tick(columns(), next, ColumnsModel::Null, false);
    put(columns(), next, ColumnsModel::Default, QStringLiteral("''"));
    put(columns(), 1, ColumnsModel::Name, QStringLiteral("title"));
    EVENTUALLY(statements().contains(QStringLiteral("RENAME COLUMN name TO title")));
    EXPECT_TRUE(find<QPushButton>(objectName::kDefinitionRun)->isEnabled())
        << message().toStdString() << statements().toStdString();
    runShown();
    EVENTUALLY(relation("variety") != nullptr && relation("variety")->column("title") != nullptr);
    EXPECT_NE(relation("variety")->column("usage_note"), nullptr);
    EXPECT_EQ(relation("variety")->rowEstimate, before);
}

TEST_F(TableWindowTest, WhatTakesSomethingAwaySaysSoAndIsRolledBackWhenItFails) {
    changeTable("tree", TableWish::Look);
    const int plot = [&] {
        for (int i = 0; i < columns()->model()->rowCount(); ++i) {
            if (columns()->model()->index(i, 0).data().toString() == QStringLiteral("plot_id")) return i;
        }
        return -1;
    }();
    ASSERT_GE(plot, 0);
    // A check that the rows do not pass: the table is built anew, fails, and everything is as it was.
    for (QPushButton* button : window_->findChildren<QPushButton*>(QLatin1String(objectName::kTableAddRule))) {
        if (button->property("kind").toInt() == int(sql::DesignRule::Kind::Check)) button->click();
    }
    put(rules(), rules()->model()->rowCount() - 1 - static_cast<int>(relation("tree")->foreignKeys.size()),
        RulesModel::Columns, QStringLiteral("plot_id < 0"));
    EVENTUALLY(statements().contains(QStringLiteral("CHECK (plot_id < 0)")));
    runShown();
    EVENTUALLY(message().contains(QStringLiteral("rolled back")));
    EXPECT_TRUE(message().contains(QStringLiteral("CHECK"), Qt::CaseInsensitive)) << message().toStdString();
    ASSERT_NE(tablePage(), nullptr) << "the form is kept";
    // What a failed change may have left is read again meanwhile.
    EVENTUALLY(relation("tree") != nullptr && relation("tree_made_anew") == nullptr);
}

TEST_F(TableWindowTest, DroppingNamesWhatBuildsOnItAndNeedsOneClick) {
    db::Session beside(
        {.id = "x", .name = "x", .engine = db::Engine::Sqlite, .database = (folder_ / "orchard.db").string()},
        std::optional<std::string>());
    ASSERT_TRUE(db::runAndWait(beside, sql::Statement("CREATE VIEW old_trees AS SELECT * FROM tree")));
    change("tree", "object.drop");
    EVENTUALLY(statements() == QStringLiteral("DROP TABLE main.tree;\n"));
    EVENTUALLY(message().contains(QStringLiteral("old_trees")));
    EXPECT_TRUE(message().contains(QStringLiteral("inspection"))) << "whose foreign key refers to it";
    QTest::mouseClick(find<QPushButton>(objectName::kDefinitionCancel), Qt::LeftButton);
    EVENTUALLY(find(objectName::kFormPage) == nullptr);
    EXPECT_NE(relation("tree"), nullptr);
    change("frost_alert", "object.drop");
    runShown();
    EVENTUALLY(desk_->catalogs().state("orchard").catalog->find("main", "frost_alert") == nullptr);
}

TEST_F(TableWindowTest, RenamingShowsTheObjectUnderItsNewName) {
    change("variety", "object.rename");
    auto* field = find<QLineEdit>("formFieldtext");
    EXPECT_EQ(field->text(), QStringLiteral("variety"));
    EVENTUALLY(message() == QStringLiteral("Nothing is changed yet."));
    field->setFocus();
    field->selectAll();
    type(QStringLiteral("sort of fruit"));
    EVENTUALLY(statements() == QStringLiteral("ALTER TABLE main.variety RENAME TO \"sort of fruit\";\n"));
    QTest::keyClick(field, Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(window_->findChild<ObjectPage*>() != nullptr &&
               window_->findChild<ObjectPage*>()->object().object.name == "sort of fruit");
}

TEST_F(TableWindowTest, TheStatementsGoIntoASheetAsTheyStand) {
    change("variety", "object.empty");
    EVENTUALLY(statements() == QStringLiteral("DELETE FROM main.variety;\n"));
    QTest::mouseClick(find<QPushButton>(objectName::kDefinitionSheet), Qt::LeftButton);
    EVENTUALLY(editorText() == "DELETE FROM main.variety;\n");
    EXPECT_EQ(window_->currentSheet()->sheet().cards().size(), 0U) << "nothing of it has run";
}

TEST_F(TableWindowTest, AScriptOpensInASheetOrAtTheCursor) {
    const ObjectPlace plot{QStringLiteral("orchard"), {}, {.schema = "main", .name = "plot"}};
    Q_EMIT catalogPanel()->scriptRequested(
        {.objects = {plot}, .kind = sql::ScriptKind::Delete, .targetId = QStringLiteral("orchard")});
    EVENTUALLY(editorText() == "DELETE FROM plot\nWHERE plot_id = :plot_id;\n");
    Q_EMIT catalogPanel()->scriptRequested(
        {.objects = {plot}, .kind = sql::ScriptKind::Drop, .targetId = QStringLiteral("orchard"), .isAtCursor = true});
    EVENTUALLY(editorText().find("DROP TABLE plot;\n") != std::string::npos);
    EXPECT_NE(editorText().find("DELETE FROM plot"), std::string::npos);
}

TEST_F(TableWindowTest, AnObjectsPageTellsWhatIsAroundItAndLeadsOn) {
    Q_EMIT catalogPanel()->objectRequested({QStringLiteral("orchard"), {}, {.schema = "main", .name = "tree"}});
    ObjectPage* page = nullptr;
    EVENTUALLY((page = window_->findChild<ObjectPage*>()) != nullptr);
    EVENTUALLY(find("objectFacts") != nullptr);
    QWidget* drawing = nullptr;
    EVENTUALLY((drawing = find(objectName::kNeighbours)) != nullptr);
    EVENTUALLY(find<CodeText>(objectName::kObjectDefinition) != nullptr &&
               toQt(find<CodeText>(objectName::kObjectDefinition)->text().str())
                   .contains(QStringLiteral("CREATE TABLE tree")));
    EVENTUALLY(find<QPushButton>(objectName::kObjectCount) != nullptr);
    QTest::mouseClick(find<QPushButton>(objectName::kObjectCount), Qt::LeftButton);
    const auto counted = [&] {
        for (QLabel* label : page->findChildren<QLabel*>()) {
            if (label->text().contains(QStringLiteral("rows today"))) return true;
        }
        return false;
    };
    EVENTUALLY(counted());
    EVENTUALLY(find(objectName::kNeighbours) != nullptr);
    drawing = find(objectName::kNeighbours);
    drawing->setFocus();
    QTest::keyClick(drawing, Qt::Key_Right);
    QTest::keyClick(drawing, Qt::Key_Return);
    EVENTUALLY(window_->findChildren<ObjectPage*>().size() == 2);
}

TEST_F(TableWindowTest, RowsAreAskedOfTheServerByConditionAndOrder) {
    Q_EMIT catalogPanel()->objectRequested({QStringLiteral("orchard"), {}, {.schema = "main", .name = "plot"}});
    EVENTUALLY(find<QPushButton>(objectName::kObjectRows) != nullptr);
    QTest::mouseClick(find<QPushButton>(objectName::kObjectRows), Qt::LeftButton);
    RowsView* view = nullptr;
    EVENTUALLY((view = window_->findChild<RowsView*>()) != nullptr);
    const auto isShown = [&](std::size_t rows) {
        ResultSource* source = view->pane()->source();
        return source != nullptr && source->state() == work::RunState::Done && source->rowCount() == rows;
    };
    const auto statement = [&] { return find<CodeText>(objectName::kRowsStatement)->text().str(); };
    EVENTUALLY(isShown(24));
    view->addCondition();
    EVENTUALLY(find<QComboBox>(objectName::kRowsColumn) != nullptr);
    find<QComboBox>(objectName::kRowsColumn)->setCurrentText(QStringLiteral("plot_id"));
    find<QComboBox>(objectName::kRowsCompare)->setCurrentText(QStringLiteral("is at most"));
    auto* value = find<QLineEdit>(objectName::kRowsValue);
    value->setFocus();
    type(QStringLiteral("six"));
    EXPECT_FALSE(find<QPushButton>(objectName::kRowsShow)->isEnabled()) << "no number";
    value->clear();
    type(QStringLiteral("6"));
    QTest::keyClick(value, Qt::Key_Return);
    EVENTUALLY(isShown(6));
    EXPECT_EQ(statement(), "SELECT *\nFROM plot\nWHERE plot_id <= 6");
    auto* order = find<QComboBox>(objectName::kRowsOrder);
    order->setCurrentText(QStringLiteral("name"));
    Q_EMIT order->activated(order->currentIndex());
    EVENTUALLY(isShown(6) && statement() == "SELECT *\nFROM plot\nWHERE plot_id <= 6\nORDER BY name");
    // A heading asks the server, too: up, down, as it comes.
    auto* headings = window_->findChild<RowsView*>()->pane()->grid()->horizontalHeader();
    const auto clickHeading = [&] {
        QTest::mouseClick(headings->viewport(), Qt::LeftButton, {},
                          QPoint(headings->sectionViewportPosition(0) + 12, headings->height() / 2));
    };
    clickHeading();
    EVENTUALLY(isShown(6) && statement() == "SELECT *\nFROM plot\nWHERE plot_id <= 6\nORDER BY plot_id");
    clickHeading();
    EVENTUALLY(isShown(6) && statement() == "SELECT *\nFROM plot\nWHERE plot_id <= 6\nORDER BY plot_id DESC");
    clickHeading();
    EVENTUALLY(isShown(6) && statement() == "SELECT *\nFROM plot\nWHERE plot_id <= 6");
    QTest::mouseClick(find<QPushButton>(objectName::kObjectRows), Qt::LeftButton);
    EVENTUALLY(find("objectColumns") != nullptr);
}

TEST_F(TableWindowTest, ColumnsAreMovedAndRemovedByKeysAndWhatIsUnfinishedBecomesASheet) {
    changeTable("variety", TableWish::Look);
    const auto names = [&] {
        QStringList list;
        for (int i = 0; i + 1 < columns()->model()->rowCount(); ++i) {
            list += columns()->model()->index(i, ColumnsModel::Name).data().toString();
        }
        return list;
    };
    const QStringList before = names();
    ASSERT_GE(before.size(), 3);
    columns()->setFocus();
    columns()->setCurrentIndex(columns()->model()->index(1, ColumnsModel::Name));
    key(Qt::Key_Down, Qt::AltModifier);
    EXPECT_EQ(names()[2], before[1]);
    EXPECT_EQ(columns()->currentIndex().row(), 2) << "and one stays on it";
    key(Qt::Key_Up, Qt::AltModifier);
    EXPECT_EQ(names(), before);
    columns()->setCurrentIndex(columns()->model()->index(static_cast<int>(before.size()) - 1, ColumnsModel::Name));
    key(Qt::Key_Escape);  // out of the cell
    key(Qt::Key_Delete);
    EXPECT_EQ(names().size(), before.size() - 1);
    EVENTUALLY(statements().contains(QStringLiteral("DROP TABLE")));
    const QString left = statements();
    key(Qt::Key_W, Qt::ControlModifier);
    EVENTUALLY(tablePage() == nullptr && window_->currentSheet() != nullptr);
    EXPECT_EQ(editorText(), left.toStdString()) << "nothing is lost, and nothing was run";
}

TEST_F(TableWindowTest, AScriptForAnotherConnectionIsInItsLanguageAndOnIt) {
    db::ConnectionProfile other{.id = "records", .name = "Records", .engine = db::Engine::Postgres};
    other.host = "/nowhere";
    desk_->connections().put(other);
    const ObjectPlace plot{QStringLiteral("orchard"), {}, {.schema = "main", .name = "plot"}};
    Q_EMIT catalogPanel()->scriptRequested(
        {.objects = {plot}, .kind = sql::ScriptKind::Create, .targetId = QStringLiteral("records")});
    EVENTUALLY(window_->currentSheet() != nullptr &&
               window_->currentSheet()->sheet().connectionId() == QStringLiteral("records"));
    EXPECT_NE(editorText().find("GENERATED BY DEFAULT AS IDENTITY"), std::string::npos) << editorText();
    EXPECT_EQ(card(0), nullptr) << "nothing is run, nor connected to";
}

TEST_F(TableWindowTest, TheOverviewTellsWhatIsInADatabaseAndLeadsOn) {
    key(Qt::Key_O, Qt::ControlModifier | Qt::AltModifier);
    EVENTUALLY(find<QLabel>(objectName::kOverviewSum) != nullptr);
    EXPECT_TRUE(find<QLabel>(objectName::kOverviewSum)->text().startsWith(QStringLiteral("8 tables")))
        << find<QLabel>(objectName::kOverviewSum)->text().toStdString();
    EVENTUALLY(find<QPushButton>("objectLink") != nullptr);
    EXPECT_EQ(find<QPushButton>("objectLink")->text(), QStringLiteral("inspection")) << "the largest first";
    QTest::mouseClick(find<QPushButton>(objectName::kOverviewQuery), Qt::LeftButton);
    EVENTUALLY(find(objectName::kServerPage) != nullptr);
}

}  // namespace
}  // namespace pantry::app
