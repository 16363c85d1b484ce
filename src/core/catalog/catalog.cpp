#include "core/catalog/catalog.h"

#include <algorithm>
#include <array>
#include <iterator>
#include <set>
#include <utility>

#include "core/base/text.h"

namespace pantry::db {
namespace {

/// With more schemas than these, only those of the search path are read unasked.
constexpr std::size_t kFewSchemas = 24;

struct KindWords {
    std::string_view name;
    std::string_view heading;
};
constexpr std::array<KindWords, 11> kKinds{{{"table", "Tables"},
                                            {"view", "Views"},
                                            {"materialised view", "Materialised views"},
                                            {"foreign table", "Foreign tables"},
                                            {"virtual table", "Virtual tables"},
                                            {"sequence", "Sequences"},
                                            {"function", "Functions"},
                                            {"procedure", "Procedures"},
                                            {"aggregate", "Aggregates"},
                                            {"type", "Types"},
                                            {"event", "Events"}}};

std::string keyOf(std::string_view schema, std::string_view name) {
    std::string key(schema);
    key += '\0';
    return key.append(name);
}

sql::RelationFact factOf(const CatalogRelation& relation) {
    sql::RelationFact fact{.schema = relation.schema,
                           .name = relation.name,
                           .isView = isViewKind(relation.kind),
                           .rowEstimate = relation.rowEstimate};
    fact.columns.reserve(relation.columns.size());
    for (const CatalogColumn& c : relation.columns) {
        fact.columns.push_back({c.name, c.typeName, c.keyPosition > 0, c.isNullable});
    }
    for (const CatalogForeignKey& k : relation.foreignKeys) {
        fact.foreignKeys.push_back({k.columns, k.schema, k.relation, k.referencedColumns});
    }
    return fact;
}

std::uint64_t bytesOf(const std::string& text) {
    constexpr std::size_t kInPlace = 15;
    return text.size() > kInPlace ? text.capacity() + 1 : 0;
}

std::uint64_t bytesOf(const CatalogRelation& r) {
    std::uint64_t sum =
        bytesOf(r.schema) + bytesOf(r.name) + bytesOf(r.comment) + r.columns.capacity() * sizeof(CatalogColumn) +
        r.foreignKeys.capacity() * sizeof(CatalogForeignKey) + r.indexes.capacity() * sizeof(CatalogIndex) +
        r.constraints.capacity() * sizeof(CatalogConstraint);
    for (const CatalogColumn& c : r.columns) {
        sum += bytesOf(c.name) + bytesOf(c.typeName) + bytesOf(c.defaultValue.value_or("")) + bytesOf(c.comment);
    }
    for (const CatalogForeignKey& k : r.foreignKeys) sum += 2 * k.columns.capacity() * sizeof(std::string);
    for (const CatalogIndex& i : r.indexes) sum += bytesOf(i.name) + i.columns.capacity() * sizeof(std::string);
    return sum;
}

/// Names without regard to the case of letters.
std::set<std::string> loweredNames(const std::vector<std::string>& names) {
    std::set<std::string> lowered;
    for (const std::string& name : names) lowered.insert(base::toLower(name));
    return lowered;
}

/// A schema as it was known, with the relations of some names, and all sequences, as they are now.
CatalogSchema renewed(const CatalogSchema& before, CatalogSchema read, const std::vector<std::string>& names) {
    CatalogSchema now = before;
    if (!read.problem.empty()) now.problem = read.problem;
    const auto order = [](const CatalogRelation& relation) { return base::toLower(relation.name); };
    std::set<std::string> gone = loweredNames(names);
    for (const CatalogRelation& relation : read.relations)
        gone.insert(order(relation));  // heirs have names of their own
    std::erase_if(now.relations, [&](const CatalogRelation& relation) { return gone.contains(order(relation)); });
    for (CatalogRelation& relation : read.relations) {
        const auto place = std::ranges::upper_bound(now.relations, order(relation), {}, order);
        now.relations.insert(place, std::move(relation));
    }
    std::erase_if(now.objects, [](const CatalogObject& object) { return object.kind == ObjectKind::Sequence; });
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

const CatalogColumn* CatalogRelation::column(std::string_view columnName) const {
    const auto found = std::ranges::find_if(
        columns, [&](const CatalogColumn& c) { return base::equalsIgnoringCase(c.name, columnName); });
    return found == columns.end() ? nullptr : &*found;
}

const CatalogForeignKey* CatalogRelation::foreignKeyOf(std::string_view columnName) const {
    for (const CatalogForeignKey& key : foreignKeys) {
        for (const std::string& c : key.columns) {
            if (base::equalsIgnoringCase(c, columnName)) return &key;
        }
    }
    return nullptr;
}

Catalog::Catalog(CatalogFacts facts, std::vector<CatalogSchemaPtr> schemas)
    : facts_(std::move(facts)), schemas_(std::move(schemas)) {
    std::vector<sql::RelationFact> relationFacts;
    for (const CatalogSchemaPtr& schema : schemas_) {
        for (const CatalogRelation& relation : schema->relations) {
            relations_.push_back(&relation);
            relationFacts.push_back(factOf(relation));
            exact_.emplace(keyOf(relation.schema, relation.name), &relation);
        }
    }
    view_ = std::make_shared<const sql::CatalogView>(std::move(relationFacts), facts_.searchPath);
    for (const CatalogRelation* relation : relations_) {
        for (const CatalogForeignKey& key : relation->foreignKeys) {
            const CatalogRelation* target = find(key.schema.empty() ? relation->schema : key.schema, key.relation);
            if (target != nullptr) references_[target].push_back({relation, &key});
        }
    }
}

const CatalogSchema* Catalog::schema(std::string_view name) const {
    const auto found = std::ranges::find_if(schemas_, [&](const CatalogSchemaPtr& s) { return s->name == name; });
    return found == schemas_.end() ? nullptr : found->get();
}

const CatalogRelation* Catalog::find(std::string_view schema, std::string_view name) const {
    if (schema.empty()) {
        for (const std::string& candidate : facts_.searchPath) {
            if (const CatalogRelation* relation = find(candidate, name)) return relation;
        }
        return nullptr;
    }
    if (const auto found = exact_.find(keyOf(schema, name)); found != exact_.end()) return found->second;
    const sql::RelationFact* fact = view_->find(schema, name);
    return fact == nullptr ? nullptr : relations_[static_cast<std::size_t>(fact - view_->relations().data())];
}

const CatalogObject* Catalog::findObject(std::string_view schema, std::string_view name,
                                         std::string_view signature) const {
    const CatalogSchema* holder = this->schema(schema);
    if (holder == nullptr) return nullptr;
    const auto found = std::ranges::find_if(
        holder->objects, [&](const CatalogObject& o) { return o.name == name && o.signature == signature; });
    return found == holder->objects.end() ? nullptr : &*found;
}

const std::vector<Catalog::Reference>& Catalog::referencesTo(const CatalogRelation& relation) const {
    static const std::vector<Reference> kNone;
    const auto found = references_.find(&relation);
    return found == references_.end() ? kNone : found->second;
}

std::uint64_t Catalog::memoryBytes() const {
    std::uint64_t sum = 0;
    for (const CatalogSchemaPtr& schema : schemas_) {
        sum +=
            schema->relations.capacity() * sizeof(CatalogRelation) + schema->objects.capacity() * sizeof(CatalogObject);
        for (const CatalogRelation& relation : schema->relations) sum += bytesOf(relation);
    }
    return sum;
}

std::vector<std::string> schemasToRead(const CatalogRequest& request, const std::vector<CatalogSchema>& named,
                                       const std::vector<std::string>& searchPath) {
    if (!request.schemas.empty()) return request.schemas;
    std::vector<std::string> wanted;
    const auto users = std::ranges::count(named, false, &CatalogSchema::isOwn);
    for (const CatalogSchema& schema : named) {
        const CatalogSchema* before = request.known ? request.known->schema(schema.name) : nullptr;
        const bool isNear = static_cast<std::size_t>(users) <= kFewSchemas ||
                            std::ranges::find(searchPath, schema.name) != searchPath.end();
        if ((before != nullptr && before->isLoaded) || (!schema.isOwn && isNear)) wanted.push_back(schema.name);
    }
    return wanted;
}

std::vector<std::string> namesToRead(const CatalogRequest& request, Views views) {
    if (request.names.empty() || request.schemas.empty() || !request.known) return {};
    std::set<std::string> names(request.names.begin(), request.names.end());
    const std::set<std::string> named = loweredNames(request.names);
    const auto isNamed = [&](const std::string& name) { return named.contains(base::toLower(name)); };
    const auto hangs = [&](const auto& parts) {
        return std::ranges::any_of(parts, [&](const auto& part) { return isNamed(part.name); });
    };
    const auto follows = [&](const CatalogRelation& relation) {
        const bool pointsAtIt =
            std::ranges::any_of(relation.foreignKeys, [&](const auto& key) { return isNamed(key.relation); });
        const bool isView = views == Views::Follow && relation.kind == ObjectKind::View;
        // As it is written: there may be others that differ in the case of letters.
        return isNamed(relation.name) || pointsAtIt || isView || isNamed(relation.partOf) || hangs(relation.indexes) ||
               hangs(relation.triggers);
    };
    for (const std::string& name : request.schemas) {
        const CatalogSchema* schema = request.known->schema(name);
        if (schema == nullptr || !schema->isLoaded) return {};
        for (const CatalogRelation& relation : schema->relations) {
            if (follows(relation)) names.insert(relation.name);
        }
    }
    return {names.begin(), names.end()};
}

CatalogPtr mergeCatalog(CatalogFacts facts, std::vector<CatalogSchema> read, const CatalogPtr& known,
                        const std::vector<std::string>& names) {
    std::vector<CatalogSchemaPtr> schemas;
    for (CatalogSchema& schema : read) {
        const auto isIt = [&](const CatalogSchemaPtr& s) { return s->name == schema.name; };
        if (!schema.isLoaded && known) {
            const auto before = std::ranges::find_if(known->schemas(), isIt);
            if (before != known->schemas().end() && (*before)->isLoaded) {
                schemas.push_back(*before);
                continue;
            }
        }
        const CatalogSchema* before = names.empty() ? nullptr : known->schema(schema.name);
        if (before != nullptr) schema = renewed(*before, std::move(schema), names);
        schemas.push_back(std::make_shared<const CatalogSchema>(std::move(schema)));
    }
    return std::make_shared<const Catalog>(std::move(facts), std::move(schemas));
}

}  // namespace pantry::db
