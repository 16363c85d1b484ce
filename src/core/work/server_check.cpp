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

}  // namespace

std::vector<sql::Statement> statementsOf(const sql::Script& script) {
    std::vector<sql::Statement> all;
    for (std::size_t i = 0; i < script.statements().size(); ++i) {
        all.emplace_back(std::string(script.textOf(i)), script.language());
    }
    return all;
}

std::vector<sql::Finding> serverFindings(const sql::Script& script, const std::vector<db::Session::Opinion>& opinions) {
    std::vector<sql::Finding> found;
    bool mayBeMade = false;
    for (std::size_t i = 0; i < std::min(opinions.size(), script.statements().size()); ++i) {
        const db::Session::Opinion& opinion = opinions[i];
        if (opinion.error) {
            const sql::TextRange place = placeOf(script, i, *opinion.error);
            const bool isOpen = mayBeMade && opinion.error->kind == ErrorKind::UnknownName;
            sql::Finding finding{.rule = kServerRule,
                                 .severity = isOpen ? sql::Severity::Hint : sql::Severity::Error,
                                 .start = place.start,
                                 .length = place.length,
                                 .message = opinion.error->text(),
                                 .fix = {}};
            if (isOpen) {
                finding.message =
                    "The server cannot tell before the statements above have run. As it is now: " + finding.message;
            }
            found.push_back(std::move(finding));
        }
        mayBeMade = mayBeMade || changesNames(script.statements()[i].tree->kind);
    }
    return found;
}

}  // namespace pantry::work
