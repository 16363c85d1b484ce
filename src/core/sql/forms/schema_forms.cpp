#include <fmt/format.h>

#include "core/sql/forms/form_parts.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

FormField schemaSubject(const FormPlace& place) {
    return {.id = "name",
            .label = "Schema",
            .kind = FieldKind::Choice,
            .isNeeded = true,
            .value = place.object.schema,
            .choicesQuery =
                "SELECT nspname::text FROM pg_namespace\n"
                "WHERE nspname NOT LIKE 'pg\\_%' AND nspname <> 'information_schema'\nORDER BY 1"};
}

FormField schemaOwner() {
    return {.id = "owner",
            .label = "Owner",
            .kind = FieldKind::Choice,
            .choicesQuery = granteesQuery(Dialect::Postgres, false)};
}

std::vector<FormField> newSchema(const FormPlace& /*place*/) {
    return {{.id = "name", .label = "Name", .isNeeded = true}, schemaOwner(), {.id = "comment", .label = "Comment"}};
}

DefinitionChange makeSchema(const FormPlace& place, const FieldValues& now, const FieldValues& before) {
    const FieldReader f(now, before);
    const std::string name = quotedName(f["name"], place.dialect);
    Clauses create("CREATE SCHEMA " + name);
    create.addIf(f.has("owner"), "AUTHORIZATION " + quotedName(f["owner"], place.dialect));
    DefinitionChange change{.steps = {{create.text(), "Make the schema " + f["name"]}}};
    if (f.has("comment")) change.steps.push_back(commentStep("SCHEMA", name, f["name"], f["comment"]));
    return change;
}

std::vector<FormField> changedSchema(const FormPlace& place) {
    return {schemaSubject(place),
            {.id = "newName", .label = "New name"},
            schemaOwner(),
            {.id = "comment", .label = "Comment"}};
}

std::string schemaNow(const FormPlace& place, const std::string& subject) {
    return "SELECT pg_get_userbyid(nspowner)::text AS owner, obj_description(oid, 'pg_namespace') AS comment\n"
           "FROM pg_namespace\nWHERE nspname = " +
           quotedString(subject, place.dialect);
}

DefinitionChange changeSchema(const FormPlace& place, const FieldValues& now, const FieldValues& before) {
    const FieldReader f(now, before);
    const std::string name = quotedName(f["name"], place.dialect);
    DefinitionChange change;
    if (f.isSet("owner")) {
        change.steps.push_back({fmt::format("ALTER SCHEMA {} OWNER TO {}", name, quotedName(f["owner"], place.dialect)),
                                fmt::format("Give the schema {} to {}", f["name"], f["owner"])});
    }
    if (f.isChanged("comment")) change.steps.push_back(commentStep("SCHEMA", name, f["name"], f["comment"]));
    if (f.has("newName") && f["newName"] != f["name"]) {
        change.steps.push_back(
            {fmt::format("ALTER SCHEMA {} RENAME TO {}", name, quotedName(f["newName"], place.dialect)),
             fmt::format("Rename the schema {} to {}", f["name"], f["newName"])});
    }
    return change;
}

std::vector<FormField> droppedSchema(const FormPlace& place) {
    return {
        schemaSubject(place),
        {.id = "cascade", .label = "With everything in it, and what hangs on that (CASCADE)", .kind = FieldKind::Tick}};
}

DefinitionChange dropSchema(const FormPlace& place, const FieldValues& now, const FieldValues& before) {
    const FieldReader f(now, before);
    Clauses drop("DROP SCHEMA " + quotedName(f["name"], place.dialect));
    drop.addIf(f.has("cascade"), "CASCADE");
    return {.steps = {{drop.text(), "Drop the schema " + f["name"], true}}};
}

}  // namespace

std::vector<FormEntry> schemaForms() {
    return {
        {"schema.new", "New schema…", "Make a schema", FormGroup::Schema, false, isPostgres, newSchema, nothingYet,
         makeSchema, nothingMade},
        {"schema.change", "Change a schema…", "Change a schema", FormGroup::Schema, false, isPostgres, changedSchema,
         schemaNow, changeSchema, nothingMade},
        {"schema.drop", "Drop a schema…", "Drop a schema", FormGroup::Schema, true, isPostgres, droppedSchema,
         nothingYet, dropSchema, nothingMade},
    };
}

}  // namespace pantry::sql
