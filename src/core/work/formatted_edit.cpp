#include "core/work/formatted_edit.h"

#include <algorithm>
#include <string_view>
#include <utility>

#include "core/base/text.h"
#include "core/base/utf8.h"
#include "core/markdown/outline.h"

namespace pantry::work {
namespace {

void takePart(FormattedEdit& edit, sql::FormattedPart part) {
    edit.start = part.start;
    edit.end = part.end;
    edit.text = std::move(part.text);
    edit.unread = std::move(part.unread);
}

/// The block that holds bytes of a selection; none where it reaches beyond one.
const markdown::CodeBlock* blockAround(const markdown::Outline& outline, std::size_t start, std::size_t end) {
    const auto block = std::ranges::find_if(
        outline.blocks, [&](const auto& one) { return one.isSql() && one.start <= start && end <= one.end; });
    return block != outline.blocks.end() ? &*block : nullptr;
}

/// Every block of SQL in turn; the text around them is copied.
void formatBlocks(FormattedEdit& edit, std::string_view whole, const sql::Language& language, const FormatWish& wish) {
    std::size_t copied = 0;
    edit.caret = wish.caret;
    for (const markdown::CodeBlock& block : markdown::outlineOf(whole).blocks) {
        if (!block.isSql()) continue;
        edit.text += whole.substr(copied, block.start - copied);
        copied = block.end;
        const std::string_view content = whole.substr(block.start, block.end - block.start);
        const bool holdsCaret = block.start <= wish.caret && wish.caret < block.end;
        const std::size_t caret = holdsCaret ? wish.caret - block.start : 0;
        sql::FormattedText formatted = sql::formatKeepingCaret(content, caret, language, wish.options);
        const std::size_t base = edit.text.size();
        if (holdsCaret) edit.caret = base + formatted.caret;
        for (sql::UnreadStatement& one : formatted.unread) {
            one.start += block.start;
            one.offset += block.start;
            one.formattedOffset += base;
            edit.unread.push_back(std::move(one));
        }
        edit.text += formatted.text;
        const bool needsLineEnd = !formatted.text.empty() && formatted.text.back() != '\n' && content.ends_with('\n');
        if (needsLineEnd) edit.text += '\n';
        if (wish.caret >= block.end) edit.caret = edit.text.size() + (wish.caret - block.end);
    }
    edit.text += whole.substr(copied);
}

}  // namespace

FormattedEdit formatText(const base::SharedText& text, TextKind kind, const sql::Language& language,
                         const FormatWish& wish) {
    const std::string whole = text.str();
    FormattedEdit edit{.of = text, .start = 0, .end = whole.size()};
    const bool isPart = wish.end > wish.start;
    if (kind == TextKind::Markdown && isPart) {
        const markdown::Outline outline = markdown::outlineOf(whole);
        const markdown::CodeBlock* block = blockAround(outline, wish.start, wish.end);
        if (block == nullptr) {
            takePart(edit, {wish.start, wish.end, whole.substr(wish.start, wish.end - wish.start), {}});
        } else {
            takePart(edit, sql::formatPart(markdown::sqlOf(whole, outline.blocks), wish.start, wish.end, language,
                                           wish.options));
        }
    } else if (kind == TextKind::Markdown) {
        formatBlocks(edit, whole, language, wish);
    } else if (isPart) {
        takePart(edit, sql::formatPart(whole, wish.start, wish.end, language, wish.options));
    } else {
        sql::FormattedText formatted = sql::formatKeepingCaret(whole, wish.caret, language, wish.options);
        edit.text = std::move(formatted.text);
        edit.caret = formatted.caret;
        edit.unread = std::move(formatted.unread);
    }
    edit.isSame = std::string_view(whole).substr(edit.start, edit.end - edit.start) == edit.text;
    if (!edit.unread.empty()) {
        const std::string after = whole.substr(0, edit.start) + edit.text + whole.substr(edit.end);
        edit.unreadLine = base::linePositionAt(after, edit.unread.front().formattedOffset).line;
    }
    return edit;
}

}  // namespace pantry::work
