#pragma once

#include <fmt/format.h>
#include <sys/resource.h>

#include <algorithm>
#include <array>
#include <chrono>
#include <cstdio>
#include <string>
#include <vector>

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

/// What a work took: on the clock, and of all processors for this program.
struct Took {
    double seconds = 0;
    double processorSeconds = 0;
};

inline double processorSeconds() {
    rusage usage{};
    getrusage(RUSAGE_SELF, &usage);
    const auto seconds = [](const timeval& t) {
        return static_cast<double>(t.tv_sec) + static_cast<double>(t.tv_usec) / 1e6;
    };
    return seconds(usage.ru_utime) + seconds(usage.ru_stime);
}

template <class Work>
Took takenBy(Work work) {
    const double before = processorSeconds();
    const double seconds = secondsOf(work, 1);
    return {seconds, processorSeconds() - before};
}

/// Works that were done in turns, several rounds of them: what they took, against each other.
///
/// The machine is slower in one minute than in the next, and other guests take its processors away: what is compared
/// are works of the same round, and of the rounds the one in the middle is believed.
template <std::size_t kWorks>
class Turns {
public:
    void note(const std::array<Took, kWorks>& round) { rounds_.push_back(round); }

    [[nodiscard]] double ratio(std::size_t ours, std::size_t least, double Took::*of = &Took::seconds) const {
        std::vector<double> ratios;
        for (const auto& round : rounds_) ratios.push_back(round[ours].*of / (round[least].*of));
        std::ranges::sort(ratios);
        return ratios[ratios.size() / 2];
    }
    [[nodiscard]] double fastest(std::size_t work) const {
        double best = rounds_.front()[work].seconds;
        for (const auto& round : rounds_) best = std::min(best, round[work].seconds);
        return best;
    }
    /// “1.17 (fastest 2.022 s / 1.731 s); processors 1.31”.
    [[nodiscard]] std::string text(std::size_t ours, std::size_t least) const {
        return fmt::format("{:.2f} (fastest {:.3f} s / {:.3f} s); processors {:.2f}", ratio(ours, least), fastest(ours),
                           fastest(least), ratio(ours, least, &Took::processorSeconds));
    }

private:
    std::vector<std::array<Took, kWorks>> rounds_;
};

template <class... Work>
Turns<sizeof...(Work)> inTurns(Work... work) {
    constexpr int kRounds = 9;
    Turns<sizeof...(Work)> turns;
    for (int i = 0; i < kRounds; ++i) turns.note({takenBy(work)...});
    return turns;
}

/// A row of the table in docs/benchmarks.md.
inline void row(const std::string& what, const std::string& measured, const std::string& aim) {
    fmt::print("| {} | {} | {} |\n", what, measured, aim);
    std::fflush(stdout);
}

}  // namespace pantry::bench
