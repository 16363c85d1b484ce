#include "core/exchange/csv_writer.h"

#include <array>

#include "core/base/utf8.h"
#include "core/exchange/cell_text.h"

namespace pantry::exchange {
namespace {

void appendUtf16(std::string& out, std::uint32_t codePoint) {
    const auto unit = [&](std::uint32_t u) {
        out += static_cast<char>(u & 0xFF);
        out += static_cast<char>(u >> 8 & 0xFF);
    };
    if (codePoint < 0x10000) return unit(codePoint);
    unit(0xD800 + ((codePoint - 0x10000) >> 10));
    unit(0xDC00 + ((codePoint - 0x10000) & 0x3FF));
}

}  // namespace

std::string_view encodingName(Encoding encoding) {
    constexpr std::array<std::string_view, 4> kNames{"UTF-8", "UTF-8 with byte order mark", "UTF-16 (little endian)",
                                                     "Latin-1"};
    return kNames[static_cast<std::size_t>(encoding)];
}

CsvWriter::CsvWriter(CsvOptions options) : options_(std::move(options)) {
    numbersArePlain_ =
        std::string_view("0123456789+-.abcdefintyINx\\").find(options_.delimiter) == std::string_view::npos &&
        !options_.quotesEverything;
}

/// Where a line is gathered: at once behind the others when it is written as it is, else apart.
std::string& CsvWriter::lineIn(std::string& out) { return isAsItIs() ? out : line_; }

bool CsvWriter::isAsItIs() const {
    return options_.encoding == Encoding::Utf8 || options_.encoding == Encoding::Utf8WithMark;
}

void CsvWriter::begin(const std::vector<data::Column>& columns, std::string& out) {
    if (options_.encoding == Encoding::Utf8WithMark) out += "\xEF\xBB\xBF";
    if (options_.encoding == Encoding::Utf16LittleEndian) out += "\xFF\xFE";
    if (!options_.hasHeadings) return;
    std::string& line = lineIn(out);
    for (const data::Column& column : columns) field(line, column.name);
    endLine(line, out);
}

void CsvWriter::separate(std::string& line) {
    if (!isFirst_) line += options_.delimiter;
    isFirst_ = false;
}

void CsvWriter::row(const RowSource& source, std::string& out) {
    std::string& line = lineIn(out);
    const std::size_t columns = source.columnCount();
    for (std::size_t i = 0; i < columns; ++i) cell(source.cell(i), line);
    endLine(line, out);
}

/// Columns are looked through as a whole for what must be quoted; most have none of it, and their values go as they
/// are.
void CsvWriter::rows(const data::Chunk& chunk, std::size_t count, std::string& out) {
    const std::size_t columns = chunk.columnCount();
    std::vector<char> isPlain(columns);
    for (std::size_t i = 0; i < columns; ++i) {
        isPlain[i] = !options_.quotesEverything && !hasSpecial(chunk.column(i).allBytes());
    }
    std::string& line = lineIn(out);
    for (std::size_t row = 0; row < count; ++row) {
        for (std::size_t i = 0; i < columns; ++i) {
            const data::Cell value = chunk.cell(row, i);
            if (isPlain[i] != 0 && value.kind == data::CellKind::Text && looksPlain(value.bytes)) {
                separate(line);
                line += value.bytes;
            } else {
                cell(value, line);
            }
        }
        endLine(line, out);
    }
}

void CsvWriter::cell(const data::Cell& cell, std::string& line) {
    switch (cell.kind) {
        case data::CellKind::Null:
            separate(line);
            line += options_.nullText;
            break;
        case data::CellKind::Text: field(line, cell.bytes); break;
        case data::CellKind::Integer:
        case data::CellKind::Real:
            if (numbersArePlain_ && options_.nullText.empty()) {
                separate(line);
                data::appendText(line, cell);
                break;
            }
            scratch_.clear();
            data::appendText(scratch_, cell);
            field(line, scratch_);
            break;
        case data::CellKind::Binary:
            if (numbersArePlain_ && options_.nullText.empty()) {
                separate(line);
                appendHex(line, cell.bytes);
                break;
            }
            scratch_.clear();
            appendHex(scratch_, cell.bytes);
            field(line, scratch_);
            break;
    }
}

void CsvWriter::end(std::string&) {}

bool CsvWriter::hasSpecial(std::string_view text) const {
    // Without a way out of the loop the compiler looks at many bytes at a time.
    const char delimiter = options_.delimiter;
    unsigned char special = 0;
    for (const char c : text) {
        special |= static_cast<unsigned char>((c == delimiter) | (c == '"') | (c == '\r') | (c == '\n'));
    }
    return special != 0;
}

/// Whether a text without special characters can stand unquoted.
bool CsvWriter::looksPlain(std::string_view text) const {
    return !text.empty() && text.front() != ' ' && text.back() != ' ' && text != options_.nullText;
}

/// Quotes what a reader could take for something else: delimiters, quotes, line breaks, blanks at the ends, the
/// empty string and a text that looks like the one for NULL.
bool CsvWriter::needsQuotes(std::string_view text) const {
    return options_.quotesEverything || !looksPlain(text) || hasSpecial(text);
}

void CsvWriter::field(std::string& line, std::string_view text) {
    separate(line);
    if (!needsQuotes(text)) {
        line += text;
        return;
    }
    line += '"';
    for (std::size_t quote = text.find('"'); quote != std::string_view::npos; quote = text.find('"')) {
        line.append(text.substr(0, quote + 1)) += '"';
        text.remove_prefix(quote + 1);
    }
    line.append(text) += '"';
}

void CsvWriter::endLine(std::string& line, std::string& out) {
    line += options_.lineEnd;
    isFirst_ = true;
    switch (options_.encoding) {
        case Encoding::Utf8:
        case Encoding::Utf8WithMark: return;  // it is there already
        case Encoding::Utf16LittleEndian:
        case Encoding::Latin1:
            for (std::size_t i = 0; i < line_.size();) {
                const base::CodePoint point = base::decodeAt(line_, i);
                i += point.length;
                if (options_.encoding == Encoding::Utf16LittleEndian) {
                    appendUtf16(out, point.value);
                } else if (point.value < 0x100) {
                    out += static_cast<char>(point.value);
                } else {
                    out += '?';
                    ++lost_;
                }
            }
            break;
    }
    line_.clear();
}

}  // namespace pantry::exchange
