#include <fmt/format.h>

#include "core/base/fuzzy.h"
#include "core/base/text.h"
#include "core/sql/syntax/grammar.h"

namespace pantry::sql {
namespace {

/// Verbs whose statements are words and values, no more.
constexpr std::initializer_list<Keyword> kPlainVerbs = {
    Keyword::Commit,   Keyword::Rollback,   Keyword::Abort,    Keyword::Savepoint,  Keyword::Release,
    Keyword::Start,    Keyword::Begin,      Keyword::End,      Keyword::Reset,      Keyword::Use,
    Keyword::Fetch,    Keyword::Move,       Keyword::Close,    Keyword::Open,       Keyword::Load,
    Keyword::Vacuum,   Keyword::Analyze,    Keyword::Analyse,  Keyword::Reindex,    Keyword::Detach,
    Keyword::Lock,     Keyword::Unlock,     Keyword::Listen,   Keyword::Unlisten,   Keyword::Notify,
    Keyword::Kill,     Keyword::Flush,      Keyword::Optimize, Keyword::Repair,     Keyword::Check,
    Keyword::Checksum, Keyword::Cluster,    Keyword::Discard,  Keyword::Checkpoint, Keyword::Security,
    Keyword::Reassign, Keyword::Deallocate, Keyword::Handler,  Keyword::Purge,      Keyword::Change,
    Keyword::Stop,     Keyword::Binlog,     Keyword::Install,  Keyword::Uninstall,  Keyword::Help,
    Keyword::Xa,       Keyword::Cache,      Keyword::Rename,   Keyword::Import,     Keyword::Refresh,
    Keyword::Signal,   Keyword::Resignal,   Keyword::Get,      Keyword::Shutdown,   Keyword::Declare,
    Keyword::Leave,    Keyword::Iterate,    Keyword::Backup,   Keyword::Restart,    Keyword::Exit,
    Keyword::If};

/// Words that begin statements, to propose the closest when one was mistyped.
constexpr std::string_view kVerbs[] = {"SELECT",   "INSERT",  "UPDATE",  "DELETE",   "CREATE", "ALTER",
                                       "DROP",     "WITH",    "VALUES",  "GRANT",    "REVOKE", "MERGE",
                                       "TRUNCATE", "COMMIT",  "BEGIN",   "EXPLAIN",  "SHOW",   "SET",
                                       "CALL",     "EXECUTE", "REPLACE", "ROLLBACK", "COMMENT"};

}  // namespace

/// Any statement, by the word it begins with.
void Grammar::anyStatement() {
    if (s_.atStop()) return;
    if (s_.at(TokenKind::OpenParen)) {
        if (atQuery()) return query();
        return unknownStatement();
    }
    switch (s_.keyword()) {
        case Keyword::Select:
        case Keyword::Values:
        case Keyword::Table: return query();
        case Keyword::With: return withStatement();
        case Keyword::Insert:
        case Keyword::Replace:
        case Keyword::Update:
        case Keyword::Delete:
        case Keyword::Merge: return changeStatement();
        case Keyword::Truncate: return truncateStatement();
        case Keyword::Create: return createStatement();
        case Keyword::Alter: return alterStatement();
        case Keyword::Drop: return dropStatement();
        case Keyword::Comment: return commentStatement();
        case Keyword::Grant:
        case Keyword::Revoke: return grantStatement();
        case Keyword::Explain:
        case Keyword::Describe:
        case Keyword::Desc: return explainStatement();
        case Keyword::Analyze:
            if (isAnalyzedStatement()) return explainStatement();
            return plainStatement();
        case Keyword::Set: return setStatement();
        case Keyword::Show: return showStatement();
        case Keyword::Call:
        case Keyword::Do: return callStatement();
        case Keyword::Prepare: return prepareStatement();
        case Keyword::Execute: return executeStatement();
        case Keyword::Copy: return copyStatement();
        case Keyword::Pragma:
        case Keyword::Attach: return pragmaOrAttach();
        case Keyword::Declare: return declaration();
        case Keyword::Begin:
            if (s_.at(Keyword::Not, 1) || s_.at(Keyword::Atomic, 1)) return block(s_.mark(), s_.position());
            return plainStatement();
        case Keyword::If:
            if (s_.dialect == Dialect::MySql || s_.dialect == Dialect::Ansi) return ifStatement();
            return unknownStatement();
        default: break;
    }
    if (s_.atAny(kPlainVerbs)) return plainStatement();
    unknownStatement();
}

void Grammar::plainStatement() {
    const NodeScope node(s_, NodeKind::UtilityStatement);
    s_.take(TokenRole::Keyword);
    options();
}

/// A statement whose first word is none that we know: told, and left as it is.
void Grammar::unknownStatement() {
    const bool isForeign = s_.dialect == Dialect::Ansi && (s_.at(TokenKind::Word) || s_.text() == "{");  // {call f(?)}
    if (isForeign) return opaque();  // other engines have verbs of their own
    if (s_.at(TokenKind::Word) && !s_.isOnlyAsked()) {
        const std::string word = base::toUpper(s_.text());
        std::string_view closest;
        std::size_t least = 3;
        for (const std::string_view verb : kVerbs) {
            const std::size_t distance = base::editDistance(word, verb, 2);
            if (distance < least) {
                least = distance;
                closest = verb;
            }
        }
        if (!closest.empty()) {
            s_.report(fmt::format("“{}” does not begin a statement. Did you mean {}?", base::oneLine(s_.text(), 40),
                                  closest));
        }
    }
    s_.fail("a statement");
    opaque(true);
}

/// ANALYZE [FORMAT = JSON] statement, which runs it and tells how (MariaDB); else it is a table that is analysed.
bool Grammar::isAnalyzedStatement() const {
    if (s_.dialect != Dialect::MySql) return false;
    return s_.atAny({Keyword::Format, Keyword::Select, Keyword::With, Keyword::Values, Keyword::Insert, Keyword::Update,
                     Keyword::Delete, Keyword::Replace},
                    1) ||
           s_.at(TokenKind::OpenParen, 1);
}

/// EXPLAIN [words] [(options)] statement; DESCRIBE table [column]
void Grammar::explainStatement() {
    const NodeScope node(s_, NodeKind::ExplainStatement);
    s_.take(TokenRole::Keyword);
    for (;;) {
        if (s_.at(TokenKind::OpenParen) && !atQueryInParens()) {
            optionGroup();
        } else if (s_.at(Keyword::Format)) {
            s_.take(TokenRole::Keyword);
            s_.takeIfOperator("=");
            if (s_.atName()) s_.take(TokenRole::Keyword);
        } else if (s_.atAny({Keyword::Analyze, Keyword::Analyse, Keyword::Verbose, Keyword::Extended,
                             Keyword::Partitions, Keyword::Query, Keyword::Plan, Keyword::For})) {
            s_.take(TokenRole::Keyword);
        } else {
            break;
        }
    }
    if (s_.atClose()) return s_.fail("a statement to explain");
    const bool beginsStatement =
        s_.at(TokenKind::OpenParen) ||
        s_.atAny({Keyword::Select, Keyword::With, Keyword::Insert, Keyword::Update, Keyword::Delete, Keyword::Replace,
                  Keyword::Merge, Keyword::Values, Keyword::Table, Keyword::Create, Keyword::Execute, Keyword::Declare,
                  Keyword::Refresh, Keyword::Drop, Keyword::Alter, Keyword::Set});
    if (beginsStatement) return anyStatement();
    if (s_.atName() && !s_.at(Keyword::Connection)) {
        const NodeScope table(s_, NodeKind::TableName);
        name(TokenRole::Relation);
    }
    options();
}

/// SET a = 1, @b := 2; SET LOCAL a TO x; SET TRANSACTION …
void Grammar::setStatement() {
    const NodeScope node(s_, NodeKind::SetStatement);
    s_.take(TokenRole::Keyword);
    if (s_.at(Keyword::Statement)) {  // SET STATEMENT a = 1 FOR SELECT …
        options([this] { return s_.at(Keyword::For); });
        if (s_.takeIf(Keyword::For)) anyStatement();
        return;
    }
    const auto isScope = [this](std::size_t n) {
        return s_.atAny({Keyword::Global, Keyword::Session, Keyword::Local, Keyword::Persist}, n);
    };
    const auto isAssigned = [this](std::size_t n) {
        while (s_.at(TokenKind::Dot, n + 1)) n += 2;
        return s_.atOperator("=", n + 1) || s_.atOperator(":=", n + 1);
    };
    if (s_.dialect != Dialect::MySql || !isAssigned(isScope(0) ? 1 : 0)) return options();
    commaList([&] {
        if (isScope(0)) s_.take(TokenRole::Keyword);
        const NodeScope assignment(s_, NodeKind::Assignment);
        if (s_.at(TokenKind::Variable)) {
            s_.take();
        } else if (s_.atName()) {
            name(TokenRole::Plain);
        } else {
            return s_.fail("a variable");
        }
        if (!s_.takeIfOperator("=") && !s_.takeIfOperator(":=")) return s_.fail("=");
        if (s_.atAny({Keyword::On, Keyword::All, Keyword::Binary, Keyword::Default})) {
            s_.take(TokenRole::Keyword);
        } else {
            expression();
        }
    });
}

/// SHOW words [LIKE '…' | WHERE condition]
void Grammar::showStatement() {
    const NodeScope node(s_, NodeKind::UtilityStatement);
    s_.take(TokenRole::Keyword);
    options([this] { return s_.at(Keyword::Where); });
    if (s_.at(Keyword::Where)) whereClause();
}

/// CALL name(…), DO 'text', DO expression
void Grammar::callStatement() {
    const NodeScope node(s_, NodeKind::CallStatement);
    const bool isCall = s_.at(Keyword::Call);
    s_.take(TokenRole::Keyword);
    if (!isCall) {
        if (s_.at(TokenKind::String) || s_.at(Keyword::Language)) return options();
        return commaList([this] { expression(); });
    }
    if (!s_.atName()) return s_.fail("the name of a procedure");
    name(TokenRole::Function);
    if (s_.at(TokenKind::OpenParen)) arguments();
}

/// PREPARE name [(types)] AS statement; PREPARE name FROM text
void Grammar::prepareStatement() {
    const NodeScope node(s_, NodeKind::PrepareStatement);
    s_.take(TokenRole::Keyword);
    if (s_.at(Keyword::Transaction)) return options();
    if (!s_.atName()) return s_.fail("a name");
    name(TokenRole::AliasName);
    if (s_.at(TokenKind::OpenParen)) optionGroup();
    if (s_.takeIf(Keyword::From)) return expression();
    if (s_.expect(Keyword::As)) anyStatement();
}

/// EXECUTE name [(values)] [USING …], EXECUTE IMMEDIATE text
void Grammar::executeStatement() {
    const NodeScope node(s_, NodeKind::CallStatement);
    s_.take(TokenRole::Keyword);
    if (s_.takeIf(Keyword::Immediate)) {
        expression();
    } else if (s_.atName()) {
        name(TokenRole::Function);
        if (s_.at(TokenKind::OpenParen)) arguments();
    } else {
        s_.fail("the name of a prepared statement");
    }
    if (s_.takeIf(Keyword::Using)) commaList([this] { expression(); });
    options();
}

/// COPY table [(columns)] FROM … / TO …, COPY (query) TO …
void Grammar::copyStatement() {
    const NodeScope node(s_, NodeKind::CopyStatement);
    s_.take(TokenRole::Keyword);
    s_.takeIf(Keyword::Binary);
    if (s_.at(TokenKind::OpenParen)) {
        parenthesizedStatement();
    } else if (s_.atName()) {
        {
            const NodeScope table(s_, NodeKind::TableName);
            name(TokenRole::Relation);
        }
        if (s_.at(TokenKind::OpenParen)) columnList();
    } else {
        return s_.fail("a table or a query");
    }
    if (!s_.at(Keyword::From) && !s_.at(Keyword::To)) s_.fail("FROM or TO");
    options([this] { return s_.at(Keyword::Where); });
    if (s_.at(Keyword::Where)) whereClause();
    if (s_.at(TokenKind::CopyData, 1)) {  // behind the terminator, and part of the statement
        s_.take();
        s_.take();
    }
}

/// ( statement ) where a change may stand as well as a query.
void Grammar::parenthesizedStatement() {
    if (atQueryInParens()) return parenthesized();
    const NodeScope node(s_, NodeKind::Subquery);
    s_.expect(TokenKind::OpenParen, "(");
    anyStatement();
    s_.expect(TokenKind::CloseParen, ")");
}

/// PRAGMA name [= value], PRAGMA name(value); ATTACH expression AS name
void Grammar::pragmaOrAttach() {
    const NodeScope node(s_, NodeKind::UtilityStatement);
    const bool isPragma = s_.at(Keyword::Pragma);
    s_.take(TokenRole::Keyword);
    if (!isPragma) {
        s_.takeIf(Keyword::Database);
        expression();
        if (s_.expect(Keyword::As)) expression();
        return options();
    }
    if (!s_.atName()) return s_.fail("the name of a pragma");
    name(TokenRole::Function);
    if (s_.at(TokenKind::OpenParen)) return optionGroup();
    options();
}

/// A statement whose inside has no grammar: its words are coloured, nothing else is known.
void Grammar::opaque(bool isUnknown) {
    if (s_.atStop()) return;
    const NodeScope node(s_, NodeKind::Opaque);
    bool isFirst = true;
    bool afterDot = false;
    while (!s_.atStop()) {
        if (!isFirst && isUnknown && s_.atNextStatement()) return;
        const bool isKeyword = s_.keyword() != Keyword::None && !afterDot;
        afterDot = s_.at(TokenKind::Dot);
        s_.take(isKeyword || (isFirst && !isUnknown) ? TokenRole::Keyword : TokenRole::Plain);
        isFirst = false;
    }
}

}  // namespace pantry::sql
