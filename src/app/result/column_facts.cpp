#include "app/result/column_facts.h"

namespace pantry::app {

ColumnFacts::ColumnFacts(catalog::CatalogPtr catalog, const std::vector<data::Column>& columns)
    : catalog_(std::move(catalog)), facts_(columns.size()) {
    if (!catalog_) return;
    for (std::size_t i = 0; i < columns.size(); ++i) {
        Fact& fact = facts_[i];
        if (columns[i].originTable.empty()) continue;
        fact.origin = catalog_->find(columns[i].originSchema, columns[i].originTable);
        if (fact.origin == nullptr) continue;
        const catalog::Column* column = fact.origin->column(columns[i].originColumn);
        fact.isPrimaryKey = column != nullptr && column->keyPosition > 0;
        const catalog::ForeignKey* key = fact.origin->foreignKeyOf(columns[i].originColumn);
        if (key == nullptr || key->columns.size() != 1 || key->referencedColumns.size() > 1) continue;
        fact.target = catalog_->find(key->schema.empty() ? fact.origin->schema : key->schema, key->relation);
        if (fact.target != nullptr) fact.key = key;
    }
}

const ColumnFacts::Fact& ColumnFacts::of(int column) const {
    static const Fact kNone;
    const auto index = static_cast<std::size_t>(column);
    return index < facts_.size() ? facts_[index] : kNone;
}

}  // namespace pantry::app
