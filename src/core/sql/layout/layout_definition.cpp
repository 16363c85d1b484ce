#include <algorithm>
#include <utility>

#include "core/sql/layout/statement_layout.h"

namespace pantry::sql {
namespace {

/// Wider names and types do not push the rest of a table to the right.
constexpr std::size_t kWidestAligned = 32;

/// A statement that takes lines of its own inside another.
bool isStatement(NodeKind kind) {
    switch (kind) {
        case NodeKind::Query:
        case NodeKind::InsertStatement:
        case NodeKind::UpdateStatement:
        case NodeKind::DeleteStatement:
        case NodeKind::MergeStatement:
        case NodeKind::CreateTable:
        case NodeKind::CreateStatement:
        case NodeKind::CallStatement:
        case NodeKind::SetStatement:
        case NodeKind::Block:
        case NodeKind::IfStatement:
        case NodeKind::CaseStatement:
        case NodeKind::LoopStatement:
        case NodeKind::BodyStatement:
        case NodeKind::UtilityStatement:
        case NodeKind::TruncateStatement:
        case NodeKind::DropStatement: return true;
        default: return false;
    }
}

}  // namespace

/// Below each other: WITH and what it serves, and statements that go to the server together.
void StatementLayout::root(std::uint32_t index) {
    bool startsLine = false;
    for (const Part& p : partsOf(index)) {
        if (startsLine) gap(Gap::HardLine);
        part(p);
        startsLine = isNode(p, NodeKind::WithClause) || isToken(p, TokenKind::Semicolon);
    }
}

/// A node on one line when it fits; else with breaks before the parts that `breaksBefore` names, indented.
void StatementLayout::folding(std::uint32_t index, const std::function<bool(const Part&)>& breaksBefore) {
    openGroup();
    layout_.indent();
    std::size_t count = 0;
    for (const Part& p : partsOf(index)) {
        if (count++ > 1 && breaksBefore(p)) gap(Gap::Line);  // the first word is not left alone
        part(p);
    }
    layout_.outdent();
    closeGroup();
}

/// CREATE TABLE: its elements a line each; AS and its query below.
void StatementLayout::createTable(std::uint32_t index) {
    bool afterQuery = false;
    for (const Part& p : partsOf(index)) {
        if (isNode(p, NodeKind::Query) || afterQuery) gap(Gap::HardLine);
        part(p);
        afterQuery = isNode(p, NodeKind::Query);
        if (isWord(p, Keyword::As)) gap(Gap::HardLine);
    }
}

/// (columns and constraints), the types in a column of their own.
void StatementLayout::tableElements(std::uint32_t index) {
    const Parts list = partsOf(index);
    const bool isSmall = list.size() <= 3;
    const ColumnStops outer = stops_;
    stops_ = options_.alignment == Alignment::None ? ColumnStops{} : stopsFor(list);
    openGroup();
    for (const Part& p : list) {
        if (isToken(p, TokenKind::CloseParen)) {
            layout_.outdent();
            gap(isSmall ? Gap::SoftLine : Gap::HardLine);
        }
        if (isToken(p, TokenKind::Comma)) {
            comma(p, Gap::HardLine);
            continue;
        }
        part(p);
        if (isToken(p, TokenKind::OpenParen)) {
            layout_.indent();
            gap(isSmall ? Gap::SoftLine : Gap::HardLine);
        }
    }
    closeGroup();
    stops_ = outer;
}

StatementLayout::ColumnStops StatementLayout::stopsFor(const Parts& elements) const {
    ColumnStops stops;
    std::size_t widestType = 0;
    bool isFirst = true;
    for (const Part& p : elements) {
        if (!isNode(p, NodeKind::ColumnDefinition)) continue;
        const std::size_t leading = options_.commas == CommaPlace::Leading && !isFirst ? 2 : 0;
        isFirst = false;
        const std::uint32_t name = tree_.childOf(p.index, NodeKind::Name);
        const std::uint32_t type = tree_.childOf(p.index, NodeKind::TypeName);
        if (name == Node::kNone || type == Node::kNone) continue;
        const auto nameWidth = flatWidth(name);
        const auto typeWidth = flatWidth(type);
        if (!nameWidth || !typeWidth) return {};  // comments between: nothing lines up
        if (*nameWidth <= kWidestAligned) stops.type = std::max(stops.type, *nameWidth + leading + 1);
        if (*typeWidth <= kWidestAligned) widestType = std::max(widestType, *typeWidth);
    }
    stops.rest = stops.type + widestType + 1;
    return stops;
}

void StatementLayout::columnDefinition(std::uint32_t index) {
    const ColumnStops stops = std::exchange(stops_, {});
    bool afterType = false;
    flushGap();
    layout_.indent();
    for (const Part& p : partsOf(index)) {
        if (isNode(p, NodeKind::TypeName) && stops.type > 0) {
            padTo(stops.type);
        } else if (afterType && stops.rest > 0) {
            padTo(stops.rest);
        } else if (beginsConstraint(p)) {
            gap(Gap::FillLine);
        }
        part(p);
        afterType = isNode(p, NodeKind::TypeName);
    }
    layout_.outdent();
    stops_ = stops;
}

/// A constraint of its own: what does not fit on the line goes on below, indented.
void StatementLayout::tableConstraint(std::uint32_t index) {
    flushGap();
    layout_.indent();
    for (const Part& p : partsOf(index)) {
        if (isNode(p, NodeKind::ReferencesClause)) gap(Gap::FillLine);
        part(p);
    }
    layout_.outdent();
}

bool StatementLayout::beginsConstraint(const Part& p) const {
    if (p.isNode) return isNode(p, NodeKind::ReferencesClause);
    switch (tokenOf(p).keyword) {
        case Keyword::Constraint:
        case Keyword::Check:
        case Keyword::Default:
        case Keyword::Comment:
        case Keyword::Generated: return gap_ == Gap::Auto && tree_.roles[p.index] == TokenRole::Keyword;
        default: return false;
    }
}

/// CREATE VIEW … AS, and the query below.
void StatementLayout::createView(std::uint32_t index) {
    bool afterQuery = false;
    for (const Part& p : partsOf(index)) {
        if (isNode(p, NodeKind::Query) || afterQuery) gap(Gap::HardLine);
        part(p);
        afterQuery = isNode(p, NodeKind::Query);
    }
}

/// CREATE FUNCTION: head, RETURNS, LANGUAGE, AS below each other unless all fits; a body in lines of its own.
void StatementLayout::createRoutine(std::uint32_t index) {
    openGroup();
    for (const Part& p : partsOf(index)) {
        if (isWord(p, Keyword::Returns) || isNode(p, NodeKind::Options)) gap(Gap::Line);
        if (p.isNode && isStatement(tree_.nodes[p.index].kind)) {
            body(p);
        } else if (isNode(p, NodeKind::Options)) {
            routineOptions(p.index);
        } else {
            part(p);
        }
    }
    closeGroup();
}

/// What a routine or trigger does: a block at the statement's own depth, anything else indented.
void StatementLayout::body(const Part& p) {
    const bool isBlock = isNode(p, NodeKind::Block);
    if (!isBlock) layout_.indent();
    gap(Gap::HardLine);
    part(p);
    if (!isBlock) layout_.outdent();
}

void StatementLayout::routineOptions(std::uint32_t index) {
    bool isFirst = true;
    for (const Part& p : partsOf(index)) {
        const bool startsLine = isWord(p, Keyword::Language) || isWord(p, Keyword::As) || isWord(p, Keyword::Set);
        if (startsLine && !isFirst) gap(Gap::Line);
        part(p);
        isFirst = false;
    }
}

void StatementLayout::createTrigger(std::uint32_t index) {
    openGroup();
    layout_.indent();
    bool isFirst = true;
    bool afterDo = false;
    for (const Part& p : partsOf(index)) {
        if (p.isNode && isStatement(tree_.nodes[p.index].kind)) {
            if (afterDo && !isNode(p, NodeKind::Block)) {
                part(p);
                continue;
            }
            layout_.outdent();
            body(p);
            layout_.indent();
            continue;
        }
        afterDo = isWord(p, Keyword::Do);
        const bool startsLine = isWord(p, Keyword::Before) || isWord(p, Keyword::After) ||
                                isWord(p, Keyword::Instead) || isWord(p, Keyword::When) ||
                                isWord(p, Keyword::Execute) || isWord(p, Keyword::Do) || isNode(p, NodeKind::Options);
        if (startsLine && !isFirst) gap(Gap::Line);
        part(p);
        isFirst = false;
    }
    layout_.outdent();
    closeGroup();
}

/// BEGIN, the statements indented, END.
void StatementLayout::block(std::uint32_t index) {
    for (const Part& p : partsOf(index)) {
        const bool isList = isNode(p, NodeKind::StatementList);
        if (isList) {
            layout_.indent();
            gap(Gap::HardLine);
        }
        if (isWord(p, Keyword::End) || isWord(p, Keyword::Elseif) || isWord(p, Keyword::Else) ||
            isWord(p, Keyword::Until)) {
            gap(Gap::HardLine);
        }
        const bool startsWhen = isWord(p, Keyword::When) && tree_.nodes[index].kind == NodeKind::CaseStatement;
        if (startsWhen) gap(Gap::HardLine);
        if (isToken(p, TokenKind::Operator)) gap(Gap::None);  // the colon of a label
        part(p);
        if (isToken(p, TokenKind::Operator)) gap(Gap::Space);
        if (isList) layout_.outdent();
    }
}

/// Statements a line each with their ;, blank lines between them kept (at most one).
void StatementLayout::statementList(std::uint32_t index) {
    bool startsLine = false;
    for (const Part& p : partsOf(index)) {
        if (startsLine) {
            if (hasBlankLineBeforeNext()) {
                flushComments();
                layout_.hardLine();
            }
            gap(Gap::HardLine);
        }
        part(p);
        startsLine = !p.isNode && tokenOf(p).endsStatement();
    }
}

/// DECLARE: a handler's block begins a line of its own.
void StatementLayout::declaration(std::uint32_t index) {
    for (const Part& p : partsOf(index)) {
        if (isNode(p, NodeKind::Block)) gap(Gap::HardLine);
        if (isNode(p, NodeKind::Query)) {
            layout_.indent();
            gap(Gap::HardLine);
            part(p);
            layout_.outdent();
            continue;
        }
        part(p);
    }
}

/// ( a; b ) of a rule.
void StatementLayout::statementGroup(std::uint32_t index) {
    bool startsLine = false;
    for (const Part& p : partsOf(index)) {
        if (isToken(p, TokenKind::CloseParen)) {
            layout_.outdent();
            startsLine = true;
        }
        if (startsLine) gap(Gap::HardLine);
        part(p);
        startsLine = !p.isNode && (tokenOf(p).endsStatement() || isToken(p, TokenKind::OpenParen));
        if (isToken(p, TokenKind::OpenParen)) layout_.indent();
    }
}

/// ALTER TABLE: one action on the line when it fits, several on a line each.
void StatementLayout::alter(std::uint32_t index) {
    const Parts list = partsOf(index);
    const auto actions = std::ranges::count_if(list, [&](const Part& p) { return isNode(p, NodeKind::AlterAction); });
    const Gap separator = actions > 1 ? Gap::HardLine : Gap::Line;
    openGroup();
    layout_.indent();
    bool isFirst = true;
    for (const Part& p : list) {
        if (isToken(p, TokenKind::Comma)) {
            comma(p, Gap::HardLine);
            continue;
        }
        if (isNode(p, NodeKind::Query)) gap(Gap::HardLine);
        if (isFirst && isNode(p, NodeKind::AlterAction)) {
            gap(separator);
            isFirst = false;
        }
        part(p);
    }
    layout_.outdent();
    closeGroup();
}

/// A statement inside another (EXPLAIN, PREPARE) begins a line.
void StatementLayout::wrapper(std::uint32_t index) {
    for (const Part& p : partsOf(index)) {
        if (p.isNode && isStatement(tree_.nodes[p.index].kind)) gap(Gap::HardLine);
        part(p);
        if (isNode(p, NodeKind::WithClause)) gap(Gap::HardLine);
    }
}

/// CREATE SCHEMA's elements begin a line each, indented.
void StatementLayout::definition(std::uint32_t index) {
    for (const Part& p : partsOf(index)) {
        const bool isElement =
            p.isNode && (isNode(p, NodeKind::SchemaElement) || isStatement(tree_.nodes[p.index].kind));
        if (!isElement) {
            part(p);
            continue;
        }
        layout_.indent();
        gap(Gap::HardLine);
        part(p);
        layout_.outdent();
    }
}

/// Words that the server knows: they fill the line.
void StatementLayout::optionWords(std::uint32_t index) {
    const NodeKind parent = tree_.nodes[tree_.nodes[index].parent].kind;
    const bool ofTable = parent == NodeKind::CreateTable;
    const bool isIndented = parent == NodeKind::CreateIndex || parent == NodeKind::CreateTrigger ||
                            parent == NodeKind::GrantStatement || parent == NodeKind::CommentStatement ||
                            parent == NodeKind::AlterAction || parent == NodeKind::DropStatement;
    if (!isIndented) layout_.indent();
    bool isFirst = true;
    for (const Part& p : partsOf(index)) {
        const bool mayBreak = !p.isNode && tree_.roles[p.index] == TokenRole::Keyword;
        const bool isPartition = ofTable && isWord(p, Keyword::Partition);
        if (isPartition) {
            layout_.outdent();
            gap(Gap::HardLine);
        } else if (mayBreak && !isFirst && gap_ == Gap::Auto) {
            gap(Gap::FillLine);
        }
        const bool isGroup = isNode(p, NodeKind::OptionGroup) && !isIndented;
        if (isGroup) layout_.outdent();
        part(p);
        if (isPartition || isGroup) layout_.indent();
        if (isToken(p, TokenKind::Comma)) gap(Gap::FillLine);
        isFirst = false;
    }
    if (!isIndented) layout_.outdent();
}

}  // namespace pantry::sql
