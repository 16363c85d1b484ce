#pragma once

#include <fmt/format.h>

#include <string>
#include <vector>

#include "core/db/drivers/postgres/link.h"

// Only for .cpp files of the PostgreSQL driver.

namespace pantry::db::postgres {

/// An object whose definition is read: what the parts of its statement need to know.
struct DefinedObject {
    std::string oid;
    std::string name;    ///< quoted and qualified; for routines with their parameters
    std::string word;    ///< as ALTER and GRANT call it: TABLE
    std::string holder;  ///< the system table that it stands in: pg_class
};

/// Asks the system tables, each time for statements as text, one a row.
///
/// Names come qualified, since nothing but pg_catalog is on the search path meanwhile.
class DefinitionReader {
public:
    DefinitionReader(PostgresLink& link, const base::Cancellation& cancellation)
        : link_(link), cancellation_(cancellation) {}

    /// The first column of a query's rows; NULLs are left out.
    Result<std::vector<std::string>> texts(const std::string& query);
    /// The same, appended to `out`, a line each.
    Status append(const std::string& query, std::string& out);

    /// What every object may have: its owner, comment and grants. `aclColumn` and `ownerColumn` are those of its system
    /// table, `aclLetter` its kind as acldefault() calls it.
    Status appendRights(const DefinedObject& object, std::string_view ownerColumn, std::string_view aclColumn,
                        char aclLetter, std::string& out);

    [[nodiscard]] int version() const { return link_.versionNumber(); }

private:
    PostgresLink& link_;
    const base::Cancellation& cancellation_;
};

/// Of a table, a view or a sequence.
Result<catalog::Definition> relationDefinition(DefinitionReader& reader, const catalog::ObjectName& object);
/// Of a function, a procedure or an aggregate.
Result<catalog::Definition> routineDefinition(DefinitionReader& reader, const catalog::ObjectName& object);
/// Of an enum, a domain, a composite or a range type.
Result<catalog::Definition> typeDefinition(DefinitionReader& reader, const catalog::ObjectName& object);

}  // namespace pantry::db::postgres
