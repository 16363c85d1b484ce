#include "core/sql/statement_layout.h"

#include <algorithm>

#include "core/base/text.h"

namespace pantry::sql {
namespace {

/// Short queries may stay on one line; with more clauses than this each gets a line of its own.
constexpr std::size_t kClausesOnOneLine = 2;

bool isClause(NodeKind kind) {
    switch (kind) {
        case NodeKind::WithClause:
        case NodeKind::SelectClause:
        case NodeKind::IntoClause:
        case NodeKind::FromClause:
        case NodeKind::WhereClause:
        case NodeKind::GroupByClause:
        case NodeKind::HavingClause:
        case NodeKind::WindowClause:
        case NodeKind::OrderByClause:
        case NodeKind::LimitClause:
        case NodeKind::LockClause:
        case NodeKind::ReturningClause:
        case NodeKind::SetClause:
        case NodeKind::UsingClause:
        case NodeKind::ConflictClause:
        case NodeKind::ValuesClause:
        case NodeKind::Join: return true;
        default: return false;
    }
}

bool isComparisonText(std::string_view op) {
    return op == "=" || op == "<" || op == ">" || op == "<=" || op == ">=" || op == "<>" || op == "!=" || op == "==" ||
           op == "<=>";
}

}  // namespace

StatementLayout::StatementLayout(std::string_view statement, const SyntaxTree& tree, const FormatOptions& options)
    : text_(statement), tree_(tree), options_(options) {
    for (std::uint32_t i = 0; i < tree.tokens.size(); ++i) {
        if (!tree.tokens[i].isTrivia()) significant_.push_back(i);
    }
}

std::string StatementLayout::print() {
    flow(0);
    return layout_.print(options_.width, options_.indentWidth);
}

// ---- Walking ----

std::vector<StatementLayout::Part> StatementLayout::partsOf(std::uint32_t index) const {
    std::vector<Part> list;
    const Node& n = tree_.nodes[index];
    std::uint32_t token = n.firstToken;
    const auto ownUpTo = [&](std::uint32_t end) {
        for (; token < end; ++token) {
            if (!tree_.tokens[token].isTrivia()) list.push_back({false, token});
        }
    };
    for (std::uint32_t child = n.firstChild; child != Node::kNone; child = tree_.nodes[child].nextSibling) {
        ownUpTo(tree_.nodes[child].firstToken);
        list.push_back({true, child});
        token = std::max(token, tree_.nodes[child].endToken);
    }
    ownUpTo(n.endToken);
    return list;
}

void StatementLayout::part(const Part& p) {
    if (p.isNode) {
        node(p.index);
    } else {
        token(p.index);
    }
}

void StatementLayout::parts(const std::vector<Part>& list, std::size_t from) {
    for (std::size_t i = from; i < list.size(); ++i) part(list[i]);
}

void StatementLayout::flow(std::uint32_t index) { parts(partsOf(index)); }

void StatementLayout::node(std::uint32_t index) {
    switch (tree_.nodes[index].kind) {
        case NodeKind::Query: return query(index);
        case NodeKind::InsertStatement:
        case NodeKind::UpdateStatement:
        case NodeKind::DeleteStatement: return statement(index);
        case NodeKind::SelectCore:
        case NodeKind::SetOperation: return clauses(index);
        case NodeKind::SelectClause:
        case NodeKind::GroupByClause:
        case NodeKind::OrderByClause:
        case NodeKind::SetClause:
        case NodeKind::UsingClause:
        case NodeKind::WindowClause:
        case NodeKind::ReturningClause: return listClause(index);
        case NodeKind::WhereClause:
        case NodeKind::HavingClause:
        case NodeKind::OnCondition: return conditionClause(index);
        case NodeKind::FromClause: return fromClause(index);
        case NodeKind::Join: return join(index);
        case NodeKind::WithClause: return withClause(index);
        case NodeKind::CommonTable: return commonTable(index);
        case NodeKind::ValuesClause: return values(index);
        case NodeKind::Paren:
        case NodeKind::Arguments:
        case NodeKind::ArrayLiteral: return enclosed(index, Gap::Line);
        case NodeKind::ColumnList: return enclosed(index, Gap::FillLine);
        case NodeKind::ParenQuery:
        case NodeKind::Subquery:
        case NodeKind::ParenTable: return enclosedQuery(index);
        case NodeKind::LogicalChain: return logicalChain(index);
        case NodeKind::Binary: return binary(index, true);
        case NodeKind::CaseExpression: return caseExpression(index);
        case NodeKind::CaseBranch: return caseBranch(index);
        case NodeKind::WindowSpec: return windowSpec(index);
        case NodeKind::ConflictClause: return conflict(index);
        case NodeKind::Unary: return unary(index);
        default: return flow(index);
    }
}

/// Clauses of a query or change that take a line each; joins count, since each has a line too.
std::size_t StatementLayout::clauseCount(std::uint32_t index) const {
    std::size_t count = 0;
    for (std::uint32_t c = tree_.nodes[index].firstChild; c != Node::kNone; c = tree_.nodes[c].nextSibling) {
        const NodeKind kind = tree_.nodes[c].kind;
        if (isClause(kind)) ++count;
        if (kind == NodeKind::SetOperation) count += kClausesOnOneLine + 1;
        if (kind == NodeKind::SelectCore || kind == NodeKind::FromClause || kind == NodeKind::Query ||
            kind == NodeKind::Join) {
            count += clauseCount(c);
        }
        if (kind == NodeKind::ValuesClause && tree_.childrenOf(c).size() > 1) count += kClausesOnOneLine;
    }
    return count;
}

// ---- Rules ----

void StatementLayout::query(std::uint32_t index) {
    const bool isInside = tree_.nodes[index].parent != 0;
    if (isInside) return clauses(index);
    clauseGap_ = clauseCount(index) > kClausesOnOneLine ? Gap::HardLine : Gap::Line;
    openGroup();
    clauses(index);
    closeGroup();
}

/// INSERT, UPDATE, DELETE: their clauses stand below each other unless they are few and fit.
void StatementLayout::statement(std::uint32_t index) {
    const Gap outer = clauseGap_;
    clauseGap_ = clauseCount(index) > kClausesOnOneLine ? Gap::HardLine : Gap::Line;
    openGroup();
    bool isFirst = true;
    for (const Part& p : partsOf(index)) {
        const NodeKind kind = p.isNode ? tree_.nodes[p.index].kind : NodeKind::Error;
        const bool belongsToVerb = tree_.nodes[index].kind == NodeKind::DeleteStatement && kind == NodeKind::FromClause;
        const bool startsLine = p.isNode && ((isClause(kind) && !belongsToVerb) || kind == NodeKind::Query);
        if (startsLine && !isFirst) gap(clauseGap_);
        part(p);
        isFirst = false;
    }
    closeGroup();
    clauseGap_ = outer;
}

/// Each child on a line of its own, in the mode of the query at hand; words between them (UNION ALL) too.
void StatementLayout::clauses(std::uint32_t index) {
    bool isFirst = true;
    bool afterWord = false;
    for (const Part& p : partsOf(index)) {
        const bool isWord = !p.isNode;
        if (!isFirst && !(isWord && afterWord)) gap(clauseGap_);
        part(p);
        isFirst = false;
        afterWord = isWord;
    }
}

/// SELECT, GROUP BY, ORDER BY, SET …: a list on the clause's line when it fits, else an item a line.
void StatementLayout::listClause(std::uint32_t index) {
    const std::vector<Part> list = partsOf(index);
    openGroup();
    std::size_t i = 0;
    while (i < list.size() && !list[i].isNode && tokenOf(list[i]).kind == TokenKind::Word &&
           tree_.roles[list[i].index] == TokenRole::Keyword) {
        part(list[i++]);
    }
    if (i < list.size() && isNode(list[i], NodeKind::Paren) && i > 0 && tokenOf(list[i - 1]).is(Keyword::On)) {
        part(list[i++]);  // DISTINCT ON (…)
    }
    layout_.indent();
    gap(Gap::Line);
    for (; i < list.size(); ++i) {
        part(list[i]);
        if (isToken(list[i], TokenKind::Comma)) gap(Gap::Line);
    }
    layout_.outdent();
    closeGroup();
}

/// WHERE and its like; a chain of conditions is indented when it breaks.
void StatementLayout::conditionClause(std::uint32_t index) {
    if (tree_.childOf(index, NodeKind::LogicalChain) == Node::kNone) return flow(index);
    openGroup();
    layout_.indent();
    flow(index);
    layout_.outdent();
    closeGroup();
}

void StatementLayout::fromClause(std::uint32_t index) {
    const std::vector<Part> list = partsOf(index);
    part(list.front());
    const bool hasComma = std::ranges::any_of(list, [&](const Part& p) { return isToken(p, TokenKind::Comma); });
    if (!hasComma) return parts(list, 1);
    openGroup();
    layout_.indent();
    for (std::size_t i = 1; i < list.size(); ++i) {
        if (i > 1 && list[i].isNode) gap(Gap::Line);
        part(list[i]);
    }
    layout_.outdent();
    closeGroup();
}

/// Every join on a line of its own, at the depth of FROM; its condition follows on the line, or below, indented.
void StatementLayout::join(std::uint32_t index) {
    const std::vector<Part> list = partsOf(index);
    part(list.front());
    gap(clauseGap_);
    openGroup();
    for (std::size_t i = 1; i < list.size(); ++i) {
        const bool isCondition = isNode(list[i], NodeKind::OnCondition) || isNode(list[i], NodeKind::UsingColumns);
        if (isCondition) {
            layout_.indent();
            gap(Gap::Line);
        }
        part(list[i]);
        if (isCondition) layout_.outdent();
    }
    closeGroup();
}

void StatementLayout::withClause(std::uint32_t index) {
    for (const Part& p : partsOf(index)) {
        part(p);
        if (isToken(p, TokenKind::Comma)) gap(Gap::HardLine);
    }
}

void StatementLayout::commonTable(std::uint32_t index) {
    const Gap outer = clauseGap_;
    clauseGap_ = Gap::HardLine;
    for (const Part& p : partsOf(index)) {
        const bool isBody = p.isNode && tree_.nodes[p.index].kind != NodeKind::ColumnList;
        if (isBody) {
            layout_.indent();
            gap(Gap::HardLine);
        }
        part(p);
        if (isBody) {
            layout_.outdent();
            gap(Gap::HardLine);
        }
    }
    clauseGap_ = outer;
}

void StatementLayout::values(std::uint32_t index) {
    const std::vector<Part> list = partsOf(index);
    const bool hasRows = std::ranges::any_of(list, [&](const Part& p) { return isToken(p, TokenKind::Comma); });
    if (!hasRows) return parts(list);
    part(list.front());
    layout_.indent();
    gap(Gap::HardLine);
    for (std::size_t i = 1; i < list.size(); ++i) {
        part(list[i]);
        if (isToken(list[i], TokenKind::Comma)) gap(Gap::HardLine);
    }
    layout_.outdent();
}

/// ( … ) or [ … ] with a list: on one line when it fits, else indented between the parentheses.
void StatementLayout::enclosed(std::uint32_t index, Gap separator) {
    const std::vector<Part> list = partsOf(index);
    const NodeKind parent =
        tree_.nodes[index].parent == Node::kNone ? NodeKind::Error : tree_.nodes[tree_.nodes[index].parent].kind;
    if (parent == NodeKind::InList) separator = Gap::FillLine;
    openGroup();
    for (const Part& p : list) {
        const bool opens = isToken(p, TokenKind::OpenParen) || isToken(p, TokenKind::OpenBracket);
        const bool closes = isToken(p, TokenKind::CloseParen) || isToken(p, TokenKind::CloseBracket);
        if (closes) {
            layout_.outdent();
            gap(list.size() > 2 ? Gap::SoftLine : Gap::None);
        }
        part(p);
        if (opens) {
            layout_.indent();
            gap(list.size() > 2 ? Gap::SoftLine : Gap::None);
        } else if (isToken(p, TokenKind::Comma)) {
            gap(separator);
        }
    }
    closeGroup();
}

void StatementLayout::enclosedQuery(std::uint32_t index) {
    const Gap outer = clauseGap_;
    clauseGap_ = Gap::Line;
    enclosed(index, Gap::Line);
    clauseGap_ = outer;
}

void StatementLayout::logicalChain(std::uint32_t index) {
    openGroup();
    for (const Part& p : partsOf(index)) {
        if (!p.isNode) gap(Gap::Line);
        part(p);
    }
    closeGroup();
}

/// Comparisons keep their sides together; sums, products and the like may break before the operator.
void StatementLayout::binary(std::uint32_t index, bool isOutermost) {
    const std::vector<Part> list = partsOf(index);
    const auto mayBreakBefore = [&](const Part& p) {
        return isToken(p, TokenKind::Operator) && !isComparisonText(tokenOf(p).textIn(text_)) && &p != &list.front();
    };
    const bool breaks = std::ranges::any_of(list, mayBreakBefore);
    if (!breaks) return parts(list);
    if (isOutermost) {
        openGroup();
        layout_.indent();
    }
    for (const Part& p : list) {
        if (mayBreakBefore(p)) gap(Gap::Line);
        if (&p == &list.front() && isNode(p, NodeKind::Binary)) {
            binary(p.index, false);
        } else {
            part(p);
        }
    }
    if (isOutermost) {
        layout_.outdent();
        closeGroup();
    }
}

void StatementLayout::caseExpression(std::uint32_t index) {
    openGroup();
    layout_.indent();
    for (const Part& p : partsOf(index)) {
        if (isNode(p, NodeKind::CaseBranch)) gap(Gap::Line);
        if (!p.isNode && tokenOf(p).is(Keyword::End)) {
            layout_.outdent();
            gap(Gap::Line);
        }
        part(p);
    }
    closeGroup();
}

void StatementLayout::caseBranch(std::uint32_t index) {
    openGroup();
    layout_.indent();
    for (const Part& p : partsOf(index)) {
        if (!p.isNode && tokenOf(p).is(Keyword::Then)) gap(Gap::Line);
        part(p);
    }
    layout_.outdent();
    closeGroup();
}

void StatementLayout::windowSpec(std::uint32_t index) {
    const std::vector<Part> list = partsOf(index);
    openGroup();
    bool isFirst = true;
    for (const Part& p : list) {
        const bool startsPart = isNode(p, NodeKind::OrderByClause) ||
                                (!p.isNode && (tokenOf(p).is(Keyword::Partition) || tokenOf(p).is(Keyword::Rows) ||
                                               tokenOf(p).is(Keyword::Range) || tokenOf(p).is(Keyword::Groups)));
        if (isToken(p, TokenKind::CloseParen)) {
            layout_.outdent();
            gap(list.size() > 2 ? Gap::SoftLine : Gap::None);
        } else if (startsPart && !isFirst) {
            gap(Gap::Line);
        }
        part(p);
        isFirst = false;
        if (isToken(p, TokenKind::OpenParen)) {
            layout_.indent();
            gap(list.size() > 2 ? Gap::SoftLine : Gap::None);
            isFirst = true;
        }
    }
    closeGroup();
}

void StatementLayout::conflict(std::uint32_t index) {
    openGroup();
    layout_.indent();
    bool afterDo = false;
    for (const Part& p : partsOf(index)) {
        if (!p.isNode && tokenOf(p).is(Keyword::Do)) afterDo = true;
        if (afterDo && (isNode(p, NodeKind::SetClause) || isNode(p, NodeKind::WhereClause))) gap(Gap::Line);
        part(p);
        if (isToken(p, TokenKind::Comma)) gap(Gap::Line);
    }
    layout_.outdent();
    closeGroup();
}

/// A prefix operator stands close to its operand; NOT and IS NULL forms are words with spaces.
void StatementLayout::unary(std::uint32_t index) {
    for (const Part& p : partsOf(index)) {
        part(p);
        if (isToken(p, TokenKind::Operator)) glueNext_ = true;
    }
}

// ---- Emitting ----

void StatementLayout::openGroup() {
    flushGap();
    layout_.openGroup();
}

void StatementLayout::flushGap() {
    Gap g = gap_;
    gap_ = Gap::None;
    if (cursor_ == 0 || cursor_ >= significant_.size()) return;
    const std::uint32_t before = significant_[cursor_ - 1];
    const std::uint32_t after = significant_[cursor_];
    if (g == Gap::Auto) g = naturalGap(before, after);
    switch (g) {
        case Gap::Auto:
        case Gap::None: return;
        case Gap::Space: return layout_.space();
        case Gap::Line: return layout_.line();
        case Gap::SoftLine: return layout_.softLine();
        case Gap::FillLine: return layout_.fillLine();
        case Gap::HardLine: return layout_.hardLine();
    }
}

StatementLayout::Gap StatementLayout::naturalGap(std::uint32_t before, std::uint32_t after) const {
    const Token& a = tree_.tokens[before];
    const Token& b = tree_.tokens[after];
    if (a.kind == TokenKind::String && b.kind == TokenKind::String) {
        // Strings on two lines are one literal in the standard; on one line they are an error there.
        return hasLineBreak(before, after) ? Gap::HardLine : Gap::Space;
    }
    if (glueNext_ && b.kind != TokenKind::Operator && b.kind != TokenKind::Dot) return Gap::None;
    if (a.kind == TokenKind::OpenParen || a.kind == TokenKind::OpenBracket || a.kind == TokenKind::Dot)
        return Gap::None;
    switch (b.kind) {
        case TokenKind::Comma:
        case TokenKind::CloseParen:
        case TokenKind::CloseBracket:
        case TokenKind::Semicolon: return Gap::None;
        case TokenKind::Dot: return a.kind == TokenKind::Number ? Gap::Space : Gap::None;
        case TokenKind::OpenParen: {
            const TokenRole role = tree_.roles[before];
            const bool isCall = role == TokenRole::Function || role == TokenRole::Type;
            return isCall ? Gap::None : Gap::Space;
        }
        case TokenKind::OpenBracket:
            return a.kind == TokenKind::Operator || a.kind == TokenKind::Comma ? Gap::Space : Gap::None;
        default: break;
    }
    const bool isCast = a.textIn(text_) == "::" || b.textIn(text_) == "::";
    const bool inSlice = tree_.nodes[tree_.nodeAt(after)].kind == NodeKind::Subscript ||
                         tree_.nodes[tree_.nodeAt(before)].kind == NodeKind::Subscript;
    const bool isSlice = inSlice && (a.textIn(text_) == ":" || b.textIn(text_) == ":");
    return isCast || isSlice ? Gap::None : Gap::Space;
}

void StatementLayout::token(std::uint32_t index) {
    flushGap();
    leadingComments(index);
    layout_.text(spelled(index));
    ++cursor_;
    gap_ = Gap::Auto;
    glueNext_ = false;
    trailingComments(index);
}

bool StatementLayout::hasLineBreak(std::uint32_t fromToken, std::uint32_t toToken) const {
    const std::size_t from = tree_.tokens[fromToken].end();
    return text_.substr(from, tree_.tokens[toToken].start - from).find('\n') != std::string_view::npos;
}

/// Whether a comment belongs to the token before it: on its line and, for one that could as well belong to what
/// follows on that line, not right after a comma, a parenthesis or a keyword.
bool StatementLayout::isTrailing(std::uint32_t comment, std::uint32_t owner, std::uint32_t next) const {
    if (hasLineBreak(owner, comment)) return false;
    if (tree_.tokens[comment].kind == TokenKind::LineComment) return true;
    const bool endsLine = next >= tree_.tokens.size() || hasLineBreak(comment, next);
    if (endsLine) return true;
    const Token& a = tree_.tokens[owner];
    const bool leansForward =
        a.kind == TokenKind::Comma || a.kind == TokenKind::OpenParen || tree_.roles[owner] == TokenRole::Keyword;
    return !leansForward;
}

/// Where the comments end that belong to the token `owner` rather than to the one after them.
std::uint32_t StatementLayout::endOfTrailing(std::uint32_t owner) const {
    std::uint32_t next = owner + 1;
    while (next < tree_.tokens.size() && tree_.tokens[next].isTrivia()) ++next;
    std::uint32_t end = owner + 1;
    for (std::uint32_t i = owner + 1; i < next; ++i) {
        if (!tree_.tokens[i].isComment()) continue;
        if (!isTrailing(i, owner, next)) break;
        end = i + 1;
        if (tree_.tokens[i].kind == TokenKind::LineComment) break;
    }
    return end;
}

void StatementLayout::trailingComments(std::uint32_t index) {
    const std::uint32_t end = endOfTrailing(index);
    for (std::uint32_t i = index + 1; i < end; ++i) {
        if (!tree_.tokens[i].isComment()) continue;
        layout_.space();
        layout_.text(tree_.tokens[i].textIn(text_));
        if (tree_.tokens[i].kind == TokenKind::LineComment) layout_.breakAfter();
    }
}

void StatementLayout::leadingComments(std::uint32_t index) {
    std::uint32_t first = index;
    while (first > 0 && tree_.tokens[first - 1].isTrivia()) --first;
    if (first > 0) first = endOfTrailing(first - 1);
    for (std::uint32_t i = first; i < index; ++i) {
        if (!tree_.tokens[i].isComment()) continue;
        const bool endsLine = tree_.tokens[i].kind == TokenKind::LineComment || hasLineBreak(i, index);
        if (endsLine) layout_.freshLine();
        layout_.text(tree_.tokens[i].textIn(text_));
        if (endsLine) {
            layout_.breakAfter();
        } else {
            layout_.space();
        }
    }
}

std::string_view StatementLayout::spelled(std::uint32_t index) {
    const std::string_view original = tree_.tokens[index].textIn(text_);
    if (tree_.roles[index] != TokenRole::Keyword || options_.keywords == KeywordCase::Keep) return original;
    if (tree_.tokens[index].kind != TokenKind::Word) return original;
    recased_.push_back(options_.keywords == KeywordCase::Upper ? base::toUpper(original) : base::toLower(original));
    return recased_.back();
}

}  // namespace pantry::sql
