#include "core/sql/changed_schemas.h"

#include <algorithm>

#include "core/base/text.h"
#include "core/sql/lexer.h"

namespace pantry::sql {
namespace {

/// Words of a definition's head after which more than the objects of a schema or two may be different.
constexpr std::string_view kFarReaching[] = {"schema", "database", "extension", "role",   "user",  "owned",
                                             "import", "cascade",  "attach",    "detach", "grant", "revoke"};

}  // namespace

std::optional<std::vector<std::string>> changedSchemas(std::string_view statement, const SyntaxTree& tree,
                                                       const std::string& currentSchema) {
    std::vector<std::string> schemas;
    const auto add = [&](std::string schema) {
        if (!schema.empty() && std::ranges::find(schemas, schema) == schemas.end())
            schemas.push_back(std::move(schema));
    };
    add(currentSchema);
    std::vector<const Token*> words;
    for (const Token& token : tree.tokens) {
        if (!token.isTrivia()) words.push_back(&token);
    }
    for (std::size_t i = 0; i < words.size(); ++i) {
        const std::string_view text = words[i]->textIn(statement);
        const bool isFar = std::ranges::any_of(
            kFarReaching, [&](std::string_view word) { return base::equalsIgnoringCase(word, text); });
        if (isFar) return std::nullopt;
        if (i + 1 < words.size() && words[i + 1]->kind == TokenKind::Dot) add(unquotedName(text));
    }
    if (schemas.empty()) return std::nullopt;
    return schemas;
}

}  // namespace pantry::sql
