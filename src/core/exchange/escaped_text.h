#pragma once

#include <string>
#include <string_view>

#include "core/base/utf8.h"

namespace pantry::exchange {

/// Appends a text of which some characters must be written otherwise: runs of plain bytes are copied at once, every
/// other code point goes to `escape`, which appends what stands for it.
template <class IsPlain, class Escape>
void appendEscaped(std::string& out, std::string_view text, IsPlain isPlain, Escape escape) {
    for (std::size_t i = 0; i < text.size();) {
        const std::size_t start = i;
        while (i < text.size() && isPlain(text[i])) ++i;
        out.append(text, start, i - start);
        if (i == text.size()) return;
        const base::CodePoint point = base::decodeAt(text, i);
        i += point.length;
        escape(point.value);
    }
}

}  // namespace pantry::exchange
