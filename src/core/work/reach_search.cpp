#include "core/work/reach_search.h"

#include <algorithm>

#include "core/base/fuzzy.h"

namespace pantry::work {
namespace {

constexpr int kOnlyMeant = 40;
constexpr std::size_t kLookEvery = 4096;  // names between two looks at the cancellation

std::optional<int> scoreOf(std::string_view pattern, const ReachText& text) {
    if (const auto score = base::wordScore(pattern, text.title)) return score;
    if (text.also.empty()) return std::nullopt;
    const auto also = base::wordScore(pattern, text.title + " " + text.also);
    return also ? std::optional(*also - kOnlyMeant) : std::nullopt;
}

/// Keeps the best of what it is given, in the order in which it comes where scores are the same.
class Best {
public:
    explicit Best(std::size_t most) : most_(most) {}

    void add(const ReachHit& hit) {
        if (hits_.size() >= most_ && hit.score <= hits_.back().score) return;
        const auto at = std::ranges::upper_bound(hits_, hit.score, std::ranges::greater{}, &ReachHit::score);
        hits_.insert(at, hit);
        if (hits_.size() > most_) hits_.pop_back();
    }
    [[nodiscard]] std::vector<ReachHit> take() { return std::move(hits_); }

private:
    std::size_t most_;
    std::vector<ReachHit> hits_;  // best first
};

}  // namespace

std::optional<std::vector<ReachHit>> reachFor(std::string_view pattern, const ReachScope& scope, std::size_t most,
                                              const base::Cancellation& cancellation) {
    Best best(most);
    const auto addTexts = [&](const std::vector<ReachText>& texts, ReachHit::Part part) {
        for (std::size_t i = 0; i < texts.size(); ++i) {
            if (const auto score = scoreOf(pattern, texts[i])) best.add({.part = part, .index = i, .score = *score});
        }
    };
    addTexts(scope.before, ReachHit::Part::Before);
    std::size_t looked = 0;
    for (std::size_t c = 0; c < scope.catalogs.size(); ++c) {
        if (scope.catalogs[c].catalog == nullptr) continue;
        for (const catalog::Relation* relation : scope.catalogs[c].catalog->relations()) {
            if (++looked % kLookEvery == 0 && cancellation.isRequested()) return std::nullopt;
            const auto score = base::wordScore(pattern, relation->name);
            if (!score) continue;
            best.add({.part = ReachHit::Part::Relation, .index = c, .relation = relation, .score = *score});
        }
    }
    addTexts(scope.behind, ReachHit::Part::Behind);
    return cancellation.isRequested() ? std::nullopt : std::optional(best.take());
}

}  // namespace pantry::work
