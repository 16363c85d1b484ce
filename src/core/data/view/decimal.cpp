#include "core/data/view/decimal.h"

#include <gmp.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <limits>

#include "core/base/text.h"

namespace pantry::data {
namespace {

constexpr long kLargestExponent = 200'000;  // more digits than any engine keeps

/// A number taken apart: sign, digits without leading zeros, and where the point stands.
struct Parts {
    bool isNegative = false;
    std::string_view whole;     // digits before the point
    std::string_view fraction;  // digits after it
    long exponent = 0;
};

std::optional<Parts> partsOf(std::string_view text) {
    Parts parts;
    std::size_t at = 0;
    if (at < text.size() && (text[at] == '-' || text[at] == '+')) parts.isNegative = text[at++] == '-';
    const std::size_t start = at;
    while (at < text.size() && base::isAsciiDigit(text[at])) ++at;
    parts.whole = text.substr(start, at - start);
    if (at < text.size() && text[at] == '.') {
        const std::size_t point = ++at;
        while (at < text.size() && base::isAsciiDigit(text[at])) ++at;
        parts.fraction = text.substr(point, at - point);
    }
    if (parts.whole.empty() && parts.fraction.empty()) return std::nullopt;
    if (at < text.size() && (text[at] == 'e' || text[at] == 'E')) {
        if (++at < text.size() && text[at] == '+') ++at;
        const auto [end, code] = std::from_chars(text.data() + at, text.data() + text.size(), parts.exponent);
        if (code != std::errc() || std::abs(parts.exponent) > kLargestExponent) return std::nullopt;
        at = static_cast<std::size_t>(end - text.data());
    }
    if (at != text.size()) return std::nullopt;
    return parts;
}

/// The digits of a number without its point, from the first that is not zero, and the power of ten of that one.
struct Scientific {
    bool isNegative = false;
    std::string_view first;   // digits before the point
    std::string_view second;  // and after it
    long magnitude = 0;

    [[nodiscard]] bool isZero() const { return first.empty() && second.empty(); }
    [[nodiscard]] std::size_t size() const { return first.size() + second.size(); }
    [[nodiscard]] char digit(std::size_t i) const {
        if (i < first.size()) return first[i];
        return i < size() ? second[i - first.size()] : '0';
    }
};

Scientific scientific(const Parts& parts) {
    Scientific out{.isNegative = parts.isNegative, .first = parts.whole, .second = parts.fraction};
    const std::size_t leading = std::min(out.first.find_first_not_of('0'), out.first.size());
    out.first.remove_prefix(leading);
    out.magnitude = static_cast<long>(out.first.size()) + parts.exponent;
    if (!out.first.empty()) return out;
    const std::size_t zeros = std::min(out.second.find_first_not_of('0'), out.second.size());
    out.second.remove_prefix(zeros);
    out.magnitude = parts.exponent - static_cast<long>(zeros);
    return out;
}

std::strong_ordering compareSizes(const Scientific& a, const Scientific& b) {
    if (a.isZero() || b.isZero()) return b.isZero() <=> a.isZero();
    if (a.magnitude != b.magnitude) return a.magnitude <=> b.magnitude;
    for (std::size_t i = 0; i < std::max(a.size(), b.size()); ++i) {
        if (a.digit(i) != b.digit(i)) return a.digit(i) <=> b.digit(i);
    }
    return std::strong_ordering::equal;
}

std::string placePoint(std::string digits, bool isNegative, std::size_t scale) {
    if (digits.size() <= scale) digits.insert(0, scale + 1 - digits.size(), '0');
    if (scale > 0) digits.insert(digits.size() - scale, 1, '.');
    return isNegative ? "-" + digits : digits;
}

std::string textOf(const mpz_t value, std::size_t scale) {
    std::string digits(mpz_sizeinbase(value, 10) + 2, '\0');
    mpz_get_str(digits.data(), 10, value);
    digits.resize(digits.find('\0'));
    const bool isNegative = digits.front() == '-';
    return placePoint(isNegative ? digits.substr(1) : digits, isNegative, scale);
}

}  // namespace

bool isDecimal(std::string_view text) { return partsOf(text).has_value(); }

std::strong_ordering compareDecimals(std::string_view a, std::string_view b) {
    const Scientific left = scientific(partsOf(a).value_or(Parts{}));
    const Scientific right = scientific(partsOf(b).value_or(Parts{}));
    const auto sign = [](const Scientific& s) { return s.isZero() ? 0 : s.isNegative ? -1 : 1; };
    if (sign(left) != sign(right)) return sign(left) <=> sign(right);
    return sign(left) < 0 ? compareSizes(right, left) : compareSizes(left, right);
}

std::optional<double> doubleIn(std::string_view text) {
    if (text.starts_with('+')) text.remove_prefix(1);
    double value = 0;
    const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (end != text.data() + text.size() || text.empty()) return std::nullopt;
    if (code == std::errc()) return value;
    if (code != std::errc::result_out_of_range) return std::nullopt;
    const auto parts = partsOf(text);  // too large, or too small, for a double
    const bool isLarge = parts && scientific(*parts).magnitude > 0;
    const double size = isLarge ? std::numeric_limits<double>::infinity() : 0.0;
    return text.front() == '-' ? -size : size;
}

/// The sum as a whole number of the smallest unit that was met; small summands are gathered first.
struct DecimalSum::Big {
    Big() { mpz_init(total); }
    ~Big() { mpz_clear(total); }
    Big(const Big&) = delete;
    Big& operator=(const Big&) = delete;

