#pragma once

#include <QAccessible>

namespace pantry::app {

class RowTable;

/// Has assistive programs read every RowTable as a table with cells. Qt knows only its own kinds of tables.
void letRowTablesBeRead();

/// Tells assistive programs that another cell of a table is the current one, if the table has the focus.
void tellCurrentCell(RowTable* table, int row, int column);

}  // namespace pantry::app
