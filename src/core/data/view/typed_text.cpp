#include "core/data/view/typed_text.h"

#include <fmt/format.h>

#include <array>
#include <charconv>
#include <chrono>
#include <cmath>
#include <limits>

#include "core/base/text.h"

namespace pantry::data {
namespace {

constexpr std::int64_t kSecond = 1'000'000;
constexpr std::int64_t kMinute = 60 * kSecond;
constexpr std::int64_t kHour = 60 * kMinute;
constexpr std::int64_t kDay = 24 * kHour;
constexpr std::int64_t kMonth = 30 * kDay;
constexpr std::int64_t kEarliest = std::numeric_limits<std::int64_t>::min();
constexpr std::int64_t kLatest = std::numeric_limits<std::int64_t>::max();
constexpr std::int64_t kMaxYears = 290'000;  // what microseconds in 64 bits can count

/// Takes a text apart from left to right.
class Reader {
public:
    explicit Reader(std::string_view text) : rest_(text) {}

    [[nodiscard]] bool isAtEnd() const { return rest_.empty(); }
    [[nodiscard]] char next() const { return rest_.empty() ? '\0' : rest_.front(); }
    bool take(char c) {
        if (next() != c || rest_.empty()) return false;
        rest_.remove_prefix(1);
        return true;
    }
    bool takeWord(std::string_view word) {
        if (!base::startsWithIgnoringCase(rest_, word)) return false;
        rest_.remove_prefix(word.size());
        return true;
    }
    void skipBlanks() {
        while (next() == ' ' && !rest_.empty()) rest_.remove_prefix(1);
    }
    /// Digits as a number; nothing when there are fewer than `least` or more than `most`.
    std::optional<std::int64_t> number(std::size_t least, std::size_t most) {
        std::size_t length = 0;
        while (length < rest_.size() && base::isAsciiDigit(rest_[length])) ++length;
        if (length < least || length > most) return std::nullopt;
        std::int64_t value = 0;
        std::from_chars(rest_.data(), rest_.data() + length, value);
        rest_.remove_prefix(length);
        return value;
    }
    /// .123 as microseconds; 0 when there is none.
    std::int64_t fraction() {
        if (!take('.')) return 0;
        std::int64_t value = 0;
        std::int64_t unit = kSecond;
        while (base::isAsciiDigit(next())) {
            unit /= 10;
            value += (next() - '0') * unit;
            rest_.remove_prefix(1);
        }
        return value;
    }
    std::string_view word() {
        std::size_t length = 0;
        while (length < rest_.size() && std::isalpha(static_cast<unsigned char>(rest_[length])) != 0) ++length;
        const std::string_view out = rest_.substr(0, length);
        rest_.remove_prefix(length);
        return out;
    }
    /// A number with a sign and a fraction.
    std::optional<double> real() {
        double value = 0;
        std::string_view from = rest_;
        if (from.starts_with('+')) from.remove_prefix(1);
        const auto [end, code] =
            std::from_chars(from.data(), from.data() + from.size(), value, std::chars_format::fixed);
        if (code != std::errc()) return std::nullopt;
        rest_.remove_prefix(static_cast<std::size_t>(end - rest_.data()));
        return value;
    }
    [[nodiscard]] std::string_view rest() const { return rest_; }

private:
    std::string_view rest_;
};

/// hh:mm[:ss[.f]]
std::optional<std::int64_t> timeIn(Reader& reader) {
    const auto hours = reader.number(1, 6);
    if (!hours || !reader.take(':')) return std::nullopt;
    const auto minutes = reader.number(2, 2);
    if (!minutes || *minutes > 59) return std::nullopt;
    std::int64_t value = *hours * kHour + *minutes * kMinute;
    if (!reader.take(':')) return value;
    const auto seconds = reader.number(2, 2);
    if (!seconds || *seconds > 60) return std::nullopt;
    return value + *seconds * kSecond + reader.fraction();
}

/// Z or +hh[[:]mm[[:]ss]], as microseconds east of Greenwich; 0 when none stands here.
std::optional<std::int64_t> zoneIn(Reader& reader) {
    reader.skipBlanks();
    if (reader.take('Z') || reader.take('z') || reader.takeWord("UTC")) return 0;
    const bool isWest = reader.next() == '-';
    if (!isWest && reader.next() != '+') return 0;
    reader.take(reader.next());
    const auto hours = reader.number(2, 4);
    if (!hours) return std::nullopt;
    std::int64_t east = *hours > 99 ? *hours / 100 * kHour + *hours % 100 * kMinute : *hours * kHour;
    for (const std::int64_t unit : {kMinute, kSecond}) {
        if (!reader.take(':')) break;
        const auto part = reader.number(2, 2);
        if (!part) return std::nullopt;
        east += *part * unit;
    }
    return isWest ? -east : east;
}

struct Unit {
    std::string_view word;
    std::int64_t microseconds;
};
constexpr auto kUnits = std::to_array<Unit>({{"year", 12 * kMonth},
                                             {"y", 12 * kMonth},
                                             {"mon", kMonth},
                                             {"month", kMonth},
                                             {"week", 7 * kDay},
                                             {"w", 7 * kDay},
                                             {"day", kDay},
                                             {"d", kDay},
                                             {"hour", kHour},
                                             {"h", kHour},
                                             {"min", kMinute},
                                             {"minute", kMinute},
                                             {"m", kMinute},
                                             {"sec", kSecond},
                                             {"second", kSecond},
                                             {"s", kSecond},
                                             {"ms", 1000},
                                             {"us", 1}});

std::optional<std::int64_t> unitOf(std::string_view word) {
    for (const Unit& unit : kUnits) {
        const bool isPlural =
            word.size() == unit.word.size() + 1 && base::asciiLower(word.back()) == 's' && word.size() > 2;
        if (base::equalsIgnoringCase(isPlural ? word.substr(0, unit.word.size()) : word, unit.word)) {
            return unit.microseconds;
        }
    }
    return std::nullopt;
}

/// P1Y2M3DT4H5M6.7S
std::optional<std::int64_t> isoIntervalIn(std::string_view text) {
    Reader reader(text.substr(1));
    std::int64_t sum = 0;
    bool isTime = false;
    while (!reader.isAtEnd()) {
        if (reader.take('T')) {
            isTime = true;
            continue;
        }
        const auto value = reader.real();
        const std::string_view unit = reader.rest().substr(0, 1);
        if (!value || unit.empty()) return std::nullopt;
        reader.take(unit.front());
        const bool isMonth = !isTime && base::asciiLower(unit.front()) == 'm';
        const auto size = isMonth ? std::optional(kMonth) : unitOf(unit);
        if (!size) return std::nullopt;
        sum += static_cast<std::int64_t>(std::llround(*value * static_cast<double>(*size)));
    }
    return sum;
}

}  // namespace

std::optional<std::int64_t> momentIn(std::string_view text) {
    if (base::equalsIgnoringCase(text, "infinity")) return kLatest;
    if (base::equalsIgnoringCase(text, "-infinity")) return kEarliest;
    Reader reader(text);
    auto year = reader.number(4, 6);
    if (!year || *year > kMaxYears || !reader.take('-')) return std::nullopt;
    const auto month = reader.number(2, 2);
    if (!month || !reader.take('-')) return std::nullopt;
    const auto day = reader.number(2, 2);
    if (!day) return std::nullopt;
    std::int64_t time = 0;
    std::int64_t east = 0;
    const bool hasTime = reader.take('T') || (reader.next() == ' ' && reader.rest().size() > 1 &&
                                              base::isAsciiDigit(reader.rest()[1]) && reader.take(' '));
    if (hasTime) {
        const auto found = timeIn(reader);
        const auto zone = found ? zoneIn(reader) : std::nullopt;
        if (!zone) return std::nullopt;
        time = *found;
        east = *zone;
    }
    reader.skipBlanks();
    if (reader.takeWord("BC")) year = 1 - *year;
    if (!reader.isAtEnd()) return std::nullopt;
    const std::chrono::year_month_day date(std::chrono::year(0), std::chrono::month(static_cast<unsigned>(*month)),
                                           std::chrono::day(static_cast<unsigned>(*day)));
    if (*month < 1 || *month > 12 || *day < 1 || *day > 31) return std::nullopt;
    // The calendar of <chrono> ends at year 32767; its days repeat every 400 years.
    constexpr std::int64_t kDaysInCycle = 146'097;
    const std::int64_t cycle = (*year >= 0 ? *year : *year - 399) / 400;
    const std::chrono::year_month_day inCycle(std::chrono::year(static_cast<int>(*year - cycle * 400)), date.month(),
                                              date.day());
    const std::int64_t days = std::chrono::sys_days(inCycle).time_since_epoch().count() + cycle * kDaysInCycle;
    return days * kDay + time - east;
}

std::optional<std::int64_t> clockTimeIn(std::string_view text) {
    Reader reader(text);
    const bool isNegative = reader.take('-');
    const auto time = timeIn(reader);
    if (!time) return std::nullopt;
    const auto east = zoneIn(reader);
    if (!east || !reader.isAtEnd()) return std::nullopt;
    return (isNegative ? -*time : *time) - *east;
}

std::optional<std::int64_t> intervalIn(std::string_view text) {
    text = base::trimmed(text);
    if (text.size() > 1 && (text.front() == 'P' || text.front() == 'p')) return isoIntervalIn(text);
    Reader reader(text);
    if (text.empty()) return std::nullopt;
    std::int64_t sum = 0;
    while (!reader.isAtEnd()) {
        const std::size_t end = std::min(reader.rest().find(' '), reader.rest().size());
        const std::string_view word = reader.rest().substr(0, end);
        if (word.find(':') != std::string_view::npos) {
            Reader clock(word);
            const bool isNegative = clock.take('-');
            clock.take('+');
            const auto time = timeIn(clock);
            if (!time || !clock.isAtEnd()) return std::nullopt;
            sum += isNegative ? -*time : *time;
            reader.takeWord(word);
        } else {
            const auto value = reader.real();
            reader.skipBlanks();
            const auto unit = unitOf(reader.word());
            if (!value || !unit) return std::nullopt;
            sum += static_cast<std::int64_t>(std::llround(*value * static_cast<double>(*unit)));
        }
        reader.skipBlanks();
    }
    return sum;
}

std::optional<bool> booleanIn(std::string_view text) {
    for (const std::string_view word : {"true", "t", "yes", "y", "on", "1"}) {
        if (base::equalsIgnoringCase(text, word)) return true;
    }
    for (const std::string_view word : {"false", "f", "no", "n", "off", "0"}) {
        if (base::equalsIgnoringCase(text, word)) return false;
    }
    return std::nullopt;
}

std::string momentText(std::int64_t microseconds, bool isDate) {
    if (microseconds == kLatest) return "infinity";
    if (microseconds == kEarliest) return "-infinity";
    const std::int64_t days = microseconds >= 0 ? microseconds / kDay : -((-microseconds + kDay - 1) / kDay);
    const std::int64_t time = microseconds - days * kDay;
    // By the days of a whole 400-year cycle, since the calendar of <chrono> is short.
    constexpr std::int64_t kDaysInCycle = 146'097;
    const std::int64_t cycle = days >= 0 ? days / kDaysInCycle : -((-days + kDaysInCycle - 1) / kDaysInCycle);
    const std::chrono::year_month_day date{
        std::chrono::sys_days(std::chrono::days(static_cast<int>(days - cycle * kDaysInCycle)))};
    const std::int64_t year = static_cast<int>(date.year()) + cycle * 400;
    std::string out = fmt::format("{:04}-{:02}-{:02}", year > 0 ? year : 1 - year, static_cast<unsigned>(date.month()),
                                  static_cast<unsigned>(date.day()));
    if (!isDate) {
        out += fmt::format(" {:02}:{:02}:{:02}", time / kHour, time / kMinute % 60, time / kSecond % 60);
        if (time % kSecond != 0) out += fmt::format(".{:06}", time % kSecond);
    }
    return year > 0 ? out : out + " BC";
}

}  // namespace pantry::data
