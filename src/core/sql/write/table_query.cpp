#include "core/sql/write/table_query.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>

#include "core/base/text.h"
#include "core/data/store/column.h"
#include "core/sql/text/lexer.h"
#include "core/sql/write/names.h"

namespace pantry::sql {
namespace {

bool isNumberText(std::string_view text) {
    double number = 0;
    const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), number);
    return code == std::errc() && end == text.data() + text.size() && !text.empty();
}

Error wrong(const ColumnCondition& one, std::string_view what) {
    return {.kind = ErrorKind::InvalidInput,
            .message = fmt::format("{} is compared with {}; “{}” is none.", one.column, what, one.value)};
}

/// A value as a literal of the column's type.
Result<std::string> literalFor(const ColumnCondition& one, const catalog::Column& column, Dialect dialect) {
    const data::ColumnType type = data::typeFromName(column.typeName);
    const std::string text(base::trimmed(one.value));
    if (data::isNumeric(type)) {
        if (!isNumberText(text)) return wrong(one, "a number");
        return text;
    }
    if (type == data::ColumnType::Boolean) {
        const std::string word = base::toLower(text);
        if (word == "true" || word == "false" || word == "1" || word == "0") return text;
        return wrong(one, "true or false");
    }
    return quotedString(one.value, dialect);
}

/// Signs that stand for others in LIKE are meant as themselves.
std::string likePattern(const std::string& value, bool atStart, Dialect dialect) {
    std::string escaped;
    for (const char c : value) {
        if (c == '%' || c == '_' || c == '!') escaped += '!';
        escaped += c;
    }
    return quotedString((atStart ? "" : "%") + escaped + "%", dialect) + " ESCAPE '!'";
}

Result<std::string> conditionText(const ColumnCondition& one, const catalog::Column& column, Dialect dialect) {
    const std::string name = quotedName(column.name, dialect);
    switch (one.compare) {
        case Compare::IsNull: return name + " IS NULL";
        case Compare::IsNotNull: return name + " IS NOT NULL";
        case Compare::Contains:
        case Compare::Begins: {
            const bool isText = data::typeFromName(column.typeName) == data::ColumnType::Text;
            const std::string subject =
                dialect == Dialect::Postgres && !isText ? fmt::format("CAST({} AS text)", name) : name;
            return fmt::format("{} {} {}", subject, dialect == Dialect::Postgres ? "ILIKE" : "LIKE",
                               likePattern(one.value, one.compare == Compare::Begins, dialect));
        }
        default: break;
    }
    const auto literal = literalFor(one, column, dialect);
    if (!literal) return literal.error();
    constexpr std::string_view kSigns[] = {"=", "<>", "<", "<=", ">", ">="};
    return fmt::format("{} {} {}", name, kSigns[static_cast<std::size_t>(one.compare)], *literal);
}

}  // namespace

const std::vector<CompareEntry>& compareEntries() {
    static const std::vector<CompareEntry> kEntries{{Compare::Equals, "is", true},
                                                    {Compare::Differs, "is not", true},
                                                    {Compare::Less, "is less than", true},
                                                    {Compare::AtMost, "is at most", true},
                                                    {Compare::Greater, "is more than", true},
                                                    {Compare::AtLeast, "is at least", true},
                                                    {Compare::Contains, "contains", true},
                                                    {Compare::Begins, "begins with", true},
                                                    {Compare::IsNull, "is NULL", false},
                                                    {Compare::IsNotNull, "is not NULL", false}};
    return kEntries;
}

bool fitsType(Compare compare, std::string_view typeName) {
    const data::ColumnType type = data::typeFromName(typeName);
    const bool isPlain = type != data::ColumnType::Json && type != data::ColumnType::Binary;
    if (compare == Compare::IsNull || compare == Compare::IsNotNull) return true;
    if (compare == Compare::Contains || compare == Compare::Begins) {
        return type == data::ColumnType::Text || type == data::ColumnType::Json || type == data::ColumnType::Unknown;
    }
    return isPlain && !(type == data::ColumnType::Boolean && compare > Compare::Differs);
}

Result<std::string> tableQuery(const catalog::Relation& relation, const TableWish& wish, const catalog::View& view,
                               Dialect dialect) {
    std::string out = fmt::format("SELECT *\nFROM {}", nameOf(relation, view, dialect));
    std::string_view word = "\nWHERE ";
    for (const ColumnCondition& one : wish.conditions) {
        const catalog::Column* column = relation.column(one.column);
        if (column == nullptr) {
            return Error{.kind = ErrorKind::NotFound,
                         .message = fmt::format("{} has no column {}.", relation.name, one.column)};
        }
        const auto text = conditionText(one, *column, dialect);
        if (!text) return text.error();
        out += std::string(word) + *text;
        word = "\n  AND ";
    }
    if (!wish.orderBy.empty()) {
        out += fmt::format("\nORDER BY {}{}", quotedName(wish.orderBy, dialect), wish.isDescending ? " DESC" : "");
    }
    return out;
}

}  // namespace pantry::sql
