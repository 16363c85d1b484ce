#pragma once

#include "core/exchange/writers/row_writer.h"
#include "core/sql/text/dialect.h"

namespace pantry::exchange {

struct InsertOptions {
    sql::Dialect dialect = sql::Dialect::Ansi;
    std::string table = "rows";   ///< its name, unquoted; a schema may stand before it with a dot
    std::size_t batchRows = 100;  ///< rows in one statement
    bool hasCreateTable = false;  ///< begins with a CREATE TABLE of the same columns
};

/// INSERT statements that make the same rows again: names and values quoted for their engine, numbers exact.
class InsertWriter final : public RowWriter {
public:
    explicit InsertWriter(InsertOptions options);

    void begin(const std::vector<data::Column>& columns, std::string& out) override;
    void row(const RowSource& source, std::string& out) override;
    void end(std::string& out) override;

private:
    InsertOptions options_;
    std::vector<data::Column> columns_;
    std::string opening_;
    std::size_t inStatement_ = 0;
};

}  // namespace pantry::exchange
