#pragma once

#include <cstdint>
#include <set>
#include <string>
#include <string_view>
#include <vector>

#include "core/sql/meaning/scope.h"
#include "core/sql/syntax/syntax_tree.h"
#include "core/sql/text/text_edit.h"

namespace pantry::sql {

/// Gives the parameters of a statement their keys, one after the other: :since is since, $2 and ?2 are 2, and each ?
/// without a number is the next one.
class ParameterKeys {
public:
    [[nodiscard]] std::string next(std::string_view written);

private:
    int count_ = 0;
};

/// Whether a token is a parameter that somebody outside gives a value to. $1 and ? are not in statements that make
/// something to be called later (PREPARE, CREATE FUNCTION): they belong to that.
[[nodiscard]] bool isOpenParameter(const Token& token, std::string_view statement, StatementKind kind);

/// A parameter of a statement, with what can be told about its values from where it stands.
struct StatementParameter {
    std::string key;      ///< its name without the sign, or its number
    std::string written;  ///< :since
    std::string type;     ///< of the column that it is compared with, as the engine writes it; empty when not known
    std::string column;   ///< that column; empty when there is none
    std::string schema;   ///< of the table or view that the column is from
    std::string table;    ///< and its name
    bool isList = false;  ///< it alone stands in the brackets of IN, so that it may be several values
    std::vector<TextRange> places;  ///< in the statement
};

/// The parameters of a statement, each once, in the order in which they come.
[[nodiscard]] std::vector<StatementParameter> parametersOf(std::string_view statement, const SyntaxTree& tree,
                                                           const ScopeFinder& scope);

/// The name that a value is compared with, or assigned to; Node::kNone when it is neither.
[[nodiscard]] std::uint32_t comparedColumn(const SyntaxTree& tree, std::uint32_t value);

/// Keys of the parameters that are compared with a text that is no column: a literal, or what a function or an operator
/// makes a text of. A number in their place would be compared with it as one.
[[nodiscard]] std::set<std::string> comparedWithTexts(std::string_view statement, const SyntaxTree& tree);

/// A literal as somebody would type its value: quotes and doubled quotes taken off.
[[nodiscard]] std::string valueOfLiteral(std::string_view literal);

}  // namespace pantry::sql
