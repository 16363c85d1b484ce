#include <algorithm>
#include <utility>

#include "core/sql/layout/statement_layout.h"

namespace pantry::sql {
namespace {

/// Short queries may stay on one line; with more clauses than this each gets a line of its own.
constexpr std::size_t kClausesOnOneLine = 2;

/// Parentheses, columns and commas of a key with four columns.
constexpr std::size_t kKeyTokens = 9;

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

/// Whether a query that is a child of this stands by itself, rather than as part of an expression or a change.
bool holdsWholeQuery(NodeKind kind) {
    switch (kind) {
        case NodeKind::Statement:
        case NodeKind::CreateView:
        case NodeKind::CreateTable:
        case NodeKind::CreateStatement:
        case NodeKind::CreateRoutine:
        case NodeKind::CreateTrigger:
        case NodeKind::AlterStatement:
        case NodeKind::ExplainStatement:
        case NodeKind::PrepareStatement:
        case NodeKind::SetStatement:
        case NodeKind::Declaration:
        case NodeKind::StatementList:
        case NodeKind::StatementGroup: return true;
        default: return false;
    }
}

}  // namespace

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
        if (kind == NodeKind::ValuesClause && hasSeveral(c)) count += kClausesOnOneLine;
        if (count > kClausesOnOneLine) break;
    }
    return count;
}

bool StatementLayout::hasSeveral(std::uint32_t index) const {
    const std::uint32_t first = tree_.nodes[index].firstChild;
    return first != Node::kNone && tree_.nodes[first].nextSibling != Node::kNone;
}

void StatementLayout::query(std::uint32_t index) {
    if (!holdsWholeQuery(tree_.nodes[tree_.nodes[index].parent].kind)) return clauses(index);
    const Gap outer = clauseGap_;
    clauseGap_ = clauseCount(index) > kClausesOnOneLine ? Gap::HardLine : Gap::Line;
    openGroup();
    clauses(index);
    closeGroup();
    clauseGap_ = outer;
}

