#include "core/sql/complete/function_examples.h"

#include <algorithm>
#include <array>

#include "core/base/text.h"

namespace pantry::sql {
namespace {

constexpr auto kSqliteExamples = std::to_array<FunctionExample>({
    {"abs", "abs(-3)", "3"},
    {"char", "char(65, 112)", "Ap"},
    {"coalesce", "coalesce(NULL, 'unripe')", "unripe"},
    {"date", "date('2026-03-01', '+1 month')", "2026-04-01"},
    {"datetime", "datetime('2026-03-01', '+90 minutes')", "2026-03-01 01:30:00"},
    {"format", "format('%s: %d', 'apples', 12)", "apples: 12"},
    {"hex", "hex('AZ')", "415A"},
    {"ifnull", "ifnull(NULL, 0)", "0"},
    {"iif", "iif(3 > 2, 'many', 'few')", "many"},
    {"instr", "instr('orchard', 'ch')", "3"},
    {"json_array_length", "json_array_length('[1, 2, 3]')", "3"},
    {"json_extract", "json_extract('{\"kg\": 4}', '$.kg')", "4"},
    {"json_object", "json_object('kind', 'pear')", "{\"kind\":\"pear\"}"},
    {"length", "length('apple')", "5"},
    {"lower", "lower('APPLE')", "apple"},
    {"ltrim", "ltrim('  ripe')", "ripe"},
    {"nullif", "nullif('none', 'none')", "NULL"},
    {"printf", "printf('%.1f', 2.25)", "2.3"},
    {"quote", "quote('it''s')", "'it''s'"},
    {"replace", "replace('red pear', 'red', 'green')", "green pear"},
    {"round", "round(2.345, 1)", "2.3"},
    {"rtrim", "rtrim('ripe..', '.')", "ripe"},
    {"sign", "sign(-12)", "-1"},
    {"strftime", "strftime('%Y-%m', '2026-03-01')", "2026-03"},
    {"substr", "substr('orchard', 1, 3)", "orc"},
    {"trim", "trim('  ripe ')", "ripe"},
    {"typeof", "typeof(2.5)", "real"},
    {"upper", "upper('apple')", "APPLE"},
});

constexpr auto kPostgresExamples = std::to_array<FunctionExample>({
    {"abs", "abs(-3)", "3"},
    {"age", "age(date '2026-03-01', date '2025-01-15')", "1 year 1 mon 17 days"},
    {"array_length", "array_length(ARRAY[4, 5, 6], 1)", "3"},
    {"array_to_string", "array_to_string(ARRAY['a', 'b'], '; ')", "a; b"},
    {"ceil", "ceil(2.1)", "3"},
    {"char_length", "char_length('apple')", "5"},
    {"coalesce", "coalesce(NULL, 'unripe')", "unripe"},
    {"concat", "concat('plot ', 7, NULL)", "plot 7"},
    {"concat_ws", "concat_ws(', ', 'Larkspur', NULL, 'Red')", "Larkspur, Red"},
    {"date_part", "date_part('month', date '2026-03-01')", "3"},
    {"date_trunc", "date_trunc('month', timestamp '2026-03-17 08:30')", "2026-03-01 00:00:00"},
    {"extract", "extract(year FROM date '2026-03-01')", "2026"},
    {"floor", "floor(2.9)", "2"},
    {"format", "format('%s: %s', 'apples', 12)", "apples: 12"},
    {"greatest", "greatest(4, 9, 2)", "9"},
    {"initcap", "initcap('north slope')", "North Slope"},
    {"jsonb_array_length", "jsonb_array_length('[1, 2, 3]')", "3"},
    {"jsonb_build_object", "jsonb_build_object('kind', 'pear')", "{\"kind\": \"pear\"}"},
    {"least", "least(4, 9, 2)", "2"},
    {"left", "left('orchard', 3)", "orc"},
    {"length", "length('apple')", "5"},
    {"lower", "lower('APPLE')", "apple"},
    {"lpad", "lpad('7', 3, '0')", "007"},
    {"make_date", "make_date(2026, 3, 1)", "2026-03-01"},
    {"md5", "md5('apple')", "1f3870be274f6c49b3e31a0c6728957f"},
    {"mod", "mod(7, 3)", "1"},
    {"nullif", "nullif('none', 'none')", "NULL"},
    {"position", "position('ch' IN 'orchard')", "3"},
    {"power", "power(2, 10)", "1024"},
    {"regexp_replace", "regexp_replace('plot 12', '[0-9]+', '#')", "plot #"},
    {"repeat", "repeat('ab', 3)", "ababab"},
    {"replace", "replace('red pear', 'red', 'green')", "green pear"},
    {"reverse", "reverse('pear')", "raep"},
    {"right", "right('orchard', 3)", "ard"},
    {"round", "round(2.345, 1)", "2.3"},
    {"split_part", "split_part('north/slope/3', '/', 2)", "slope"},
    {"starts_with", "starts_with('orchard', 'or')", "true"},
    {"string_to_array", "string_to_array('a,b', ',')", "{a,b}"},
    {"strpos", "strpos('orchard', 'ch')", "3"},
    {"substring", "substring('orchard' FROM 1 FOR 3)", "orc"},
    {"to_char", "to_char(date '2026-03-01', 'DD Mon YYYY')", "01 Mar 2026"},
    {"to_date", "to_date('01.03.2026', 'DD.MM.YYYY')", "2026-03-01"},
    {"trim", "trim('  ripe ')", "ripe"},
    {"trunc", "trunc(2.99, 1)", "2.9"},
    {"upper", "upper('apple')", "APPLE"},
});

constexpr auto kMySqlExamples = std::to_array<FunctionExample>({
    {"abs", "abs(-3)", "3"},
    {"ceil", "ceil(2.1)", "3"},
    {"char_length", "char_length('apple')", "5"},
    {"coalesce", "coalesce(NULL, 'unripe')", "unripe"},
    {"concat", "concat('plot ', 7)", "plot 7"},
    {"concat_ws", "concat_ws(', ', 'Larkspur', NULL, 'Red')", "Larkspur, Red"},
    {"date_add", "date_add('2026-03-01', INTERVAL 1 MONTH)", "2026-04-01"},
    {"date_format", "date_format('2026-03-01', '%d.%m.%Y')", "01.03.2026"},
    {"datediff", "datediff('2026-03-01', '2026-02-27')", "2"},
    {"elt", "elt(2, 'apple', 'pear')", "pear"},
    {"field", "field('pear', 'apple', 'pear')", "2"},
    {"find_in_set", "find_in_set('pear', 'apple,pear')", "2"},
    {"floor", "floor(2.9)", "2"},
    {"format", "format(1234.5, 2)", "1,234.50"},
    {"greatest", "greatest(4, 9, 2)", "9"},
    {"hex", "hex('AZ')", "415A"},
    {"if", "if(3 > 2, 'many', 'few')", "many"},
    {"ifnull", "ifnull(NULL, 0)", "0"},
    {"instr", "instr('orchard', 'ch')", "3"},
    {"json_extract", "json_extract('{\"kg\": 4}', '$.kg')", "4"},
    {"json_length", "json_length('[1, 2, 3]')", "3"},
    {"last_day", "last_day('2026-02-03')", "2026-02-28"},
    {"least", "least(4, 9, 2)", "2"},
    {"left", "left('orchard', 3)", "orc"},
    {"length", "length('apple')", "5"},
    {"lower", "lower('APPLE')", "apple"},
    {"lpad", "lpad('7', 3, '0')", "007"},
    {"mod", "mod(7, 3)", "1"},
    {"nullif", "nullif('none', 'none')", "NULL"},
    {"power", "power(2, 10)", "1024"},
    {"repeat", "repeat('ab', 3)", "ababab"},
    {"replace", "replace('red pear', 'red', 'green')", "green pear"},
    {"reverse", "reverse('pear')", "raep"},
    {"right", "right('orchard', 3)", "ard"},
    {"round", "round(2.345, 1)", "2.3"},
    {"str_to_date", "str_to_date('01.03.2026', '%d.%m.%Y')", "2026-03-01"},
    {"substring_index", "substring_index('north/slope/3', '/', 2)", "north/slope"},
    {"timestampdiff", "timestampdiff(MONTH, '2026-01-01', '2026-03-01')", "2"},
    {"trim", "trim('  ripe ')", "ripe"},
    {"truncate", "truncate(2.99, 1)", "2.9"},
    {"upper", "upper('apple')", "APPLE"},
});

}  // namespace

std::span<const FunctionExample> functionExamples(Dialect dialect) {
    switch (dialect) {
        case Dialect::Postgres: return kPostgresExamples;
        case Dialect::MySql: return kMySqlExamples;
        case Dialect::Sqlite: return kSqliteExamples;
        case Dialect::Ansi: return {};
    }
    return {};
}

const FunctionExample* exampleOf(std::string_view function, Dialect dialect) {
    for (const FunctionExample& one : functionExamples(dialect)) {
        if (base::equalsIgnoringCase(one.name, function)) return &one;
    }
    return nullptr;
}

}  // namespace pantry::sql
