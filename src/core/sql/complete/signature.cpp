#include "core/sql/complete/signature.h"

#include <algorithm>

#include "core/base/text.h"
#include "core/sql/complete/function_names.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

/// Parts between commas that are in no brackets.
std::vector<std::string> argumentsOf(std::string_view text) {
    std::vector<std::string> parts;
    std::string part;
    int depth = 0;
    for (const char c : text) {
        if (c == '(' || c == '[') ++depth;
        if (c == ')' || c == ']') --depth;
        if (c == ',' && depth == 0) {
            parts.emplace_back(base::trimmed(part));
            part.clear();
        } else {
            part += c;
        }
    }
    if (!base::trimmed(part).empty()) parts.emplace_back(base::trimmed(part));
    return parts;
}

std::optional<Signature> signatureOf(const std::string& name, const Language& language, const catalog::View& catalog) {
    for (const catalog::SchemaPtr& schema : catalog.catalog().schemas()) {
        for (const catalog::Object& one : schema->objects) {
            const bool isRoutine = one.kind == catalog::ObjectKind::Function ||
                                   one.kind == catalog::ObjectKind::Procedure ||
                                   one.kind == catalog::ObjectKind::Aggregate;
            if (!isRoutine || schema->isOwn || !base::equalsIgnoringCase(one.name, name)) continue;
            return Signature{.name = one.name, .arguments = argumentsOf(one.signature), .returns = one.detail};
        }
    }
    for (const FunctionFact& one : functionsOf(language.dialect)) {
        if (base::equalsIgnoringCase(one.name, name))
            return Signature{.name = std::string(one.name), .arguments = argumentsOf(one.arguments), .returns = {}};
    }
    return std::nullopt;
}

}  // namespace

std::optional<Signature> signatureAt(const Script& script, std::size_t caret, const catalog::View& catalog) {
    const std::vector<Token>& tokens = script.tokens();
    auto at = std::ranges::partition_point(tokens, [&](const Token& token) { return token.end() <= caret; });
    // Within a text or a comment nothing is called.
    const bool isWithin = at != tokens.end() && at->start < caret && (at->isComment() || at->kind == TokenKind::String);
    if (isWithin) return std::nullopt;
    std::size_t commas = 0;
    int depth = 0;
    while (at != tokens.begin()) {
        --at;
        if (at->kind == TokenKind::Terminator) return std::nullopt;
        if (at->kind == TokenKind::CloseParen) ++depth;
        if (at->kind == TokenKind::Comma && depth == 0) ++commas;
        if (at->kind != TokenKind::OpenParen || depth-- > 0) continue;
        depth = 0;
        const bool hasName =
            at != tokens.begin() && ((at - 1)->kind == TokenKind::Word || (at - 1)->kind == TokenKind::QuotedName);
        if (hasName) {
            auto found = signatureOf(unquotedName((at - 1)->textIn(script.text())), script.language(), catalog);
            if (found) {
                found->at = commas;
                return found;
            }
        }
        commas = 0;  // of the brackets around
    }
    return std::nullopt;
}

}  // namespace pantry::sql
