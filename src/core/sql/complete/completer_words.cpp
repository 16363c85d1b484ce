#include <fmt/format.h>

#include "core/sql/complete/completer.h"
#include "core/sql/complete/function_names.h"
#include "core/sql/text/lexer.h"
#include "core/sql/text/type_names.h"

namespace pantry::sql {

void Completer::offerFunctions() {
    if (result_.prefix.empty()) return;
    for (const FunctionFact& f : functionsOf(dialect_)) {
        CompletionItem* item = offer(std::string(f.name) + "(", CompletionKind::Function,
                                     fmt::format("({})", f.arguments), bonus::kFunction, f.name);
        if (item != nullptr) item->example = exampleOf(f.name, dialect_);
    }
}

void Completer::offerRoutines(std::initializer_list<catalog::ObjectKind> kinds) {
    for (const catalog::SchemaPtr& schema : catalog_.catalog().schemas()) {
        if (schema->isOwn) continue;
        const bool isNear = catalog_.isOnSearchPath(schema->name);
        for (const catalog::Object& one : schema->objects) {
            if (std::ranges::find(kinds, one.kind) == kinds.end()) continue;
            const std::string name = quotedName(one.name, dialect_);
            offer((isNear ? name : quotedName(schema->name, dialect_) + "." + name) + "(", CompletionKind::Function,
                  fmt::format("({}){}", one.signature, one.detail.empty() ? "" : " → " + one.detail),
                  bonus::kFunction + (isNear ? 40 : 0), one.name);
        }
    }
}

void Completer::offerTypes() {
    int bonus = bonus::kColumn;
    for (const std::string_view type : usualTypes(dialect_)) {
        offer(std::string(type), CompletionKind::Type, "type", bonus);
        bonus -= 2;
    }
    for (const catalog::SchemaPtr& schema : catalog_.catalog().schemas()) {
        for (const catalog::Object& one : schema->objects) {
            if (schema->isOwn || one.kind != catalog::ObjectKind::Type) continue;
            offer(quotedName(one.name, dialect_), CompletionKind::Type, one.detail.empty() ? "type" : one.detail,
                  bonus::kColumn + 10);
        }
    }
}

void Completer::offerWindows() {
    const SyntaxTree& tree = at_.tree();
    for (std::uint32_t i = 0; i < tree.nodes.size(); ++i) {
        if (tree.nodes[i].kind != NodeKind::WindowClause) continue;
        for (std::uint32_t t = tree.nodes[i].firstToken; t + 1 < tree.nodes[i].endToken; ++t) {
            std::uint32_t next = t + 1;
            while (next < tree.nodes[i].endToken && tree.tokens[next].isSilent()) ++next;
            const bool isName = tree.tokens[t].kind == TokenKind::Word || tree.tokens[t].kind == TokenKind::QuotedName;
            if (isName && next < tree.nodes[i].endToken && tree.tokens[next].is(Keyword::As))
                offer(std::string(tree.tokens[t].textIn(at_.statement())), CompletionKind::Alias, "window",
                      bonus::kAlias);
        }
    }
    offer("(" + keyword("PARTITION BY") + " ", CompletionKind::Keyword, "", bonus::kKeyword);
    offer("(" + keyword("ORDER BY") + " ", CompletionKind::Keyword, "", bonus::kKeyword);
}

}  // namespace pantry::sql
