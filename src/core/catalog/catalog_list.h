#pragma once

#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include "core/catalog/catalog.h"
#include "core/catalog/choices.h"
#include "core/catalog/object_details.h"

namespace pantry::catalog {

/// A place whose catalog is listed: a database of a connection.
struct ListedPlace {
    std::string label;  ///< of the connection; said where several are listed
    CatalogPtr catalog;
    Choices choices;
    /// Texts of views, routines and triggers, when they are to be looked into.
    std::shared_ptr<const std::vector<SourceText>> sources = {};
};

/// A line of the flat list.
struct Row {
    enum class Kind {
        Heading,  ///< of a section
        Object,
        Column,   ///< of the object above it, which was found
        Excerpt,  ///< of the object above it: the line of a comment or text that was found
        More,     ///< what is not shown, in words
    };
    Kind kind = Kind::Object;
    std::size_t place = 0;  ///< among those that are listed
    std::string text;       ///< of headings, excerpts and what is not shown
    std::size_t count = 0;  ///< objects in the section
    const Relation* relation = nullptr;
    const Object* object = nullptr;
    const Column* column = nullptr;

    [[nodiscard]] bool isHeading() const { return kind == Kind::Heading || kind == Kind::More; }
    [[nodiscard]] ObjectName name() const;
};

/// What is looked for.
struct Search {
    /// Words, each of which must be found: in names from the beginnings of their words on (frale: frost_alert) or three
    /// letters together; in comments and texts as they stand. A dot parts a schema from a name.
    std::string pattern;

    [[nodiscard]] bool isEmpty() const { return pattern.empty(); }
};

/// The objects of catalogs as a flat list. Without a search: favourites, what was used last, then a section for each
/// kind, and one for each of the engine's own schemas. With one: names that fit, the best first; then columns below
/// their tables, comments, and texts. Of very many hits the first are listed, and how many more there are is said. Rows
/// point into the catalogs.
///
/// Cost: with a search, a look at each name, column and comment.
[[nodiscard]] std::vector<Row> listCatalog(const std::vector<ListedPlace>& places, const Search& search);

/// Where there is something of what was looked for, when the list shows none of it.
struct Elsewhere {
    enum class Where { HiddenSchema, HiddenKind, UnreadSchema, Forbidden };
    Where where = Where::HiddenSchema;
    std::size_t place = 0;
    std::string schema;                   ///< of a schema, and of what is forbidden
    ObjectKind kind = ObjectKind::Table;  ///< that is hidden
    std::size_t count = 0;                ///< hits; for what was not read, 0
};
[[nodiscard]] std::vector<Elsewhere> foundElsewhere(const std::vector<ListedPlace>& places, const Search& search);

}  // namespace pantry::catalog
