#pragma once

#include <cstddef>
#include <map>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/sql/syntax/syntax_tree.h"

namespace pantry::sql {

/// What somebody has written before, so that what is used comes first: how often each relation and column was named,
/// the statements, and the conditions under which relations were asked. Names count in whatever case, columns by their
/// own name.
///
/// Threads: none of its own; several may read.
class Habits {
public:
    /// Counts what a statement names. Whatever its words mean: a name of any relation or column of this spelling.
    void noteNames(std::string_view statement, const SyntaxTree& tree);
    /// The same, and keeps it to be offered again, with its conditions. The latest ones are noted first; what is too
    /// long to be chosen from a list, or not understood, counts by its names alone.
    void note(std::string_view statement, const SyntaxTree& tree);

    /// Points to add to an item: more for each time, less and less; at most kMax.
    static constexpr int kMax = 48;
    [[nodiscard]] int worthOfRelation(std::string_view name) const { return worth(relations_, name); }
    [[nodiscard]] int worthOfColumn(std::string_view name) const { return worth(columns_, name); }

    /// Each once, the latest first.
    [[nodiscard]] const std::vector<std::string>& statements() const { return statements_; }
    /// Conditions on one relation as they were written, without a qualifier; the latest first.
    [[nodiscard]] std::span<const std::string> conditionsOn(std::string_view relation) const;

private:
    /// Thousands of names are looked up for one list: none is copied for it.
    struct IgnoringCase {
        using is_transparent = void;
        bool operator()(std::string_view a, std::string_view b) const;
    };
    using Counts = std::map<std::string, int, IgnoringCase>;
    [[nodiscard]] static int worth(const Counts& counts, std::string_view name);
    void noteConditions(std::string_view statement, const SyntaxTree& tree);

    Counts relations_;
    Counts columns_;
    std::vector<std::string> statements_;
    std::map<std::string, std::vector<std::string>, std::less<>> conditions_;  // by relation
};

}  // namespace pantry::sql
