#pragma once

#include <string_view>

#include "core/catalog/catalog.h"
#include "core/sql/complete/query_names.h"

namespace pantry::sql {

/// A column that could be named, as far as its likelihood depends on it.
struct ColumnFact {
    std::string_view name;
    std::string_view type;
    bool isKey = false;     ///< of the primary key
    std::size_t place = 0;  ///< among the columns of its relation
    const catalog::Relation* relation = nullptr;
};

/// How likely a column is in a clause, beside others: what the clause is for, what the query names already, and the
/// order of the catalog. Between -60 and 60, about. Never by how long its name is.
[[nodiscard]] int columnLikelihood(const ColumnFact& column, NodeKind clause, const QueryNames& names);

}  // namespace pantry::sql
