#include "core/sql/syntax/grammar.h"

namespace pantry::sql {

bool Grammar::atJoin() const {
    if (s_.atAny({Keyword::Join, Keyword::Inner, Keyword::Natural, Keyword::StraightJoin})) return true;
    if (s_.atAny({Keyword::Left, Keyword::Right, Keyword::Full, Keyword::Cross, Keyword::Outer})) {
        return s_.atAny({Keyword::Join, Keyword::Outer, Keyword::Apply}, 1);
    }
    return false;
}

/// A relation with everything joined to it.
void Grammar::relation() {
    const DepthScope depth(s_);
    const auto mark = s_.mark();
    const auto position = s_.position();
    if (tooDeep()) return;
    relationPrimary();
    std::size_t awaiting = 0;  // joins whose condition may still come: a JOIN b JOIN c ON … ON …
    while (atJoin() || (awaiting > 0 && s_.at(Keyword::On))) {
        if (s_.at(Keyword::On)) {
            if (!joinCondition()) return;
            --awaiting;
        } else {
            joinWords();
            relationPrimary();
            if (!joinCondition()) ++awaiting;
        }
        s_.close(NodeKind::Join, mark, position);
    }
}

bool Grammar::joinWords() {
    bool any = false;
    while (s_.atAny({Keyword::Natural, Keyword::Inner, Keyword::Left, Keyword::Right, Keyword::Full, Keyword::Cross,
                     Keyword::Outer})) {
        s_.take(TokenRole::Keyword);
        any = true;
    }
    if (s_.takeIf(Keyword::StraightJoin) || s_.takeIf(Keyword::Apply)) return true;
    return s_.expect(Keyword::Join) || any;
}

/// Takes ON … or USING (…); false when neither is there.
bool Grammar::joinCondition() {
    if (s_.at(Keyword::On) && !s_.atAny({Keyword::Conflict, Keyword::Duplicate}, 1)) {
        const NodeScope node(s_, NodeKind::OnCondition);
        s_.take(TokenRole::Keyword);
        expression();
        return true;
    }
    if (!s_.at(Keyword::Using)) return false;
    const NodeScope node(s_, NodeKind::UsingColumns);
    s_.take(TokenRole::Keyword);
    columnList();
    alias(false);
    return true;
}

/// At a dotted name that a parenthesis follows.
bool Grammar::isCallAhead() const {
    std::size_t n = 1;
    while (s_.at(TokenKind::Dot, n)) n += 2;
    return s_.at(TokenKind::OpenParen, n);
}

/// At parentheses around joined relations of which the first is a query: ((SELECT …) a JOIN b ON …).
bool Grammar::atRelationInParens() const {
    for (std::size_t n = 1; s_.at(TokenKind::OpenParen, n); ++n) {
        const std::size_t behind = s_.behindParen(n);
        if (s_.atEnd(behind) || s_.at(TokenKind::CloseParen, behind)) continue;
        return !s_.atAny({Keyword::Union, Keyword::Intersect, Keyword::Except, Keyword::Minus, Keyword::Order,
                          Keyword::Limit, Keyword::Offset, Keyword::Fetch, Keyword::For, Keyword::Lock},
                         behind);
    }
    return false;
}

void Grammar::relationPrimary() {
    const auto mark = s_.mark();
    const auto position = s_.position();
    s_.takeIf(Keyword::Lateral);
    if (s_.at(TokenKind::OpenParen)) {
        if (atQueryInParens() && !atRelationInParens()) {
            const NodeScope node(s_, NodeKind::DerivedTable, mark, position);
            queryPrimary();
            relationAlias();
            return;
        }
        const NodeScope node(s_, NodeKind::ParenTable, mark, position);
        s_.take();
        commaList([this] { relation(); });
        s_.expect(TokenKind::CloseParen, ")");
        relationAlias();
        return;
    }
    if (s_.at(Keyword::Rows) && s_.at(Keyword::From, 1)) return rowsFrom(mark, position);
    if (s_.at(TokenKind::Parameter) || s_.at(TokenKind::Variable)) {  // a table variable or a place to fill in
        const NodeScope node(s_, NodeKind::TableName, mark, position);
        primary();
        return relationAlias();
    }
    if (s_.takeIf(Keyword::Only) && s_.at(TokenKind::OpenParen)) {
        const NodeScope node(s_, NodeKind::ParenTable, mark, position);
        s_.take();
        relationPrimary();
        s_.expect(TokenKind::CloseParen, ")");
        return relationAlias();
    }
    const bool isTable = s_.atName() && (!isReserved(s_.keyword(), s_.dialect) || s_.at(TokenKind::OpenParen, 1) ||
                                         s_.at(TokenKind::Dot, 1) || isReservedInPart());
    if (!isTable) return s_.fail("a table");
    NodeScope node(s_, NodeKind::TableName, mark, position);
    name(isCallAhead() ? TokenRole::Function : TokenRole::Relation);
    if (s_.at(TokenKind::OpenParen)) {
        node.become(NodeKind::FunctionTable);
        arguments();
        s_.takePhrase({Keyword::With, Keyword::Ordinality});
    }
    s_.takeIfOperator("*");
    relationSuffixes();
    relationAlias();
    relationSuffixes();
}

/// Words that MySQL reserves and MariaDB does not; DUAL is the table without rows of its own.
bool Grammar::isReservedInPart() const {
    return s_.dialect == Dialect::MySql &&
           s_.atAny({Keyword::Dual, Keyword::Groups, Keyword::Rank, Keyword::System, Keyword::Function, Keyword::Empty,
                     Keyword::Lead, Keyword::Lag, Keyword::Of, Keyword::Window, Keyword::Cube, Keyword::Ntile});
}

/// ROWS FROM (f(…), g(…)) [WITH ORDINALITY]
void Grammar::rowsFrom(ParseState::Mark mark, std::size_t position) {
    const NodeScope node(s_, NodeKind::FunctionTable, mark, position);
    s_.takePhrase({Keyword::Rows, Keyword::From});
    s_.expect(TokenKind::OpenParen, "(");
    commaList([this] {
        expression();
        if (s_.takeIf(Keyword::As)) columnList();
    });
    s_.expect(TokenKind::CloseParen, ")");
    s_.takePhrase({Keyword::With, Keyword::Ordinality});
    relationAlias();
}

void Grammar::relationAlias() {
    if (s_.at(Keyword::As) && s_.at(TokenKind::OpenParen, 1)) {  // AS (a integer, b text)
        s_.take(TokenRole::Keyword);
        return columnList();
    }
    if (!s_.at(Keyword::As) && !s_.atBareAlias()) return;
    if (s_.at(Keyword::As) && s_.atAny({Keyword::Of}, 1)) return;
    alias(true);
    if (s_.at(TokenKind::OpenParen)) columnList();
}

/// Samples, partitions and index hints.
void Grammar::relationSuffixes() {
    if (s_.takeIf(Keyword::Tablesample)) {
        name();
        if (s_.at(TokenKind::OpenParen)) arguments();
        if (s_.takeIf(Keyword::Repeatable)) arguments();
    }
    if (s_.at(Keyword::For) && s_.atAny({Keyword::SystemTime}, 1)) {  // of a system-versioned table
        s_.take(TokenRole::Keyword);
        s_.take(TokenRole::Keyword);
        s_.takeAll({Keyword::All, Keyword::As, Keyword::Of, Keyword::From, Keyword::Between});
        if (s_.at(Keyword::Timestamp) && !s_.at(TokenKind::OpenParen, 1)) s_.take(TokenRole::Keyword);
        if (atExpression()) boundExpression();
        if (s_.takeIf(Keyword::To) || s_.takeIf(Keyword::And)) boundExpression();
    }
    const bool isPattern = s_.dialect == Dialect::Ansi &&
                           s_.atAny({Keyword::MatchRecognize, Keyword::Pivot, Keyword::Unpivot}) &&
                           s_.at(TokenKind::OpenParen, 1);
    if (isPattern) {  // row patterns of the standard, and what some engines turn tables with
        s_.take(TokenRole::Keyword);
        optionGroup();
    }
    const bool isHint = s_.at(Keyword::With) && s_.at(TokenKind::OpenParen, 1) && s_.dialect == Dialect::Ansi;
    const bool isIndexChoice = s_.dialect == Dialect::Sqlite && s_.at(Keyword::Indexed);
    if (isHint || (isIndexChoice && s_.at(Keyword::By, 1))) {
        s_.take(TokenRole::Keyword);
        s_.takeIf(Keyword::By);
        if (s_.at(TokenKind::OpenParen)) {
            optionGroup();
        } else if (s_.atName()) {
            s_.take();
        }
    }
    if (s_.dialect == Dialect::Sqlite) s_.takePhrase({Keyword::Not, Keyword::Indexed});
    if (s_.at(Keyword::Partition) && s_.at(TokenKind::OpenParen, 1)) {
        s_.take(TokenRole::Keyword);
        columnList();
    }
    while (s_.atAny({Keyword::Use, Keyword::Force, Keyword::Ignore}) && s_.atAny({Keyword::Index, Keyword::Key}, 1)) {
        s_.take(TokenRole::Keyword);
        s_.take(TokenRole::Keyword);
        if (s_.takeIf(Keyword::For)) {
            s_.takeAll({Keyword::Join, Keyword::Order, Keyword::Group, Keyword::By});
        }
        if (s_.at(TokenKind::OpenParen)) optionGroup();
    }
}

void Grammar::columnList() {
    const NodeScope node(s_, NodeKind::ColumnList);
    if (!s_.expect(TokenKind::OpenParen, "(")) return;
    while (!s_.atEnd() && !s_.at(TokenKind::CloseParen)) {
        if (!s_.atName()) {
            s_.fail("a column");
            s_.skipUntil([] { return false; });
            break;
        }
        s_.take(TokenRole::Column);
        if (s_.at(TokenKind::Word) && !s_.at(TokenKind::Comma)) typeName();  // AS t(a integer, b text)
        if (!s_.takeIf(TokenKind::Comma)) break;
    }
    s_.expect(TokenKind::CloseParen, ")");
}

}  // namespace pantry::sql
