#include <algorithm>
#include <set>

#include "core/base/text.h"
#include "core/sql/complete/completer.h"
#include "core/sql/complete/name_match.h"

namespace pantry::sql {
namespace {

/// Whether what was typed begins the text, or a word in it that is long enough to be meant.
bool isMeantBy(std::string_view typed, std::string_view text) {
    if (base::startsWithIgnoringCase(text, typed)) return true;
    constexpr std::size_t kEnoughLetters = 3;
    if (typed.size() < kEnoughLetters) return false;
    const auto isOfWord = [](char c) {
        return c == '_' || base::isAsciiDigit(c) || (base::asciiLower(c) >= 'a' && base::asciiLower(c) <= 'z');
    };
    for (std::size_t i = 1; i + typed.size() <= text.size(); ++i) {
        if (!isOfWord(text[i - 1]) && base::equalsIgnoringCase(text.substr(i, typed.size()), typed)) return true;
    }
    return false;
}

}  // namespace

void Completer::noteNearby(const Script& script, std::size_t caret) {
    constexpr std::size_t kNear = 20;           // statements to each side
    constexpr std::size_t kMostTokens = 4'000;  // a longer one is data, or a routine, and tells little
    const auto& statements = script.statements();
    const auto behind =
        std::ranges::upper_bound(statements, caret, {}, [](const ScriptStatement& s) { return s.span.start; });
    const auto at = static_cast<std::size_t>(behind - statements.begin());
    std::set<std::string> parameters;
    for (std::size_t i = at - std::min(at, kNear); i < std::min(statements.size(), at + kNear); ++i) {
        const StatementSpan& span = statements[i].span;
        const std::string_view text = std::string_view(script.text()).substr(span.start, span.length);
        const SyntaxTree& tree = *statements[i].tree;
        if (tree.tokens.size() > kMostTokens) continue;
        for (const Token& token : tree.tokens) {
            const bool isNamed = token.kind == TokenKind::Parameter && text[token.start] == ':';
            const bool isWritten = span.start + token.end() == caret;
            if (isNamed && !isWritten) parameters.emplace(token.textIn(text));
        }
        if (i + 1 != at) nearby_.noteNames(text, tree);  // its own names are looked at by themselves
    }
    parameters_.assign(parameters.begin(), parameters.end());
}

int Completer::habitOfRelation(std::string_view name) const {
    const int before = wish_.habits ? wish_.habits->worthOfRelation(name) : 0;
    return std::min(Habits::kMax, before + nearby_.worthOfRelation(name));
}

int Completer::habitOfColumn(std::string_view name) const {
    const int before = wish_.habits ? wish_.habits->worthOfColumn(name) : 0;
    return std::min(Habits::kMax, before + nearby_.worthOfColumn(name));
}

void Completer::offerStatements() {
    constexpr std::size_t kEnoughLetters = 2;
    constexpr int kMostStatements = 8;
    if (!wish_.habits || (result_.prefix.size() < kEnoughLetters && !wish_.isAsked)) return;
    int score = bonus::kStatement;
    for (const std::string& statement : wish_.habits->statements()) {
        if (!isMeantBy(result_.prefix, statement)) continue;
        result_.items.push_back({statement, CompletionKind::Statement, "ran before", score--});
        if (score <= bonus::kStatement - kMostStatements) return;
    }
}

/// WHERE and AND of a query over one relation.
void Completer::offerConditions() {
    constexpr int kMostConditions = 4;
    const Token* before = at_.back(0);
    const bool begins = before != nullptr && (before->is(Keyword::Where) || before->is(Keyword::And));
    const bool isOverOne = relations_.size() == 1 && !relations_.front().name.empty();
    if (!wish_.habits || !begins || !isOverOne || clause_ != NodeKind::WhereClause) return;
    int bonus = bonus::kCondition;
    for (const std::string& condition : wish_.habits->conditionsOn(relations_.front().name)) {
        const bool isThere = at_.statement().find(condition) != std::string_view::npos;
        if (isThere || offer(condition, CompletionKind::Condition, "used before", bonus) == nullptr) continue;
        if (--bonus <= bonus::kCondition - kMostConditions) return;
    }
}

}  // namespace pantry::sql
