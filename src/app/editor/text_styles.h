#pragma once

#include <cstddef>
#include <span>
#include <string>

#include "core/work/text_reading.h"

namespace pantry::app {

/// How a byte of a text looks; as the editor component numbers its styles.
enum class TextStyle : char {
    Plain,
    Keyword,
    Function,
    Text,
    Number,
    Comment,
    Parameter,
    Type,
    Foreign,
    Strong,
    Emphasis
};

struct TextStyleLook {
    TextStyle style;
    const char* role;  ///< of a colour of the theme
    bool isBold;
    bool isItalic;
};
[[nodiscard]] std::span<const TextStyleLook> textStyleLooks();

/// A style for each byte of what was read, from one place to another.
/// Cost: grows with the bytes between.
[[nodiscard]] std::string stylesOf(const work::TextReading& reading, std::size_t from, std::size_t to);

}  // namespace pantry::app
