#pragma once

#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <string>

namespace pantry::bench {

/// Seconds of the fastest of several rounds.
template <class Work>
double secondsOf(Work work, int rounds = 5) {
    using Clock = std::chrono::steady_clock;
    double best = 1e9;
    for (int i = 0; i < rounds; ++i) {
        const auto start = Clock::now();
        work();
        best = std::min(best, std::chrono::duration<double>(Clock::now() - start).count());
    }
    return best;
}

/// A row of the table in docs/benchmarks.md.
inline void row(const std::string& what, const std::string& measured, const std::string& aim) {
    fmt::print("| {} | {} | {} |\n", what, measured, aim);
    std::fflush(stdout);
}

}  // namespace pantry::bench
