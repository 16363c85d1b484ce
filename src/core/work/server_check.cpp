#include "core/work/server_check.h"

#include <algorithm>

namespace pantry::work {
namespace {

/// Whether a statement may make, or lead to, what a later one names.
bool changesNames(sql::StatementKind kind) {
    return sql::effectOf(kind) == sql::StatementEffect::Defines || kind == sql::StatementKind::Use ||
           kind == sql::StatementKind::Set || kind == sql::StatementKind::Attach;
}

/// The token at a byte of a statement, as bytes of the text; the statement's first one where none is told.
sql::TextRange placeOf(const sql::Script& script, std::size_t statement, const Error& error) {
    const sql::StatementSpan& span = script.statements()[statement].span;
    for (const sql::Token& token : script.statements()[statement].tree->tokens) {
        const bool isIt =
            error.byteOffset ? token.start <= *error.byteOffset && *error.byteOffset < token.end() : !token.isSilent();
        if (isIt) return {span.start + token.start, token.length};
    }
    return {span.start, std::min<std::size_t>(span.length, 1)};
}

/// `isOpen`: what it names may be made by a statement above.
sql::Finding findingOf(const Error& error, const sql::TextRange& place, bool isOpen) {
    const std::string_view open = "The server cannot tell before the statements above have run. As it is now: ";
    return {.rule = kServerRule,
            .severity = isOpen ? sql::Severity::Hint : sql::Severity::Error,
            .start = place.start,
            .length = place.length,
            .message = isOpen ? std::string(open) + error.text() : error.text(),
            .fix = {}};
}

/// Whether one of ours says what the server says of a statement. Not every server tells the place of a name that it
/// does not know; and what is no SQL stands at another place with each reader.
bool isKnown(const std::vector<sql::Finding>& known, const sql::StatementSpan& statement, const sql::TextRange& place,
             const Error& error) {
    return std::ranges::any_of(known, [&](const sql::Finding& one) {
        if (one.severity != sql::Severity::Error) return false;
        if (error.byteOffset && one.start < place.start + place.length && place.start < one.start + one.length)
            return true;
        if (one.start < statement.start || one.start > statement.end()) return false;
        return error.kind == ErrorKind::UnknownName ? !error.byteOffset && sql::isOfUnknownName(one.rule)
                                                    : one.rule == sql::kSyntaxRule;
    });
}

}  // namespace

std::vector<sql::Statement> statementsOf(const sql::Script& script) {
    std::vector<sql::Statement> all;
    for (std::size_t i = 0; i < script.statements().size(); ++i) {
        all.emplace_back(std::string(script.textOf(i)), script.language());
    }
    return all;
}

std::vector<sql::Finding> serverFindings(const sql::Script& script, const std::vector<db::Session::Opinion>& opinions,
                                         const std::vector<sql::Finding>& known) {
    std::vector<sql::Finding> found;
    bool mayBeMade = false;
    for (std::size_t i = 0; i < std::min(opinions.size(), script.statements().size()); ++i) {
        if (const std::optional<Error>& error = opinions[i].error) {
            const sql::TextRange place = placeOf(script, i, *error);
            if (!isKnown(known, script.statements()[i].span, place, *error)) {
                found.push_back(findingOf(*error, place, mayBeMade && error->kind == ErrorKind::UnknownName));
            }
        }
        mayBeMade = mayBeMade || changesNames(script.statements()[i].tree->kind);
    }
    return found;
}

}  // namespace pantry::work
