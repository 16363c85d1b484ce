#include "core/sql/complete/dialect_words.h"

#include <algorithm>
#include <array>
#include <string_view>

#include "core/base/text.h"

namespace pantry::sql {
namespace {

/// Where a keyword is at home: P PostgreSQL, M MariaDB and MySQL, S SQLite, A others. What is not listed is everywhere.
struct Home {
    Keyword keyword;
    std::string_view dialects;
};

constexpr auto kHomes = std::to_array<Home>({
    {Keyword::Abort, "PS"},
    {Keyword::Analyse, "P"},
    {Keyword::Apply, "A"},
    {Keyword::Asymmetric, "PA"},
    {Keyword::Attach, "PS"},
    {Keyword::Authorization, "PA"},
    {Keyword::Autoincrement, "S"},
    {Keyword::AutoIncrement, "M"},
    {Keyword::Binlog, "M"},
    {Keyword::Buffers, "P"},
    {Keyword::Change, "M"},
    {Keyword::Charset, "M"},
    {Keyword::Checkpoint, "P"},
    {Keyword::Cluster, "P"},
    {Keyword::Concurrently, "P"},
    {Keyword::Conflict, "PS"},
    {Keyword::Copy, "P"},
    {Keyword::Delayed, "M"},
    {Keyword::Detach, "PS"},
    {Keyword::Discard, "PM"},
    {Keyword::Distinctrow, "M"},
    {Keyword::Div, "M"},
    {Keyword::Dual, "MA"},
    {Keyword::Dumpfile, "M"},
    {Keyword::Duplicate, "M"},
    {Keyword::Enforced, "M"},
    {Keyword::Engine, "M"},
    {Keyword::Engines, "M"},
    {Keyword::Escaped, "M"},
    {Keyword::Flush, "M"},
    {Keyword::Freeze, "P"},
    {Keyword::Full, "PSAM"},
    {Keyword::Fulltext, "M"},
    {Keyword::Glob, "S"},
    {Keyword::Handler, "PM"},
    {Keyword::HighPriority, "M"},
    {Keyword::Identified, "M"},
    {Keyword::Ilike, "P"},
    {Keyword::Indexed, "S"},
    {Keyword::Infile, "M"},
    {Keyword::Inherit, "P"},
    {Keyword::Inherits, "P"},
    {Keyword::Isnull, "PS"},
    {Keyword::KeyBlockSize, "M"},
    {Keyword::Kill, "M"},
    {Keyword::Leakproof, "P"},
    {Keyword::Listen, "P"},
    {Keyword::LowPriority, "M"},
    {Keyword::Materialized, "PS"},
    {Keyword::MatchRecognize, "A"},
    {Keyword::Mediumblob, "M"},
    {Keyword::Mediumint, "M"},
    {Keyword::Mediumtext, "M"},
    {Keyword::Member, "M"},
    {Keyword::Minus, "MA"},
    {Keyword::Modify, "M"},
    {Keyword::Notify, "P"},
    {Keyword::Notnull, "PS"},
    {Keyword::Optimize, "M"},
    {Keyword::Outfile, "M"},
    {Keyword::Output, "A"},
    {Keyword::Overlaps, "PA"},
    {Keyword::Overriding, "PA"},
    {Keyword::Percent, "PA"},
    {Keyword::Permissive, "P"},
    {Keyword::Pivot, "A"},
    {Keyword::Placing, "PA"},
    {Keyword::Pragma, "S"},
    {Keyword::Processlist, "M"},
    {Keyword::Purge, "M"},
    {Keyword::Quick, "M"},
    {Keyword::Raise, "PS"},
    {Keyword::Reassign, "P"},
    {Keyword::Refresh, "P"},
    {Keyword::Regexp, "MS"},
    {Keyword::Reindex, "PS"},
    {Keyword::Repair, "M"},
    {Keyword::Resignal, "M"},
    {Keyword::Restrictive, "P"},
    {Keyword::Rlike, "M"},
    {Keyword::Rowformat, "M"},
    {Keyword::Setof, "P"},
    {Keyword::Signal, "M"},
    {Keyword::Similar, "PA"},
    {Keyword::Sounds, "M"},
    {Keyword::SqlBigResult, "M"},
    {Keyword::SqlBufferResult, "M"},
    {Keyword::SqlCache, "M"},
    {Keyword::SqlCalcFoundRows, "M"},
    {Keyword::SqlNoCache, "M"},
    {Keyword::SqlSmallResult, "M"},
    {Keyword::StraightJoin, "M"},
    {Keyword::Strict, "PSM"},
    {Keyword::Symmetric, "PA"},
    {Keyword::Tablesample, "PA"},
    {Keyword::Temptable, "M"},
    {Keyword::Tinyblob, "M"},
    {Keyword::Tinyint, "M"},
    {Keyword::Tinytext, "M"},
    {Keyword::Top, "A"},
    {Keyword::Unlisten, "P"},
    {Keyword::Unlock, "M"},
    {Keyword::Unlogged, "P"},
    {Keyword::Unpivot, "A"},
    {Keyword::Unsigned, "M"},
    {Keyword::Vacuum, "PS"},
    {Keyword::Variadic, "P"},
    {Keyword::Verbose, "P"},
    {Keyword::Xor, "M"},
    {Keyword::Zerofill, "M"},
});

/// Words that an engine learned late, for the first time at all: P PostgreSQL, S SQLite, M MariaDB, Y MySQL.
struct Late {
    Keyword keyword;
    char engine;
    int major;
    int minor;
};

constexpr auto kLate = std::to_array<Late>({
    {Keyword::Call, 'P', 11, 0},     {Keyword::Cycle, 'P', 14, 0},     {Keyword::Generated, 'P', 10, 0},
    {Keyword::Groups, 'P', 11, 0},   {Keyword::Merge, 'P', 15, 0},     {Keyword::Overriding, 'P', 10, 0},
    {Keyword::Search, 'P', 14, 0},   {Keyword::Ties, 'P', 13, 0},      {Keyword::Filter, 'S', 3, 25},
    {Keyword::Full, 'S', 3, 39},     {Keyword::Generated, 'S', 3, 31}, {Keyword::Materialized, 'S', 3, 35},
    {Keyword::Nulls, 'S', 3, 30},    {Keyword::Over, 'S', 3, 25},      {Keyword::Returning, 'S', 3, 35},
    {Keyword::Right, 'S', 3, 39},    {Keyword::Strict, 'S', 3, 37},    {Keyword::Window, 'S', 3, 25},
    {Keyword::Except, 'M', 10, 3},   {Keyword::Intersect, 'M', 10, 3}, {Keyword::JsonTable, 'M', 10, 6},
    {Keyword::Over, 'M', 10, 2},     {Keyword::Returning, 'M', 10, 0}, {Keyword::Skip, 'M', 10, 6},
    {Keyword::Window, 'M', 10, 2},   {Keyword::With, 'M', 10, 2},      {Keyword::Except, 'Y', 8, 0},
    {Keyword::Intersect, 'Y', 8, 0}, {Keyword::JsonTable, 'Y', 8, 0},  {Keyword::Lateral, 'Y', 8, 0},
    {Keyword::Over, 'Y', 8, 0},      {Keyword::Skip, 'Y', 8, 0},       {Keyword::Window, 'Y', 8, 0},
    {Keyword::With, 'Y', 8, 0},
});

char letterOf(Dialect dialect) {
    switch (dialect) {
        case Dialect::Postgres: return 'P';
        case Dialect::MySql: return 'M';
        case Dialect::Sqlite: return 'S';
        case Dialect::Ansi: return 'A';
    }
    return 'A';
}

}  // namespace

bool isWordOf(Keyword keyword, Dialect dialect) {
    const auto home = std::ranges::find(kHomes, keyword, &Home::keyword);
    return home == kHomes.end() || home->dialects.find(letterOf(dialect)) != std::string_view::npos;
}

ServerVersion serverVersionIn(std::string_view told) {
    ServerVersion version{.isMariaDb = told.find("MariaDB") != std::string_view::npos};
    const auto numberAt = [&](std::size_t& at) {
        int number = 0;
        for (; at < told.size() && base::isAsciiDigit(told[at]) && number < 10'000; ++at)
            number = number * 10 + (told[at] - '0');
        return number;
    };
    std::size_t at = told.find_first_of("0123456789");
    if (at == std::string_view::npos) return version;
    version.major = numberAt(at);
    if (at < told.size() && told[at] == '.') version.minor = numberAt(++at);
    return version;
}

bool isWordSince(Keyword keyword, Dialect dialect, const ServerVersion& version) {
    if (version.major == 0) return true;
    const char engine = dialect == Dialect::MySql && !version.isMariaDb ? 'Y' : letterOf(dialect);
    return std::ranges::none_of(kLate, [&](const Late& late) {
        const bool isBefore = version.major < late.major || (version.major == late.major && version.minor < late.minor);
        return late.keyword == keyword && late.engine == engine && isBefore;
    });
}

}  // namespace pantry::sql
