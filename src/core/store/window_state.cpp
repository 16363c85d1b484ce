#include "core/store/window_state.h"

#include "core/store/json_file.h"

namespace pantry::store {
namespace {

using nlohmann::json;

constexpr int kWindowStateVersion = 1;
constexpr int kAnyVersion = 1'000'000;  // of the settings, which are only looked at

WindowState stateIn(const json& object) {
    WindowState state;
    const auto number = [&](const char* name, int& value, int low, int high) {
        const int found = memberOr(object, name, value);
        if (found >= low && found <= high) value = found;
    };
    state.isLeftColumnShown = memberOr(object, "leftColumn", state.isLeftColumnShown);
    state.isCloseUpShown = memberOr(object, "closeUp", state.isCloseUpShown);
    number("leftColumnWidth", state.leftColumnWidth, 160, 800);
    number("closeUpWidth", state.closeUpWidth, 160, 900);
    number("objectCardHeight", state.objectCardHeight, 60, 2000);
    state.isConnectionListFolded = memberOr(object, "connectionsFolded", state.isConnectionListFolded);
    number("editorShare", state.editorShare, 10, 90);
    state.reached = textsIn(object, "reached");
    return state;
}

json toJson(const WindowState& state) {
    return {{"leftColumn", state.isLeftColumnShown},      {"closeUp", state.isCloseUpShown},
            {"leftColumnWidth", state.leftColumnWidth},   {"closeUpWidth", state.closeUpWidth},
            {"objectCardHeight", state.objectCardHeight}, {"connectionsFolded", state.isConnectionListFolded},
            {"editorShare", state.editorShare},           {"reached", state.reached}};
}

}  // namespace

Result<WindowState> loadWindowState(const std::filesystem::path& path, const std::filesystem::path& settingsPath) {
    std::error_code ignored;
    const bool isThere = std::filesystem::exists(path, ignored);
    auto document = isThere ? readJsonFile(path, kWindowStateVersion) : readJsonFile(settingsPath, kAnyVersion);
    if (!document) return document.error();
    return stateIn(document->content);
}

Status saveWindowState(const std::filesystem::path& path, const WindowState& state, const WindowState& before) {
    return changeJsonMembers(path, kWindowStateVersion, toJson(before), toJson(state));
}

}  // namespace pantry::store
