#pragma once

#include <cstddef>
#include <string>
#include <string_view>
#include <vector>

#include "core/catalog/catalog_view.h"
#include "core/sql/text/dialect.h"

namespace pantry::sql {

enum class CompletionKind { Keyword, Table, View, CommonTable, Column, Alias, Function, Join, Schema, Snippet };

/// The kind's name as `pantry complete` prints it.
[[nodiscard]] std::string_view completionKindName(CompletionKind kind);

/// One thing that could stand at the caret.
struct CompletionItem {
    std::string text;  ///< what to put there, quoted where it must be
    CompletionKind kind = CompletionKind::Keyword;
    std::string detail;  ///< its type, origin or use, for the right side of the list
    int score = 0;       ///< higher stands above
    /// What else is to be written, at Completion::fromAt: “FROM plot p”, where a column was chosen before the query has
    /// named its relation. Empty for nothing.
    std::string from = {};
};

struct Completion {
    std::size_t start = 0;  ///< byte range that a chosen item replaces
    std::size_t length = 0;
    std::string prefix;                 ///< what was typed of it so far
    std::vector<CompletionItem> items;  ///< best first
    std::size_t fromAt = 0;             ///< byte where a FROM goes that an item brings along
    bool isStatementStart = false;      ///< a statement begins here
    bool opens = false;  ///< worth showing by itself: enough was typed, or what comes next is clear or little
};

class Script;

/// What could stand at `caret` (bytes into `text`), best first: by the place in the statement, by what was typed,
/// by foreign keys. Strings and comments offer nothing.
[[nodiscard]] Completion completeAt(std::string_view text, std::size_t caret, Language dialect,
                                    const catalog::View& catalog, std::size_t maxItems = 200);

/// The same for a text that has been read already.
[[nodiscard]] Completion completeAt(const Script& script, std::size_t caret, const catalog::View& catalog,
                                    std::size_t maxItems = 200);

}  // namespace pantry::sql
