#pragma once

#include <set>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/store/connections_file.h"

namespace pantry::store {

/// The connections of these ids (all when there are none), with the templates they lean on and their groups, as the
/// text of a file for another machine. No secret is in it: statements for connecting that carry one lose it, and
/// properties that look like one are left out.
[[nodiscard]] std::string exportConnections(const ConnectionList& list, const std::set<std::string>& ids);

/// A file that exportConnections() made. Errors: InvalidInput, TooNew.
Result<ConnectionList> readExport(std::string_view text);

/// What becomes of a connection whose name is taken.
enum class NameClash {
    Rename,   ///< it comes in under a free name
    Replace,  ///< it takes the place of the one that is there
    Skip,     ///< it stays out
};

struct ImportReport {
    std::vector<std::string> added;  ///< names, as they are in the list now
    std::vector<std::string> replaced;
    std::vector<std::string> skipped;
};

/// Brings connections into a list, those of `ids` only when there are some (ids of the file). They get ids of their
/// own.
ImportReport importConnections(ConnectionList& into, const ConnectionList& from, const std::set<std::string>& ids,
                               NameClash clash);

}  // namespace pantry::store
