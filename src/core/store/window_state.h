#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "core/base/result.h"

namespace pantry::store {

/// How the window was left: what is open in it and how wide. It follows from dragging and folding, and nobody sets it
/// to taste, so it has a file of its own.
struct WindowState {
    bool isLeftColumnShown = true;
    bool isCloseUpShown = true;
    int leftColumnWidth = 252;  ///< in pixels
    int closeUpWidth = 246;
    int objectCardHeight = 150;             ///< in pixels
    bool isConnectionListFolded = false;    ///< in the left column, to the chosen one
    int editorShare = 45;                   ///< of the height between editor and result, in per cent
    std::vector<std::string> reached = {};  ///< titles that somebody reached for, the last one first
    friend bool operator==(const WindowState&, const WindowState&) = default;
};

/// Values out of range fall back to the default. Before it had a file of its own, the state was among the settings: it
/// is taken from there when `path` is missing. Errors: TooNew, Permission, Io.
Result<WindowState> loadWindowState(const std::filesystem::path& path, const std::filesystem::path& settingsPath);

/// Writes what differs from `before`, so that two windows do not undo each other's.
Status saveWindowState(const std::filesystem::path& path, const WindowState& state, const WindowState& before);

}  // namespace pantry::store
