#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/sql/define/table_design.h"

namespace pantry::sql {

/// When a column's comment is written with it, in dialects where it stands there.
enum class ColumnComment { WhereThereIsOne, Always };

/// The parts of a table's statements, as one dialect writes them. Names are quoted where they must be.
class TableWords {
public:
    explicit TableWords(Dialect dialect) : dialect_(dialect) {}

    [[nodiscard]] std::string name(std::string_view one) const;
    [[nodiscard]] std::string names(const std::vector<std::string>& all) const;  ///< a, b
    [[nodiscard]] std::string table(const TableDesign& design) const;
    /// name type NOT NULL DEFAULT …; `isOnlyKey`: it is the primary key by itself, which SQLite says with the column.
    [[nodiscard]] std::string column(const ColumnDesign& design, bool isOnlyKey, const std::vector<CheckDesign>& checks,
                                     ColumnComment comment = ColumnComment::WhereThereIsOne) const;
    [[nodiscard]] std::string primaryKey(const KeyDesign& key) const;
    [[nodiscard]] std::string unique(const KeyDesign& key) const;
    [[nodiscard]] std::string check(const CheckDesign& check) const;
    /// `schema`: of the table that it stands in; the other one is named with its own where that differs.
    [[nodiscard]] std::string foreignKey(const catalog::ForeignKey& key, std::string_view schema) const;
    /// KEY name (a(10)), as MariaDB writes an index within a table's statement.
    [[nodiscard]] std::string keyOfTable(const catalog::Index& index) const;
    /// CREATE INDEX …, without its end.
    [[nodiscard]] std::string createIndex(const catalog::Index& index, const TableDesign& design) const;
    [[nodiscard]] std::string text(std::string_view value) const;  ///< as a literal

private:
    [[nodiscard]] std::string named(const std::string& constraint) const;
    [[nodiscard]] std::string indexed(const catalog::Index& index) const;

    Dialect dialect_;
};

/// Statements that make a table, each without its terminator.
struct CreateStatements {
    std::vector<std::string> table;        ///< the table, then its indexes and comments
    std::vector<std::string> foreignKeys;  ///< those that were left out of it: to run when the other tables are there
};

enum class ForeignKeys {
    Within,  ///< in the table's statement
    Apart,   ///< after it, where the engine has a statement for that (SQLite has none)
};

[[nodiscard]] CreateStatements createTable(const TableDesign& design, Dialect dialect,
                                           ForeignKeys keys = ForeignKeys::Within);

}  // namespace pantry::sql
