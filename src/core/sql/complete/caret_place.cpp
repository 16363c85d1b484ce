#include "core/sql/complete/caret_place.h"

#include <algorithm>
#include <utility>
#include <vector>

#include "core/sql/complete/query_names.h"
#include "core/sql/syntax/parser.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

/// Whether the caret stands in a comment, a text, a number or the like, where nothing is offered.
bool isInText(const Script& script, std::size_t caret) {
    const auto& tokens = script.tokens();
    const auto after = std::ranges::lower_bound(tokens, caret, {}, &Token::start);
    if (after == tokens.begin()) return false;
    const Token& token = *std::prev(after);
    const bool isInside = caret < token.end() || (caret == token.end() && !token.isClosed) ||
                          (caret == token.end() && token.kind == TokenKind::LineComment);
    const bool isText = token.isComment() || token.kind == TokenKind::String || token.kind == TokenKind::CopyData ||
                        token.kind == TokenKind::BackslashLine || token.kind == TokenKind::Number ||
                        (token.kind == TokenKind::Parameter && script.text()[token.start] != ':');
    return isText && (isInside || (caret == token.end() && !token.isComment()));
}

bool isStructure(Keyword keyword) {
    switch (keyword) {
        case Keyword::Select:
        case Keyword::From:
        case Keyword::Where:
        case Keyword::Join:
        case Keyword::On:
        case Keyword::And:
        case Keyword::Group:
        case Keyword::Order:
        case Keyword::By:
        case Keyword::Insert:
        case Keyword::Into:
        case Keyword::Values:
        case Keyword::Update:
        case Keyword::Set:
        case Keyword::Delete:
        case Keyword::With:
        case Keyword::Create: return true;
        default: return false;
    }
}

/// The few keywords before the caret tell, those of its own statement before others; without any, what is being typed.
bool areKeywordsSmall(const Script& script, std::size_t statement, std::size_t caret, std::string_view prefix) {
    constexpr int kEnough = 9;
    const auto& tokens = script.tokens();
    int seen = 0;
    int small = 0;
    for (auto at = std::ranges::lower_bound(tokens, caret, {}, &Token::start);
         at != tokens.begin() && seen < kEnough;) {
        const Token& token = *--at;
        if (token.start < statement && seen > 0) break;
        if (token.kind != TokenKind::Word || !isStructure(token.keyword)) continue;
        ++seen;
        const char first = script.text()[token.start];
        if (first >= 'a' && first <= 'z') ++small;
    }
    if (seen > 0) return 2 * small > seen;
    return !prefix.empty() && prefix[0] >= 'a' && prefix[0] <= 'z';
}

}  // namespace

CaretPlace::CaretPlace(const Script& script, std::size_t caret) : start_(caret) {
    isOpen_ = !isInText(script, caret);
    tree_ = parseStatement({}, {}, 0, StatementKind::Other, script.language());  // between statements there is none
    if (isOpen_) locate(script, caret);
    writesSmall_ = areKeywordsSmall(script, base_, start_, prefix_);
}

/// Finds statement, prefix and the token before.
void CaretPlace::locate(const Script& script, std::size_t caret) {
    const auto& statements = script.statements();
    const auto after =
        std::ranges::upper_bound(statements, caret, {}, [](const ScriptStatement& s) { return s.span.start; });
    if (after == statements.begin()) return;
    const ScriptStatement& statement = *std::prev(after);
    const bool isPast = statement.span.isTerminated && caret >= statement.span.regionEnd;
    if (isPast) return;
    statement_ = std::string_view(script.text()).substr(statement.span.start, statement.span.length);
    tree_ = *statement.tree;
    base_ = statement.span.start;
    notePrefix(caret - statement.span.start, statement.span.start);
}

/// A name or a parameter that the caret is in or behind; a colon alone may become one.
bool CaretPlace::isWrittenName(const Token& token, std::size_t caret) const {
    if (caret > token.end()) return false;
    const std::string_view text = token.textIn(statement_);
    if (token.kind == TokenKind::Operator) return text == ":" && caret == token.end();
    return token.kind == TokenKind::Word || token.kind == TokenKind::QuotedName ||
           (token.kind == TokenKind::Parameter && text.starts_with(':'));
}

void CaretPlace::notePrefix(std::size_t caret, std::size_t base) {
    for (std::size_t i = 0; i < tree_.tokens.size(); ++i) {
        const Token& token = tree_.tokens[i];
        if (token.start >= caret) break;
        if (isWrittenName(token, caret)) {
            start_ = base + token.start;
            // A quoted name without its end takes all that follows for its own; only what was typed is replaced.
            length_ = token.isClosed ? token.length : caret - token.start;
            prefix_ = unquotedName(statement_.substr(token.start, caret - token.start));
            if (token.kind == TokenKind::QuotedName && prefix_.size() == 1 && caret == token.start + 1) prefix_.clear();
            prefixToken_ = i;
            return;
        }
        if (!token.isTrivia()) before_ = i;
    }
}

NextWords CaretPlace::nextWords() const {
    const std::size_t count = before_ ? *before_ + 1 : 0;
    std::vector<Token> tokens(tree_.tokens.begin(), tree_.tokens.begin() + static_cast<std::ptrdiff_t>(count));
    const std::size_t end = tokens.empty() ? 0 : tokens.back().end();
    return {statement_.substr(0, end), std::move(tokens), tree_.language};
}

