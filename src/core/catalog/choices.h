#pragma once

#include <set>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "core/catalog/catalog.h"

namespace pantry::catalog {

/// How the objects of a section stand.
enum class ListOrder { Name, Rows, Size };

/// What somebody chose to see of a connection's catalog, and what they used last.
struct Choices {
    std::set<std::string> hiddenSchemas;
    std::set<ObjectKind> hiddenKinds;
    std::vector<std::pair<std::string, std::string>> favourites;  ///< schema and name, in the order of the list
    std::vector<std::pair<std::string, std::string>> recent;      ///< the same, the last one first
    ListOrder order = ListOrder::Name;
    bool withForbidden = false;  ///< also what the user has no right to

    [[nodiscard]] bool isFavourite(std::string_view schema, std::string_view name) const;
    /// Puts an object on top of the list, or takes it from there.
    void toggleFavourite(const std::string& schema, const std::string& name);
    /// Notes that an object was used; so many are remembered.
    void noteUse(const std::string& schema, const std::string& name);

    friend bool operator==(const Choices&, const Choices&) = default;
};

/// Favourites and what was used last keep meaning the same tables when these, or their schema, have another name in a
/// later reading of the catalog: what is missing and what is new go together when the engine tells that it is one table
/// (Relation::age) and its columns agree.
void followRenames(Choices& choices, const Catalog& before, const Catalog& after);

}  // namespace pantry::catalog
