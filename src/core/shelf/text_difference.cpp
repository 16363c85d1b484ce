#include "core/shelf/text_difference.h"

#include <algorithm>

#include "core/base/text.h"
#include "core/shelf/git_handle.h"

namespace pantry::shelf {
namespace {

using Side = DifferenceLine::Side;

/// The line end at the end of a text begins no line; an empty line is one all the same.
std::vector<std::string_view> linesOf(std::string_view text) {
    if (text.empty()) return {};
    if (text.ends_with('\n')) text.remove_suffix(1);
    return base::splitAt(text, '\n');
}

bool isWithinLetter(std::string_view text, std::size_t at) {
    return at < text.size() && (static_cast<unsigned char>(text[at]) & 0xC0U) == 0x80U;
}

/// What both begin and end with is the same; the middle is what changed.
void markMiddle(Side& before, Side& now) {
    const std::string_view a = before.text;
    const std::string_view b = now.text;
    std::size_t front = 0;
    while (front < std::min(a.size(), b.size()) && a[front] == b[front]) ++front;
    while (front > 0 && (isWithinLetter(a, front) || isWithinLetter(b, front))) --front;
    std::size_t back = 0;
    while (back < std::min(a.size(), b.size()) - front && a[a.size() - 1 - back] == b[b.size() - 1 - back]) ++back;
    while (back > 0 && (isWithinLetter(a, a.size() - back) || isWithinLetter(b, b.size() - back))) --back;
    before.changed = {front, a.size() - back};
    now.changed = {front, b.size() - back};
}

/// Of two lines, how much of the longer one both begin and end with; from 0 to 1.
double likeness(std::string_view a, std::string_view b) {
    const std::size_t most = std::min(a.size(), b.size());
    std::size_t front = 0;
    while (front < most && a[front] == b[front]) ++front;
    std::size_t back = 0;
    while (back < most - front && a[a.size() - 1 - back] == b[b.size() - 1 - back]) ++back;
    const auto isBlank = [](char c) { return base::isAsciiBlank(c); };
    const auto blanks = static_cast<std::size_t>(std::ranges::count_if(a.substr(0, front), isBlank));
    const std::size_t longest = std::max(a.size(), b.size());
    return longest == 0 ? 1 : static_cast<double>(front - blanks + back) / static_cast<double>(longest);
}

/// Puts both texts beside each other as the differences between them come.
class Pairing {
public:
    Pairing(std::string_view before, std::string_view now) : before_(linesOf(before)), now_(linesOf(now)) {}

    /// So many lines from there on are other ones; numbers from 0. Those that are alike stand beside each other.
    void differ(std::size_t beforeAt, std::size_t beforeCount, std::size_t nowAt, std::size_t nowCount) {
        same(beforeAt);
        for (const auto& [a, b] : alike(beforeAt, beforeCount, nowAt, nowCount)) {
            different(a, b);
            DifferenceLine line{.before = sideBefore(a), .now = sideNow(b), .isSame = false};
            markMiddle(*line.before, *line.now);
            lines_.push_back(std::move(line));
            beforeAt_ = a + 1;
            nowAt_ = b + 1;
        }
        different(beforeAt + beforeCount, nowAt + nowCount);
    }

    std::vector<DifferenceLine> finished() {
        same(before_.size());
        return std::move(lines_);
    }

    /// Nobody can tell what is alike.
    std::vector<DifferenceLine> finishedAsOther() {
        different(before_.size(), now_.size());
        return std::move(lines_);
    }

private:
    using Pairs = std::vector<std::pair<std::size_t, std::size_t>>;

    [[nodiscard]] Side sideBefore(std::size_t at) const { return {at + 1, std::string(before_[at])}; }
    [[nodiscard]] Side sideNow(std::size_t at) const { return {at + 1, std::string(now_[at])}; }

