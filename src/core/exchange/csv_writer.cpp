#include "core/exchange/csv_writer.h"

#include <array>

#include "core/base/utf8.h"

namespace pantry::exchange {
namespace {

constexpr std::string_view kHexDigits = "0123456789abcdef";

void appendHex(std::string& out, std::string_view bytes) {
    out += "\\x";
    for (const char c : bytes) {
        const auto byte = static_cast<unsigned char>(c);
        out += kHexDigits[byte >> 4];
        out += kHexDigits[byte & 15];
    }
}

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
    for (const char c : {options_.delimiter, '"', '\r', '\n'}) isSpecial_[static_cast<unsigned char>(c)] = true;
}

void CsvWriter::begin(const std::vector<data::Column>& columns, std::string& out) {
    if (options_.encoding == Encoding::Utf8WithMark) out += "\xEF\xBB\xBF";
    if (options_.encoding == Encoding::Utf16LittleEndian) out += "\xFF\xFE";
    if (!options_.hasHeadings) return;
    for (const data::Column& column : columns) field(column.name);
    flush(out);
}

void CsvWriter::separate() {
    if (!isFirst_) line_ += options_.delimiter;
    isFirst_ = false;
}

void CsvWriter::row(const RowSource& source, std::string& out) {
    for (std::size_t i = 0; i < source.columnCount(); ++i) {
        const data::Cell cell = source.cell(i);
        switch (cell.kind) {
            case data::CellKind::Null:
                separate();
                line_ += options_.nullText;
                break;
            case data::CellKind::Text: field(cell.bytes); break;
            case data::CellKind::Integer:
            case data::CellKind::Real:
                scratch_.clear();
                data::appendText(scratch_, cell);
                field(scratch_);
                break;
            case data::CellKind::Binary:
                scratch_.clear();
                appendHex(scratch_, cell.bytes);
                field(scratch_);
                break;
        }
    }
    flush(out);
}

void CsvWriter::end(std::string&) {}

/// Quotes what a reader could take for something else: delimiters, quotes, line breaks, blanks at the ends, the
/// empty string and a text that looks like the one for NULL.
bool CsvWriter::needsQuotes(std::string_view text) const {
    if (options_.quotesEverything || text.empty() || text.front() == ' ' || text.back() == ' ') return true;
    for (const char c : text) {
        if (isSpecial_[static_cast<unsigned char>(c)]) return true;
    }
    return text == options_.nullText;
}

void CsvWriter::field(std::string_view text) {
    separate();
    if (!needsQuotes(text)) {
        line_ += text;
        return;
    }
    line_ += '"';
    for (const char c : text) {
        if (c == '"') line_ += '"';
        line_ += c;
    }
    line_ += '"';
}

void CsvWriter::flush(std::string& out) {
    line_ += options_.lineEnd;
    isFirst_ = true;
    switch (options_.encoding) {
        case Encoding::Utf8:
        case Encoding::Utf8WithMark: out += line_; break;
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
