#include "core/work/catalog_follower.h"

#include <utility>

namespace pantry::work {

std::optional<sql::CatalogChanges> CatalogFollower::noteEnd(const sql::Statement& statement,
                                                            const std::string& currentSchema,
                                                            db::TransactionState transaction) {
    if (statement.defines()) {
        const sql::CatalogChanges changes = sql::catalogChanges(statement.text(), statement.tree(), currentSchema);
        pending_ = pending_ ? sql::together(*pending_, changes) : changes;
    }
    if (transaction != db::TransactionState::None) return std::nullopt;
    return std::exchange(pending_, std::nullopt);
}

}  // namespace pantry::work
