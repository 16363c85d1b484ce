#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/catalog/catalog_view.h"
#include "core/catalog/object_details.h"
#include "core/sql/text/dialect.h"

namespace pantry::sql {

enum class ScriptKind {
    Select,
    Insert,
    Update,
    Delete,
    Upsert,
    Create,
    CreateOrReplace,
    Alter,
    Drop,
    Comment,
    Grant,
};

/// A kind of script, as menus and the command line name it.
struct ScriptEntry {
    ScriptKind kind;
    std::string_view id;     ///< create-or-replace
    std::string_view label;  ///< CREATE OR REPLACE
    std::string_view help;   ///< what it writes, in a sentence
    bool needsDefinition;    ///< the statements that make the object, which the engine is asked for
};
[[nodiscard]] const std::vector<ScriptEntry>& scriptEntries();
[[nodiscard]] const ScriptEntry* scriptEntry(std::string_view id);
/// Whether there is such a script for a kind of object in a dialect.
[[nodiscard]] bool hasScript(ScriptKind script, catalog::ObjectKind kind, Dialect dialect);

/// An object that a script is about: a relation or another object of a catalog, which outlives the writing.
struct ScriptObject {
    const catalog::Relation* relation = nullptr;
    const catalog::Object* object = nullptr;
    std::optional<catalog::Definition> definition = {};      ///< where ScriptEntry::needsDefinition
    std::vector<catalog::RoutineParameter> parameters = {};  ///< of a routine, for its call
    bool returnsRows = false;                                ///< a function whose result is read from

    [[nodiscard]] catalog::ObjectName name() const;
};

/// For whom a script is written.
struct ScriptPlace {
    Dialect from = Dialect::Ansi;  ///< of the objects
    Dialect to = Dialect::Ansi;    ///< of the script
    catalog::View view;  ///< how the session that it is for sees the objects' catalog: whether names need a schema
};

/// A script for some objects in an order that runs: what others are built on is made first and dropped last. Values are
/// parameters (:name) with the type behind each. For another dialect types are mapped, and what could not be kept is
/// said in comments. Objects that have no such script are named in a comment. Errors: InvalidInput when none has one.
[[nodiscard]] Result<std::string> writeScript(ScriptKind kind, const std::vector<ScriptObject>& objects,
                                              const ScriptPlace& place);

}  // namespace pantry::sql
