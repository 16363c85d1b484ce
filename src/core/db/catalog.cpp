#include "core/db/catalog.h"

#include <algorithm>

#include "core/base/text.h"

namespace pantry::db {
namespace {

sql::RelationFact factOf(const CatalogRelation& relation) {
    sql::RelationFact fact{.schema = relation.schema,
                           .name = relation.name,
                           .isView = relation.kind == RelationKind::View,
                           .rowEstimate = relation.rowEstimate};
    for (const CatalogColumn& c : relation.columns) {
        fact.columns.push_back({c.name, c.typeName, c.keyPosition > 0, c.isNullable});
    }
    for (const CatalogForeignKey& k : relation.foreignKeys) {
        fact.foreignKeys.push_back({k.columns, k.schema, k.relation, k.referencedColumns});
    }
    return fact;
}

}  // namespace

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

Catalog::Catalog(std::string serverVersion, std::vector<std::string> schemas, std::vector<CatalogRelation> relations)
    : serverVersion_(std::move(serverVersion)), schemas_(std::move(schemas)), relations_(std::move(relations)) {
    std::vector<sql::RelationFact> facts;
    facts.reserve(relations_.size());
    for (const CatalogRelation& relation : relations_) facts.push_back(factOf(relation));
    view_ = std::make_shared<const sql::CatalogView>(std::move(facts), schemas_);
}

const CatalogRelation* Catalog::find(std::string_view schema, std::string_view name) const {
    const sql::RelationFact* fact = view_->find(schema, name);
    if (fact == nullptr) return nullptr;
    return &relations_[static_cast<std::size_t>(fact - view_->relations().data())];
}

std::vector<Catalog::Reference> Catalog::referencesTo(const CatalogRelation& relation) const {
    std::vector<Reference> references;
    for (const CatalogRelation& other : relations_) {
        for (const CatalogForeignKey& key : other.foreignKeys) {
            const bool sameSchema =
                key.schema.empty() ? other.schema == relation.schema : key.schema == relation.schema;
            if (sameSchema && base::equalsIgnoringCase(key.relation, relation.name))
                references.push_back({&other, &key});
        }
    }
    return references;
}

std::string_view relationKindName(RelationKind kind) {
    switch (kind) {
        case RelationKind::Table: return "table";
        case RelationKind::View: return "view";
        case RelationKind::VirtualTable: break;
    }
    return "virtual table";
}

}  // namespace pantry::db
