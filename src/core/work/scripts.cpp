#include "core/work/scripts.h"

#include <fmt/format.h>

#include <algorithm>
#include <utility>

#include "core/catalog/catalog_view.h"

namespace pantry::work {

bool needsDefinitions(sql::ScriptKind kind) {
    const auto entry = std::ranges::find(sql::scriptEntries(), kind, &sql::ScriptEntry::kind);
    return entry != sql::scriptEntries().end() && entry->needsDefinition;
}

Result<std::string> scriptOf(sql::ScriptKind kind, const catalog::Catalog& catalog,
                             std::vector<catalog::ObjectParts> parts, sql::Dialect from, sql::Dialect to) {
    std::vector<sql::ScriptObject> objects;
    for (catalog::ObjectParts& one : parts) {
        const catalog::ObjectName& name = one.object;
        sql::ScriptObject object{.definition = std::move(one.definition),
                                 .parameters = std::move(one.parameters),
                                 .returnsRows = one.returnsRows};
        if (catalog::isRelationKind(name.kind)) {
            object.relation = catalog.find(name.schema, name.name);
        } else {
            object.object = catalog.findObject(name.schema, name.name, name.signature);
        }
        if (object.relation == nullptr && object.object == nullptr) {
            return Error{
                .kind = ErrorKind::NotFound,
                .message = fmt::format("{} {} is not there any more.", catalog::kindName(name.kind), name.name)};
        }
        objects.push_back(std::move(object));
    }
    // The catalog is shared with whoever reads it; a view of it lives as long as this call.
    const catalog::CatalogPtr shared(&catalog, [](const catalog::Catalog*) {});
    return sql::writeScript(kind, objects, {.from = from, .to = to, .view = catalog::View(shared)});
}

}  // namespace pantry::work
