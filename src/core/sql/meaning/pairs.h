#pragma once

#include <cstddef>
#include <optional>
#include <vector>

#include "core/sql/syntax/script.h"
#include "core/sql/text/text_edit.h"

namespace pantry::sql {

/// Brackets or words that belong together: ( and ), CASE and END, BEGIN and END, IF and END IF.
struct TextPair {
    TextRange at;                    ///< the one that was asked about, in the text
    std::optional<TextRange> other;  ///< nothing where it is missing
};

/// The bracket or word that a byte of the text touches, behind it before in front of it, and what it belongs to.
/// Cost: grows with its statement.
[[nodiscard]] std::optional<TextPair> pairAt(const Script& script, std::size_t offset);

/// Lines of a text that can be folded away behind their first: statements, brackets, blocks and comments of several
/// lines. Counted from 0; the last one included.
struct FoldRange {
    std::size_t firstLine = 0;
    std::size_t lastLine = 0;
    friend bool operator==(const FoldRange&, const FoldRange&) = default;
};
/// In the order in which they begin, the outer ones first; one for each line at which any begins.
/// Cost: grows with the text.
[[nodiscard]] std::vector<FoldRange> foldsOf(const Script& script);

/// How deep each line of a text lies in its folds, and whether one begins there.
struct FoldLine {
    int depth = 0;
    bool begins = false;
};
[[nodiscard]] std::vector<FoldLine> foldLines(const std::vector<FoldRange>& folds, std::size_t lines);

}  // namespace pantry::sql
