#include "core/sql/syntax/grammar.h"

namespace pantry::sql {

/// CREATE TABLE after its modifiers, in every dialect's shape: elements, OF, LIKE, PARTITION OF, AS query, options.
void Grammar::createTable() {
    s_.take(TokenRole::Keyword);
    existence();
    if (!s_.atName()) return s_.fail("a name for the table");
    name(TokenRole::Relation);
    if (s_.takePhrase({Keyword::Partition, Keyword::Of})) {
        partitionOf();
    } else if (s_.takeIf(Keyword::Of)) {
        name(TokenRole::Type);
        if (s_.at(TokenKind::OpenParen)) tableElements();
    } else if (s_.at(TokenKind::OpenParen) && !atQueryInParens()) {
        tableElements();
    } else if (s_.at(Keyword::Like)) {
        tableLike();
    } else if (s_.at(Keyword::Using)) {  // a virtual table of a module
        s_.take(TokenRole::Keyword);
        name(TokenRole::Function);
        if (s_.at(TokenKind::OpenParen)) optionGroup(true);
    } else if (s_.atClose()) {
        s_.fail("( or AS");
    }
    tableOptions();
    if (s_.at(Keyword::As) || atQuery()) tableAsQuery();
}

/// parent [(elements)] FOR VALUES … | DEFAULT
void Grammar::partitionOf() {
    {
        const NodeScope table(s_, NodeKind::TableName);
        name(TokenRole::Relation);
    }
    if (s_.at(TokenKind::OpenParen)) tableElements();
}

void Grammar::tableAsQuery() {
    s_.takeIf(Keyword::As);
    if (s_.at(Keyword::Execute)) return anyStatement();
    asQuery();
}

/// ENGINE = …, WITH (…), PARTITION BY … and whatever else a table can have.
void Grammar::tableOptions() {
    const auto beginsQuery = [this] {
        if (s_.at(Keyword::As) || s_.at(Keyword::Select)) return true;
        const bool mayBeQuery = s_.at(Keyword::With) || s_.at(Keyword::Values) || s_.at(TokenKind::OpenParen);
        return mayBeQuery && atQuery() &&
               (s_.at(TokenKind::OpenParen) ||
                (s_.at(Keyword::With) && s_.atAny({Keyword::As, Keyword::Recursive}, 2)) ||
                (s_.at(Keyword::With) && s_.at(Keyword::Recursive, 1)));
    };
    options(beginsQuery);
}

/// (columns and constraints)
void Grammar::tableElements() {
    const DepthScope depth(s_);
    const NodeScope node(s_, NodeKind::TableElements);
    s_.expect(TokenKind::OpenParen, "(");
    if (tooDeep() || s_.takeIf(TokenKind::CloseParen)) return;
    commaList([this] { tableElement(); });
    s_.expect(TokenKind::CloseParen, ")");
}

void Grammar::tableElement() {
    if (atTableConstraint()) {
        tableConstraint();
    } else if (s_.at(Keyword::Like)) {
        tableLike();
    } else if (s_.atName()) {
        columnDefinition();
    } else {
        s_.fail("a column or a constraint");
    }
    if (s_.atClose() || s_.at(TokenKind::Comma)) return;
    s_.fail("a comma or )");
    s_.skipUntil([this] { return s_.at(TokenKind::Comma); });
}

/// LIKE table [INCLUDING …]
void Grammar::tableLike() {
    const NodeScope node(s_, NodeKind::TableConstraint);
    s_.take(TokenRole::Keyword);
    {
        const NodeScope table(s_, NodeKind::TableName);
        name(TokenRole::Relation);
    }
    while (s_.atAny({Keyword::Including, Keyword::Excluding})) {
        s_.take(TokenRole::Keyword);
        if (s_.atName()) s_.take(TokenRole::Keyword);
    }
}

bool Grammar::atTableConstraint() const {
    switch (s_.keyword()) {
        case Keyword::Constraint: return true;
        case Keyword::Primary: return s_.at(Keyword::Key, 1);
        case Keyword::Foreign: return s_.at(Keyword::Key, 1);
        case Keyword::Check: return s_.at(TokenKind::OpenParen, 1);
        case Keyword::Exclude: return s_.at(Keyword::Using, 1) || s_.at(TokenKind::OpenParen, 1);
        case Keyword::Period: return s_.at(Keyword::For, 1);
        case Keyword::Unique: return true;
        case Keyword::Key:
        case Keyword::Index:
        case Keyword::Fulltext:
        case Keyword::Spatial: return s_.dialect == Dialect::MySql;
        default: return false;
    }
}

void Grammar::tableConstraint() {
    const NodeScope node(s_, NodeKind::TableConstraint);
    constraintName();
    switch (s_.keyword()) {
        case Keyword::Check:
            s_.take(TokenRole::Keyword);
            parenthesized();
            break;
        case Keyword::Exclude:
            s_.take(TokenRole::Keyword);
            if (s_.takeIf(Keyword::Using) && s_.atName()) s_.take();
            indexItems();
            break;
        case Keyword::Period:
            s_.take(TokenRole::Keyword);
            s_.take(TokenRole::Keyword);
            if (s_.atName()) s_.take();
            if (s_.at(TokenKind::OpenParen)) columnList();
            break;
        case Keyword::Foreign:
            s_.takePhrase({Keyword::Foreign, Keyword::Key});
            existence();
            if (s_.atName()) s_.take(TokenRole::Plain);
            if (s_.at(TokenKind::OpenParen)) columnList();
            if (s_.at(Keyword::References)) {
                referencesClause();
            } else {
                s_.fail("REFERENCES");
            }
            break;
        case Keyword::Primary:
        case Keyword::Unique:
        case Keyword::Key:
        case Keyword::Index:
        case Keyword::Fulltext:
        case Keyword::Spatial: keyConstraint(); break;
        default: s_.fail("PRIMARY KEY, UNIQUE, FOREIGN KEY or CHECK"); return;
    }
    constraintTail();
}

void Grammar::constraintName() {
    if (!s_.takeIf(Keyword::Constraint)) return;
    existence();
    const bool isUnnamed =
        s_.dialect == Dialect::MySql && s_.atAny({Keyword::Primary, Keyword::Unique, Keyword::Foreign, Keyword::Check});
    if (!isUnnamed && s_.atName()) name(TokenRole::Plain);
}

/// PRIMARY KEY (a, b), UNIQUE KEY name (a(10) DESC), …
void Grammar::keyConstraint() {
    s_.takeAll({Keyword::Primary, Keyword::Unique, Keyword::Fulltext, Keyword::Spatial});
    if (!s_.takeIf(Keyword::Key)) s_.takeIf(Keyword::Index);
    s_.takeAll({Keyword::Clustered, Keyword::Nonclustered});
    if (s_.takePhrase({Keyword::Using, Keyword::Index})) {
        if (s_.atName()) s_.take();
        return;
    }
    s_.takePhrase({Keyword::Nulls, Keyword::Not, Keyword::Distinct});
    existence();
    if (s_.atName() && !s_.at(Keyword::Using)) name(TokenRole::Plain);
    if (s_.takeIf(Keyword::Using) && s_.atName()) s_.take();
    if (s_.at(TokenKind::OpenParen)) {
        indexItems();
    } else {
        s_.fail("( with the columns");
    }
}

/// What may follow a constraint: DEFERRABLE, NOT VALID, INCLUDE (…), WITH (…), USING BTREE, COMMENT '…', WHERE (…).
void Grammar::constraintTail() {
    for (;;) {
        if (s_.at(Keyword::Where)) {
            s_.take(TokenRole::Keyword);
            expression();
        } else if (s_.at(Keyword::References)) {
            referencesClause();
        } else if (s_.at(Keyword::On) && s_.at(Keyword::Conflict, 1)) {
            s_.takePhrase({Keyword::On, Keyword::Conflict});
            if (s_.atName()) s_.take(TokenRole::Keyword);
        } else if (s_.atAny({Keyword::Include, Keyword::With}) && s_.at(TokenKind::OpenParen, 1)) {
            s_.take(TokenRole::Keyword);
            optionGroup();
        } else if (s_.atAny({Keyword::Using, Keyword::Comment, Keyword::KeyBlockSize, Keyword::Parser,
                             Keyword::Tablespace})) {
            s_.take(TokenRole::Keyword);
            if (s_.at(Keyword::Index)) s_.take(TokenRole::Keyword);
            if (s_.at(Keyword::Tablespace)) s_.take(TokenRole::Keyword);
            s_.takeIfOperator("=");
            if (!s_.atClose() && !s_.at(TokenKind::Comma)) s_.take();
        } else if (s_.atAny({Keyword::Not, Keyword::Deferrable, Keyword::Initially, Keyword::Deferred,
                             Keyword::Immediate, Keyword::Valid, Keyword::No, Keyword::Inherit, Keyword::Enforced,
                             Keyword::Visible, Keyword::Invisible, Keyword::Ignored, Keyword::With, Keyword::Enable,
                             Keyword::Disable, Keyword::Asc, Keyword::Desc, Keyword::Autoincrement})) {
            s_.take(TokenRole::Keyword);
        } else {
            return;
        }
    }
}

/// REFERENCES table [(columns)] [MATCH …] [ON DELETE …] [ON UPDATE …]
void Grammar::referencesClause() {
    const NodeScope node(s_, NodeKind::ReferencesClause);
    s_.take(TokenRole::Keyword);
    if (!s_.atName()) return s_.fail("a table");
    {
        const NodeScope table(s_, NodeKind::TableName);
        name(TokenRole::Relation);
    }
    if (s_.at(TokenKind::OpenParen)) columnList();
    for (;;) {
        if (s_.takeIf(Keyword::Match)) {
            if (s_.atName()) s_.take(TokenRole::Keyword);
        } else if (s_.at(Keyword::On) && s_.atAny({Keyword::Delete, Keyword::Update}, 1)) {
            s_.take(TokenRole::Keyword);
            s_.take(TokenRole::Keyword);
            if (s_.takeIf(Keyword::Set)) {
                if (!s_.takeIf(Keyword::Null)) s_.expect(Keyword::Default);
                if (s_.at(TokenKind::OpenParen)) columnList();
            } else if (s_.takeIf(Keyword::No)) {
                s_.expect(Keyword::Action);
            } else if (!s_.takeIf(Keyword::Cascade) && !s_.takeIf(Keyword::Restrict)) {
                return s_.fail("CASCADE, RESTRICT, SET NULL, SET DEFAULT or NO ACTION");
            }
        } else {
            return;
        }
    }
}

/// name type constraints
void Grammar::columnDefinition() {
    const NodeScope node(s_, NodeKind::ColumnDefinition);
    name();
    const bool hasType = s_.atName() && !atColumnConstraint();
    if (hasType) columnType();
    while (columnConstraint()) {
    }
}

/// A column's type; SQLite takes any words.
void Grammar::columnType() {
    if (s_.dialect != Dialect::Sqlite && s_.dialect != Dialect::Ansi) return typeName();
    const NodeScope node(s_, NodeKind::TypeName);
    while (s_.atName() && !atColumnConstraint()) {
        s_.take(TokenRole::Type);
        if (s_.at(TokenKind::Dot)) s_.take();
    }
    if (s_.at(TokenKind::OpenParen)) arguments();
    while (s_.atName() && !atColumnConstraint()) s_.take(TokenRole::Type);
}

bool Grammar::atColumnConstraint() const {
    switch (s_.keyword()) {
        case Keyword::With:
        case Keyword::Without: return !s_.at(Keyword::Time, 1);
        case Keyword::Constraint:
        case Keyword::Not:
        case Keyword::Null:
        case Keyword::Primary:
        case Keyword::Unique:
        case Keyword::Key:
        case Keyword::Check:
        case Keyword::Default:
        case Keyword::References:
        case Keyword::Collate:
        case Keyword::Generated:
        case Keyword::As:
        case Keyword::AutoIncrement:
        case Keyword::Autoincrement:
        case Keyword::On:
        case Keyword::Comment:
        case Keyword::Deferrable:
        case Keyword::Initially:
        case Keyword::Storage:
        case Keyword::Compression:
        case Keyword::Options:
        case Keyword::First:
        case Keyword::After:
        case Keyword::Using: return true;
        case Keyword::Identity: return s_.dialect == Dialect::Ansi;
        default: return false;
    }
}

/// One constraint or attribute of a column; false when none is here.
bool Grammar::columnConstraint() {
    const std::size_t before = s_.position();
    s_.takeAll({Keyword::Not,        Keyword::Null,      Keyword::Deferrable,    Keyword::Initially,
                Keyword::Deferred,   Keyword::Immediate, Keyword::AutoIncrement, Keyword::Autoincrement,
                Keyword::Enforced,   Keyword::Visible,   Keyword::Invisible,     Keyword::Valid,
                Keyword::Virtual,    Keyword::Stored,    Keyword::Persistent,    Keyword::Persisted,
                Keyword::Compressed, Keyword::Unsigned,  Keyword::Zerofill,      Keyword::Binary,
                Keyword::Ascii,      Keyword::Unicode});
    switch (s_.keyword()) {
        case Keyword::Constraint: constraintName(); break;
        case Keyword::Primary:
        case Keyword::Unique:
        case Keyword::Key:
            if (s_.takeIf(Keyword::Primary)) {
                s_.expect(Keyword::Key);
            } else {
                s_.takeIf(Keyword::Unique);
                s_.takeIf(Keyword::Key);
            }
            s_.takePhrase({Keyword::Nulls, Keyword::Not, Keyword::Distinct});
            s_.takeAll({Keyword::Asc, Keyword::Desc, Keyword::Clustered, Keyword::Nonclustered});
            if (s_.at(Keyword::Using) && s_.at(Keyword::Index, 1)) constraintTail();
            break;
        case Keyword::Check:
            s_.take(TokenRole::Keyword);
            parenthesized();
            s_.takePhrase({Keyword::No, Keyword::Inherit});
            break;
        case Keyword::Default:
            s_.take(TokenRole::Keyword);
            defaultValue();
            break;
        case Keyword::References: referencesClause(); break;
        case Keyword::Collate:
            s_.take(TokenRole::Keyword);
            name(TokenRole::Plain);
            break;
        case Keyword::Generated:
        case Keyword::As: generatedColumn(); break;
        case Keyword::On: onUpdateOrConflict(); break;
        case Keyword::Character:
        case Keyword::Charset:
            s_.take(TokenRole::Keyword);
            s_.takeIf(Keyword::Set);
            if (s_.atName()) s_.take();
            break;
        case Keyword::Comment:
        case Keyword::Storage:
        case Keyword::Compression:
        case Keyword::Columnformat:
            s_.take(TokenRole::Keyword);
            s_.takeIfOperator("=");
            if (!s_.atClose()) s_.take();
            break;
        case Keyword::Options:
        case Keyword::Identity:
            s_.take(TokenRole::Keyword);
            if (s_.at(TokenKind::OpenParen)) optionGroup();
            break;
        case Keyword::With:
        case Keyword::Without:
            if (s_.at(Keyword::Options, 1) || s_.at(Keyword::System, 1)) {
                s_.take(TokenRole::Keyword);
                s_.take(TokenRole::Keyword);
                s_.takeIf(Keyword::Versioning);
            } else if (s_.at(TokenKind::OpenParen, 1)) {
                s_.take(TokenRole::Keyword);
                optionGroup();
            }
            break;
        default: break;
    }
    return s_.position() > before;
}

/// DEFAULT's value: an expression without AND, OR and NOT, which would begin the next constraint.
void Grammar::defaultValue() {
    if (s_.at(Keyword::Null) || s_.at(Keyword::Default)) return primary();
    boundExpression();
    if (s_.at(TokenKind::Operator)) {  // a comparison
        s_.take();
        boundExpression();
    }
}

/// GENERATED ALWAYS AS IDENTITY (…), GENERATED ALWAYS AS (expression) STORED, AS (expression)
void Grammar::generatedColumn() {
    if (s_.takeIf(Keyword::Generated)) {
        if (!s_.takeIf(Keyword::Always)) s_.takePhrase({Keyword::By, Keyword::Default});
        s_.takePhrase({Keyword::On, Keyword::Null});
    }
    if (!s_.expect(Keyword::As)) return;
    if (s_.takeIf(Keyword::Identity)) {
        if (s_.at(TokenKind::OpenParen)) optionGroup();
        return;
    }
    if (s_.takeIf(Keyword::Row)) {  // of a system-versioned table
        if (s_.atName()) s_.take(TokenRole::Keyword);
        return;
    }
    if (s_.at(TokenKind::OpenParen)) return parenthesized();
    boundExpression();
}

/// ON UPDATE CURRENT_TIMESTAMP, ON CONFLICT IGNORE
void Grammar::onUpdateOrConflict() {
    if (s_.takePhrase({Keyword::On, Keyword::Update})) return boundExpression();
    if (s_.takePhrase({Keyword::On, Keyword::Conflict})) {
        if (s_.atName()) s_.take(TokenRole::Keyword);
    }
}

void Grammar::alterStatement() {
    const DepthScope depth(s_);
    const NodeScope node(s_, NodeKind::AlterStatement);
    isAltering_ = true;
    s_.take(TokenRole::Keyword);
    createModifiers();
    const bool isTable = s_.at(Keyword::Table) || (s_.at(Keyword::Foreign) && s_.at(Keyword::Table, 1));
    if (!kindWords()) {
        s_.fail("the kind of object to change");
        return s_.skipUntil([] { return false; });
    }
    existence();
    s_.takeIf(Keyword::Only);
    if (s_.atClose()) return s_.fail("a name");
    if (s_.at(Keyword::All) || s_.at(Keyword::For)) return options();
    {
        const NodeScope table(s_, NodeKind::TableName);
        objectName(isTable ? TokenRole::Relation : TokenRole::Plain);
        s_.takeIfOperator("*");
    }
    if (s_.atClose()) return s_.fail("what to change");
    if (!isTable) return alterOther();
    commaList([this] { alterAction(); });
}

/// ALTER of anything but a table: what the server makes of it; ALTER VIEW … AS keeps its query.
void Grammar::alterOther() {
    options([this] { return s_.at(Keyword::As) && (s_.at(Keyword::Select, 1) || s_.at(Keyword::With, 1)); });
    if (s_.takeIf(Keyword::As)) return asQuery();
}

/// One action of ALTER TABLE.
void Grammar::alterAction() {
    const NodeScope node(s_, NodeKind::AlterAction);
    const auto atComma = [this] { return s_.at(TokenKind::Comma); };
    if (s_.atClose() || atComma()) return s_.fail("what to change");
    switch (s_.keyword()) {
        case Keyword::Add: alterAdd(); break;
        case Keyword::Modify:
        case Keyword::Change: {
            const bool renames = s_.at(Keyword::Change);
            s_.take(TokenRole::Keyword);
            s_.takeIf(Keyword::Column);
            existence();
            if (renames && s_.atName()) name();
            if (s_.atName()) columnDefinition();
            break;
        }
        case Keyword::Alter: alterColumn(); break;
        case Keyword::Drop:
            s_.take(TokenRole::Keyword);
            if (!s_.at(TokenKind::Comma, 1) && !s_.atStop(1)) kindWords();
            if (s_.at(Keyword::Key) || s_.at(Keyword::Primary) || s_.at(Keyword::Foreign)) {
                s_.takeAll({Keyword::Primary, Keyword::Foreign, Keyword::Key});
            }
            existence();
            if (s_.atName() && !s_.atAny({Keyword::Cascade, Keyword::Restrict})) name();
            break;
        default: break;
    }
    if (!s_.at(Keyword::Partition)) options(atComma);
    if (s_.at(Keyword::Partition)) options();
}

void Grammar::alterAdd() {
    s_.take(TokenRole::Keyword);
    const bool saysColumn = s_.takeIf(Keyword::Column);
    existence();
    if (!saysColumn && atTableConstraint()) {
        tableConstraint();
    } else if (s_.at(TokenKind::OpenParen)) {
        tableElements();
    } else if (s_.atName() && !s_.at(Keyword::Partition)) {
        columnDefinition();
    } else if (!s_.at(Keyword::Partition)) {
        s_.fail("a column or a constraint");
    }
}

/// ALTER [COLUMN] name SET DEFAULT …, TYPE … USING …, and the others
void Grammar::alterColumn() {
    s_.take(TokenRole::Keyword);
    const bool saysOther = s_.atAny({Keyword::Constraint, Keyword::Index, Keyword::Check});
    if (saysOther) {
        s_.take(TokenRole::Keyword);
    } else {
        s_.takeIf(Keyword::Column);
    }
    existence();
    if (s_.atName()) name(saysOther ? TokenRole::Plain : TokenRole::Column);
    if (s_.takePhrase({Keyword::Set, Keyword::Default})) return expression();
    if (s_.at(Keyword::Type) || (s_.at(Keyword::Set) && s_.at(Keyword::Data, 1))) {
        s_.takePhrase({Keyword::Set, Keyword::Data});
        s_.expect(Keyword::Type);
        typeName();
        if (s_.takeIf(Keyword::Collate)) name(TokenRole::Plain);
        if (s_.takeIf(Keyword::Using)) expression();
    } else if (s_.dialect == Dialect::Ansi && s_.atName() && !s_.atAny({Keyword::Set, Keyword::Drop, Keyword::Add})) {
        columnType();
        while (columnConstraint()) {
        }
    }
}

}  // namespace pantry::sql
