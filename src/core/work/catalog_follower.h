#pragma once

#include <optional>
#include <string>

#include "core/db/driver.h"
#include "core/sql/meaning/catalog_changes.h"
#include "core/sql/meaning/statement.h"

namespace pantry::work {

/// Follows what a session's statements make different in a catalog, for whoever reads catalogs on a connection of its
/// own: others see it only when the transaction has ended.
///
/// Threads: one.
class CatalogFollower {
public:
    /// A statement has ended well. What is to be read anew now; nothing while nothing changed, or while the transaction
    /// that changed it is open.
    [[nodiscard]] std::optional<sql::CatalogChanges> noteEnd(const sql::Statement& statement,
                                                             const std::string& currentSchema,
                                                             db::TransactionState transaction);

private:
    std::optional<sql::CatalogChanges> pending_;
};

}  // namespace pantry::work
