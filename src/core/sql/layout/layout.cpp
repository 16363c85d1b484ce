#include "core/sql/layout/layout.h"

#include <algorithm>

#include "core/base/utf8.h"

namespace pantry::sql {
namespace {

/// Wider than any line: what holds a forced break never fits.
constexpr std::uint32_t kNeverFits = 1U << 30;

std::uint32_t plus(std::uint32_t a, std::uint32_t b) { return std::min(a + b, kNeverFits); }

}  // namespace

void Layout::reserve(std::size_t texts) {
    texts_.reserve(texts);
    items_.reserve(texts * 3);
}

void Layout::text(std::string_view text) {
    items_.push_back({Op::Text, static_cast<std::uint32_t>(texts_.size())});
    // Neither a line break nor a part of a longer character.
    const auto isPlain = [](char c) { return static_cast<unsigned char>(c - ' ') < 0x60; };
    if (std::ranges::all_of(text, isPlain)) {
        texts_.push_back({text, static_cast<std::uint32_t>(text.size()), false});
        return;
    }
    const std::size_t lineBreak = text.rfind('\n');
    const bool hasLines = lineBreak != std::string_view::npos;
    const std::string_view lastLine = hasLines ? text.substr(lineBreak + 1) : text;
    texts_.push_back({text, static_cast<std::uint32_t>(base::displayWidth(lastLine)), hasLines});
}

/// For each OpenGroup: columns of the group on one line and of what follows up to the next possible break.
/// For each FillLine: columns up to the next possible break.
std::vector<std::uint32_t> Layout::measure() const {
    std::vector<std::uint32_t> widths(items_.size(), 0);
    struct Open {
        std::uint32_t flat;  // columns inside the group, from here to its end
        std::uint32_t tail;  // columns after its end up to the next break
        std::uint32_t whole;
    };
    std::vector<Open> groups{{0, 0, 0}};
    std::uint32_t toBreak = 0;  // columns from here to the next possible break
    std::uint32_t whole = 0;    // the same when groups on the way are not broken
    for (std::size_t i = items_.size(); i-- > 0;) {
        std::uint32_t& flat = groups.back().flat;
        switch (items_[i].op) {
            case Op::Text: {
                const Piece& piece = texts_[items_[i].text];
                const std::uint32_t width = piece.hasLines ? kNeverFits : piece.width;
                flat = plus(flat, width);
                toBreak = plus(toBreak, width);
                whole = plus(whole, width);
                break;
            }
            case Op::Space:
            case Op::PadTo:
                flat = plus(flat, 1);
                toBreak = plus(toBreak, 1);
                whole = plus(whole, 1);
                break;
            case Op::Line:
                flat = plus(flat, 1);
                toBreak = whole = 0;
                break;
            case Op::SoftLine: toBreak = whole = 0; break;
            case Op::FillLine:
                // What begins a new line is not torn apart to stay on this one, unless it cannot be kept whole at all.
                widths[i] = plus(whole >= kNeverFits ? toBreak : whole, 1);
                flat = plus(flat, 1);
                toBreak = whole = 0;
                break;
            case Op::HardLine:
            case Op::FreshLine:
            case Op::BreakAfter:
                flat = kNeverFits;
                toBreak = whole = 0;
                break;
            case Op::CloseGroup: groups.push_back({0, toBreak, whole}); break;
            case Op::OpenGroup: {
                const Open group = groups.back();
                groups.pop_back();
                widths[i] = plus(group.flat, group.tail);
                groups.back().flat = plus(groups.back().flat, group.flat);
                whole = plus(group.flat, group.whole);
                break;
            }
            case Op::Indent:
            case Op::Outdent: break;
        }
    }
    return widths;
}

std::string Layout::print(std::size_t width, std::size_t indentWidth) const {
    const std::vector<std::uint32_t> widths = measure();
    std::string out;
    out.reserve(texts_.size() * 8);
    std::vector<bool> broken{true};  // for each open group
    std::size_t depth = 0;
    // Deeper than two thirds of the width nothing is indented further: what is nested ten thousand times must stay
    // small.
    const std::size_t deepest = width * 2 / 3;
    const auto indentation = [&] { return std::min(depth * indentWidth, deepest); };
    std::size_t column = 0;
    std::size_t lineStart = 0;      // indentation of the line at hand
    std::size_t pendingSpaces = 0;  // written only before text, so that no line ends in blanks
    bool mustBreak = false;
    const auto newLine = [&] {
        out += '\n';
        column = lineStart = indentation();
        pendingSpaces = column;
        mustBreak = false;
    };
    const auto isLineEmpty = [&] { return out.empty() || out.back() == '\n'; };
    const auto space = [&] {
        ++pendingSpaces;
        ++column;
    };
    for (std::size_t i = 0; i < items_.size(); ++i) {
        switch (items_[i].op) {
            case Op::Text: {
                if (mustBreak) newLine();
                const Piece& piece = texts_[items_[i].text];
                if (pendingSpaces > 0) out.append(pendingSpaces, ' ');
                out.append(piece.text);
                pendingSpaces = 0;
                column = piece.hasLines ? piece.width : column + piece.width;
                break;
            }
            case Op::Space:
                if (!mustBreak) space();
                break;
            case Op::PadTo: {
                if (mustBreak) break;
                const std::size_t target = lineStart + items_[i].text;
                const bool pads = broken.back() && column + 1 < target;
                const std::size_t blanks = pads ? target - column : 1;
                pendingSpaces += blanks;
                column += blanks;
                break;
            }
            case Op::Line:
                if (broken.back() || mustBreak) {
                    newLine();
                } else {
                    space();
                }
                break;
            case Op::SoftLine:
                if (broken.back() || mustBreak) newLine();
                break;
            case Op::FillLine:
                if (mustBreak || column + widths[i] > width) {
                    newLine();
                } else {
                    space();
                }
                break;
            case Op::HardLine: newLine(); break;
            case Op::FreshLine:
                if (!isLineEmpty()) newLine();
                break;
            case Op::BreakAfter: mustBreak = true; break;
            case Op::OpenGroup: broken.push_back(column + widths[i] > width); break;
            case Op::CloseGroup: broken.pop_back(); break;
            case Op::Indent: ++depth; break;
            case Op::Outdent: --depth; break;
        }
    }
    return out;
}

}  // namespace pantry::sql
