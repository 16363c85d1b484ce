#include "core/db/session_statements.h"

#include <fmt/format.h>

#include "core/base/text.h"
#include "core/sql/text/lexer.h"

namespace pantry::db {

std::string beginTransaction(Engine engine) { return engine == Engine::MariaDb ? "START TRANSACTION" : "BEGIN"; }

std::vector<std::string_view> isolationLevels(Engine engine) {
    switch (engine) {
        case Engine::Postgres: return {"read committed", "repeatable read", "serializable"};
        case Engine::MariaDb: return {"read uncommitted", "read committed", "repeatable read", "serializable"};
        default: return {};
    }
}

std::string setIsolation(Engine engine, std::string_view level) {
    const std::string words = base::toUpper(level);
    switch (engine) {
        case Engine::Postgres:
            return fmt::format("SET SESSION CHARACTERISTICS AS TRANSACTION ISOLATION LEVEL {}", words);
        case Engine::MariaDb: return fmt::format("SET SESSION TRANSACTION ISOLATION LEVEL {}", words);
        default: return {};
    }
}

std::string setReadOnly(Engine engine, bool isReadOnly) {
    switch (engine) {
        case Engine::Postgres: return fmt::format("SET default_transaction_read_only = {}", isReadOnly ? "on" : "off");
        case Engine::MariaDb: return fmt::format("SET SESSION TRANSACTION READ {}", isReadOnly ? "ONLY" : "WRITE");
        case Engine::Sqlite: return fmt::format("PRAGMA query_only = {}", isReadOnly ? "ON" : "OFF");
        case Engine::Odbc: break;
    }
    return {};
}

std::string setStatementLimit(Engine engine, std::chrono::milliseconds limit) {
    switch (engine) {
        case Engine::Postgres: return fmt::format("SET statement_timeout = {}", limit.count());
        case Engine::MariaDb:
            return fmt::format("SET SESSION max_statement_time = {}", static_cast<double>(limit.count()) / 1000);
        default: return {};
    }
}

std::string setSchema(Engine engine, std::string_view schema) {
    const std::string name = sql::quotedName(schema, dialectOf(engine));
    switch (engine) {
        case Engine::Postgres: return fmt::format("SET search_path TO {}", name);
        case Engine::MariaDb: return fmt::format("USE {}", name);
        default: return {};
    }
}

}  // namespace pantry::db
