#include "core/base/text_history.h"

#include <algorithm>
#include <utility>

namespace pantry::base {
namespace {

std::size_t bytesOf(const TextChange& change) { return change.removed.size() + change.inserted.size(); }

std::size_t bytesOf(const TextStep& step) {
    std::size_t all = 0;
    for (const TextChange& one : step) all += bytesOf(one);
    return all;
}

bool changesNothing(const TextStep& step) {
    return std::ranges::all_of(step, [](const TextChange& one) { return one.removed == one.inserted; });
}

TextStep reversed(const TextStep& step) {
    TextStep back;
    for (auto one = step.rbegin(); one != step.rend(); ++one) back.push_back({one->at, one->inserted, one->removed});
    return back;
}

/// Letters that follow each other, typed or erased, are one change.
bool joins(TextChange& last, const TextChange& change) {
    const bool goesOn = last.removed.empty() && change.removed.empty() && change.at == last.at + last.inserted.size();
    if (goesOn) {
        last.inserted += change.inserted;
        return true;
    }
    const bool areErased = last.inserted.empty() && change.inserted.empty();
    if (areErased && change.at + change.removed.size() == last.at) {
        last.removed.insert(0, change.removed);
        last.at = change.at;
        return true;
    }
    if (areErased && change.at == last.at) {
        last.removed += change.removed;
        return true;
    }
    return false;
}

/// The last steps of some, as many as fit.
std::vector<TextStep> lastOf(const std::vector<TextStep>& steps, std::size_t& bytes, std::size_t maxSteps) {
    std::size_t first = steps.size();
    while (first > 0 && steps.size() - first < maxSteps) {
        const std::size_t size = bytesOf(steps[first - 1]);
        if (size > bytes) break;
        bytes -= size;
        --first;
    }
    return {steps.begin() + static_cast<std::ptrdiff_t>(first), steps.end()};
}

}  // namespace

void TextHistory::note(TextChange change, bool beginsStep) {
    if (change.removed != change.inserted) steps_.undone.clear();
    bytes_ += bytesOf(change);
    if (beginsStep || steps_.done.empty()) {
        steps_.done.push_back({std::move(change)});
        return keepWithin();
    }
    TextStep& step = steps_.done.back();
    if (step.empty() || !joins(step.back(), change)) step.push_back(std::move(change));
    keepWithin();
}

void TextHistory::keepWithin() {
    std::size_t gone = 0;
    while (gone < steps_.done.size() && (bytes_ > kMaxBytes || steps_.done.size() - gone > kMaxSteps))
        bytes_ -= bytesOf(steps_.done[gone++]);
    steps_.done.erase(steps_.done.begin(), steps_.done.begin() + static_cast<std::ptrdiff_t>(gone));
}

void TextHistory::noteUndone() {
    if (steps_.done.empty()) return;
    bytes_ -= bytesOf(steps_.done.back());
    steps_.undone.push_back(std::move(steps_.done.back()));
    steps_.done.pop_back();
}

void TextHistory::noteRedone() {
    if (steps_.undone.empty()) return;
    bytes_ += bytesOf(steps_.undone.back());
    steps_.done.push_back(std::move(steps_.undone.back()));
    steps_.undone.pop_back();
}

TextStep TextHistory::undo() {
    while (canUndo()) {
        noteUndone();
        if (!changesNothing(steps_.undone.back())) return reversed(steps_.undone.back());
    }
    return {};
}

TextStep TextHistory::redo() {
    while (canRedo()) {
        noteRedone();
        if (!changesNothing(steps_.done.back())) return steps_.done.back();
    }
    return {};
}

void TextHistory::clear() {
    steps_ = {};
    bytes_ = 0;
}

TextSteps TextHistory::newest(std::size_t maxBytes, std::size_t maxSteps) const {
    TextSteps kept;
    kept.done = lastOf(steps_.done, maxBytes, maxSteps);
    kept.undone = lastOf(steps_.undone, maxBytes, maxSteps);
    return kept;
}

void TextHistory::restore(TextSteps steps) {
    steps_ = std::move(steps);
    bytes_ = 0;
    for (const TextStep& one : steps_.done) bytes_ += bytesOf(one);
}

}  // namespace pantry::base
