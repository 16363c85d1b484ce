#include "core/base/text.h"
#include "core/sql/syntax/grammar.h"

namespace pantry::sql {

void Grammar::changeStatement() {
    const DepthScope depth(s_);
    if (s_.at(Keyword::Update)) return updateStatement();
    if (s_.at(Keyword::Delete)) return deleteStatement();
    if (s_.at(Keyword::Merge)) return mergeStatement();
    insertStatement();
}

void Grammar::insertStatement() {
    const NodeScope node(s_, NodeKind::InsertStatement);
    s_.take(TokenRole::Keyword);
    while (s_.atAny({Keyword::Or, Keyword::Ignore, Keyword::Replace, Keyword::Abort, Keyword::Rollback,
                     Keyword::LowPriority, Keyword::HighPriority, Keyword::Delayed}) ||
           (s_.at(TokenKind::Word) && base::equalsIgnoringCase(s_.text(), "fail"))) {
        s_.take(TokenRole::Keyword);
    }
    insertTarget();
    outputClause();
    overridingWords();
    if (s_.at(Keyword::Default) && s_.at(Keyword::Values, 1)) {
        s_.takePhrase({Keyword::Default, Keyword::Values});
    } else if (s_.at(Keyword::Set)) {
        setClause();
    } else if (s_.at(Keyword::Value) && s_.at(TokenKind::OpenParen, 1)) {
        valuesClause();  // INSERT … VALUE (…)
    } else if (atQuery()) {
        query();
    } else {
        s_.fail("VALUES or SELECT");
        s_.skipUntil([this] { return atClause() || s_.at(Keyword::On); });
        if (atQuery()) query();
    }
    if (s_.at(Keyword::As) && s_.atName(1)) {  // VALUES (…) AS new (a, b)
        alias(false);
        if (s_.at(TokenKind::OpenParen)) columnList();
    }
    while (s_.at(Keyword::On)) conflictClause();
    if (s_.at(Keyword::Returning)) returningClause();
}

void Grammar::insertTarget() {
    const NodeScope node(s_, NodeKind::InsertTarget);
    const bool mayOmitInto = s_.dialect == Dialect::MySql || s_.dialect == Dialect::Ansi;
    if (!s_.takeIf(Keyword::Into) && !mayOmitInto) s_.fail("INTO");
    if (s_.dialect == Dialect::MySql) s_.takeIf(Keyword::Table);
    if (!s_.atName()) return s_.fail("a table");
    {
        const NodeScope table(s_, NodeKind::TableName);
        name(TokenRole::Relation);
        relationSuffixes();
        alias(false);
    }
    if (s_.at(TokenKind::OpenParen) && !atQueryInParens()) insertColumns();
}

/// The columns to fill: names, which in PostgreSQL may have parts (a.b, a[1]) and in MariaDB a table before them.
void Grammar::insertColumns() {
    const NodeScope node(s_, NodeKind::ColumnList);
    s_.expect(TokenKind::OpenParen, "(");
    if (s_.takeIf(TokenKind::CloseParen)) return;
    commaList([this] {
        if (!s_.atName()) return s_.fail("a column");
        s_.take(TokenRole::Column);
        while (s_.at(TokenKind::Dot) || s_.at(TokenKind::OpenBracket)) {
            if (s_.takeIf(TokenKind::Dot)) {
                if (s_.atName()) s_.take(TokenRole::Column);
                continue;
            }
            s_.take();
            expression();
            s_.expect(TokenKind::CloseBracket, "]");
        }
    });
    if (!s_.atClose()) {
        s_.fail("a comma or )");
        s_.skipUntil([this] { return atClause(); });
    }
    s_.expect(TokenKind::CloseParen, ")");
}

/// ON CONFLICT … DO …, ON DUPLICATE KEY UPDATE …
void Grammar::conflictClause() {
    const NodeScope node(s_, NodeKind::ConflictClause);
    s_.take(TokenRole::Keyword);
    if (s_.takePhrase({Keyword::Duplicate, Keyword::Key, Keyword::Update})) {
        return commaList([this] { assignment(); });
    }
    if (!s_.expect(Keyword::Conflict)) {
        return s_.skipUntil([this] { return s_.at(Keyword::Returning); });
    }
    if (s_.at(TokenKind::OpenParen)) indexItems();
    if (s_.takePhrase({Keyword::On, Keyword::Constraint})) name();
    if (s_.at(Keyword::Where)) {
        const NodeScope where(s_, NodeKind::WhereClause);
        s_.take(TokenRole::Keyword);
        expression();
    }
    s_.expect(Keyword::Do);
    if (s_.takeIf(Keyword::Nothing)) return;
    s_.expect(Keyword::Update);
    setClause();
    if (s_.at(Keyword::Where)) whereClause();
}

void Grammar::updateStatement() {
    const NodeScope node(s_, NodeKind::UpdateStatement);
    s_.take(TokenRole::Keyword);
    while (s_.atAny({Keyword::Or, Keyword::Ignore, Keyword::Replace, Keyword::Abort, Keyword::Rollback,
                     Keyword::LowPriority}) ||
           (s_.at(TokenKind::Word) && base::equalsIgnoringCase(s_.text(), "fail"))) {
        s_.take(TokenRole::Keyword);
    }
    commaList([this] { relation(); });
    if (s_.at(Keyword::Set)) {
        setClause();
    } else {
        s_.fail("SET");
        s_.skipUntil([this] { return atClause(); });
        if (s_.at(Keyword::Set)) setClause();
    }
    outputClause();
    if (s_.at(Keyword::From)) fromClause();
    if (s_.at(Keyword::Where)) whereClause();
    if (s_.at(Keyword::Order)) orderByClause();
    while (limitClause()) {
    }
    if (s_.at(Keyword::Returning)) returningClause();
}

/// OUTPUT …, which some engines behind ODBC have where others have RETURNING.
void Grammar::outputClause() {
    if (s_.dialect != Dialect::Ansi || !s_.at(Keyword::Output)) return;
    returningClause();
    if (s_.at(Keyword::Into)) intoClause();
}

void Grammar::setClause() {
    const NodeScope node(s_, NodeKind::SetClause);
    s_.expect(Keyword::Set);
    commaList([this] { assignment(); });
    clauseEnd();
}

void Grammar::assignment() {
    const NodeScope node(s_, NodeKind::Assignment);
    if (s_.at(TokenKind::OpenParen)) {
        columnList();
    } else if (s_.atName()) {
        name();
        while (s_.at(TokenKind::OpenBracket)) {
            s_.take();
            expression();
            s_.expect(TokenKind::CloseBracket, "]");
        }
    } else {
        return s_.fail("a column to set");
    }
    if (!s_.takeIfOperator("=") && !s_.takeIfOperator(":=")) return s_.fail("=");
    expression();
}

void Grammar::deleteStatement() {
    const NodeScope node(s_, NodeKind::DeleteStatement);
    s_.take(TokenRole::Keyword);
    while (s_.atAny({Keyword::LowPriority, Keyword::Quick, Keyword::Ignore})) s_.take(TokenRole::Keyword);
    if (!s_.at(Keyword::From) && s_.dialect == Dialect::MySql && s_.atName()) {
        commaList([this] { name(TokenRole::Relation); });  // DELETE a, b FROM … of several tables
    }
    if (s_.at(Keyword::From)) {
        fromClause();
    } else {
        s_.fail("FROM");
        s_.skipUntil([this] { return atClause(); });
        if (s_.at(Keyword::From)) fromClause();
    }
    outputClause();
    if (s_.at(Keyword::Using)) {
        const NodeScope clause(s_, NodeKind::UsingClause);
        s_.take(TokenRole::Keyword);
        commaList([this] { relation(); });
    }
    if (s_.at(Keyword::Where)) whereClause();
    if (s_.at(Keyword::Order)) orderByClause();
    while (limitClause()) {
    }
    if (s_.at(Keyword::Returning)) returningClause();
}

void Grammar::mergeStatement() {
    const NodeScope node(s_, NodeKind::MergeStatement);
    s_.take(TokenRole::Keyword);
    {
        const NodeScope target(s_, NodeKind::MergeTarget);
        s_.takeIf(Keyword::Into);
        relationPrimary();
    }
    if (s_.at(Keyword::Using)) {
        const NodeScope clause(s_, NodeKind::UsingClause);
        s_.take(TokenRole::Keyword);
        relationPrimary();
    } else {
        s_.fail("USING");
        s_.skipUntil([this] { return s_.at(Keyword::On) || s_.at(Keyword::When); });
    }
    if (s_.at(Keyword::On)) {
        joinCondition();
    } else {
        s_.fail("ON");
    }
    if (!s_.at(Keyword::When)) s_.fail("WHEN");
    while (s_.at(Keyword::When)) mergeBranch();
    if (s_.at(Keyword::Returning)) returningClause();
}

/// WHEN [NOT] MATCHED [AND condition] THEN what to do
void Grammar::mergeBranch() {
    const NodeScope node(s_, NodeKind::MergeBranch);
    s_.take(TokenRole::Keyword);
    s_.takeIf(Keyword::Not);
    s_.expect(Keyword::Matched);
    if (s_.takeIf(Keyword::By) && s_.atName()) s_.take(TokenRole::Keyword);
    if (s_.takeIf(Keyword::And)) expression();
    if (!s_.expect(Keyword::Then)) return;
    if (s_.takeIf(Keyword::Delete) || s_.takePhrase({Keyword::Do, Keyword::Nothing})) return;
    if (s_.takeIf(Keyword::Update)) return setClause();
    if (!s_.expect(Keyword::Insert)) return;
    if (s_.at(TokenKind::OpenParen)) columnList();
    overridingWords();
    if (s_.takePhrase({Keyword::Default, Keyword::Values})) return;
    if (s_.at(Keyword::Values)) return valuesClause();
    s_.fail("VALUES");
}

/// OVERRIDING SYSTEM VALUE
void Grammar::overridingWords() {
    if (!s_.takeIf(Keyword::Overriding)) return;
    if (!s_.takeIf(Keyword::System)) s_.expect(Keyword::User);
    s_.expect(Keyword::Value);
}

void Grammar::returningClause() {
    const NodeScope node(s_, NodeKind::ReturningClause);
    s_.take(TokenRole::Keyword);
    commaList([this] { selectItem(); });
    clauseEnd();
}

}  // namespace pantry::sql
