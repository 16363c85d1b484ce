#include "core/sql/check/failure_advice.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.h"
#include "core/base/utf8.h"
#include "core/sql/check/findings.h"
#include "core/sql/syntax/parser.h"

namespace pantry::sql {
namespace {

constexpr std::size_t kLongestLookedAt = 64 << 10;  // bytes of a statement
constexpr std::string_view kQuestion = "Did you mean ";

}  // namespace

Error withAdvice(Error error, std::string_view statement, const Language& language, const catalog::View& catalog) {
    if (error.kind != ErrorKind::UnknownName || statement.size() > kLongestLookedAt) return error;
    CheckOptions options;
    options.catalog = &catalog;
    for (const Finding& finding : checkScript(statement, language, options)) {
        const bool isName = finding.rule == "unknown-table" || finding.rule == "unknown-column";
        if (!isName) continue;
        const std::string_view name = statement.substr(finding.start, finding.length);
        // The server must mean the same name.
        if (base::findIgnoringCase(error.message, base::trimmed(name)) == std::string_view::npos) continue;
        if (!error.byteOffset) error.byteOffset = finding.start;
        const std::size_t question = finding.message.find(kQuestion);
        if (question != std::string::npos && error.hint.empty()) error.hint = finding.message.substr(question);
        return error;
    }
    return error;
}

Error withTextAdvice(Error error, std::string_view statement, const Language& language) {
    const bool isRefused = error.kind == ErrorKind::Statement || error.kind == ErrorKind::UnknownName;
    if (!isRefused || !error.hint.empty() || statement.size() > kLongestLookedAt) return error;
    const SyntaxTree tree = parseSingle(statement, language);
    const auto missing = std::ranges::find(tree.errors, true, &SyntaxError::lacksTerminator);
    if (missing == tree.errors.end()) return error;
    const std::size_t at = tree.tokens[missing->token].start;
    error.hint = fmt::format("Line {} of it begins another statement: put “;” before it.",
                             base::linePositionAt(statement, at).line);
    if (!error.byteOffset) error.byteOffset = at;
    return error;
}

}  // namespace pantry::sql
