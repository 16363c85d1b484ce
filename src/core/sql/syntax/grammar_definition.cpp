#include "core/sql/syntax/grammar.h"

namespace pantry::sql {
namespace {

/// The kinds of object that CREATE, ALTER, DROP and COMMENT name by a run of words.
constexpr std::initializer_list<Keyword> kKindWords = {
    Keyword::Access,      Keyword::Aggregate,   Keyword::Assertion,  Keyword::Body,          Keyword::Cast,
    Keyword::Class,       Keyword::Collation,   Keyword::Column,     Keyword::Configuration, Keyword::Constraint,
    Keyword::Conversion,  Keyword::Data,        Keyword::Database,   Keyword::Default,       Keyword::Dictionary,
    Keyword::Domain,      Keyword::Event,       Keyword::Extension,  Keyword::Family,        Keyword::Foreign,
    Keyword::Function,    Keyword::Global,      Keyword::Group,      Keyword::Index,         Keyword::Inline,
    Keyword::Language,    Keyword::Large,       Keyword::Local,      Keyword::Mapping,       Keyword::Materialized,
    Keyword::Method,      Keyword::Object,      Keyword::Operator,   Keyword::Package,       Keyword::Parser,
    Keyword::Plugin,      Keyword::Policy,      Keyword::Privileges, Keyword::Procedural,    Keyword::Procedure,
    Keyword::Publication, Keyword::Role,        Keyword::Routine,    Keyword::Rule,          Keyword::Schema,
    Keyword::Search,      Keyword::Sequence,    Keyword::Server,     Keyword::Statistics,    Keyword::Subscription,
    Keyword::System,      Keyword::Table,       Keyword::Tablespace, Keyword::Template,      Keyword::Temporary,
    Keyword::Temp,        Keyword::Text,        Keyword::Transform,  Keyword::Trigger,       Keyword::Trusted,
    Keyword::Type,        Keyword::Unique,      Keyword::User,       Keyword::View,          Keyword::Virtual,
    Keyword::Wrapper,     Keyword::Online,      Keyword::Offline,    Keyword::Ignore,        Keyword::Default,
    Keyword::Replication, Keyword::Slave,       Keyword::Unlogged,   Keyword::Recursive,     Keyword::Fulltext,
    Keyword::Spatial,     Keyword::Logfile,     Keyword::Undo,       Keyword::Resource,      Keyword::Synonym,
    Keyword::Character,   Keyword::Translation, Keyword::Clustered,  Keyword::Nonclustered,  Keyword::Tables,
    Keyword::Prepare,     Keyword::Spatial,     Keyword::Reference};

}  // namespace

/// What stands between CREATE and the kind of object.
void Grammar::createModifiers() {
    s_.takePhrase({Keyword::Or, Keyword::Replace});
    s_.takePhrase({Keyword::Or, Keyword::Alter});
    for (;;) {
        if (s_.at(Keyword::Algorithm) || (s_.at(Keyword::Definer) && s_.atOperator("=", 1))) {
            const bool isDefiner = s_.at(Keyword::Definer);
            s_.take(TokenRole::Keyword);
            s_.takeIfOperator("=");
            if (isDefiner) {
                account();
            } else if (s_.atName()) {
                s_.take(TokenRole::Keyword);
            }
        } else if (s_.at(Keyword::Sql) && s_.at(Keyword::Security, 1)) {
            s_.takePhrase({Keyword::Sql, Keyword::Security});
            if (s_.atName()) s_.take(TokenRole::Keyword);
        } else if (s_.atAny({Keyword::Global, Keyword::Local, Keyword::Temp, Keyword::Temporary, Keyword::Unlogged,
                             Keyword::Unique, Keyword::Fulltext, Keyword::Spatial, Keyword::Recursive,
                             Keyword::Materialized, Keyword::Virtual, Keyword::Online, Keyword::Offline,
                             Keyword::Clustered, Keyword::Nonclustered, Keyword::Trusted, Keyword::Procedural}) ||
                   (s_.at(Keyword::Foreign) && s_.at(Keyword::Table, 1)) ||
                   (s_.at(Keyword::Constraint) && s_.at(Keyword::Trigger, 1)) ||
                   (s_.at(Keyword::Aggregate) && s_.at(Keyword::Function, 1))) {
            s_.take(TokenRole::Keyword);
        } else {
            return;
        }
    }
}

void Grammar::createStatement() {
    const DepthScope depth(s_);
    NodeScope node(s_, NodeKind::CreateStatement);
    s_.take(TokenRole::Keyword);
    const bool isTriggerEvent = s_.at(Keyword::Event) && s_.at(Keyword::Trigger, 1);
    createModifiers();
    switch (s_.keyword()) {
        case Keyword::Table: node.become(NodeKind::CreateTable); return createTable();
        case Keyword::View: node.become(NodeKind::CreateView); return createView();
        case Keyword::Index: node.become(NodeKind::CreateIndex); return createIndex();
        case Keyword::Function:
        case Keyword::Procedure: node.become(NodeKind::CreateRoutine); return createRoutine();
        case Keyword::Trigger: node.become(NodeKind::CreateTrigger); return createTrigger();
        case Keyword::Event:
            if (isTriggerEvent) break;
            node.become(NodeKind::CreateTrigger);
            return createEvent();
        case Keyword::Schema: return createSchema();
        case Keyword::Type: return createType();
        case Keyword::Domain: return createDomain();
        case Keyword::Rule: return createRule();
        case Keyword::Policy: return createPolicy();
        default: break;
    }
    otherDefinition();
}

/// Words for the kind of object; false when there is none.
bool Grammar::kindWords() {
    if (!s_.atAny(kKindWords)) return false;
    s_.take(TokenRole::Keyword);
    while (s_.atAny(kKindWords) && !s_.atStop(1) && !s_.at(TokenKind::Dot, 1)) {
        // The last of a run may be the object's own name: DROP TABLE text.
        const bool isName = s_.at(TokenKind::Comma, 1) || s_.at(TokenKind::OpenParen, 1) ||
                            s_.at(Keyword::Cascade, 1) || s_.at(Keyword::As, 1) || s_.at(Keyword::Is, 1);
        if (isName) break;
        s_.take(TokenRole::Keyword);
    }
    return true;
}

/// CREATE of a kind without a rule of its own: the kind, the name, and what the server makes of the rest.
void Grammar::otherDefinition() {
    if (!kindWords()) {
        s_.fail("the kind of object to create");
        return s_.skipUntil([] { return false; });
    }
    existence();
    if (!s_.atClose() && !s_.at(TokenKind::OpenParen) && !s_.at(Keyword::For)) objectName(TokenRole::Plain);
    options();
}

void Grammar::createView() {
    s_.take(TokenRole::Keyword);
    existence();
    if (!s_.atName()) return s_.fail("a name for the view");
    name(TokenRole::Relation);
    if (s_.at(TokenKind::OpenParen)) columnList();
    options([this] { return s_.at(Keyword::As); });
    if (!s_.expect(Keyword::As)) return;
    asQuery();
}

/// The query behind AS, and what may follow it: WITH CHECK OPTION, WITH NO DATA.
void Grammar::asQuery() {
    if (!atQuery()) {
        s_.fail("SELECT");
        return s_.skipUntil([] { return false; });
    }
    query();
    if (s_.at(Keyword::With)) options();
}

void Grammar::createIndex() {
    s_.take(TokenRole::Keyword);
    s_.takeIf(Keyword::Concurrently);
    existence();
    if (!s_.at(Keyword::On) && s_.atName()) name(TokenRole::Plain);
    if (s_.takeIf(Keyword::Using) && s_.atName()) s_.take();
    if (!s_.expect(Keyword::On)) return;
    s_.takeIf(Keyword::Only);
    if (!s_.atName()) return s_.fail("a table");
    {
        const NodeScope table(s_, NodeKind::TableName);
        name(TokenRole::Relation);
    }
    if (s_.takeIf(Keyword::Using) && s_.atName()) s_.take();
    if (!s_.at(TokenKind::OpenParen)) return s_.fail("(");
    indexItems();
    indexTail();
}

/// (a, lower(b) DESC NULLS LAST, c text_pattern_ops)
void Grammar::indexItems() {
    const NodeScope node(s_, NodeKind::IndexItems);
    s_.expect(TokenKind::OpenParen, "(");
    commaList([this] {
        const NodeScope item(s_, NodeKind::OrderItem);
        expression();
        if (s_.atName() && !s_.atAny({Keyword::Asc, Keyword::Desc, Keyword::Nulls, Keyword::With})) {
            name(TokenRole::Plain);  // an operator class
            if (s_.at(TokenKind::OpenParen)) optionGroup();
        }
        if (!s_.takeIf(Keyword::Asc)) s_.takeIf(Keyword::Desc);
        if (s_.takeIf(Keyword::Nulls)) {
            if (!s_.takeIf(Keyword::First)) s_.expect(Keyword::Last);
        }
        if (s_.at(Keyword::With) && s_.at(TokenKind::Operator, 1)) {  // of an exclusion constraint
            s_.take(TokenRole::Keyword);
            s_.take();
        } else if (s_.at(Keyword::With) && s_.at(Keyword::Operator, 1)) {
            s_.take(TokenRole::Keyword);
            s_.take(TokenRole::Keyword);
            if (s_.at(TokenKind::OpenParen)) optionGroup();
        }
        if (s_.takePhrase({Keyword::Without, Keyword::Overlaps})) return;
    });
    s_.expect(TokenKind::CloseParen, ")");
}

void Grammar::indexTail() {
    const auto atWhere = [this] { return s_.at(Keyword::Where); };
    options(atWhere);
    if (s_.at(Keyword::Where)) {
        whereClause();
        options();
    }
}

/// CREATE SCHEMA name … with the tables, views and rights that stand in it.
void Grammar::createSchema() {
    s_.take(TokenRole::Keyword);
    existence();
    if (s_.atName() && !s_.at(Keyword::Authorization)) name(TokenRole::Plain);
    const auto atElement = [this] { return s_.at(Keyword::Create) || s_.at(Keyword::Grant); };
    isInSchema_ = true;
    options();
    while (atElement()) {
        const NodeScope element(s_, NodeKind::SchemaElement);
        if (s_.at(Keyword::Grant)) {
            grantStatement();
        } else {
            createStatement();
        }
        if (!s_.atClose() && !atElement()) {
            s_.fail("CREATE, GRANT or the end");
            s_.skipUntil(atElement);
        }
    }
    isInSchema_ = false;
}

void Grammar::createType() {
    s_.take(TokenRole::Keyword);
    s_.takeIf(Keyword::Body);
    existence();
    if (!s_.atName()) return s_.fail("a name for the type");
    name(TokenRole::Plain);
    if (s_.at(Keyword::As) && s_.at(TokenKind::OpenParen, 1)) {
        s_.take(TokenRole::Keyword);
        return tableElements();
    }
    options();
}

void Grammar::createDomain() {
    s_.take(TokenRole::Keyword);
    if (!s_.atName()) return s_.fail("a name for the domain");
    name(TokenRole::Type);
    s_.takeIf(Keyword::As);
    typeName();
    while (columnConstraint()) {
    }
    options();
}

/// CREATE RULE name AS ON event TO table [WHERE …] DO [ALSO | INSTEAD] statement, or several in parentheses.
void Grammar::createRule() {
    s_.take(TokenRole::Keyword);
    if (!s_.atName()) return s_.fail("a name for the rule");
    name(TokenRole::Plain);
    if (!s_.expect(Keyword::As) || !s_.expect(Keyword::On)) return;
    if (s_.atName()) s_.take(TokenRole::Keyword);
    if (!s_.expect(Keyword::To)) return;
    {
        const NodeScope table(s_, NodeKind::TableName);
        name(TokenRole::Relation);
    }
    if (s_.takeIf(Keyword::Where)) expression();
    if (!s_.expect(Keyword::Do)) return;
    if (!s_.takeIf(Keyword::Instead)) s_.takeIf(Keyword::Also);
    if (s_.takeIf(Keyword::Nothing)) return;
    if (!s_.at(TokenKind::OpenParen) || atQueryInParens()) return anyStatement();
    const NodeScope group(s_, NodeKind::StatementGroup);
    s_.take();
    while (!s_.atEnd() && !s_.at(TokenKind::CloseParen)) {
        if (!s_.atStop()) anyStatement();
        if (s_.atStop() && !s_.atEnd()) {
            s_.take();
        } else if (!s_.at(TokenKind::CloseParen)) {
            s_.fail("; or )");
            s_.skipUntil([] { return false; });
        }
    }
    s_.expect(TokenKind::CloseParen, ")");
}

void Grammar::createPolicy() {
    s_.take(TokenRole::Keyword);
    name(TokenRole::Plain);
    if (!s_.expect(Keyword::On)) return;
    {
        const NodeScope table(s_, NodeKind::TableName);
        name(TokenRole::Relation);
    }
    policyTail();
}

/// FOR …, TO …, USING (…), WITH CHECK (…)
void Grammar::policyTail() {
    const auto atCondition = [this] {
        return (s_.at(Keyword::Using) || s_.at(Keyword::Check)) && s_.at(TokenKind::OpenParen, 1);
    };
    while (!s_.atClose()) {
        options(atCondition);
        if (!atCondition()) return;
        s_.take(TokenRole::Keyword);
        parenthesized();
    }
}

void Grammar::dropStatement() {
    const NodeScope node(s_, NodeKind::DropStatement);
    s_.take(TokenRole::Keyword);
    if (s_.at(Keyword::Prepare) || s_.at(Keyword::Owned)) return options();
    if (!kindWords()) {
        s_.fail("the kind of object to drop");
        return s_.skipUntil([] { return false; });
    }
    s_.takeIf(Keyword::Concurrently);
    existence();
    s_.takeIf(Keyword::Concurrently);
    if (s_.atClose()) return s_.fail("a name");
    if (s_.at(TokenKind::OpenParen) || s_.at(Keyword::For)) return options();  // DROP CAST (a AS b)
    commaList([this] { objectName(TokenRole::Relation); });
    options();
}

void Grammar::truncateStatement() {
    const NodeScope node(s_, NodeKind::TruncateStatement);
    s_.take(TokenRole::Keyword);
    s_.takeIf(Keyword::Table);
    existence();
    commaList([this] {
        s_.takeIf(Keyword::Only);
        if (!s_.atName()) return s_.fail("a table");
        const NodeScope table(s_, NodeKind::TableName);
        name(TokenRole::Relation);
        s_.takeIfOperator("*");
    });
    options();
}

/// COMMENT ON kind name IS 'text'
void Grammar::commentStatement() {
    const NodeScope node(s_, NodeKind::CommentStatement);
    s_.take(TokenRole::Keyword);
    if (!s_.expect(Keyword::On)) return s_.skipUntil([] { return false; });
    kindWords();
    if (!s_.at(TokenKind::OpenParen) && !s_.at(Keyword::For) && !s_.at(TokenKind::Number)) {
        objectName(TokenRole::Relation);
    }
    options([this] { return s_.at(Keyword::Is); });
    if (!s_.expect(Keyword::Is)) return;
    expression();
}

/// GRANT and REVOKE: rights, what they are on, and for whom.
void Grammar::grantStatement() {
    const NodeScope node(s_, NodeKind::GrantStatement);
    s_.take(TokenRole::Keyword);
    const auto isPreposition = [this] { return s_.atAny({Keyword::On, Keyword::To, Keyword::From}); };
    s_.takePhrase({Keyword::Grant, Keyword::Option, Keyword::For});
    s_.takePhrase({Keyword::Admin, Keyword::Option, Keyword::For});
    options(isPreposition);
    if (s_.takeIf(Keyword::On)) {
        const bool isAll = s_.at(Keyword::All);
        while (isAll && s_.atAny({Keyword::All, Keyword::Tables, Keyword::Sequences, Keyword::Functions,
                                  Keyword::Procedures, Keyword::Routines, Keyword::In, Keyword::Schema})) {
            s_.take(TokenRole::Keyword);
        }
        if (!isAll) grantKind();
        commaList([this] {
            if (s_.takeIfOperator("*")) {  // *.* of MariaDB
                if (s_.takeIf(TokenKind::Dot)) s_.takeIfOperator("*");
                return;
            }
            objectName(TokenRole::Relation);
        });
    }
    if (!s_.takeIf(Keyword::To) && !s_.takeIf(Keyword::From)) {
        if (!s_.atClose()) s_.fail("TO or FROM");
        return s_.skipUntil([] { return false; });
    }
    commaList([this] {
        s_.takeIf(Keyword::Group);
        account();
    });
    options();
}

/// TABLE, FOREIGN SERVER and the like between ON and the name.
void Grammar::grantKind() {
    const bool isWordBeforeName = s_.atAny(kKindWords) && !s_.at(TokenKind::Dot, 1) && !s_.at(TokenKind::Comma, 1) &&
                                  !s_.atAny({Keyword::To, Keyword::From}, 1);
    if (isWordBeforeName) kindWords();
}

}  // namespace pantry::sql
