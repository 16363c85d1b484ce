#include "core/sql/complete/date_words.h"

#include <algorithm>
#include <array>
#include <string>

#include "core/base/text.h"

namespace pantry::sql {
namespace {

constexpr std::array kPostgresDays{
    DateWord{"current_date", "today"},
    DateWord{"date_trunc('month', current_date)", "first of this month"},
    DateWord{"current_date - 7", "a week ago"},
    DateWord{"current_date - interval '1 month'", "a month ago"},
    DateWord{"current_date - interval '1 year'", "a year ago"},
    DateWord{"date_trunc('year', current_date)", "first of this year"},
    DateWord{"now()", "now"},
};
constexpr std::array kMySqlDays{
    DateWord{"CURDATE()", "today"},
    DateWord{"DATE_FORMAT(CURDATE(), '%Y-%m-01')", "first of this month"},
    DateWord{"CURDATE() - INTERVAL 7 DAY", "a week ago"},
    DateWord{"CURDATE() - INTERVAL 1 MONTH", "a month ago"},
    DateWord{"CURDATE() - INTERVAL 1 YEAR", "a year ago"},
    DateWord{"MAKEDATE(YEAR(CURDATE()), 1)", "first of this year"},
    DateWord{"NOW()", "now"},
};
constexpr std::array kSqliteDays{
    DateWord{"date('now')", "today"},
    DateWord{"date('now', 'start of month')", "first of this month"},
    DateWord{"date('now', '-7 days')", "a week ago"},
    DateWord{"date('now', '-1 month')", "a month ago"},
    DateWord{"date('now', '-1 year')", "a year ago"},
    DateWord{"date('now', 'start of year')", "first of this year"},
    DateWord{"datetime('now')", "now"},
};
constexpr std::array kAnsiDays{DateWord{"CURRENT_DATE", "today"}, DateWord{"CURRENT_TIMESTAMP", "now"}};

template <std::size_t Count>
bool holdsOneOf(std::string_view type, const std::array<std::string_view, Count>& words) {
    const std::string small = base::toLower(type);
    return std::ranges::any_of(words, [&](std::string_view word) { return small.find(word) != std::string::npos; });
}

}  // namespace

std::span<const DateWord> dateWordsOf(Dialect dialect) {
    switch (dialect) {
        case Dialect::Postgres: return kPostgresDays;
        case Dialect::MySql: return kMySqlDays;
        case Dialect::Sqlite: return kSqliteDays;
        default: return kAnsiDays;
    }
}

bool isDateType(std::string_view type) {
    constexpr std::array<std::string_view, 2> kWords{"date", "timestamp"};
    return holdsOneOf(type, kWords);
}

bool isNumericType(std::string_view type) {
    constexpr std::array<std::string_view, 8> kWords{"int",    "decimal", "numeric", "real",
                                                     "double", "float",   "number",  "serial"};
    return holdsOneOf(type, kWords) && base::findIgnoringCase(type, "interval") == std::string_view::npos &&
           base::findIgnoringCase(type, "point") == std::string_view::npos;
}

}  // namespace pantry::sql
