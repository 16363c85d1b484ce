#include <fmt/format.h>

#include <algorithm>
#include <cstdlib>
#include <map>

#include "core/base/text.h"

#include <sql.h>
#include <sqlext.h>

#include "core/db/catalog_parts.h"
#include "core/db/connecting.h"
#include "core/db/drivers/odbc/link.h"

namespace pantry::db::odbc {
namespace {

using Texts = std::vector<std::string>;  // NULL reads as empty: the catalog functions do not tell them apart usefully

constexpr std::size_t kMaxKeyed = 500;         // relations whose keys are asked for: each takes three calls
constexpr std::string_view kUnnamed = "main";  // the schema of an engine that has none

/// A name as the catalog functions take it; none at all for an empty one.
class Argument {
public:
    explicit Argument(std::string_view text) : wide_(toWide(text)) {}
    [[nodiscard]] SQLWCHAR* data() { return wide_.empty() ? nullptr : wide_.data(); }
    [[nodiscard]] SQLSMALLINT size() const { return static_cast<SQLSMALLINT>(wide_.size()); }

private:
    Wide wide_;
};

/// Where a relation stands as its driver names places.
struct Place {
    std::string catalog;
    std::string schema;
    auto operator<=>(const Place&) const = default;
};

/// Reads through the catalog functions (ODBC 3.8, “Catalog Functions”): two calls for all relations and columns, and
/// three for each relation's keys.
class CatalogReader {
public:
    CatalogReader(SQLHANDLE connection, Crossing crossing, const catalog::Request& request,
                  const base::Cancellation& cancellation)
        : connection_(connection), crossing_(crossing), request_(request), cancellation_(cancellation) {}

    Result<catalog::CatalogPtr> read(const std::string& serverVersion) {
        catalog::Facts facts{.serverVersion = serverVersion};
        std::string problem;
        const std::vector<CatalogPart> parts{
            {"tables", [this] { return relations(); }, true},
            {"columns", [this] { return columns(); }},
            {"keys and indexes", [this] { return keys(); }},
        };
        if (Status status = readParts(parts, request_, cancellation_, problem); !status) return status.error();
        if (!remark_.empty()) problem += (problem.empty() ? "" : " ") + remark_;
        const std::string own = infoOf(connection_, SQL_DATABASE_NAME);
        for (catalog::Schema& schema : schemas_) {
            schema.problem = problem;
            std::ranges::sort(schema.relations, {}, [](const catalog::Relation& r) { return base::toLower(r.name); });
            const bool isNear = schemas_.size() == 1 || schema.name == own || schema.name == "public";
            if (isNear) facts.searchPath.push_back(schema.name);
        }
        return mergeCatalog(std::move(facts), std::move(schemas_), nullptr);
    }

private:
    template <class Call>
    Status forEach(const Call& call, const std::function<void(const Texts&)>& take) {
        if (cancellation_.isRequested()) return stopped();
        auto statement = makeStatement(connection_);
        if (!statement) return statement.error();
        if (!SQL_SUCCEEDED(call(statement->get()))) return errorOf(SQL_HANDLE_STMT, statement->get());
        SQLSMALLINT width = 0;
        SQLNumResultCols(statement->get(), &width);
        Texts row(static_cast<std::size_t>(width));
        while (SQL_SUCCEEDED(SQLFetch(statement->get()))) {
            for (SQLSMALLINT i = 0; i < width; ++i) {
                std::string& text = row[static_cast<std::size_t>(i)];
                const auto isThere = readText(statement->get(), static_cast<SQLUSMALLINT>(i + 1), text, crossing_);
                if (!isThere) return isThere.error();
            }
            take(row);
        }
        return {};
    }

    static const std::string& at(const Texts& row, std::size_t column) {
        static const std::string kNone;
        return column < row.size() ? row[column] : kNone;
    }
    static std::string schemaName(const Place& place) {
        if (!place.schema.empty()) return place.schema;
        return place.catalog.empty() ? std::string(kUnnamed) : place.catalog;
    }

    catalog::Schema& schemaAt(const Place& place) {
        const std::string name = schemaName(place);
        const auto found = std::ranges::find(schemas_, name, &catalog::Schema::name);
        if (found != schemas_.end()) return *found;
        const std::string lower = base::toLower(name);
        const bool isOwn = lower == "information_schema" || lower == "pg_catalog" || lower == "sys";
        schemas_.push_back({.name = name, .isOwn = isOwn, .isLoaded = true});
        return schemas_.back();
    }
    catalog::Relation* find(const Place& place, const std::string& name) {
        const auto found = index_.find({schemaName(place), name});
        if (found == index_.end()) return nullptr;
        const auto schema = std::ranges::find(schemas_, found->first.first, &catalog::Schema::name);
        return &schema->relations[found->second];
    }
    bool isWanted(const Place& place) const {
        return request_.schemas.empty() ||
               std::ranges::find(request_.schemas, schemaName(place)) != request_.schemas.end();
    }

