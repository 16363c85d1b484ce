#pragma once

#include <string>
#include <string_view>

/// Queries that the program asks beside what people write. Names of tables come quoted, as statements need them.
namespace pantry::sql {

/// All of a table: the reading pauses after the first page.
[[nodiscard]] std::string firstRowsOf(std::string_view table);

/// Whether there is any row in it: one, or none.
[[nodiscard]] std::string anyRowOf(std::string_view table);

/// How many rows a query has. Its terminators are left out, and a comment at its end stays one.
[[nodiscard]] std::string countOf(std::string_view query);

}  // namespace pantry::sql
