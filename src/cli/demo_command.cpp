#include <fmt/format.h>

#include <memory>

#include "cli/command.h"
#include "demo/demo_data.h"

namespace pantry::cli {

void addDemo(CLI::App& app, Context& context) {
    auto folder = std::make_shared<std::string>("agile-pantry-demo");
    CLI::App* command = app.add_subcommand("demo", "Write the demo databases of Larkspur Vale");
    command->footer(
        "Writes orchard.db, orchard-live.db, kitchen.db, probes.db and a home folder in which they are set up:\n"
        "  agile-pantry --home DIR/home\n  pantry connections list --home DIR/home\nAll names in the data are made "
        "up.");
    command->add_option("--into", *folder, "Folder to write to (agile-pantry-demo)")->type_name("DIR");
    command->callback([folder, &context] {
        if (Status status = demo::writeDemo(*folder); !status) return fail(context, status.error());
        fmt::print("Wrote the demo to {}. Its home folder is {}/home.\n", *folder, *folder);
    });
}

}  // namespace pantry::cli
