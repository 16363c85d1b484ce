#include "core/exchange/writers/csv_writer.h"

#include <algorithm>
#include <array>
#include <charconv>

#include "core/base/short_copy.h"
#include "core/exchange/cell_text.h"

namespace pantry::exchange {
namespace {

constexpr std::size_t kRowsAtOnce = 256;     // as many as stay near the processor
constexpr std::size_t kMaxNumberBytes = 40;  // a double in its longest form, with quotes, and more

}  // namespace

std::string_view quotingWord(Quoting quoting) {
    constexpr std::array<std::string_view, kQuotings> kWords{"needed", "texts", "all"};
    return kWords[static_cast<std::size_t>(quoting)];
}

/// Writes into memory that is known to be large enough: asking for room at each value takes as long as writing it. The
/// memory is the writer's, and what was written goes to `out` in one piece: a string would clear all its room first.
class CsvWriter::Pen {
public:
    Pen(CsvWriter& writer, std::string& out, std::size_t room) : out_(out) {
        if (room > writer.roomBytes_) {
            writer.room_ = std::make_unique_for_overwrite<char[]>(room);
            writer.roomBytes_ = room;
        }
        start_ = writer.room_.get();
        at_ = start_;
    }
    ~Pen() { out_.append(start_, at_); }
    Pen(const Pen&) = delete;
    Pen& operator=(const Pen&) = delete;

