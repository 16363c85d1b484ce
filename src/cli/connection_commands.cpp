#include <fmt/format.h>

#include <algorithm>
#include <iostream>
#include <memory>
#include <set>

#include "cli/command.h"
#include "cli/json_output.h"
#include "core/base/file.h"
#include "core/base/joined.h"
#include "core/base/text.h"
#include "core/db/address.h"
#include "core/db/connecting.h"
#include "core/db/driver.h"
#include "core/db/engine_traits.h"
#include "core/db/profile.h"
#include "core/db/profile_acts.h"
#include "core/db/templates.h"
#include "core/store/connection_transfer.h"
#include "core/store/keyring.h"

namespace pantry::cli {
namespace {

using db::ConnectionProfile;

std::string profileJson(const ConnectionProfile& p) {
    return JsonObject()
        .text("name", p.name)
        .text("group", p.group)
        .text("environment", db::environmentWord(p.environment))
        .text("engine", db::engineWord(p.engine))
        .text("address", db::addressOf(p))
        .str();
}

void list(Context& context, bool asJson) {
    auto saved = store::ConnectionsFile(context.home().connectionsFile()).load();
    if (!saved) return fail(context, saved.error());
    if (saved->notice) tell(fmt::format("pantry: {}\n", saved->notice->text()));
    if (asJson) return fmt::print("{}\n", jsonArray(saved->profiles, profileJson, JsonArray::Layout::LineEach));
    for (const ConnectionProfile& p : saved->profiles)
        fmt::print("{:<28} {:<6} {:<11} {}\n", p.name, db::environmentWord(p.environment), db::engineName(p.engine),
                   db::addressOf(p));
    if (saved->profiles.empty()) {
        fmt::print(stderr, "No connections are saved in {}. pantry connections add makes one.\n",
                   context.home().config.string());
    }
}

void test(Context& context, const std::string& wanted) {
    auto connection = findConnection(context, wanted);
    if (!connection) return fail(context, connection.error());
    if (connection->profile.isUnseen) return fail(context, db::notSeenYet(connection->profile));
    auto driver = db::driverFor(connection->profile.engine);
    if (!driver) return fail(context, driver.error());
    const auto password = store::passwordProvider(connection->password)(connection->profile);
    if (!password) return fail(context, password.error());
    for (const db::TestStage& stage : (*driver)->test(connection->profile, *password, {})) {
        fmt::print("{} {:<50} {:>8}\n",
                   stage.error       ? "✗"
                   : stage.isWarning ? "!"
                                     : "✓",
                   stage.name, base::readable(stage.duration));
        if (!stage.error) continue;
        std::fflush(stdout);
        fail(context, *stage.error);
    }
}

/// Shows what a connection from somebody's file would do, and lets it be used.
void confirmConnection(Context& context, const std::string& wanted) {
    const store::ConnectionsFile file(context.home().connectionsFile());
    const Status status = file.change([&](store::ConnectionList& list) -> Status {
        const auto found = std::ranges::find(list.profiles, wanted, &db::ConnectionProfile::name);
        if (found == list.profiles.end()) {
            return Error{.kind = ErrorKind::NotFound,
                         .message = fmt::format("No connection is called “{}”.", wanted),
                         .hint = "pantry connections list shows them."};
        }
        fmt::print("{}:\n", base::withVisibleControls(found->name));
        for (const std::string& act : db::actsOf(*found)) fmt::print("  {}\n", act);
        found->isUnseen = false;
        return {};
    });
    if (!status) return fail(context, status.error());
    fmt::print("{} may be used now.\n", wanted);
}

struct AddOptions {
    std::string name;
    std::string address;
    std::string group;
    std::string environment = "local";
    std::string colour;
    std::string note;
    std::string passwordFrom = "ask";
    std::string basedOn;
    bool isTemplate = false;
    bool isReadOnly = false;
};

/// Takes --password-from: ask, keyring, file, or environment:NAME.
Status setPasswordSource(ConnectionProfile& profile, const std::string& wanted) {
    constexpr std::string_view kEnvironment = "environment:";
    const bool isVariable = wanted.starts_with(kEnvironment);
    if (isVariable) profile.passwordVariable = wanted.substr(kEnvironment.size());
    const auto source = db::passwordSourceFromWord(isVariable ? "environment" : wanted);
    if (!source || (*source == db::PasswordSource::Environment && profile.passwordVariable.empty())) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = fmt::format("“{}” is no place to take a password from.", wanted),
                     .hint = "Choose ask, keyring, file, or environment:NAME."};
    }
    profile.passwordSource = *source;
    return {};
}

