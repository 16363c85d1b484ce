#include "core/sql/complete/column_choice.h"

#include <algorithm>
#include <array>

#include "core/base/text.h"
#include "core/sql/complete/name_match.h"

namespace pantry::sql {
namespace {

template <std::size_t kCount>
bool isAmong(std::string_view word, const std::array<std::string_view, kCount>& list) {
    return std::ranges::any_of(list, [word](std::string_view one) { return base::equalsIgnoringCase(one, word); });
}

/// What people call the column that tells a row to a reader.
bool isLabel(std::string_view name) {
    constexpr auto kWords = std::to_array<std::string_view>({"name", "title", "label", "caption", "subject"});
    return isAmong(lastWordOf(name), kWords);
}

/// What sorts rows into few kinds.
bool isKind(std::string_view name) {
    constexpr auto kWords = std::to_array<std::string_view>(
        {"state", "status", "kind",    "type",    "grade",  "method", "role",    "category", "class", "stage",
         "level", "city",   "country", "village", "reason", "active", "enabled", "diet",     "unit",  "place"});
    return isAmong(lastWordOf(name), kWords);
}

bool hasWord(std::string_view type, std::string_view word) {
    return base::toLower(type).find(word) != std::string::npos;
}

bool isMoment(const ColumnFact& column) { return hasWord(column.type, "date") || hasWord(column.type, "time"); }

bool isAmount(const ColumnFact& column) {
    return hasWord(column.type, "num") || hasWord(column.type, "dec") || hasWord(column.type, "real") ||
           hasWord(column.type, "double") || hasWord(column.type, "float") || hasWord(column.type, "money");
}

bool pointsElsewhere(const ColumnFact& column) {
    return column.relation != nullptr && column.relation->foreignKeyOf(column.name) != nullptr;
}

int inSelect(const ColumnFact& column) {
    if (isLabel(column.name)) return 24;
    if (column.isKey) return -6;
    return pointsElsewhere(column) ? -18 : 8;
}

int inCondition(const ColumnFact& column) {
    if (isMoment(column)) return 14;
    if (isKind(column.name)) return 16;
    if (pointsElsewhere(column)) return 12;
    if (column.isKey || isLabel(column.name)) return 8;
    return 4;
}

int inJoin(const ColumnFact& column) { return pointsElsewhere(column) ? 24 : column.isKey ? 20 : 0; }

int inOrder(const ColumnFact& column) {
    if (isMoment(column)) return 26;
    if (isLabel(column.name)) return 18;
    return isAmount(column) ? 14 : pointsElsewhere(column) ? -10 : 0;
}

int inGroups(const ColumnFact& column) {
    if (isKind(column.name)) return 24;
    return isLabel(column.name) ? 18 : pointsElsewhere(column) ? 12 : 0;
}

/// A key that the engine counts itself is seldom written.
int inTarget(const ColumnFact& column) {
    const bool isCounted = column.isKey && hasWord(column.type, "int") && !pointsElsewhere(column);
    return isCounted ? -40 : 0;
}

}  // namespace

int columnLikelihood(const ColumnFact& column, NodeKind clause, const QueryNames& names) {
    constexpr int kInOrder = 12;  // columns of a table stand in the order of their weight, more or less
    const int order = -static_cast<int>(std::min<std::size_t>(column.place, kInOrder));
    constexpr int kAgain = -40;
    const bool isNamedHere = names.names(column.name, clause);
    switch (clause) {
        case NodeKind::SelectClause:
        case NodeKind::ReturningClause: return order + inSelect(column) + (isNamedHere ? kAgain : 0);
        case NodeKind::WhereClause:
        case NodeKind::HavingClause: return order + inCondition(column) + (isNamedHere ? kAgain / 4 : 0);
        case NodeKind::OnCondition: return order + inJoin(column);
        case NodeKind::GroupByClause: return order + inGroups(column) + (isNamedHere ? kAgain : 0);
        case NodeKind::OrderByClause:
        case NodeKind::WindowSpec: return order + inOrder(column) + (isNamedHere ? kAgain : 0);
        case NodeKind::InsertTarget:
        case NodeKind::SetClause: return order + inTarget(column) + (isNamedHere ? kAgain : 0);
        default: return order;
    }
}

}  // namespace pantry::sql
