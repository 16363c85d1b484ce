#pragma once

#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/catalog/catalog_view.h"
#include "core/shelf/saved_query.h"
#include "core/sql/text/dialect.h"

namespace pantry::work {

/// What a text is called on the shelf as long as nobody chose another name: “Visits by plot” of a query that groups,
/// else what its first statement is about. Never empty.
[[nodiscard]] std::string proposedTitle(std::string_view text, const sql::Language& language);

/// The value that stands for a parameter now, as somebody would type it.
using GivenValue = std::function<std::optional<std::string>(const std::string& key)>;

/// The parameters of a text for the head of a saved query, each once: with the types of what they are compared with,
/// as far as the catalog tells, and with their values, but for secrets.
[[nodiscard]] std::vector<shelf::QueryParameter> headParameters(std::string_view text, const sql::Language& language,
                                                                const catalog::View& catalog, const GivenValue& given);

/// Under what the choices for the grid of a text's first statement are kept; empty for a text without a statement, and
/// for one of more than 64 KB. See store::gridKey().
[[nodiscard]] std::string firstGridKey(std::string_view text, std::string_view connectionId,
                                       const sql::Language& language);

/// What a file on the shelf shall hold: a text behind its head. What is `told` counts most, then what the text's own
/// head says, then what the file held `before`; a title is needed in one of them. `told.parameters` are those that the
/// text has now, their values likewise.
[[nodiscard]] std::string contentToSave(std::string_view text, std::string_view before, const shelf::QueryHead& told);

}  // namespace pantry::work
