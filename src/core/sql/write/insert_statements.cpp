#include "core/sql/write/insert_statements.h"

#include <fmt/format.h>

#include "core/base/text.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

/// A type that holds what the column held, where the engine told none.
std::string_view fallbackType(data::ColumnType type) {
    switch (type) {
        case data::ColumnType::Integer: return "bigint";
        case data::ColumnType::Real: return "double precision";
        case data::ColumnType::Decimal: return "numeric";
        case data::ColumnType::Boolean: return "boolean";
        case data::ColumnType::Date: return "date";
        case data::ColumnType::Timestamp: return "timestamp";
        default: return "text";
    }
}

/// The type of a column in a definition. MariaDB does not tell the values of an enumeration with a result, and takes
/// NULL in a timestamp for the present moment unless told otherwise.
std::string definedType(const data::Column& column, Dialect dialect) {
    if (column.typeName.empty()) return std::string(fallbackType(column.type));
    if (dialect != Dialect::MySql) return column.typeName;
    if (column.typeName == "enum" || column.typeName == "set") return "text";
    return base::startsWithIgnoringCase(column.typeName, "timestamp") ? column.typeName + " NULL" : column.typeName;
}

}  // namespace

std::string createTableLike(std::string_view table, const std::vector<data::Column>& columns, Dialect dialect) {
    std::string definitions;
    for (const data::Column& column : columns) {
        definitions += fmt::format("{}\n    {} {}", definitions.empty() ? "" : ",", quotedName(column.name, dialect),
                                   definedType(column, dialect));
    }
    return fmt::format("CREATE TABLE {} ({}\n)", table, definitions);
}

std::string insertOpening(std::string_view table, const std::vector<data::Column>& columns, Dialect dialect) {
    std::string names;
    for (const data::Column& column : columns) {
        names += (names.empty() ? "" : ", ") + quotedName(column.name, dialect);
    }
    return fmt::format("INSERT INTO {} ({}) VALUES", table, names);
}

}  // namespace pantry::sql
