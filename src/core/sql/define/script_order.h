#pragma once

#include <vector>

#include "core/sql/define/scripts.h"

namespace pantry::sql {

/// Objects so that what others are built on comes before them.
struct OrderedObjects {
    std::vector<const ScriptObject*> objects;
    bool hasCircle = false;  ///< a foreign key leads to a table that comes later
};

/// By foreign keys, and by the names that definitions say. Where they lead in a circle, and among objects that have
/// nothing to do with each other, the order is that of kinds (types, sequences, routines, tables, views) and of the
/// list. Sequences that come with a table of the list are left out.
///
/// Cost: a lexing of each definition. (Depth-first topological order; Tarjan 1976.)
[[nodiscard]] OrderedObjects inOrder(const std::vector<ScriptObject>& objects, Dialect dialect);

}  // namespace pantry::sql
