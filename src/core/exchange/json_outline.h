#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace pantry::exchange {

enum class JsonTokenKind : std::uint8_t { Name, String, Number, Word, Bracket, Separator, Unknown };

/// A piece of a JSON text; blanks lie between pieces.
struct JsonToken {
    std::uint32_t start = 0;  ///< byte offset
    std::uint32_t length = 0;
    JsonTokenKind kind = JsonTokenKind::Unknown;
    friend bool operator==(const JsonToken&, const JsonToken&) = default;
};

/// Brackets that belong together.
struct JsonPair {
    std::uint32_t open = 0;  ///< byte offsets of the brackets
    std::uint32_t close = 0;
    friend bool operator==(const JsonPair&, const JsonPair&) = default;
};

/// The first place where a text is no JSON any more.
struct JsonProblem {
    std::size_t byteOffset = 0;
    std::string message;  ///< what is wrong there and what should stand there
    friend bool operator==(const JsonProblem&, const JsonProblem&) = default;
};

/// What an editor needs to know of a text with one JSON value, or several below each other (JSON Lines). Any bytes are
/// taken; behind a mistake it goes on as well as it can.
struct JsonOutline {
    std::vector<JsonToken> tokens;
    std::vector<JsonPair> pairs;  ///< in the order in which they are closed
    std::optional<JsonProblem> problem;
};
[[nodiscard]] JsonOutline outlineJson(std::string_view text);

/// Whether a text means to be JSON: its first character that is no blank is { or [, with which no SQL begins.
[[nodiscard]] bool looksLikeJson(std::string_view text);

}  // namespace pantry::exchange
