#include <fmt/format.h>

#include "core/base/joined.h"
#include "core/base/text.h"
#include "core/sql/define/object_words.h"
#include "core/sql/forms/form_parts.h"
#include "core/sql/text/lexer.h"
#include "core/sql/write/names.h"

// GRANT and REVOKE: on an object, on a schema with what is in it, on a database, and the membership in a role.

namespace pantry::sql {
namespace {

using catalog::ObjectKind;
using Names = std::vector<std::string>;

enum class Verb { Grant, Revoke };

bool hasColumns(ObjectKind kind) { return catalog::isRelationKind(kind); }

bool isGrantable(const FormPlace& place) {
    const ObjectKind kind = place.object.kind;
    return isServer(place) && !place.object.name.empty() && kind != ObjectKind::Event &&
           kind != ObjectKind::Extension && kind != ObjectKind::Aggregate;
}

Names privilegesOn(ObjectKind kind, Dialect dialect) {
    const bool isMaria = dialect == Dialect::MySql;
    if (isRoutineKind(kind)) return isMaria ? Names{"EXECUTE", "ALTER ROUTINE"} : Names{"EXECUTE"};
    if (kind == ObjectKind::Sequence)
        return isMaria ? Names{"SELECT", "INSERT", "ALTER"} : Names{"USAGE", "SELECT", "UPDATE"};
    if (kind == ObjectKind::Type) return {"USAGE"};
    if (isMaria) {
        return {"SELECT", "INSERT", "UPDATE", "DELETE", "REFERENCES", "TRIGGER", "INDEX", "ALTER", "CREATE", "DROP"};
    }
    return {"SELECT", "INSERT", "UPDATE", "DELETE", "TRUNCATE", "REFERENCES", "TRIGGER"};
}

FormField privilegesField(Names choices) {
    return {.id = "privileges",
            .label = "Privileges",
            .kind = FieldKind::Ticks,
            .isNeeded = true,
            .choices = std::move(choices)};
}

FormField grantee(const FormPlace& place, Verb verb, bool withPublic) {
    return {.id = "who",
            .label = verb == Verb::Grant ? "To" : "From",
            .kind = FieldKind::Choice,
            .isNeeded = true,
            .choicesQuery = granteesQuery(place.dialect, withPublic)};
}

/// GRANT or REVOKE with its ends; `what` stands between them.
DefinitionStep rightStep(Verb verb, const std::string& what, const FieldReader& f, const FormPlace& place,
                         const std::string& label) {
    const std::string who = granteeName(f["who"], place.dialect);
    if (verb == Verb::Grant) {
        const std::string_view option = f.has("option") ? " WITH GRANT OPTION" : "";
        return {fmt::format("GRANT {} TO {}{}", what, who, option), fmt::format("Let {} {}", f["who"], label)};
    }
    const std::string_view cascade = f.has("cascade") ? " CASCADE" : "";
    return {fmt::format("REVOKE {} FROM {}{}", what, who, cascade), fmt::format("Take from {}: {}", f["who"], label),
            true};
}

void addEnd(std::vector<FormField>& fields, const FormPlace& place, Verb verb) {
    if (verb == Verb::Grant) {
        fields.push_back({.id = "option", .label = "May hand it on (GRANT OPTION)", .kind = FieldKind::Tick});
    } else if (isPostgres(place)) {
        fields.push_back({.id = "cascade", .label = "Also what was handed on (CASCADE)", .kind = FieldKind::Tick});
    }
}

std::string privilegeList(const FieldValues& now, std::string_view id, const std::string& columns) {
    Names privileges = ticksOf(now, id);
    if (!columns.empty()) {
        for (std::string& one : privileges) one += " (" + columns + ")";
    }
    return base::joined(privileges, ", ");
}

template <Verb verb>
std::vector<FormField> objectFields(const FormPlace& place) {
    std::vector<FormField> fields{privilegesField(privilegesOn(place.object.kind, place.dialect))};
    if (hasColumns(place.object.kind)) {
        fields.push_back({.id = "columns", .label = "Only on the columns", .hint = "names with commas between"});
    }
    fields.push_back(grantee(place, verb, true));
    addEnd(fields, place, verb);
    return fields;
}

std::string quotedColumns(const std::string& text, Dialect dialect) {
    Names columns;
    for (const std::string_view one : base::splitAt(text, ',')) {
        const std::string_view name = base::trimmed(one);
        if (!name.empty()) columns.push_back(quotedName(name, dialect));
    }
    return base::joined(columns, ", ");
}

template <Verb verb>
DefinitionChange writeOnObject(const FormPlace& place, const FieldValues& now, const FieldValues& before) {
    const FieldReader f(now, before);
    const catalog::ObjectName& object = place.object;
    const bool isTable =
        catalog::isRelationKind(object.kind) || (isMySql(place) && object.kind == ObjectKind::Sequence);
    const std::string name =
        withParameters(qualifiedName(object.schema, object.name, place.dialect), object, place.dialect);
    const std::string privileges = privilegeList(now, "privileges", quotedColumns(f["columns"], place.dialect));
    const std::string what =
        fmt::format("{} ON {} {}", privileges, isTable ? "TABLE" : objectWord(object.kind, place.detail), name);
    return {.steps = {rightStep(verb, what, f, place, base::toLower(privileges) + " on " + object.name)}};
}

template <Verb verb>
std::vector<FormField> schemaFields(const FormPlace& place) {
    std::vector<FormField> fields{{.id = "schema",
                                   .label = "Schema",
                                   .kind = FieldKind::Choice,
                                   .isNeeded = true,
                                   .value = place.object.schema,
                                   .choicesQuery = "SELECT nspname::text FROM pg_namespace\n"
                                                   "WHERE nspname NOT LIKE 'pg\\_%'\nORDER BY 1"}};
    FormField own = privilegesField({"USAGE", "CREATE"});
    own.isNeeded = false;
    fields.push_back(own);
    fields.push_back({.id = "tables",
                      .label = "On all its tables and views",
                      .kind = FieldKind::Ticks,
                      .choices = {"SELECT", "INSERT", "UPDATE", "DELETE"}});
    fields.push_back({.id = "future", .label = "Also on tables that you will make in it", .kind = FieldKind::Tick});
    fields.push_back(grantee(place, verb, true));
    addEnd(fields, place, verb);
    return fields;
}

template <Verb verb>
DefinitionChange writeOnSchema(const FormPlace& place, const FieldValues& now, const FieldValues& before) {
    const FieldReader f(now, before);
    const std::string schema = quotedName(f["schema"], place.dialect);
    DefinitionChange change;
    const std::string own = privilegeList(now, "privileges", {});
    if (!own.empty()) {
        change.steps.push_back(rightStep(verb, fmt::format("{} ON SCHEMA {}", own, schema), f, place,
                                         base::toLower(own) + " on " + f["schema"]));
    }
    const std::string tables = privilegeList(now, "tables", {});
    if (tables.empty()) return change;
    const std::string label = base::toLower(tables) + " on all tables of " + f["schema"];
    change.steps.push_back(
        rightStep(verb, fmt::format("{} ON ALL TABLES IN SCHEMA {}", tables, schema), f, place, label));
    if (f.has("future")) {
        DefinitionStep step = rightStep(verb, tables + " ON TABLES", f, place, label + " to come");
        step.statement = fmt::format("ALTER DEFAULT PRIVILEGES IN SCHEMA {} {}", schema, step.statement);
        change.steps.push_back(std::move(step));
    }
    return change;
}

template <Verb verb>
std::vector<FormField> databaseFields(const FormPlace& place) {
    const bool isMaria = isMySql(place);
    std::vector<FormField> fields{
        {.id = "database",
         .label = "Database",
         .kind = FieldKind::Choice,
         .isNeeded = true,
         .value = isMaria ? place.object.schema : place.database,
         .choicesQuery = isMaria ? "SELECT schema_name FROM information_schema.schemata ORDER BY 1"
                                 : "SELECT datname::text FROM pg_database WHERE NOT datistemplate ORDER BY 1",
         .hint = isMaria ? std::string_view("* means all of them") : std::string_view()},
        privilegesField(isMaria ? Names{"SELECT", "INSERT", "UPDATE", "DELETE", "EXECUTE", "CREATE", "ALTER", "DROP",
                                        "INDEX", "REFERENCES", "CREATE VIEW", "SHOW VIEW", "TRIGGER", "EVENT",
                                        "CREATE ROUTINE", "ALTER ROUTINE", "CREATE TEMPORARY TABLES", "LOCK TABLES"}
                                : Names{"CONNECT", "CREATE", "TEMPORARY"}),
        grantee(place, verb, true)};
    addEnd(fields, place, verb);
    return fields;
}

template <Verb verb>
DefinitionChange writeOnDatabase(const FormPlace& place, const FieldValues& now, const FieldValues& before) {
    const FieldReader f(now, before);
    const std::string database = f["database"];
    const std::string privileges = privilegeList(now, "privileges", {});
    const std::string name = database == "*" ? database : quotedName(database, place.dialect);
    const std::string what = isMySql(place) ? fmt::format("{} ON {}.*", privileges, name)
                                            : fmt::format("{} ON DATABASE {}", privileges, name);
    return {.steps = {rightStep(verb, what, f, place, base::toLower(privileges) + " on " + database)}};
}

template <Verb verb>
std::vector<FormField> roleFields(const FormPlace& place) {
    const std::string roles = isMySql(place) ? "SELECT QUOTE(user) FROM mysql.user WHERE is_role = 'Y' ORDER BY 1"
                                             : "SELECT rolname::text FROM pg_roles ORDER BY rolname LIKE 'pg\\_%', 1";
    std::vector<FormField> fields{
        {.id = "role", .label = "Role", .kind = FieldKind::Choice, .isNeeded = true, .choicesQuery = roles},
        grantee(place, verb, false)};
    if (verb == Verb::Grant) {
        fields.push_back({.id = "admin", .label = "May hand it on (ADMIN OPTION)", .kind = FieldKind::Tick});
    }
    return fields;
}

template <Verb verb>
DefinitionChange writeMembership(const FormPlace& place, const FieldValues& now, const FieldValues& before) {
    const FieldReader f(now, before);
    DefinitionStep step = rightStep(verb, granteeName(f["role"], place.dialect), f, place, "be " + f["role"]);
    if (f.has("admin")) step.statement += " WITH ADMIN OPTION";
    return {.steps = {std::move(step)}};
}

}  // namespace

std::vector<FormEntry> rightForms() {
    constexpr Verb kGrant = Verb::Grant;
    constexpr Verb kRevoke = Verb::Revoke;
    constexpr FormGroup kGroup = FormGroup::Right;
    return {
        {"object.grant", "Grant…", "Grant rights on %1", FormGroup::Object, false, isGrantable, objectFields<kGrant>,
         nothingYet, writeOnObject<kGrant>, sameObject},
        {"object.revoke", "Revoke…", "Revoke rights on %1", FormGroup::Object, true, isGrantable, objectFields<kRevoke>,
         nothingYet, writeOnObject<kRevoke>, sameObject},
        {"role.grant", "Grant a role…", "Grant a role", kGroup, false, isServer, roleFields<kGrant>, nothingYet,
         writeMembership<kGrant>, nothingMade},
        {"schema.grant", "Grant on a schema…", "Grant rights on a schema", kGroup, false, isPostgres,
         schemaFields<kGrant>, nothingYet, writeOnSchema<kGrant>, nothingMade},
        {"database.grant", "Grant on a database…", "Grant rights on a database", kGroup, false, isServer,
         databaseFields<kGrant>, nothingYet, writeOnDatabase<kGrant>, nothingMade},
        {"role.revoke", "Revoke a role…", "Revoke a role", kGroup, true, isServer, roleFields<kRevoke>, nothingYet,
         writeMembership<kRevoke>, nothingMade},
        {"schema.revoke", "Revoke on a schema…", "Revoke rights on a schema", kGroup, true, isPostgres,
         schemaFields<kRevoke>, nothingYet, writeOnSchema<kRevoke>, nothingMade},
        {"database.revoke", "Revoke on a database…", "Revoke rights on a database", kGroup, true, isServer,
         databaseFields<kRevoke>, nothingYet, writeOnDatabase<kRevoke>, nothingMade},
    };
}

}  // namespace pantry::sql
