#pragma once

#include <set>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "core/catalog/catalog.h"

namespace pantry::catalog {

/// What somebody chose to see of a connection's catalog.
struct Choices {
    std::set<std::string> hiddenSchemas;
    std::set<ObjectKind> hiddenKinds;
    std::vector<std::pair<std::string, std::string>> favourites;  ///< schema and name, in the order of the list
    bool withForbidden = false;                                   ///< also what the user has no right to

    [[nodiscard]] bool isFavourite(std::string_view schema, std::string_view name) const;
    /// Puts an object on top of the list, or takes it from there.
    void toggleFavourite(const std::string& schema, const std::string& name);

    friend bool operator==(const Choices&, const Choices&) = default;
};

/// A line of a catalog's flat list: a heading, or one object.
struct Row {
    std::string heading;    ///< of a section; empty for an object
    std::size_t count = 0;  ///< objects in the section
    const Relation* relation = nullptr;
    const Object* object = nullptr;
    std::string_view column = {};  ///< the column that the pattern found, when it is not the name

    [[nodiscard]] bool isHeading() const { return relation == nullptr && object == nullptr; }
    [[nodiscard]] ObjectName name() const;
};

/// The objects of a catalog as a flat list. Without a pattern: favourites, then a section for each kind. With one: what
/// fits it by name or column, the best first. Rows point into the catalog.
///
/// Cost: with a pattern, one fuzzy match for each name and each column.
[[nodiscard]] std::vector<Row> listCatalog(const Catalog& catalog, std::string_view pattern, const Choices& choices);

}  // namespace pantry::catalog
