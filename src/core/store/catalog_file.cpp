#include "core/store/catalog_file.h"

#include <fmt/format.h>

#include <algorithm>
#include <nlohmann/json.hpp>

#include "core/base/file.h"
#include "core/catalog/catalog.h"
#include "core/store/json_file.h"

namespace pantry::store {
namespace {

using nlohmann::json;

template <class Take>
void forEachIn(const json& object, const char* name, Take take) {
    const auto found = object.find(name);
    if (found == object.end() || !found->is_array()) return;
    for (const json& element : *found) {
        if (element.is_object()) take(element);
    }
}

std::optional<catalog::Relation> relationFrom(const json& object) {
    catalog::Relation relation;
    relation.schema = memberOr<std::string>(object, "schema", "");
    relation.name = memberOr<std::string>(object, "name", "");
    const auto kind = catalog::kindFromName(memberOr<std::string>(object, "kind", "table"));
    if (kind && *kind > catalog::ObjectKind::VirtualTable) return std::nullopt;  // nothing to read from
    if (kind) relation.kind = *kind;
    if (const auto rows = object.find("rows"); rows != object.end() && rows->is_number()) {
        relation.rowEstimate = numberIn<std::int64_t>(*rows).value_or(0);
    }
    forEachIn(object, "columns", [&](const json& column) {
        relation.columns.push_back({memberOr<std::string>(column, "name", ""),
                                    memberOr<std::string>(column, "type", ""), memberOr(column, "nullable", true),
                                    memberOr(column, "key", 0)});
    });
    forEachIn(object, "foreignKeys", [&](const json& key) {
        relation.foreignKeys.push_back({{},
                                        textsIn(key, "columns"),
                                        memberOr<std::string>(key, "schema", ""),
                                        memberOr<std::string>(key, "table", ""),
                                        textsIn(key, "references")});
    });
    return relation;
}

/// Schemas of the file, those first that servers look into without being told.
std::vector<std::string> searchPathOf(const std::vector<catalog::Relation>& relations) {
    std::vector<std::string> path;
    for (const catalog::Relation& relation : relations) {
        if (std::ranges::find(path, relation.schema) == path.end()) path.push_back(relation.schema);
    }
    std::stable_partition(path.begin(), path.end(), [](const std::string& s) { return s == "public" || s == "main"; });
    return path;
}

}  // namespace

Result<catalog::View> readCatalogFile(const std::filesystem::path& path) {
    const auto text = base::readFile(path);
    if (!text) return text.error();
    const auto parsed = parseJson(*text);
    const json document = parsed ? *parsed : json();
    if (!document.is_array()) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = fmt::format("{} is not a catalog: it should be what pantry catalog --json writes.",
                                            path.string())};
    }
    std::vector<catalog::Relation> relations;
    for (const json& element : document) {
        if (!element.is_object()) continue;
        if (auto relation = relationFrom(element)) relations.push_back(std::move(*relation));
    }
    std::vector<std::string> searchPath = searchPathOf(relations);
    return catalog::View(std::move(relations), std::move(searchPath));
}

}  // namespace pantry::store
