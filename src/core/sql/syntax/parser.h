#pragma once

#include <span>
#include <string_view>

#include "core/sql/syntax/looked_for.h"
#include "core/sql/syntax/splitter.h"
#include "core/sql/syntax/syntax_tree.h"

namespace pantry::sql {

/// Parses one statement. `statement` is its text, `tokens` its tokens with offsets into the whole text, whose
/// first stands at `base`. Recursion is bounded: deeper nesting than anyone writes becomes an error node.
[[nodiscard]] SyntaxTree parseStatement(std::string_view statement, std::span<const Token> tokens, std::size_t base,
                                        StatementKind kind, Language dialect);

/// The same for a statement that is still being written, whose kind its first words tell: `lookedFor` tells what the
/// parser looked for behind it. What is nested more deeply than anybody writes tells nothing.
[[nodiscard]] SyntaxTree parseBeginning(std::string_view statement, std::span<const Token> tokens, Language dialect,
                                        LookedFor& lookedFor);

/// Parses the first statement of a text whose tokens are there already.
[[nodiscard]] SyntaxTree parseFirst(std::string_view text, std::span<const Token> tokens, Language dialect);

/// Lexes and parses a text that holds one statement (anything after its terminator is left out).
[[nodiscard]] SyntaxTree parseSingle(std::string_view text, Language dialect);

}  // namespace pantry::sql
