#include "core/catalog/named_object.h"

#include <algorithm>
#include <string>
#include <utility>
#include <vector>

#include "core/base/text.h"

namespace pantry::catalog {
namespace {

/// "a.b".c as a.b and c; a."x""y" as a and x"y. One part: no schema.
std::vector<std::string> partsOf(std::string_view text) {
    std::vector<std::string> parts(1);
    bool isQuoted = false;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (c == '"' && isQuoted && i + 1 < text.size() && text[i + 1] == '"') {
            parts.back() += c;
            ++i;
        } else if (c == '"' && (isQuoted || parts.back().empty())) {
            isQuoted = !isQuoted;
        } else if (c == '.' && !isQuoted) {
            parts.emplace_back();
        } else {
            parts.back() += c;
        }
    }
    return parts;
}

ObjectName nameOf(const Relation& relation) {
    return {.kind = relation.kind, .schema = relation.schema, .name = relation.name};
}

/// Objects of a name, in all schemas or one, that is written out with its parameters or not.
std::vector<ObjectName> objectsNamed(const Catalog& catalog, std::string_view schema, std::string_view name) {
    std::vector<ObjectName> found;
    for (const SchemaPtr& one : catalog.schemas()) {
        if (!schema.empty() && one->name != schema) continue;
        for (const Object& o : one->objects) {
            const bool isIt = o.name == name || o.name + "(" + o.signature + ")" == name;
            if (isIt) found.push_back({.kind = o.kind, .schema = o.schema, .name = o.name, .signature = o.signature});
        }
    }
    return found;
}

std::string described(const ObjectName& object) {
    return object.schema + "." + object.name + "(" + object.signature + ")";
}

}  // namespace

Result<ObjectName> objectNamed(const Catalog& catalog, std::string_view wanted) {
    if (const Relation* relation = catalog.find({}, wanted)) return nameOf(*relation);
    std::vector<ObjectName> found = objectsNamed(catalog, {}, wanted);
    const std::vector<std::string> parts = partsOf(wanted);
    if (found.empty() && parts.size() == 1 && parts[0] != wanted) {
        if (const Relation* relation = catalog.find({}, parts[0])) return nameOf(*relation);
        found = objectsNamed(catalog, {}, parts[0]);
    }
    // The first dot that makes a schema of what stands before it.
    for (std::size_t i = 1; i < parts.size() && found.empty(); ++i) {
        std::string schema = parts[0];
        for (std::size_t k = 1; k < i; ++k) schema += "." + parts[k];
        std::string name = parts[i];
        for (std::size_t k = i + 1; k < parts.size(); ++k) name += "." + parts[k];
        if (const Relation* relation = catalog.find(schema, name)) return nameOf(*relation);
        found = objectsNamed(catalog, schema, name);
    }
    if (found.size() == 1) return found.front();
    if (found.empty()) {
        return Error{.kind = ErrorKind::NotFound,
                     .message = "There is no " + std::string(wanted) + " in this catalog.",
                     .hint = "“pantry catalog” lists what there is."};
    }
    std::string all;
    for (const ObjectName& one : found) all += (all.empty() ? "" : "; ") + described(one);
    return Error{.kind = ErrorKind::InvalidInput,
                 .message = "There are several named " + std::string(wanted) + ".",
                 .hint = "Say which one: " + all};
}

}  // namespace pantry::catalog
