#pragma once

#include <cmath>
#include <cstdint>
#include <vector>

namespace pantry::demo {

/// Numbers that look random and are the same on every machine (SplitMix64; Steele, Lea and Flood 2014). The standard
/// library's distributions differ from one implementation to the next.
class Random {
public:
    explicit Random(std::uint64_t seed) : state_(seed) {}

    std::uint64_t next() {
        std::uint64_t z = (state_ += 0x9E3779B97F4A7C15ULL);
        z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9ULL;
        z = (z ^ (z >> 27)) * 0x94D049BB133111EBULL;
        return z ^ (z >> 31);
    }

    /// A whole number from low to high, both included.
    int between(int low, int high) {
        return low + static_cast<int>(next() % (static_cast<std::uint64_t>(high - low) + 1));
    }

    /// From 0 up to, not including, 1.
    double fraction() { return static_cast<double>(next() >> 11) * 0x1.0p-53; }

    bool chance(double probability) { return fraction() < probability; }

    /// Bell-shaped around `mean`: the sum of twelve even ones, near enough to normal.
    double around(double mean, double spread) {
        double sum = -6;
        for (int i = 0; i < 12; ++i) sum += fraction();
        return mean + sum * spread;
    }

    template <class T, std::size_t N>
    const T& pick(const T (&list)[N]) {
        return list[next() % N];
    }
    template <class T>
    const T& pick(const std::vector<T>& list) {
        return list[next() % list.size()];
    }

private:
    std::uint64_t state_;
};

}  // namespace pantry::demo
