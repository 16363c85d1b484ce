#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/sql/layout/formatter.h"

namespace pantry::store {

/// What a user has set to taste; see settingTable() for words, bounds and defaults. How the window was left is no
/// setting: see WindowState.
struct Settings {
    std::string theme = "daylight";        ///< name of a theme file
    int textSize = 10;                     ///< of the editor, in points
    int idleMinutes = 30;                  ///< after which a sheet's line that nothing holds open is closed
    int gridTextSize = 10;                 ///< of cells, in points; the editor has its own
    bool isGridShaded = false;             ///< every other row on a ground of its own
    std::uint64_t resultMegabytes = 1024;  ///< of memory for all results together; more goes to disk
    std::size_t pageRows = 1000;           ///< rows that arrive before the reading pauses
    sql::FormatOptions format;
    std::vector<std::string> findingsOff;  ///< rules that stay silent
    std::int64_t manyRows = 100'000;       ///< a table with more is not read whole without a finding
    bool isTextWrapped = false;            ///< long lines of a sheet go on below
    bool areBlanksShown = false;           ///< of a sheet, as dots
    bool closesPairs = true;               ///< brackets and quotes of a sheet, by themselves
    bool areNumbersShown = true;           ///< of the lines of a sheet
    bool offersLiveValues = false;         ///< completion may read values of columns on live connections
    bool keepsRows = true;                 ///< rows of small results stand in a file until the next start
    int ledgerDays = 0;                    ///< after which runs go from the ledger; 0: never
    std::int64_t ledgerRuns = 0;           ///< that stay in the ledger; 0: all
    friend bool operator==(const Settings&, const Settings&) = default;
};

struct LoadedSettings {
    Settings settings;
    std::optional<Error> notice;  ///< the file was broken and kept aside
};

/// Values out of range fall back to the default. Errors: TooNew, Permission, Io.
Result<LoadedSettings> loadSettings(const std::filesystem::path& path);

/// Writes what differs from `before`, so that two windows do not undo each other's choices. Members of the file that
/// this version does not know stay in it.
Status saveSettings(const std::filesystem::path& path, const Settings& settings, const Settings& before = {});

}  // namespace pantry::store
