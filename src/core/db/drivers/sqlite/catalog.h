#pragma once

#include "core/base/cancellation.h"
#include "core/catalog/catalog.h"
#include "core/catalog/object_details.h"
#include "core/db/drivers/sqlite/handle.h"

namespace pantry::db::sqlite {

/// Reads the catalog in a fixed number of queries per schema (main and attached databases).
Result<catalog::CatalogPtr> loadCatalog(sqlite3* db, std::string serverVersion, const catalog::Request& request,
                                        const base::Cancellation& cancellation);

/// The statements that make an object, its indexes and triggers included. Errors: NotFound.
Result<catalog::Definition> readDefinition(sqlite3* db, const catalog::ObjectName& object);

/// What is known of an object beyond the catalog.
catalog::ObjectDetails readDetails(sqlite3* db, const catalog::ObjectName& object);

/// The texts of views and triggers.
Result<std::vector<catalog::SourceText>> readSources(sqlite3* db, const std::vector<std::string>& schemas);

}  // namespace pantry::db::sqlite
