#pragma once

namespace pantry::app {

/// What somebody opens the form of a table for: where the cursor stands at first.
enum class TableWish { Look, AddColumn, AddIndex, AddUnique, AddCheck, AddForeignKey };

}  // namespace pantry::app
