#pragma once

#include <cstddef>
#include <string>
#include <string_view>

#include "core/base/shared_text.h"
#include "core/base/soft_breaks.h"

namespace pantry::base {

/// A text and what an editor component holds of it: all, or of a very large one the part around a place, with very long
/// lines broken into rows. Says where a byte of the one is in the other, and follows the component's edits, so that
/// nobody has to read all of the component's text after each key.
///
/// Offsets are bytes. Threads: one at a time; copies of text() may go to others.
class ShownText {
public:
    static constexpr std::size_t kWhole = 1 << 20;   ///< a text up to here is held as a whole
    static constexpr std::size_t kPart = 512 << 10;  ///< about so much of a larger one

    [[nodiscard]] const SharedText& text() const { return text_; }
    void setText(const SharedText& text) { text_ = text; }
    /// Chooses what is held anew: the whole, or the part around a place of the text.
    /// Returns: what the component is to hold from now on; it is not told of that by noteInserted().
    [[nodiscard]] std::string showAround(std::size_t offset);
    /// Some bytes as the component is to get them, in place of some that it has.
    [[nodiscard]] std::string rowsOf(std::string_view added) const;
    /// The same for a whole text in place of all that is held.
    [[nodiscard]] std::string rowsOfAll(std::string_view text);

    [[nodiscard]] bool isPart() const { return isPart_; }
    [[nodiscard]] std::size_t partStart() const { return partStart_; }
    /// Lines of the text in front of the part.
    [[nodiscard]] std::size_t linesBefore() const { return linesBefore_; }
    [[nodiscard]] const SoftBreaks& breaks() const { return breaks_; }
    [[nodiscard]] bool mayBreak() const { return mayBreak_; }

    [[nodiscard]] std::size_t textAt(std::size_t shown) const { return partStart_ + breaks_.toText(shown); }
    /// At the edge of what is held, `held` bytes, when the byte lies outside.
    [[nodiscard]] std::size_t shownAt(std::size_t offset, std::size_t held) const;

    /// The component has got bytes at a place of what it holds; `next` is the byte behind them, 0 at the end.
    /// Returns: where in the text that was.
    std::size_t noteInserted(std::size_t at, std::string_view inserted, char next);
    std::size_t noteDeleted(std::size_t at, std::size_t length);

private:
    [[nodiscard]] std::size_t cutNear(std::size_t at) const;

    SharedText text_;
    SoftBreaks breaks_;
    std::size_t partStart_ = 0;
    std::size_t linesBefore_ = 0;
    bool isPart_ = false;
    bool mayBreak_ = true;  // a text with the sign of breaks in it stays in its lines
};

}  // namespace pantry::base
