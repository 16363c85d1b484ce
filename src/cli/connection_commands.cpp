#include <fmt/format.h>

#include <iostream>
#include <memory>

#include "cli/command.h"
#include "core/base/text.h"
#include "core/db/address.h"
#include "core/db/driver.h"
#include "core/exchange/json_text.h"

namespace pantry::cli {
namespace {

using db::ConnectionProfile;

void list(Context& context, bool asJson) {
    auto saved = workspace::ConnectionsFile(context.home().connectionsFile()).load();
    if (!saved) return fail(context, saved.error());
    if (saved->notice) fmt::print(stderr, "pantry: {}\n", saved->notice->text());
    if (asJson) fmt::print("[");
    std::string separator;
    for (const ConnectionProfile& p : saved->profiles) {
        if (asJson) {
            fmt::print(R"({}{{"name":{},"group":{},"environment":"{}","engine":"{}","address":{}}})", separator,
                       exchange::jsonString(p.name), exchange::jsonString(p.group), db::environmentWord(p.environment),
                       db::engineWord(p.engine), exchange::jsonString(db::addressOf(p)));
            separator = ",\n ";
        } else {
            fmt::print("{:<28} {:<6} {:<11} {}\n", p.name, db::environmentWord(p.environment), db::engineName(p.engine),
                       db::addressOf(p));
        }
    }
    if (asJson) fmt::print("]\n");
    if (!asJson && saved->profiles.empty()) {
        fmt::print(stderr, "No connections are saved in {}. pantry connections add makes one.\n",
                   context.home().config.string());
    }
}

void test(Context& context, const std::string& wanted) {
    auto connection = findConnection(context, wanted);
    if (!connection) return fail(context, connection.error());
    auto driver = db::driverFor(connection->profile.engine);
    if (!driver) return fail(context, driver.error());
    for (const db::TestStage& stage : (*driver)->test(connection->profile, connection->password, {})) {
        fmt::print("{} {:<50} {:>8}\n", stage.error ? "✗" : "✓", stage.name, base::readable(stage.duration));
        if (!stage.error) continue;
        std::fflush(stdout);
        fail(context, *stage.error);
    }
}

struct AddOptions {
    std::string name;
    std::string address;
    std::string group;
    std::string environment = "local";
    std::string colour = "juniper";
    bool isReadOnly = false;
};

void add(Context& context, const AddOptions& o) {
    auto address = db::parseAddress(o.address);
    if (!address) return fail(context, address.error());
    const workspace::Home home = context.home();
    if (Status status = home.prepare(); !status) return fail(context, status.error());
    const workspace::ConnectionsFile file(home.connectionsFile());
    auto saved = file.load();
    if (!saved) return fail(context, saved.error());
    if (saved->notice) fmt::print(stderr, "pantry: {}\n", saved->notice->text());
    ConnectionProfile profile = std::move(address->profile);
    profile.id = db::makeProfileId();
    profile.name = o.name;
    profile.group = o.group;
    profile.colour = o.colour;
    profile.environment = db::environmentFromWord(o.environment).value_or(db::Environment::Local);
    profile.isReadOnly = o.isReadOnly;
    if (profile.engine == db::Engine::Sqlite && profile.database != ":memory:") {
        profile.database = std::filesystem::absolute(profile.database).lexically_normal().string();
    }
    if (const auto problem = workspace::problemOf(profile, saved->profiles)) return fail(context, *problem);
    if (Status status = file.put(profile); !status) return fail(context, status.error());
    if (address->password) {
        fmt::print(stderr, "The password of the address was not kept: this program writes no password to a file.\n");
    }
    fmt::print("Saved {}: {}\n", profile.name, db::addressOf(profile));
}

void remove(Context& context, const std::string& wanted) {
    const workspace::ConnectionsFile file(context.home().connectionsFile());
    auto saved = file.load();
    if (!saved) return fail(context, saved.error());
    auto connection = workspace::resolveConnection(wanted, saved->profiles);
    if (!connection) return fail(context, connection.error());
    if (Status status = file.remove(connection->profile.id); !status) return fail(context, status.error());
    fmt::print("Removed {}. The database itself was not touched.\n", connection->profile.name);
}

}  // namespace

void addConnections(CLI::App& app, Context& context) {
    CLI::App* group = app.add_subcommand("connections", "Saved connections: list, test, add, remove");
    group->require_subcommand(1);

    auto asJson = std::make_shared<bool>(false);
    CLI::App* listCommand = group->add_subcommand("list", "List the saved connections; no secret is shown");
    listCommand->add_flag("--json", *asJson, "Write JSON");
    listCommand->callback([asJson, &context] { list(context, *asJson); });

    auto tested = std::make_shared<std::string>();
    CLI::App* testCommand = group->add_subcommand("test", "Try a connection stage by stage");
    testCommand->add_option("connection", *tested, "Name or address")->required();
    testCommand->callback([tested, &context] { test(context, *tested); });

    auto o = std::make_shared<AddOptions>();
    CLI::App* addCommand = group->add_subcommand("add", "Save a connection under a name of your own");
    addCommand->footer("Example: pantry connections add Kitchen sqlite:///srv/kitchen.db --environment trial");
    addCommand->add_option("name", o->name, "Its name")->required();
    addCommand->add_option("address", o->address, "Its address")->required();
    addCommand->add_option("--group", o->group, "Heading it stands under");
    addCommand->add_option("--environment", o->environment, "local, trial or live")
        ->check(CLI::IsMember({"local", "trial", "live"}));
    addCommand->add_option("--colour", o->colour, "tomato, marigold, sage, juniper, beet or cocoa")
        ->check(CLI::IsMember({"tomato", "marigold", "sage", "juniper", "beet", "cocoa"}));
    addCommand->add_flag("--read-only", o->isReadOnly, "Open it for reading only");
    addCommand->callback([o, &context] { add(context, *o); });

    auto removed = std::make_shared<std::string>();
    CLI::App* removeCommand = group->add_subcommand("remove", "Forget a saved connection; the database stays");
    removeCommand->add_option("connection", *removed, "Its name")->required();
    removeCommand->callback([removed, &context] { remove(context, *removed); });
}

}  // namespace pantry::cli
