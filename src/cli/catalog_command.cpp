#include <fmt/format.h>

#include <future>

#include "cli/command.h"
#include "cli/json_output.h"
#include "core/base/joined.h"
#include "core/base/text.h"
#include "core/catalog/named_object.h"
#include "core/db/session.h"
#include "core/exchange/json_text.h"

namespace pantry::cli {
namespace {

using exchange::jsonString;

struct Options {
    std::string connection;
    std::vector<std::string> schemas;
    std::string definition;
    bool asJson = false;
    bool withDefinitions = false;
    bool withForbidden = false;
};

std::string namesJson(const std::vector<std::string>& names) { return jsonArray(names, jsonString); }

std::string_view identityJson(catalog::Identity identity) {
    switch (identity) {
        case catalog::Identity::None: break;
        case catalog::Identity::ByDefault: return "\"by default\"";
        case catalog::Identity::Always: return "\"always\"";
    }
    return "null";
}

std::string columnJson(const catalog::Column& c) {
    return JsonObject()
        .text("name", c.name)
        .text("type", c.typeName)
        .flag("nullable", c.isNullable)
        .number("key", c.keyPosition)
        .textOrNull("default", c.defaultValue)
        .json("identity", identityJson(c.identity))
        .flag("generated", c.isGenerated)
        .text("generation", c.generation)
        .text("comment", c.comment)
        .str();
}

std::string keyJson(const catalog::ForeignKey& k) {
    return JsonObject()
        .text("name", k.name)
        .json("columns", namesJson(k.columns))
        .text("schema", k.schema)
        .text("table", k.relation)
        .json("references", namesJson(k.referencedColumns))
        .text("onDelete", k.onDelete)
        .text("onUpdate", k.onUpdate)
        .str();
}

std::string indexJson(const catalog::Index& i) {
    return JsonObject()
        .text("name", i.name)
        .json("columns", namesJson(i.columns))
        .flag("unique", i.isUnique)
        .flag("partial", i.isPartial)
        .flag("primary", i.isPrimaryKey)
        .str();
}

/// Constraints and triggers.
template <class Part>
std::string definedJson(const Part& part) {
    return JsonObject().text("name", part.name).text("definition", part.definition).str();
}

JsonObject relationJson(const catalog::Relation& r) {
    JsonObject out;
    out.text("schema", r.schema)
        .text("name", r.name)
        .text("kind", catalog::kindName(r.kind))
        .numberOrNull("rows", r.rowEstimate)
        .numberOrNull("bytes", r.sizeEstimate)
        .text("comment", r.comment)
        .json("columns", jsonArray(r.columns, columnJson))
        .json("foreignKeys", jsonArray(r.foreignKeys, keyJson))
        .json("indexes", jsonArray(r.indexes, indexJson))
        .json("constraints", jsonArray(r.constraints, [](const auto& c) { return definedJson(c); }))
        .json("triggers", jsonArray(r.triggers, [](const auto& t) { return definedJson(t); }));
    return out;
}

JsonObject objectJson(const catalog::Object& o) {
    JsonObject out;
    out.text("schema", o.schema)
        .text("name", o.name)
        .text("kind", catalog::kindName(o.kind))
        .text("signature", o.signature)
        .text("detail", o.detail)
        .text("comment", o.comment);
    return out;
}

/// Prints a catalog, as a list of JSON objects or for reading.
class Printer {
public:
    Printer(db::Session& session, const Options& options) : session_(session), options_(options) {}

    Status print(const catalog::Catalog& catalog) {
        for (const catalog::SchemaPtr& schema : catalog.schemas()) {
            if (!schema->problem.empty() && !schema->isOwn) {
                tell(fmt::format("pantry: schema {}: {}\n", schema->name, schema->problem));
            }
            if (schema->forbidden > 0) {
                fmt::print(stderr,
                           "pantry: schema {}: {} left out, since you have no right to read them; --all shows "
                           "them\n",
                           schema->name,
                           base::counted(static_cast<std::int64_t>(schema->forbidden), "table", "tables"));
            }
            for (const catalog::Relation& relation : schema->relations) {
                if (Status status = printRelation(relation); !status) return status;
            }
            for (const catalog::Object& object : schema->objects) {
                if (Status status = printObject(object); !status) return status;
            }
        }
        if (options_.asJson) fmt::print("{}]\n", isFirst_ ? "[" : "");
        return {};
    }

