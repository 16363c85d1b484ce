#pragma once

#include <array>
#include <chrono>
#include <cstdint>
#include <string>
#include <vector>

#include "core/store/ledger.h"

namespace pantry::store {

/// Runs of one connection that are the same but for values, counted.
struct RunCount {
    LedgerEntry last;
    std::int64_t runs = 0;
    std::int64_t failed = 0;            ///< or interrupted
    std::chrono::microseconds total{};  ///< of those that went well, fetching included
    double times = 0;                   ///< of one that got slower: how many times as long as before
    base::Moment since{};               ///< and when that began
};

/// What a ledger says of all its runs together.
struct LedgerStatistics {
    std::int64_t runs = 0;
    std::int64_t failed = 0;
    std::vector<RunCount> most;             ///< those that ran most often
    std::vector<RunCount> longest;          ///< those that took longest in all
    std::vector<RunCount> failing;          ///< those that failed most often
    std::vector<RunCount> slower;           ///< their last five took twice as long as those before, the worst first
    std::array<std::int64_t, 24> byHour{};  ///< of the day, in the machine's time zone
    struct Day {
        std::string date;  ///< 2026-11-23
        std::int64_t runs = 0;
        std::int64_t failed = 0;
    };
    std::vector<Day> days;  ///< the last thirty with a run, the oldest first
};

}  // namespace pantry::store
