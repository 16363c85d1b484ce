#pragma once

#include <algorithm>
#include <string_view>
#include <vector>

#include "core/sql/define/table_design.h"

namespace pantry::sql {

/// Whether parts of two designs of one table say the same to the engine, however they are written: a server tells back
/// in its own words what it was given.
class SameParts {
public:
    explicit SameParts(Dialect dialect) : dialect_(dialect) {}

    /// The same words, apart from blanks, brackets around the whole, quotes of names and casts of literals.
    [[nodiscard]] bool expressions(std::string_view a, std::string_view b) const;
    /// Everything but the names of the columns, their comments and their places in the key.
    [[nodiscard]] bool columns(const catalog::Column& a, const catalog::Column& b) const;
    [[nodiscard]] bool operator()(const catalog::ForeignKey& a, const catalog::ForeignKey& b) const;
    [[nodiscard]] bool operator()(const CheckDesign& a, const CheckDesign& b) const;
    [[nodiscard]] bool operator()(const catalog::Index& a, const catalog::Index& b) const;
    [[nodiscard]] bool operator()(const KeyDesign& a, const KeyDesign& b) const { return a == b; }

    template <class Part>
    [[nodiscard]] bool isAmong(const Part& part, const std::vector<Part>& all) const {
        return std::ranges::any_of(all, [&](const Part& one) { return (*this)(one, part); });
    }
    /// Those of `these` that are not among `those`.
    template <class Part>
    [[nodiscard]] std::vector<Part> missing(const std::vector<Part>& these, const std::vector<Part>& those) const {
        std::vector<Part> out;
        for (const Part& one : these) {
            if (!isAmong(one, those)) out.push_back(one);
        }
        return out;
    }
    template <class Part>
    [[nodiscard]] bool alike(const std::vector<Part>& a, const std::vector<Part>& b) const {
        return a.size() == b.size() && missing(a, b).empty();
    }

private:
    Dialect dialect_;
};

}  // namespace pantry::sql
