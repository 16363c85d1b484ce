#pragma once

#include <cstddef>
#include <string>
#include <string_view>
#include <vector>

namespace pantry::sql {

/// A change of a text: `length` bytes at `start` make way for `text`.
struct TextEdit {
    std::size_t start = 0;
    std::size_t length = 0;
    std::string text;
    friend bool operator==(const TextEdit&, const TextEdit&) = default;
};

/// Bytes of a text.
struct TextRange {
    std::size_t start = 0;
    std::size_t length = 0;
    friend bool operator==(const TextRange&, const TextRange&) = default;
};

/// The text after edits that follow each other and do not overlap.
[[nodiscard]] inline std::string edited(std::string_view text, const std::vector<TextEdit>& edits) {
    std::string out;
    std::size_t copied = 0;
    for (const TextEdit& edit : edits) {
        out.append(text.substr(copied, edit.start - copied)).append(edit.text);
        copied = edit.start + edit.length;
    }
    return out.append(text.substr(copied));
}

}  // namespace pantry::sql
