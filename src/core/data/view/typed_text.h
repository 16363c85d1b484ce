#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

namespace pantry::data {

// Values that came as text, read by what they mean. Each gives nothing for a text that is none.

/// Microseconds since 1970-01-01 00:00 UTC of a date, or a date with a time, with or without a zone (none counts as
/// UTC); years before Christ as PostgreSQL writes them; the smallest and the largest number for the infinities. Digits
/// beyond microseconds are cut.
[[nodiscard]] std::optional<std::int64_t> momentIn(std::string_view text);

/// Microseconds of hours:minutes[:seconds], which may be negative and beyond a day; with a zone, of the same moment in
/// UTC.
[[nodiscard]] std::optional<std::int64_t> clockTimeIn(std::string_view text);

/// Microseconds of a span such as “1 year 2 mons -3 days 04:05:06”, “P1Y2M3DT4H”, “90 minutes” or “04:05:06”. A month
/// counts as 30 days and a year as 12 months, as PostgreSQL orders them.
[[nodiscard]] std::optional<std::int64_t> intervalIn(std::string_view text);

/// true, t, yes, y, on, 1 and their opposites, in any case of letters.
[[nodiscard]] std::optional<bool> booleanIn(std::string_view text);

/// A moment as text, without a zone: 2026-11-17 08:30:00, the day alone when `isDate`.
[[nodiscard]] std::string momentText(std::int64_t microseconds, bool isDate);

}  // namespace pantry::data
