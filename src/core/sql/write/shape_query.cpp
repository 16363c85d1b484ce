#include "core/sql/write/shape_query.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "core/base/text.h"
#include "core/data/store/column.h"
#include "core/sql/text/lexer.h"
#include "core/sql/write/names.h"

namespace pantry::sql {
namespace {

constexpr int kLongestValue = 200;  // characters

bool isNumber(data::ColumnType type) {
    return type == data::ColumnType::Integer || type == data::ColumnType::Decimal || type == data::ColumnType::Real;
}

/// What types are, whose names begin like those of others: integer[], int4range.
bool isComposed(std::string_view typeName) {
    const std::string name = base::toLower(typeName);
    return name.find('[') != std::string::npos || name.find("range") != std::string::npos || name == "money";
}

bool isSpatial(std::string_view typeName) {
    constexpr auto kSpatial = std::to_array<std::string_view>({"geometry", "point", "linestring", "polygon", "multi"});
    const std::string name = base::toLower(typeName);
    return std::ranges::any_of(kSpatial, [&](std::string_view one) { return name.starts_with(one); });
}

/// Unknown where the type's own name would mislead.
data::ColumnType typeOfValues(const catalog::Column& column) {
    return isComposed(column.typeName) ? data::ColumnType::Unknown : data::typeFromName(column.typeName);
}

/// Whether values are compared and ordered as they are; everything else is by its text.
bool isOrdered(const catalog::Column& column, Dialect dialect) {
    const data::ColumnType type = typeOfValues(column);
    if (isNumber(type) || type == data::ColumnType::Date || type == data::ColumnType::Timestamp ||
        type == data::ColumnType::Time) {
        return true;
    }
    return type == data::ColumnType::Text && dialect != Dialect::Postgres;
}

std::string asText(const std::string& expression, Dialect dialect) {
    return fmt::format("CAST({} AS {})", expression, dialect == Dialect::MySql ? "char" : "text");
}

}  // namespace

std::string shapeQuery(const catalog::Relation& relation, const catalog::Column& column, Dialect dialect) {
    const std::string table = qualifiedName(relation.schema, relation.name, dialect);
    const data::ColumnType type = typeOfValues(column);
    std::string value = quotedName(column.name, dialect);
    if (type == data::ColumnType::Binary) {
        value = fmt::format("{}({})", dialect == Dialect::Sqlite ? "length" : "octet_length", value);
    } else if (dialect == Dialect::MySql && isSpatial(column.typeName)) {
        value = fmt::format("ST_AsText({})", value);
    } else if (!isOrdered(column, dialect)) {
        value = asText(value, dialect);
    }
    const auto cut = [&](const std::string& expression) {
        return fmt::format("substr({}, 1, {})", asText(expression, dialect), kLongestValue);
    };
    const std::string average =
        isNumber(type) ? asText(fmt::format("avg({})", value), dialect) : asText("NULL", dialect);
    return fmt::format(
        "SELECT 0 AS part, count(*) AS number_of_rows, count({0}) AS number_of_values,\n"
        "       count(DISTINCT {0}) AS different, {1} AS least, {2} AS greatest, {3} AS average\nFROM {4}\n"
        "UNION ALL\nSELECT 1, frequent.number_of_rows, 0, 0, frequent.one, NULL, NULL\nFROM (\n"
        "    SELECT {5} AS one, count(*) AS number_of_rows\n    FROM {4}\n    GROUP BY {0}\n"
        "    ORDER BY 2 DESC, 1\n    LIMIT {6}\n) AS frequent\nORDER BY 1, 2 DESC, 5",
        value, cut(fmt::format("min({})", value)), cut(fmt::format("max({})", value)), average, table, cut(value),
        kFrequentValues);
}

}  // namespace pantry::sql
