#pragma once

#include <algorithm>
#include <atomic>
#include <cstddef>
#include <memory>

namespace pantry::base {

/// How far some work has come, told by whoever does it and read by whoever waits. Copies and parts are the same
/// progress.
///
/// Threads: internally synchronised.
class Progress {
public:
    Progress() : share_(std::make_shared<std::atomic<double>>(0.0)) {}

    /// For a stage of the work: what it tells as its whole is the `index`-th of `count` equal parts of this one's.
    [[nodiscard]] Progress part(std::size_t index, std::size_t count) const {
        Progress out = *this;
        out.extent_ = extent_ / static_cast<double>(std::max<std::size_t>(count, 1));
        out.start_ = start_ + out.extent_ * static_cast<double>(index);
        return out;
    }

    /// Never beyond the whole; a part of nothing tells nothing.
    void note(std::size_t done, std::size_t all) const {
        if (all == 0) return;
        const double share = std::min(1.0, static_cast<double>(done) / static_cast<double>(all));
        share_->store(start_ + extent_ * share, std::memory_order_relaxed);
    }

    /// Between 0 and 1, of the whole.
    [[nodiscard]] double share() const { return share_->load(std::memory_order_relaxed); }

private:
    std::shared_ptr<std::atomic<double>> share_;
    double start_ = 0;
    double extent_ = 1;
};

}  // namespace pantry::base
