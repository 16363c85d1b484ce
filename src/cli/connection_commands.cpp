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

std::string columnJson(const db::CatalogColumn& c) {
    std::string out = fmt::format(R"({{"name":{},"type":{},"nullable":{},"key":{}}})", exchange::jsonString(c.name),
                                  exchange::jsonString(c.typeName), c.isNullable, c.keyPosition);
    return out;
}

std::string joined(const std::vector<std::string>& parts) {
    std::string out = "[";
    for (const std::string& part : parts) out += (out.size() > 1 ? "," : "") + part;
    return out + "]";
}

std::vector<std::string> allQuoted(const std::vector<std::string>& names) {
    std::vector<std::string> out;
    for (const std::string& name : names) out.push_back(exchange::jsonString(name));
    return out;
}

std::string relationJson(const db::CatalogRelation& r) {
    std::vector<std::string> columns;
    std::vector<std::string> keys;
    std::vector<std::string> indexes;
    std::vector<std::string> triggers;
    for (const auto& c : r.columns) columns.push_back(columnJson(c));
    for (const auto& k : r.foreignKeys) {
        keys.push_back(fmt::format(R"({{"columns":{},"schema":{},"table":{},"references":{}}})",
                                   joined(allQuoted(k.columns)), exchange::jsonString(k.schema),
                                   exchange::jsonString(k.relation), joined(allQuoted(k.referencedColumns))));
    }
    for (const auto& i : r.indexes) {
        indexes.push_back(fmt::format(R"({{"name":{},"columns":{},"unique":{}}})", exchange::jsonString(i.name),
                                      joined(allQuoted(i.columns)), i.isUnique));
    }
    for (const auto& t : r.triggers) triggers.push_back(exchange::jsonString(t.name));
    return fmt::format(
        R"({{"schema":{},"name":{},"kind":"{}","rows":{},"columns":{},"foreignKeys":{},"indexes":{},"triggers":{},"definition":{}}})",
        exchange::jsonString(r.schema), exchange::jsonString(r.name), db::relationKindName(r.kind),
        r.rowEstimate ? std::to_string(*r.rowEstimate) : "null", joined(columns), joined(keys), joined(indexes),
        joined(triggers), exchange::jsonString(r.definition));
}

void printRelation(const db::CatalogRelation& r) {
    fmt::print("{} ({}{})\n", r.name, db::relationKindName(r.kind),
               r.rowEstimate ? ", about " + base::counted(*r.rowEstimate, "row", "rows") : "");
    for (const db::CatalogColumn& c : r.columns) {
        const db::CatalogForeignKey* key = r.foreignKeyOf(c.name);
        fmt::print("    {:<24} {:<16}{}{}{}\n", c.name, base::toLower(c.typeName), c.keyPosition > 0 ? " key" : "",
                   c.isNullable && c.keyPosition == 0 ? " null" : "", key != nullptr ? " → " + key->relation : "");
    }
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

void addCatalog(CLI::App& app, Context& context) {
    struct Options {
        std::string connection;
        bool asJson = false;
    };
    auto o = std::make_shared<Options>();
    CLI::App* command = app.add_subcommand("catalog", "Show the tables and views of a database");
    command->add_option("-c,--connection", o->connection, "Saved connection or address")->required();
    command->add_flag("--json", o->asJson, "Write JSON, with keys, indexes, triggers and definitions");
    command->callback([o, &context] {
        auto connection = findConnection(context, o->connection);
        if (!connection) return fail(context, connection.error());
        auto catalog = loadCatalogOf(*connection);
        if (!catalog) return fail(context, catalog.error());
        std::string separator = "[";
        for (const db::CatalogRelation& relation : (*catalog)->relations()) {
            if (o->asJson) {
                fmt::print("{}{}", separator, relationJson(relation));
                separator = ",\n ";
            } else {
                printRelation(relation);
            }
        }
        if (o->asJson) fmt::print("{}]\n", (*catalog)->relations().empty() ? "[" : "");
    });
}

}  // namespace pantry::cli
