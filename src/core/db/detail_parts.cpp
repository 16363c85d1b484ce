#include "core/db/detail_parts.h"

#include <algorithm>
#include <charconv>

#include "core/base/text.h"
#include "core/sql/text/lexer.h"

namespace pantry::db {

void DetailReader::part(std::string_view text, const std::string& query,
                        const std::function<void(const TextRow&)>& take) {
    const auto rows = ask_(query);
    if (!rows) {
        details.problems.push_back(std::string(text) + ": " + rows.error().message);
        return;
    }
    for (const TextRow& row : *rows) take(row);
}

std::string DetailReader::one(const std::string& query) {
    const auto rows = ask_(query);
    return rows && !rows->empty() ? textOf(rows->front(), 0) : std::string();
}

void DetailReader::facts(const std::vector<std::string_view>& labels, const std::string& query) {
    part("Facts", query, [&](const TextRow& row) {
        for (std::size_t i = 0; i < labels.size(); ++i) fact(labels[i], textOf(row, i));
    });
}

void DetailReader::fact(std::string_view label, std::string value) {
    if (!value.empty()) details.facts.push_back({std::string(label), std::move(value)});
}

bool namesObject(std::string_view text, std::string_view name, sql::Dialect dialect) {
    if (base::findIgnoringCase(text, name) == std::string_view::npos) return false;  // most texts end here
    const std::vector<sql::Token> tokens = sql::lex(text, dialect);
    return std::ranges::any_of(tokens, [&](const sql::Token& token) {
        const bool isName = token.kind == sql::TokenKind::Word || token.kind == sql::TokenKind::QuotedName;
        return isName && base::equalsIgnoringCase(sql::unquotedName(token.textIn(text)), name);
    });
}

std::string textOf(const TextRow& row, std::size_t column) {
    return column < row.size() ? row[column].value_or("") : std::string();
}

std::optional<std::int64_t> numberOf(const TextRow& row, std::size_t column) {
    const std::string text = textOf(row, column);
    std::int64_t number = 0;
    const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), number);
    return code == std::errc() && !text.empty() ? std::optional(number) : std::nullopt;
}

std::string bytesWords(const std::optional<std::int64_t>& bytes) {
    return bytes && *bytes >= 0 ? base::readableBytes(static_cast<std::uint64_t>(*bytes)) : std::string();
}

}  // namespace pantry::db