    Status relations() {
        return forEach(
            [](SQLHANDLE statement) { return SQLTablesW(statement, nullptr, 0, nullptr, 0, nullptr, 0, nullptr, 0); },
            [this](const Texts& row) {
                const Place place{at(row, 0), at(row, 1)};
                const std::string type = base::toUpper(at(row, 3));
                const bool isSystem = type.find("SYSTEM") != std::string::npos;
                const bool isView = type.find("VIEW") != std::string::npos;
                if (isSystem || (!isView && type.find("TABLE") == std::string::npos) || !isWanted(place)) return;
                catalog::Schema& schema = schemaAt(place);
                index_[{schema.name, at(row, 2)}] = schema.relations.size();
                places_[{schema.name, at(row, 2)}] = place;
                schema.relations.push_back({.schema = schema.name,
                                            .name = at(row, 2),
                                            .kind = isView ? catalog::ObjectKind::View : catalog::ObjectKind::Table,
                                            .comment = at(row, 4)});
            });
    }

    Status columns() {
        Argument any("%");
        return forEach(
            [&](SQLHANDLE statement) {
                return SQLColumnsW(statement, nullptr, 0, nullptr, 0, any.data(), any.size(), any.data(), any.size());
            },
            [this](const Texts& row) {
                catalog::Relation* relation = find({at(row, 0), at(row, 1)}, at(row, 2));
                if (relation == nullptr) return;
                catalog::Column column{.name = at(row, 3), .typeName = at(row, 5), .isNullable = at(row, 10) != "0"};
                if (!at(row, 12).empty()) column.defaultValue = at(row, 12);
                column.comment = at(row, 11);
                relation->columns.push_back(std::move(column));
            });
    }

    Status keys() {
        if (places_.size() > kMaxKeyed) {
            remark_ = fmt::format("Keys and indexes of {} tables are not read through ODBC.", places_.size());
            return {};
        }
        for (const auto& [name, place] : places_) {
            catalog::Relation* relation = find(place, name.second);
            if (relation->kind != catalog::ObjectKind::Table) continue;
            if (Status status = keysOf(*relation, place); !status) return status;
        }
        return {};
    }

    Status keysOf(catalog::Relation& relation, const Place& place) {
        Argument catalog(place.catalog);
        Argument schema(place.schema);
        Argument name(relation.name);
        Status status = forEach(
            [&](SQLHANDLE s) {
                return SQLPrimaryKeysW(s, catalog.data(), catalog.size(), schema.data(), schema.size(), name.data(),
                                       name.size());
            },
            [&](const Texts& row) {
                const auto column = std::ranges::find(relation.columns, at(row, 3), &catalog::Column::name);
                if (column != relation.columns.end()) column->keyPosition = std::atoi(at(row, 4).c_str());
            });
        if (!status) return status;
        status = forEach(
            [&](SQLHANDLE s) {
                return SQLForeignKeysW(s, nullptr, 0, nullptr, 0, nullptr, 0, catalog.data(), catalog.size(),
                                       schema.data(), schema.size(), name.data(), name.size());
            },
            [&](const Texts& row) { addForeignKey(relation, row); });
        if (!status) return status;
        return forEach(
            [&](SQLHANDLE s) {
                return SQLStatisticsW(s, catalog.data(), catalog.size(), schema.data(), schema.size(), name.data(),
                                      name.size(), SQL_INDEX_ALL, SQL_QUICK);
            },
            [&](const Texts& row) { addIndex(relation, row); });
    }

    /// Rows come key by key, column by column; a key's first column has the number 1.
    static void addForeignKey(catalog::Relation& relation, const Texts& row) {
        if (relation.foreignKeys.empty() || at(row, 8) == "1") {
            const Place target{at(row, 0), at(row, 1)};
            relation.foreignKeys.push_back({.name = at(row, 11), .schema = schemaName(target), .relation = at(row, 2)});
        }
        relation.foreignKeys.back().columns.push_back(at(row, 7));
        relation.foreignKeys.back().referencedColumns.push_back(at(row, 3));
    }

    static void addIndex(catalog::Relation& relation, const Texts& row) {
        const std::string& name = at(row, 5);
        if (name.empty()) {  // not an index, but a note about the table itself
            if (!at(row, 10).empty()) relation.rowEstimate = std::atoll(at(row, 10).c_str());
            return;
        }
        if (relation.indexes.empty() || relation.indexes.back().name != name) {
            relation.indexes.push_back({.name = name, .isUnique = at(row, 3) == "0"});
        }
        relation.indexes.back().columns.push_back(at(row, 8));
    }

    SQLHANDLE connection_;
    Crossing crossing_;
    const catalog::Request& request_;
    const base::Cancellation& cancellation_;
    std::vector<catalog::Schema> schemas_;
    std::map<std::pair<std::string, std::string>, std::size_t> index_;
    std::map<std::pair<std::string, std::string>, Place> places_;
    std::string remark_;
};

}  // namespace

Result<catalog::CatalogPtr> loadCatalog(SQLHANDLE connection, Crossing crossing, const std::string& serverVersion,
                                        const catalog::Request& request, const base::Cancellation& cancellation) {
    return CatalogReader(connection, crossing, request, cancellation).read(serverVersion);
}

}  // namespace pantry::db::odbc
