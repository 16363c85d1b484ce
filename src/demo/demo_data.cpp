#include "demo/demo_data.h"

#include "core/base/file.h"
#include "core/store/connections_file.h"
#include "core/store/home.h"
#include "demo/demo_shelf.h"

namespace pantry::demo {
namespace {

namespace fs = std::filesystem;

/// Written last, so that a demo that was cut short is made again; counts the shapes that the data had.
constexpr std::string_view kMarkName = "larkspur-vale.txt";
constexpr std::string_view kMark = "Demo data of Agile Pantry, shape 1. All names are made up.\n";

Status writeHome(const fs::path& folder) {
    const store::Home home = store::findHome(folder / "home");
    if (Status status = home.prepare(); !status) return status;
    const store::ConnectionsFile connections(home.connectionsFile());
    for (const db::ConnectionProfile& profile : connectionsTo(folder)) {
        if (Status status = connections.put(profile); !status) return status;
    }
    return writeShelf(home.shelfFolder());
}

}  // namespace

std::vector<db::ConnectionProfile> connectionsTo(const fs::path& folder) {
    const auto profile = [&](const char* id, const char* name, const char* group, const char* colour,
                             db::Environment environment, const char* file) {
        db::ConnectionProfile p;
        p.id = id;
        p.name = name;
        p.group = group;
        p.colour = colour;
        p.environment = environment;
        p.engine = db::Engine::Sqlite;
        p.database = (fs::absolute(folder) / file).lexically_normal().string();
        return p;
    };
    using enum db::Environment;
    return {profile("demo-orchard", "Orchard records", "Orchard and kitchen", "marigold", Trial, "orchard.db"),
            profile("demo-live", "Orchard records (live)", "Orchard and kitchen", "tomato", Live, "orchard-live.db"),
            profile("demo-kitchen", "Kitchen", "Orchard and kitchen", "sage", Local, "kitchen.db"),
            profile("demo-probes", "Probes", "Sensors", "juniper", Local, "probes.db")};
}

Status writeDatabases(const fs::path& folder) {
    if (Status status = base::makeFolder(fs::absolute(folder)); !status) return status;
    if (Status status = writeOrchard(folder / "orchard.db", false); !status) return status;
    if (Status status = writeOrchard(folder / "orchard-live.db", true); !status) return status;
    if (Status status = writeKitchen(folder / "kitchen.db"); !status) return status;
    return writeProbes(folder / "probes.db");
}

Status writeDemo(const fs::path& folder) {
    std::error_code code;
    fs::remove(folder / kMarkName, code);
    if (Status status = writeDatabases(folder); !status) return status;
    if (Status status = writeHome(folder); !status) return status;
    return base::writeFileAtomically(folder / kMarkName, kMark);
}

bool hasDemo(const fs::path& folder) {
    const auto mark = base::readFile(folder / kMarkName);
    return mark && *mark == kMark;
}

}  // namespace pantry::demo
