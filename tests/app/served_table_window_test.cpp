// The forms that make, change and call, in the window on PostgreSQL and MariaDB.
#include "app/served_table_fixture.h"

namespace pantry::app {
namespace {

TEST_F(ServedTableWindowTest, OnPostgresTablesAreMadeChangedAndDroppedAndRoutinesCalled) {
    beginOnPostgres();
    makeChangeAndDrop(QStringLiteral("integer"), QStringLiteral("varchar(40)"));
    run("CREATE FUNCTION doubled(n integer) RETURNS integer LANGUAGE sql AS 'SELECT n * 2'");
    openRoutine(place("doubled", catalog::ObjectKind::Function, "n integer"));
    call(QStringLiteral("21"));
    EVENTUALLY(window_->currentSheet() != nullptr && editorText() == "SELECT public.doubled(21);\n");
    EVENTUALLY(isOver(0));
    EXPECT_EQ(data::toText(card(0)->result()->cell(0, 0)), "42");
}

TEST_F(ServedTableWindowTest, OnMariaDbTablesAreMadeChangedAndDroppedAndOutValuesComeBack) {
    beginOnMariaDb("pantry_forms");
    makeChangeAndDrop(QStringLiteral("int"), QStringLiteral("varchar(40)"));
    run("CREATE PROCEDURE tidy(IN days int, OUT gone int) SET gone = days * 2");
    openRoutine(place("tidy", catalog::ObjectKind::Procedure, "days int(11), OUT gone int(11)"));
    call(QStringLiteral("21"));
    EVENTUALLY(window_->currentSheet() != nullptr &&
               editorText() == "CALL pantry_forms.tidy(21, @gone);\nSELECT @gone AS gone;\n");
    EVENTUALLY(card(1) != nullptr && isOver(1));
    EXPECT_EQ(data::toText(card(1)->result()->cell(0, 0)), "42");
}

TEST_F(ServedTableWindowTest, OnPostgresATableIsFoundByItsColumnAndScripted) {
    beginOnPostgres();
    run("CREATE TABLE \"fruit stall\" (stall_id integer PRIMARY KEY, keeper_name text)");
    run("INSERT INTO \"fruit stall\" VALUES (1, 'Ida'), (2, 'Bram')");
    findAndScript("keeper_name");
}

TEST_F(ServedTableWindowTest, OnMariaDbATableIsFoundByItsColumnAndScripted) {
    beginOnMariaDb("pantry_forms");
    run("CREATE TABLE `fruit stall` (stall_id int PRIMARY KEY, keeper_name varchar(40))");
    run("INSERT INTO `fruit stall` VALUES (1, 'Ida'), (2, 'Bram')");
    findAndScript("keeper_name");
}

TEST_F(ServedTableWindowTest, ALockOfSomebodyElseEndsTheWaitAndTheFormIsKept) {
    beginOnPostgres();
    run("CREATE TABLE held (n integer)");
    desk_->catalogs().load("records");
    EVENTUALLY(desk_->catalogs().state("records").catalog->find("public", "held") != nullptr);
    run("BEGIN");
    run("LOCK TABLE held");
    Q_EMIT panel()->formRequested(place("held"), QStringLiteral("object.rename"));
    EVENTUALLY(find<QLineEdit>("formFieldtext") != nullptr);
    find<QLineEdit>("formFieldtext")->setText(QStringLiteral("let_go"));
    EVENTUALLY(statements().contains(QStringLiteral("RENAME TO let_go")));
    runShown();
    EVENTUALLY(find(objectName::kDefinitionStop) != nullptr);
    QTest::mouseClick(find<QPushButton>(objectName::kDefinitionStop), Qt::LeftButton);  // rather than ten seconds
    EVENTUALLY(message().contains(QStringLiteral("It failed at")));
    EXPECT_EQ(find<QLineEdit>("formFieldtext")->text(), QStringLiteral("let_go"));
    run("ROLLBACK");
    runShown();
    EVENTUALLY(!answer("SELECT 1 FROM pg_class WHERE relname = 'let_go'").empty());
}

}  // namespace
}  // namespace pantry::app
