#include "core/sql/syntax/grammar.h"

namespace pantry::sql {

bool Grammar::atQuery(std::size_t n) const {
    n += s_.parensFrom(n);
    // VALUES and TABLE may be names where no row and no table follows.
    if (s_.at(Keyword::Values, n)) {
        // VALUES(column) of ON DUPLICATE KEY UPDATE is a function.
        const bool isFunction = s_.dialect == Dialect::MySql && s_.atName(n + 2) && s_.at(TokenKind::CloseParen, n + 3);
        return !isFunction && (s_.at(TokenKind::OpenParen, n + 1) || s_.at(Keyword::Row, n + 1));
    }
    if (s_.at(Keyword::Table, n)) return s_.atName(n + 1);
    return s_.atAny({Keyword::Select, Keyword::With}, n);
}

/// At a parenthesis that holds a query rather than an expression or a list of tables.
bool Grammar::atQueryInParens() const {
    const std::size_t n = 1 + s_.parensFrom(1);
    if (s_.at(Keyword::Values, n)) return n == 1 && (s_.at(TokenKind::OpenParen, n + 1) || s_.at(Keyword::Row, n + 1));
    return s_.atAny({Keyword::Select, Keyword::With, Keyword::Table}, n);
}

/// At a word that begins a clause, so that what was not understood ends here.
bool Grammar::atClause() const {
    return s_.atAny({Keyword::From, Keyword::Where, Keyword::Group, Keyword::Having, Keyword::Window, Keyword::Order,
                     Keyword::Limit, Keyword::Offset, Keyword::Fetch, Keyword::Union, Keyword::Intersect,
                     Keyword::Except, Keyword::Returning, Keyword::Set, Keyword::Values, Keyword::Select}) ||
           (s_.at(Keyword::For) &&
            s_.atAny({Keyword::Update, Keyword::Share, Keyword::No, Keyword::Key, Keyword::Read}, 1)) ||
           (s_.at(Keyword::Lock) && s_.at(Keyword::In, 1)) || s_.at(Keyword::Minus) ||
           (s_.dialect == Dialect::Ansi && s_.at(Keyword::Option) && s_.at(TokenKind::OpenParen, 1));
}

/// What a clause did not understand, up to the next one, becomes an Error node.
void Grammar::clauseEnd() {
    if (s_.atClose() || atClause()) return;
    // ON CONFLICT, INTO, DELETE … USING: their own rules follow.
    if (s_.atAny({Keyword::On, Keyword::Into, Keyword::Using})) return;
    // Ends of statements that a query or change is part of: WITH CHECK OPTION, WHEN MATCHED, a loop's DO.
    if (s_.atAny({Keyword::With, Keyword::When, Keyword::Do})) return;
    if (s_.at(Keyword::As) && s_.at(Keyword::New, 1)) return;
    if (s_.dialect == Dialect::Ansi && (s_.at(Keyword::Output) || s_.at(Keyword::For))) return;
    s_.fail("a comma, an operator or the next clause");
    s_.skipUntil([this] { return atClause(); });
}

void Grammar::query() { queryAfterWith(s_.mark(), s_.position()); }

void Grammar::queryAfterWith(ParseState::Mark mark, std::size_t position) {
    const DepthScope depth(s_);
    const NodeScope node(s_, NodeKind::Query, mark, position);
    if (tooDeep()) return;
    if (s_.at(Keyword::With)) withClause();
    queryBody();
    if (s_.at(Keyword::Order)) {
        orderByClause();
        clauseEnd();
    }
    while (limitClause()) clauseEnd();
    if (s_.dialect == Dialect::Ansi && s_.at(Keyword::For) && s_.atAny({Keyword::Xml, Keyword::Json}, 1)) options();
    while (s_.at(Keyword::For) || (s_.at(Keyword::Lock) && s_.at(Keyword::In, 1))) lockClause();
    if (s_.at(Keyword::Into)) intoClause();
    const bool isHint = s_.at(Keyword::Option) && s_.at(TokenKind::OpenParen, 1);
    if (s_.dialect == Dialect::Ansi && isHint) {
        s_.take(TokenRole::Keyword);
        optionGroup();
    }
}

void Grammar::withClause() {
    const NodeScope node(s_, NodeKind::WithClause);
    s_.expect(Keyword::With);
    s_.takeIf(Keyword::Recursive);
    commaList([this] { commonTable(); });
}

void Grammar::commonTable() {
    const NodeScope node(s_, NodeKind::CommonTable);
    if (!s_.atName()) return s_.fail("a name for the common table");
    s_.take(TokenRole::Relation);
    if (s_.at(TokenKind::OpenParen)) columnList();
    s_.expect(Keyword::As);
    if (s_.at(Keyword::Not) && s_.at(Keyword::Materialized, 1)) s_.take(TokenRole::Keyword);
    s_.takeIf(Keyword::Materialized);
    if (!s_.expect(TokenKind::OpenParen, "(")) return;
    if (s_.atAny({Keyword::Insert, Keyword::Update, Keyword::Delete, Keyword::Replace, Keyword::Merge})) {
        changeStatement();
    } else if (s_.at(Keyword::With)) {
        withStatement();  // whose main part may change rows as well
    } else {
        query();
    }
    s_.expect(TokenKind::CloseParen, ")");
    if (s_.at(Keyword::Search)) {  // SEARCH DEPTH FIRST BY a SET b
        s_.takeAll({Keyword::Search, Keyword::Depth, Keyword::Breadth, Keyword::First, Keyword::By});
        commaList([this] { name(); });
        if (s_.expect(Keyword::Set)) name();
    }
    if (s_.takeIf(Keyword::Cycle)) {  // CYCLE a SET b TO c DEFAULT d USING e, or CYCLE a RESTRICT
        commaList([this] { name(); });
        if (s_.takeIf(Keyword::Restrict)) return;
        if (s_.expect(Keyword::Set)) name();
        if (s_.takeIf(Keyword::To)) boundExpression();
        if (s_.takeIf(Keyword::Default)) boundExpression();
        if (s_.expect(Keyword::Using)) name();
    }
}

void Grammar::queryBody() {
    const auto mark = s_.mark();
    const auto position = s_.position();
    queryTerm();
    while (s_.at(Keyword::Union) || s_.at(Keyword::Except) || s_.at(Keyword::Minus)) {
        s_.take(TokenRole::Keyword);
        if (!s_.takeIf(Keyword::All)) s_.takeIf(Keyword::Distinct);
        correspondingWords();
        queryTerm();
        s_.close(NodeKind::SetOperation, mark, position);
    }
}

/// CORRESPONDING [BY (columns)] (SQL standard).
void Grammar::correspondingWords() {
    if (s_.takeIf(Keyword::Corresponding) && s_.takeIf(Keyword::By)) columnList();
}

/// INTERSECT binds more tightly than UNION and EXCEPT (SQL standard, query expression).
void Grammar::queryTerm() {
    const auto mark = s_.mark();
    const auto position = s_.position();
    queryPrimary();
    while (s_.at(Keyword::Intersect)) {
        s_.take(TokenRole::Keyword);
        if (!s_.takeIf(Keyword::All)) s_.takeIf(Keyword::Distinct);
        correspondingWords();
        queryPrimary();
        s_.close(NodeKind::SetOperation, mark, position);
    }
}

void Grammar::queryPrimary() {
    if (s_.at(TokenKind::OpenParen)) {
        const NodeScope node(s_, NodeKind::ParenQuery);
        s_.take();
        query();
        s_.expect(TokenKind::CloseParen, ")");
    } else if (s_.at(Keyword::Select)) {
        selectCore();
    } else if (s_.at(Keyword::Values)) {
        valuesClause();
    } else if (s_.at(Keyword::Table)) {
        const NodeScope node(s_, NodeKind::TableCommand);
        s_.take(TokenRole::Keyword);
        name();
    } else {
        s_.fail("SELECT");
        s_.skipUntil([this] { return s_.at(Keyword::Union) || s_.at(Keyword::Order); });
    }
}

void Grammar::selectCore() {
    const NodeScope node(s_, NodeKind::SelectCore);
    selectClause();
    if (s_.at(Keyword::Into)) intoClause();
    if (s_.at(Keyword::From)) fromClause();
    if (s_.at(Keyword::Where)) whereClause();
    if (s_.at(Keyword::Group)) groupByClause();
    if (s_.at(Keyword::Having)) havingClause();
    if (s_.at(Keyword::Window)) windowClause();
    // A clause at the wrong place keeps its grammar, so that names in it are still understood.
    while (s_.atAny({Keyword::From, Keyword::Where, Keyword::Group, Keyword::Having})) {
        s_.fail("clauses in the order FROM, WHERE, GROUP BY, HAVING");
        if (s_.at(Keyword::From)) fromClause();
        if (s_.at(Keyword::Where)) whereClause();
        if (s_.at(Keyword::Group)) groupByClause();
        if (s_.at(Keyword::Having)) havingClause();
    }
}

void Grammar::selectClause() {
    const NodeScope node(s_, NodeKind::SelectClause);
    s_.take(TokenRole::Keyword);
    while (s_.atAny({Keyword::All, Keyword::Distinct, Keyword::Distinctrow, Keyword::SqlCalcFoundRows,
                     Keyword::HighPriority, Keyword::StraightJoin, Keyword::SqlNoCache, Keyword::SqlCache,
                     Keyword::SqlSmallResult, Keyword::SqlBigResult, Keyword::SqlBufferResult})) {
        const bool isDistinct = s_.at(Keyword::Distinct);
        s_.take(TokenRole::Keyword);
        if (isDistinct && s_.at(Keyword::On) && s_.at(TokenKind::OpenParen, 1)) {
            s_.take(TokenRole::Keyword);
            parenthesized();
        }
    }
    const bool isTop = s_.at(Keyword::Top) && (s_.at(TokenKind::Number, 1) || s_.at(TokenKind::OpenParen, 1));
    if (isTop && s_.dialect == Dialect::Ansi) {
        s_.take(TokenRole::Keyword);
        primary();
        s_.takeIf(Keyword::Percent);
    }
    if (s_.atClose() || atClause()) {
        // PostgreSQL lets a SELECT without columns through; nobody means it.
        return s_.fail("what to select");
    }
    commaList([this] { selectItem(); });
    clauseEnd();
}

void Grammar::selectItem() {
    const NodeScope node(s_, NodeKind::SelectItem);
    expression();
    alias(true);
}

void Grammar::alias(bool mayOmitAs) {
    const bool hasAs = s_.at(Keyword::As);
    if (!hasAs && !(mayOmitAs && s_.atBareAlias())) return;
    const NodeScope node(s_, NodeKind::Alias);
    s_.takeIf(Keyword::As);
    if (s_.atName() || s_.at(TokenKind::String)) {
        s_.take(TokenRole::AliasName);
    } else {
        s_.fail("a name after AS");
    }
}

void Grammar::intoClause() {
    const NodeScope node(s_, NodeKind::IntoClause);
    s_.take(TokenRole::Keyword);
    while (s_.atAny({Keyword::Temporary, Keyword::Temp, Keyword::Unlogged, Keyword::Table, Keyword::Outfile,
                     Keyword::Dumpfile, Keyword::Strict})) {
        s_.take(TokenRole::Keyword);
    }
    commaList([this] { primary(); });
    if (s_.atAny({Keyword::Fields, Keyword::Columns, Keyword::Lines, Keyword::Character})) {
        options([this] { return atClause(); });
    }
    clauseEnd();
}

void Grammar::fromClause() {
    const NodeScope node(s_, NodeKind::FromClause);
    s_.take(TokenRole::Keyword);
    commaList([this] { relation(); });
    clauseEnd();
}

void Grammar::whereClause() {
    const NodeScope node(s_, NodeKind::WhereClause);
    s_.take(TokenRole::Keyword);
    if (s_.at(Keyword::Current) && s_.at(Keyword::Of, 1)) {
        s_.take(TokenRole::Keyword);
        s_.take(TokenRole::Keyword);
    }
    expression();
    clauseEnd();
}

void Grammar::groupByClause() {
    const NodeScope node(s_, NodeKind::GroupByClause);
    s_.take(TokenRole::Keyword);
    s_.expect(Keyword::By);
    if (!s_.takeIf(Keyword::All)) s_.takeIf(Keyword::Distinct);
    commaList([this] {
        if (s_.takePhrase({Keyword::Grouping, Keyword::Sets}) || s_.takeIf(Keyword::Rollup) ||
            s_.takeIf(Keyword::Cube)) {
            return parenthesized();
        }
        expression();
        if (!s_.takeIf(Keyword::Asc)) s_.takeIf(Keyword::Desc);
    });
    s_.takePhrase({Keyword::With, Keyword::Rollup});
    clauseEnd();
}

void Grammar::havingClause() {
    const NodeScope node(s_, NodeKind::HavingClause);
    s_.take(TokenRole::Keyword);
    expression();
    clauseEnd();
}

void Grammar::windowClause() {
    const NodeScope node(s_, NodeKind::WindowClause);
    s_.take(TokenRole::Keyword);
    commaList([this] {
        if (!s_.atName()) return s_.fail("a name for the window");
        s_.take(TokenRole::AliasName);
        s_.expect(Keyword::As);
        windowSpec();
    });
    clauseEnd();
}

void Grammar::valuesClause() {
    const NodeScope node(s_, NodeKind::ValuesClause);
    s_.take(TokenRole::Keyword);
    commaList([this] {
        s_.takeIf(Keyword::Row);
        if (s_.at(TokenKind::OpenParen)) {
            parenthesized();
        } else {
            s_.fail("(");
        }
    });
}

void Grammar::orderByClause() {
    const NodeScope node(s_, NodeKind::OrderByClause);
    s_.take(TokenRole::Keyword);
    s_.expect(Keyword::By);
    commaList([this] { orderItem(); });
}

void Grammar::orderItem() {
    const NodeScope node(s_, NodeKind::OrderItem);
    expression();
    if (s_.takeIf(Keyword::Using)) {
        if (!s_.takeIf(TokenKind::Operator)) s_.fail("an operator");
    } else if (!s_.takeIf(Keyword::Asc)) {
        s_.takeIf(Keyword::Desc);
    }
    if (s_.takeIf(Keyword::Nulls)) {
        if (!s_.takeIf(Keyword::First)) s_.expect(Keyword::Last);
    }
}

/// LIMIT, OFFSET and FETCH in the order they come; false when none is here.
bool Grammar::limitClause() {
    if (!s_.atAny({Keyword::Limit, Keyword::Offset, Keyword::Fetch})) return false;
    const NodeScope node(s_, NodeKind::LimitClause);
    const bool isFetch = s_.at(Keyword::Fetch);
    s_.take(TokenRole::Keyword);
    if (isFetch) {
        if (!s_.takeIf(Keyword::First)) s_.expect(Keyword::Next);
        if (!s_.atAny({Keyword::Row, Keyword::Rows})) expression();
        s_.takeIf(Keyword::Percent);
    } else if (!s_.takeIf(Keyword::All)) {
        expression();
        if (s_.takeIf(TokenKind::Comma)) expression();
    }
    if (!s_.takeIf(Keyword::Rows)) s_.takeIf(Keyword::Row);
    if (s_.takeIf(Keyword::Examined)) expression();
    if (isFetch && !s_.takeIf(Keyword::Only)) s_.takePhrase({Keyword::With, Keyword::Ties});
    return true;
}

void Grammar::lockClause() {
    const NodeScope node(s_, NodeKind::LockClause);
    while (s_.atAny({Keyword::For, Keyword::No, Keyword::Key, Keyword::Update, Keyword::Share, Keyword::Nowait,
                     Keyword::Skip, Keyword::Locked, Keyword::Lock, Keyword::In, Keyword::Mode, Keyword::Read,
                     Keyword::Only})) {
        s_.take(TokenRole::Keyword);
    }
    if (s_.takeIf(Keyword::Wait)) expression();
    if (!s_.takeIf(Keyword::Of)) return;
    commaList([this] { name(); });
    while (s_.atAny({Keyword::Nowait, Keyword::Skip, Keyword::Locked})) s_.take(TokenRole::Keyword);
}

}  // namespace pantry::sql
