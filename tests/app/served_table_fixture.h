#pragma once

#include <gmock/gmock.h>

#include <QComboBox>
#include <QListView>
#include <QTableView>

#include "app/catalog/catalog_panel.h"
#include "app/define/definition_panel.h"
#include "app/pages/object/object_page.h"
#include "app/pages/table/table_page.h"
#include "app/window_fixture.h"
#include "core/db/run_and_wait.h"
#include "demo/throwaway_server.h"

namespace pantry::app {

/// A window on a throwaway server, and a line beside it that tells what is there.
class ServedTableWindowTest : public WindowTest {
protected:
    /// Opens a sheet on a server, so that its catalog is read.
    void begin(db::ConnectionProfile profile, const std::string& schema) {
        schema_ = schema;
        profile.id = "records";
        profile.name = "Trial records";
        profile.environment = db::Environment::Local;
        beside_ = std::make_unique<db::Session>(profile, std::optional<std::string>());
        desk_->connections().put(profile);
        window_->openSheet(QStringLiteral("records"), QStringLiteral("SELECT 1"));
        EVENTUALLY(desk_->catalogs().state("records").catalog != nullptr);
    }
    /// On a server of its own.
    void beginOnPostgres() {
        postgres_ = std::make_unique<demo::PostgresServer>();
        ASSERT_EQ(postgres_->startup(), "");
        begin({.engine = db::Engine::Postgres,
               .host = postgres_->folder(),
               .port = postgres_->port(),
               .database = "postgres",
               .user = postgres_->user()},
              "public");
    }
    /// The same; `usesDatabase`: the connection is in the new database, and names need not say it.
    void beginOnMariaDb(const std::string& database, bool usesDatabase = true) {
        mariaDb_ = std::make_unique<demo::MariaDbServer>();
        ASSERT_EQ(mariaDb_->startup(), "");
        db::ConnectionProfile p{.engine = db::Engine::MariaDb, .host = mariaDb_->socket(), .user = "root"};
        {
            db::Session admin(p, std::optional<std::string>());
            ASSERT_TRUE(db::runAndWait(admin, sql::Statement("CREATE DATABASE " + database)));
        }
        if (usesDatabase) p.database = database;
        begin(p, database);
    }
    void run(const std::string& statement) {
        const auto done = db::runAndWait(*beside_, sql::Statement(statement));
        ASSERT_TRUE(done) << done.error().text();
    }
    std::string answer(const std::string& query) {
        const auto rows = db::runAndWait(*beside_, sql::Statement(query));
        return rows && *rows && (*rows)->rowCount() > 0 ? data::toText((*rows)->cell(0, 0)) : std::string();
    }
    ObjectPlace place(const std::string& name, catalog::ObjectKind kind = catalog::ObjectKind::Table,
                      const std::string& signature = {}) {
        return {QStringLiteral("records"), {}, {.kind = kind, .schema = schema_, .name = name, .signature = signature}};
    }
    CatalogPanel* panel() { return window_->findChild<CatalogPanel*>(); }
    QTableView* columns() { return find<QTableView>(objectName::kTableColumns); }
    QTableView* rules() { return find<QTableView>(objectName::kTableRules); }
    QString statements() { return window_->findChild<DefinitionPanel*>()->text(); }
    QString message() {
        auto* label = find<QLabel>(objectName::kDefinitionMessage);
        return label != nullptr ? label->text() : QString();
    }
    static void put(QTableView* grid, int row, int column, const QString& text) {
        ASSERT_TRUE(grid->model()->setData(grid->model()->index(row, column), text));
    }
    void runShown() {
        EVENTUALLY(find<QPushButton>(objectName::kDefinitionRun) != nullptr &&
                   find<QPushButton>(objectName::kDefinitionRun)->isEnabled());
        QTest::mouseClick(find<QPushButton>(objectName::kDefinitionRun), Qt::LeftButton);
    }
    /// Makes a table by the form, changes it, and drops it.
    void makeChangeAndDrop(const QString& whole, const QString& text) {
        Q_EMIT panel()->tableRequested({QStringLiteral("records"), {}, {.schema = schema_}}, TableWish::Look);
        EVENTUALLY(columns() != nullptr && find(objectName::kTableName) != nullptr);
        find<QLineEdit>(objectName::kTableName)->setFocus();
        type(QStringLiteral("crate stack"));
        put(columns(), 0, ColumnsModel::Name, QStringLiteral("crate_id"));
        put(columns(), 0, ColumnsModel::Type, whole);
        for (const int field : {ColumnsModel::Key, ColumnsModel::Counts}) {
            columns()->model()->setData(columns()->model()->index(0, field), Qt::Checked, Qt::CheckStateRole);
        }
        put(columns(), 1, ColumnsModel::Name, QStringLiteral("select"));
        put(columns(), 1, ColumnsModel::Type, text);
        put(columns(), 1, ColumnsModel::Comment, QStringLiteral("it's odd"));
        runShown();
        EVENTUALLY(!answer("SELECT 1 FROM information_schema.tables WHERE table_name = 'crate stack'").empty());
        EVENTUALLY(window_->findChild<ObjectPage*>() != nullptr);

        Q_EMIT panel()->tableRequested(place("crate stack"), TableWish::AddColumn);
        EVENTUALLY(columns() != nullptr && columns()->model()->rowCount() == 3);
        put(columns(), 2, ColumnsModel::Name, QStringLiteral("weight"));
        put(columns(), 2, ColumnsModel::Type, whole);
        put(columns(), 1, ColumnsModel::Name, QStringLiteral("label"));
        runShown();
        EVENTUALLY(answer("SELECT count(*) FROM information_schema.columns WHERE table_name = 'crate stack' AND "
                          "column_name IN ('weight', 'label')") == "2");
        EVENTUALLY(window_->findChild<TablePage*>() == nullptr);

        Q_EMIT panel()->formRequested(place("crate stack"), QStringLiteral("object.drop"));
        EVENTUALLY(find(objectName::kFormPage) != nullptr);
        runShown();
        EVENTUALLY(answer("SELECT 1 FROM information_schema.tables WHERE table_name = 'crate stack'").empty());
        EVENTUALLY(find(objectName::kFormPage) == nullptr);
    }
    /// Finds a table by one of its columns, opens it, counts its rows and writes a script of it.
    void findAndScript(const std::string& columnOfIt) {
        desk_->catalogs().load("records", {}, {.schemas = {schema_}});
        EVENTUALLY(desk_->catalogs().state("records").catalog->find(schema_, "fruit stall") != nullptr);
        key(Qt::Key_F, Qt::ControlModifier | Qt::ShiftModifier);
        EVENTUALLY(QApplication::focusWidget() == find(objectName::kCatalogFind));
        type(QString::fromStdString(columnOfIt));
        auto* list = find<QListView>(objectName::kObjectList);
        const auto isListed = [list](const QString& text) {
            for (int i = 0; i < list->model()->rowCount(); ++i) {
                if (list->model()->index(i, 0).data().toString().contains(text)) return true;
            }
            return false;
        };
        EVENTUALLY(isListed(QString::fromStdString(columnOfIt)) && isListed(QStringLiteral("fruit stall")));
        key(Qt::Key_Return);
        EVENTUALLY(window_->findChild<ObjectPage*>() != nullptr && find("objectColumns") != nullptr);
        EXPECT_EQ(window_->findChild<ObjectPage*>()->title(), QStringLiteral("fruit stall"));
        EVENTUALLY(find(objectName::kObjectCount) != nullptr);
        click(objectName::kObjectCount);
        EVENTUALLY([&] {
            for (const QLabel* label : window_->findChild<ObjectPage*>()->findChildren<QLabel*>()) {
                if (label->text().startsWith(QStringLiteral("2 rows"))) return true;
            }
            return false;
        }());
        Q_EMIT panel()->scriptRequested({.objects = {place("fruit stall")},
                                         .kind = sql::ScriptKind::Insert,
                                         .targetId = QStringLiteral("records")});
        EVENTUALLY(window_->currentSheet() != nullptr && editorText().find("INSERT INTO") != std::string::npos);
        EXPECT_NE(editorText().find(":" + columnOfIt), std::string::npos) << editorText();
        EXPECT_EQ(card(0), nullptr) << "nothing is run";
    }
    void openRoutine(const ObjectPlace& routine) {
        desk_->catalogs().load("records");
        EVENTUALLY(desk_->catalogs().state("records").catalog->findObject(schema_, routine.object.name,
                                                                          routine.object.signature) != nullptr);
        Q_EMIT panel()->objectRequested(routine);
        EVENTUALLY(find(objectName::kCallForm) != nullptr);
    }
    void call(const QString& value) {
        auto* field = find<QLineEdit>(objectName::kCallField);
        field->setFocus();
        type(value);
        // What is filled in stays when the catalog is read again meanwhile.
        desk_->catalogs().load("records");
        EVENTUALLY(!desk_->catalogs().state("records").isLoading);
        QTest::qWait(100);
        field = find<QLineEdit>(objectName::kCallField);
        ASSERT_NE(field, nullptr);
        EXPECT_EQ(field->text(), value);
        QTest::keyClick(field, Qt::Key_Return);
    }
    std::unique_ptr<demo::PostgresServer> postgres_;
    std::unique_ptr<demo::MariaDbServer> mariaDb_;
    std::string schema_;
    std::unique_ptr<db::Session> beside_;
};

}  // namespace pantry::app
