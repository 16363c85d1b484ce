#include <fmt/format.h>

#include "core/db/drivers/sqlite/catalog.h"

#include <sqlite3.h>

#include "core/sql/text/lexer.h"

namespace pantry::db::sqlite {

/// The engine keeps the statements as they were given; what belongs to a table comes after it.
Result<catalog::Definition> readDefinition(sqlite3* db, const catalog::ObjectName& object) {
    const auto query = fmt::format(
        "SELECT sql FROM {}.sqlite_schema WHERE tbl_name = {} AND sql IS NOT NULL "
        "ORDER BY name <> tbl_name, type <> 'index', rowid",
        sql::quotedName(object.schema.empty() ? "main" : object.schema, sql::Dialect::Sqlite),
        sql::quotedString(object.name, sql::Dialect::Sqlite));
    auto statement = prepare(db, query);
    if (!statement) return statement.error();
    catalog::Definition definition;
    int code = sqlite3_step(statement->get());
    for (; code == SQLITE_ROW; code = sqlite3_step(statement->get())) {
        definition.text += textAt(statement->get(), 0) + ";\n";
    }
    if (code != SQLITE_DONE) return errorOf(db, code);
    if (definition.text.empty()) {
        return Error{.kind = ErrorKind::NotFound, .message = fmt::format("There is no {} here.", object.name)};
    }
    return definition;
}

}  // namespace pantry::db::sqlite
