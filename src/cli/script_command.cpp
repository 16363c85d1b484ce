#include <fmt/format.h>

#include <future>
#include <memory>

#include "cli/command.h"
#include "core/catalog/named_object.h"
#include "core/db/engine_traits.h"
#include "core/work/scripts.h"

namespace pantry::cli {
namespace {

struct ScriptOptions {
    std::string connection;
    std::string kind;
    std::vector<std::string> objects;
    std::vector<std::string> schemas;
    bool isOfAll = false;
    std::string dialect;
    std::string file;
};

/// The objects that are named, or all of the schemas that were read.
Result<std::vector<catalog::ObjectName>> objectsOf(const ScriptOptions& o, sql::ScriptKind kind,
                                                   const catalog::Catalog& catalog, sql::Dialect dialect) {
    std::vector<catalog::ObjectName> objects;
    for (const std::string& wanted : o.objects) {
        auto object = catalog::objectNamed(catalog, wanted);
        if (!object) return object.error();
        objects.push_back(std::move(*object));
    }
    if (!o.isOfAll) return objects;
    const auto add = [&](const catalog::ObjectName& name) {
        if (sql::hasScript(kind, name.kind, dialect)) objects.push_back(name);
    };
    for (const catalog::SchemaPtr& schema : catalog.schemas()) {
        if (schema->isOwn || !schema->isLoaded) continue;
        for (const catalog::Relation& r : schema->relations) add({.kind = r.kind, .schema = r.schema, .name = r.name});
        for (const catalog::Object& one : schema->objects) {
            add({.kind = one.kind, .schema = one.schema, .name = one.name, .signature = one.signature});
        }
    }
    return objects;
}

Result<std::vector<catalog::ObjectParts>> readParts(db::Session& session, std::vector<catalog::ObjectName> objects,
                                                    bool withDefinitions) {
    std::promise<Result<std::vector<catalog::ObjectParts>>> promise;
    session.readParts(std::move(objects), withDefinitions,
                      [&](Result<std::vector<catalog::ObjectParts>> parts) { promise.set_value(std::move(parts)); });
    return promise.get_future().get();
}

Result<std::string> scriptFor(const Context& context, const ScriptOptions& o) {
    const sql::ScriptEntry* entry = sql::scriptEntry(o.kind);
    auto connection = findConnection(context, o.connection);
    if (!connection) return connection.error();
    db::Session session(connection->profile, store::passwordProvider(connection->password));
    auto catalog = loadCatalogOf(session, {.schemas = o.schemas});
    if (!catalog) return catalog.error();
    const sql::Dialect from = db::dialectOf(connection->profile.engine);
    const sql::Dialect to = o.dialect.empty() ? from : sql::dialectFromName(o.dialect).value_or(from);
    auto objects = objectsOf(o, entry->kind, **catalog, to);
    if (!objects) return objects.error();
    auto parts = readParts(session, std::move(*objects), entry->needsDefinition);
    if (!parts) return parts.error();
    return work::scriptOf(entry->kind, **catalog, std::move(*parts), from, to);
}

void write(Context& context, const ScriptOptions& o) {
    if (o.objects.empty() && !o.isOfAll) {
        return fail(context, {.kind = ErrorKind::InvalidInput,
                              .message = "No object is named.",
                              .hint = "Name some, or take everything with --all."});
    }
    auto script = scriptFor(context, o);
    if (!script) return fail(context, script.error());
    if (Status status = writeOutput(o.file, *script); !status) fail(context, status.error());
}

}  // namespace

void addScript(CLI::App& app, Context& context) {
    auto o = std::make_shared<ScriptOptions>();
    CLI::App* command = app.add_subcommand("script", "Write a script for tables, views and other objects");
    std::vector<std::string> kinds;
    std::string help = "What to write:";
    for (const sql::ScriptEntry& entry : sql::scriptEntries()) {
        kinds.emplace_back(entry.id);
        help += fmt::format("\n{:<18} {}", entry.id, entry.help);
    }
    command->add_option("kind", o->kind, help)->required()->check(CLI::IsMember(kinds));
    command->add_option("objects", o->objects,
                        "Names, with their schema where it is needed; a routine also with its "
                        "parameters in brackets");
    command->add_option("-c,--connection", o->connection, "Saved connection or address")->required();
    command->add_option("--schema", o->schemas, "Only this schema; may be given several times");
    command->add_flag("--all", o->isOfAll, "Everything in the schemas that has such a script");
    command
        ->add_option("--for", o->dialect, "Dialect to write for: postgres, mysql, sqlite, ansi; else the connection's")
        ->check(CLI::IsMember({"postgres", "mysql", "sqlite", "ansi"}));
    command->add_option("--to", o->file, "Write to FILE instead of standard output");
    command->callback([o, &context] { write(context, *o); });
}

}  // namespace pantry::cli
