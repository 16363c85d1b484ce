#include "core/data/view/cell_format.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/text.h"
#include "core/data/view/decimal.h"
#include "core/data/view/typed_text.h"

namespace pantry::data {
namespace {

constexpr std::array<std::string_view, 10> kWords{"as-sent",  "rounded", "thousands",    "percent", "bytes",
                                                  "duration", "day",     "day-in-words", "minutes", "compact-json"};
constexpr std::array<std::string_view, 12> kMonths{"January",   "February", "March",    "April",
                                                   "May",       "June",     "July",     "August",
                                                   "September", "October",  "November", "December"};
constexpr std::string_view kThinSpace = "\u2009";

/// A number without an exponent, as digits with an optional sign and point; nothing for what is written otherwise.
std::optional<std::string> plainNumber(const Cell& cell) {
    std::string text = cell.kind == CellKind::Text ? std::string(cell.bytes) : toText(cell);
    if (text.find_first_of("eE") != std::string::npos) {
        const auto number = doubleIn(text);
        if (!number || !std::isfinite(*number)) return std::nullopt;
        text = fmt::format("{:f}", *number);
    }
    if (!isDecimal(text)) return std::nullopt;
    return text;
}

std::string withGroups(std::string_view text) {
    const std::size_t start = text.starts_with('-') || text.starts_with('+') ? 1 : 0;
    const std::size_t point = std::min(text.find('.'), text.size());
    std::string out(text.substr(0, start));
    for (std::size_t i = start; i < point; ++i) {
        if (i > start && (point - i) % 3 == 0) out += kThinSpace;
        out += text[i];
    }
    return out + std::string(text.substr(point));
}

/// The point moved two places to the right.
std::string timesHundred(std::string_view text) {
    const std::size_t point = std::min(text.find('.'), text.size());
    std::string whole(text.substr(0, point));
    std::string fraction(point < text.size() ? text.substr(point + 1) : std::string_view());
    fraction.resize(std::max<std::size_t>(fraction.size(), 2), '0');
    whole += fraction.substr(0, 2);
    const std::size_t sign = whole.starts_with('-') ? 1 : 0;
    const std::size_t digits = std::min(whole.find_first_not_of('0', sign), whole.size() - 1);
    whole.erase(sign, digits - sign);
    const std::string rest = fraction.substr(2);
    return rest.empty() ? whole : whole + "." + rest;
}

std::optional<std::string> number(const Cell& cell, const CellFormat& format) {
    auto text = plainNumber(cell);
    if (!text) return std::nullopt;
    switch (format.form) {
        case CellForm::Percent: text = timesHundred(*text); break;
        case CellForm::Bytes: {
            const double bytes = doubleIn(*text).value_or(0);
            return bytes < 0 || bytes > 1e18 ? std::nullopt
                                             : std::optional(base::readableBytes(static_cast<std::uint64_t>(bytes)));
        }
        case CellForm::Duration: {
            const double seconds = doubleIn(*text).value_or(0);
            if (std::abs(seconds) > 1e15) return std::nullopt;
            const auto whole = static_cast<std::int64_t>(std::llround(std::abs(seconds)));
            return fmt::format("{}{}:{:02}:{:02}", seconds < 0 ? "-" : "", whole / 3600, whole / 60 % 60, whole % 60);
        }
        default: break;
    }
    if (format.decimals >= 0) text = roundedDecimal(*text, format.decimals);
    if (format.form == CellForm::Percent) return *text + " %";
    return format.form == CellForm::Thousands ? withGroups(*text) : *text;
}

std::optional<std::string> moment(const Cell& cell, CellForm form) {
    if (cell.kind != CellKind::Text) return std::nullopt;
    const auto value = momentIn(cell.bytes);
    if (!value || cell.bytes.size() < 10 || !base::isAsciiDigit(cell.bytes[0])) return std::nullopt;
    // What is written stays: nobody wants another zone's day.
    const std::string_view day = cell.bytes.substr(0, cell.bytes.find_first_of(" T"));
    if (form == CellForm::Day) return std::string(day);
    if (form == CellForm::Minutes) {
        const std::size_t colon = cell.bytes.find(':');
        return colon == std::string_view::npos ? std::string(day) : std::string(cell.bytes.substr(0, colon + 3));
    }
    const std::size_t dash = day.find('-');
    const int month = (day[dash + 1] - '0') * 10 + (day[dash + 2] - '0');
    const int date = (day[dash + 4] - '0') * 10 + (day[dash + 5] - '0');
    return fmt::format("{} {} {}", date, kMonths[static_cast<std::size_t>(month - 1)], day.substr(0, dash));
}

/// Blanks between the parts of a JSON text taken out; within its strings they stay.
std::optional<std::string> compactJson(const Cell& cell) {
    if (cell.kind != CellKind::Text) return std::nullopt;
    std::string out;
    bool isInString = false;
    for (std::size_t i = 0; i < cell.bytes.size(); ++i) {
        const char c = cell.bytes[i];
        if (isInString && c == '\\' && i + 1 < cell.bytes.size()) {
            out += c;
            out += cell.bytes[++i];
            continue;
        }
        if (c == '"') isInString = !isInString;
        if (isInString || !base::isAsciiBlank(c)) out += c;
    }
    return out;
}

}  // namespace

std::string_view formWord(CellForm form) { return kWords[static_cast<std::size_t>(form)]; }

std::optional<CellForm> formFromWord(std::string_view word) {
    const auto found = std::ranges::find(kWords, word);
    if (found == kWords.end()) return std::nullopt;
    return static_cast<CellForm>(found - kWords.begin());
}

std::vector<CellForm> formsFor(ColumnType type) {
    switch (type) {
        case ColumnType::Integer:
        case ColumnType::Real:
        case ColumnType::Decimal:
            return {CellForm::AsSent,  CellForm::Rounded, CellForm::Thousands,
                    CellForm::Percent, CellForm::Bytes,   CellForm::Duration};
        case ColumnType::Date: return {CellForm::AsSent, CellForm::DayInWords};
        case ColumnType::Timestamp: return {CellForm::AsSent, CellForm::Minutes, CellForm::Day, CellForm::DayInWords};
        case ColumnType::Json: return {CellForm::AsSent, CellForm::CompactJson};
        case ColumnType::Unknown:
            return {CellForm::AsSent, CellForm::Rounded,  CellForm::Thousands, CellForm::Percent,
                    CellForm::Bytes,  CellForm::Duration, CellForm::Day,       CellForm::DayInWords};
        default: return {CellForm::AsSent};
    }
}

std::optional<std::string> formatted(const Cell& cell, const CellFormat& format) {
    if (cell.isNull() || cell.kind == CellKind::Binary) return std::nullopt;
    switch (format.form) {
        case CellForm::AsSent: return std::nullopt;
        case CellForm::Day:
        case CellForm::DayInWords:
        case CellForm::Minutes: return moment(cell, format.form);
        case CellForm::CompactJson: return compactJson(cell);
        default: return number(cell, format);
    }
}

std::string roundedDecimal(std::string_view text, int decimals) {
    const bool isNegative = text.starts_with('-');
    if (isNegative || text.starts_with('+')) text.remove_prefix(1);
    const std::size_t point = std::min(text.find('.'), text.size());
    std::string digits = "0" + std::string(text.substr(0, point));  // room for a carry
    const std::string_view fraction = point < text.size() ? text.substr(point + 1) : std::string_view();
    const auto wanted = static_cast<std::size_t>(decimals);
    digits += fraction.substr(0, wanted);
    if (fraction.size() < wanted) digits.append(wanted - fraction.size(), '0');
    if (fraction.size() > wanted && fraction[wanted] >= '5') {
        std::size_t at = digits.size() - 1;
        while (digits[at] == '9') digits[at--] = '0';
        ++digits[at];
    }
    std::string whole = digits.substr(0, digits.size() - wanted);
    whole.erase(0, std::min(whole.find_first_not_of('0'), whole.size() - 1));
    std::string out = wanted == 0 ? whole : whole + "." + digits.substr(digits.size() - wanted);
    const bool isZero = out.find_first_not_of("0.") == std::string::npos;
    return isNegative && !isZero ? "-" + out : out;
}

}  // namespace pantry::data
