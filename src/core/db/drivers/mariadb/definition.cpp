#include <fmt/format.h>

#include "core/db/drivers/mariadb/link.h"

#include <mysql.h>

#include "core/sql/text/lexer.h"

namespace pantry::db::mariadb {
namespace {

/// How the server is asked for an object's statement, and where the answer stands in its row.
struct Asking {
    std::string_view text;
    int column;
};

Asking askingFor(catalog::ObjectKind kind) {
    switch (kind) {
        case catalog::ObjectKind::View: return {"VIEW", 1};
        case catalog::ObjectKind::Sequence: return {"SEQUENCE", 1};
        case catalog::ObjectKind::Function: return {"FUNCTION", 2};
        case catalog::ObjectKind::Procedure: return {"PROCEDURE", 2};
        case catalog::ObjectKind::Event: return {"EVENT", 3};
        default: return {"TABLE", 1};
    }
}

class DefinitionReader {
public:
    explicit DefinitionReader(MariaDbLink& link) : link_(link) {}

    Result<catalog::Definition> read(const catalog::ObjectName& object) {
        const auto [text, column] = askingFor(object.kind);
        if (Status status = add(text, column, object.schema, object.name); !status) return status.error();
        if (object.kind == catalog::ObjectKind::Table) {
            std::vector<std::string> triggers;
            const Status status = link_.ask(
                fmt::format("SELECT trigger_name FROM information_schema.triggers WHERE event_object_schema = {} AND "
                            "event_object_table = {} ORDER BY action_timing, event_manipulation, action_order",
                            sql::quotedString(object.schema, sql::Dialect::MySql),
                            sql::quotedString(object.name, sql::Dialect::MySql)),
                [&](MYSQL_ROW row, const unsigned long*) { triggers.emplace_back(row[0]); });
            if (!status) return status.error();
            for (const std::string& trigger : triggers) {
                if (Status read = add("TRIGGER", 2, object.schema, trigger); !read) return read.error();
            }
        }
        return std::move(definition_);
    }

private:
    Status add(std::string_view text, int column, const std::string& schema, const std::string& name) {
        std::string statement;
        Status status =
            link_.ask(fmt::format("SHOW CREATE {} {}.{}", text, sql::quotedName(schema, sql::Dialect::MySql),
                                  sql::quotedName(name, sql::Dialect::MySql)),
                      [&](MYSQL_ROW row, const unsigned long*) {
                          if (row[column] != nullptr) statement = row[column];
                      });
        if (!status) return status;
        if (statement.empty()) {
            return Error{.kind = ErrorKind::Permission,
                         .message = fmt::format("The server does not show the definition of {}.", name),
                         .hint = "It asks for the right SHOW VIEW, SHOW CREATE ROUTINE or TRIGGER on it."};
        }
        definition_.text += statement + ";\n";
        return {};
    }

    MariaDbLink& link_;
    catalog::Definition definition_;
};

}  // namespace

Result<catalog::Definition> readDefinition(MariaDbLink& link, const catalog::ObjectName& object,
                                           const base::Cancellation&) {
    return DefinitionReader(link).read(object);
}

}  // namespace pantry::db::mariadb
