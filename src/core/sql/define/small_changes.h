#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/catalog/catalog.h"
#include "core/sql/define/alter_table.h"
#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// Changes of an object that need one field or none.
enum class SmallChange { Rename, Comment, Empty, Drop };

/// A small change as menus name it.
struct SmallChangeEntry {
    SmallChange change;
    std::string_view id;
    std::string_view label;  ///< Rename…
    bool isDestructive;
};
[[nodiscard]] const std::vector<SmallChangeEntry>& smallChangeEntries();
/// Whether the engine has such a statement for a kind of object.
[[nodiscard]] bool hasSmallChange(SmallChange change, catalog::ObjectKind kind, Dialect dialect);

/// What somebody filled in.
struct SmallChangeWish {
    std::string text;          ///< the new name, the comment
    bool isCascading = false;  ///< what hangs on it goes too
};

/// The statement, with the schema named. Nothing while a name is missing. `detail`: Object::detail, which tells a
/// domain from other types.
[[nodiscard]] DefinitionChange smallChange(SmallChange change, const catalog::ObjectName& object,
                                           std::string_view detail, const SmallChangeWish& wish, Dialect dialect);
/// Whether it can take along what hangs on the object.
[[nodiscard]] bool canCascade(SmallChange change, Dialect dialect);

}  // namespace pantry::sql
