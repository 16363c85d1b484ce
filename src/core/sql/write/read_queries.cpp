#include "core/sql/write/read_queries.h"

#include <fmt/format.h>

#include "core/base/text.h"

namespace pantry::sql {

std::string firstRowsOf(std::string_view table) { return fmt::format("SELECT * FROM {}", table); }

std::string anyRowOf(std::string_view table) { return fmt::format("SELECT 1 FROM {}", table); }

std::string countOf(std::string_view query) {
    std::string_view bare = base::trimmed(query);
    while (bare.ends_with(';')) bare = base::trimmed(bare.substr(0, bare.size() - 1));
    return fmt::format("SELECT count(*) FROM (\n{}\n) AS counted", bare);
}

}  // namespace pantry::sql
