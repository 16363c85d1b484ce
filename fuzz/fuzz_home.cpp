// Any bytes as a file of the home folder, as one that another program left, or as an export of connections: a clear
// error or a value, never a crash, and what was understood can be written and read again. The first byte chooses.
#include <unistd.h>

#include <cstdint>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <string>

#include "core/store/catalog_choices_file.h"
#include "core/store/catalog_file.h"
#include "core/store/connection_transfer.h"
#include "core/store/connections_file.h"
#include "core/store/export_presets.h"
#include "core/store/grid_choices_file.h"
#include "core/store/settings.h"
#include "core/store/sheet_store.h"

namespace {

namespace fs = std::filesystem;
using namespace pantry;

const fs::path& folder() {
    static const fs::path path = [] {
        fs::path made = fs::temp_directory_path() / ("pantry-fuzz-" + std::to_string(::getpid()));
        fs::create_directories(made);
        return made;
    }();
    return path;
}

fs::path written(std::string_view bytes, const char* name) {
    const fs::path path = folder() / name;
    std::ofstream(path, std::ios::binary) << bytes;
    return path;
}

void connections(std::string_view bytes) {
    const store::ConnectionsFile file(written(bytes, "connections.json"));
    const auto list = file.load();
    if (!list || list->notice) return;
    if (!file.change([](store::ConnectionList&) { return Status(); })) return;
    const auto again = file.load();
    if (!again || again->profiles != list->profiles) std::abort();
}

void sheets(std::string_view bytes) {
    const fs::path home = folder() / "sheets";
    fs::create_directories(home);
    std::ofstream(home / "one.json", std::ios::binary) << bytes;
    const store::SheetStore store(home);
    const auto found = store.takeOver();
    if (!found || found->empty()) return;
    const auto again = store.takeOver();
    if (!again || *again != *found) std::abort();
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    if (size == 0) return 0;
    const std::string_view bytes(reinterpret_cast<const char*>(data) + 1, size - 1);
    switch (data[0] % 8) {
        case 0: connections(bytes); break;
        case 1: sheets(bytes); break;
        case 2: (void)store::loadSettings(written(bytes, "settings.json")); break;
        case 3: (void)store::loadCatalogChoices(written(bytes, "catalogs.json")); break;
        case 4: (void)store::loadExportPresets(written(bytes, "exports.json")); break;
        case 5: (void)store::loadGridChoices(written(bytes, "grids.json")); break;
        case 6: (void)store::readCatalogFile(written(bytes, "catalog.json")); break;
        default: (void)store::readExport(bytes); break;
    }
    return 0;
}
