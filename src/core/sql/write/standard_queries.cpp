#include "core/sql/write/standard_queries.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <optional>

#include "core/base/text.h"
#include "core/data/store/column.h"
#include "core/sql/write/names.h"

namespace pantry::sql {
namespace {

constexpr int kRows = 100;

data::ColumnType typeOf(const catalog::Column& column) { return data::typeFromName(column.typeName); }

const catalog::Column* firstOf(const catalog::Relation& relation, data::ColumnType type) {
    const auto found =
        std::ranges::find_if(relation.columns, [type](const catalog::Column& one) { return typeOf(one) == type; });
    return found == relation.columns.end() ? nullptr : &*found;
}

/// By what rows are newer than others: a moment, a day, else a key of one column.
const catalog::Column* newestBy(const catalog::Relation& relation) {
    for (const auto type : {data::ColumnType::Timestamp, data::ColumnType::Date}) {
        if (const catalog::Column* column = firstOf(relation, type)) return column;
    }
    const auto isKey = [](const catalog::Column& one) { return one.keyPosition > 0; };
    if (std::ranges::count_if(relation.columns, isKey) != 1) return nullptr;
    return &*std::ranges::find_if(relation.columns, isKey);
}

bool isUniqueAlone(const catalog::Relation& relation, const catalog::Column& column) {
    return std::ranges::any_of(relation.indexes, [&](const catalog::Index& index) {
        return index.isUnique && !index.isPartial && index.columns == std::vector{column.name};
    });
}

/// Of PostgreSQL's older JSON and its shapes none is equal to another; of bytes and unheard-of types nobody wants a
/// list.
bool canBeGrouped(const catalog::Column& column) {
    constexpr auto kWithoutEquality = std::to_array<std::string_view>(
        {"json", "xml", "point", "line", "lseg", "box", "path", "polygon", "circle", "geometry"});
    if (std::ranges::find(kWithoutEquality, base::toLower(column.typeName)) != kWithoutEquality.end()) return false;
    const data::ColumnType type = typeOf(column);
    return type != data::ColumnType::Json && type != data::ColumnType::Binary && type != data::ColumnType::Unknown;
}

/// Whose values could stand there twice: texts that nothing keeps apart, else any column that is no key.
const catalog::Column* doubledIn(const catalog::Relation& relation) {
    const catalog::Column* other = nullptr;
    for (const catalog::Column& column : relation.columns) {
        if (column.keyPosition > 0 || isUniqueAlone(relation, column) || !canBeGrouped(column)) continue;
        if (typeOf(column) == data::ColumnType::Text && relation.foreignKeyOf(column.name) == nullptr) return &column;
        if (other == nullptr) other = &column;
    }
    return other;
}

std::string limited(std::string query, Dialect dialect) {
    query +=
        dialect == Dialect::Ansi ? fmt::format("\nFETCH FIRST {} ROWS ONLY", kRows) : fmt::format("\nLIMIT {}", kRows);
    return query + ";";
}

}  // namespace

std::vector<StandardQuery> standardQueries(const catalog::Relation& relation, const catalog::View& view,
                                           Dialect dialect) {
    const std::string table = nameOf(relation, view, dialect);
    const auto quoted = [dialect](const catalog::Column& column) { return qualifiedName({}, column.name, dialect); };
    std::vector<StandardQuery> all;
    all.push_back({"How many rows", relation.name + ": how many rows",
                   fmt::format("SELECT count(*) AS {}\nFROM {};", "number_of_rows", table)});
    if (const catalog::Column* column = newestBy(relation)) {
        all.push_back({"Newest rows", relation.name + ": newest rows",
                       limited(fmt::format("SELECT *\nFROM {}\nORDER BY {} DESC", table, quoted(*column)), dialect)});
    }
    if (const catalog::Column* column = doubledIn(relation)) {
        all.push_back(
            {"Values that occur more than once", fmt::format("{}: {} more than once", relation.name, column->name),
             limited(fmt::format("SELECT {0}, count(*) AS times\nFROM {1}\nGROUP BY {0}\nHAVING count(*) > 1\n"
                                 "ORDER BY times DESC",
                                 quoted(*column), table),
                     dialect)});
    }
    std::string missing;
    for (const catalog::Column& column : relation.columns) {
        if (!column.isNullable || column.keyPosition > 0) continue;
        missing += (missing.empty() ? "\nWHERE " : "\n   OR ") + quoted(column) + " IS NULL";
    }
    if (!missing.empty() && relation.kind == catalog::ObjectKind::Table) {
        all.push_back({"Rows with something missing", relation.name + ": something missing",
                       limited(fmt::format("SELECT *\nFROM {}{}", table, missing), dialect)});
    }
    return all;
}

}  // namespace pantry::sql
