#include "core/exchange/writers/workbook_writer.h"

#include <fmt/format.h>
#include <unistd.h>
#include <xlsxwriter.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <optional>

#include "core/base/file.h"
#include "core/base/joined.h"
#include "core/base/late_library.h"
#include "core/base/text.h"
#include "core/base/utf8.h"
#include "core/data/view/decimal.h"
#include "core/data/view/typed_text.h"
#include "core/exchange/cell_text.h"

namespace pantry::exchange {
namespace {

constexpr std::size_t kMaxCharacters = 32767;  // of a cell
constexpr std::size_t kRowsThatSetWidths = 100;
constexpr std::size_t kNarrowest = 8;
constexpr std::size_t kWidest = 60;
constexpr std::size_t kMaxDigits = 15;                       // that a number of a workbook keeps
constexpr std::int64_t kMaxInteger = std::int64_t{1} << 53;  // beyond it a double skips numbers
constexpr double kUnixEpochDay = 25569;                      // 1970-01-01 as a workbook counts days
constexpr double kFirstSafeDay = 61;                         // 1900-03-01: before it some programs count a day too many
constexpr double kLastDay = 2958466;                         // 10000-01-01
constexpr std::int64_t kDayMicroseconds = 86'400'000'000;

/// A name that workbooks allow: at most 31 characters and none of []:*?/\ .
std::string sheetNameOf(std::string_view name, std::size_t number) {
    std::string out;
    std::size_t characters = 0;
    const std::string tail = number > 1 ? fmt::format(" {}", number) : "";
    for (std::size_t i = 0; i < name.size() && characters + tail.size() < 31;) {
        const base::CodePoint point = base::decodeAt(name, i);
        i += point.length;
        const bool isForbidden =
            point.value < 0x20 ||
            (point.value < 0x80 &&
             std::string_view("[]:*?/\\'").find(static_cast<char>(point.value)) != std::string_view::npos);
        base::appendUtf8(out, isForbidden ? ' ' : point.value);
        ++characters;
    }
    if (out.find_first_not_of(' ') == std::string::npos) out = "Rows";
    return out + tail;
}

bool isHexDigits(std::string_view text) {
    return text.find_first_not_of("0123456789abcdefABCDEF") == std::string_view::npos;
}

/// A text as a workbook keeps it: what looks like its own escape _x0041_ is escaped, bytes that are no UTF-8 become
/// U+FFFD. `isCut` tells that it was too long.
std::string cellString(std::string_view text, bool& isCut) {
    std::string out;
    std::size_t characters = 0;
    for (std::size_t i = 0; i < text.size(); ++characters) {
        if (characters == kMaxCharacters) {
            isCut = true;
            break;
        }
        const bool looksEscaped = text[i] == '_' && i + 6 < text.size() && text[i + 1] == 'x' && text[i + 6] == '_' &&
                                  isHexDigits(text.substr(i + 2, 4));
        const base::CodePoint point = base::decodeAt(text, i);
        i += point.length;
        if (looksEscaped) {
            out += "_x005F_";
        } else {
            base::appendUtf8(out, point.value == 0 ? 0xFFFD : point.value);  // texts of the library end at a zero
        }
    }
    return out;
}

/// Whether a number as text is what a cell of a workbook keeps of it: zeros at its end say nothing.
bool isExactNumber(std::string_view text) {
    if (text.find_first_of("eE") != std::string_view::npos) return false;
    const std::size_t first = text.find_first_of("123456789");
    if (first == std::string_view::npos) return true;
    std::string_view digits = text.substr(first);
    if (digits.find('.') != std::string_view::npos || text.find('.') < first) {
        digits = digits.substr(0, digits.find_last_not_of('0') + 1);
    }
    const auto count = std::ranges::count_if(digits, [](char c) { return base::isAsciiDigit(c); });
    return static_cast<std::size_t>(count) <= kMaxDigits;
}

/// The library writes sixteen digits, of which not every double comes back.
double asWritten(double value, bool& isRounded) {
    std::array<char, 40> text{};
    std::snprintf(text.data(), text.size(), "%.16G", value);
    const double back = std::strtod(text.data(), nullptr);
    isRounded = back != value;
    if (std::isfinite(back)) return value;
    constexpr double kLargestWritten = 1.797693134862315e308;  // the one above it would become infinite
    return std::copysign(kLargestWritten, value);
}

std::size_t decimalsOf(std::string_view text) {
    const std::size_t point = text.find('.');
    return point == std::string_view::npos ? 0 : text.size() - point - 1;
}

/// A date or timestamp without its zone, which workbooks do not have; nothing for what is none.
struct PlainMoment {
    std::string_view text;
    bool hadZone = false;
    bool hasFraction = false;
};
std::optional<PlainMoment> plainMoment(std::string_view text) {
    constexpr std::size_t kDay = 10;
    constexpr std::size_t kSecond = 19;
    if (text.size() < kDay || text[4] != '-' || text[7] != '-') return std::nullopt;
    if (text.size() == kDay) return PlainMoment{text};
    if (text.size() < kSecond || text[13] != ':' || text[16] != ':') return std::nullopt;
    std::size_t end = kSecond;
    if (end < text.size() && text[end] == '.') {
        end = std::min(text.find_first_not_of("0123456789", end + 1), text.size());
    }
    const std::string_view zone = text.substr(end);
    if (zone.find_first_not_of("+-:0123456789Z") != std::string_view::npos) return std::nullopt;
    return PlainMoment{text.substr(0, end), !zone.empty(), end > kSecond};
}

Error bookError(lxw_error error) {
    std::string_view why = lxw_strerror(error);
    while (why.ends_with('.')) why.remove_suffix(1);
    return {
        .kind = ErrorKind::Io,
        .message = fmt::format("The workbook could not be written: {}.", why),
        .hint = "Rows of a workbook wait in the folder for temporary files until its end; look whether it is full."};
}

}  // namespace

class WorkbookWriter::Book {
public:
    Book(std::string sheetName, const WorkbookOptions& options)
        : sheetName_(std::move(sheetName)),
          hasHeadings_(options.hasHeadings),
          isInexactText_(options.isInexactText),
          rowsPerSheet_(std::clamp<std::size_t>(options.rowsPerSheet, 2, kMaxRows)) {}
    ~Book() {
        if (book_ != nullptr) lxw_workbook_free(book_);  // nobody wants the file any more
        if (!path_.empty()) ::unlink(path_.c_str());
    }
    Book(const Book&) = delete;
    Book& operator=(const Book&) = delete;

