#pragma once

#include <compare>
#include <filesystem>
#include <string>
#include <vector>

#include "core/base/result.h"

namespace pantry::store {

/// A shelf beside the program's own.
struct ShelfPlace {
    std::string name;  ///< as its owner calls it; no two have the same
    std::filesystem::path folder;
    friend bool operator==(const ShelfPlace&, const ShelfPlace&) = default;
};

/// A saved query: the name of its shelf, which is empty for the program's own, and its path there.
struct QueryPlace {
    std::string shelf;
    std::string path;
    friend auto operator<=>(const QueryPlace&, const QueryPlace&) = default;
};

/// What one person adds to shelves and nobody else sees.
struct Shelves {
    std::vector<ShelfPlace> places = {};
    std::vector<QueryPlace> starred = {};
};

/// shelves.json. A file that cannot be understood counts as none, and is kept aside. Errors: TooNew, Permission, Io.
Result<Shelves> loadShelves(const std::filesystem::path& path);

// Each changes one thing in the file; what others wrote there meanwhile stays. Errors: those of reading and writing.

/// Errors: also InvalidInput for a name that is taken or empty.
Status addShelf(const std::filesystem::path& path, const ShelfPlace& place);
/// The folder stays where it is. Errors: also NotFound.
Status removeShelf(const std::filesystem::path& path, const std::string& name);
Status setStarred(const std::filesystem::path& path, const QueryPlace& query, bool isStarred);
/// A star goes with what was moved.
Status moveStar(const std::filesystem::path& path, const QueryPlace& from, const QueryPlace& to);

}  // namespace pantry::store
