#pragma once

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "core/sql/define/table_design.h"

namespace pantry::sql {

/// A statement of a change, and what it does in a few words.
struct DefinitionStep {
    std::string statement;       ///< without its terminator
    std::string label;           ///< Drop column yield
    bool isDestructive = false;  ///< rows, values or rules are gone afterwards
    /// Where a byte of the statement stands in the text that somebody wrote it in; nothing where it was written for
    /// them.
    std::optional<std::size_t> textStart = {};
    std::size_t added = 0;  ///< bytes that were put behind its first word and are not in that text

    [[nodiscard]] std::optional<std::size_t> placeInText(std::size_t byte) const;
    friend bool operator==(const DefinitionStep&, const DefinitionStep&) = default;
};

/// Steps that belong together.
struct DefinitionChange {
    std::vector<DefinitionStep> steps;
    /// The statements begin and end a transaction themselves; otherwise whoever runs them does, where the engine can
    /// undo definitions.
    bool hasOwnTransaction = false;
    /// Statements that the engine runs in no transaction, such as CREATE DATABASE.
    bool isOneByOne = false;

    [[nodiscard]] bool isEmpty() const { return steps.empty(); }
    [[nodiscard]] bool isDestructive() const;
    /// All statements as a script: each with its terminator.
    [[nodiscard]] std::string script() const;
    friend bool operator==(const DefinitionChange&, const DefinitionChange&) = default;
};

/// What SQLite needs to build a table anew: the statements of the indexes and triggers on it.
struct OwnStatements {
    std::string table;
    std::vector<std::string> triggers;
    std::vector<std::pair<std::string, std::string>> indexes;  ///< name and statement
};

/// The parts of a definition that SQLite gives of a table: its own statement, then those of its indexes and triggers.
[[nodiscard]] OwnStatements ownStatementsIn(std::string_view definition);

/// The statements that make a table what it is to be, in an order that runs. `before` and `after` are designs of the
/// same table; columns belong together by ColumnDesign::was. Statements only where something changes.
///
/// SQLite: renaming, adding plain columns and indexes have statements of their own; everything else builds the table
/// anew within one transaction, as the engine's documentation (“Making Other Kinds Of Table Schema Changes”) describes:
/// a new table, the rows copied, the old one dropped, the new one renamed, indexes and triggers made again, foreign
/// keys examined.
[[nodiscard]] DefinitionChange alterTable(const TableDesign& before, const TableDesign& after, Dialect dialect,
                                          const OwnStatements& own = {});

}  // namespace pantry::sql
