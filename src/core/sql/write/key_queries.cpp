#include "core/sql/write/key_queries.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "core/base/text.h"
#include "core/data/store/column.h"
#include "core/data/view/decimal.h"
#include "core/sql/text/lexer.h"
#include "core/sql/write/names.h"

namespace pantry::sql {
namespace {

constexpr auto kTellingWords = std::to_array<std::string_view>({"name", "title", "label", "caption", "code"});

/// Of a kind that holds names. What may be megabytes long holds documents: MariaDB's JSON is a longtext.
bool isText(const catalog::Column& column) {
    const std::string type = base::toLower(column.typeName);
    const bool isDocument = type.find("longtext") != std::string::npos || type.find("mediumtext") != std::string::npos;
    return !isDocument && data::typeFromName(column.typeName) == data::ColumnType::Text;
}

bool isUnique(const catalog::Relation& relation, const std::string& column) {
    return std::ranges::any_of(relation.indexes, [&](const catalog::Index& index) {
        return index.isUnique && !index.isPartial && index.columns == std::vector<std::string>{column};
    });
}

/// How well a column tells rows apart for a person; 0 for one that does not.
int tellingOf(const catalog::Relation& relation, const catalog::Column& column) {
    if (!isText(column)) return 0;
    int score = 1;
    const std::string lower = base::toLower(column.name);
    for (std::size_t i = 0; i < kTellingWords.size(); ++i) {
        const int worth = static_cast<int>(kTellingWords.size() - i);
        if (lower == kTellingWords[i]) score += 20 + worth;
        if (lower.ends_with(kTellingWords[i])) score += 10 + worth;
    }
    if (isUnique(relation, column.name)) score += 12;
    return score + (column.isNullable ? 0 : 1);
}

/// Numbers stand as they are where the column holds numbers.
std::string literalFor(const catalog::Relation& relation, const std::string& column, const std::string& value,
                       Dialect dialect) {
    const catalog::Column* known = relation.column(column);
    const bool holdsNumbers = known != nullptr && data::isNumeric(data::typeFromName(known->typeName));
    return holdsNumbers && data::isDecimal(value) ? value : quotedString(value, dialect);
}

}  // namespace

std::string labelColumnOf(const catalog::Relation& relation) {
    const auto best = std::ranges::max_element(relation.columns, {}, [&](const catalog::Column& column) {
        return column.keyPosition > 0 ? 0 : tellingOf(relation, column);
    });
    const bool isAny = best != relation.columns.end() && best->keyPosition == 0 && tellingOf(relation, *best) > 0;
    return isAny ? best->name : std::string();
}

std::string labelQuery(const catalog::Relation& relation, const std::string& keyColumn, const std::string& labelColumn,
                       const std::vector<std::string>& keys, const catalog::View& view, Dialect dialect) {
    std::string list;
    for (const std::string& key : keys)
        list += (list.empty() ? "" : ", ") + literalFor(relation, keyColumn, key, dialect);
    const std::string column = quotedName(keyColumn, dialect);
    return fmt::format("SELECT {}, {} FROM {} WHERE {} IN ({})", column, quotedName(labelColumn, dialect),
                       nameOf(relation, view, dialect), column, list);
}

std::string rowsQuery(const catalog::Relation& relation, const std::vector<std::string>& columns,
                      const std::vector<std::optional<std::string>>& values, const catalog::View& view,
                      Dialect dialect) {
    std::string conditions;
    for (std::size_t i = 0; i < columns.size(); ++i) {
        const std::string name = quotedName(columns[i], dialect);
        conditions += fmt::format("{}{} {}", i == 0 ? "" : " AND ", name,
                                  values[i] ? "= " + literalFor(relation, columns[i], *values[i], dialect) : "IS NULL");
    }
    return fmt::format("SELECT * FROM {} WHERE {}", nameOf(relation, view, dialect), conditions);
}

}  // namespace pantry::sql
