#pragma once

#include <cstdint>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include "core/data/store/chunk.h"
#include "core/data/store/column.h"
#include "core/exchange/writers/row_writer.h"

namespace pantry::exchange {

enum class Quoting : std::uint8_t {
    WhereNeeded,
    Texts,  ///< every text, so that a reader can tell 1 from '1'
    Everything,
};
inline constexpr std::size_t kQuotings = 3;
[[nodiscard]] std::string_view quotingWord(Quoting quoting);  ///< in files and on the command line: needed

struct CsvOptions {
    std::string delimiter = ",";  ///< one character, or several
    bool hasHeadings = true;
    std::string nullText = {};  ///< written, unquoted, for NULL; the empty string is written quoted
    Quoting quoting = Quoting::WhereNeeded;
    char quote = '"';
    char escape = '"';             ///< before a quote within quotes: the quote itself, or a backslash
    std::string lineEnd = "\r\n";  ///< as RFC 4180 has it
};

/// Delimited text after RFC 4180. Binary values are written as hexadecimal digits with \x before them.
class CsvWriter final : public RowWriter {
public:
    explicit CsvWriter(CsvOptions options);

    void begin(const std::vector<data::Column>& columns, std::string& out) override;
    void row(const RowSource& source, std::string& out) override;
    void rows(const data::Chunk& chunk, std::size_t count, ColumnOrder columns, std::string& out) override;
    void end(std::string& out) override;

private:
    struct ChunkColumnLook;
    class Pen;

    [[nodiscard]] std::size_t mostBytesOf(const data::Cell& cell) const;
    [[nodiscard]] ChunkColumnLook lookAt(const data::ChunkColumn& column) const;
    void value(Pen& pen, const ChunkColumnLook& look, std::size_t row) const;
    void cell(Pen& pen, const data::Cell& cell) const;
    void text(Pen& pen, std::string_view text, bool isSafe) const;
    void quoted(Pen& pen, std::string_view text) const;
    [[nodiscard]] bool hasSpecial(std::string_view text) const;
    [[nodiscard]] bool looksPlain(std::string_view text) const;

    CsvOptions options_;
    std::unique_ptr<char[]> room_;  // what a Pen writes into first
    std::size_t roomBytes_ = 0;
    bool numbersArePlain_ = true;  // no number, and no binary value, can be taken for something else
    char delimiterStart_ = ',';
};

}  // namespace pantry::exchange
