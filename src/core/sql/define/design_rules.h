#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/sql/define/table_design.h"

namespace pantry::sql {

/// Keys, indexes, checks and foreign keys of a design as lines of a form, each with the same few texts.
struct DesignRule {
    enum class Kind { Unique, Index, UniqueIndex, Check, ForeignKey };
    enum class Field {
        Name,
        Columns,   ///< a, b; of a check its condition
        RefersTo,  ///< warden (warden_id); of an index the rows that it holds
        OnDelete,  ///< CASCADE; of an index its method
    };
    Kind kind = Kind::Index;
    std::size_t number = 0;  ///< among those of its kind; unique and other indexes count together
};

/// UNIQUE KEY, INDEX, UNIQUE INDEX, CHECK, FOREIGN KEY
[[nodiscard]] std::string_view ruleLabel(DesignRule::Kind kind);
/// What an engine offers: keys that are unique are indexes in some.
[[nodiscard]] std::vector<DesignRule::Kind> ruleKinds(Dialect dialect);

[[nodiscard]] std::vector<DesignRule> rulesOf(const TableDesign& design);
[[nodiscard]] std::string ruleText(const TableDesign& design, const DesignRule& rule, DesignRule::Field field,
                                   Dialect dialect);
void setRuleText(TableDesign& design, const DesignRule& rule, DesignRule::Field field, std::string_view text,
                 Dialect dialect);
/// Whether a kind of rule has such a text.
[[nodiscard]] bool hasField(DesignRule::Kind kind, DesignRule::Field field, Dialect dialect);
/// A rule more, with a name that says what it is about; where it is then.
DesignRule addRule(TableDesign& design, DesignRule::Kind kind, const std::vector<std::string>& columns);
void removeRule(TableDesign& design, const DesignRule& rule);
/// Where a problem of a design stands among its rules; nothing for those of columns and of the table.
[[nodiscard]] std::optional<DesignRule> ruleOf(const DesignProblem& problem, const TableDesign& design);

/// “a, "b c", lower(d)” as names, expressions in brackets.
[[nodiscard]] std::vector<std::string> columnsFromText(std::string_view text, Dialect dialect);

}  // namespace pantry::sql
