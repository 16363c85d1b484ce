#include <fmt/format.h>

#include "core/sql/define/object_words.h"
#include "core/sql/forms/form_parts.h"
#include "core/sql/text/lexer.h"
#include "core/sql/write/names.h"

// What can be done with any object of a catalog: another name, a comment, no rows, gone.

namespace pantry::sql {
namespace {

using catalog::ObjectKind;

/// The object as statements name it, behind the word for its kind.
struct Named {
    explicit Named(const FormPlace& place) : word(objectWord(place.object.kind, place.detail)) {
        const bool hasSchema = place.object.kind != ObjectKind::Extension;
        name = withParameters(
            qualifiedName(hasSchema ? place.object.schema : std::string(), place.object.name, place.dialect),
            place.object, place.dialect);
    }
    std::string_view word;
    std::string name;
};

bool isObject(const FormPlace& place) { return !place.object.name.empty() && place.dialect != Dialect::Ansi; }

bool canRename(const FormPlace& place) {
    const ObjectKind kind = place.object.kind;
    if (!isObject(place)) return false;
    if (isPostgres(place)) return kind != ObjectKind::Extension;
    if (isMySql(place)) return kind == ObjectKind::Table || kind == ObjectKind::View || kind == ObjectKind::Event;
    return kind == ObjectKind::Table || kind == ObjectKind::VirtualTable;
}

bool canComment(const FormPlace& place) {
    const ObjectKind kind = place.object.kind;
    if (isPostgres(place)) return isObject(place);
    return isMySql(place) && isObject(place) &&
           (kind == ObjectKind::Table || isRoutineKind(kind) || kind == ObjectKind::Event);
}

bool canEmpty(const FormPlace& place) { return isObject(place) && place.object.kind == ObjectKind::Table; }

std::vector<FormField> renameFields(const FormPlace& place) {
    return {{.id = "text", .label = "New name", .isNeeded = true, .value = place.object.name}};
}

DefinitionChange rename(const FormPlace& place, const FieldValues& now, const FieldValues& /*before*/) {
    const catalog::ObjectName& object = place.object;
    const std::string to = valueOf(now, "text");
    if (to.empty() || to == object.name) return {};
    const Named named(place);
    std::string statement =
        fmt::format("ALTER {} {} RENAME TO {}", named.word, named.name, quotedName(to, place.dialect));
    if (isMySql(place) && object.kind != ObjectKind::Event) {
        statement = fmt::format("RENAME TABLE {} TO {}", named.name, qualifiedName(object.schema, to, place.dialect));
    }
    return {.steps = {{statement, fmt::format("Rename {} to {}", object.name, to)}}};
}

std::optional<catalog::ObjectName> renamed(const FormPlace& place, const FieldValues& now) {
    catalog::ObjectName object = place.object;
    object.name = valueOf(now, "text");
    return object;
}

std::vector<FormField> commentFields(const FormPlace& place) {
    return {{.id = "text", .label = "Comment", .value = place.comment}};
}

DefinitionChange comment(const FormPlace& place, const FieldValues& now, const FieldValues& /*before*/) {
    const Named named(place);
    const std::string text = valueOf(now, "text");
    if (text == place.comment) return {};
    const std::string label = "Change the comment of " + place.object.name;
    if (!isMySql(place)) {
        DefinitionStep step = commentStep(named.word, named.name, place.object.name, text);
        step.label = label;
        return {.steps = {std::move(step)}};
    }
    const std::string_view equals = place.object.kind == ObjectKind::Table ? "= " : "";
    return {.steps = {{fmt::format("ALTER {} {} COMMENT {}{}", named.word, named.name, equals,
                                   quotedString(text, place.dialect)),
                       label}}};
}

std::vector<FormField> cascadeField(const FormPlace& place) {
    if (!isPostgres(place)) return {};
    return {{.id = "cascade", .label = "Also what hangs on it (CASCADE)", .kind = FieldKind::Tick}};
}

std::string_view cascadeIn(const FieldValues& now) { return valueOf(now, "cascade").empty() ? "" : " CASCADE"; }

DefinitionChange removeRows(const FormPlace& place, const FieldValues& now, const FieldValues& /*before*/) {
    const Named named(place);
    const std::string statement = place.dialect == Dialect::Sqlite
                                      ? "DELETE FROM " + named.name
                                      : fmt::format("TRUNCATE TABLE {}{}", named.name, cascadeIn(now));
    return {.steps = {{statement, "Remove all rows of " + place.object.name, true}}};
}

DefinitionChange dropObject(const FormPlace& place, const FieldValues& now, const FieldValues& /*before*/) {
    const Named named(place);
    return {.steps = {{fmt::format("DROP {} {}{}", named.word, named.name, cascadeIn(now)), "Drop " + place.object.name,
                       true}}};
}

}  // namespace

std::vector<FormEntry> objectForms() {
    constexpr FormGroup kGroup = FormGroup::Object;
    return {
        {"object.rename", "Rename…", "Rename %1", kGroup, false, canRename, renameFields, nothingYet, rename, renamed},
        {"object.comment", "Comment…", "Comment on %1", kGroup, false, canComment, commentFields, nothingYet, comment,
         sameObject},
        {"object.empty", "Remove all rows…", "Remove all rows of %1", kGroup, true, canEmpty, cascadeField, nothingYet,
         removeRows, sameObject},
        {"object.drop", "Drop…", "Drop %1", kGroup, true, isObject, cascadeField, nothingYet, dropObject, nothingMade},
    };
}

}  // namespace pantry::sql
