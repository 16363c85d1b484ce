#include "core/base/time.h"

#include <fmt/format.h>

#include <ctime>

namespace pantry::base {
namespace {

std::time_t toSeconds(Moment moment) {
    return std::chrono::floor<std::chrono::seconds>(moment).time_since_epoch().count();
}

std::tm local(Moment moment) {
    const std::time_t seconds = toSeconds(moment);
    std::tm parts{};
    ::localtime_r(&seconds, &parts);
    return parts;
}

std::string dateOf(const std::tm& t) {
    return fmt::format("{:04}-{:02}-{:02}", t.tm_year + 1900, t.tm_mon + 1, t.tm_mday);
}

std::string shortTime(Moment moment) { return localTime(moment).substr(0, 5); }

/// "today", "yesterday" or empty.
std::string relativeDay(Moment moment, Moment reference) {
    const std::string day = localDate(moment);
    if (day == localDate(reference)) return "today";
    if (day == localDate(reference - std::chrono::hours(24))) return "yesterday";
    return {};
}

}  // namespace

Moment now() { return std::chrono::floor<std::chrono::microseconds>(std::chrono::system_clock::now()); }

std::string localDate(Moment moment) { return dateOf(local(moment)); }

std::string localTime(Moment moment) {
    const std::tm t = local(moment);
    return fmt::format("{:02}:{:02}:{:02}", t.tm_hour, t.tm_min, t.tm_sec);
}

std::string isoUtc(Moment moment) {
    const std::time_t seconds = toSeconds(moment);
    std::tm t{};
    ::gmtime_r(&seconds, &t);
    return fmt::format("{}T{:02}:{:02}:{:02}Z", dateOf(t), t.tm_hour, t.tm_min, t.tm_sec);
}

std::string spoken(Moment moment, Moment reference) {
    const std::string day = relativeDay(moment, reference);
    return (day.empty() ? localDate(moment) : day) + " " + shortTime(moment);
}

std::string spokenDay(Moment moment, Moment reference) {
    std::string day = relativeDay(moment, reference);
    if (day.empty()) return localDate(moment);
    day[0] = static_cast<char>(day[0] - 'a' + 'A');
    return day;
}

}  // namespace pantry::base
