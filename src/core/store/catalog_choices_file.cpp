#include "core/store/catalog_choices_file.h"

#include "core/store/json_file.h"

namespace pantry::store {
namespace {

using nlohmann::json;

constexpr int kCatalogChoicesVersion = 1;

catalog::Choices catalogChoicesIn(const json& object) {
    catalog::Choices choices;
    for (const std::string& schema : textsIn(object, "hiddenSchemas")) choices.hiddenSchemas.insert(schema);
    for (const std::string& word : textsIn(object, "hiddenKinds")) {
        if (const auto kind = catalog::kindFromName(word)) choices.hiddenKinds.insert(*kind);
    }
    const auto favourites = object.find("favourites");
    if (favourites != object.end() && favourites->is_array()) {
        for (const json& f : *favourites) {
            choices.favourites.emplace_back(memberOr<std::string>(f, "schema", ""),
                                            memberOr<std::string>(f, "name", ""));
        }
    }
    choices.withForbidden = memberOr(object, "withForbidden", false);
    return choices;
}

json toJson(const catalog::Choices& choices) {
    json favourites = json::array();
    for (const auto& [schema, name] : choices.favourites) favourites.push_back({{"schema", schema}, {"name", name}});
    json kinds = json::array();
    for (const catalog::ObjectKind kind : choices.hiddenKinds) kinds.push_back(catalog::kindName(kind));
    return {{"hiddenSchemas", choices.hiddenSchemas},
            {"hiddenKinds", kinds},
            {"favourites", favourites},
            {"withForbidden", choices.withForbidden}};
}

}  // namespace

Result<AllCatalogChoices> loadCatalogChoices(const std::filesystem::path& path) {
    auto document = readJsonFile(path, kCatalogChoicesVersion);
    if (!document) return document.error();
    AllCatalogChoices all;
    const auto places = document->content.find("places");
    if (places == document->content.end() || !places->is_object()) return all;
    for (const auto& [place, object] : places->items()) {
        if (object.is_object()) all[place] = catalogChoicesIn(object);
    }
    return all;
}

Status saveCatalogChoices(const std::filesystem::path& path, const std::string& place,
                          const catalog::Choices& choices) {
    const FileLock lock(path.string() + ".lock");
    if (!lock.status()) return lock.status();
    auto document = readJsonFile(path, kCatalogChoicesVersion);
    if (!document) return document.error();
    document->content["version"] = kCatalogChoicesVersion;
    objectIn(document->content, "places")[place] = toJson(choices);
    return writeJsonFile(path, document->content);
}

}  // namespace pantry::store
