#include <algorithm>
#include <array>

#include "core/base/text.h"
#include "core/sql/complete/completer.h"
#include "core/sql/complete/dialect_words.h"
#include "core/sql/complete/name_match.h"

namespace pantry::sql {
namespace {

/// How many tokens may be parsed to find out what can follow: some milliseconds while somebody writes, fewer before the
/// first letter of a word, and some tens where somebody asks.
constexpr std::size_t kTokensUnasked = 3'000;
constexpr std::size_t kTokensWhileWriting = 9'000;
constexpr std::size_t kTokensWhenAsked = 600'000;

using Phrases = std::span<const std::string_view>;

constexpr auto kStatementPhrases = std::to_array<std::string_view>(
    {"SELECT", "INSERT INTO", "UPDATE", "DELETE FROM", "WITH", "CREATE TABLE", "CREATE VIEW", "CREATE INDEX",
     "ALTER TABLE", "DROP TABLE", "EXPLAIN", "BEGIN", "COMMIT", "ROLLBACK", "VALUES"});
constexpr auto kAfterRelationPhrases = std::to_array<std::string_view>(
    {"WHERE", "JOIN", "LEFT JOIN", "INNER JOIN", "RIGHT JOIN", "FULL JOIN", "CROSS JOIN", "ON", "USING", "GROUP BY",
     "ORDER BY", "HAVING", "LIMIT", "UNION ALL", "UNION", "EXCEPT", "INTERSECT", "AS", "SET"});
constexpr auto kAfterExpressionPhrases = std::to_array<std::string_view>(
    {"FROM",    "AS",   "WHERE",    "AND",      "OR",        "IS NULL", "IS NOT NULL", "IN",   "NOT IN",
     "BETWEEN", "LIKE", "NOT LIKE", "GROUP BY", "ORDER BY",  "HAVING",  "LIMIT",       "JOIN", "LEFT JOIN",
     "THEN",    "ELSE", "END",      "WHEN",     "UNION ALL", "UNION",   "RETURNING",   "OVER"});
constexpr auto kAfterOrderPhrases =
    std::to_array<std::string_view>({"ASC", "DESC", "NULLS FIRST", "NULLS LAST", "LIMIT", "OFFSET"});
constexpr auto kExpressionPhrases = std::to_array<std::string_view>(
    {"CASE", "WHEN", "NOT", "NULL", "EXISTS", "DISTINCT", "CAST", "TRUE", "FALSE", "SELECT"});

/// What people mostly go on with, best known phrases first.
Phrases usualPhrases(Place place) {
    switch (place) {
        case Place::StatementStart: return kStatementPhrases;
        case Place::AfterRelation: return kAfterRelationPhrases;
        case Place::AfterExpression: return kAfterExpressionPhrases;
        case Place::AfterOrderItem: return kAfterOrderPhrases;
        case Place::JoinCondition:
        case Place::Expression: return kExpressionPhrases;
        default: return {};
    }
}

Keyword firstWordOf(std::string_view phrase) { return keywordOf(phrase.substr(0, phrase.find(' '))); }

std::string joined(const std::vector<Keyword>& phrase) {
    std::string text;
    for (const Keyword word : phrase) text += (text.empty() ? "" : " ") + std::string(spellingOf(word));
    return text;
}

}  // namespace

bool Completer::isKnownHere(Keyword word) const {
    return isWordOf(word, dialect_) && isWordSince(word, dialect_, version_);
}

/// The grammar has the last word: what it does not take is not offered. Where the beginning is not understood, or so
/// long that asking takes too much time, the usual phrases are offered as they are.
void Completer::offerKeywords(Place place, NextWords& next) {
    next.afford(wish_.isAsked ? kTokensWhenAsked : result_.prefix.empty() ? kTokensUnasked : kTokensWhileWriting);
    for (const std::string_view phrase : usualPhrases(place)) {
        const bool fits = nameMatch(result_.prefix, phrase) && isKnownHere(firstWordOf(phrase));
        if (fits && (!next.isUnderstood() || !next.canAfford() || next.takes(phrase)))
            offer(keyword(phrase), CompletionKind::Keyword, "", bonus::kKeyword);
    }
    if (next.isUnderstood()) offerRareKeywords(next);
}

/// All others that the grammar takes, those first that it looked for at the caret: where it looks for none in
/// particular it may still take one.
void Completer::offerRareKeywords(NextWords& next) {
    const std::string typed = base::toUpper(result_.prefix);
    for (const bool isAsked : {true, false}) {
        for (std::size_t i = 1; i < kKeywordCount && next.canAfford(); ++i) {
            const auto first = static_cast<Keyword>(i);
            if (next.lookedFor().keywords.test(i) != isAsked) continue;
            if (!spellingOf(first).starts_with(typed) || !isKnownHere(first)) continue;
            const std::vector<Keyword> phrase = next.phraseOf(first);
            if (phrase.empty()) continue;
            if (offer(keyword(joined(phrase)), CompletionKind::Keyword, "", bonus::kRareKeyword) != nullptr) ++rare_;
        }
    }
}

}  // namespace pantry::sql
