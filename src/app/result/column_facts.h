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
        const db::CatalogRelation* origin = nullptr;  ///< the relation that the column comes from unchanged
        bool isPrimaryKey = false;
        const db::CatalogForeignKey* key = nullptr;   ///< of this column alone
        const db::CatalogRelation* target = nullptr;  ///< where that key leads
    };

    ColumnFacts() = default;
    ColumnFacts(db::CatalogPtr catalog, const std::vector<data::Column>& columns);

    [[nodiscard]] const Fact& of(int column) const;
    [[nodiscard]] const db::CatalogPtr& catalog() const { return catalog_; }

private:
    db::CatalogPtr catalog_;
    std::vector<Fact> facts_;
};

}  // namespace pantry::app