/// What an address leaves open comes from the template.
Status leanOn(ConnectionProfile& profile, const std::string& name, const store::ConnectionList& saved) {
    const auto base = std::ranges::find_if(saved.profiles,
                                           [&](const ConnectionProfile& p) { return p.isTemplate && p.name == name; });
    if (base == saved.profiles.end()) {
        return Error{.kind = ErrorKind::NotFound, .message = fmt::format("No template is called “{}”.", name)};
    }
    db::baseOn(*base, profile, {.engine = base->engine});  // an address always says which engine it is
    return {};
}

void add(Context& context, const AddOptions& o) {
    auto address = db::parseAddress(o.address);
    if (!address) return fail(context, address.error());
    if (!address->unused.empty()) {
        fmt::print(stderr, "Not used here: {}.\n", base::joined(address->unused, ", "));
    }
    const store::Home home = context.home();
    if (Status status = home.prepare(); !status) return fail(context, status.error());
    const store::ConnectionsFile file(home.connectionsFile());
    auto saved = file.load();
    if (!saved) return fail(context, saved.error());
    if (saved->notice) tell(fmt::format("pantry: {}\n", saved->notice->text()));
    ConnectionProfile profile = std::move(address->profile);
    profile.id = db::makeProfileId();
    profile.name = o.name;
    profile.group = o.group;
    profile.environment = db::environmentFromWord(o.environment).value_or(db::Environment::Local);
    if (!o.colour.empty()) {
        profile.colour = o.colour;
    } else if (o.basedOn.empty()) {  // else it is left to the template
        profile.colour = db::usualColour(profile.environment);
    }
    profile.isReadOnly = o.isReadOnly || profile.isReadOnly;
    profile.note = o.note;
    profile.isTemplate = o.isTemplate;
    if (Status status = setPasswordSource(profile, o.passwordFrom); !status) return fail(context, status.error());
    if (!o.basedOn.empty()) {
        if (Status status = leanOn(profile, o.basedOn, *saved); !status) return fail(context, status.error());
    }
    if (db::isFile(profile.engine) && profile.database != ":memory:") {
        profile.database = std::filesystem::absolute(profile.database).lexically_normal().string();
    }
    if (const auto problem = store::problemOf(profile, saved->profiles)) return fail(context, *problem);
    if (Status status = file.put(profile); !status) return fail(context, status.error());
    const bool isForKeyring = address->password && profile.passwordSource == db::PasswordSource::Keyring;
    if (isForKeyring) {
        const Status kept = store::Keyring::keep(profile.id, "Agile Pantry: " + profile.name, *address->password);
        if (!kept) return fail(context, kept.error());
        fmt::print("The password is in the keyring.\n");
    } else if (address->password) {
        fmt::print(stderr, "The password of the address was not kept: this program writes no password to a file.\n");
    }
    fmt::print("Saved {}: {}\n", profile.name, db::addressOf(profile));
}

void remove(Context& context, const std::string& wanted) {
    const store::ConnectionsFile file(context.home().connectionsFile());
    auto saved = file.load();
    if (!saved) return fail(context, saved.error());
    auto connection = store::resolveConnection(wanted, saved->profiles);
    if (!connection) return fail(context, connection.error());
    if (Status status = file.remove(connection->profile.id); !status) return fail(context, status.error());
    if (connection->profile.passwordSource == db::PasswordSource::Keyring) {
        const Status forgotten = store::Keyring::forget(connection->profile.id);
        if (!forgotten) tell(fmt::format("pantry: {}\n", forgotten.error().text()));
    }
    fmt::print("Removed {}. The database itself was not touched.\n", connection->profile.name);
}

struct TransferOptions {
    std::string file;
    std::vector<std::string> names;
    std::string clash = "rename";
};