    void put(char c) { *at_++ = c; }
    void put(std::string_view text) {
        base::copyShort(at_, text.data(), text.size());
        at_ += text.size();
    }
    void put(std::int64_t number) { at_ = std::to_chars(at_, at_ + kMaxNumberBytes, number).ptr; }
    void putHex(std::string_view bytes) { at_ = writeHex(at_, bytes); }

private:
    std::string& out_;
    char* start_;
    char* at_;
};

/// What is known of a whole column before its values are written one by one.
struct CsvWriter::ChunkColumnLook {
    enum class Kind { PlainIntegers, SafeTexts, Any };
    const data::ChunkColumn* column = nullptr;
    Kind kind = Kind::Any;
};

CsvWriter::ChunkColumnLook CsvWriter::lookAt(const data::ChunkColumn& column) const {
    using Kind = ChunkColumnLook::Kind;
    if (column.isPlainIntegers() && numbersArePlain_) return {&column, Kind::PlainIntegers};
    const bool isSafe = column.isPlainTexts() && options_.quoting == Quoting::WhereNeeded &&
                        !hasSpecial(column.allBytes());  // no text in it holds a character that asks for quotes
    return {&column, isSafe ? Kind::SafeTexts : Kind::Any};
}

void CsvWriter::value(Pen& pen, const ChunkColumnLook& look, std::size_t row) const {
    using Kind = ChunkColumnLook::Kind;
    if (look.kind == Kind::Any) return cell(pen, look.column->cell(row));
    if (look.column->isNull(row)) return pen.put(options_.nullText);
    if (look.kind == Kind::PlainIntegers) return pen.put(look.column->integerAt(row));
    text(pen, look.column->bytesAt(row), true);
}

CsvWriter::CsvWriter(CsvOptions options) : options_(std::move(options)) {
    if (options_.delimiter.empty()) options_.delimiter = ",";
    delimiterStart_ = options_.delimiter.front();
    constexpr std::string_view kOfNumbers = "0123456789+-.abcdefintyINx\\";
    const auto isOfNumbers = [&](char c) { return kOfNumbers.find(c) != std::string_view::npos; };
    numbersArePlain_ = !isOfNumbers(delimiterStart_) && !isOfNumbers(options_.escape) &&
                       options_.quoting != Quoting::Everything && options_.nullText.empty();
}

void CsvWriter::begin(const std::vector<data::Column>& columns, std::string& out) {
    if (!options_.hasHeadings) return;
    std::size_t room = options_.lineEnd.size();
    for (const data::Column& column : columns) room += 2 * column.name.size() + 2 + options_.delimiter.size();
    Pen pen(*this, out, room);
    for (std::size_t i = 0; i < columns.size(); ++i) {
        if (i > 0) pen.put(options_.delimiter);
        text(pen, columns[i].name, false);
    }
    pen.put(options_.lineEnd);
}

/// What a cell takes at most, with quotes and a delimiter.
std::size_t CsvWriter::mostBytesOf(const data::Cell& cell) const {
    return std::max({2 * cell.bytes.size() + 4, kMaxNumberBytes, options_.nullText.size()}) + options_.delimiter.size();
}

void CsvWriter::row(const RowSource& source, std::string& out) {
    const std::size_t columns = source.columnCount();
    std::size_t room = options_.lineEnd.size();
    for (std::size_t i = 0; i < columns; ++i) room += mostBytesOf(source.cell(i));
    Pen pen(*this, out, room);
    for (std::size_t i = 0; i < columns; ++i) {
        if (i > 0) pen.put(options_.delimiter);
        cell(pen, source.cell(i));
    }
    pen.put(options_.lineEnd);
}

/// Columns are looked through as a whole for what must be quoted; most have none of it, and their values go as they
/// are.
void CsvWriter::rows(const data::Chunk& chunk, std::size_t count, ColumnOrder columns, std::string& out) {
    std::vector<ChunkColumnLook> looks;
    for (const std::size_t i : columns) looks.push_back(lookAt(chunk.column(i)));
    for (std::size_t first = 0; first < count; first += kRowsAtOnce) {
        const std::size_t last = std::min(first + kRowsAtOnce, count);
        const std::size_t each = std::max(kMaxNumberBytes, options_.nullText.size()) + options_.delimiter.size() + 4;
        std::size_t room = (last - first) * (options_.lineEnd.size() + looks.size() * each);
        for (const ChunkColumnLook& look : looks) room += 2 * look.column->bytesOfRows(first, last);
        Pen pen(*this, out, room);
        for (std::size_t row = first; row < last; ++row) {
            for (std::size_t i = 0; i < looks.size(); ++i) {
                if (i > 0) pen.put(options_.delimiter);
                value(pen, looks[i], row);
            }
            pen.put(options_.lineEnd);
        }
    }
}

void CsvWriter::cell(Pen& pen, const data::Cell& cell) const {
    switch (cell.kind) {
        case data::CellKind::Null: pen.put(options_.nullText); break;
        case data::CellKind::Text: text(pen, cell.bytes, false); break;
        case data::CellKind::Integer:
            if (numbersArePlain_) return pen.put(cell.integer);
            [[fallthrough]];
        case data::CellKind::Real: {
            const std::string number = data::toText(cell);
            if (options_.quoting != Quoting::Everything && !hasSpecial(number) && number != options_.nullText) {
                pen.put(number);
            } else {
                quoted(pen, number);
            }
            break;
        }
        case data::CellKind::Binary:
            if (numbersArePlain_) return pen.putHex(cell.bytes);
            text(pen, cellText(cell), false);
            break;
    }
}

void CsvWriter::end(std::string&) {}

bool CsvWriter::hasSpecial(std::string_view text) const {
    // Without a way out of the loop the compiler looks at many bytes at a time.
    const char delimiter = delimiterStart_;
    const char quote = options_.quote;
    const char escape = options_.escape;
    unsigned char special = 0;
    for (const char c : text) {
        special |=
            static_cast<unsigned char>((c == delimiter) | (c == quote) | (c == escape) | (c == '\r') | (c == '\n'));
    }
    return special != 0;
}

/// Whether a text without special characters can stand unquoted.
bool CsvWriter::looksPlain(std::string_view text) const {
    return !text.empty() && text.front() != ' ' && text.back() != ' ' &&
           (options_.nullText.empty() || text != options_.nullText);
}

/// Quotes what a reader could take for something else: delimiters, quotes, line breaks, blanks at the ends, the
/// empty string and a text that looks like the one for NULL. `isSafe`: it is known to hold nothing special.
void CsvWriter::text(Pen& pen, std::string_view text, bool isSafe) const {
    const bool isPlain = options_.quoting == Quoting::WhereNeeded && looksPlain(text) && (isSafe || !hasSpecial(text));
    if (isPlain) return pen.put(text);
    quoted(pen, text);
}

void CsvWriter::quoted(Pen& pen, std::string_view text) const {
    pen.put(options_.quote);
    const bool isDoubled = options_.escape == options_.quote;
    const auto next = [&] {  // npos is the largest
        const std::size_t quote = text.find(options_.quote);
        return isDoubled ? quote : std::min(quote, text.find(options_.escape));
    };
    for (std::size_t at = next(); at != std::string_view::npos; at = next()) {
        pen.put(text.substr(0, at));
        pen.put(options_.escape);
        pen.put(text[at]);
        text.remove_prefix(at + 1);
    }
    pen.put(text);
    pen.put(options_.quote);
}

}  // namespace pantry::exchange
