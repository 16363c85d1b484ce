#pragma once

#include <cstddef>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/catalog/catalog_view.h"
#include "core/sql/syntax/script.h"
#include "core/sql/text/text_edit.h"

namespace pantry::sql {

/// Where in a text somebody wants a query changed, and what there is to choose.
struct RewriteWish {
    std::size_t caret = 0;
    /// Of the columns that * stands for, those to write, by their places; all of them without.
    std::optional<std::vector<std::size_t>> columns;
};

/// A changed query.
struct Rewritten {
    std::vector<TextEdit> edits;    ///< of the text, in their order, none within another
    std::vector<TextRange> places;  ///< of the text afterwards: a name that was made up, everywhere it stands
    struct Value {
        std::string name;
        std::string text;  ///< as somebody would type it, without quotes
    };
    std::optional<Value> value;  ///< what a parameter that was made is to stand for
};

/// A way of writing a query differently without changing what it means, or of wrapping it up.
struct Rewriting {
    std::string_view id;       ///< unfold-star
    std::string_view summary;  ///< one sentence
    bool needsCatalog = false;
};

/// All of them, in the order of the guide.
[[nodiscard]] std::span<const Rewriting> rewritings();

/// Changes the statement at a caret. Comments and blanks stay where they can.
/// Errors: NotFound when nothing at the caret can be changed so, with what would be needed and where.
[[nodiscard]] Result<Rewritten> rewrite(std::string_view id, const Script& script, const catalog::View& catalog,
                                        const RewriteWish& wish);

}  // namespace pantry::sql
