#pragma once

#include <algorithm>
#include <cstddef>
#include <string_view>
#include <vector>

namespace pantry::base {

/// Where the lines of a text begin, to ask for the line of a byte.
///
/// Cost: made in one pass over the text; a question grows with the logarithm of the lines.
/// Threads: immutable.
class LineStarts {
public:
    explicit LineStarts(std::string_view text) {
        for (std::size_t at = text.find('\n'); at != std::string_view::npos; at = text.find('\n', at + 1))
            starts_.push_back(at + 1);
    }
    /// Counted from 0; the last one for every byte behind the text.
    [[nodiscard]] std::size_t lineOf(std::size_t offset) const {
        return static_cast<std::size_t>(std::ranges::upper_bound(starts_, offset) - starts_.begin());
    }
    /// How many there are; an empty text has one.
    [[nodiscard]] std::size_t count() const { return starts_.size() + 1; }

private:
    std::vector<std::size_t> starts_;  // of all but the first
};

}  // namespace pantry::base