    void begin(const std::vector<data::Column>& columns) {
        if (columns.size() > kMaxColumns) {
            return fail({.kind = ErrorKind::InvalidInput,
                         .message = fmt::format("A workbook holds at most {} columns, and there are {}.", kMaxColumns,
                                                columns.size())});
        }
        if (Status there = base::loadLibrary(LATE_XLSXWRITER); !there) return fail(there.error());
        std::error_code problem;
        std::string path = (std::filesystem::temp_directory_path(problem) / "agile-pantry-XXXXXX").string();
        if (problem) return fail(base::fileError(problem.value(), "use the folder for temporary files", "$TMPDIR"));
        const int descriptor = ::mkstemp(path.data());
        if (descriptor < 0) return fail(base::fileError(errno, "write", path));
        path_ = std::move(path);
        ::close(descriptor);
        columns_ = columns;
        widths_.assign(columns.size(), kNarrowest);
        lxw_workbook_options options{};
        options.constant_memory = LXW_TRUE;
        book_ = workbook_new_opt(path_.c_str(), &options);
        if (book_ == nullptr) return fail(bookError(LXW_ERROR_MEMORY_MALLOC_FAILED));
        heading_ = workbook_add_format(book_);
        format_set_bold(heading_);
        day_ = formatOf("yyyy-mm-dd");
        moment_ = formatOf("yyyy-mm-dd hh:mm:ss");
        momentWithFraction_ = formatOf("yyyy-mm-dd hh:mm:ss.000");
        clock_ = formatOf("hh:mm:ss");
        clockWithFraction_ = formatOf("hh:mm:ss.000");
        span_ = formatOf("[h]:mm:ss");
        addSheet();
    }

