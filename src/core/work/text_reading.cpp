#include "core/work/text_reading.h"

#include <algorithm>
#include <ranges>
#include <string>

#include "core/sql/syntax/splitter.h"

namespace pantry::work {
namespace {

bool isShort(const sql::StatementSpan& span) { return span.length <= TextReading::kLongestStatement; }

}  // namespace

TextKind textKindOf(std::string_view fileName) {
    return markdown::isMarkdownName(fileName) ? TextKind::Markdown : TextKind::Sql;
}

std::string sqlIn(std::string text, TextKind kind) {
    return kind == TextKind::Markdown ? markdown::sqlOf(text, markdown::outlineOf(text).blocks) : std::move(text);
}

TextReading TextReading::of(const base::SharedText& text, const sql::Language& language, const TextReading* before,
                            TextKind kind) {
    TextReading reading(language);
    reading.text_ = text;
    reading.kind_ = kind;
    reading.isTooLarge_ = true;
    if (text.size() > kMaxBytes) return reading;
    std::string whole = text.str();
    if (kind == TextKind::Markdown) {
        reading.markdown_ = markdown::outlineOf(whole);
        whole = markdown::sqlOf(whole, reading.markdown_->blocks);
    }
    if (!reading.canRead(whole, before)) return reading;
    reading.isTooLarge_ = false;
    if (kind == TextKind::Sql && exchange::looksLikeJson(whole)) reading.json_ = exchange::outlineJson(whole);
    reading.findings_ = sql::missingTerminators(reading.script_);
    const auto& statements = reading.script_.statements();
    for (std::size_t i = 0; i < statements.size(); ++i) reading.byHash_.emplace_back(statements[i].textHash, i);
    std::ranges::sort(reading.byHash_);
    return reading;
}

/// Takes the text apart, unless a statement of it is too long; of such a text only that is looked at until it is not.
bool TextReading::canRead(const std::string& whole, const TextReading* before) {
    const bool wasTooLarge = before != nullptr && before->isTooLarge_;
    if (wasTooLarge && !std::ranges::all_of(sql::splitStatements(whole, language()), isShort)) return false;
    if (before != nullptr && before->language() == language()) script_ = before->script_;
    script_.setText(whole);
    if (std::ranges::all_of(script_.statements(), isShort, &sql::ScriptStatement::span)) return true;
    script_ = sql::Script(script_.language());
    return false;
}

bool TextReading::isSqlAt(std::size_t offset) const {
    if (!markdown_) return !json_;
    return std::ranges::any_of(markdown_->blocks, [&](const markdown::CodeBlock& one) {
        return one.isSql() && one.start <= offset && offset <= one.end;
    });
}

std::vector<std::size_t> TextReading::statementsLike(std::string_view statement) const {
    std::vector<std::size_t> found;
    if (statement.size() > kLongestStatement) return found;
    const std::size_t hash = sql::statementHash(statement);
    for (auto at = std::ranges::lower_bound(byHash_, std::pair(hash, std::size_t{0}));
         at != byHash_.end() && at->first == hash; ++at) {
        if (script_.textOf(at->second) == statement) found.push_back(at->second);
    }
    return found;
}

}  // namespace pantry::work
