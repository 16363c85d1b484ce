#include "core/store/settings.h"

#include "core/store/json_file.h"
#include "core/store/setting_table.h"

namespace pantry::store {
namespace {

using nlohmann::json;

/// 2: how the window was left has a file of its own, and went out of this one.
constexpr int kSettingsVersion = 2;
constexpr auto kMovedAway = std::to_array<const char*>({"leftColumn", "closeUp", "leftColumnWidth", "closeUpWidth",
                                                        "objectCardHeight", "connectionsFolded", "editorShare"});

/// A member as a value of the setting's kind; nothing when it is missing or of another kind.
std::optional<SettingValue> valueIn(const json& object, const SettingDescriptor& setting) {
    const auto found = object.find(setting.id);
    if (found == object.end()) return std::nullopt;
    const SettingValue fallback = setting.get(Settings());
    if (std::holds_alternative<bool>(fallback) && found->is_boolean()) return found->get<bool>();
    if (std::holds_alternative<std::int64_t>(fallback)) {
        const auto number = numberIn<std::int64_t>(*found);
        return number ? std::optional<SettingValue>(*number) : std::nullopt;
    }
    if (std::holds_alternative<std::string>(fallback) && found->is_string()) return found->get<std::string>();
    if (std::holds_alternative<std::vector<std::string>>(fallback)) {
        return textsIn(object, std::string(setting.id).c_str());
    }
    return std::nullopt;
}

json toJson(const Settings& settings) {
    json object;
    for (const SettingDescriptor& setting : settingTable()) {
        std::visit([&](const auto& value) { object[std::string(setting.id)] = value; }, setting.get(settings));
    }
    return object;
}

}  // namespace

Result<LoadedSettings> loadSettings(const std::filesystem::path& path) {
    auto document = readJsonFile(path, kSettingsVersion);
    if (!document) return document.error();
    Settings settings;
    for (const SettingDescriptor& setting : settingTable()) {
        const auto value = valueIn(document->content, setting);
        if (value && setting.isAllowed(*value)) {
            setting.set(settings, *value);
        } else if (const SettingDescriptor* like = settingNamed(setting.likeWhenMissing)) {
            setting.set(settings, like->get(settings));
        }
    }
    return LoadedSettings{settings, std::move(document->setAside)};
}

Status saveSettings(const std::filesystem::path& path, const Settings& settings, const Settings& before) {
    return changeJsonMembers(path, kSettingsVersion, toJson(before), toJson(settings), kMovedAway);
}

}  // namespace pantry::store
