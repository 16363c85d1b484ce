#pragma once

#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/db/driver.h"
#include "core/sql/text/dialect.h"

namespace pantry::db {

/// A statement whose parameters are replaced by what the engine understands, and the way back to the user's text.
class BoundStatement {
public:
    /// Writes the place that stands for a value: $1, or the value itself as a literal.
    using Place = std::function<std::string(const std::string& name, const std::optional<std::string>& value)>;

    /// Replaces every parameter that is open (see sql::isOpenParameter); several values of one stand with commas
    /// between, none at all as NULL. Errors: InvalidInput at a parameter that has no value.
    static Result<BoundStatement> make(std::string_view statement, const sql::Language& language,
                                       const sql::ParameterValues& values, const Place& place);

    [[nodiscard]] const std::string& text() const { return text_; }
    /// The byte of the user's statement that a byte of text() comes from.
    [[nodiscard]] std::size_t originOf(std::size_t byteOffset) const;

private:
    struct Change {
        std::size_t origin;  // where the parameter stands in the user's text
        std::size_t start;   // where its place begins in text_
        std::size_t length;  // of the place
        std::size_t originLength;
    };
    std::string text_;
    std::vector<Change> changes_;
};

/// A value for each open parameter of a statement, none of which matters: for a statement that is only looked at.
[[nodiscard]] sql::ParameterValues anyValues(const sql::Statement& statement);

}  // namespace pantry::db
