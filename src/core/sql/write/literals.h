#pragma once

#include <string>

#include "core/data/store/chunk.h"
#include "core/data/store/column.h"
#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// A value of a column as a literal: numbers exactly, binary values as the dialect writes them, NULL for no value.
void appendLiteral(std::string& out, const data::Cell& cell, const data::Column& column, Dialect dialect);

}  // namespace pantry::sql
