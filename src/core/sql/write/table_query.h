#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/catalog/catalog_view.h"
#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// How a column is compared in a condition that a server is asked.
enum class Compare { Equals, Differs, Less, AtMost, Greater, AtLeast, Contains, Begins, IsNull, IsNotNull };

struct CompareEntry {
    Compare compare;
    std::string_view label;  ///< is, is not, contains
    bool hasValue;
};
[[nodiscard]] const std::vector<CompareEntry>& compareEntries();
/// Whether such a comparison makes sense for a type.
[[nodiscard]] bool fitsType(Compare compare, std::string_view typeName);

struct ColumnCondition {
    std::string column;
    Compare compare = Compare::Equals;
    std::string value;
};

/// Which rows of a table somebody wants, and in which order.
struct TableWish {
    std::vector<ColumnCondition> conditions;  ///< all must hold
    std::string orderBy;                      ///< a column; empty for none
    bool isDescending = false;
};

/// The query for them, as a person would write it, without its terminator. Errors: InvalidInput for a value that is
/// none of its column's type, with the column's name; NotFound for a column that is not there.
[[nodiscard]] Result<std::string> tableQuery(const catalog::Relation& relation, const TableWish& wish,
                                             const catalog::View& view, Dialect dialect);

}  // namespace pantry::sql
