#include "core/snippet/snippets.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <set>

#include "core/base/text.h"
#include "core/snippet/built_in.h"
#include "core/sql/text/lexer.h"
#include "core/sql/text/type_names.h"

namespace pantry::snippet {
namespace {

bool isTrigger(std::string_view word) {
    return !word.empty() && !base::isAsciiDigit(word.front()) && std::ranges::all_of(word, [](char c) {
        return c == '_' || base::isAsciiDigit(c) || (base::asciiLower(c) >= 'a' && base::asciiLower(c) <= 'z');
    });
}

bool meet(const Snippet& a, const Snippet& b) {
    if (!base::equalsIgnoringCase(a.trigger, b.trigger)) return false;
    return a.dialects.empty() || b.dialects.empty() ||
           std::ranges::any_of(a.dialects, [&](sql::Dialect dialect) { return b.fits(dialect); });
}

/// A name as somebody wrote it, dots and quotes included, in the catalog.
const catalog::Relation* relationNamed(std::string_view written, const catalog::View& catalog) {
    std::vector<std::string> parts;
    for (const sql::Token& token : sql::lex(written, sql::Dialect::Ansi)) {
        const bool isName = token.kind == sql::TokenKind::Word || token.kind == sql::TokenKind::QuotedName;
        if (isName) parts.push_back(sql::unquotedName(token.textIn(written)));
    }
    if (parts.empty()) return nullptr;
    return catalog.find(parts.size() > 1 ? parts[parts.size() - 2] : std::string(), parts.back());
}

}  // namespace

bool Snippet::fits(sql::Dialect dialect) const {
    return dialects.empty() || std::ranges::find(dialects, dialect) != dialects.end();
}

Status check(const Snippet& one, const std::vector<Snippet>& others) {
    if (!isTrigger(one.trigger)) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = fmt::format("“{}” is no trigger.", one.trigger),
                     .hint = "Take one word of letters, digits and underlines that begins with a letter."};
    }
    const auto same = std::ranges::find_if(others, [&](const Snippet& other) { return meet(one, other); });
    if (same != others.end()) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = fmt::format("“{}” brings “{}” already.", one.trigger, same->title),
                     .hint = "Take another trigger, or change that snippet."};
    }
    const auto parsed = parseTemplate(one.text);
    if (!parsed) return parsed.error();
    if (base::trimmed(one.text).empty())
        return Error{.kind = ErrorKind::InvalidInput, .message = "The snippet has no text."};
    return {};
}

std::vector<Snippet> offeredIn(sql::Dialect dialect, const std::vector<Snippet>& own) {
    std::vector<Snippet> all;
    for (const Snippet& one : own) {
        if (one.fits(dialect)) all.push_back(one);
    }
    for (const Snippet& one : builtIn()) {
        const bool isReplaced =
            std::ranges::any_of(own, [&](const Snippet& other) { return other.fits(dialect) && meet(one, other); });
        if (one.fits(dialect) && !isReplaced) all.push_back(one);
    }
    return all;
}

std::vector<std::pair<std::string, std::string>> choicesFor(const Place& place, std::string_view table,
                                                            const catalog::View& catalog, sql::Dialect dialect) {
    std::vector<std::pair<std::string, std::string>> all;
    const auto addRelations = [&](auto fits) {
        for (const catalog::Relation* one : catalog.relations()) {
            if (!fits(one->kind)) continue;
            const bool isNear = catalog.isOnSearchPath(one->schema);
            const std::string name = sql::quotedName(one->name, dialect);
            all.emplace_back(isNear ? name : sql::quotedName(one->schema, dialect) + "." + name,
                             std::string(catalog::kindName(one->kind)));
        }
    };
    switch (place.offers) {
        case PlaceKind::Text: break;
        case PlaceKind::Table: addRelations([](catalog::ObjectKind kind) { return !catalog::isViewKind(kind); }); break;
        case PlaceKind::View: addRelations([](catalog::ObjectKind kind) { return catalog::isViewKind(kind); }); break;
        case PlaceKind::Relation: addRelations([](catalog::ObjectKind) { return true; }); break;
        case PlaceKind::Column:
            if (const catalog::Relation* relation = relationNamed(table, catalog)) {
                for (const catalog::Column& column : relation->columns)
                    all.emplace_back(sql::quotedName(column.name, dialect), column.typeName);
            }
            break;
        case PlaceKind::Schema:
            for (const catalog::SchemaPtr& schema : catalog.catalog().schemas()) {
                if (!schema->isOwn) all.emplace_back(sql::quotedName(schema->name, dialect), "schema");
            }
            break;
        case PlaceKind::Type:
            for (const std::string_view type : sql::usualTypes(dialect)) all.emplace_back(type, "type");
            break;
    }
    return all;
}

ColumnsOf columnsIn(const catalog::View& catalog, sql::Dialect dialect) {
    return [catalog, dialect](std::string_view table) {
        std::vector<ColumnOfTable> columns;
        if (const catalog::Relation* relation = relationNamed(table, catalog)) {
            for (const catalog::Column& column : relation->columns) {
                if (!column.isGenerated) columns.push_back({sql::quotedName(column.name, dialect), column.typeName});
            }
        }
        return columns;
    };
}

}  // namespace pantry::snippet
