#pragma once

#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/catalog/object_details.h"
#include "core/sql/text/dialect.h"

namespace pantry::db {

/// A row of a query of our own, as text.
using TextRow = std::vector<std::optional<std::string>>;

/// Reads what an engine tells of one object, part by part: a part that is refused is told as a problem, and the others
/// are read all the same.
class DetailReader {
public:
    /// Runs a query and gives its rows.
    using Ask = std::function<Result<std::vector<TextRow>>(const std::string& query)>;

    explicit DetailReader(Ask ask) : ask_(std::move(ask)) {}

    /// Reads a part, called `words` where it is refused; `take` is called for each row.
    void part(std::string_view text, const std::string& query, const std::function<void(const TextRow&)>& take);
    /// The first column of the first row; empty when there is none or it is refused.
    std::string one(const std::string& query);
    /// Facts from a query of one row: each label's value stands in the column at its place; empty ones are left out.
    void facts(const std::vector<std::string_view>& labels, const std::string& query);
    void fact(std::string_view label, std::string value);

    catalog::ObjectDetails details;

private:
    Ask ask_;
};

/// Whether a text of SQL names an object, as a word or in quotes, whatever the case of its letters.
[[nodiscard]] bool namesObject(std::string_view text, std::string_view name, sql::Dialect dialect);

[[nodiscard]] std::string textOf(const TextRow& row, std::size_t column);
[[nodiscard]] std::optional<std::int64_t> numberOf(const TextRow& row, std::size_t column);

/// 1048576 as 1.0 MB; empty for none.
[[nodiscard]] std::string bytesWords(const std::optional<std::int64_t>& bytes);

}  // namespace pantry::db
