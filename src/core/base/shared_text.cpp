#include "core/base/shared_text.h"

#include <algorithm>
#include <bit>
#include <cstdint>
#include <cstring>
#include <utility>

namespace pantry::base {
namespace {

constexpr std::size_t kPieceBytes = 64 << 10;

/// Eight bytes at once, since each key counts those of a piece: a byte becomes zero where it ends a line, and a zero
/// keeps its highest bit clear when the others are carried over it.
std::size_t lineEndsIn(std::string_view text) {
    constexpr std::uint64_t kEnds = 0x0A0A0A0A0A0A0A0A;
    constexpr std::uint64_t kLow = 0x7F7F7F7F7F7F7F7F;
    std::size_t count = 0;
    for (; text.size() >= sizeof(std::uint64_t); text.remove_prefix(sizeof(std::uint64_t))) {
        std::uint64_t bytes = 0;
        std::memcpy(&bytes, text.data(), sizeof bytes);
        bytes ^= kEnds;
        count += static_cast<std::size_t>(std::popcount(~(((bytes & kLow) + kLow) | bytes | kLow)));
    }
    return count + static_cast<std::size_t>(std::ranges::count(text, '\n'));
}

}  // namespace

/// Pieces of equal size, none longer than kPieceBytes.
void SharedText::cutInto(std::vector<Piece>& pieces, std::string_view text) {
    const std::size_t count = (text.size() + kPieceBytes - 1) / kPieceBytes;
    for (std::size_t i = 0; i < count; ++i) {
        const std::size_t from = text.size() * i / count;
        const std::string_view bytes = text.substr(from, text.size() * (i + 1) / count - from);
        pieces.push_back({std::make_shared<const std::string>(bytes), lineEndsIn(bytes)});
    }
}

void SharedText::append(std::string_view text) {
    cutInto(pieces_, text);
    size_ += text.size();
}

std::string SharedText::str() const { return part(0, size_); }

std::string SharedText::part(std::size_t start, std::size_t length) const {
    std::string out;
    if (start >= size_) return out;
    length = std::min(length, size_ - start);
    out.reserve(length);
    auto [index, offset] = placeOf(start);
    for (; index < pieces_.size() && out.size() < length; ++index, offset = 0) {
        out.append(*pieces_[index].bytes, offset, length - out.size());
    }
    return out;
}

std::size_t SharedText::linesBefore(std::size_t offset) const {
    std::size_t count = 0;
    for (const Piece& piece : pieces_) {
        if (offset < piece.bytes->size()) return count + lineEndsIn(std::string_view(*piece.bytes).substr(0, offset));
        count += piece.lineEnds;
        offset -= piece.bytes->size();
    }
    return count;
}

SharedText::Place SharedText::placeOf(std::size_t offset) const {
    Place place;
    while (place.piece < pieces_.size() && offset >= pieces_[place.piece].bytes->size()) {
        offset -= pieces_[place.piece++].bytes->size();
    }
    place.offset = offset;
    return place;
}

void SharedText::replace(std::size_t start, std::size_t length, std::string_view with) {
    start = std::min(start, size_);
    length = std::min(length, size_ - start);
    Place from = placeOf(start);
    const Place to = placeOf(start + length);
    // Behind the end of a piece one writes into that piece, or each key at the end would make one of its own.
    if (from.piece > 0 && from.offset == 0) from = {from.piece - 1, pieces_[from.piece - 1].bytes->size()};
    std::string joined;
    if (from.piece < pieces_.size()) joined.assign(*pieces_[from.piece].bytes, 0, from.offset);
    joined += with;
    const bool endsWithin = to.piece < pieces_.size() && (to.offset > 0 || to.piece == from.piece);
    if (endsWithin) joined.append(*pieces_[to.piece].bytes, to.offset);
    const std::size_t behind = std::max(from.piece + 1, to.piece + (endsWithin ? 1 : 0));

    std::vector<Piece> pieces(pieces_.begin(), pieces_.begin() + static_cast<std::ptrdiff_t>(from.piece));
    cutInto(pieces, joined);
    if (behind < pieces_.size()) {
        pieces.insert(pieces.end(), pieces_.begin() + static_cast<std::ptrdiff_t>(behind), pieces_.end());
    }
    pieces_ = std::move(pieces);
    size_ = size_ - length + with.size();
}

bool operator==(const SharedText& left, const SharedText& right) {
    if (left.size_ != right.size_) return false;
    // Pieces that both share need no look at their bytes.
    SharedText::Place a;
    SharedText::Place b;
    while (a.piece < left.pieces_.size()) {
        const std::string_view ours(*left.pieces_[a.piece].bytes);
        const std::string_view theirs(*right.pieces_[b.piece].bytes);
        const std::size_t length = std::min(ours.size() - a.offset, theirs.size() - b.offset);
        const bool isShared = ours.data() == theirs.data() && a.offset == b.offset;
        if (!isShared && ours.substr(a.offset, length) != theirs.substr(b.offset, length)) return false;
        for (auto [place, size] : {std::pair{&a, ours.size()}, std::pair{&b, theirs.size()}}) {
            place->offset += length;
            if (place->offset == size) *place = {place->piece + 1, 0};
        }
    }
    return true;
}

bool operator==(const SharedText& left, std::string_view right) {
    if (left.size_ != right.size()) return false;
    for (const auto& piece : left.pieces_) {
        if (!right.starts_with(std::string_view(*piece.bytes))) return false;
        right.remove_prefix(piece.bytes->size());
    }
    return true;
}

}  // namespace pantry::base
