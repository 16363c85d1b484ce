#include "core/work/reach_search.h"

#include <algorithm>

#include "core/base/fuzzy.h"
#include "core/base/text.h"

namespace pantry::work {
namespace {

constexpr int kOnlyMeant = 40;
constexpr int kMostForUse = 24;           // for what was reached for last; each before it a little less
constexpr std::size_t kMostOfAKind = 15;  // where several kinds fit
constexpr std::size_t kLookEvery = 4096;  // names between two looks at the cancellation

std::optional<int> scoreOf(std::string_view pattern, const ReachText& text) {
    if (const auto score = base::wordScore(pattern, text.title)) return score;
    if (text.also.empty()) return std::nullopt;
    const auto also = base::wordScore(pattern, text.title + " " + text.also);
    return also ? std::optional(*also - kOnlyMeant) : std::nullopt;
}

constexpr ReachPrefix kPrefixes[] = {
    {ReachKind::Sheet, 's', "sheets and pages"}, {ReachKind::Connection, 'c', "connections"},
    {ReachKind::Query, 'q', "saved queries"},    {ReachKind::Relation, 't', "tables and views"},
    {ReachKind::Card, 'r', "results"},           {ReachKind::Snippet, 'n', "snippets"},
    {ReachKind::Run, 'l', "the ledger"},         {ReachKind::Action, 'a', "actions"},
    {ReachKind::Setting, 'p', "settings"},       {ReachKind::Help, 'h', "help"},
};

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

int forUse(const ReachScope& scope, std::string_view title) {
    const auto found = std::ranges::find(scope.reached, title);
    if (found == scope.reached.end()) return 0;
    return std::max(4, kMostForUse - static_cast<int>(found - scope.reached.begin()));
}

/// Those of a kind together; `isShort`: no more than some of each.
std::vector<ReachHit> grouped(const std::vector<ReachHit>& hits, bool isShort) {
    std::vector<ReachKind> kinds;
    for (const ReachHit& hit : hits) {
        if (std::ranges::find(kinds, hit.kind) == kinds.end()) kinds.push_back(hit.kind);
    }
    std::vector<ReachHit> all;
    for (const ReachKind kind : kinds) {
        std::size_t count = 0;
        for (const ReachHit& hit : hits) {
            if (hit.kind != kind) continue;
            if (isShort && kinds.size() > 1 && ++count > kMostOfAKind) break;
            all.push_back(hit);
        }
    }
    return all;
}

}  // namespace

std::span<const ReachPrefix> reachPrefixes() { return kPrefixes; }

ReachWish reachWish(std::string_view typed) {
    typed = base::trimmed(typed);
    if (typed.size() < 2 || typed[1] != ':') return {std::nullopt, std::string(typed)};
    for (const ReachPrefix& one : kPrefixes) {
        if (one.letter == base::asciiLower(typed[0])) return {one.kind, std::string(base::trimmed(typed.substr(2)))};
    }
    return {std::nullopt, std::string(typed)};
}

std::optional<std::vector<ReachHit>> reachFor(const ReachWish& wish, const ReachScope& scope, std::size_t most,
                                              const base::Cancellation& cancellation) {
    Best best(most);
    const bool isRanked = !wish.pattern.empty();
    const auto add = [&](ReachHit hit, std::string_view title) {
        if (isRanked) hit.score += forUse(scope, title);
        best.add(hit);
    };
    const auto addTexts = [&](const std::vector<ReachText>& texts, ReachHit::Part part) {
        for (std::size_t i = 0; i < texts.size(); ++i) {
            if (wish.kind && *wish.kind != texts[i].kind) continue;
            if (const auto score = scoreOf(wish.pattern, texts[i]))
                add({.part = part, .kind = texts[i].kind, .index = i, .score = *score}, texts[i].title);
        }
    };
    addTexts(scope.before, ReachHit::Part::Before);
    std::size_t looked = 0;
    const bool wantsRelations = !wish.kind || *wish.kind == ReachKind::Relation;
    for (std::size_t c = 0; c < scope.catalogs.size() && wantsRelations; ++c) {
        if (scope.catalogs[c].catalog == nullptr) continue;
        for (const catalog::Relation* relation : scope.catalogs[c].catalog->relations()) {
            if (++looked % kLookEvery == 0 && cancellation.isRequested()) return std::nullopt;
            const auto score = base::wordScore(wish.pattern, relation->name);
            if (!score) continue;
            add({.part = ReachHit::Part::Relation,
                 .kind = ReachKind::Relation,
                 .index = c,
                 .relation = relation,
                 .score = *score},
                relation->name);
        }
    }
    addTexts(scope.behind, ReachHit::Part::Behind);
    if (cancellation.isRequested()) return std::nullopt;
    return grouped(best.take(), !wish.kind && isRanked);
}

}  // namespace pantry::work