    void row(const RowSource& source) {
        if (!status_ || book_ == nullptr) return;
        if (row_ == rowsPerSheet_) addSheet();
        if (sheet_ == nullptr) return;
        for (std::size_t i = 0; i < columns_.size(); ++i) put(source.cell(i), i);
        ++row_;
        ++rows_;
        if (rows_ == kRowsThatSetWidths) setWidths();
        if (rows_ % 1024 == 0) check();
    }

    void end() {
        if (book_ == nullptr) return;
        setWidths();
        check();
        lxw_workbook* book = std::exchange(book_, nullptr);
        const lxw_error error = workbook_close(book);
        if (error != LXW_NO_ERROR) fail(bookError(error));
    }

    Status handOver(const std::function<Status(std::string_view)>& take) {
        if (!status_) return status_;
        std::FILE* file = std::fopen(path_.c_str(), "rb");
        if (file == nullptr) return base::fileError(errno, "read", path_);
        std::array<char, 1 << 16> piece;
        Status taken;
        while (taken) {
            const std::size_t count = std::fread(piece.data(), 1, piece.size(), file);
            if (count == 0) break;
            taken = take({piece.data(), count});
        }
        const bool isBroken = std::ferror(file) != 0;
        std::fclose(file);
        if (taken && isBroken) return base::fileError(EIO, "read", path_);
        return taken;
    }

    [[nodiscard]] const Status& status() const { return status_; }
    [[nodiscard]] std::size_t cutTexts() const { return cutTexts_; }
    [[nodiscard]] std::size_t roundedNumbers() const { return roundedNumbers_; }
    [[nodiscard]] std::size_t lostZones() const { return lostZones_; }
    [[nodiscard]] std::size_t largeIntegers() const { return largeIntegers_; }
    [[nodiscard]] std::size_t sheets() const { return sheets_.size(); }

private:
    void fail(Error error) {
        if (status_) status_ = std::move(error);
    }

    lxw_format* formatOf(const char* numberFormat) {
        lxw_format* format = workbook_add_format(book_);
        format_set_num_format(format, numberFormat);
        return format;
    }

    /// Numbers keep as many decimals as they were sent with, zeros at their end included.
    lxw_format* decimalsFormat(std::size_t decimals) {
        if (decimals == 0) return nullptr;
        lxw_format*& format = decimals_[std::min(decimals, kMaxDigits)];
        if (format == nullptr) format = formatOf(("0." + std::string(decimals, '0')).c_str());
        return format;
    }

    void addSheet() {
        sheet_ = workbook_add_worksheet(book_, sheetNameOf(sheetName_, sheets_.size() + 1).c_str());
        row_ = 0;
        if (sheet_ == nullptr) return fail(bookError(LXW_ERROR_MEMORY_MALLOC_FAILED));
        sheets_.push_back(sheet_);
        if (!hasHeadings_) return;
        bool isCut = false;
        for (std::size_t i = 0; i < columns_.size(); ++i) {
            const std::string name = cellString(columns_[i].name, isCut);
            worksheet_write_string(sheet_, 0, static_cast<lxw_col_t>(i), name.c_str(), heading_);
            widen(i, base::displayWidth(name) + 1);
        }
        worksheet_freeze_panes(sheet_, 1, 0);
        row_ = 1;
    }

    void widen(std::size_t column, std::size_t width) {
        if (rows_ < kRowsThatSetWidths) widths_[column] = std::clamp(width, widths_[column], kWidest);
    }

    void setWidths() {
        for (lxw_worksheet* sheet : sheets_) {
            for (std::size_t i = 0; i < columns_.size(); ++i) {
                const auto column = static_cast<lxw_col_t>(i);
                worksheet_set_column(sheet, column, column, static_cast<double>(widths_[i]) + 1, nullptr);
            }
        }
    }

    /// The library does not say when its waiting rows could not be written.
    void check() {
        for (lxw_worksheet* sheet : sheets_) {
            std::FILE* file = sheet->optimize_tmpfile;
            if (file == nullptr) continue;
            if (std::fflush(file) != 0 || std::ferror(file) != 0) fail(bookError(LXW_ERROR_CREATING_TMPFILE));
        }
    }

