#pragma once

#include <cstddef>
#include <string>
#include <vector>

#include "core/base/shared_text.h"
#include "core/sql/layout/format_part.h"
#include "core/sql/layout/formatter.h"
#include "core/work/text_reading.h"

namespace pantry::work {

/// What to put into a text in place of some of its bytes, so that it is formatted.
struct FormattedEdit {
    base::SharedText of;    ///< the text that it is meant for
    std::size_t start = 0;  ///< bytes that it takes the place of
    std::size_t end = 0;
    std::string text;
    bool isSame = false;                       ///< it is formatted already
    std::size_t caret = 0;                     ///< where the caret's token is afterwards
    std::vector<sql::UnreadStatement> unread;  ///< what stays as it is
    std::size_t unreadLine = 0;                ///< the line, from 1, of the first of these afterwards
};

/// Formats a text, or of it the bytes from `start` to `end` when there are any. Of Markdown that is what stands in its
/// blocks of SQL, each by itself.
struct FormatWish {
    std::size_t start = 0;
    std::size_t end = 0;
    std::size_t caret = 0;
    sql::FormatOptions options = {};
};
/// Cost: grows with the text.
[[nodiscard]] FormattedEdit formatText(const base::SharedText& text, TextKind kind, const sql::Language& language,
                                       const FormatWish& wish);

}  // namespace pantry::work
