#include "core/sql/function_names.h"

#include <array>

namespace pantry::sql {
namespace {

constexpr auto kSqlite = std::to_array<FunctionFact>({
    {"abs", "number"}, {"avg", "number"}, {"changes", ""}, {"char", "code, …"}, {"coalesce", "value, …"},
    {"count", "*"}, {"cume_dist", ""}, {"date", "moment, change, …"}, {"datetime", "moment, change, …"},
    {"dense_rank", ""}, {"first_value", "value"}, {"format", "pattern, value, …"}, {"glob", "pattern, text"},
    {"group_concat", "value, separator"}, {"hex", "bytes"}, {"ifnull", "value, otherwise"},
    {"iif", "condition, then, otherwise"}, {"instr", "text, part"}, {"json", "text"}, {"json_array", "value, …"},
    {"json_array_length", "json"}, {"json_each", "json"}, {"json_extract", "json, path"},
    {"json_group_array", "value"}, {"json_group_object", "name, value"}, {"json_object", "name, value, …"},
    {"json_type", "json, path"}, {"json_valid", "text"}, {"julianday", "moment"}, {"lag", "value, rows"},
    {"last_insert_rowid", ""}, {"last_value", "value"}, {"lead", "value, rows"}, {"length", "text"},
    {"lower", "text"}, {"ltrim", "text"}, {"max", "value"}, {"min", "value"}, {"nth_value", "value, n"},
    {"ntile", "buckets"}, {"nullif", "value, other"}, {"percent_rank", ""}, {"printf", "pattern, value, …"},
    {"quote", "value"}, {"random", ""}, {"rank", ""}, {"replace", "text, part, other"}, {"round", "number, digits"},
    {"row_number", ""}, {"rtrim", "text"}, {"sign", "number"}, {"strftime", "pattern, moment"},
    {"substr", "text, from, length"}, {"substring", "text, from, length"}, {"sum", "number"}, {"time", "moment"},
    {"total", "number"}, {"trim", "text"}, {"typeof", "value"}, {"unicode", "text"}, {"unixepoch", "moment"},
    {"upper", "text"}, {"zeroblob", "length"},
});

constexpr auto kPostgres = std::to_array<FunctionFact>({
    {"abs", "number"}, {"age", "timestamp"}, {"array_agg", "value"}, {"array_length", "array, dimension"},
    {"avg", "number"}, {"bool_and", "condition"}, {"bool_or", "condition"}, {"ceil", "number"},
    {"coalesce", "value, …"}, {"concat", "value, …"}, {"concat_ws", "separator, value, …"}, {"count", "*"},
    {"cume_dist", ""}, {"date_part", "field, moment"}, {"date_trunc", "field, moment"}, {"dense_rank", ""},
    {"extract", "field FROM moment"}, {"first_value", "value"}, {"floor", "number"}, {"format", "pattern, value, …"},
    {"generate_series", "start, stop, step"}, {"greatest", "value, …"}, {"initcap", "text"}, {"json_agg", "value"},
    {"json_build_object", "name, value, …"}, {"jsonb_agg", "value"}, {"jsonb_array_elements", "json"},
    {"jsonb_build_object", "name, value, …"}, {"jsonb_each", "json"}, {"jsonb_path_query", "json, path"},
    {"jsonb_set", "json, path, value"}, {"lag", "value, rows"}, {"last_value", "value"}, {"lead", "value, rows"},
    {"least", "value, …"}, {"left", "text, length"}, {"length", "text"}, {"lower", "text"},
    {"lpad", "text, length, fill"}, {"ltrim", "text"}, {"max", "value"}, {"md5", "text"}, {"min", "value"},
    {"mod", "number, divisor"}, {"now", ""}, {"nth_value", "value, n"}, {"ntile", "buckets"},
    {"nullif", "value, other"}, {"percent_rank", ""}, {"percentile_cont", "fraction"},
    {"percentile_disc", "fraction"}, {"position", "part IN text"}, {"power", "base, exponent"}, {"random", ""},
    {"rank", ""}, {"regexp_match", "text, pattern"}, {"regexp_replace", "text, pattern, other"},
    {"repeat", "text, times"}, {"replace", "text, part, other"}, {"right", "text, length"},
    {"round", "number, digits"}, {"row_number", ""}, {"row_to_json", "row"}, {"rpad", "text, length, fill"},
    {"split_part", "text, separator, n"}, {"sqrt", "number"}, {"stddev", "number"},
    {"string_agg", "value, separator"}, {"string_to_array", "text, separator"}, {"substring", "text FROM n FOR n"},
    {"sum", "number"}, {"to_char", "value, pattern"}, {"to_date", "text, pattern"}, {"to_jsonb", "value"},
    {"to_number", "text, pattern"}, {"to_timestamp", "seconds"}, {"translate", "text, from, to"}, {"trim", "text"},
    {"trunc", "number, digits"}, {"unnest", "array"}, {"upper", "text"}, {"variance", "number"},
});

constexpr auto kMySql = std::to_array<FunctionFact>({
    {"abs", "number"}, {"adddate", "date, interval"}, {"avg", "number"}, {"ceil", "number"},
    {"char_length", "text"}, {"coalesce", "value, …"}, {"concat", "value, …"}, {"concat_ws", "separator, value, …"},
    {"count", "*"}, {"curdate", ""}, {"curtime", ""}, {"date", "moment"}, {"date_add", "date, INTERVAL n unit"},
    {"date_format", "date, pattern"}, {"date_sub", "date, INTERVAL n unit"}, {"datediff", "date, date"},
    {"dayofweek", "date"}, {"dense_rank", ""}, {"elt", "n, text, …"}, {"field", "text, text, …"},
    {"find_in_set", "text, list"}, {"floor", "number"}, {"format", "number, digits"}, {"from_unixtime", "seconds"},
    {"greatest", "value, …"}, {"group_concat", "value SEPARATOR text"}, {"hex", "value"},
    {"if", "condition, then, otherwise"}, {"ifnull", "value, otherwise"}, {"instr", "text, part"},
    {"json_array", "value, …"}, {"json_arrayagg", "value"}, {"json_contains", "json, value"},
    {"json_extract", "json, path"}, {"json_object", "name, value, …"}, {"json_unquote", "json"},
    {"json_value", "json, path"}, {"lag", "value, rows"}, {"last_insert_id", ""}, {"lead", "value, rows"},
    {"least", "value, …"}, {"left", "text, length"}, {"length", "text"}, {"locate", "part, text"}, {"lower", "text"},
    {"lpad", "text, length, fill"}, {"ltrim", "text"}, {"max", "value"}, {"md5", "text"}, {"min", "value"},
    {"mod", "number, divisor"}, {"month", "date"}, {"now", ""}, {"ntile", "buckets"}, {"nullif", "value, other"},
    {"power", "base, exponent"}, {"rand", ""}, {"rank", ""}, {"regexp_replace", "text, pattern, other"},
    {"repeat", "text, times"}, {"replace", "text, part, other"}, {"right", "text, length"},
    {"round", "number, digits"}, {"row_number", ""}, {"rpad", "text, length, fill"}, {"rtrim", "text"},
    {"stddev", "number"}, {"str_to_date", "text, pattern"}, {"substring", "text, from, length"},
    {"substring_index", "text, separator, n"}, {"sum", "number"}, {"timestampdiff", "unit, from, to"},
    {"trim", "text"}, {"truncate", "number, digits"}, {"unix_timestamp", "moment"}, {"upper", "text"},
    {"uuid", ""}, {"year", "date"},
});

constexpr auto kAnsi = std::to_array<FunctionFact>({
    {"abs", "number"}, {"avg", "number"}, {"cast", "value AS type"}, {"ceiling", "number"},
    {"char_length", "text"}, {"coalesce", "value, …"}, {"count", "*"}, {"dense_rank", ""},
    {"extract", "field FROM moment"}, {"first_value", "value"}, {"floor", "number"}, {"lag", "value, rows"},
    {"last_value", "value"}, {"lead", "value, rows"}, {"lower", "text"}, {"max", "value"}, {"min", "value"},
    {"mod", "number, divisor"}, {"ntile", "buckets"}, {"nullif", "value, other"}, {"overlay", "text PLACING text FROM n"},
    {"position", "part IN text"}, {"power", "base, exponent"}, {"rank", ""}, {"row_number", ""}, {"sqrt", "number"},
    {"substring", "text FROM n FOR n"}, {"sum", "number"}, {"trim", "text"}, {"upper", "text"},
});

}  // namespace

std::span<const FunctionFact> functionsOf(Dialect dialect) {
    switch (dialect) {
        case Dialect::Postgres: return kPostgres;
        case Dialect::MySql: return kMySql;
        case Dialect::Sqlite: return kSqlite;
        case Dialect::Ansi: break;
    }
    return kAnsi;
}

}  // namespace pantry::sql