    void put(const data::Cell& cell, std::size_t column) {
        switch (cell.kind) {
            case data::CellKind::Null: return;
            case data::CellKind::Integer: return putInteger(cell.integer, column);
            case data::CellKind::Real: return putReal(cell, column);
            case data::CellKind::Binary: return putText(cellText(cell), column);
            case data::CellKind::Text: return putTyped(cell.bytes, column);
        }
    }

    void putInteger(std::int64_t value, std::size_t column) {
        if (columns_[column].type == data::ColumnType::Boolean && (value == 0 || value == 1)) {
            return putBoolean(value == 1, column);
        }
        // A number that is too large to count with is a key, which must not change.
        if (value > kMaxInteger || value < -kMaxInteger) {
            ++largeIntegers_;
            return putText(fmt::to_string(value), column);
        }
        putNumber(static_cast<double>(value), column, nullptr);
        widen(column, fmt::formatted_size("{}", value));
    }

    void putReal(const data::Cell& cell, std::size_t column) {
        if (!std::isfinite(cell.real)) return putText(data::toText(cell), column);
        putDouble(cell.real, data::toText(cell), column, nullptr);
        widen(column, 12);
    }

    /// A number that a cell may keep only nearly; `text` is what stands there when that is not wanted.
    void putDouble(double value, const std::string& text, std::size_t column, lxw_format* format) {
        bool isRounded = false;
        const double written = asWritten(value, isRounded);
        if (isRounded && isInexactText_) return putText(text, column);
        roundedNumbers_ += isRounded ? 1 : 0;
        putNumber(written, column, format);
    }

    void putTyped(std::string_view text, std::size_t column) {
        const data::ColumnType type = columns_[column].type;
        if (data::isNumeric(type) && data::isDecimal(text)) return putDecimal(text, column);
        const bool isMoment = type == data::ColumnType::Date || type == data::ColumnType::Timestamp;
        if (isMoment && putMoment(text, column)) return widen(column, text.size());
        if (type == data::ColumnType::Time && putTime(text, column)) return widen(column, text.size());
        if (type == data::ColumnType::Boolean) {
            if (const auto value = data::booleanIn(text)) return putBoolean(*value, column);
        }
        putText(text, column);
    }

    void putDecimal(std::string_view text, std::size_t column) {
        const auto value = data::doubleIn(text);
        const bool isWhole = text.find_first_of(".eE") == std::string_view::npos;
        const bool isFinite = value && std::isfinite(*value);
        const bool isExact = isExactNumber(text);
        const bool isKey = isWhole && isFinite && !isExact && std::abs(*value) > static_cast<double>(kMaxInteger);
        largeIntegers_ += isKey ? 1 : 0;
        // Doubles as text are what they are; a decimal of more digits is rounded.
        const bool isBinary = columns_[column].type == data::ColumnType::Real;
        if (!isFinite || isKey || (!isExact && !isBinary && isInexactText_)) return putText(text, column);
        if (!isExact && !isBinary) ++roundedNumbers_;
        lxw_format* format = isExact ? decimalsFormat(decimalsOf(text)) : nullptr;
        if (isBinary) {
            putDouble(*value, std::string(text), column, format);
        } else {
            putNumber(*value, column, format);
        }
        widen(column, std::min<std::size_t>(text.size(), kMaxDigits + 3));
    }

    bool putMoment(std::string_view text, std::size_t column) {
        const auto plain = plainMoment(text);
        if (!plain || (plain->hadZone && isInexactText_)) return false;
        const auto moment = data::momentIn(plain->text);
        if (!moment) return false;
        const double day = static_cast<double>(*moment) / static_cast<double>(kDayMicroseconds) + kUnixEpochDay;
        if (day < kFirstSafeDay || day >= kLastDay) return false;
        lostZones_ += plain->hadZone ? 1 : 0;
        constexpr std::size_t kDay = 10;
        putNumber(day, column, plain->text.size() <= kDay ? day_ : plain->hasFraction ? momentWithFraction_ : moment_);
        return true;
    }

    /// A time of day, or a span of hours; one below zero stays a text, since workbooks show none.
    bool putTime(std::string_view text, std::size_t column) {
        const auto time = data::clockTimeIn(text);
        const bool isPlain = text.find_first_not_of("0123456789:.") == std::string_view::npos;
        if (!time || !isPlain || *time < 0) return false;
        const bool hasFraction = text.find('.') != std::string_view::npos;
        putNumber(static_cast<double>(*time) / static_cast<double>(kDayMicroseconds), column,
                  *time >= kDayMicroseconds ? span_
                  : hasFraction             ? clockWithFraction_
                                            : clock_);
        return true;
    }

