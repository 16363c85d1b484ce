#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "core/catalog/catalog.h"
#include "core/sql/meaning/name_uses.h"

namespace pantry::sql {

/// What is known about a name, for somebody who reads: at the pointer, beside an offer, below the line.
struct NameFacts {
    std::string heading;                                     ///< plot.soil
    std::string what;                                        ///< column, table, common table
    std::vector<std::pair<std::string, std::string>> facts;  ///< Type and text, Key and primary key, …
    std::string comment;
    std::string definition;                     ///< the query that makes it, where the statement itself does
    std::optional<catalog::ObjectName> object;  ///< what the database has of it, with a definition and a page
};

/// Of a column of a table or view.
[[nodiscard]] NameFacts factsOfColumn(const catalog::Relation& relation, const catalog::Column& column);
/// Of a table or view: how much it holds, its columns, its keys.
[[nodiscard]] NameFacts factsOfRelation(const catalog::Relation& relation);
/// Of a way along a foreign key: from what to what, and what happens to the rows that point.
[[nodiscard]] NameFacts factsOfKey(const catalog::Relation& relation, const catalog::ForeignKey& key);
/// Of a routine, with its parameters and what it returns.
[[nodiscard]] NameFacts factsOfObject(const catalog::Object& object);

/// Of the name at a token of a statement; nothing for keywords and for names that nobody knows.
[[nodiscard]] std::optional<NameFacts> factsAt(std::string_view statement, const SyntaxTree& tree,
                                               const ScopeFinder& scope, const catalog::View& catalog,
                                               std::uint32_t token);

}  // namespace pantry::sql
