#pragma once

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <iterator>
#include <string>
#include <vector>

#include "core/catalog/catalog.h"

namespace pantry::test {

/// All that a catalog says of its loaded schemas, a line each, sorted: two catalogs that say the same give the same.
inline std::vector<std::string> factsOf(const catalog::Catalog& catalog) {
    std::vector<std::string> out;
    for (const catalog::Relation* r : catalog.relations()) {
        const std::string at = fmt::format("{}.{}", r->schema, r->name);
        out.push_back(fmt::format("{} {} {} {} {}", at, catalog::kindName(r->kind), r->comment, r->partOf, r->problem));
        std::size_t place = 0;
        for (const auto& c : r->columns) {
            out.push_back(fmt::format("{} column {} {} {} {} {} {} {} {}", at, place++, c.name, c.typeName,
                                      c.isNullable, c.keyPosition, c.isGenerated, c.defaultValue.value_or("-"),
                                      c.comment));
        }
        for (const auto& k : r->foreignKeys) {
            out.push_back(
                fmt::format("{} key {} {} {}.{} {}", at, k.name, k.columns, k.schema, k.relation, k.referencedColumns));
        }
        for (const auto& i : r->indexes)
            out.push_back(fmt::format("{} index {} {} {}", at, i.name, i.columns, i.isUnique));
        for (const auto& c : r->constraints) out.push_back(fmt::format("{} rule {} {}", at, c.name, c.definition));
        for (const auto& t : r->triggers) out.push_back(fmt::format("{} trigger {} {}", at, t.name, t.definition));
    }
    for (const catalog::SchemaPtr& schema : catalog.schemas()) {
        for (const auto& o : schema->objects)
            out.push_back(
                fmt::format("{}.{} {} {} {}", schema->name, o.name, catalog::kindName(o.kind), o.signature, o.detail));
    }
    std::ranges::sort(out);
    return out;
}

/// What one of two catalogs says and the other does not; empty when they say the same.
inline std::vector<std::string> differences(const catalog::Catalog& a, const catalog::Catalog& b) {
    const auto ours = factsOf(a);
    const auto theirs = factsOf(b);
    std::vector<std::string> out;
    std::ranges::set_symmetric_difference(ours, theirs, std::back_inserter(out));
    return out;
}

}  // namespace pantry::test
