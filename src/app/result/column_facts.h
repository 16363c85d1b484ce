#pragma once

#include <vector>

#include "core/catalog/catalog.h"
#include "core/data/store/column.h"

namespace pantry::app {

/// What the catalog knows of a result's columns: which are keys, and where they lead.
///
/// Lifetime: holds the catalog that its pointers lead into.
class ColumnFacts {
public:
    struct Fact {
        const catalog::Relation* origin = nullptr;  ///< the relation that the column comes from unchanged
        bool isPrimaryKey = false;
        const catalog::ForeignKey* key = nullptr;   ///< of this column alone
        const catalog::Relation* target = nullptr;  ///< where that key leads
    };

    ColumnFacts() = default;
    ColumnFacts(catalog::CatalogPtr catalog, const std::vector<data::Column>& columns);

    [[nodiscard]] const Fact& of(int column) const;
    [[nodiscard]] const catalog::CatalogPtr& catalog() const { return catalog_; }

private:
    catalog::CatalogPtr catalog_;
    std::vector<Fact> facts_;
};

}  // namespace pantry::app
