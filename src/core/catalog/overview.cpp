#include "core/catalog/overview.h"

#include <algorithm>
#include <map>

namespace pantry::catalog {
namespace {

bool hasKey(const Relation& relation) {
    return std::ranges::any_of(relation.columns, [](const Column& column) { return column.keyPosition > 0; }) ||
           std::ranges::any_of(relation.indexes, [](const Index& index) { return index.isUnique && !index.isPartial; });
}

std::int64_t weightOf(const Relation& relation, bool bySize) {
    return (bySize ? relation.sizeEstimate : relation.rowEstimate).value_or(0);
}

void cut(std::vector<const Relation*>& list, std::size_t limit) {
    if (list.size() > limit) list.resize(limit);
}

}  // namespace

Overview overviewOf(const Catalog& catalog, const std::string& schema, std::size_t limit) {
    Overview overview;
    std::map<ObjectKind, std::size_t> counts;
    std::vector<const Relation*> tables;
    for (const SchemaPtr& one : catalog.schemas()) {
        if (schema.empty() ? one->isOwn : one->name != schema) continue;
        for (const Relation& relation : one->relations) {
            ++counts[relation.kind];
            if (relation.kind != ObjectKind::Table) continue;
            tables.push_back(&relation);
            overview.rows += relation.rowEstimate.value_or(0);
            overview.bytes += relation.sizeEstimate.value_or(0);
        }
        for (const Object& object : one->objects) ++counts[object.kind];
    }
    overview.counts.assign(counts.begin(), counts.end());
    for (const Relation* table : tables) {
        if (table->rowEstimate == 0) overview.empty.push_back(table);
        if (!hasKey(*table)) overview.withoutKey.push_back(table);
        if (table->foreignKeys.empty() && catalog.referencesTo(*table).empty()) overview.alone.push_back(table);
        if (table->age > 0) overview.newest.push_back(table);
    }
    const bool bySize = overview.bytes > 0;
    overview.largest = tables;
    std::erase_if(overview.largest, [&](const Relation* table) { return weightOf(*table, bySize) == 0; });
    std::ranges::stable_sort(overview.largest, std::ranges::greater{},
                             [&](const Relation* table) { return weightOf(*table, bySize); });
    std::ranges::stable_sort(overview.newest, std::ranges::greater{}, &Relation::age);
    for (auto* list : {&overview.largest, &overview.newest, &overview.empty, &overview.withoutKey, &overview.alone}) {
        cut(*list, limit);
    }
    return overview;
}

}  // namespace pantry::catalog
