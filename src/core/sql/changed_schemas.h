#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/sql/syntax_tree.h"

namespace pantry::sql {

/// The schemas whose objects a defining statement may have changed: those it names, and `currentSchema`, where names
/// without one are made. Nothing when it may have changed more than that: whole schemas, databases, extensions, or what
/// CASCADE reaches.
[[nodiscard]] std::optional<std::vector<std::string>> changedSchemas(std::string_view statement, const SyntaxTree& tree,
                                                                     const std::string& currentSchema);

}  // namespace pantry::sql
