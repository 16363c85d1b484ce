#pragma once

#include <string>
#include <string_view>

#include "core/sql/syntax/syntax_tree.h"
#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// A short name for what a statement is about: the relation it reads (“inspection”), verb and relation for others
/// (“UPDATE treatment”), else its first words.
[[nodiscard]] std::string titleOf(std::string_view statement, const SyntaxTree& tree);
/// The same from the beginning of a statement, which is all of it but for very long ones.
[[nodiscard]] std::string titleOf(std::string_view statement, const Language& language);

}  // namespace pantry::sql
