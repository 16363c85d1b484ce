#pragma once

#include <fmt/format.h>

#include <algorithm>
#include <array>
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

/// Seconds of the fastest of several rounds, each of which does all of the work, one after the other.
template <class... Work>
std::array<double, sizeof...(Work)> secondsInTurns(Work... work) {
    constexpr int kRounds = 7;
    std::array<double, sizeof...(Work)> best;
    best.fill(1e9);
    for (int i = 0; i < kRounds; ++i) {
        std::size_t at = 0;
        ((best[at] = std::min(best[at], secondsOf(work, 1)), ++at), ...);
    }
    return best;
}

/// A row of the table in docs/benchmarks.md.
inline void row(const std::string& what, const std::string& measured, const std::string& aim) {
    fmt::print("| {} | {} | {} |\n", what, measured, aim);
    std::fflush(stdout);
}

}  // namespace pantry::bench
