#include <fmt/format.h>

#include <signal.h>

#include <atomic>
#include <chrono>
#include <memory>
#include <thread>

#include "cli/command.h"
#include "core/db/address.h"
#include "core/store/connections_file.h"
#include "demo/demo_data.h"
#include "demo/demo_servers.h"

namespace pantry::cli {
namespace {

std::atomic<bool> isOver{false};
void noteEnd(int) { isOver = true; }

/// Servers with the data, set up as connections while they run.
void runServers(Context& context, const std::string& folder) {
    ::signal(SIGINT, noteEnd);
    ::signal(SIGTERM, noteEnd);
    fmt::print("Starting servers …\n");
    std::fflush(stdout);
    auto servers = demo::DemoServers::start(folder);
    if (!servers) return fail(context, servers.error());
    const store::ConnectionsFile file(folder + "/home/connections.json");
    for (const db::ConnectionProfile& profile : (*servers)->profiles()) {
        if (Status status = file.put(profile); !status) return fail(context, status.error());
        fmt::print("  {}: {}\n", profile.name, db::addressOf(profile));
    }
    fmt::print("The servers are ready. Ctrl+C stops them.\n");
    std::fflush(stdout);
    while (!isOver) std::this_thread::sleep_for(std::chrono::milliseconds(100));
    for (const db::ConnectionProfile& profile : (*servers)->profiles()) (void)file.remove(profile.id);
}

}  // namespace

void addDemo(CLI::App& app, Context& context) {
    auto folder = std::make_shared<std::string>("agile-pantry-demo");
    auto withServers = std::make_shared<bool>(false);
    CLI::App* command = app.add_subcommand("demo", "Write the demo databases of Larkspur Vale");
    command->footer(
        "Writes orchard.db, orchard-live.db, kitchen.db, probes.db and a home folder in which they are set up:\n"
        "  agile-pantry --home DIR/home\n  pantry connections list --home DIR/home\nAll names in the data are made "
        "up.");
    command->add_option("--into", *folder, "Folder to write to (agile-pantry-demo)")->type_name("DIR");
    command->add_flag("--servers", *withServers,
                      "Also start PostgreSQL and MariaDB servers with the data, until Ctrl+C");
    command->callback([folder, withServers, &context] {
        if (*withServers && demo::hasDemo(*folder)) return runServers(context, *folder);
        if (Status status = demo::writeDemo(*folder); !status) return fail(context, status.error());
        fmt::print("Wrote the demo to {}. Its home folder is {}/home.\n", *folder, *folder);
        if (*withServers) runServers(context, *folder);
    });
}

}  // namespace pantry::cli
