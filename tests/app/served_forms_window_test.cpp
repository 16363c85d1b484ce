// Forms of a few fields, and texts that are applied, in the window on PostgreSQL and MariaDB.
#include <QCheckBox>
#include <QListWidget>
#include <QMenu>
#include <fstream>

#include "app/pages/form/form_page.h"
#include "app/pages/server/server_page.h"
#include "app/pages/text/text_page.h"
#include "app/served_table_fixture.h"

namespace pantry::app {
namespace {

using testing::HasSubstr;
using testing::Not;

class ServedFormsWindowTest : public ServedTableWindowTest {
protected:
    void open(const ObjectPlace& there, const char* form) {
        Q_EMIT panel()->formRequested(there, QLatin1String(form));
        EVENTUALLY(find(objectName::kFormPage) != nullptr);
    }
    ObjectPlace schemaPlace() { return {QStringLiteral("records"), {}, {.schema = schema_}}; }
    template <class Field>
    Field* field(const char* id) {
        return find<Field>((std::string(objectName::kFormField) + id).c_str());
    }
    void write(const char* id, const QString& text) {
        EVENTUALLY(field<QWidget>(id) != nullptr);
        if (auto* line = field<QLineEdit>(id)) return line->setText(text);
        field<QComboBox>(id)->setCurrentText(text);
    }
    void tick(const char* id, const QString& choice) {
        QListWidgetItem* item = nullptr;
        EVENTUALLY((item = field<QListWidget>(id)->findItems(choice, Qt::MatchExactly).value(0)) != nullptr);
        item->setCheckState(Qt::Checked);
    }
    void runForm() {
        runShown();
        EVENTUALLY(find(objectName::kFormPage) == nullptr);
    }
    TextPage* text() { return window_->findChild<TextPage*>(); }
    void editText(const ObjectPlace& there, const sql::EditedObject& edited) {
        Q_EMIT panel()->textRequested(there, edited);
        EVENTUALLY(text() != nullptr && !text()->editor()->text().empty());
    }
    void apply(const std::string& all) {
        text()->editor()->replaceText(all, 0);
        EVENTUALLY(find<QPushButton>(objectName::kDefinitionRun)->isEnabled());
        text()->apply();
    }
    void knows(const std::string& name, catalog::ObjectKind kind, const std::string& signature = {}) {
        desk_->catalogs().load("records");
        EVENTUALLY([&] {
            const auto catalog = desk_->catalogs().state("records").catalog;
            return catalog::isRelationKind(kind) ? catalog->find(schema_, name) != nullptr
                                                 : catalog->findObject(schema_, name, signature) != nullptr;
        }());
    }
    /// A sequence is made, shown, and counts otherwise afterwards.
    void makeAndChangeASequence() {
        open(schemaPlace(), "sequence.new");
        write("name", QStringLiteral("ticket no"));
        write("start", QStringLiteral("2O"));
        EXPECT_THAT(message().toStdString(), HasSubstr("takes a whole number"));
        write("start", QStringLiteral("20"));
        runForm();
        EVENTUALLY(window_->findChild<ObjectPage*>() != nullptr);
        open(place("ticket no", catalog::ObjectKind::Sequence), "sequence.change");
        EVENTUALLY(field<QLineEdit>("increment") != nullptr &&
                   field<QLineEdit>("increment")->text() == QStringLiteral("1"));
        EXPECT_EQ(message(), QStringLiteral("Nothing is changed yet."));
        write("increment", QStringLiteral("5"));
        EVENTUALLY(statements().contains(QStringLiteral("INCREMENT BY 5")));
        EXPECT_FALSE(statements().contains(QStringLiteral("START"))) << "only what was changed";
        runForm();
    }
    [[nodiscard]] bool isInFiles(const std::string& secret) const {
        for (const auto& one : std::filesystem::recursive_directory_iterator(folder_ / "home")) {
            if (!one.is_regular_file()) continue;
            std::ifstream file(one.path(), std::ios::binary);
            const std::string content{std::istreambuf_iterator<char>(file), {}};
            if (content.find(secret) != std::string::npos) return true;
        }
        return false;
    }
};

TEST_F(ServedFormsWindowTest, OnPostgresWhatIsNotATableIsMadeByFormsToo) {
    beginOnPostgres();
    makeAndChangeASequence();
    EXPECT_EQ(answer("SELECT seqincrement FROM pg_sequence"), "5");

    open(schemaPlace(), "schema.new");
    write("name", QStringLiteral("orchard"));
    runForm();
    EVENTUALLY(desk_->catalogs().state("records").catalog->schema("orchard") != nullptr);

    open(schemaPlace(), "role.new");
    write("name", QStringLiteral("gatekeeper"));
    write("password", QStringLiteral("sesame-4711"));
    field<QCheckBox>("login")->setChecked(true);
    tick("memberOf", QStringLiteral("pg_monitor"));
    EVENTUALLY(statements().contains(QStringLiteral("GRANT pg_monitor TO gatekeeper")));
    EXPECT_THAT(statements().toStdString(), Not(HasSubstr("sesame-4711")));
    EXPECT_FALSE(find<QPushButton>(objectName::kDefinitionSheet)->isEnabled()) << "a sheet is kept";
    runForm();
    EXPECT_EQ(
        answer("SELECT rolcanlogin::text FROM pg_authid WHERE rolname = 'gatekeeper' AND rolpassword IS NOT NULL"),
        "true");
    desk_->flush();
    EXPECT_FALSE(isInFiles("sesame-4711"));

    run("CREATE TABLE bin (n integer)");
    knows("bin", catalog::ObjectKind::Table);
    open(place("bin"), "object.grant");
    tick("privileges", QStringLiteral("SELECT"));
    write("who", QStringLiteral("gatekeeper"));
    runForm();
    EXPECT_EQ(answer("SELECT has_table_privilege('gatekeeper', 'bin', 'SELECT')::text"), "true");

    EVENTUALLY(find(objectName::kObjectPage) != nullptr &&
               window_->findChildren<ObjectPage*>().back()->title() == QStringLiteral("bin"));
    // The server's page leads to the forms, and shows what they did.
    key(Qt::Key_E, Qt::ControlModifier | Qt::AltModifier);
    EVENTUALLY(find(objectName::kServerPage) != nullptr);
    auto* page = window_->findChild<ServerPage*>();
    const auto holds = [&](const std::string& role) {
        const ResultSource* source = page->pane()->source();
        for (std::size_t r = 0; source != nullptr && source->result() && r < source->result()->rowCount(); ++r) {
            if (data::toText(source->result()->cell(r, 0)) == role) return true;
        }
        return false;
    };
    EVENTUALLY(holds("gatekeeper"));
    QAction* drop = nullptr;
    for (QAction* one : find<QPushButton>(objectName::kServerChange)->menu()->actions()) {
        if (one->text() == QStringLiteral("Drop a role…")) drop = one;
    }
    ASSERT_NE(drop, nullptr);
    drop->trigger();
    EVENTUALLY(find(objectName::kFormPage) != nullptr);
    write("name", QStringLiteral("gatekeeper"));
    runShown();
    EVENTUALLY(message().contains(QStringLiteral("depend"))) << "it has rights";
    write("heir", QStringLiteral("postgres"));
    runShown();
    EVENTUALLY(find(objectName::kFormPage) == nullptr && !holds("gatekeeper"));
}

TEST_F(ServedFormsWindowTest, OnMariaDbWhatIsNotATableIsMadeByFormsToo) {
    beginOnMariaDb("pantry_forms");
    makeAndChangeASequence();
    EXPECT_EQ(answer("SELECT increment FROM pantry_forms.`ticket no`"), "5");
    open(schemaPlace(), "user.new");
    write("name", QStringLiteral("gatekeeper"));
    write("password", QStringLiteral("sesame-4711"));
    EVENTUALLY(statements().contains(QStringLiteral("CREATE USER 'gatekeeper'@'%'")));
    EXPECT_THAT(statements().toStdString(), Not(HasSubstr("sesame-4711")));
    runForm();
    open(schemaPlace(), "user.change");
    write("name", QStringLiteral("'gatekeeper'@'%'"));
    EVENTUALLY(message() == QStringLiteral("Nothing is changed yet."));
    field<QCheckBox>("locked")->setChecked(true);
    runForm();
    EXPECT_EQ(answer("SELECT json_value(priv, '$.account_locked') FROM mysql.global_priv WHERE user = 'gatekeeper'"),
              "1");
    desk_->flush();
    EXPECT_FALSE(isInFiles("sesame-4711"));
    open(schemaPlace(), "database.drop");
    EXPECT_EQ(field<QComboBox>("name")->currentText(), QStringLiteral("pantry_forms"));
    EXPECT_THAT(message().toStdString(), HasSubstr("It holds 1 sequence"));
    click(objectName::kDefinitionCancel);
}

TEST_F(ServedFormsWindowTest, OnPostgresTextsAreReplacedOrDroppedFirst) {
    beginOnPostgres();
    run("CREATE TABLE tree (tree_id integer, height real)");
    run("CREATE VIEW tall AS SELECT tree_id, height FROM tree");
    run("CREATE FUNCTION twice(n integer) RETURNS integer LANGUAGE sql AS 'SELECT n * 2'");
    knows("tall", catalog::ObjectKind::View);
    const ObjectPlace tall = place("tall", catalog::ObjectKind::View);
    editText(tall, {.object = tall.object});
    EVENTUALLY(text()->editor()->text().str().find("CREATE VIEW public.tall AS") != std::string::npos);
    apply("CREATE VIEW public.tall AS\n SELECT tree_id,\n    hight\n   FROM public.tree;");
    EVENTUALLY(message().contains(QStringLiteral("hight")));
    EXPECT_EQ(text()->editor()->caret(), text()->editor()->text().str().find("hight")) << "where it fails";
    apply("CREATE VIEW public.tall AS SELECT tree_id FROM public.tree;");
    EVENTUALLY(message().contains(QStringLiteral("Cannot drop columns")));
    find<QCheckBox>(objectName::kTextDrops)->setChecked(true);
    EVENTUALLY(message().contains(QStringLiteral("DROP VIEW public.tall first")));
    text()->apply();
    EVENTUALLY(message().startsWith(QStringLiteral("Applied at ")));
    EXPECT_EQ(answer("SELECT count(*) FROM information_schema.columns WHERE table_name = 'tall'"), "1");
    text()->editor()->setFocus();
    key(Qt::Key_W, Qt::ControlModifier);
    EVENTUALLY(text() == nullptr);

    const ObjectPlace twice = place("twice", catalog::ObjectKind::Function, "n integer");
    editText(twice, {.object = twice.object});
    EVENTUALLY(text()->editor()->text().str().find("SELECT n * 2") != std::string::npos);
    apply("CREATE FUNCTION public.twice(n integer) RETURNS integer LANGUAGE sql AS 'SELECT n + n + 1'");
    EVENTUALLY(message().startsWith(QStringLiteral("Applied at ")));
    EXPECT_EQ(answer("SELECT twice(1)"), "3");
    apply("CREATE FUNCTION public.twice(n bigint) RETURNS bigint LANGUAGE sql AS 'SELECT n'");
    EVENTUALLY(answer("SELECT count(*) FROM pg_proc WHERE proname = 'twice'") == "2");
}

TEST_F(ServedFormsWindowTest, TheDetailsShowPartitionsRightsAndABrokenViewSaysWhy) {
    beginOnPostgres();
    run("CREATE ROLE picker");
    run("CREATE TABLE picking (day date, kg real) PARTITION BY RANGE (day)");
    run("CREATE TABLE picking_2026 PARTITION OF picking FOR VALUES FROM ('2026-01-01') TO ('2027-01-01')");
    run("GRANT SELECT, INSERT ON picking TO picker");
    run("CREATE POLICY own_days ON picking USING (day > '2026-06-01')");
    knows("picking", catalog::ObjectKind::Table);
    Q_EMIT panel()->objectRequested(place("picking"));
    EVENTUALLY(find<QTableView>("objectPartitions") != nullptr && find<QTableView>("objectGrants") != nullptr);
    const auto cell = [&](const char* table, int row, int column) {
        auto* view = find<QTableView>(table);
        return view == nullptr ? std::string() : view->model()->index(row, column).data().toString().toStdString();
    };
    EXPECT_EQ(cell("objectPartitions", 0, 0), "picking_2026");
    EXPECT_THAT(cell("objectPartitions", 0, 2), HasSubstr("2026-01-01"));
    bool hasPicker = false;
    for (int row = 0; row < find<QTableView>("objectGrants")->model()->rowCount(); ++row) {
        hasPicker =
            hasPicker || (cell("objectGrants", row, 0) == "picker" && cell("objectGrants", row, 1) == "insert, select");
    }
    EXPECT_TRUE(hasPicker);
    EXPECT_NE(find("sectionRules"), nullptr) << "the policy";
}

TEST_F(ServedFormsWindowTest, OnMariaDbAViewThatIsBrokenSaysSo) {
    beginOnMariaDb("pantry_forms");
    run("CREATE TABLE bin (n int)");
    run("CREATE VIEW full_bins AS SELECT n FROM bin");
    run("DROP TABLE bin");
    knows("full_bins", catalog::ObjectKind::View);
    Q_EMIT panel()->objectRequested(place("full_bins", catalog::ObjectKind::View));
    EVENTUALLY(window_->findChild<ObjectPage*>() != nullptr);
    EVENTUALLY([&] {
        for (const QLabel* label : window_->findChild<ObjectPage*>()->findChildren<QLabel*>()) {
            if (label->text().contains(QStringLiteral("full_bins' references invalid table"))) return true;
        }
        return false;
    }());
    // Its rows say the same, and the page lives on.
    click(objectName::kObjectRows);
    EVENTUALLY(find("rowsStatement") != nullptr || find(objectName::kRowsStatement) != nullptr);
}

TEST_F(ServedFormsWindowTest, OnMariaDbTextsAndTriggersAreReplaced) {
    beginOnMariaDb("pantry_forms", false);  // no database is chosen: names need theirs
    run("CREATE TABLE pantry_forms.tree (tree_id int, height float)");
    run("CREATE TRIGGER pantry_forms.watch BEFORE UPDATE ON pantry_forms.tree FOR EACH ROW SET NEW.height = 1");
    run("CREATE PROCEDURE pantry_forms.tidy(IN n int) BEGIN SELECT n; END");
    desk_->catalogs().load("records", {}, {.schemas = {"pantry_forms"}});
    EVENTUALLY(desk_->catalogs().state("records").catalog->find("pantry_forms", "tree") != nullptr);
    const ObjectPlace tree = place("tree");
    editText(tree, {.object = tree.object, .trigger = "watch"});
    EVENTUALLY(text()->editor()->text().str().find("SET NEW.height = 1") != std::string::npos);
    std::string changed = text()->editor()->text().str();
    changed.replace(changed.find("= 1"), 3, "= 2");
    apply(changed);
    EVENTUALLY(message().startsWith(QStringLiteral("Applied at ")));
    EXPECT_EQ(answer("SELECT action_statement FROM information_schema.triggers WHERE trigger_name = 'watch'"),
              "SET NEW.height = 2");
    key(Qt::Key_W, Qt::ControlModifier);
    EVENTUALLY(text() == nullptr);
    const auto catalog = desk_->catalogs().state("records").catalog;
    const ObjectPlace tidy =
        place("tidy", catalog::ObjectKind::Procedure, catalog->schema("pantry_forms")->objects.front().signature);
    editText(tidy, {.object = tidy.object});
    EVENTUALLY(text()->editor()->text().str().find("SELECT n") != std::string::npos);
    changed = text()->editor()->text().str();
    changed.replace(changed.find("SELECT n;"), 9, "SELECT n; SELECT n + 1;");
    apply(changed);
    EVENTUALLY(message().startsWith(QStringLiteral("Applied at ")));
    EXPECT_THAT(answer("SELECT routine_definition FROM information_schema.routines WHERE routine_name = 'tidy'"),
                HasSubstr("SELECT n + 1"));
}

TEST_F(ServedFormsWindowTest, AFormAsksForThePasswordThatTheServerWants) {
    beginOnPostgres();
    run("CREATE ROLE guest LOGIN SUPERUSER PASSWORD 'sesame-4711'");
    {
        std::ofstream rules(postgres_->folder() / "data" / "pg_hba.conf");
        rules << "local all guest scram-sha-256\nlocal all all trust\n";
    }
    run("SELECT pg_reload_conf()");
    db::ConnectionProfile asked = *desk_->connections().profile("records");
    asked.id = "asked";
    asked.name = "Asked";
    asked.user = "guest";
    asked.environment = db::Environment::Local;
    EVENTUALLY([&] {  // the server reads its rules when it likes
        db::Session without(asked, std::optional<std::string>());
        return !db::runAndWait(without, sql::Statement("SELECT 1"));
    }());
    desk_->connections().put(asked);
    Q_EMIT panel()->formRequested({QStringLiteral("asked"), {}, {.schema = "public"}}, QStringLiteral("schema.new"));
    EVENTUALLY(find<QLineEdit>("formFieldname") != nullptr);
    find<QLineEdit>("formFieldname")->setText(QStringLiteral("behind_a_password"));
    runShown();
    EVENTUALLY(find<QLineEdit>(objectName::kDefinitionPassword) != nullptr);
    EVENTUALLY(QApplication::focusWidget() == find(objectName::kDefinitionPassword));
    type(QStringLiteral("sesame-4711"));
    key(Qt::Key_Return);
    EVENTUALLY(!answer("SELECT 1 FROM pg_namespace WHERE nspname = 'behind_a_password'").empty());
    EVENTUALLY(find(objectName::kFormPage) == nullptr);
    desk_->flush();
    EXPECT_FALSE(isInFiles("sesame-4711"));
}

}  // namespace
}  // namespace pantry::app
