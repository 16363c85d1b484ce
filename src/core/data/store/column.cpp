#include "core/data/store/column.h"

#include <algorithm>
#include <array>
#include <string_view>

#include "core/base/text.h"

namespace pantry::data {
namespace {

struct Rule {
    std::string_view part;
    ColumnType type;
};

/// The first part that occurs in the name decides; so “timestamp” stands before “time”, “point” before “int”.
constexpr auto kRules = std::to_array<Rule>({
    {"timestamp", ColumnType::Timestamp}, {"datetime", ColumnType::Timestamp}, {"date", ColumnType::Date},
    {"time", ColumnType::Time},           {"interval", ColumnType::Text},      {"point", ColumnType::Text},
    {"json", ColumnType::Json},           {"bool", ColumnType::Boolean},       {"bytea", ColumnType::Binary},
    {"blob", ColumnType::Binary},         {"binary", ColumnType::Binary},      {"int", ColumnType::Integer},
    {"serial", ColumnType::Integer},      {"decimal", ColumnType::Decimal},    {"numeric", ColumnType::Decimal},
    {"money", ColumnType::Decimal},       {"real", ColumnType::Real},          {"doub", ColumnType::Real},
    {"float", ColumnType::Real},          {"char", ColumnType::Text},          {"clob", ColumnType::Text},
    {"text", ColumnType::Text},           {"uuid", ColumnType::Text},          {"enum", ColumnType::Text},
});

}  // namespace

ColumnType typeFromName(std::string_view typeName) {
    const std::string lower = base::toLower(typeName);
    for (const Rule& rule : kRules) {
        if (lower.find(rule.part) != std::string::npos) return rule.type;
    }
    return ColumnType::Unknown;
}

bool isNumeric(ColumnType type) {
    return type == ColumnType::Integer || type == ColumnType::Real || type == ColumnType::Decimal;
}

}  // namespace pantry::data
