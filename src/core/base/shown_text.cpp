#include "core/base/shown_text.h"

#include <algorithm>

namespace pantry::base {
namespace {

bool hasSign(std::string_view text) { return text.find(SoftBreaks::kSign) != std::string_view::npos; }

}  // namespace

std::string ShownText::showAround(std::size_t offset) {
    isPart_ = text_.size() > kWhole;
    partStart_ = isPart_ && offset > kPart / 2 ? cutNear(offset - kPart / 2) : 0;
    const std::size_t end = isPart_ ? cutNear(partStart_ + kPart) : text_.size();
    linesBefore_ = text_.linesBefore(partStart_);
    std::string shown = rowsOfAll(text_.part(partStart_, end - partStart_));
    breaks_.clear();
    if (mayBreak_) breaks_.noteInserted(0, shown, 0);
    return shown;
}

std::string ShownText::rowsOf(std::string_view added) const {
    return mayBreak_ && SoftBreaks::areNeeded(added) ? SoftBreaks::broken(added) : std::string(added);
}

std::string ShownText::rowsOfAll(std::string_view text) {
    mayBreak_ = !hasSign(text);
    return rowsOf(text);
}

/// Where a part may begin or end: at a line where there is one near, else at a character.
std::size_t ShownText::cutNear(std::size_t at) const {
    constexpr std::size_t kNear = 64 << 10;
    constexpr std::size_t kLongestCharacter = 4;
    if (at == 0 || at >= text_.size()) return std::min(at, text_.size());
    const std::size_t from = at - std::min(at, kNear);
    const std::string near = text_.part(from, at - from + kLongestCharacter);
    const std::size_t line = near.rfind('\n', at - from - 1);
    if (line != std::string::npos) return from + line + 1;
    std::size_t end = at - from;
    while (end > 0 && end < near.size() && (static_cast<unsigned char>(near[end]) & 0xC0U) == 0x80U) --end;
    return from + end;
}

std::size_t ShownText::shownAt(std::size_t offset, std::size_t held) const {
    return std::min(held, offset <= partStart_ ? 0 : breaks_.toShown(offset - partStart_));
}

std::size_t ShownText::noteInserted(std::size_t at, std::string_view inserted, char next) {
    const std::size_t offset = textAt(at);
    if (mayBreak_ && (!breaks_.empty() || hasSign(inserted))) {
        breaks_.noteInserted(at, inserted, next);
        text_.replace(offset, 0, breaks_.textOf(at, inserted));
    } else {
        text_.replace(offset, 0, inserted);
    }
    return offset;
}

std::size_t ShownText::noteDeleted(std::size_t at, std::size_t length) {
    const std::size_t offset = textAt(at);
    const std::size_t ofText = textAt(at + length) - offset;
    breaks_.noteDeleted(at, length);
    text_.replace(offset, ofText, {});
    return offset;
}

}  // namespace pantry::base