    void widenTo(std::size_t wanted) {
        if (wanted <= scale) return;
        flush();
        mpz_t power;
        mpz_init(power);
        mpz_ui_pow_ui(power, 10, wanted - scale);
        mpz_mul(total, total, power);
        mpz_clear(power);
        scale = wanted;
    }
    void flush() {
        if (small >= 0) {
            mpz_add_ui(total, total, static_cast<unsigned long>(small));
        } else {
            mpz_sub_ui(total, total, 0UL - static_cast<unsigned long>(small));
        }
        small = 0;
    }
    void addUnits(std::int64_t units) {
        if (!__builtin_add_overflow(small, units, &small)) return;
        flush();
        small = units;
    }
    void addDigits(std::string digits, bool isNegative) {
        mpz_t value;
        mpz_init(value);
        mpz_set_str(value, digits.c_str(), 10);
        if (isNegative) {
            mpz_sub(total, total, value);
        } else {
            mpz_add(total, total, value);
        }
        mpz_clear(value);
    }

    mpz_t total{};
    std::int64_t small = 0;  // not yet in total
    std::size_t scale = 0;   // fraction digits of both
};

DecimalSum::DecimalSum() : big_(std::make_unique<Big>()) {}
DecimalSum::~DecimalSum() = default;
DecimalSum::DecimalSum(DecimalSum&&) noexcept = default;
DecimalSum& DecimalSum::operator=(DecimalSum&&) noexcept = default;

void DecimalSum::add(std::int64_t value) {
    if (big_->scale == 0) return big_->addUnits(value);
    add(std::string_view(std::to_string(value)));
}

bool DecimalSum::add(std::string_view text) {
    constexpr std::size_t kDigitsOfSmall = 17;
    const auto parts = partsOf(text);
    if (!parts) return false;
    const long wantedScale = static_cast<long>(parts->fraction.size()) - parts->exponent;
    big_->widenTo(static_cast<std::size_t>(std::max(0L, wantedScale)));
    const auto missing = static_cast<std::size_t>(static_cast<long>(big_->scale) - wantedScale);
    const std::size_t length = parts->whole.size() + parts->fraction.size() + missing;
    if (length <= kDigitsOfSmall) {
        std::int64_t units = 0;
        for (const char c : parts->whole) units = units * 10 + (c - '0');
        for (const char c : parts->fraction) units = units * 10 + (c - '0');
        for (std::size_t i = 0; i < missing; ++i) units *= 10;
        big_->addUnits(parts->isNegative ? -units : units);
        return true;
    }
    std::string digits(parts->whole);
    digits += parts->fraction;
    digits.append(missing, '0');
    big_->addDigits(std::move(digits), parts->isNegative);
    return true;
}

std::string DecimalSum::text() const {
    big_->flush();
    return textOf(big_->total, big_->scale);
}

std::string DecimalSum::mean(std::int64_t count, int extraDigits) const {
    big_->flush();
    mpz_t value;
    mpz_t power;
    mpz_init(value);
    mpz_init(power);
    mpz_ui_pow_ui(power, 10, static_cast<unsigned long>(extraDigits));
    mpz_mul(value, big_->total, power);
    const bool isNegative = mpz_sgn(value) < 0;
    mpz_abs(value, value);
    mpz_mul_ui(value, value, 2);
    mpz_add_ui(value, value, static_cast<unsigned long>(count));
    mpz_tdiv_q_ui(value, value, 2 * static_cast<unsigned long>(count));
    if (isNegative) mpz_neg(value, value);
    std::string out = textOf(value, big_->scale + static_cast<std::size_t>(extraDigits));
    mpz_clear(power);
    mpz_clear(value);
    return out;
}

}  // namespace pantry::data
