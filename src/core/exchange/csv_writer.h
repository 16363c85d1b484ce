#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/data/chunk.h"
#include "core/data/column.h"
#include "core/exchange/row_writer.h"

namespace pantry::exchange {

enum class Encoding { Utf8, Utf8WithMark, Utf16LittleEndian, Latin1 };
[[nodiscard]] std::string_view encodingName(Encoding encoding);

struct CsvOptions {
    char delimiter = ',';
    bool hasHeadings = true;
    std::string nullText;           ///< written, unquoted, for NULL; the empty string is written quoted
    bool quotesEverything = false;  ///< otherwise only what needs it
    std::string lineEnd = "\r\n";   ///< as RFC 4180 has it
    Encoding encoding = Encoding::Utf8;
};

/// Delimited text after RFC 4180. Binary values are written as hexadecimal digits with \x before them.
/// In Latin-1 a character that it lacks becomes a question mark; lostCharacters() counts them.
class CsvWriter final : public RowWriter {
public:
    explicit CsvWriter(CsvOptions options);

    void begin(const std::vector<data::Column>& columns, std::string& out) override;
    void row(const RowSource& source, std::string& out) override;
    void rows(const data::Chunk& chunk, std::size_t count, std::string& out) override;
    void end(std::string& out) override;

    [[nodiscard]] std::size_t lostCharacters() const override { return lost_; }

private:
    [[nodiscard]] bool isAsItIs() const;
    [[nodiscard]] std::string& lineIn(std::string& out);
    void cell(const data::Cell& cell, std::string& line);
    void separate(std::string& line);
    void field(std::string& line, std::string_view text);
    [[nodiscard]] bool hasSpecial(std::string_view text) const;
    [[nodiscard]] bool needsQuotes(std::string_view text) const;
    [[nodiscard]] bool looksPlain(std::string_view text) const;
    void endLine(std::string& line, std::string& out);

    CsvOptions options_;
    bool numbersArePlain_ = true;  // no number, and no binary value, can be taken for something else
    std::string line_;
    std::string scratch_;
    std::size_t lost_ = 0;
    bool isFirst_ = true;
};

}  // namespace pantry::exchange
