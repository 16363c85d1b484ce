#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/catalog/catalog.h"
#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// What a CREATE TABLE statement says of a table beyond what every engine's catalog tells: SQLite keeps it only there.
struct TableParts {
    struct Column {
        std::string name;
        std::string written;  ///< all of its definition, as it stands in the statement
        std::string generation;
        bool isStored = false;
        bool countsUp = false;  ///< AUTOINCREMENT and its kin
        std::string collation;
    };
    struct ForeignKey {
        std::string name;
        std::vector<std::string> columns;
        std::string deferral;
        std::string written;
    };
    std::vector<Column> columns;
    std::vector<catalog::Constraint> constraints;  ///< checks and uniqueness; a name may be empty
    std::vector<ForeignKey> foreignKeys;
    std::string primaryKeyName;
    std::string primaryKeyWritten;     ///< of a key that stands apart from its columns
    std::vector<std::string> options;  ///< behind the columns: STRICT, WITHOUT ROWID
};

/// The parts of a CREATE TABLE statement; nothing for other statements and for those that cannot be understood.
[[nodiscard]] std::optional<TableParts> tablePartsOf(std::string_view statement, const Language& language);

/// The condition of a CREATE INDEX statement, without its WHERE; empty when it has none.
[[nodiscard]] std::string predicateOf(std::string_view createIndex, const Language& language);

}  // namespace pantry::sql
