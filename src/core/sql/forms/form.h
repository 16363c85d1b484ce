#pragma once

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/catalog/catalog.h"
#include "core/sql/define/alter_table.h"
#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// How a field of a form is filled in.
enum class FieldKind {
    Text,
    Number,  ///< a whole number
    Choice,  ///< one of the choices, or something else that is typed
    Tick,    ///< kTicked, or nothing
    Ticks,   ///< some of the choices, in their order, with kBetweenTicks between them
    Secret,  ///< shown nowhere
};
inline constexpr std::string_view kTicked = "yes";
inline constexpr char kBetweenTicks = '\n';

/// What somebody fills in to make or change something of a server.
struct FormField {
    std::string_view id;
    std::string_view label;
    FieldKind kind = FieldKind::Text;
    bool isNeeded = false;
    std::string value = {};
    std::vector<std::string> choices = {};
    std::string choicesQuery = {};  ///< reads more choices: rows of one column
    std::string_view hint = {};     ///< what it is for, where the label does not say it
};

/// What was filled in, by the fields' ids. What has no value is empty, or not there.
using FieldValues = std::map<std::string, std::string, std::less<>>;
[[nodiscard]] std::string valueOf(const FieldValues& values, std::string_view id);
[[nodiscard]] std::vector<std::string> ticksOf(const FieldValues& values, std::string_view id);

/// What a form is opened for.
struct FormPlace {
    Dialect dialect = Dialect::Ansi;
    std::string database = {};        ///< that of the connection
    catalog::ObjectName object = {};  ///< only its schema where the form is about no object
    std::string detail = {};          ///< Object::detail, which tells a domain from other types
    std::string comment = {};         ///< of the object
};

/// What a form is about. Those of Object need one that is there.
enum class FormGroup { Object, Sequence, Schema, Database, Role, Right };

/// A form for what needs a few fields or none: names, comments, databases, schemas, sequences, roles, rights.
struct FormEntry {
    std::string_view id;     ///< sequence.new
    std::string_view label;  ///< New sequence…
    std::string_view title;  ///< Make a sequence; of an object with %1 where its name stands
    FormGroup group;
    bool isDestructive;  ///< it stands apart from the harmless ones
    /// Whether the engine has such a thing, and the place is one for it.
    bool (*isFor)(const FormPlace& place);
    std::vector<FormField> (*fields)(const FormPlace& place);
    /// A query of one row whose columns are named like fields: what they hold now. `subject`: the value of the first
    /// field, which says what the form is about. Nothing where all is new.
    std::string (*currentQuery)(const FormPlace& place, const std::string& subject);
    /// The statements. `before`: what the fields held when they were filled from currentQuery; what has not changed is
    /// not written.
    DefinitionChange (*write)(const FormPlace& place, const FieldValues& now, const FieldValues& before);
    /// The object of the catalog that is there afterwards, to be shown.
    std::optional<catalog::ObjectName> (*made)(const FormPlace& place, const FieldValues& now);
};

/// All of them, in the order of menus.
[[nodiscard]] const std::vector<FormEntry>& formEntries();
[[nodiscard]] const FormEntry* formEntry(std::string_view id);

/// What keeps the values from being written, in a sentence; empty when nothing does.
[[nodiscard]] std::string whyIncomplete(const std::vector<FormField>& fields, const FieldValues& values);

}  // namespace pantry::sql
