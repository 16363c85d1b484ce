#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/catalog/catalog_view.h"
#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// The column of a relation that tells a person which of its rows one is: a text, best a unique one with a name such as
/// name or title. Empty when there is none.
[[nodiscard]] std::string labelColumnOf(const catalog::Relation& relation);

/// A query for the labels of rows with these keys: their key, then their label.
[[nodiscard]] std::string labelQuery(const catalog::Relation& relation, const std::string& keyColumn,
                                     const std::string& labelColumn, const std::vector<std::string>& keys,
                                     const catalog::View& view, Dialect dialect);

/// A query for the rows in which columns have these values, as a person would write it; nullopt is NULL.
[[nodiscard]] std::string rowsQuery(const catalog::Relation& relation, const std::vector<std::string>& columns,
                                    const std::vector<std::optional<std::string>>& values, const catalog::View& view,
                                    Dialect dialect);

}  // namespace pantry::sql
