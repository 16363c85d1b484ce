#include "core/exchange/writers/insert_writer.h"

#include <fmt/format.h>

#include <cmath>

#include "core/base/text.h"
#include "core/data/view/decimal.h"
#include "core/exchange/cell_text.h"
#include "core/sql/text/lexer.h"

namespace pantry::exchange {
namespace {

std::string qualifiedName(std::string_view table, sql::Dialect dialect) {
    std::string out;
    for (const std::string_view part : base::splitAt(table, '.')) {
        out += (out.empty() ? "" : ".") + sql::quotedName(part, dialect);
    }
    return out;
}

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
std::string definedType(const data::Column& column, sql::Dialect dialect) {
    if (column.typeName.empty()) return std::string(fallbackType(column.type));
    if (dialect != sql::Dialect::MySql) return column.typeName;
    if (column.typeName == "enum" || column.typeName == "set") return "text";
    return base::startsWithIgnoringCase(column.typeName, "timestamp") ? column.typeName + " NULL" : column.typeName;
}

std::string hexOf(std::string_view bytes) {
    std::string out;
    for (const char c : bytes) out += fmt::format("{:02X}", static_cast<unsigned char>(c));
    return out;
}

}  // namespace

void appendLiteral(std::string& out, const data::Cell& cell, const data::Column& column, sql::Dialect dialect) {
    switch (cell.kind) {
        case data::CellKind::Null: out += "NULL"; return;
        case data::CellKind::Integer: data::appendText(out, cell); return;
        case data::CellKind::Real:
            if (std::isfinite(cell.real)) {
                data::appendText(out, cell);
            } else if (dialect == sql::Dialect::Sqlite && std::isinf(cell.real)) {
                out += cell.real < 0 ? "-9e999" : "9e999";
            } else {
                out += sql::quotedString(data::toText(cell), dialect);
            }
            return;
        case data::CellKind::Text:
            if (dialect == sql::Dialect::MySql && base::startsWithIgnoringCase(column.typeName, "bit")) {
                out += "b" + sql::quotedString(cell.bytes, dialect);  // in quotes alone its digits would be characters
            } else if (dialect == sql::Dialect::Sqlite && cell.bytes.find('\0') != std::string_view::npos) {
                out += "CAST(X'" + hexOf(cell.bytes) + "' AS TEXT)";  // its reader ends a statement at a zero byte
            } else if (data::isNumeric(column.type) && data::isDecimal(cell.bytes)) {
                out += cell.bytes;
            } else {
                out += sql::quotedString(cell.bytes, dialect);
            }
            return;
        case data::CellKind::Binary: {
            const std::string hex = cellText(cell);
            out += dialect == sql::Dialect::Postgres ? "'" + hex + "'" : "X'" + hex.substr(2) + "'";
            return;
        }
    }
}

InsertWriter::InsertWriter(InsertOptions options) : options_(std::move(options)) {}

void InsertWriter::begin(const std::vector<data::Column>& columns, std::string& out) {
    const std::string table = qualifiedName(options_.table, options_.dialect);
    columns_ = columns;
    std::string names;
    std::string definitions;
    for (const data::Column& column : columns) {
        const std::string name = sql::quotedName(column.name, options_.dialect);
        names += (names.empty() ? "" : ", ") + name;
        definitions +=
            fmt::format("{}\n    {} {}", definitions.empty() ? "" : ",", name, definedType(column, options_.dialect));
    }
    if (options_.hasCreateTable) out += fmt::format("CREATE TABLE {} ({}\n);\n", table, definitions);
    opening_ = fmt::format("INSERT INTO {} ({}) VALUES\n", table, names);
}

void InsertWriter::row(const RowSource& source, std::string& out) {
    out += inStatement_ == 0 ? opening_ : std::string(",\n");
    out += "    (";
    for (std::size_t i = 0; i < source.columnCount(); ++i) {
        if (i > 0) out += ", ";
        appendLiteral(out, source.cell(i), columns_[i], options_.dialect);
    }
    out += ")";
    if (++inStatement_ < options_.batchRows) return;
    out += ";\n";
    inStatement_ = 0;
}

void InsertWriter::end(std::string& out) {
    if (inStatement_ > 0) out += ";\n";
    inStatement_ = 0;
}

}  // namespace pantry::exchange
