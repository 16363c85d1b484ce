#include "core/store/catalog_choices_file.h"

#include <algorithm>
#include <array>
#include <string_view>
#include <utility>
#include <vector>

#include "core/store/json_file.h"

namespace pantry::store {
namespace {

using nlohmann::json;

constexpr int kCatalogChoicesVersion = 1;

constexpr std::array<std::string_view, 3> kOrderWords{"name", "rows", "size"};

using Names = std::vector<std::pair<std::string, std::string>>;

Names namesIn(const json& object, const char* member) {
    Names names;
    const auto all = object.find(member);
    if (all == object.end() || !all->is_array()) return names;
    for (const json& one : *all) {
        names.emplace_back(memberOr<std::string>(one, "schema", ""), memberOr<std::string>(one, "name", ""));
    }
    return names;
}

json toJson(const Names& names) {
    json all = json::array();
    for (const auto& [schema, name] : names) all.push_back({{"schema", schema}, {"name", name}});
    return all;
}

catalog::Choices catalogChoicesIn(const json& object) {
    catalog::Choices choices;
    for (const std::string& schema : textsIn(object, "hiddenSchemas")) choices.hiddenSchemas.insert(schema);
    for (const std::string& word : textsIn(object, "hiddenKinds")) {
        if (const auto kind = catalog::kindFromName(word)) choices.hiddenKinds.insert(*kind);
    }
    choices.favourites = namesIn(object, "favourites");
    choices.recent = namesIn(object, "recent");
    const auto order = std::ranges::find(kOrderWords, memberOr<std::string>(object, "order", "name"));
    if (order != kOrderWords.end()) choices.order = static_cast<catalog::ListOrder>(order - kOrderWords.begin());
    choices.withForbidden = memberOr(object, "withForbidden", false);
    return choices;
}

json toJson(const catalog::Choices& choices) {
    json kinds = json::array();
    for (const catalog::ObjectKind kind : choices.hiddenKinds) kinds.push_back(catalog::kindName(kind));
    return {{"hiddenSchemas", choices.hiddenSchemas},
            {"hiddenKinds", kinds},
            {"favourites", toJson(choices.favourites)},
            {"recent", toJson(choices.recent)},
            {"order", kOrderWords[static_cast<std::size_t>(choices.order)]},
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
