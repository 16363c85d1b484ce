#include "core/db/catalog_parts.h"

#include <fmt/format.h>

#include "core/db/connecting.h"

namespace pantry::db {

Status readParts(const std::vector<CatalogPart>& parts, const catalog::Request& request,
                 const base::Cancellation& cancellation, std::string& problem) {
    std::size_t number = 0;
    for (const CatalogPart& part : parts) {
        if (cancellation.isRequested()) return stopped();
        if (request.progress) request.progress(part.name, ++number, parts.size());
        Status status = part.read();
        if (status) continue;
        const ErrorKind kind = status.error().kind;
        if (part.isNeeded || kind == ErrorKind::Cancelled || endsConnection(kind)) return status;
        problem += fmt::format("{}The {} could not be read: {}", problem.empty() ? "" : " ", part.name,
                               status.error().message);
    }
    return {};
}

}  // namespace pantry::db
