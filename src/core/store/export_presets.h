#pragma once

#include <filesystem>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/exchange/row_export.h"

namespace pantry::store {

/// How exports are written, as kept under a name. Columns, and what belongs to one result, are no part of it.
struct ExportPreset {
    std::string name;
    exchange::ExportChoices choices;
};

struct ExportPresets {
    std::optional<exchange::Format> lastFormat;                    ///< of the last export
    std::map<exchange::Format, exchange::ExportChoices> lastUsed;  ///< what each format was told last
    std::vector<ExportPreset> named;                               ///< by name
    std::string folder;                                            ///< of the last file; empty while there is none
};

/// A file that cannot be understood counts as none, and is kept aside. Errors: TooNew, Permission, Io.
Result<ExportPresets> loadExportPresets(const std::filesystem::path& path);

// Each changes one thing in the file; what others wrote there meanwhile stays. Errors: those of reading and writing.

/// An empty folder leaves the one before.
Status saveLastExport(const std::filesystem::path& path, const exchange::ExportChoices& choices,
                      const std::string& folder = {});
/// Takes the place of one of the same name.
Status saveExportPreset(const std::filesystem::path& path, const ExportPreset& preset);
Status removeExportPreset(const std::filesystem::path& path, const std::string& name);

}  // namespace pantry::store
