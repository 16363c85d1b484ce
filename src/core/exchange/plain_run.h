#pragma once

#include <string_view>

namespace pantry::exchange {

/// How many characters from `start` on are plain: writers copy such runs at once and look closely only at the others.
template <class IsPlain>
[[nodiscard]] std::size_t plainRun(std::string_view text, std::size_t start, IsPlain isPlain) {
    std::size_t end = start;
    while (end < text.size() && isPlain(text[end])) ++end;
    return end - start;
}

}  // namespace pantry::exchange
