#include "core/db/drivers/postgres/names.h"

#include <libpq-fe.h>

#include <fmt/format.h>

#include <cstdlib>
#include <set>
#include "core/base/joined.h"

namespace pantry::db::postgres {
namespace {

std::string valueAt(const PGresult* rows, int row, int column) { return PQgetvalue(rows, row, column); }
int numberAt(const PGresult* rows, int row, int column) { return std::atoi(PQgetvalue(rows, row, column)); }
Oid oidAt(const PGresult* rows, int row, int column) {
    return static_cast<Oid>(std::strtoul(PQgetvalue(rows, row, column), nullptr, 10));
}

}  // namespace

std::string Names::queryFor(const PGresult* description) const {
    std::set<std::string> types;
    std::set<std::string> tables;
    for (int i = 0; i < PQnfields(description); ++i) {
        const auto type = std::pair(PQftype(description, i), PQfmod(description, i));
        if (!types_.contains(type)) types.insert(fmt::format("({}::oid, {}::int4)", type.first, type.second));
        const Oid table = PQftable(description, i);
        if (table != 0 && !origins_.contains({table, PQftablecol(description, i)})) {
            tables.insert(std::to_string(table));
        }
    }
    if (types.empty() && tables.empty()) return {};
    if (types.empty()) types.insert("(0::oid, -1)");
    if (tables.empty()) tables.insert("0");
    return fmt::format(
        "SELECT 't', t.type::pg_catalog.text, t.modifier::pg_catalog.text, pg_catalog.format_type(t.type, t.modifier), "
        "'', '' FROM (VALUES {}) AS t(type, modifier) "
        "UNION ALL SELECT 'c', a.attrelid::pg_catalog.text, a.attnum::pg_catalog.text, c.relname::pg_catalog.text, "
        "a.attname::pg_catalog.text, n.nspname::pg_catalog.text FROM pg_catalog.pg_attribute a "
        "JOIN pg_catalog.pg_class c ON c.oid = a.attrelid "
        "JOIN pg_catalog.pg_namespace n ON n.oid = c.relnamespace WHERE a.attrelid IN ({})",
        base::joined(types, ", "), base::joined(tables, ", "));
}

void Names::learn(const PGresult* rows) {
    for (int i = 0; i < PQntuples(rows); ++i) {
        const auto key = std::pair(oidAt(rows, i, 1), numberAt(rows, i, 2));
        if (valueAt(rows, i, 0) == "t") {
            types_[key] = valueAt(rows, i, 3);
        } else {
            origins_[key] = {
                .schema = valueAt(rows, i, 5), .table = valueAt(rows, i, 3), .column = valueAt(rows, i, 4)};
        }
    }
}

void Names::forget() {
    types_.clear();
    origins_.clear();
}

std::string Names::typeName(Oid type, int modifier) const {
    const auto found = types_.find({type, modifier});
    return found == types_.end() ? std::string() : found->second;
}

Names::Origin Names::origin(Oid table, int column) const {
    const auto found = origins_.find({table, column});
    return found == origins_.end() ? Origin() : found->second;
}

}  // namespace pantry::db::postgres