/// INSERT, UPDATE, DELETE: their clauses stand below each other unless they are few and fit.
void StatementLayout::change(std::uint32_t index) {
    const Gap outer = clauseGap_;
    clauseGap_ = clauseCount(index) > kClausesOnOneLine ? Gap::HardLine : Gap::Line;
    openGroup();
    bool isFirst = true;
    for (const Part& p : partsOf(index)) {
        const NodeKind kind = p.isNode ? tree_.nodes[p.index].kind : NodeKind::Error;
        const bool belongsToVerb = tree_.nodes[index].kind == NodeKind::DeleteStatement && kind == NodeKind::FromClause;
        const bool isTarget = kind == NodeKind::Join;  // UPDATE a JOIN b …: breaks by itself
        const bool startsLine =
            p.isNode && ((isClause(kind) && !belongsToVerb && !isTarget) || kind == NodeKind::Query);
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

/// A comma of a list that breaks: behind the item or before the next.
void StatementLayout::comma(const Part& p, Gap afterwards) {
    if (options_.commas == CommaPlace::Trailing || afterwards == Gap::FillLine) {
        part(p);
        return gap(afterwards);
    }
    hoistComments(p.index);
    gap(afterwards == Gap::Line ? Gap::SoftLine : afterwards);
    part(p);
    gap(Gap::Space);
}

/// SELECT, GROUP BY, ORDER BY, SET …: a list on the clause's line when it fits, else an item a line.
void StatementLayout::listClause(std::uint32_t index) {
    const Parts list = partsOf(index);
    openGroup();
    std::size_t i = 0;
    while (i < list.size() && !list[i].isNode && tokenOf(list[i]).kind == TokenKind::Word &&
           tree_.roles[list[i].index] == TokenRole::Keyword) {
        part(list[i++]);
    }
    if (i < list.size() && isNode(list[i], NodeKind::Paren) && i > 0 && tokenOf(list[i - 1]).is(Keyword::On)) {
        part(list[i++]);  // DISTINCT ON (…)
    }
    const bool isSelect = tree_.nodes[index].kind == NodeKind::SelectClause;
    const bool isFilled = isSelect && options_.selectItems == SelectItems::Filled;
    const std::size_t outerColumn = aliasColumn_;
    const bool aligns = isSelect && !isFilled && options_.alignment == Alignment::All;
    aliasColumn_ = aligns ? widestItem(list) + 1 : 0;
    layout_.indent();
    gap(Gap::Line);
    for (; i < list.size(); ++i) {
        if (isToken(list[i], TokenKind::Comma)) {
            comma(list[i], isFilled ? Gap::FillLine : Gap::Line);
        } else {
            part(list[i]);
        }
    }
    layout_.outdent();
    closeGroup();
    aliasColumn_ = outerColumn;
}

/// Columns of the widest expression that has a name to align, of those not too wide to be aligned with.
std::size_t StatementLayout::widestItem(const Parts& items) const {
    std::size_t widest = 0;
    for (const Part& p : items) {
        if (!isNode(p, NodeKind::SelectItem) || tree_.childOf(p.index, NodeKind::Alias) == Node::kNone) continue;
        const std::size_t leading = options_.commas == CommaPlace::Leading && p.index != items.front().index ? 2 : 0;
        const auto width = flatWidth(tree_.nodes[p.index].firstChild);
        if (width && *width <= options_.width / 2) widest = std::max(widest, *width + leading);
    }
    return widest;
}

/// An expression and its name; the names of a list can be aligned.
void StatementLayout::selectItem(std::uint32_t index) {
    const std::size_t column = std::exchange(aliasColumn_, 0);
    for (const Part& p : partsOf(index)) {
        if (column > 0 && isNode(p, NodeKind::Alias)) padTo(column);
        part(p);
    }
    aliasColumn_ = column;
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
    const Parts list = partsOf(index);
    part(list.front());
    const bool hasComma = std::ranges::any_of(list, [&](const Part& p) { return isToken(p, TokenKind::Comma); });
    if (!hasComma) return parts(list, 1);
    openGroup();
    layout_.indent();
    for (std::size_t i = 1; i < list.size(); ++i) {
        if (isToken(list[i], TokenKind::Comma)) {
            comma(list[i], Gap::Line);
        } else {
            part(list[i]);
        }
    }
    layout_.outdent();
    closeGroup();
}

/// Every join on a line of its own, at the depth of FROM; its condition follows on the line, or below, indented.
void StatementLayout::join(std::uint32_t index) {
    const Parts list = partsOf(index);
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
        const NodeKind kind = p.isNode ? tree_.nodes[p.index].kind : NodeKind::Error;
        const bool isBody = kind == NodeKind::Query || kind == NodeKind::InsertStatement ||
                            kind == NodeKind::UpdateStatement || kind == NodeKind::DeleteStatement ||
                            kind == NodeKind::MergeStatement;
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
    const Parts list = partsOf(index);
    const bool hasRows = std::ranges::any_of(list, [&](const Part& p) { return isToken(p, TokenKind::Comma); });
    if (!hasRows) return parts(list);
    part(list.front());
    layout_.indent();
    gap(Gap::HardLine);
    for (std::size_t i = 1; i < list.size(); ++i) {
        if (isToken(list[i], TokenKind::Comma)) {
            comma(list[i], Gap::HardLine);
        } else {
            part(list[i]);
        }
    }
    layout_.outdent();
}

/// Whether what stands between the parentheses is too small to break, or is one more parenthesis that can share
/// their lines.
bool StatementLayout::hugs(std::uint32_t index) const {
    const Node& n = tree_.nodes[index];
    if (n.firstChild == Node::kNone) return n.endToken - n.firstToken <= 3;
    if (hasSeveral(index)) return false;
    switch (tree_.nodes[n.firstChild].kind) {
        case NodeKind::Paren: return n.kind == NodeKind::Paren;
        case NodeKind::Literal:
        case NodeKind::ParameterRef: return true;
        default: return false;
    }
}

/// ( … ) or [ … ] with a list: on one line when it fits, else indented between the parentheses.
void StatementLayout::enclosed(std::uint32_t index, Gap separator) {
    if (hugs(index)) return flow(index);
    const Parts list = partsOf(index);
    const NodeKind parent =
        tree_.nodes[index].parent == Node::kNone ? NodeKind::Error : tree_.nodes[tree_.nodes[index].parent].kind;
    // The few columns of a key stay together: the line breaks before REFERENCES instead.
    const bool ofKey = parent == NodeKind::ReferencesClause || parent == NodeKind::TableConstraint;
    if (ofKey && list.size() <= kKeyTokens) return flow(index);
    if (parent == NodeKind::InList) separator = Gap::FillLine;
    openGroup();
    for (const Part& p : list) {
        const bool opens = isToken(p, TokenKind::OpenParen) || isToken(p, TokenKind::OpenBracket);
        const bool closes = isToken(p, TokenKind::CloseParen) || isToken(p, TokenKind::CloseBracket);
        if (closes) {
            layout_.outdent();
            gap(list.size() > 2 ? Gap::SoftLine : Gap::None);
        }
        if (isToken(p, TokenKind::Comma)) {
            comma(p, separator);
            continue;
        }
        part(p);
        if (opens) {
            layout_.indent();
            gap(list.size() > 2 ? Gap::SoftLine : Gap::None);
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
    const bool atStart = options_.logic == LogicPlace::LineStart;
    openGroup();
    for (const Part& p : partsOf(index)) {
        if (!p.isNode && atStart) gap(Gap::Line);
        part(p);
        if (!p.isNode && !atStart) gap(Gap::Line);
    }
    closeGroup();
}

/// Comparisons keep their sides together; sums, products and the like may break before the operator.
void StatementLayout::binary(std::uint32_t index, bool isOutermost) {
    const Parts list = partsOf(index);
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
    const Parts list = partsOf(index);
    openGroup();
    bool isFirst = true;
    for (const Part& p : list) {
        const bool startsPart = isNode(p, NodeKind::OrderByClause) || isWord(p, Keyword::Partition) ||
                                isWord(p, Keyword::Rows) || isWord(p, Keyword::Range) || isWord(p, Keyword::Groups);
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
        if (isWord(p, Keyword::Do)) afterDo = true;
        if (afterDo && (isNode(p, NodeKind::SetClause) || isNode(p, NodeKind::WhereClause))) gap(Gap::Line);
        if (isToken(p, TokenKind::Comma)) {
            comma(p, Gap::Line);
        } else {
            part(p);
        }
    }
    layout_.outdent();
    closeGroup();
}

/// MERGE: target, source, condition and each branch on a line of its own.
void StatementLayout::merge(std::uint32_t index) {
    const Gap outer = clauseGap_;
    clauseGap_ = Gap::HardLine;
    for (const Part& p : partsOf(index)) {
        if (p.isNode && !isNode(p, NodeKind::MergeTarget) && !isNode(p, NodeKind::OnCondition)) gap(Gap::HardLine);
        part(p);
    }
    clauseGap_ = outer;
}

/// WHEN MATCHED … THEN, and below it, indented, what is done.
void StatementLayout::mergeBranch(std::uint32_t index) {
    flushGap();
    layout_.indent();
    for (const Part& p : partsOf(index)) {
        if (isNode(p, NodeKind::ValuesClause)) gap(Gap::HardLine);
        part(p);
        if (isWord(p, Keyword::Then)) gap(Gap::HardLine);
    }
    layout_.outdent();
}

/// A prefix operator stands close to its operand; NOT and IS NULL forms are words with spaces.
void StatementLayout::unary(std::uint32_t index) {
    for (const Part& p : partsOf(index)) {
        part(p);
        if (isToken(p, TokenKind::Operator)) glueNext_ = true;
    }
}

}  // namespace pantry::sql
