#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/catalog/catalog_view.h"
#include "core/snippet/template.h"
#include "core/sql/text/dialect.h"

namespace pantry::snippet {

/// A template with the word that brings it.
struct Snippet {
    std::string trigger;                 ///< what is typed for it; one word
    std::string title;                   ///< what it does, a few words
    std::string text;                    ///< see template.h
    std::vector<sql::Dialect> dialects;  ///< in which it is offered; none: in all
    bool isBuiltIn = false;

    [[nodiscard]] bool fits(sql::Dialect dialect) const;
    friend bool operator==(const Snippet&, const Snippet&) = default;
};

/// What is wrong with a snippet that somebody wants to keep beside others: its trigger is no word, or another one's;
/// its text is not understood, with the byte. Nothing when all is well.
[[nodiscard]] Status check(const Snippet& one, const std::vector<Snippet>& others);

/// Those that are offered in a dialect: somebody's own before those that come with the program, and in the place of
/// those with the same trigger.
[[nodiscard]] std::vector<Snippet> offeredIn(sql::Dialect dialect, const std::vector<Snippet>& own);

/// What a place can be filled with, of what the database has; in its order. `table`: what stands in the place that the
/// columns depend on.
[[nodiscard]] std::vector<std::pair<std::string, std::string>> choicesFor(const Place& place, std::string_view table,
                                                                          const catalog::View& catalog,
                                                                          sql::Dialect dialect);

/// The columns of a table by the name that somebody wrote, for repeated parts.
[[nodiscard]] ColumnsOf columnsIn(const catalog::View& catalog, sql::Dialect dialect);

}  // namespace pantry::snippet