std::optional<std::size_t> CaretPlace::placeForFrom() const {
    if (!before_) return std::nullopt;
    std::uint32_t node = tree_.nodeAt(static_cast<std::uint32_t>(*before_));
    while (node != Node::kNone && tree_.nodes[node].kind != NodeKind::SelectCore) node = tree_.nodes[node].parent;
    if (node == Node::kNone || tree_.childrenOf(node).size() != 1) return std::nullopt;
    for (std::uint32_t i = tree_.nodes[node].endToken; i-- > tree_.nodes[node].firstToken;) {
        if (!tree_.tokens[i].isTrivia()) return std::max(base_ + tree_.tokens[i].end(), start_ + length_);
    }
    return std::nullopt;
}

std::uint32_t CaretPlace::written() const {
    if (prefixToken_) return static_cast<std::uint32_t>(*prefixToken_);
    return static_cast<std::uint32_t>(isAfterDot() ? *before_ : tree_.tokens.size());
}

const Token* CaretPlace::back(std::size_t n) const {
    if (!before_) return nullptr;
    for (std::size_t i = *before_ + 1; i-- > 0;) {
        if (tree_.tokens[i].isTrivia()) continue;
        if (n-- == 0) return &tree_.tokens[i];
    }
    return nullptr;
}

Keyword CaretPlace::wordBack(std::size_t n) const {
    const Token* token = back(n);
    return token != nullptr && token->kind == TokenKind::Word ? token->keyword : Keyword::None;
}

NodeKind CaretPlace::clauseAt() const {
    for (std::uint32_t n = tree_.nodeAt(static_cast<std::uint32_t>(*before_)); n != Node::kNone;
         n = tree_.nodes[n].parent) {
        const NodeKind kind = tree_.nodes[n].kind;
        if (isClause(kind) || kind == NodeKind::LimitClause || kind == NodeKind::Arguments) return kind;
    }
    return NodeKind::Statement;
}

Place CaretPlace::place() const {
    if (!before_) return Place::StatementStart;
    const Token& last = *back(0);
    switch (last.keyword) {
        case Keyword::From:
        case Keyword::Into:
        case Keyword::Table: return Place::Relation;
        case Keyword::Update: return wordBack(1) == Keyword::For ? Place::Nothing : Place::Relation;
        case Keyword::Join:
        case Keyword::StraightJoin: return Place::JoinRelation;
        case Keyword::On: return Place::JoinCondition;
        case Keyword::As: return isInCast() ? Place::TypeName : Place::AliasName;
        case Keyword::Call: return Place::Procedure;
        case Keyword::Over: return Place::WindowName;
        case Keyword::Values: return Place::Expression;
        case Keyword::Limit:
        case Keyword::Offset: return Place::Nothing;
        case Keyword::Null:
        case Keyword::End:
        case Keyword::True:
        case Keyword::False: return Place::AfterExpression;
        case Keyword::Asc:
        case Keyword::Desc: return Place::AfterOrderItem;
        case Keyword::Set: return Place::TargetColumns;
        default: break;
    }
    const bool isCast = last.kind == TokenKind::Operator && last.textIn(statement_) == "::";
    if (isCast || namesColumn()) return Place::TypeName;
    const NodeKind clause = clauseAt();
    const bool opensList = last.kind == TokenKind::OpenParen || last.kind == TokenKind::Comma;
    if (opensList && clause == NodeKind::UsingColumns) return Place::UsingColumns;
    if (opensList && clause == NodeKind::InsertTarget) return Place::TargetColumns;
    if (last.kind == TokenKind::Comma && clause == NodeKind::SetClause) return Place::TargetColumns;
    if (last.kind == TokenKind::Comma && clause == NodeKind::FromClause) return Place::Relation;
    if (!endsValue(last)) return Place::Expression;
    if (clause == NodeKind::FromClause || clause == NodeKind::UsingColumns || clause == NodeKind::InsertTarget) {
        return Place::AfterRelation;
    }
    if (clause == NodeKind::Statement && tree_.kind != StatementKind::Select) return Place::AfterRelation;
    return clause == NodeKind::OrderByClause ? Place::AfterOrderItem : Place::AfterExpression;
}

/// CAST (… AS
bool CaretPlace::isInCast() const {
    int depth = 0;
    for (std::size_t n = 1; back(n) != nullptr; ++n) {
        const TokenKind kind = back(n)->kind;
        if (kind == TokenKind::CloseParen) ++depth;
        if (kind == TokenKind::OpenParen && depth-- == 0) return wordBack(n + 1) == Keyword::Cast;
    }
    return false;
}

/// The name of a column that is being defined, behind which its type comes.
bool CaretPlace::namesColumn() const {
    const std::uint32_t node = tree_.nodeAt(static_cast<std::uint32_t>(*before_));
    const std::uint32_t parent = tree_.nodes[node].parent;
    return tree_.nodes[node].kind == NodeKind::Name && parent != Node::kNone &&
           tree_.nodes[parent].kind == NodeKind::ColumnDefinition && tree_.nodes[parent].firstChild == node;
}

bool CaretPlace::endsValue(const Token& last) const {
    return last.kind == TokenKind::CloseParen || last.kind == TokenKind::Number || last.kind == TokenKind::String ||
           last.kind == TokenKind::Parameter || last.kind == TokenKind::QuotedName || isStarItem(last) ||
           (last.kind == TokenKind::Word && tree_.roles[*before_] != TokenRole::Keyword);
}

bool CaretPlace::isStarItem(const Token& token) const {
    return token.kind == TokenKind::Operator && token.textIn(statement_) == "*" &&
           tree_.nodes[tree_.nodeAt(static_cast<std::uint32_t>(*before_))].kind == NodeKind::Star;
}

}  // namespace pantry::sql
