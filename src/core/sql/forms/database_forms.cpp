#include <fmt/format.h>

#include "core/sql/forms/form_parts.h"
#include "core/sql/text/lexer.h"

// Databases. On MariaDB a database is what others call a schema.

namespace pantry::sql {
namespace {

constexpr std::string_view kPostgresNames = "SELECT datname::text FROM pg_database WHERE NOT datistemplate ORDER BY 1";
constexpr std::string_view kMySqlNames =
    "SELECT schema_name FROM information_schema.schemata\n"
    "WHERE schema_name NOT IN ('information_schema', 'mysql', 'performance_schema', 'sys')\nORDER BY 1";

/// The database that is changed or dropped.
FormField subject(const FormPlace& place) {
    return {.id = "name",
            .label = "Database",
            .kind = FieldKind::Choice,
            .isNeeded = true,
            .value = isMySql(place) ? place.object.schema : place.database,
            .choicesQuery = std::string(isMySql(place) ? kMySqlNames : kPostgresNames)};
}

std::vector<FormField> collations() {
    return {{.id = "charset",
             .label = "Character set",
             .kind = FieldKind::Choice,
             .choicesQuery = "SELECT character_set_name FROM information_schema.character_sets ORDER BY 1"},
            {.id = "collation",
             .label = "Collation",
             .kind = FieldKind::Choice,
             .choicesQuery = "SELECT collation_name FROM information_schema.collations ORDER BY 1"}};
}

const FormField kConnections{.id = "connections",
                             .label = "Connections at most",
                             .kind = FieldKind::Number,
                             .hint = "-1 means as many as the server takes"};
const FormField kComment{.id = "comment", .label = "Comment"};

FormField owner() {
    return {.id = "owner",
            .label = "Owner",
            .kind = FieldKind::Choice,
            .choicesQuery = granteesQuery(Dialect::Postgres, false)};
}

std::vector<FormField> newFields(const FormPlace& place) {
    std::vector<FormField> fields{{.id = "name", .label = "Name", .isNeeded = true}};
    if (isMySql(place)) {
        for (FormField& one : collations()) fields.push_back(std::move(one));
    } else {
        fields.push_back(owner());
        fields.push_back({.id = "template",
                          .label = "Copied from",
                          .kind = FieldKind::Choice,
                          .choicesQuery = "SELECT datname::text FROM pg_database ORDER BY 1",
                          .hint = "template0 where another encoding or locale is wanted"});
        fields.push_back({.id = "encoding",
                          .label = "Encoding",
                          .kind = FieldKind::Choice,
                          .choices = {"UTF8", "LATIN1", "SQL_ASCII"}});
        fields.push_back({.id = "locale",
                          .label = "Locale",
                          .kind = FieldKind::Choice,
                          .choicesQuery = "SELECT DISTINCT collcollate::text FROM pg_collation\n"
                                          "WHERE collprovider = 'c' AND collcollate <> ''\nORDER BY 1"});
        fields.push_back(kConnections);
    }
    fields.push_back(kComment);
    return fields;
}

void addCollation(Clauses& clauses, const FieldReader& f, const FormPlace& place) {
    clauses.addIf(f.isSet("charset"), "CHARACTER SET " + f["charset"]);
    clauses.addIf(f.isSet("collation"), "COLLATE " + f["collation"]);
    clauses.addIf(f.isChanged("comment"), "COMMENT " + quotedString(f["comment"], place.dialect));
}

DefinitionChange make(const FormPlace& place, const FieldValues& now, const FieldValues& before) {
    const FieldReader f(now, before);
    const std::string name = quotedName(f["name"], place.dialect);
    Clauses create("CREATE DATABASE " + name);
    const std::string label = "Make the database " + f["name"];
    if (isMySql(place)) {
        addCollation(create, f, place);
        return {.steps = {{create.text(), label}}};
    }
    create.addIf(f.has("owner"), "OWNER " + quotedName(f["owner"], place.dialect));
    create.addIf(f.has("template"), "TEMPLATE " + quotedName(f["template"], place.dialect));
    create.addIf(f.has("encoding"), "ENCODING " + quotedString(f["encoding"], place.dialect));
    create.addIf(f.has("locale"), "LOCALE " + quotedString(f["locale"], place.dialect));
    create.addIf(f.has("connections"), "CONNECTION LIMIT " + f["connections"]);
    DefinitionChange change{.steps = {{create.text(), label}}, .isOneByOne = true};
    if (f.has("comment")) change.steps.push_back(commentStep("DATABASE", name, f["name"], f["comment"]));
    return change;
}

std::vector<FormField> changeFields(const FormPlace& place) {
    std::vector<FormField> fields{subject(place)};
    if (isMySql(place)) {
        for (FormField& one : collations()) fields.push_back(std::move(one));
    } else {
        fields.push_back({.id = "newName", .label = "New name", .hint = "nobody may be connected to it meanwhile"});
        fields.push_back(owner());
        fields.push_back(kConnections);
    }
    fields.push_back(kComment);
    return fields;
}

std::string currentQuery(const FormPlace& place, const std::string& subject) {
    const std::string name = quotedString(subject, place.dialect);
    if (isMySql(place)) {
        return "SELECT default_character_set_name AS charset, default_collation_name AS collation,\n"
               "       schema_comment AS comment\nFROM information_schema.schemata\nWHERE schema_name = " +
               name;
    }
    return "SELECT pg_get_userbyid(datdba)::text AS owner, datconnlimit::text AS connections,\n"
           "       shobj_description(oid, 'pg_database') AS comment\nFROM pg_database\nWHERE datname = " +
           name;
}

DefinitionChange change(const FormPlace& place, const FieldValues& now, const FieldValues& before) {
    const FieldReader f(now, before);
    const std::string name = quotedName(f["name"], place.dialect);
    DefinitionChange change;
    if (isMySql(place)) {
        Clauses alter("ALTER DATABASE " + name);
        addCollation(alter, f, place);
        if (!alter.isEmpty()) change.steps.push_back({alter.text(), "Change the database " + f["name"]});
        return change;
    }
    const std::string alter = "ALTER DATABASE " + name;
    if (f.isSet("owner")) {
        change.steps.push_back({alter + " OWNER TO " + quotedName(f["owner"], place.dialect),
                                fmt::format("Give the database {} to {}", f["name"], f["owner"])});
    }
    if (f.isSet("connections")) {
        change.steps.push_back({alter + " CONNECTION LIMIT " + f["connections"], "Change how many may connect"});
    }
    if (f.isChanged("comment")) change.steps.push_back(commentStep("DATABASE", name, f["name"], f["comment"]));
    if (f.has("newName") && f["newName"] != f["name"]) {
        change.steps.push_back({alter + " RENAME TO " + quotedName(f["newName"], place.dialect),
                                fmt::format("Rename the database {} to {}", f["name"], f["newName"])});
    }
    return change;
}

std::vector<FormField> dropFields(const FormPlace& place) {
    std::vector<FormField> fields{subject(place)};
    if (isMySql(place)) return fields;
    fields.front().value.clear();  // nobody drops the one that he is connected to
    fields.push_back({.id = "force", .label = "End the sessions that use it (FORCE)", .kind = FieldKind::Tick});
    return fields;
}

DefinitionChange drop(const FormPlace& place, const FieldValues& now, const FieldValues& before) {
    const FieldReader f(now, before);
    Clauses text("DROP DATABASE " + quotedName(f["name"], place.dialect));
    text.addIf(f.has("force"), "WITH (FORCE)");
    return {.steps = {{text.text(), "Drop the database " + f["name"], true}}, .isOneByOne = true};
}

}  // namespace

std::vector<FormEntry> databaseForms() {
    return {
        {"database.new", "New database…", "Make a database", FormGroup::Database, false, isServer, newFields,
         nothingYet, make, nothingMade},
        {"database.change", "Change a database…", "Change a database", FormGroup::Database, false, isServer,
         changeFields, currentQuery, change, nothingMade},
        {"database.drop", "Drop a database…", "Drop a database", FormGroup::Database, true, isServer, dropFields,
         nothingYet, drop, nothingMade},
    };
}

}  // namespace pantry::sql
