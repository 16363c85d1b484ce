#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// The one table that a query reads.
struct ReadFrom {
    std::string table;           ///< as it is written, schema and quotes included
    bool hasConditions = false;  ///< something in the query may leave rows of it out
};

/// Nothing for a statement that is no query, or reads from several tables, or from none.
[[nodiscard]] std::optional<ReadFrom> readFrom(std::string_view statement, const Language& language);

/// A relation as a statement names it, without quotes.
struct NamedRelation {
    std::string schema;  ///< empty when none is written
    std::string name;
    friend bool operator==(const NamedRelation&, const NamedRelation&) = default;
};

/// All relations that a statement names, in subqueries too, in their order; those that WITH makes are among them.
[[nodiscard]] std::vector<NamedRelation> relationsNamed(std::string_view statement, const Language& language);

}  // namespace pantry::sql
