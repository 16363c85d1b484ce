#pragma once

#include <string>
#include <string_view>

#include "core/sql/syntax/statement_kind.h"
#include "core/sql/text/dialect.h"

namespace pantry::sql {

class Statement;

/// What a statement would do to a database, looked at closely enough to decide whether it may run by accident.
struct StatementRisk {
    StatementEffect effect = StatementEffect::Reads;  ///< the strongest of all its parts
    bool isReckless = false;                          ///< destroys more than any condition limits
    std::string reason;                               ///< in a sentence; empty for what only reads
    std::string countQuery;  ///< counts the rows that an UPDATE or DELETE matches; empty where there is no such query
};

/// Every part counts: a DELETE within a common table, what EXPLAIN ANALYZE runs, SELECT … INTO. What a function that
/// is called does cannot be known, but for a few of the engines' own.
[[nodiscard]] StatementRisk riskOf(std::string_view statement, const Language& language);
/// Works it out; Statement::risk() keeps it.
[[nodiscard]] StatementRisk riskOf(const Statement& statement);

}  // namespace pantry::sql
