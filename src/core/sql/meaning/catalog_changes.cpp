#include "core/sql/meaning/catalog_changes.h"

#include <algorithm>
#include <iterator>
#include <optional>

#include "core/base/text.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

/// Words after which more than the objects of a schema or two may be different.
constexpr std::string_view kFarReaching[] = {"schema", "database", "extension", "role",   "user",  "owned",
                                             "import", "cascade",  "attach",    "detach", "grant", "revoke"};

/// What a statement is about when it changes relations and what hangs on them, and nothing else.
constexpr std::string_view kOfRelations[] = {"table", "view", "index", "trigger", "column"};

constexpr std::size_t kWordsOfHead = 6;  // CREATE OR REPLACE GLOBAL TEMPORARY TABLE
constexpr std::size_t kMaxNames = 500;   // with more of them reading all is no more work

using Words = std::vector<const Token*>;

bool isOneOf(std::string_view text, const auto& words) {
    return std::ranges::any_of(words, [&](std::string_view word) { return base::equalsIgnoringCase(word, text); });
}

void addOnce(std::vector<std::string>& to, std::string what) {
    if (!what.empty() && std::ranges::find(to, what) == to.end()) to.push_back(std::move(what));
}

bool isAboutRelations(std::string_view statement, const Words& words) {
    for (std::size_t i = 0; i < std::min(words.size(), kWordsOfHead); ++i) {
        if (words[i]->kind != TokenKind::Word) return false;
        if (isOneOf(words[i]->textIn(statement), kOfRelations)) return true;
    }
    return false;
}

std::vector<std::string> namesIn(std::string_view statement, const Words& words) {
    std::vector<std::string> names;
    for (const Token* word : words) {
        const bool isName = word->kind == TokenKind::Word || word->kind == TokenKind::QuotedName;
        if (!isName) continue;
        const std::string name = unquotedName(word->textIn(statement));
        if (word->kind == TokenKind::Word) addOnce(names, base::toLower(name));
        addOnce(names, name);
    }
    if (names.size() > kMaxNames) names.clear();
    return names;
}

}  // namespace

CatalogChanges catalogChanges(std::string_view statement, const SyntaxTree& tree, const std::string& currentSchema) {
    CatalogChanges changes;
    addOnce(changes.schemas, currentSchema);
    Words words;
    for (const Token& token : tree.tokens) {
        if (!token.isTrivia()) words.push_back(&token);
    }
    for (std::size_t i = 0; i < words.size(); ++i) {
        const std::string_view text = words[i]->textIn(statement);
        if (isOneOf(text, kFarReaching)) return {};
        if (i + 1 < words.size() && words[i + 1]->kind == TokenKind::Dot) addOnce(changes.schemas, unquotedName(text));
    }
    if (changes.schemas.empty()) return {};
    if (isAboutRelations(statement, words)) changes.names = namesIn(statement, words);
    return changes;
}

CatalogChanges together(const CatalogChanges& a, const CatalogChanges& b) {
    if (a.schemas.empty() || b.schemas.empty()) return {};
    CatalogChanges both = a;
    for (const std::string& schema : b.schemas) addOnce(both.schemas, schema);
    if (a.names.empty() || b.names.empty()) {
        both.names.clear();
    } else {
        for (const std::string& name : b.names) addOnce(both.names, name);
    }
    return both;
}

}  // namespace pantry::sql
