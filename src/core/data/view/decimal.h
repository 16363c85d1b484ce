#pragma once

#include <compare>
#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <string_view>

namespace pantry::data {

/// Whether a text is a number as databases write them: digits with a sign, a point and an exponent as they like.
[[nodiscard]] bool isDecimal(std::string_view text);

/// Compares two numbers written as text by their values, whatever their size and their number of digits.
///
/// Requires: isDecimal() of both.
[[nodiscard]] std::strong_ordering compareDecimals(std::string_view a, std::string_view b);

/// The nearest double; NaN and the infinities are read as engines spell them. Nothing for what is no number.
[[nodiscard]] std::optional<double> doubleIn(std::string_view text);

/// A sum of numbers of any size, exact to the last digit.
///
/// Threads: one at a time.
class DecimalSum {
public:
    DecimalSum();
    ~DecimalSum();
    DecimalSum(DecimalSum&&) noexcept;
    DecimalSum& operator=(DecimalSum&&) noexcept;

    void add(std::int64_t value);
    /// False, and nothing added, for what is no decimal number (NaN, infinity) or has an absurd exponent.
    bool add(std::string_view text);

    /// The sum with as many fraction digits as the summand that had most of them.
    [[nodiscard]] std::string text() const;
    /// The sum divided by `count`, rounded half away from zero to `extraDigits` fraction digits more than text().
    [[nodiscard]] std::string mean(std::int64_t count, int extraDigits) const;

private:
    struct Big;  // hides the library that keeps whole numbers of any size
    std::unique_ptr<Big> big_;
};

}  // namespace pantry::data
