#pragma once

#include "core/base/cancellation.h"
#include "core/catalog/catalog.h"
#include "core/db/drivers/sqlite/handle.h"

namespace pantry::db::sqlite {

/// Reads the catalog in a fixed number of queries per schema (main and attached databases).
Result<catalog::CatalogPtr> loadCatalog(sqlite3* db, std::string serverVersion, const catalog::Request& request,
                                        const base::Cancellation& cancellation);

/// The statements that make an object, its indexes and triggers included. Errors: NotFound.
Result<catalog::Definition> readDefinition(sqlite3* db, const catalog::ObjectName& object);

}  // namespace pantry::db::sqlite
