#include "core/db/session_statements.h"

#include "core/db/engine_traits.h"
#include "core/sql/text/lexer.h"

namespace pantry::db {

std::string setIsolation(Engine engine, std::string_view level) {
    const auto write = traitsOf(engine).setIsolation;
    return write == nullptr ? std::string() : write(level);
}

std::string setReadOnly(Engine engine, bool isReadOnly) {
    const auto write = traitsOf(engine).setReadOnly;
    return write == nullptr ? std::string() : write(isReadOnly);
}

std::string setStatementLimit(Engine engine, std::chrono::milliseconds limit) {
    const auto write = traitsOf(engine).setStatementLimit;
    return write == nullptr ? std::string() : write(limit);
}

std::string setSchema(Engine engine, std::string_view schema) {
    const EngineTraits& traits = traitsOf(engine);
    return traits.setSchema == nullptr ? std::string() : traits.setSchema(sql::quotedName(schema, traits.dialect));
}

}  // namespace pantry::db
