#include "core/work/text_find.h"

#include <fmt/format.h>
#include <re2/re2.h>

#include <algorithm>
#include <memory>

#include "core/base/text.h"
#include "core/base/utf8.h"

namespace pantry::work {
namespace {

using Groups = std::vector<re2::StringPiece>;

Result<std::unique_ptr<RE2>> compile(const TextQuery& query) {
    RE2::Options options;
    options.set_log_errors(false);
    options.set_case_sensitive(query.matchesCase);
    std::string pattern = query.isExpression ? query.pattern : RE2::QuoteMeta(query.pattern);
    if (query.wholeWords) pattern = "\\b(?:" + pattern + ")\\b";
    auto compiled = std::make_unique<RE2>("(?m)" + pattern, options);
    if (compiled->ok()) return compiled;
    return Error{.kind = ErrorKind::InvalidInput,
                 .message = fmt::format("The expression is not understood: {}.", compiled->error()),
                 .hint = "Put \\ before a sign that is meant as itself."};
}

/// Goes through the places where an expression fits something; `found` returns whether to go on.
template <class Found>
void forEachMatch(std::string_view text, const RE2& expression, std::size_t start, std::size_t end, Found found) {
    Groups groups(static_cast<std::size_t>(expression.NumberOfCapturingGroups()) + 1);
    const re2::StringPiece whole(text.data(), text.size());
    while (start <= end &&
           expression.Match(whole, start, end, RE2::UNANCHORED, groups.data(), static_cast<int>(groups.size()))) {
        const auto at = static_cast<std::size_t>(groups[0].data() - text.data());
        start = at + groups[0].size();
        if (groups[0].empty()) {
            ++start;
            continue;
        }
        if (!found(at, groups)) return;
    }
}

std::string expanded(std::string_view replacement, const Groups& groups) {
    std::string out;
    for (std::size_t i = 0; i < replacement.size(); ++i) {
        const char c = replacement[i];
        const char next = i + 1 < replacement.size() ? replacement[i + 1] : '\0';
        if (c == '$' && base::isAsciiDigit(next)) {
            const auto group = static_cast<std::size_t>(next - '0');
            if (group < groups.size()) out.append(groups[group].data() == nullptr ? "" : std::string(groups[group]));
            ++i;
        } else if ((c == '$' && next == '$') || (c == '\\' && next == '\\')) {
            out += c;
            ++i;
        } else if (c == '\\' && (next == 'n' || next == 't')) {
            out += next == 'n' ? '\n' : '\t';
            ++i;
        } else {
            out += c;
        }
    }
    return out;
}

}  // namespace

Result<std::vector<sql::TextRange>> findInText(std::string_view text, const TextQuery& query, std::size_t most) {
    std::vector<sql::TextRange> ranges;
    if (query.pattern.empty()) return ranges;
    const auto expression = compile(query);
    if (!expression) return expression.error();
    forEachMatch(text, **expression, 0, text.size(), [&](std::size_t at, const Groups& groups) {
        ranges.push_back({at, groups[0].size()});
        return ranges.size() < most;
    });
    return ranges;
}

Result<std::vector<FoundLine>> findInTexts(const std::vector<base::SharedText>& texts, const TextQuery& query,
                                           std::size_t most) {
    std::vector<FoundLine> lines;
    for (std::size_t i = 0; i < texts.size() && lines.size() < most; ++i) {
        const std::string text = texts[i].str();
        const auto found = findInText(text, query, most - lines.size());
        if (!found) return found.error();
        base::LineFinder finder(text);
        for (const sql::TextRange& range : *found) {
            const std::size_t start = range.start == 0 ? 0 : text.rfind('\n', range.start - 1) + 1;
            const std::size_t end = std::min(text.find('\n', range.start), text.size());
            constexpr std::size_t kShown = 90;
            lines.push_back({.text = i,
                             .range = range,
                             .line = finder.at(range.start).line,
                             .shown = base::oneLine(std::string_view(text).substr(start, end - start), kShown)});
        }
    }
    return lines;
}

Result<std::vector<sql::TextEdit>> replaceInText(std::string_view text, const TextQuery& query,
                                                 std::string_view replacement,
                                                 const std::optional<sql::TextRange>& within) {
    std::vector<sql::TextEdit> edits;
    if (query.pattern.empty()) return edits;
    const auto expression = compile(query);
    if (!expression) return expression.error();
    const std::size_t start = within ? std::min(within->start, text.size()) : 0;
    const std::size_t end = within ? std::min(within->start + within->length, text.size()) : text.size();
    forEachMatch(text, **expression, start, end, [&](std::size_t at, const Groups& groups) {
        edits.push_back(
            {at, groups[0].size(), query.isExpression ? expanded(replacement, groups) : std::string(replacement)});
        return true;
    });
    return edits;
}

}  // namespace pantry::work
