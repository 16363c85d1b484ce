#include "core/sql/write/literals.h"

#include <cmath>

#include "core/base/hex.h"
#include "core/base/text.h"
#include "core/data/view/decimal.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

std::string hexOf(std::string_view bytes) {
    std::string out;
    base::appendHexDigits(out, bytes);
    return out;
}

}  // namespace

void appendLiteral(std::string& out, const data::Cell& cell, const data::Column& column, Dialect dialect) {
    switch (cell.kind) {
        case data::CellKind::Null: out += "NULL"; return;
        case data::CellKind::Integer: data::appendText(out, cell); return;
        case data::CellKind::Real:
            if (std::isfinite(cell.real)) {
                data::appendText(out, cell);
            } else if (dialect == Dialect::Sqlite && std::isinf(cell.real)) {
                out += cell.real < 0 ? "-9e999" : "9e999";
            } else {
                out += quotedString(data::toText(cell), dialect);
            }
            return;
        case data::CellKind::Text:
            if (dialect == Dialect::MySql && base::startsWithIgnoringCase(column.typeName, "bit")) {
                out += "b" + quotedString(cell.bytes, dialect);  // in quotes alone its digits would be characters
            } else if (dialect == Dialect::Sqlite && cell.bytes.find('\0') != std::string_view::npos) {
                out += "CAST(X'" + hexOf(cell.bytes) + "' AS TEXT)";  // its reader ends a statement at a zero byte
            } else if (data::isNumeric(column.type) && data::isDecimal(cell.bytes)) {
                out += cell.bytes;
            } else {
                out += quotedString(cell.bytes, dialect);
            }
            return;
        case data::CellKind::Binary: {
            const std::string hex = hexOf(cell.bytes);
            out += dialect == Dialect::Postgres ? "'\\x" + hex + "'" : "X'" + hex + "'";
            return;
        }
    }
}

}  // namespace pantry::sql
