#pragma once

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/base/shared_text.h"
#include "core/sql/text/text_edit.h"

namespace pantry::work {

/// What is looked for in a text, and how.
struct TextQuery {
    std::string pattern;
    bool matchesCase = false;
    bool wholeWords = false;
    bool isExpression = false;  ///< a regular expression, in the syntax of RE2; ^ and $ are the ends of a line
    friend bool operator==(const TextQuery&, const TextQuery&) = default;
};

/// The places where it stands, in their order, the first `most` of them. An expression that fits nothing at all, such
/// as x*, is found only where it fits something. Errors: InvalidInput when the expression is not understood, with what
/// is wrong. Cost: grows with the text, whatever the expression.
[[nodiscard]] Result<std::vector<sql::TextRange>> findInText(std::string_view text, const TextQuery& query,
                                                             std::size_t most);

/// What to put in place of each of them, within `within` where that is given. In the replacement for an expression, $1
/// is what the first pair of brackets has found, $0 all of it, $$ a dollar, \n a line's end, \t a tab; otherwise it is
/// taken as it is.
[[nodiscard]] Result<std::vector<sql::TextEdit>> replaceInText(std::string_view text, const TextQuery& query,
                                                               std::string_view replacement,
                                                               const std::optional<sql::TextRange>& within = {});

/// A place in one of several texts, and the line that it is in.
struct FoundLine {
    std::size_t text = 0;  ///< which of them
    sql::TextRange range;
    std::size_t line = 1;  ///< from 1
    std::string shown;     ///< the line, cut to what can be shown
};
/// The same in several texts, the first `most` places in all.
[[nodiscard]] Result<std::vector<FoundLine>> findInTexts(const std::vector<base::SharedText>& texts,
                                                         const TextQuery& query, std::size_t most);

}  // namespace pantry::work
