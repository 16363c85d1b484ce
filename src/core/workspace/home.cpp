#include "core/workspace/home.h"

#include <cstdlib>
#include <string_view>

#include "core/base/file.h"

namespace pantry::workspace {
namespace {

namespace fs = std::filesystem;

std::string_view environment(const char* name) {
    const char* value = std::getenv(name);
    return value == nullptr ? std::string_view() : std::string_view(value);
}

/// The specification says that a relative path in one of its variables counts as none.
fs::path xdgFolder(const char* variable, const char* fallback) {
    const fs::path wanted(environment(variable));
    const fs::path base = wanted.is_absolute() ? wanted : fs::path(environment("HOME")) / fallback;
    return base / "agile-pantry";
}

}  // namespace

Home findHome(const std::optional<fs::path>& wanted) {
    fs::path single = wanted.value_or(fs::path(environment("AGILE_PANTRY_HOME")));
    if (!single.empty()) {
        single = fs::absolute(single);
        return {single, single, single};
    }
    return {xdgFolder("XDG_CONFIG_HOME", ".config"), xdgFolder("XDG_DATA_HOME", ".local/share"),
            xdgFolder("XDG_STATE_HOME", ".local/state")};
}

Status Home::prepare() const {
    for (const fs::path& folder : {config, data, state, sheetsFolder()}) {
        if (Status status = base::makeFolder(folder); !status) {
            Error error = status.error();
            error.hint = "Choose another home folder with --home.";
            return error;
        }
    }
    return {};
}

}  // namespace pantry::workspace
