#pragma once

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

namespace pantry::sql {

/// A document to be laid out within a width: text, places where a line may break, groups that stay on one line
/// when they fit and break at all their places when they don't.
///
/// The algorithm is Oppen's (Prettyprinting, ACM TOPLAS 2(4), 1980), with the whole document in memory: one pass
/// backwards measures every group, one pass forwards prints. Time and memory are linear, nothing recurses.
class Layout {
public:
    /// Makes room for so many texts.
    void reserve(std::size_t texts);

    /// Text without line breaks, or text that keeps its own (`text` must outlive the layout).
    void text(std::string_view text);
    void space() { add(Op::Space); }
    /// A space in a group that fits, else a line break.
    void line() { add(Op::Line); }
    /// Nothing in a group that fits, else a line break.
    void softLine() { add(Op::SoftLine); }
    /// A space when what follows up to the next break fits, else a line break, whatever the group does.
    void fillLine() { add(Op::FillLine); }
    void hardLine() { add(Op::HardLine); }
    /// A line break unless the line is still empty.
    void freshLine() { add(Op::FreshLine); }
    /// What follows must begin on a new line: a line comment stands before it.
    void breakAfter() { add(Op::BreakAfter); }

    /// In a group that breaks: blanks up to `column`, counted from the indentation of the line, and at least one. Else
    /// a space.
    void padTo(std::size_t column) { items_.push_back({Op::PadTo, static_cast<std::uint32_t>(column)}); }

    void openGroup() { add(Op::OpenGroup); }
    void closeGroup() { add(Op::CloseGroup); }
    void indent() { add(Op::Indent); }
    void outdent() { add(Op::Outdent); }

    /// Lays the document out. `width` is in columns, `indentWidth` in spaces.
    [[nodiscard]] std::string print(std::size_t width, std::size_t indentWidth) const;

private:
    enum class Op : std::uint8_t {
        Text,
        Space,
        Line,
        SoftLine,
        FillLine,
        HardLine,
        FreshLine,
        BreakAfter,
        PadTo,
        OpenGroup,
        CloseGroup,
        Indent,
        Outdent
    };
    struct Piece {
        std::string_view text;
        std::uint32_t width;  ///< in columns; of the last line, where it has several
        bool hasLines;
    };
    struct Item {
        Op op;
        std::uint32_t text = 0;
    };
    void add(Op op) { items_.push_back({op}); }
    [[nodiscard]] std::vector<std::uint32_t> measure() const;

    std::vector<Item> items_;
    std::vector<Piece> texts_;
};

}  // namespace pantry::sql