    Result<std::string> definition(const catalog::ObjectName& name) {
        std::promise<Result<catalog::Definition>> promise;
        session_.readDefinition(name, [&](Result<catalog::Definition> read) { promise.set_value(std::move(read)); });
        auto read = promise.get_future().get();
        if (!read) return read.error();
        return read->whole();
    }

private:
    /// With its definition, when that is asked for.
    Status printJson(JsonObject object, const catalog::ObjectName& name) {
        if (options_.withDefinitions) {
            const auto text = definition(name);
            if (!text) return text.error();
            object.text("definition", *text);
        }
        fmt::print("{}{}", isFirst_ ? "[" : ",\n ", object.str());
        isFirst_ = false;
        return {};
    }

    Status printRelation(const catalog::Relation& r) {
        if (!options_.asJson) {
            printPlain(r);
            return {};
        }
        return printJson(relationJson(r), {.kind = r.kind, .schema = r.schema, .name = r.name});
    }

    Status printObject(const catalog::Object& o) {
        if (!options_.asJson) {
            fmt::print("{}{} ({}{}{})\n", o.name, o.signature.empty() ? "" : "(" + o.signature + ")",
                       catalog::kindName(o.kind), o.detail.empty() ? "" : ": ", o.detail);
            return {};
        }
        return printJson(objectJson(o), {.kind = o.kind, .schema = o.schema, .name = o.name, .signature = o.signature});
    }

    static void printPlain(const catalog::Relation& r) {
        fmt::print("{} ({}{})\n", r.name, catalog::kindName(r.kind),
                   r.rowEstimate ? ", about " + base::counted(*r.rowEstimate, "row", "rows") : "");
        for (const catalog::Column& c : r.columns) {
            const catalog::ForeignKey* key = r.foreignKeyOf(c.name);
            fmt::print("    {:<24} {:<16}{}{}{}\n", c.name, base::toLower(c.typeName), c.keyPosition > 0 ? " key" : "",
                       c.isNullable && c.keyPosition == 0 ? " null" : "", key != nullptr ? " → " + key->relation : "");
        }
    }

    db::Session& session_;
    const Options& options_;
    bool isFirst_ = true;
};

void show(Context& context, const Options& o) {
    auto connection = findConnection(context, o.connection);
    if (!connection) return fail(context, connection.error());
    db::Session session(connection->profile, store::passwordProvider(connection->password));
    auto catalog = loadCatalogOf(session, {.schemas = o.schemas, .withForbidden = o.withForbidden});
    if (!catalog) return fail(context, catalog.error());
    for (const std::string& schema : o.schemas) {
        if ((*catalog)->schema(schema) != nullptr) continue;
        return fail(context, {.kind = ErrorKind::NotFound, .message = fmt::format("There is no schema {}.", schema)});
    }
    Printer printer(session, o);
    if (!o.definition.empty()) {
        auto object = catalog::objectNamed(**catalog, o.definition);
        if (!object) return fail(context, object.error());
        auto text = printer.definition(*object);
        if (!text) return fail(context, text.error());
        fmt::print("{}", *text);
        return;
    }
    if (Status status = printer.print(**catalog); !status) fail(context, status.error());
}

}  // namespace

void addCatalog(CLI::App& app, Context& context) {
    auto o = std::make_shared<Options>();
    CLI::App* command = app.add_subcommand("catalog", "Show what is in a database");
    command->add_option("-c,--connection", o->connection, "Saved connection or address")->required();
    command->add_option("--schema", o->schemas, "Only this schema; may be given several times");
    command->add_flag("--all", o->withForbidden, "Also what you have no right to read");
    command->add_option("--definition", o->definition, "Write the statements that make this object");
    CLI::Option* json = command->add_flag("--json", o->asJson, "Write JSON; the guide describes it");
    command->add_flag("--definitions", o->withDefinitions, "With the statements that make each object")->needs(json);
    command->callback([o, &context] { show(context, *o); });
}

}  // namespace pantry::cli
