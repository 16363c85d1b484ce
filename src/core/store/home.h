#pragma once

#include <filesystem>
#include <optional>

#include "core/base/result.h"

namespace pantry::store {

/// Where the program keeps a user's things.
struct Home {
    std::filesystem::path config;  ///< connections.json, settings.json and what was chosen
    std::filesystem::path data;    ///< ledger.db, sheets/, results/, shelf/
    std::filesystem::path state;   ///< logs

    [[nodiscard]] std::filesystem::path connectionsFile() const { return config / "connections.json"; }
    [[nodiscard]] std::filesystem::path catalogChoicesFile() const { return config / "catalog.json"; }
    [[nodiscard]] std::filesystem::path definedFile() const { return config / "defined.json"; }
    [[nodiscard]] std::filesystem::path gridChoicesFile() const { return config / "grids.json"; }
    [[nodiscard]] std::filesystem::path snippetsFile() const { return config / "snippets.json"; }
    [[nodiscard]] std::filesystem::path shelvesFile() const { return config / "shelves.json"; }
    [[nodiscard]] std::filesystem::path exportsFile() const { return config / "exports.json"; }
    [[nodiscard]] std::filesystem::path windowFile() const { return config / "window.json"; }
    [[nodiscard]] std::filesystem::path settingsFile() const { return config / "settings.json"; }
    [[nodiscard]] std::filesystem::path ledgerFile() const { return data / "ledger.db"; }
    [[nodiscard]] std::filesystem::path sheetsFolder() const { return data / "sheets"; }
    [[nodiscard]] std::filesystem::path resultsFolder() const { return data / "results"; }
    [[nodiscard]] std::filesystem::path shelfFolder() const { return data / "shelf"; }
    [[nodiscard]] std::filesystem::path logFile() const { return state / "agile-pantry.log"; }

    /// Makes the folders, for their owner alone, as everything that stands in them already; clears away what killed
    /// writers left. Errors: Permission, Io; NotFound when the environment names no home folder.
    [[nodiscard]] Status prepare() const;
};

/// The folder that was asked for, else $AGILE_PANTRY_HOME, else the folders of the XDG Base Directory Specification.
[[nodiscard]] Home findHome(const std::optional<std::filesystem::path>& wanted);

}  // namespace pantry::store
