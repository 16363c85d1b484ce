#include <fmt/format.h>

#include "core/db/detail_parts.h"
#include "core/db/drivers/sqlite/catalog.h"

#include <sqlite3.h>

#include "core/base/text.h"
#include "core/sql/text/lexer.h"

namespace pantry::db::sqlite {
namespace {

std::string literal(std::string_view text) { return sql::quotedString(text, sql::Dialect::Sqlite); }
std::string schemaName(const std::string& schema) {
    return sql::quotedName(schema.empty() ? "main" : schema, sql::Dialect::Sqlite);
}

DetailReader::Ask asking(sqlite3* db) {
    return [db](const std::string& query) -> Result<std::vector<TextRow>> {
        auto statement = prepare(db, query);
        if (!statement) return statement.error();
        std::vector<TextRow> rows;
        int code = sqlite3_step(statement->get());
        for (; code == SQLITE_ROW; code = sqlite3_step(statement->get())) {
            TextRow row;
            for (int i = 0; i < sqlite3_column_count(statement->get()); ++i) {
                row.push_back(optionalTextAt(statement->get(), i));
            }
            rows.push_back(std::move(row));
        }
        if (code != SQLITE_DONE) return errorOf(db, code, query);
        return rows;
    };
}

/// Sizes are counted page by page, which a large file would make a wait of.
constexpr std::int64_t kLargestToMeasure = 1LL << 30;

class DetailsReader {
public:
    DetailsReader(sqlite3* db, const catalog::ObjectName& object)
        : object_(object), schema_(schemaName(object.schema)), reader_(asking(db)) {}

    catalog::ObjectDetails read() {
        tableFacts();
        sizes();
        neighbours();
        return std::move(reader_.details);
    }

private:
    void tableFacts() {
        reader_.part("Facts",
                     fmt::format("SELECT wr, strict FROM pragma_table_list({}) WHERE schema = {}",
                                 literal(object_.name), literal(object_.schema.empty() ? "main" : object_.schema)),
                     [this](const TextRow& row) {
                         if (textOf(row, 0) == "1") reader_.fact("Without rowid", "yes");
                         if (textOf(row, 1) == "1") reader_.fact("Strict types", "yes");
                     });
        const std::string counted = reader_.one(
            fmt::format("SELECT seq FROM {}.sqlite_sequence WHERE name = {}", schema_, literal(object_.name)));
        if (!counted.empty()) reader_.fact("Last counted key", counted);
    }

    void sizes() {
        const std::string bytes = reader_.one(fmt::format(
            "SELECT (SELECT page_count FROM {0}.pragma_page_count) * (SELECT page_size FROM {0}.pragma_page_size)",
            "main"));
        if (bytes.empty() || std::atoll(bytes.c_str()) > kLargestToMeasure) return;
        const std::string size = fmt::format(
            "SELECT m.type, m.name, (SELECT sum(pgsize) FROM dbstat({}) d WHERE d.name = m.name) "
            "FROM {}.sqlite_schema m WHERE m.tbl_name = {} AND m.type IN ('table', 'index') AND m.rootpage > 0",
            literal(object_.schema.empty() ? "main" : object_.schema), schema_, literal(object_.name));
        std::int64_t all = 0;
        reader_.part("Sizes", size, [&](const TextRow& row) {
            const auto number = numberOf(row, 2);
            all += number.value_or(0);
            if (textOf(row, 0) == "table") {
                reader_.fact("Size of the rows", bytesWords(number));
            } else {
                reader_.details.indexes.push_back({.name = textOf(row, 1), .bytes = number, .reads = {}});
            }
        });
        if (all > 0) reader_.fact("Size with indexes", bytesWords(all));
    }

    /// Views and triggers whose text names it, and the tables that its own text names.
    void neighbours() {
        std::vector<TextRow> all;
        std::string own;
        reader_.part("What refers to it",
                     fmt::format("SELECT type, name, tbl_name, sql FROM {}.sqlite_schema WHERE sql IS NOT NULL AND "
                                 "type IN ('table', 'view', 'trigger') ORDER BY name",
                                 schema_),
                     [&](const TextRow& row) {
                         all.push_back(row);
                         if (textOf(row, 1) == object_.name && textOf(row, 0) == "view") own = textOf(row, 3);
                     });
        for (const TextRow& row : all) {
            const std::string type = textOf(row, 0);
            const std::string name = textOf(row, 1);
            if (type == "trigger") {
                const std::string table = textOf(row, 2);
                if (table == object_.name || !namesObject(textOf(row, 3), object_.name, sql::Dialect::Sqlite)) continue;
                reader_.details.usedBy.push_back(
                    {{.kind = catalog::ObjectKind::Table, .schema = object_.schema, .name = table}, "trigger " + name});
                continue;
            }
            if (name == object_.name) continue;
            const auto kind = type == "view" ? catalog::ObjectKind::View : catalog::ObjectKind::Table;
            const catalog::ObjectName other{.kind = kind, .schema = object_.schema, .name = name};
            if (type == "view" && namesObject(textOf(row, 3), object_.name, sql::Dialect::Sqlite)) {
                reader_.details.usedBy.push_back({other, "view"});
            }
            if (!own.empty() && namesObject(own, name, sql::Dialect::Sqlite)) {
                reader_.details.uses.push_back({other, type});
            }
        }
    }

    const catalog::ObjectName& object_;
    std::string schema_;
    DetailReader reader_;
};

}  // namespace

catalog::ObjectDetails readDetails(sqlite3* db, const catalog::ObjectName& object) {
    return DetailsReader(db, object).read();
}

Result<std::vector<catalog::SourceText>> readSources(sqlite3* db, const std::vector<std::string>& schemas) {
    std::vector<catalog::SourceText> sources;
    for (const std::string& schema : schemas) {
        const auto rows = asking(db)(fmt::format(
            "SELECT type, name, tbl_name, sql, (SELECT v.type FROM {0}.sqlite_schema v WHERE v.name = m.tbl_name AND "
            "v.type IN ('table', 'view')) FROM {0}.sqlite_schema m WHERE type IN ('view', 'trigger') ORDER BY name",
            schemaName(schema)));
        if (!rows) return rows.error();
        for (const TextRow& row : *rows) {
            const bool isTrigger = textOf(row, 0) == "trigger";
            const auto kind =
                isTrigger && textOf(row, 4) != "view" ? catalog::ObjectKind::Table : catalog::ObjectKind::View;
            sources.push_back({.object = {.kind = kind, .schema = schema, .name = textOf(row, isTrigger ? 2 : 1)},
                               .part = isTrigger ? "trigger " + textOf(row, 1) : std::string(),
                               .text = textOf(row, 3)});
        }
    }
    return sources;
}

}  // namespace pantry::db::sqlite
