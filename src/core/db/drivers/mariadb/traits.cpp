#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "core/base/text.h"
#include "core/db/drivers/mariadb/driver.h"

namespace pantry::db {
namespace {

using sql::Keyword;
using sql::Token;

constexpr auto kMariaDbIsolationLevels =
    std::to_array<std::string_view>({"read uncommitted", "read committed", "repeatable read", "serializable"});

bool isSelfCommittingVerb(Keyword verb) {
    constexpr auto kVerbs = std::to_array<Keyword>(
        {Keyword::Alter,    Keyword::Analyze, Keyword::Cache,     Keyword::Change, Keyword::Check,
         Keyword::Create,   Keyword::Drop,    Keyword::Flush,     Keyword::Grant,  Keyword::Import,
         Keyword::Install,  Keyword::Lock,    Keyword::Optimize,  Keyword::Rename, Keyword::Repair,
         Keyword::Reset,    Keyword::Revoke,  Keyword::Start,     Keyword::Stop,   Keyword::Begin,
         Keyword::Truncate, Keyword::Unlock,  Keyword::Uninstall, Keyword::Comment});
    return std::ranges::find(kVerbs, verb) != kVerbs.end();
}

/// “Statements that cause an implicit commit” of the manuals of MariaDB and MySQL. What stands in executable comments
/// counts, since the server reads it.
bool mariaDbCommitsByItself(const sql::Statement& asked) {
    const std::string& statement = asked.text();
    std::vector<Token> tokens = asked.tokens();
    std::erase_if(tokens, [](const Token& t) { return t.isTrivia(); });
    if (tokens.empty()) return false;
    if (tokens.front().kind == sql::TokenKind::ExecutableComment) return true;
    const auto has = [&](Keyword keyword) {
        return std::ranges::any_of(tokens, [&](const Token& t) { return t.is(keyword); });
    };
    const Keyword verb = tokens.front().keyword;
    if (verb == Keyword::Set) {
        const bool isPassword = tokens.size() > 1 && base::equalsIgnoringCase(tokens[1].textIn(statement), "password");
        const bool setsCommitting = std::ranges::any_of(
            tokens, [&](const Token& t) { return base::toLower(t.textIn(statement)).ends_with("autocommit"); });
        return isPassword || setsCommitting || has(Keyword::Statement);
    }
    const bool isTemporary = tokens.size() > 1 && tokens[1].is(Keyword::Temporary);
    if ((verb == Keyword::Create || verb == Keyword::Drop) && isTemporary) return false;
    if (verb == Keyword::Analyze) return tokens.size() > 1 && tokens[1].is(Keyword::Table);
    if (verb == Keyword::Begin && has(Keyword::Not)) return false;
    return isSelfCommittingVerb(verb);
}

constexpr EngineTraits kMariaDbTraits{
    .name = "MariaDB",
    .word = "mariadb",
    .dialect = sql::Dialect::MySql,
    .port = 3306,
    .tellsEncryption = true,
    .schemasAreDatabases = true,
    .passwordVariable = "MYSQL_PWD",
    .passwordFile = "~/.my.cnf",
    .passwordFileAdvice = "Add password=… to its section [client], with rights for nobody else.",
    .onConnectExample = "SET time_zone = '+00:00';",
    .databasesQuery = "SHOW DATABASES",
    .beginTransaction = "START TRANSACTION",
    .isolationLevels = kMariaDbIsolationLevels,
    .setIsolation =
        [](std::string_view level) { return "SET SESSION TRANSACTION ISOLATION LEVEL " + base::toUpper(level); },
    .setReadOnly =
        [](bool isReadOnly) { return fmt::format("SET SESSION TRANSACTION READ {}", isReadOnly ? "ONLY" : "WRITE"); },
    .setStatementLimit =
        [](std::chrono::milliseconds limit) {
            return fmt::format("SET SESSION max_statement_time = {}", static_cast<double>(limit.count()) / 1000);
        },
    .setSchema = [](std::string_view quotedName) { return fmt::format("USE {}", quotedName); },
    .commitsByItself = mariaDbCommitsByItself,
    .setLockLimit =
        [](std::chrono::milliseconds limit) {
            return fmt::format("SET SESSION lock_wait_timeout = {}", std::max<std::int64_t>(1, limit.count() / 1000));
        },
};

}  // namespace

const EngineTraits& MariaDbDriver::traits() { return kMariaDbTraits; }

}  // namespace pantry::db
