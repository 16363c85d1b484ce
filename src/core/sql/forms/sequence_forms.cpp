#include <fmt/format.h>

#include "core/sql/forms/form_parts.h"
#include "core/sql/text/lexer.h"
#include "core/sql/write/names.h"

namespace pantry::sql {
namespace {

bool isSequence(const FormPlace& place) {
    return isServer(place) && place.object.kind == catalog::ObjectKind::Sequence && !place.object.name.empty();
}

/// The numbers that a sequence counts by.
std::vector<FormField> counting() {
    return {{.id = "start", .label = "Start with", .kind = FieldKind::Number},
            {.id = "increment", .label = "Increment by", .kind = FieldKind::Number},
            {.id = "minimum", .label = "Least value", .kind = FieldKind::Number},
            {.id = "maximum", .label = "Greatest value", .kind = FieldKind::Number},
            {.id = "cache", .label = "Values taken at once", .kind = FieldKind::Number},
            {.id = "cycle", .label = "Begins anew at its end (CYCLE)", .kind = FieldKind::Tick}};
}

void addCounting(Clauses& clauses, const FieldReader& f, const FormPlace& place) {
    clauses.addIf(f.isSet("start"), "START WITH " + f["start"]);
    clauses.addIf(f.isSet("increment"), "INCREMENT BY " + f["increment"]);
    clauses.addIf(f.isSet("minimum"), "MINVALUE " + f["minimum"]);
    clauses.addIf(f.isSet("maximum"), "MAXVALUE " + f["maximum"]);
    clauses.addIf(f.isSet("cache"), "CACHE " + f["cache"]);
    clauses.addIf(f.isChanged("cycle"), f.has("cycle") ? "CYCLE" : isMySql(place) ? "NOCYCLE" : "NO CYCLE");
}

std::vector<FormField> newSequence(const FormPlace& place) {
    std::vector<FormField> fields{{.id = "name", .label = "Name", .isNeeded = true},
                                  {.id = "schema", .label = "Schema", .value = place.object.schema}};
    if (isPostgres(place)) {
        fields.push_back(
            {.id = "type", .label = "Type", .kind = FieldKind::Choice, .choices = {"bigint", "integer", "smallint"}});
    }
    for (FormField& one : counting()) fields.push_back(std::move(one));
    fields.push_back({.id = "comment", .label = "Comment"});
    return fields;
}

DefinitionChange makeSequence(const FormPlace& place, const FieldValues& now, const FieldValues& before) {
    const FieldReader f(now, before);
    const std::string name = qualifiedName(f["schema"], f["name"], place.dialect);
    Clauses create("CREATE SEQUENCE " + name);
    create.addIf(f.has("type"), "AS " + f["type"]);
    addCounting(create, f, place);
    if (isMySql(place)) {
        create.addIf(f.has("comment"), "COMMENT = " + quotedString(f["comment"], place.dialect));
        return {.steps = {{create.text(), "Make the sequence " + f["name"]}}};
    }
    DefinitionChange change{.steps = {{create.text(), "Make the sequence " + f["name"]}}};
    if (f.has("comment")) change.steps.push_back(commentStep("SEQUENCE", name, f["name"], f["comment"]));
    return change;
}

std::optional<catalog::ObjectName> madeSequence(const FormPlace& /*place*/, const FieldValues& now) {
    return catalog::ObjectName{
        .kind = catalog::ObjectKind::Sequence, .schema = valueOf(now, "schema"), .name = valueOf(now, "name")};
}

std::vector<FormField> changedSequence(const FormPlace& place) {
    std::vector<FormField> fields;
    if (isPostgres(place)) {
        fields.push_back(
            {.id = "type", .label = "Type", .kind = FieldKind::Choice, .choices = {"bigint", "integer", "smallint"}});
    }
    for (FormField& one : counting()) fields.push_back(std::move(one));
    fields.push_back(
        {.id = "restart", .label = "Next value", .kind = FieldKind::Number, .hint = "it goes on from here"});
    return fields;
}

std::string sequenceNow(const FormPlace& place, const std::string& /*subject*/) {
    const std::string name = qualifiedName(place.object.schema, place.object.name, place.dialect);
    if (isMySql(place)) {
        return "SELECT start_value AS start, increment, minimum_value AS minimum, maximum_value AS maximum,\n"
               "       cache_size AS cache, IF(cycle_option, 'yes', '') AS cycle\nFROM " +
               name;
    }
    return "SELECT format_type(seqtypid, NULL) AS type, seqstart::text AS start, seqincrement::text AS increment,\n"
           "       seqmin::text AS minimum, seqmax::text AS maximum, seqcache::text AS cache,\n"
           "       CASE WHEN seqcycle THEN 'yes' ELSE '' END AS cycle\nFROM pg_sequence\nWHERE seqrelid = " +
           quotedString(name, place.dialect) + "::regclass";
}

DefinitionChange changeSequence(const FormPlace& place, const FieldValues& now, const FieldValues& before) {
    const FieldReader f(now, before);
    Clauses alter("ALTER SEQUENCE " + qualifiedName(place.object.schema, place.object.name, place.dialect));
    alter.addIf(f.isSet("type"), "AS " + f["type"]);
    addCounting(alter, f, place);
    alter.addIf(f.has("restart"), "RESTART WITH " + f["restart"]);
    if (alter.isEmpty()) return {};
    return {.steps = {{alter.text(), "Change the sequence " + place.object.name}}};
}

}  // namespace

std::vector<FormEntry> sequenceForms() {
    return {
        {"sequence.new", "New sequence…", "Make a sequence", FormGroup::Sequence, false, isServer, newSequence,
         nothingYet, makeSequence, madeSequence},
        {"sequence.change", "How it counts…", "How %1 counts", FormGroup::Object, false, isSequence, changedSequence,
         sequenceNow, changeSequence, sameObject},
    };
}

}  // namespace pantry::sql
