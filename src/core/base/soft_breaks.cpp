#include "core/base/soft_breaks.h"

#include <algorithm>

namespace pantry::base {
namespace {

bool isContinuationByte(char c) { return (static_cast<unsigned char>(c) & 0xC0U) == 0x80U; }

/// How much of `rest`, which is longer than a row, stands in its first row.
std::size_t rowLength(std::string_view rest) {
    constexpr std::size_t kNoShorter = SoftBreaks::kRow / 2;
    const std::string_view row = rest.substr(0, SoftBreaks::kRow);
    const std::size_t blank = row.find_last_of(" ,\t");
    if (blank != std::string_view::npos && blank >= kNoShorter) return blank + 1;
    std::size_t length = row.size();
    while (length > kNoShorter && isContinuationByte(rest[length])) --length;
    return length;
}

void appendBroken(std::string& out, std::string_view line) {
    if (line.size() > SoftBreaks::kLongestRow) {
        while (line.size() > SoftBreaks::kRow) {
            const std::size_t length = rowLength(line);
            out.append(line.substr(0, length)).append(SoftBreaks::kBreak);
            line.remove_prefix(length);
        }
    }
    out.append(line);
}

}  // namespace

bool SoftBreaks::areNeeded(std::string_view text) {
    bool isLong = false;
    for (std::size_t start = 0; start < text.size() && !isLong;) {
        const std::size_t end = std::min(text.find('\n', start), text.size());
        isLong = end - start > kLongestRow;
        start = end + 1;
    }
    return isLong && text.find(kSign) == std::string_view::npos;
}

std::string SoftBreaks::broken(std::string_view text) {
    std::string out;
    out.reserve(text.size() + text.size() / 128);
    for (std::size_t start = 0; start < text.size();) {
        const std::size_t end = std::min(text.find('\n', start), text.size());
        appendBroken(out, text.substr(start, end - start));
        if (end < text.size()) out += '\n';
        start = end + 1;
    }
    return out;
}

std::string SoftBreaks::unbroken(std::string_view shown) {
    SoftBreaks breaks;
    breaks.noteInserted(0, shown, 0);
    return breaks.textOf(0, shown);
}

void SoftBreaks::clear() { dropped_.clear(); }

std::size_t SoftBreaks::firstFrom(std::size_t at) const {
    return static_cast<std::size_t>(std::ranges::lower_bound(dropped_, at, {}, &Dropped::at) - dropped_.begin());
}

void SoftBreaks::countFrom(std::size_t index) {
    if (!dropped_.empty()) dropped_.front().before = dropped_.front().linesBefore = 0;
    for (index = std::max<std::size_t>(index, 1); index < dropped_.size(); ++index) {
        const Dropped& last = dropped_[index - 1];
        dropped_[index].before = last.before + last.length;
        dropped_[index].linesBefore = last.linesBefore + (last.length == 1 ? 1 : 0);
    }
}

void SoftBreaks::noteInserted(std::size_t at, std::string_view inserted, char next) {
    const std::size_t index = firstFrom(at);
    for (std::size_t i = index; i < dropped_.size(); ++i) dropped_[i].at += inserted.size();
    std::vector<Dropped> fresh;
    const bool isBehindSign =
        index > 0 && dropped_[index - 1].length == kSign.size() && dropped_[index - 1].at + kSign.size() == at;
    if (isBehindSign && inserted.starts_with('\n')) fresh.push_back({.at = at, .length = 1});
    for (std::size_t i = inserted.find(kSign); i != std::string_view::npos; i = inserted.find(kSign, i + 1)) {
        fresh.push_back({.at = at + i, .length = kSign.size()});
        const std::size_t behind = i + kSign.size();
        const char follows = behind < inserted.size() ? inserted[behind] : next;
        const bool isKnown = behind == inserted.size() && index < dropped_.size() && dropped_[index].at == at + behind;
        if (follows == '\n' && !isKnown) fresh.push_back({.at = at + behind, .length = 1});
    }
    dropped_.insert(dropped_.begin() + static_cast<std::ptrdiff_t>(index), fresh.begin(), fresh.end());
    countFrom(index);
}

void SoftBreaks::noteDeleted(std::size_t at, std::size_t length) {
    const std::size_t index = firstFrom(at);
    const std::size_t behind = firstFrom(at + length);
    dropped_.erase(dropped_.begin() + static_cast<std::ptrdiff_t>(index),
                   dropped_.begin() + static_cast<std::ptrdiff_t>(behind));
    for (std::size_t i = index; i < dropped_.size(); ++i) dropped_[i].at -= length;
    countFrom(index);
}

std::size_t SoftBreaks::rowsBefore(std::size_t shown) const {
    const std::size_t index = firstFrom(shown);
    if (index == 0) return 0;
    return dropped_[index - 1].linesBefore + (dropped_[index - 1].length == 1 ? 1 : 0);
}

bool SoftBreaks::isContinued(std::size_t lineStart) const {
    const std::size_t index = firstFrom(lineStart);
    return index > 0 && dropped_[index - 1].length == 1 && dropped_[index - 1].at + 1 == lineStart;
}

std::size_t SoftBreaks::toText(std::size_t shown) const {
    const std::size_t index = firstFrom(shown);
    if (index == 0) return shown;
    const Dropped& last = dropped_[index - 1];
    return shown - last.before - std::min(last.length, shown - last.at);
}

std::size_t SoftBreaks::toShown(std::size_t offset) const {
    const auto behind =
        std::ranges::upper_bound(dropped_, offset, {}, [](const Dropped& d) { return d.at - d.before; });
    if (behind == dropped_.begin()) return offset;
    const Dropped& last = *(behind - 1);
    return offset + last.before + last.length;
}

std::string SoftBreaks::textOf(std::size_t at, std::string_view shown) const {
    std::string out;
    out.reserve(shown.size());
    std::size_t from = 0;
    for (std::size_t i = firstFrom(at); i < dropped_.size() && dropped_[i].at < at + shown.size(); ++i) {
        out.append(shown.substr(from, dropped_[i].at - at - from));
        from = std::min(shown.size(), dropped_[i].at - at + dropped_[i].length);
    }
    return out.append(shown.substr(from));
}

std::string SoftBreaks::spread(std::size_t at, std::size_t shownLength, std::string_view perByte, char filler) const {
    std::string out;
    out.reserve(shownLength);
    for (std::size_t i = firstFrom(at); i < dropped_.size() && dropped_[i].at < at + shownLength; ++i) {
        const std::size_t until = std::min(perByte.size(), dropped_[i].at - at - out.size());
        out.append(perByte.substr(0, until)).append(dropped_[i].length, filler);
        perByte.remove_prefix(until);
    }
    out.append(perByte);
    out.resize(shownLength, filler);
    return out;
}

SoftBreaks::Range SoftBreaks::around(std::size_t shown) const {
    Range range{shown, shown};
    std::size_t index = firstFrom(shown);
    for (std::size_t i = index; i > 0 && dropped_[i - 1].at + dropped_[i - 1].length == range.start; --i) {
        range.start = dropped_[i - 1].at;
    }
    for (; index < dropped_.size() && dropped_[index].at == range.end; ++index) range.end += dropped_[index].length;
    return range;
}

}  // namespace pantry::base
