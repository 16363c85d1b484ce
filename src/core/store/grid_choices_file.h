#pragma once

#include <filesystem>
#include <map>
#include <optional>
#include <string>
#include <string_view>

#include "core/base/result.h"
#include "core/data/view/grid_choices.h"
#include "core/sql/text/dialect.h"

namespace pantry::store {

/// What is chosen for the grids of queries, by gridKey().
using AllGridChoices = std::map<std::string, data::GridChoices>;

/// Under what a query's choices are kept: its connection and its words, whatever their layout and the case of letters
/// outside quotes. Tells nothing of the statement itself.
[[nodiscard]] std::string gridKey(std::string_view connectionId, std::string_view statement, sql::Dialect dialect);

/// A file that cannot be understood counts as none, and is kept aside. Errors: TooNew, Permission, Io.
Result<AllGridChoices> loadGridChoices(const std::filesystem::path& path);

/// Writes the choices of one query; those of others stay as they are in the file, but for the oldest when there are
/// very many.
Status saveGridChoices(const std::filesystem::path& path, const std::string& key, const data::GridChoices& choices);

/// Choices as one line of JSON, without what is as usual; empty when nothing is chosen.
[[nodiscard]] std::string gridChoicesLine(const data::GridChoices& choices);
/// Choices out of such a line; nothing for a line that is none.
[[nodiscard]] std::optional<data::GridChoices> gridChoicesIn(std::string_view line);

}  // namespace pantry::store
