#pragma once

#include <string_view>

#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// What stands around the caret when a sign is typed. '\0' is the edge of the text.
struct TypingPlace {
    char before = '\0';
    char after = '\0';
    bool isInText = false;  ///< within a text in quotes or a comment
};

/// The sign that is written behind the caret when one that opens is typed there: brackets and quotes, where what
/// follows would not become their content by mistake. '\0' when nothing is closed. Thread: any.
[[nodiscard]] char closingFor(char typed, TypingPlace place);

/// The sign that closes what a sign opens, wherever it stands; '\0' for one that opens nothing.
[[nodiscard]] char closingOf(char opening);

/// Whether what follows a piece of a text would be within a text in quotes, a quoted name or a comment that begins in
/// it.
[[nodiscard]] bool endsWithin(std::string_view piece, const Language& language);

}  // namespace pantry::sql
