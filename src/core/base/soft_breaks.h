#pragma once

#include <cstddef>
#include <string>
#include <string_view>
#include <vector>

namespace pantry::base {

/// Where a very long line is shown in several rows. The shown text has a sign and a line end at each such place, which
/// the text itself has not: a component that lays a line out as a whole then has short rows to lay out.
///
/// The sign is U+FDD0, one of the code points that Unicode reserves for use inside of a program (23.7,
/// “Noncharacters”). What belongs to a break is known by its place: it is counted from what was inserted and
/// deleted, so that the text stays what it is even where half a break was deleted.
///
/// Offsets are bytes. Threads: one at a time.
class SoftBreaks {
public:
    static constexpr std::string_view kSign = "\xEF\xB7\x90";
    static constexpr std::string_view kBreak = "\xEF\xB7\x90\n";
    static constexpr std::size_t kLongestRow = 2048;  ///< a line up to here stays one row
    static constexpr std::size_t kRow = 512;          ///< about so much of a longer one

    /// Whether a line of the text is long enough to be broken, and can be: a text with the sign in it cannot.
    [[nodiscard]] static bool areNeeded(std::string_view text);
    /// The text as it is shown. Rows end behind a blank or a comma where there is one, never within a code point.
    [[nodiscard]] static std::string broken(std::string_view text);
    /// The text without what broken() has put in; only for texts that had no sign.
    [[nodiscard]] static std::string unbroken(std::string_view shown);

    void clear();
    /// Of what was inserted into the shown text at `at`, signs, and line ends behind them, are breaks. `next` is the
    /// byte that follows it, 0 at the end.
    void noteInserted(std::size_t at, std::string_view inserted, char next);
    void noteDeleted(std::size_t at, std::size_t length);

    [[nodiscard]] bool empty() const { return dropped_.empty(); }
    /// How many line ends before a place of the shown text are breaks.
    [[nodiscard]] std::size_t rowsBefore(std::size_t shown) const;
    /// Whether the shown line that starts here goes on with the line before.
    [[nodiscard]] bool isContinued(std::size_t lineStart) const;
    /// From the shown text to the text and back. A place at a break is the one behind it.
    [[nodiscard]] std::size_t toText(std::size_t shown) const;
    [[nodiscard]] std::size_t toShown(std::size_t offset) const;
    /// The part of some shown bytes, starting at `at`, that is text.
    [[nodiscard]] std::string textOf(std::size_t at, std::string_view shown) const;

    /// One byte for each byte of text, as many as the shown bytes from `at` on have, becomes one for each shown byte;
    /// breaks get `filler`.
    [[nodiscard]] std::string spread(std::size_t at, std::size_t shownLength, std::string_view perByte,
                                     char filler) const;

    /// The two ends of the break that a place of the shown text lies in or at; equal where there is none.
    struct Range {
        std::size_t start;
        std::size_t end;
    };
    [[nodiscard]] Range around(std::size_t shown) const;

private:
    /// Bytes of the shown text that are not of the text.
    struct Dropped {
        std::size_t at;
        std::size_t length;      // 3 for a sign, 1 for a line end
        std::size_t before = 0;  // dropped bytes in front of it
        std::size_t linesBefore = 0;
    };
    [[nodiscard]] std::size_t firstFrom(std::size_t at) const;
    void countFrom(std::size_t index);

    std::vector<Dropped> dropped_;  // in order
};

}  // namespace pantry::base
