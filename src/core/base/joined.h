#pragma once

#include <string>
#include <string_view>

namespace pantry::base {

/// The texts of a range one after another, with `between` between them.
template <class Texts>
[[nodiscard]] std::string joined(const Texts& texts, std::string_view between) {
    std::string out;
    bool isFirst = true;
    for (const std::string_view text : texts) {
        if (!isFirst) out += between;
        isFirst = false;
        out += text;
    }
    return out;
}

}  // namespace pantry::base
