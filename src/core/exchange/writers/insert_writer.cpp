#include "core/exchange/writers/insert_writer.h"

#include "core/sql/write/insert_statements.h"
#include "core/sql/write/literals.h"
#include "core/sql/write/names.h"

namespace pantry::exchange {

InsertWriter::InsertWriter(InsertOptions options) : options_(std::move(options)) {}

void InsertWriter::begin(const std::vector<data::Column>& columns, std::string& out) {
    const std::string table = sql::dottedName(options_.table, options_.dialect);
    columns_ = columns;
    if (options_.hasCreateTable) out += sql::createTableLike(table, columns, options_.dialect) + ";\n";
    opening_ = sql::insertOpening(table, columns, options_.dialect) + "\n";
}

void InsertWriter::row(const RowSource& source, std::string& out) {
    out += inStatement_ == 0 ? opening_ : std::string(",\n");
    out += "    (";
    for (std::size_t i = 0; i < source.columnCount(); ++i) {
        if (i > 0) out += ", ";
        sql::appendLiteral(out, source.cell(i), columns_[i], options_.dialect);
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
