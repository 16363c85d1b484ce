#include "core/sql/complete/dialect_words.h"

#include <algorithm>
#include <array>
#include <string_view>

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

}  // namespace pantry::sql
