#include "core/catalog/catalog.h"

#include <algorithm>
#include <array>
#include <iterator>
#include <set>
#include <utility>

#include "core/base/text.h"

namespace pantry::catalog {
namespace {

/// With more schemas than these, only those of the search path are read unasked.
constexpr std::size_t kFewSchemas = 24;

struct KindWords {
    std::string_view name;
    std::string_view heading;
};
constexpr std::array<KindWords, 12> kKinds{{{"table", "Tables"},
                                            {"view", "Views"},
                                            {"materialised view", "Materialised views"},
                                            {"foreign table", "Foreign tables"},
                                            {"virtual table", "Virtual tables"},
                                            {"sequence", "Sequences"},
                                            {"function", "Functions"},
                                            {"procedure", "Procedures"},
                                            {"aggregate", "Aggregates"},
                                            {"type", "Types"},
                                            {"event", "Events"},
                                            {"extension", "Extensions"}}};

std::string keyOf(std::string_view schema, std::string_view name) {
    std::string key(schema);
    key += '\0';
    return key.append(name);
}

std::string foldedKeyOf(std::string_view schema, std::string_view name) { return base::toLower(keyOf(schema, name)); }

std::uint64_t bytesOf(const std::string& text) {
    constexpr std::size_t kInPlace = 15;
    return text.size() > kInPlace ? text.capacity() + 1 : 0;
}

std::uint64_t bytesOf(const Relation& r) {
    std::uint64_t sum = bytesOf(r.schema) + bytesOf(r.name) + bytesOf(r.comment) +
                        r.columns.capacity() * sizeof(Column) + r.foreignKeys.capacity() * sizeof(ForeignKey) +
                        r.indexes.capacity() * sizeof(Index) + r.constraints.capacity() * sizeof(Constraint);
    for (const Column& c : r.columns) {
        sum += bytesOf(c.name) + bytesOf(c.typeName) + bytesOf(c.defaultValue.value_or("")) + bytesOf(c.comment) +
               bytesOf(c.generation) + bytesOf(c.collation);
    }
    for (const ForeignKey& k : r.foreignKeys) sum += 2 * k.columns.capacity() * sizeof(std::string);
    for (const Index& i : r.indexes) sum += bytesOf(i.name) + i.columns.capacity() * sizeof(std::string);
    return sum;
}

/// Names without regard to the case of letters.
std::set<std::string> loweredNames(const std::vector<std::string>& names) {
    std::set<std::string> lowered;
    for (const std::string& name : names) lowered.insert(base::toLower(name));
    return lowered;
}

/// A schema as it was known, with the relations of some names, and all sequences, as they are now.
Schema renewed(const Schema& before, Schema read, const std::vector<std::string>& names) {
    Schema now = before;
    if (!read.problem.empty()) now.problem = read.problem;
    const auto order = [](const Relation& relation) { return base::toLower(relation.name); };
    std::set<std::string> gone = loweredNames(names);
    for (const Relation& relation : read.relations) gone.insert(order(relation));  // heirs have names of their own
    std::erase_if(now.relations, [&](const Relation& relation) { return gone.contains(order(relation)); });
    for (Relation& relation : read.relations) {
        const auto place = std::ranges::upper_bound(now.relations, order(relation), {}, order);
        now.relations.insert(place, std::move(relation));
    }
    std::erase_if(now.objects, [](const Object& object) { return object.kind == ObjectKind::Sequence; });
    std::ranges::move(read.objects, std::back_inserter(now.objects));
    return now;
}

}  // namespace

std::string_view kindName(ObjectKind kind) { return kKinds[static_cast<std::size_t>(kind)].name; }
std::string_view kindHeading(ObjectKind kind) { return kKinds[static_cast<std::size_t>(kind)].heading; }

std::optional<ObjectKind> kindFromName(std::string_view name) {
    const auto found = std::ranges::find(kKinds, name, &KindWords::name);
    if (found == kKinds.end()) return std::nullopt;
    return static_cast<ObjectKind>(found - kKinds.begin());
}

bool isViewKind(ObjectKind kind) { return kind == ObjectKind::View || kind == ObjectKind::MaterializedView; }

const Column* Relation::column(std::string_view columnName) const {
    const auto found =
        std::ranges::find_if(columns, [&](const Column& c) { return base::equalsIgnoringCase(c.name, columnName); });
    return found == columns.end() ? nullptr : &*found;
}

std::string originOf(const Column& column) {
    if (column.identity != Identity::None) {
        return column.identity == Identity::Always ? "identity, always" : "identity";
    }
    if (column.isGenerated) return column.generation.empty() ? "generated" : "generated as " + column.generation;
    return column.defaultValue.value_or("");
}

const ForeignKey* Relation::foreignKeyOf(std::string_view columnName) const {
    for (const ForeignKey& key : foreignKeys) {
        for (const std::string& c : key.columns) {
            if (base::equalsIgnoringCase(c, columnName)) return &key;
        }
    }
    return nullptr;
}

Catalog::Catalog(Facts facts, std::vector<SchemaPtr> schemas) : facts_(std::move(facts)), schemas_(std::move(schemas)) {
    for (const SchemaPtr& schema : schemas_) {
        if (!schema->relations.empty()) relationSchemas_.push_back(schema->name);
        for (const Relation& relation : schema->relations) {
            for (std::size_t i = 0; i < relation.columns.size(); ++i)
                columnNames_.add(relation.columns[i].name, relations_.size(), i);
            relations_.push_back(&relation);
            exact_.emplace(keyOf(relation.schema, relation.name), &relation);
            folded_.emplace(foldedKeyOf(relation.schema, relation.name), &relation);
        }
    }
    for (const Relation* relation : relations_) {
        for (const ForeignKey& key : relation->foreignKeys) {
            const Relation* target = find(key.schema.empty() ? relation->schema : key.schema, key.relation);
            if (target != nullptr) references_[target].push_back({relation, &key});
        }
    }
}

const Schema* Catalog::schema(std::string_view name) const {
    const auto found = std::ranges::find_if(schemas_, [&](const SchemaPtr& s) { return s->name == name; });
    return found == schemas_.end() ? nullptr : found->get();
}

const Relation* Catalog::find(std::string_view schema, std::string_view name,
                              const std::vector<std::string>& searchPath) const {
    if (schema.empty()) {
        for (const std::string& candidate : searchPath) {
            if (const Relation* relation = find(candidate, name, searchPath)) return relation;
        }
        return nullptr;
    }
    if (const auto found = exact_.find(keyOf(schema, name)); found != exact_.end()) return found->second;
    const auto found = folded_.find(foldedKeyOf(schema, name));
    return found == folded_.end() ? nullptr : found->second;
}

const Object* Catalog::findObject(std::string_view schema, std::string_view name, std::string_view signature) const {
    const Schema* holder = this->schema(schema);
    if (holder == nullptr) return nullptr;
    const auto found = std::ranges::find_if(
        holder->objects, [&](const Object& o) { return o.name == name && o.signature == signature; });
    return found == holder->objects.end() ? nullptr : &*found;
}

const std::vector<Catalog::Reference>& Catalog::referencesTo(const Relation& relation) const {
    static const std::vector<Reference> kNone;
    const auto found = references_.find(&relation);
    return found == references_.end() ? kNone : found->second;
}

std::uint64_t Catalog::memoryBytes() const {
    std::uint64_t sum = columnNames_.memoryBytes();
    for (const SchemaPtr& schema : schemas_) {
        sum += schema->relations.capacity() * sizeof(Relation) + schema->objects.capacity() * sizeof(Object);
        for (const Relation& relation : schema->relations) sum += bytesOf(relation);
    }
    return sum;
}

std::vector<std::string> schemasToRead(const Request& request, const std::vector<Schema>& named,
                                       const std::vector<std::string>& searchPath) {
    if (!request.schemas.empty()) return request.schemas;
    std::vector<std::string> wanted;
    const auto users = std::ranges::count(named, false, &Schema::isOwn);
    for (const Schema& schema : named) {
        const Schema* before = request.known ? request.known->schema(schema.name) : nullptr;
        const bool isNear = static_cast<std::size_t>(users) <= kFewSchemas ||
                            std::ranges::find(searchPath, schema.name) != searchPath.end();
        if ((before != nullptr && before->isLoaded) || (!schema.isOwn && isNear)) wanted.push_back(schema.name);
    }
    return wanted;
}

std::vector<std::string> namesToRead(const Request& request, Views views) {
    if (request.names.empty() || request.schemas.empty() || !request.known) return {};
    std::set<std::string> names(request.names.begin(), request.names.end());
    const std::set<std::string> named = loweredNames(request.names);
    const auto isNamed = [&](const std::string& name) { return named.contains(base::toLower(name)); };
    const auto hangs = [&](const auto& parts) {
        return std::ranges::any_of(parts, [&](const auto& part) { return isNamed(part.name); });
    };
    const auto follows = [&](const Relation& relation) {
        const bool pointsAtIt =
            std::ranges::any_of(relation.foreignKeys, [&](const auto& key) { return isNamed(key.relation); });
        const bool isView = views == Views::Follow && relation.kind == ObjectKind::View;
        // As it is written: there may be others that differ in the case of letters.
        return isNamed(relation.name) || pointsAtIt || isView || isNamed(relation.partOf) || hangs(relation.indexes) ||
               hangs(relation.triggers);
    };
    for (const std::string& name : request.schemas) {
        const Schema* schema = request.known->schema(name);
        if (schema == nullptr || !schema->isLoaded) return {};
        for (const Relation& relation : schema->relations) {
            if (follows(relation)) names.insert(relation.name);
        }
    }
    return {names.begin(), names.end()};
}

CatalogPtr mergeCatalog(Facts facts, std::vector<Schema> read, const CatalogPtr& known,
                        const std::vector<std::string>& names) {
    std::vector<SchemaPtr> schemas;
    for (Schema& schema : read) {
        const auto isIt = [&](const SchemaPtr& s) { return s->name == schema.name; };
        if (!schema.isLoaded && known) {
            const auto before = std::ranges::find_if(known->schemas(), isIt);
            if (before != known->schemas().end() && (*before)->isLoaded) {
                schemas.push_back(*before);
                continue;
            }
        }
        const Schema* before = names.empty() ? nullptr : known->schema(schema.name);
        if (before != nullptr) schema = renewed(*before, std::move(schema), names);
        schemas.push_back(std::make_shared<const Schema>(std::move(schema)));
    }
    return std::make_shared<const Catalog>(std::move(facts), std::move(schemas));
}

}  // namespace pantry::catalog
