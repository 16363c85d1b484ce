#include "core/sql/syntax/statement_kind.h"

#include <array>

namespace pantry::sql {
namespace {

struct KindRow {
    Keyword verb;
    StatementKind kind;
    std::string_view name;
    StatementEffect effect;
};

using enum StatementEffect;
constexpr auto kKinds = std::to_array<KindRow>({
    {Keyword::Select, StatementKind::Select, "select", Reads},
    {Keyword::Values, StatementKind::Values, "values", Reads},
    {Keyword::Table, StatementKind::Table, "table", Reads},
    {Keyword::Insert, StatementKind::Insert, "insert", Writes},
    {Keyword::Replace, StatementKind::Replace, "replace", Writes},
    {Keyword::Update, StatementKind::Update, "update", Writes},
    {Keyword::Delete, StatementKind::Delete, "delete", Writes},
    {Keyword::Merge, StatementKind::Merge, "merge", Writes},
    {Keyword::Truncate, StatementKind::Truncate, "truncate", Writes},
    {Keyword::Create, StatementKind::Create, "create", Defines},
    {Keyword::Alter, StatementKind::Alter, "alter", Defines},
    {Keyword::Drop, StatementKind::Drop, "drop", Defines},
    {Keyword::Rename, StatementKind::Rename, "rename", Defines},
    {Keyword::Comment, StatementKind::Comment, "comment", Defines},
    {Keyword::Grant, StatementKind::Grant, "grant", Defines},
    {Keyword::Revoke, StatementKind::Revoke, "revoke", Defines},
    {Keyword::Begin, StatementKind::Begin, "begin", Transacts},
    {Keyword::Start, StatementKind::Begin, "begin", Transacts},
    {Keyword::Commit, StatementKind::Commit, "commit", Transacts},
    {Keyword::End, StatementKind::Commit, "commit", Transacts},
    {Keyword::Rollback, StatementKind::Rollback, "rollback", Transacts},
    {Keyword::Abort, StatementKind::Rollback, "rollback", Transacts},
    {Keyword::Savepoint, StatementKind::Savepoint, "savepoint", Transacts},
    {Keyword::Release, StatementKind::Release, "release", Transacts},
    {Keyword::Set, StatementKind::Set, "set", Configures},
    {Keyword::Reset, StatementKind::Reset, "reset", Configures},
    {Keyword::Show, StatementKind::Show, "show", Reads},
    {Keyword::Use, StatementKind::Use, "use", Configures},
    {Keyword::Describe, StatementKind::Describe, "describe", Reads},
    {Keyword::Desc, StatementKind::Describe, "describe", Reads},
    {Keyword::Explain, StatementKind::Explain, "explain", Reads},
    {Keyword::Pragma, StatementKind::Pragma, "pragma", Configures},
    {Keyword::Call, StatementKind::Call, "call", Unknown},
    {Keyword::Do, StatementKind::Do, "do", Unknown},
    {Keyword::Prepare, StatementKind::Prepare, "prepare", Configures},
    {Keyword::Execute, StatementKind::Execute, "execute", Unknown},
    {Keyword::Deallocate, StatementKind::Deallocate, "deallocate", Configures},
    {Keyword::Declare, StatementKind::Declare, "declare", Configures},
    {Keyword::Fetch, StatementKind::Fetch, "fetch", Reads},
    {Keyword::Close, StatementKind::Close, "close", Configures},
    {Keyword::Copy, StatementKind::Copy, "copy", Unknown},
    {Keyword::Load, StatementKind::Load, "load", Writes},
    {Keyword::Vacuum, StatementKind::Vacuum, "vacuum", Unknown},
    {Keyword::Analyze, StatementKind::Analyze, "analyze", Unknown},
    {Keyword::Analyse, StatementKind::Analyze, "analyze", Unknown},
    {Keyword::Reindex, StatementKind::Reindex, "reindex", Defines},
    {Keyword::Refresh, StatementKind::Refresh, "refresh", Writes},
    {Keyword::Attach, StatementKind::Attach, "attach", Configures},
    {Keyword::Detach, StatementKind::Detach, "detach", Configures},
    {Keyword::Lock, StatementKind::Lock, "lock", Configures},
    {Keyword::Unlock, StatementKind::Unlock, "unlock", Configures},
    {Keyword::Listen, StatementKind::Listen, "listen", Configures},
    {Keyword::Unlisten, StatementKind::Listen, "listen", Configures},
    {Keyword::Notify, StatementKind::Notify, "notify", Unknown},
    {Keyword::Kill, StatementKind::Kill, "kill", Unknown},
    {Keyword::Flush, StatementKind::Flush, "flush", Unknown},
    {Keyword::None, StatementKind::Block, "block", Unknown},
    {Keyword::None, StatementKind::Other, "other", Unknown},
});

StatementKind kindOfVerb(Keyword verb) {
    if (verb == Keyword::None) return StatementKind::Other;
    for (const KindRow& row : kKinds) {
        if (row.verb == verb) return row.kind;
    }
    return StatementKind::Other;
}

const KindRow& rowOf(StatementKind kind) {
    for (const KindRow& row : kKinds) {
        if (row.kind == kind) return row;
    }
    return kKinds.back();
}

bool isMainVerb(Keyword keyword) {
    switch (keyword) {
        case Keyword::Select:
        case Keyword::Insert:
        case Keyword::Update:
        case Keyword::Delete:
        case Keyword::Merge:
        case Keyword::Replace:
        case Keyword::Values:
        case Keyword::Table: return true;
        default: return false;
    }
}

/// The verb behind WITH … AS (…): the first one outside all parentheses.
StatementKind kindAfterWith(std::span<const Token> tokens) {
    int depth = 0;
    for (const Token& token : tokens) {
        if (token.kind == TokenKind::OpenParen) ++depth;
        if (token.kind == TokenKind::CloseParen) --depth;
        if (depth == 0 && isMainVerb(token.keyword)) return kindOfVerb(token.keyword);
    }
    return StatementKind::Select;
}

/// BEGIN NOT ATOMIC and BEGIN … END with statements in it are blocks, BEGIN alone opens a transaction.
bool isBlock(std::span<const Token> tokens) {
    for (const Token& token : tokens.subspan(1)) {
        if (token.isTrivia()) continue;
        return token.is(Keyword::Not);
    }
    return false;
}

}  // namespace

std::string_view kindName(StatementKind kind) { return rowOf(kind).name; }

StatementEffect effectOf(StatementKind kind) { return rowOf(kind).effect; }

StatementKind kindOf(std::span<const Token> tokens) {
    for (std::size_t i = 0; i < tokens.size(); ++i) {
        const Token& token = tokens[i];
        if (token.isTrivia() || token.kind == TokenKind::OpenParen) continue;
        const auto rest = tokens.subspan(i);
        if (token.is(Keyword::With)) return kindAfterWith(rest.subspan(1));
        if (token.is(Keyword::Begin) && isBlock(rest)) return StatementKind::Block;
        return kindOfVerb(token.keyword);
    }
    return StatementKind::Other;
}

}  // namespace pantry::sql
