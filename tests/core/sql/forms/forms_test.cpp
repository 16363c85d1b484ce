#include "core/sql/forms/form.h"

#include <gmock/gmock.h>

#include <set>

#include "core/sql/define/edited_text.h"

namespace pantry::sql {
namespace {

using catalog::ObjectKind;
using testing::HasSubstr;
using testing::IsEmpty;

std::string written(std::string_view id, const FormPlace& place, const FieldValues& values,
                    const FieldValues& before = {}) {
    return formEntry(id)->write(place, values, before).script();
}

FormPlace table(Dialect dialect) {
    return {.dialect = dialect, .object = {.schema = "orchard", .name = "odd one"}, .comment = "as it was"};
}

TEST(FormTest, WhatIsDoneWithObjectsHasAStatementWhereTheEngineHasOne) {
    EXPECT_EQ(written("object.rename", table(Dialect::Postgres), {{"text", "b"}}),
              "ALTER TABLE orchard.\"odd one\" RENAME TO b;\n");
    EXPECT_EQ(written("object.rename", table(Dialect::MySql), {{"text", "b"}}),
              "RENAME TABLE orchard.`odd one` TO orchard.b;\n");
    EXPECT_EQ(written("object.rename", table(Dialect::Postgres), {{"text", "odd one"}}), "") << "it has that name";
    EXPECT_EQ(written("object.empty", table(Dialect::Postgres), {{"cascade", "yes"}}),
              "TRUNCATE TABLE orchard.\"odd one\" CASCADE;\n");
    EXPECT_EQ(written("object.empty", table(Dialect::Sqlite), {}), "DELETE FROM orchard.\"odd one\";\n");
    EXPECT_EQ(written("object.comment", table(Dialect::MySql), {{"text", "it's"}}),
              "ALTER TABLE orchard.`odd one` COMMENT = 'it''s';\n");
    EXPECT_EQ(written("object.comment", table(Dialect::Postgres), {}),
              "COMMENT ON TABLE orchard.\"odd one\" IS NULL;\n");
    EXPECT_EQ(written("object.comment", table(Dialect::Postgres), {{"text", "as it was"}}), "");
    EXPECT_TRUE(formEntry("object.drop")->write(table(Dialect::Sqlite), {}, {}).isDestructive());
    EXPECT_FALSE(formEntry("object.comment")->isFor(table(Dialect::Sqlite)));
    const FormPlace routine{.dialect = Dialect::Postgres, .object = {ObjectKind::Function, "s", "f", "integer"}};
    EXPECT_EQ(written("object.drop", routine, {}), "DROP FUNCTION s.f(integer);\n");
    const FormPlace domain{
        .dialect = Dialect::Postgres, .object = {ObjectKind::Type, "s", "d", {}}, .detail = "domain over text"};
    EXPECT_EQ(written("object.drop", domain, {}), "DROP DOMAIN s.d;\n");
}

TEST(FormTest, EachStandsOnceAndSaysWhatItIs) {
    std::set<std::string_view> ids;
    for (const FormEntry& form : formEntries()) {
        EXPECT_TRUE(ids.insert(form.id).second) << form.id;
        EXPECT_TRUE(form.label.ends_with("…")) << form.label;
        EXPECT_FALSE(form.isFor({.dialect = Dialect::Ansi})) << form.id << " where nothing is known of the engine";
        const bool isAboutObject = form.group == FormGroup::Object;
        EXPECT_EQ(form.title.find("%1") != std::string_view::npos, isAboutObject) << form.id;
        EXPECT_FALSE(isAboutObject && form.isFor({.dialect = Dialect::Postgres, .object = {.schema = "s"}})) << form.id;
    }
    EXPECT_EQ(formEntry("nothing.like.it"), nullptr);
}

TEST(FormTest, WhatIsMissingOrNoNumberIsSaid) {
    const FormPlace place{.dialect = Dialect::Postgres};
    const auto fields = formEntry("sequence.new")->fields(place);
    EXPECT_EQ(whyIncomplete(fields, {}), "“Name” is not filled in yet.");
    EXPECT_EQ(whyIncomplete(fields, {{"name", "n"}, {"start", "1o"}}), "Start with takes a whole number, not “1o”.");
    EXPECT_EQ(whyIncomplete(fields, {{"name", "n"}, {"start", "-9223372036854775808"}}), "");
    EXPECT_THAT(whyIncomplete(fields, {{"name", "n"}, {"start", "9223372036854775808"}}), HasSubstr("whole number"));
}

TEST(FormTest, OnlyWhatChangedIsWritten) {
    const FormPlace place{.dialect = Dialect::MySql};
    const FieldValues before{{"name", "'a'@'%'"}, {"tls", "yes"}, {"connections", "3"}, {"memberOf", "'x'\n'y'"}};
    FieldValues now = before;
    EXPECT_EQ(written("user.change", place, now, before), "");
    now["tls"] = "";
    now["memberOf"] = "'y'\n'z'";
    EXPECT_EQ(written("user.change", place, now, before),
              "ALTER USER 'a'@'%' REQUIRE NONE;\nGRANT 'z' TO 'a'@'%';\nREVOKE 'x' FROM 'a'@'%';\n");
    EXPECT_EQ(written("user.new", place, {{"name", "a@b"}, {"host", "10.%"}}), "CREATE USER 'a@b'@'10.%';\n");
    EXPECT_EQ(written("role.grant", place, {{"role", "r"}, {"who", "anna@local host"}}),
              "GRANT 'r' TO 'anna'@'local host';\n");
}

// ---- Edited texts ----

const EditedObject kView{.object = {ObjectKind::View, "s", "v", {}}};

std::string applied(const EditedObject& edited, std::string_view text, std::string_view before, bool drops,
                    Dialect dialect) {
    const auto change = applyText(edited, text, before, drops, dialect);
    return change ? change->change.script() : change.error().message;
}

TEST(EditedTextTest, CreateTakesThePlaceOfWhatIsThere) {
    EXPECT_EQ(applied(kView, "CREATE VIEW s.v AS SELECT 2", "CREATE VIEW s.v AS SELECT 1", false, Dialect::Postgres),
              "CREATE OR REPLACE VIEW s.v AS SELECT 2;\n");
    EXPECT_EQ(applied(kView, "CREATE VIEW v AS SELECT 2", "CREATE VIEW v AS SELECT 1", false, Dialect::Sqlite),
              "DROP VIEW s.v;\nCREATE VIEW v AS SELECT 2;\n");
    EXPECT_EQ(applied(kView, "CREATE VIEW v AS SELECT 1;", "CREATE VIEW v AS SELECT 1", false, Dialect::Sqlite), "")
        << "nothing is changed";
    EXPECT_EQ(applied(kView, "SELECT 1", "", false, Dialect::Postgres), "The text does not begin with CREATE.");
    EXPECT_EQ(applied(kView, "  ", "", false, Dialect::Postgres), "The text does not begin with CREATE.");
    const EditedObject trigger{.object = {.schema = "s", .name = "t"}, .trigger = "w x"};
    EXPECT_EQ(applied(trigger, "CREATE CONSTRAINT TRIGGER w AFTER UPDATE ON s.t EXECUTE FUNCTION f()", "", false,
                      Dialect::Postgres),
              "DROP TRIGGER \"w x\" ON s.t;\nCREATE CONSTRAINT TRIGGER w AFTER UPDATE ON s.t EXECUTE FUNCTION f();\n");
    EXPECT_EQ(applied(trigger, "CREATE TRIGGER w BEFORE UPDATE ON t BEGIN SELECT 1; SELECT 2; END", "", false,
                      Dialect::Sqlite),
              "DROP TRIGGER s.\"w x\";\nCREATE TRIGGER w BEFORE UPDATE ON t BEGIN SELECT 1; SELECT 2; END;\n");
}

TEST(EditedTextTest, AnotherNameOrOtherParametersAreTold) {
    const auto remark = [](const EditedObject& edited, std::string_view text, std::string_view before, bool drops) {
        return applyText(edited, text, before, drops, Dialect::Postgres)->remark;
    };
    EXPECT_THAT(remark(kView, "CREATE VIEW s.w AS SELECT 1", "CREATE VIEW s.v AS SELECT 1", false),
                HasSubstr("makes w beside v"));
    EXPECT_THAT(remark(kView, "CREATE VIEW s.w AS SELECT 1", "CREATE VIEW s.v AS SELECT 1", true), IsEmpty());
    EXPECT_THAT(remark(kView, "CREATE VIEW s.\"v\" AS SELECT 2", "CREATE VIEW s.v AS SELECT 1", false), IsEmpty());
    const EditedObject routine{.object = {ObjectKind::Function, "s", "f", "integer"}};
    const std::string before = "CREATE FUNCTION s.f(n integer) RETURNS integer LANGUAGE sql AS '1'";
    EXPECT_THAT(remark(routine, "CREATE FUNCTION s.f(n bigint) RETURNS integer LANGUAGE sql AS '1'", before, false),
                HasSubstr("another routine"));
    EXPECT_THAT(remark(routine, "CREATE FUNCTION s.f( n  Integer ) RETURNS integer LANGUAGE sql AS '2'", before, false),
                IsEmpty());
}

TEST(EditedTextTest, FailuresStandWhereTheyWereWritten) {
    const std::string text = "-- a note\nCREATE VIEW s.v AS SELECT nothing;\nCOMMENT ON VIEW s.v IS 'x';";
    const auto change = applyText(kView, text, "", false, Dialect::Postgres);
    ASSERT_TRUE(change);
    ASSERT_EQ(change->change.steps.size(), 2U);
    const DefinitionStep& first = change->change.steps[0];
    EXPECT_EQ(first.placeInText(first.statement.find("nothing")), text.find("nothing"));
    EXPECT_EQ(first.placeInText(0), text.find("CREATE"));
    const DefinitionStep& second = change->change.steps[1];
    EXPECT_EQ(second.placeInText(second.statement.find("'x'")), text.find("'x'"));
    EXPECT_FALSE(DefinitionStep{}.placeInText(3));
}

TEST(EditedTextTest, TheStatementOfATriggerIsFoundInItsTablesScript) {
    const std::string script =
        "CREATE TABLE t (n int);\nCREATE TRIGGER s.`a b` BEFORE UPDATE ON t FOR EACH ROW BEGIN SET @a = 1; SET @b = 2; "
        "END;\nCREATE TRIGGER c AFTER INSERT ON t FOR EACH ROW SET @c = 1;";
    EXPECT_THAT(triggerIn(script, "A b", Dialect::MySql), HasSubstr("SET @b = 2; END;\n"));
    EXPECT_THAT(triggerIn(script, "c", Dialect::MySql), testing::StartsWith("CREATE TRIGGER c "));
    EXPECT_EQ(triggerIn(script, "t", Dialect::MySql), "");
}

}  // namespace
}  // namespace pantry::sql
