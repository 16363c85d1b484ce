#pragma once

#include <cstddef>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/catalog/catalog_view.h"
#include "core/sql/complete/function_examples.h"
#include "core/sql/complete/habits.h"
#include "core/sql/meaning/name_facts.h"
#include "core/sql/text/dialect.h"

namespace pantry::sql {

enum class CompletionKind {
    Keyword,
    Table,
    View,
    CommonTable,
    Column,
    Alias,
    Function,
    Join,
    Schema,
    Snippet,
    Value,
    Type,
    Columns,  ///< several at once: the list of an INSERT, the parameters that match it
    Parameter,
    Statement,  ///< a whole one that ran before
    Condition   ///< one under which the relation was asked before
};

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
    /// What it is of, where the database has it; they live as long as the catalog of the completion.
    const catalog::Relation* relation = nullptr;
    const catalog::Column* column = nullptr;
    const catalog::ForeignKey* key = nullptr;  ///< of `relation`, that a join follows
    const FunctionExample* example = nullptr;  ///< of the engine's own function that it is
};

/// A column beside whose comparison somebody writes: its values could stand there.
struct ValuesWanted {
    std::string schema;
    std::string table;
    std::string column;
    std::string type;
    friend auto operator<=>(const ValuesWanted&, const ValuesWanted&) = default;
};

struct Completion {
    std::size_t start = 0;  ///< byte range that a chosen item replaces
    std::size_t length = 0;
    std::string prefix;                 ///< what was typed of it so far
    std::vector<CompletionItem> items;  ///< best first
    std::size_t fromAt = 0;             ///< byte where a FROM goes that an item brings along
    catalog::View catalog = {};         ///< that it is about
    std::optional<ValuesWanted> valuesOf = {};
    bool isStatementStart = false;  ///< a statement begins here
    bool opens = false;  ///< worth showing by itself: enough was typed, or what comes next is clear or little
};

class Script;

/// What is known about an item, for the side of the list; nothing for words of the language.
[[nodiscard]] std::optional<NameFacts> factsOf(const CompletionItem& item);

/// A value of a column that the database has, and what tells a person what it is; both as text.
struct KnownValue {
    std::string text;
    std::string label;  ///< empty where the value says it itself
};
/// Offers values of the column beside which somebody writes, those that fit what was typed; before all else.
void offerValues(Completion& completion, const std::vector<KnownValue>& values, const Language& language);

struct CompletionWish {
    std::size_t maxItems = 200;
    /// Somebody asks, rather than writes on: then all that the grammar takes is looked for also where nothing was typed
    /// yet, which takes some tens of milliseconds in a long statement.
    bool isAsked = false;
    /// What somebody wrote before on this connection; nullptr where nothing is known.
    std::shared_ptr<const Habits> habits = {};
};

/// What could stand at `caret` (bytes into `text`), best first: by the place in the statement, by what was typed,
/// by foreign keys. Strings and comments offer nothing.
[[nodiscard]] Completion completeAt(std::string_view text, std::size_t caret, Language dialect,
                                    const catalog::View& catalog, const CompletionWish& wish = {});

/// The same for a text that has been read already.
[[nodiscard]] Completion completeAt(const Script& script, std::size_t caret, const catalog::View& catalog,
                                    const CompletionWish& wish = {});

}  // namespace pantry::sql
