#pragma once

#include <chrono>
#include <cstdint>
#include <string>

namespace pantry::base {

/// A moment as we store it: microseconds since 1970-01-01 00:00 UTC.
using Moment = std::chrono::sys_time<std::chrono::microseconds>;

[[nodiscard]] Moment now();

[[nodiscard]] inline std::int64_t toMicroseconds(Moment moment) { return moment.time_since_epoch().count(); }
[[nodiscard]] inline Moment fromMicroseconds(std::int64_t value) { return Moment{std::chrono::microseconds{value}}; }

/// The day in the machine's time zone: 2026-11-23.
[[nodiscard]] std::string localDate(Moment moment);

/// The time of day in the machine's time zone: 09:41:07.
[[nodiscard]] std::string localTime(Moment moment);

/// Date and time in UTC as ISO 8601 has it: 2026-11-23T09:41:07Z.
[[nodiscard]] std::string isoUtc(Moment moment);

/// How people speak of a recent moment: “today 09:41”, “yesterday 17:02”, else “2026-11-03 08:15”.
[[nodiscard]] std::string spoken(Moment moment, Moment reference);

/// “Today”, “Yesterday”, or the date: headings for lists grouped by day.
[[nodiscard]] std::string spokenDay(Moment moment, Moment reference);

}  // namespace pantry::base
