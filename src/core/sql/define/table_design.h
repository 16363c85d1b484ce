#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "core/catalog/catalog.h"
#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// Whether what an index holds is an expression, which stands in brackets, and no column.
[[nodiscard]] inline bool isIndexedExpression(std::string_view indexed) { return indexed.starts_with('('); }

/// A column as it is to be.
struct ColumnDesign {
    catalog::Column column;
    std::string was;  ///< its name in the table as it stands; empty for a new one

    friend bool operator==(const ColumnDesign&, const ColumnDesign&) = default;
};

/// A primary key or a unique one. No columns: there is none.
struct KeyDesign {
    std::string name;
    std::vector<std::string> columns;

    friend bool operator==(const KeyDesign&, const KeyDesign&) = default;
};

struct CheckDesign {
    std::string name;
    std::string expression;
    std::string column;  ///< with which it is written and changed; empty for one of the table

    friend bool operator==(const CheckDesign&, const CheckDesign&) = default;
};

/// A table as it is to be: what a form edits, what a CREATE TABLE statement makes, and what two of make the statements
/// between them.
///
/// Threads: a value.
struct TableDesign {
    std::string schema;
    std::string name;
    std::string comment;
    std::vector<ColumnDesign> columns;
    KeyDesign primaryKey;
    std::vector<KeyDesign> uniques;  ///< where the engine tells them from unique indexes
    std::vector<CheckDesign> checks;
    std::vector<catalog::ForeignKey> foreignKeys;
    std::vector<catalog::Index> indexes;
    std::vector<std::string> options;  ///< behind the columns: STRICT, ENGINE=InnoDB
    std::vector<std::string> others;   ///< rules that have no form here and stay as they are: EXCLUDE USING gist (…)

    /// Gives a column another name, in keys and checks too.
    void renameColumn(std::size_t column, const std::string& name, Dialect dialect);
    /// Takes a column out, and the keys, checks and indexes that need it.
    void removeColumn(std::size_t column, Dialect dialect);
    /// Whether a column is in a key or an index.
    [[nodiscard]] bool isInKey(std::string_view column) const;
};

/// A relation of a catalog as a design. `statement`: its own, where the engine keeps it.
[[nodiscard]] TableDesign designOf(const catalog::Relation& relation, Dialect dialect, std::string_view statement = {});

/// A design for another engine: types mapped, expressions translated. `remarks` gets a sentence for each thing that
/// could not be kept.
[[nodiscard]] TableDesign designIn(const TableDesign& design, Dialect from, Dialect to,
                                   std::vector<std::string>& remarks);

/// What keeps a design from being made, with where it stands.
struct DesignProblem {
    enum class Place { Table, Column, PrimaryKey, Unique, Check, ForeignKey, Index };
    Place place = Place::Table;
    std::size_t number = 0;  ///< among its kind, from 0
    std::string message;
};
[[nodiscard]] std::vector<DesignProblem> problemsOf(const TableDesign& design, Dialect dialect);

/// Columns from lines of “name type”, as people paste them: from a text, from a grid, from a definition. A comma at a
/// line's end, quotes around a name, NOT NULL, NULL, PRIMARY KEY and DEFAULT behind the type are understood; a name
/// alone gets the dialect's usual text type.
[[nodiscard]] std::vector<ColumnDesign> columnsFromLines(std::string_view lines, Dialect dialect,
                                                         std::vector<std::string>* primaryKey = nullptr);

}  // namespace pantry::sql