/// The ids of the connections of these names.
Result<std::set<std::string>> idsOf(const store::ConnectionList& list, const std::vector<std::string>& names) {
    std::set<std::string> ids;
    for (const std::string& name : names) {
        const auto found = std::ranges::find(list.profiles, name, &ConnectionProfile::name);
        if (found == list.profiles.end()) {
            return Error{.kind = ErrorKind::NotFound, .message = fmt::format("No connection is called “{}”.", name)};
        }
        ids.insert(found->id);
    }
    return ids;
}

void exportTo(Context& context, const TransferOptions& o) {
    auto saved = store::ConnectionsFile(context.home().connectionsFile()).load();
    if (!saved) return fail(context, saved.error());
    const auto ids = idsOf(*saved, o.names);
    if (!ids) return fail(context, ids.error());
    if (Status status = writeOutput(o.file, store::exportConnections(*saved, *ids)); !status) {
        fail(context, status.error());
    }
}

void importFrom(Context& context, const TransferOptions& o) {
    const auto text = base::readFile(o.file);
    if (!text) return fail(context, text.error());
    const auto incoming = store::readExport(*text);
    if (!incoming) return fail(context, incoming.error());
    const auto ids = idsOf(*incoming, o.names);
    if (!ids) return fail(context, ids.error());
    const auto clash = o.clash == "replace" ? store::NameClash::Replace
                       : o.clash == "skip"  ? store::NameClash::Skip
                                            : store::NameClash::Rename;
    const store::Home home = context.home();
    if (Status status = home.prepare(); !status) return fail(context, status.error());
    store::ImportReport report;
    const Status changed =
        store::ConnectionsFile(home.connectionsFile()).change([&](store::ConnectionList& list) -> Status {
            report = store::importConnections(list, *incoming, *ids, clash);
            return {};
        });
    if (!changed) return fail(context, changed.error());
    for (const auto& [word, names] : {std::pair("Added", &report.added), std::pair("Replaced", &report.replaced),
                                      std::pair("Left out", &report.skipped)}) {
        for (const std::string& name : *names) fmt::print("{} {}\n", word, name);
    }
}

}  // namespace

void addConnections(CLI::App& app, Context& context) {
    CLI::App* group = app.add_subcommand("connections", "Saved connections: list, test, add, remove, export, import");
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
    addCommand->add_flag("--read-only", o->isReadOnly, "Open it read-only");
    addCommand->add_option("--note", o->note, "Your own words about it");
    addCommand->add_option("--password-from", o->passwordFrom,
                           "Where its password comes from: ask, keyring, file, or environment:NAME");
    addCommand->add_option("--based-on", o->basedOn, "A template that gives what the address leaves open");
    addCommand->add_flag("--template", o->isTemplate, "Save it as a template");
    addCommand->callback([o, &context] { add(context, *o); });

    auto out = std::make_shared<TransferOptions>();
    CLI::App* exportCommand = group->add_subcommand("export", "Write connections for another machine, without secrets");
    exportCommand->add_option("names", out->names, "Which of them; all when none is named");
    exportCommand->add_option("--to", out->file, "File to write; standard output when none is named");
    exportCommand->callback([out, &context] { exportTo(context, *out); });

    auto in = std::make_shared<TransferOptions>();
    auto unseen = std::make_shared<std::string>();
    CLI::App* confirmCommand =
        group->add_subcommand("confirm", "Show what an imported connection would do, and let it be used");
    confirmCommand->add_option("name", *unseen, "Its name")->required();
    confirmCommand->callback([unseen, &context] { confirmConnection(context, *unseen); });
    CLI::App* importCommand = group->add_subcommand("import", "Import connections that export wrote");
    importCommand->add_option("file", in->file, "The file")->required();
    importCommand->add_option("--only", in->names, "Only this one; may be given several times");
    importCommand->add_option("--clash", in->clash, "Names that are taken: rename, replace or skip")
        ->check(CLI::IsMember({"rename", "replace", "skip"}));
    importCommand->callback([in, &context] { importFrom(context, *in); });

    auto removed = std::make_shared<std::string>();
    CLI::App* removeCommand = group->add_subcommand("remove", "Forget a saved connection; the database stays");
    removeCommand->add_option("connection", *removed, "Its name")->required();
    removeCommand->callback([removed, &context] { remove(context, *removed); });
}

}  // namespace pantry::cli
