#include <fmt/format.h>

#include <future>

#include "cli/command.h"
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

std::string listOf(const std::vector<std::string>& parts) { return fmt::format("[{}]", base::joined(parts, ",")); }

std::string namesJson(const std::vector<std::string>& names) {
    std::vector<std::string> out;
    for (const std::string& name : names) out.push_back(jsonString(name));
    return listOf(out);
}

template <class Number>
std::string numberJson(const std::optional<Number>& number) {
    return number ? std::to_string(*number) : "null";
}

std::string textJson(const std::optional<std::string>& text) { return text ? jsonString(*text) : "null"; }

template <class Parts, class Format>
std::string eachJson(const Parts& parts, Format format) {
    std::vector<std::string> out;
    for (const auto& part : parts) out.push_back(format(part));
    return listOf(out);
}

std::string identityJson(catalog::Identity identity) {
    switch (identity) {
        case catalog::Identity::None: break;
        case catalog::Identity::ByDefault: return "\"by default\"";
        case catalog::Identity::Always: return "\"always\"";
    }
    return "null";
}

std::string columnJson(const catalog::Column& c) {
    return fmt::format(
        R"({{"name":{},"type":{},"nullable":{},"key":{},"default":{},"identity":{},"generated":{},"generation":{},)"
        R"("comment":{}}})",
        jsonString(c.name), jsonString(c.typeName), c.isNullable, c.keyPosition, textJson(c.defaultValue),
        identityJson(c.identity), c.isGenerated, jsonString(c.generation), jsonString(c.comment));
}

std::string keyJson(const catalog::ForeignKey& k) {
    return fmt::format(
        R"({{"name":{},"columns":{},"schema":{},"table":{},"references":{},"onDelete":{},"onUpdate":{}}})",
        jsonString(k.name), namesJson(k.columns), jsonString(k.schema), jsonString(k.relation),
        namesJson(k.referencedColumns), jsonString(k.onDelete), jsonString(k.onUpdate));
}

std::string indexJson(const catalog::Index& i) {
    return fmt::format(R"({{"name":{},"columns":{},"unique":{},"partial":{},"primary":{}}})", jsonString(i.name),
                       namesJson(i.columns), i.isUnique, i.isPartial, i.isPrimaryKey);
}

std::string namedJson(const std::string& name, const std::string& definition) {
    return fmt::format(R"({{"name":{},"definition":{}}})", jsonString(name), jsonString(definition));
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
    /// `,"definition":…`, when it is asked for.
    Result<std::string> definitionJson(const catalog::ObjectName& name) {
        if (!options_.withDefinitions) return std::string();
        auto text = definition(name);
        if (!text) return text.error();
        return ",\"definition\":" + jsonString(*text);
    }

    void printJson(const std::string& object) {
        fmt::print("{}{}", isFirst_ ? "[" : ",\n ", object);
        isFirst_ = false;
    }

    Status printRelation(const catalog::Relation& r) {
        if (!options_.asJson) {
            printPlain(r);
            return {};
        }
        auto definition = definitionJson({.kind = r.kind, .schema = r.schema, .name = r.name});
        if (!definition) return definition.error();
        printJson(fmt::format(
            R"({{"schema":{},"name":{},"kind":"{}","rows":{},"bytes":{},"comment":{},"columns":{},"foreignKeys":{},)"
            R"("indexes":{},"constraints":{},"triggers":{}{}}})",
            jsonString(r.schema), jsonString(r.name), catalog::kindName(r.kind), numberJson(r.rowEstimate),
            numberJson(r.sizeEstimate), jsonString(r.comment), eachJson(r.columns, columnJson),
            eachJson(r.foreignKeys, keyJson), eachJson(r.indexes, indexJson),
            eachJson(r.constraints, [](const auto& c) { return namedJson(c.name, c.definition); }),
            eachJson(r.triggers, [](const auto& t) { return namedJson(t.name, t.definition); }), *definition));
        return {};
    }

    Status printObject(const catalog::Object& o) {
        if (!options_.asJson) {
            fmt::print("{}{} ({}{}{})\n", o.name, o.signature.empty() ? "" : "(" + o.signature + ")",
                       catalog::kindName(o.kind), o.detail.empty() ? "" : ": ", o.detail);
            return {};
        }
        auto definition =
            definitionJson({.kind = o.kind, .schema = o.schema, .name = o.name, .signature = o.signature});
        if (!definition) return definition.error();
        printJson(fmt::format(R"({{"schema":{},"name":{},"kind":"{}","signature":{},"detail":{},"comment":{}{}}})",
                              jsonString(o.schema), jsonString(o.name), catalog::kindName(o.kind),
                              jsonString(o.signature), jsonString(o.detail), jsonString(o.comment), *definition));
        return {};
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
