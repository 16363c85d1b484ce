#pragma once

#include "core/base/cancellation.h"
#include "core/db/catalog.h"
#include "core/db/drivers/sqlite/handle.h"

namespace pantry::db::sqlite {

/// Reads the catalog in a fixed number of queries per schema (main and attached databases).
Result<CatalogPtr> loadCatalog(sqlite3* db, std::string serverVersion, const base::Cancellation& cancellation);

}  // namespace pantry::db::sqlite
