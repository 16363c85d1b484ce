#pragma once

#include <cstdint>
#include <string>

namespace pantry::demo {

/// The last day in the data; the month is not over, as in life.
constexpr int kLastDay = 20'774;  // days since 1970-01-01: 2026-11-17

/// A day as 2026-11-17.
[[nodiscard]] std::string dateText(int daysSince1970);

/// A moment as 2026-11-17 08:30:00.
[[nodiscard]] std::string timeText(std::int64_t secondsSince1970);

/// An exact amount such as 12.40, from hundredths.
[[nodiscard]] std::string amountText(std::int64_t hundredths);

/// A square picture of a label in a colour, as a PNG file's bytes.
[[nodiscard]] std::string labelPicture(std::uint32_t rgb, int size);

/// A remark of about `bytes` bytes that somebody could have dictated.
[[nodiscard]] std::string longRemark(std::size_t bytes);

}  // namespace pantry::demo
