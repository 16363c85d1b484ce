#include "core/db/drivers/mariadb/columns.h"

#include <mysql.h>

#include <fmt/format.h>

#include <algorithm>
#include <utility>

#include "core/base/text.h"

namespace pantry::db::mariadb {
namespace {

constexpr unsigned kBinaryCharset = 63;
constexpr unsigned long kBytesOfCharacter = 4;  // of utf8mb4, in which lines are opened

bool isBinary(const MYSQL_FIELD& field) { return field.charsetnr == kBinaryCharset; }

std::string sized(std::string_view name, unsigned long size) { return fmt::format("{}({})", name, size); }

std::string decimalName(const MYSQL_FIELD& field) {
    const unsigned long signs = (field.flags & UNSIGNED_FLAG) != 0 ? 0 : 1;
    const unsigned long digits = field.length - signs - (field.decimals > 0 ? 1 : 0);
    return fmt::format("decimal({},{})", digits, field.decimals);
}

std::string textName(const MYSQL_FIELD& field) {
    const unsigned long characters = isBinary(field) ? field.length : field.length / kBytesOfCharacter;
    const std::string_view word = isBinary(field) ? "blob" : "text";
    if (characters <= 255) return fmt::format("tiny{}", word);
    if (characters <= 65'535) return std::string(word);
    return fmt::format("{}{}", characters <= 16'777'215 ? "medium" : "long", word);
}

std::string timeName(std::string_view word, unsigned decimals) {
    return decimals > 0 && decimals <= 6 ? sized(word, decimals) : std::string(word);
}

std::string baseName(const MYSQL_FIELD& field) {
    const unsigned long characters = field.length / kBytesOfCharacter;
    switch (field.type) {
        case MYSQL_TYPE_TINY: return "tinyint";
        case MYSQL_TYPE_SHORT: return "smallint";
        case MYSQL_TYPE_INT24: return "mediumint";
        case MYSQL_TYPE_LONG: return "int";
        case MYSQL_TYPE_LONGLONG: return "bigint";
        case MYSQL_TYPE_FLOAT: return "float";
        case MYSQL_TYPE_DOUBLE: return "double";
        case MYSQL_TYPE_DECIMAL:
        case MYSQL_TYPE_NEWDECIMAL: return decimalName(field);
        case MYSQL_TYPE_BIT: return sized("bit", field.length);
        case MYSQL_TYPE_YEAR: return "year";
        case MYSQL_TYPE_DATE:
        case MYSQL_TYPE_NEWDATE: return "date";
        case MYSQL_TYPE_TIME: return timeName("time", field.decimals);
        case MYSQL_TYPE_DATETIME: return timeName("datetime", field.decimals);
        case MYSQL_TYPE_TIMESTAMP: return timeName("timestamp", field.decimals);
        case MYSQL_TYPE_JSON: return "json";
        case MYSQL_TYPE_GEOMETRY: return "geometry";
        case MYSQL_TYPE_NULL: return "null";
        case MYSQL_TYPE_TINY_BLOB:
        case MYSQL_TYPE_MEDIUM_BLOB:
        case MYSQL_TYPE_LONG_BLOB:
        case MYSQL_TYPE_BLOB: return textName(field);
        case MYSQL_TYPE_STRING:
            if ((field.flags & ENUM_FLAG) != 0) return "enum";
            if ((field.flags & SET_FLAG) != 0) return "set";
            return isBinary(field) ? sized("binary", field.length) : sized("char", characters);
        default: return isBinary(field) ? sized("varbinary", field.length) : sized("varchar", characters);
    }
}

}  // namespace

Decoding decodingOf(const MYSQL_FIELD& field) {
    switch (field.type) {
        case MYSQL_TYPE_TINY:
        case MYSQL_TYPE_SHORT:
        case MYSQL_TYPE_INT24:
        case MYSQL_TYPE_LONG:
        case MYSQL_TYPE_LONGLONG: return (field.flags & ZEROFILL_FLAG) != 0 ? Decoding::Text : Decoding::Integer;
        case MYSQL_TYPE_BIT: return Decoding::Bits;
        case MYSQL_TYPE_GEOMETRY: return Decoding::Bytes;
        case MYSQL_TYPE_STRING:
        case MYSQL_TYPE_VAR_STRING:
        case MYSQL_TYPE_VARCHAR:
        case MYSQL_TYPE_TINY_BLOB:
        case MYSQL_TYPE_MEDIUM_BLOB:
        case MYSQL_TYPE_LONG_BLOB:
        case MYSQL_TYPE_BLOB: return isBinary(field) ? Decoding::Bytes : Decoding::Text;
        default: return Decoding::Text;
    }
}

data::Column columnOf(const MYSQL_FIELD& field) {
    data::Column column{.name = std::string(field.name, field.name_length), .typeName = baseName(field)};
    MARIADB_CONST_STRING own{};  // json, uuid, inet6, point: what the server calls it
    for (const auto which : {MARIADB_FIELD_ATTR_FORMAT_NAME, MARIADB_FIELD_ATTR_DATA_TYPE_NAME}) {
        if (mariadb_field_attr(&own, &field, which) == 0 && own.length > 0) {
            column.typeName = std::string(own.str, own.length);
        }
    }
    const bool isNumber = decodingOf(field) == Decoding::Integer || field.type == MYSQL_TYPE_NEWDECIMAL;
    if (isNumber && (field.flags & UNSIGNED_FLAG) != 0) column.typeName += " unsigned";
    column.type = data::typeFromName(column.typeName);
    if (field.type == MYSQL_TYPE_YEAR) column.type = data::ColumnType::Integer;
    if (field.type == MYSQL_TYPE_GEOMETRY) column.type = data::ColumnType::Binary;
    if (field.type == MYSQL_TYPE_BIT) column.type = data::ColumnType::Text;
    column.originTable = std::string(field.org_table, field.org_table_length);
    if (!column.originTable.empty()) column.originSchema = std::string(field.db, field.db_length);
    column.originColumn = std::string(field.org_name, field.org_name_length);
    return column;
}

TrueOrigins::TrueOrigins(std::string_view statement, sql::Language language, std::string database)
    : statement_(statement), language_(language), database_(std::move(database)) {}

bool TrueOrigins::holds(const MYSQL_FIELD& field) {
    const std::string_view table(field.org_table, field.org_table_length);
    const std::string_view alias(field.table, field.table_length);
    if (table.empty() || !base::equalsIgnoringCase(table, alias)) return true;  // only tables have both
    constexpr std::size_t kLongestRead = 64 << 10;
    if (!named_) {
        named_ = statement_.size() > kLongestRead ? std::vector<sql::NamedRelation>()
                                                  : sql::relationsNamed(statement_, language_);
    }
    const std::string_view schema(field.db, field.db_length);
    return std::ranges::any_of(*named_, [&](const sql::NamedRelation& relation) {
        const std::string& written = relation.schema.empty() ? database_ : relation.schema;
        return base::equalsIgnoringCase(relation.name, table) && base::equalsIgnoringCase(written, schema);
    });
}

}  // namespace pantry::db::mariadb
