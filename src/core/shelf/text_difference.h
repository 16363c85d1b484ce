#pragma once

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace pantry::shelf {

/// A line of two texts beside each other.
struct DifferenceLine {
    struct Side {
        std::size_t number = 0;  ///< from 1
        std::string text;
        std::pair<std::size_t, std::size_t> changed = {};  ///< bytes of it that are otherwise, from and to
    };
    std::optional<Side> before;  ///< nothing beside a line that was added
    std::optional<Side> now;     ///< nothing beside a line that is gone
    bool isSame = true;
};

/// Two texts line by line, equal lines beside each other, by the Myers algorithm of the git library. Of lines that
/// changed the middle that is otherwise is told.
[[nodiscard]] std::vector<DifferenceLine> differenceOf(std::string_view before, std::string_view now);

/// How many lines of the newer text are changed or added, and how many are gone.
struct DifferenceCount {
    std::size_t changedOrAdded = 0;
    std::size_t gone = 0;
};
[[nodiscard]] DifferenceCount countOf(const std::vector<DifferenceLine>& lines);

}  // namespace pantry::shelf
