#include "core/store/settings.h"

#include <algorithm>

#include "core/sql/layout/format_choice.h"
#include "core/store/json_file.h"

namespace pantry::store {
namespace {

using nlohmann::json;

constexpr int kVersion = 1;

template <class T>
T within(const json& object, const char* name, T fallback, T low, T high) {
    const T value = memberOr(object, name, fallback);
    return value < low || value > high ? fallback : value;
}

}  // namespace

Result<LoadedSettings> loadSettings(const std::filesystem::path& path) {
    auto document = readJsonFile(path, kVersion);
    if (!document) return document.error();
    const json& object = document->content;
    const Settings defaults;
    Settings s;
    s.theme = memberOr(object, "theme", defaults.theme);
    s.textSize = within(object, "textSize", defaults.textSize, 6, 40);
    s.idleMinutes = within<int>(object, "idleMinutes", defaults.idleMinutes, 1, 100'000);
    s.gridTextSize = within(object, "gridTextSize", s.textSize, 6, 40);
    s.isGridShaded = memberOr(object, "gridShaded", defaults.isGridShaded);
    s.resultMegabytes = within<std::uint64_t>(object, "resultMegabytes", defaults.resultMegabytes, 1, 1'000'000);
    s.pageRows = within<std::size_t>(object, "pageRows", defaults.pageRows, 10, 1'000'000);
    s.format.width = within<std::size_t>(object, "formatWidth", defaults.format.width, 40, 400);
    s.format.indentWidth = within<std::size_t>(object, "formatIndent", defaults.format.indentWidth, 1, 16);
    for (const sql::FormatChoice& choice : sql::formatChoices()) {
        sql::choose(s.format, choice, memberOr<std::string>(object, choice.setting.data(), ""));
    }
    s.findingsOff = textsIn(object, "findingsOff");
    s.manyRows = within<std::int64_t>(object, "findingsManyRows", defaults.manyRows, 0, std::int64_t{1} << 50);
    s.isLeftColumnShown = memberOr(object, "leftColumn", defaults.isLeftColumnShown);
    s.isCloseUpShown = memberOr(object, "closeUp", defaults.isCloseUpShown);
    s.leftColumnWidth = within(object, "leftColumnWidth", defaults.leftColumnWidth, 160, 800);
    s.closeUpWidth = within(object, "closeUpWidth", defaults.closeUpWidth, 160, 900);
    s.objectCardHeight = within(object, "objectCardHeight", defaults.objectCardHeight, 60, 2000);
    s.isConnectionListFolded = memberOr(object, "connectionsFolded", defaults.isConnectionListFolded);
    s.editorShare = within(object, "editorShare", defaults.editorShare, 10, 90);
    return LoadedSettings{s, std::move(document->setAside)};
}

namespace {

json toJson(const Settings& s) {
    json object;
    object["theme"] = s.theme;
    object["textSize"] = s.textSize;
    object["idleMinutes"] = s.idleMinutes;
    object["gridTextSize"] = s.gridTextSize;
    object["gridShaded"] = s.isGridShaded;
    object["resultMegabytes"] = s.resultMegabytes;
    object["pageRows"] = s.pageRows;
    object["formatWidth"] = s.format.width;
    object["formatIndent"] = s.format.indentWidth;
    for (const sql::FormatChoice& choice : sql::formatChoices()) {
        object[std::string(choice.setting)] = choice.words[choice.get(s.format)];
    }
    object["findingsOff"] = s.findingsOff;
    object["findingsManyRows"] = s.manyRows;
    object["leftColumn"] = s.isLeftColumnShown;
    object["closeUp"] = s.isCloseUpShown;
    object["leftColumnWidth"] = s.leftColumnWidth;
    object["closeUpWidth"] = s.closeUpWidth;
    object["objectCardHeight"] = s.objectCardHeight;
    object["connectionsFolded"] = s.isConnectionListFolded;
    object["editorShare"] = s.editorShare;
    return object;
}

}  // namespace

Status saveSettings(const std::filesystem::path& path, const Settings& settings, const Settings& before) {
    const FileLock lock(path.string() + ".lock");
    if (!lock.status()) return lock.status();
    auto document = readJsonFile(path, kVersion);
    if (!document) return document.error();
    json& object = document->content;
    object["version"] = kVersion;
    const json old = toJson(before);
    const json wanted = toJson(settings);
    for (const auto& [name, value] : wanted.items()) {
        if (value != old[name] || !object.contains(name)) object[name] = value;
    }
    return writeJsonFile(path, object);
}

}  // namespace pantry::store
