#include "core/shelf/text_difference.h"

#include <algorithm>

#include "core/base/text.h"
#include "core/shelf/git_handle.h"

namespace pantry::shelf {
namespace {

using Side = DifferenceLine::Side;

std::vector<std::string_view> linesOf(std::string_view text) {
    if (text.ends_with('\n')) text.remove_suffix(1);
    return text.empty() ? std::vector<std::string_view>() : base::splitAt(text, '\n');
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

/// Puts both texts beside each other as the differences between them come.
class Pairing {
public:
    Pairing(std::string_view before, std::string_view now) : before_(linesOf(before)), now_(linesOf(now)) {}

    /// So many lines from there on are other ones; numbers from 0.
    void differ(std::size_t beforeAt, std::size_t beforeCount, std::size_t nowAt, std::size_t nowCount) {
        same(beforeAt);
        for (std::size_t i = 0; i < std::max(beforeCount, nowCount); ++i) {
            DifferenceLine line{.before = {}, .now = {}, .isSame = false};
            if (i < beforeCount) line.before = Side{beforeAt + i + 1, std::string(before_[beforeAt + i])};
            if (i < nowCount) line.now = Side{nowAt + i + 1, std::string(now_[nowAt + i])};
            if (line.before && line.now) markMiddle(*line.before, *line.now);
            lines_.push_back(std::move(line));
        }
        beforeAt_ = beforeAt + beforeCount;
        nowAt_ = nowAt + nowCount;
    }

    std::vector<DifferenceLine> finished() {
        same(before_.size());
        return std::move(lines_);
    }

private:
    void same(std::size_t upTo) {
        for (; beforeAt_ < upTo && nowAt_ < now_.size(); ++beforeAt_, ++nowAt_) {
            lines_.push_back({.before = Side{beforeAt_ + 1, std::string(before_[beforeAt_])},
                              .now = Side{nowAt_ + 1, std::string(now_[nowAt_])}});
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
    beginGit();
    git_diff_options options;
    git_diff_options_init(&options, GIT_DIFF_OPTIONS_VERSION);
    options.context_lines = 0;
    options.flags = GIT_DIFF_PATIENCE | GIT_DIFF_FORCE_TEXT;
    // A missing line end at the end of a text is no change that people mean.
    std::string old(before);
    std::string fresh(now);
    for (std::string* text : {&old, &fresh}) {
        if (!text->empty() && !text->ends_with('\n')) *text += '\n';
    }
    Pairing pairing(old, fresh);
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
