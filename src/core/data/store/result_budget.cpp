#include "core/data/store/result_budget.h"

#include <algorithm>

#include "core/base/mutex.h"

namespace pantry::data {

ResultBudget::ResultBudget(std::uint64_t limitBytes, std::filesystem::path folder)
    : limit_(limitBytes), folder_(std::move(folder)) {}

void ResultBudget::add(const ResultSetPtr& result) {
    const base::Lock lock(mutex_);
    entries_.push_back({.result = result, .address = result.get(), .lastUse = ++clock_});
}

void ResultBudget::noteUse(const ResultSet* result) {
    const base::Lock lock(mutex_);
    for (Entry& entry : entries_) {
        if (entry.address == result) entry.lastUse = ++clock_;
    }
}

void ResultBudget::setPinned(const ResultSet* result, bool isPinned) {
    const base::Lock lock(mutex_);
    for (Entry& entry : entries_) {
        if (entry.address == result) entry.isPinned = isPinned;
    }
}

/// Those that still exist, the one looked at longest ago first, pinned ones last.
std::vector<ResultBudget::Entry> ResultBudget::living() {
    const base::Lock lock(mutex_);
    std::erase_if(entries_, [](const Entry& entry) { return entry.result.expired(); });
    std::vector<Entry> all = entries_;
    std::ranges::sort(all, [](const Entry& a, const Entry& b) {
        return a.isPinned != b.isPinned ? b.isPinned : a.lastUse < b.lastUse;
    });
    return all;
}

ResultBudget::Usage ResultBudget::usage() {
    Usage usage;
    for (const Entry& entry : living()) {
        const auto result = entry.result.lock();
        if (!result) continue;
        usage.inMemory += result->memoryBytes();
        usage.onDisk += result->diskBytes();
        ++usage.results;
    }
    return usage;
}

Status ResultBudget::enforce() {
    const base::Lock moving(moving_);
    std::uint64_t used = usage().inMemory;
    for (const Entry& entry : living()) {
        if (used <= limit_) return {};
        const auto result = entry.result.lock();
        if (!result || entry.isPinned) continue;
        const std::uint64_t before = result->memoryBytes();
        if (Status status = result->moveToDisk(folder_, used - limit_); !status) return status;
        used -= std::min(used, before - std::min(before, result->memoryBytes()));
    }
    return {};
}

}  // namespace pantry::data
