#pragma once

#include <string>
#include <string_view>

#include "core/sql/check/findings.h"
#include "core/sql/complete/completion.h"
#include "core/sql/layout/format_choice.h"
#include "core/sql/layout/format_part.h"
#include "core/sql/rewrite/rewrite.h"
#include "core/sql/syntax/script.h"
#include "core/sql/text/lexer.h"

namespace pantry::test {

/// A query that was understood is still one after it was written in another way; edits are of the text, in order.
inline std::string brokenRewriting(std::string_view text, std::size_t caret, sql::Dialect dialect,
                                   const catalog::View& catalog) {
    sql::Script script(dialect);
    script.setText(text);
    const auto statement = script.indexAt(caret);
    if (!statement) return {};
    const bool isUnderstood = !script.statements()[*statement].tree->hasErrors();
    for (const sql::Rewriting& way : sql::rewritings()) {
        const auto change = sql::rewrite(way.id, script, catalog, {.caret = caret, .columns = {}});
        if (!change) continue;
        std::size_t at = 0;
        for (const sql::TextEdit& edit : change->edits) {
            if (edit.start < at || edit.start + edit.length > text.size())
                return std::string(way.id) + " stays in the text";
            at = edit.start + edit.length;
        }
        sql::Script after(dialect);
        after.setText(sql::edited(text, change->edits));
        if (after.text().size() < at && change->edits.empty()) return std::string(way.id) + " changes something";
        const auto same = after.indexAt(std::min(script.statements()[*statement].span.start, after.text().size()));
        if (isUnderstood && same && after.statements()[*same].tree->hasErrors()) {
            return std::string(way.id) + " leaves a query that is understood: " + std::string(after.textOf(*same));
        }
    }
    return {};
}

/// What must hold for any bytes in any dialect, whatever they mean. `choice` selects the caret, the edit and the style.
/// Returns what does not hold, or an empty text.
inline std::string brokenInvariant(std::string_view text, sql::Dialect dialect, std::uint32_t choice) {
    using namespace sql;
    std::size_t at = 0;
    for (const Token& token : lex(text, dialect)) {
        if (token.start != at || token.length == 0) return "tokens cover the text";
        at = token.end();
    }
    if (at != text.size()) return "tokens reach the end";

    FormatOptions style{.width = 20 + choice % 100, .indentWidth = 1 + choice % 7};
    for (const FormatChoice& c : formatChoices()) c.set(style, choice % c.words.size());
    const std::string once = formatScript(text, dialect, style);
    if (!haveSameTokens(text, once, dialect)) return "formatting keeps the tokens";
    if (formatScript(once, dialect, style) != once) return "formatting settles";

    const std::size_t from = text.empty() ? 0 : choice / 3 % text.size();
    const FormattedPart part = formatPart(text, from, from + choice % 50, dialect, style);
    const std::string withPart =
        std::string(text.substr(0, part.start)) + part.text + std::string(text.substr(part.end));
    if (!haveSameTokens(text, withPart, dialect)) return "formatting a part keeps the tokens";

    static const catalog::View catalog({{.schema = "main",
                                         .name = "plot",
                                         .columns = {{"plot_id", "integer", false, 1}, {"name", "text"}},
                                         .rowEstimate = 500'000},
                                        {.schema = "main",
                                         .name = "tree",
                                         .columns = {{"tree_id", "integer", false, 1}, {"plot_id", "integer"}},
                                         .foreignKeys = {{"", {"plot_id"}, "main", "plot", {"plot_id"}}}}},
                                       {"main"});
    const std::size_t caret = text.empty() ? 0 : choice % (text.size() + 1);
    const Completion completion = completeAt(text, caret, dialect, catalog);
    if (completion.start + completion.length > text.size()) return "completion stays in the text";
    for (const Finding& f : checkScript(text, dialect, {.catalog = &catalog})) {
        if (f.start + f.length > text.size()) return "findings stay in the text";
        if (f.fix && f.fix->start + f.fix->length > text.size()) return "mends stay in the text";
    }

    if (std::string broken = brokenRewriting(text, caret, dialect, catalog); !broken.empty()) return broken;

    Script edited(dialect);
    edited.setText(text);
    std::string changed(text);
    changed.insert(caret, choice % 3 == 0 ? ";" : choice % 3 == 1 ? "'" : " begin ");
    edited.setText(changed);
    Script fresh(dialect);
    fresh.setText(changed);
    if (edited.tokens() != fresh.tokens()) return "an edit reads the tokens that a new text has";
    if (edited.statements().size() != fresh.statements().size())
        return "an edit reads the statements that a new text has";
    for (std::size_t i = 0; i < fresh.statements().size(); ++i) {
        const auto& a = edited.statements()[i];
        const auto& b = fresh.statements()[i];
        if (a.span != b.span || a.tree->tokens != b.tree->tokens) return "an edit parses what a new text has";
    }
    return {};
}

}  // namespace pantry::test
