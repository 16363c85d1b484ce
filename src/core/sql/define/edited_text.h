#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/catalog/catalog.h"
#include "core/sql/define/alter_table.h"
#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// What is written and changed as a text: a view, a routine, an event, or a trigger of a table.
struct EditedObject {
    catalog::ObjectName object;  ///< or the table that the trigger is on; without a name it is a new one
    std::string trigger = {};    ///< its name; empty where it is about the object itself
    bool isNewTrigger = false;   ///< one that is not there yet, on the object

    [[nodiscard]] bool isNew() const { return object.name.empty() || isNewTrigger; }
};

/// How an edited text takes the place of what is there.
struct TextChange {
    DefinitionChange change;
    std::string remark = {};    ///< what somebody may not expect of it; may be empty
    std::string madeName = {};  ///< of the object that the text makes; empty where that is not told
};

/// What can be written as a text on an engine, beside triggers.
[[nodiscard]] const std::vector<catalog::ObjectKind>& writtenKinds(Dialect dialect);

/// A text to begin a new one with. `object`: its kind and schema, or the table of a new trigger.
[[nodiscard]] std::string textToBegin(const EditedObject& object, Dialect dialect);

/// Whether a text can only take the place of what is there when that is dropped first: SQLite has no CREATE OR REPLACE,
/// and nobody has it for materialised views and constraint triggers.
[[nodiscard]] bool needsDrop(const EditedObject& object, std::string_view text, Dialect dialect);
/// Whether dropping first is a choice: PostgreSQL refuses to replace what would have other columns or another result.
[[nodiscard]] bool canDropFirst(const EditedObject& object, Dialect dialect);

/// The statements that put `text` in the place of `before`, each with its place in the text. CREATE becomes CREATE OR
/// REPLACE where the engine has it. Statements that stand in both are left out, unless the object is dropped first.
/// Errors: InvalidInput, with the place, where the text does not begin with CREATE.
[[nodiscard]] Result<TextChange> applyText(const EditedObject& object, std::string_view text, std::string_view before,
                                           bool dropsFirst, Dialect dialect);

/// The statement of a script that makes the trigger; empty when none does.
[[nodiscard]] std::string triggerIn(std::string_view script, std::string_view trigger, Dialect dialect);

}  // namespace pantry::sql
