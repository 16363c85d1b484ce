#pragma once

#include <string>
#include <string_view>

#include "core/sql/syntax_tree.h"

namespace pantry::sql {

/// A short name for what a statement is about: the relation it reads (“inspection”), verb and relation for others
/// (“UPDATE treatment”), else its first words.
[[nodiscard]] std::string titleOf(std::string_view statement, const SyntaxTree& tree);

}  // namespace pantry::sql
