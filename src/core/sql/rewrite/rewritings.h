#pragma once

#include "core/sql/rewrite/rewrite_place.h"

namespace pantry::sql {

// The ways of changing a query, a function each; rewrite.cpp has their table.

// rewrite_columns.cpp
Result<Rewritten> unfoldStar(const RewritePlace& place);
Result<Rewritten> foldColumns(const RewritePlace& place);
Result<Rewritten> qualifyColumns(const RewritePlace& place);
Result<Rewritten> addAs(const RewritePlace& place);

// rewrite_relations.cpp
Result<Rewritten> subqueryToCommonTable(const RewritePlace& place);
Result<Rewritten> commonTableToSubquery(const RewritePlace& place);
Result<Rewritten> swapJoin(const RewritePlace& place);
Result<Rewritten> wrapInCount(const RewritePlace& place);

// rewrite_values.cpp
Result<Rewritten> literalToParameter(const RewritePlace& place);

}  // namespace pantry::sql
