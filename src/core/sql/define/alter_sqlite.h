#pragma once

#include "core/sql/define/alter_table.h"

namespace pantry::sql {

/// alterTable() for SQLite.
[[nodiscard]] DefinitionChange alterSqlite(const TableDesign& before, const TableDesign& after,
                                           const OwnStatements& own);

}  // namespace pantry::sql
