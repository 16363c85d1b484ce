#include "core/base/shared_text.h"

#include <algorithm>
#include <utility>

namespace pantry::base {
namespace {

constexpr std::size_t kPieceBytes = 64 << 10;

/// Cuts a text into pieces of equal size, none longer than kPieceBytes.
void cutInto(std::vector<std::shared_ptr<const std::string>>& pieces, std::string_view text) {
    const std::size_t count = (text.size() + kPieceBytes - 1) / kPieceBytes;
    for (std::size_t i = 0; i < count; ++i) {
        const std::size_t from = text.size() * i / count;
        const std::size_t to = text.size() * (i + 1) / count;
        pieces.push_back(std::make_shared<const std::string>(text.substr(from, to - from)));
    }
}

}  // namespace

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
        out.append(*pieces_[index], offset, length - out.size());
    }
    return out;
}

std::size_t SharedText::linesBefore(std::size_t offset) const {
    std::size_t count = 0;
    for (const Piece& piece : pieces_) {
        if (offset == 0) break;
        const std::string_view looked = std::string_view(*piece).substr(0, offset);
        count += static_cast<std::size_t>(std::ranges::count(looked, '\n'));
        offset -= looked.size();
    }
    return count;
}

SharedText::Place SharedText::placeOf(std::size_t offset) const {
    Place place;
    while (place.piece < pieces_.size() && offset >= pieces_[place.piece]->size()) {
        offset -= pieces_[place.piece++]->size();
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
    if (from.piece > 0 && from.offset == 0) from = {from.piece - 1, pieces_[from.piece - 1]->size()};
    std::string joined;
    if (from.piece < pieces_.size()) joined.assign(*pieces_[from.piece], 0, from.offset);
    joined += with;
    const bool endsWithin = to.piece < pieces_.size() && (to.offset > 0 || to.piece == from.piece);
    if (endsWithin) joined.append(*pieces_[to.piece], to.offset);
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
        const std::string_view ours(*left.pieces_[a.piece]);
        const std::string_view theirs(*right.pieces_[b.piece]);
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
        if (!right.starts_with(std::string_view(*piece))) return false;
        right.remove_prefix(piece->size());
    }
    return true;
}

}  // namespace pantry::base
