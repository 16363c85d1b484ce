#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/base/cancellation.h"
#include "core/base/result.h"
#include "core/catalog/catalog.h"

namespace pantry::db {

/// One part of a catalog and how it is read.
struct CatalogPart {
    std::string_view name;  ///< for people: columns
    std::function<Status()> read;
    bool isNeeded = false;  ///< nothing is of use without it
};

/// Reads parts in their order. One that fails is told in `problem` and leaves the rest usable, unless it is needed.
/// Errors: Cancelled, and those of needed parts.
Status readParts(const std::vector<CatalogPart>& parts, const catalog::Request& request,
                 const base::Cancellation& cancellation, std::string& problem);

}  // namespace pantry::db