    void putNumber(double value, std::size_t column, lxw_format* format) {
        note(worksheet_write_number(sheet_, static_cast<lxw_row_t>(row_), static_cast<lxw_col_t>(column), value,
                                    format));
    }
    void putBoolean(bool value, std::size_t column) {
        note(worksheet_write_boolean(sheet_, static_cast<lxw_row_t>(row_), static_cast<lxw_col_t>(column),
                                     value ? 1 : 0, nullptr));
    }
    void putText(std::string_view text, std::size_t column) {
        bool isCut = false;
        const std::string cell = cellString(text, isCut);
        cutTexts_ += isCut ? 1 : 0;
        widen(column, base::displayWidth(std::string_view(cell).substr(0, cell.find('\n'))));
        note(worksheet_write_string(sheet_, static_cast<lxw_row_t>(row_), static_cast<lxw_col_t>(column), cell.c_str(),
                                    nullptr));
    }
    void note(lxw_error error) {
        if (error != LXW_NO_ERROR) fail(bookError(error));
    }

    std::string sheetName_;
    bool hasHeadings_;
    bool isInexactText_;
    std::size_t rowsPerSheet_;
    std::string path_;
    std::vector<data::Column> columns_;
    std::vector<std::size_t> widths_;
    lxw_workbook* book_ = nullptr;
    lxw_worksheet* sheet_ = nullptr;
    std::vector<lxw_worksheet*> sheets_;
    lxw_format* heading_ = nullptr;
    lxw_format* day_ = nullptr;
    lxw_format* moment_ = nullptr;
    lxw_format* momentWithFraction_ = nullptr;
    lxw_format* clock_ = nullptr;
    lxw_format* clockWithFraction_ = nullptr;
    lxw_format* span_ = nullptr;
    std::array<lxw_format*, kMaxDigits + 1> decimals_{};
    std::size_t row_ = 0;   // of the sheet
    std::size_t rows_ = 0;  // in all
    std::size_t cutTexts_ = 0;
    std::size_t roundedNumbers_ = 0;
    std::size_t lostZones_ = 0;
    std::size_t largeIntegers_ = 0;
    Status status_;
};

WorkbookWriter::WorkbookWriter(std::string sheetName, const WorkbookOptions& options)
    : book_(std::make_unique<Book>(std::move(sheetName), options)) {}
WorkbookWriter::~WorkbookWriter() = default;

void WorkbookWriter::begin(const std::vector<data::Column>& columns, std::string& /*out*/) { book_->begin(columns); }
void WorkbookWriter::row(const RowSource& source, std::string& /*out*/) { book_->row(source); }
void WorkbookWriter::end(std::string& /*out*/) { book_->end(); }
Status WorkbookWriter::status() const { return book_->status(); }
Status WorkbookWriter::handOver(const std::function<Status(std::string_view)>& take) { return book_->handOver(take); }

std::string WorkbookWriter::remark() const {
    std::vector<std::string> sentences;
    if (book_->sheets() > 1) sentences.push_back(fmt::format("The rows stand on {} worksheets.", book_->sheets()));
    const auto tell = [&](std::size_t count, std::string_view one, std::string_view many, std::string_view what) {
        if (count == 0) return;
        sentences.push_back(
            count == 1 ? fmt::format("One {} {}.", one, what)
                       : fmt::format("{} {} {}.", base::grouped(static_cast<std::int64_t>(count)), many, what));
    };
    tell(book_->cutTexts(), "text was", "texts were", "longer than a cell may be and cut after 32,767 characters");
    tell(book_->roundedNumbers(), "number was", "numbers were", "rounded to what a workbook keeps");
    tell(book_->largeIntegers(), "whole number is", "whole numbers are",
         "too large to be exact there and written as text");
    tell(book_->lostZones(), "time was", "times were", "written without the zone, which workbooks do not have");
    return base::joined(sentences, " ");
}

}  // namespace pantry::exchange
