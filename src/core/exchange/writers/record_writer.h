#pragma once

#include "core/exchange/writers/row_writer.h"

namespace pantry::exchange {

/// Each row as names and values, a line each, the names aligned; line breaks within values are kept and indented.
class RecordWriter final : public RowWriter {
public:
    void begin(const std::vector<data::Column>& columns, std::string& out) override;
    void row(const RowSource& source, std::string& out) override;
    void end(std::string& out) override;

private:
    std::vector<std::string> names_;  // padded to one width
    std::size_t width_ = 0;
    std::size_t rows_ = 0;
};

}  // namespace pantry::exchange
