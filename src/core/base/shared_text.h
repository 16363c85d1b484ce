#pragma once

#include <cstddef>
#include <memory>
#include <ostream>
#include <string>
#include <string_view>
#include <vector>

namespace pantry::base {

/// A text of any size that is cheap to copy and to edit: it is made of pieces that copies share and nobody changes. An
/// edit makes new pieces where it falls, so that a copy taken before stays as it was: somebody writes it to disk while
/// typing goes on.
///
/// Threads: as a value; copies on different threads share pieces safely.
/// Cost:    copying and editing grow with the number of pieces (one for each 64 KiB), not with the bytes.
class SharedText {
public:
    SharedText() = default;
    // A text is what it says: strings may stand for it everywhere.
    SharedText(std::string_view text) { append(text); }                   // NOLINT(google-explicit-constructor)
    SharedText(const std::string& text) { append(text); }                 // NOLINT(google-explicit-constructor)
    SharedText(const char* text) : SharedText(std::string_view(text)) {}  // NOLINT(google-explicit-constructor)

    [[nodiscard]] std::size_t size() const { return size_; }
    [[nodiscard]] bool empty() const { return size_ == 0; }
    /// All bytes in one. Costs a copy of the whole.
    [[nodiscard]] std::string str() const;
    /// The bytes from `start` on, at most `length`; less where the text ends.
    [[nodiscard]] std::string part(std::size_t start, std::size_t length) const;

    /// How many line ends stand before a place. Looks at the bytes of one piece.
    [[nodiscard]] std::size_t linesBefore(std::size_t offset) const;

    /// Whether the other is a copy of this one, or this one of the other, that neither was edited since. Texts that
    /// only happen to be equal are not told apart from different ones. Looks at no byte.
    [[nodiscard]] bool isCopyOf(const SharedText& other) const {
        return size_ == other.size_ && pieces_ == other.pieces_;
    }

    /// Puts `with` in place of `length` bytes from `start` on; both are clamped to the text.
    void replace(std::size_t start, std::size_t length, std::string_view with);

    friend bool operator==(const SharedText& left, const SharedText& right);
    friend bool operator==(const SharedText& left, std::string_view right);
    friend bool operator==(const SharedText& left, const std::string& right) { return left == std::string_view(right); }
    friend bool operator==(const SharedText& left, const char* right) { return left == std::string_view(right); }
    friend std::ostream& operator<<(std::ostream& out, const SharedText& text) { return out << text.str(); }

private:
    struct Piece {
        std::shared_ptr<const std::string> bytes;
        std::size_t lineEnds = 0;
        friend bool operator==(const Piece& a, const Piece& b) { return a.bytes == b.bytes; }
    };
    struct Place {
        std::size_t piece = 0;   ///< pieces_.size() at the end
        std::size_t offset = 0;  ///< in that piece
    };
    static void cutInto(std::vector<Piece>& pieces, std::string_view text);
    void append(std::string_view text);
    [[nodiscard]] Place placeOf(std::size_t offset) const;

    std::vector<Piece> pieces_;  // none is empty
    std::size_t size_ = 0;
};

}  // namespace pantry::base