    /// Lines that are alike, in their order, so that as much as possible is: the longest common subsequence with the
    /// likeness of two lines as its weight. Long stretches are paired as they come.
    [[nodiscard]] Pairs alike(std::size_t beforeAt, std::size_t beforeCount, std::size_t nowAt,
                              std::size_t nowCount) const {
        constexpr std::size_t kMax = 200;
        constexpr double kLeast = 0.4;
        if (beforeCount > kMax || nowCount > kMax) return {};
        std::vector<std::vector<double>> best(beforeCount + 1, std::vector<double>(nowCount + 1));
        const auto weight = [&](std::size_t i, std::size_t j) {
            const double is = likeness(before_[beforeAt + i], now_[nowAt + j]);
            return is < kLeast ? 0 : is;
        };
        for (std::size_t i = beforeCount; i-- > 0;) {
            for (std::size_t j = nowCount; j-- > 0;) {
                best[i][j] = std::max({best[i + 1][j], best[i][j + 1], weight(i, j) + best[i + 1][j + 1]});
            }
        }
        Pairs pairs;
        for (std::size_t i = 0, j = 0; i < beforeCount && j < nowCount;) {
            const double one = weight(i, j);
            if (one > 0 && best[i][j] == one + best[i + 1][j + 1]) {
                pairs.emplace_back(beforeAt + i++, nowAt + j++);
            } else if (best[i][j] == best[i + 1][j]) {
                ++i;
            } else {
                ++j;
            }
        }
        return pairs;
    }

    /// Lines up to there that are like none: beside each other as they come.
    void different(std::size_t beforeEnd, std::size_t nowEnd) {
        while (beforeAt_ < beforeEnd || nowAt_ < nowEnd) {
            DifferenceLine line{.before = {}, .now = {}, .isSame = false};
            if (beforeAt_ < beforeEnd) line.before = sideBefore(beforeAt_++);
            if (nowAt_ < nowEnd) line.now = sideNow(nowAt_++);
            lines_.push_back(std::move(line));
        }
    }

    void same(std::size_t upTo) {
        for (; beforeAt_ < upTo && nowAt_ < now_.size(); ++beforeAt_, ++nowAt_) {
            lines_.push_back({.before = sideBefore(beforeAt_), .now = sideNow(nowAt_)});
        }
    }

    std::vector<std::string_view> before_;
    std::vector<std::string_view> now_;
    std::vector<DifferenceLine> lines_;
    std::size_t beforeAt_ = 0;
    std::size_t nowAt_ = 0;
};

/// The library counts lines from 1, and names the line before where there are none.
std::size_t startOf(int line, int count) { return static_cast<std::size_t>(count == 0 ? line : line - 1); }

}  // namespace

std::vector<DifferenceLine> differenceOf(std::string_view before, std::string_view now) {
    // A missing line end at the end of a text is no change that people mean.
    std::string old(before);
    std::string fresh(now);
    for (std::string* text : {&old, &fresh}) {
        if (!text->empty() && !text->ends_with('\n')) *text += '\n';
    }
    Pairing pairing(old, fresh);
    if (!beginGit()) return pairing.finishedAsOther();
    git_diff_options options;
    git_diff_options_init(&options, GIT_DIFF_OPTIONS_VERSION);
    options.context_lines = 0;
    options.flags = GIT_DIFF_PATIENCE | GIT_DIFF_FORCE_TEXT;
    PatchHandle patch;
    const int code = made(patch, [&](auto** out) {
        return git_patch_from_buffers(out, old.data(), old.size(), nullptr, fresh.data(), fresh.size(), nullptr,
                                      &options);
    });
    const std::size_t hunks = code == 0 && patch ? git_patch_num_hunks(patch.get()) : 0;
    for (std::size_t i = 0; i < hunks; ++i) {
        const git_diff_hunk* hunk = nullptr;
        if (git_patch_get_hunk(&hunk, nullptr, patch.get(), i) != 0) continue;
        pairing.differ(startOf(hunk->old_start, hunk->old_lines), static_cast<std::size_t>(hunk->old_lines),
                       startOf(hunk->new_start, hunk->new_lines), static_cast<std::size_t>(hunk->new_lines));
    }
    return pairing.finished();
}

DifferenceCount countOf(const std::vector<DifferenceLine>& lines) {
    DifferenceCount count;
    for (const DifferenceLine& line : lines) {
        if (line.isSame) continue;
        ++(line.now ? count.changedOrAdded : count.gone);
    }
    return count;
}

}  // namespace pantry::shelf
