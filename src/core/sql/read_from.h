#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "core/sql/dialect.h"

namespace pantry::sql {

/// The one table that a query reads.
struct ReadFrom {
    std::string table;           ///< as it is written, schema and quotes included
    bool hasConditions = false;  ///< something in the query may leave rows of it out
};

/// Nothing for a statement that is no query, or reads from several tables, or from none.
[[nodiscard]] std::optional<ReadFrom> readFrom(std::string_view statement, const Language& language);

}  // namespace pantry::sql
