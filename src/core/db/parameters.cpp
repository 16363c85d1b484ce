#include "core/db/parameters.h"

#include <fmt/format.h>

#include "core/sql/meaning/parameters.h"
#include "core/sql/text/lexer.h"

namespace pantry::db {

Result<BoundStatement> BoundStatement::make(std::string_view statement, const sql::Language& language,
                                            const sql::ParameterValues& values, const Place& place) {
    BoundStatement out;
    std::size_t copied = 0;
    const std::vector<sql::Token> tokens = sql::lex(statement, language);
    const sql::StatementKind kind = sql::kindOf(tokens);
    sql::ParameterKeys keys;
    for (const sql::Token& token : tokens) {
        if (!sql::isOpenParameter(token, statement, kind)) continue;
        const std::string_view shown = token.textIn(statement);
        const auto found = values.find(keys.next(shown));
        if (found == values.end()) {
            return Error{.kind = ErrorKind::InvalidInput,
                         .message = fmt::format("The parameter {} has no value.", shown),
                         .hint = "Write a value in its place, or give one.",
                         .byteOffset = token.start};
        }
        out.text_ += statement.substr(copied, token.start - copied);
        std::string written;
        for (const std::optional<std::string>& value : found->second.items) {
            written += (written.empty() ? "" : ", ") + place(found->first, value);
        }
        if (written.empty()) written = "NULL";
        out.changes_.push_back({token.start, out.text_.size(), written.size(), token.length});
        out.text_ += written;
        copied = token.end();
    }
    out.text_ += statement.substr(copied);
    return out;
}

sql::ParameterValues anyValues(const sql::Statement& statement) {
    sql::ParameterValues values;
    sql::ParameterKeys keys;
    for (const sql::Token& token : statement.tokens()) {
        if (!sql::isOpenParameter(token, statement.text(), statement.kind())) continue;
        values.emplace(keys.next(token.textIn(statement.text())), std::nullopt);
    }
    return values;
}

std::size_t BoundStatement::originOf(std::size_t byteOffset) const {
    std::size_t shiftFrom = 0;
    std::size_t shiftTo = 0;
    for (const Change& change : changes_) {
        if (byteOffset < change.start) break;
        if (byteOffset < change.start + change.length) return change.origin;
        shiftFrom = change.start + change.length;
        shiftTo = change.origin + change.originLength;
    }
    return byteOffset - shiftFrom + shiftTo;
}

}  // namespace pantry::db
