#include "core/data/view/distinct_count.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <functional>

namespace pantry::data {
namespace {

constexpr int kIndexBits = 14;
constexpr std::size_t kRegisters = std::size_t{1} << kIndexBits;

}  // namespace

DistinctEstimate::DistinctEstimate() : registers_(kRegisters, 0) {}

void DistinctEstimate::add(std::uint64_t hash) {
    ++added_;
    const std::size_t index = hash >> (64 - kIndexBits);
    const std::uint64_t rest = hash << kIndexBits | (kRegisters >> 1);  // a bit that ends the run of zeros
    const auto rank = static_cast<std::uint8_t>(std::countl_zero(rest) + 1);
    registers_[index] = std::max(registers_[index], rank);
}

std::size_t DistinctEstimate::count() const {
    const auto m = static_cast<double>(kRegisters);
    double sum = 0;
    std::size_t empty = 0;
    for (const std::uint8_t rank : registers_) {
        sum += std::ldexp(1.0, -rank);
        if (rank == 0) ++empty;
    }
    const double alpha = 0.7213 / (1 + 1.079 / m);
    double estimate = alpha * m * m / sum;
    if (estimate <= 2.5 * m && empty > 0) estimate = m * std::log(m / static_cast<double>(empty));
    return std::min(added_, static_cast<std::size_t>(std::llround(estimate)));
}

std::uint64_t hashOf(std::string_view bytes) {
    // The last steps of SplitMix64 (Steele, Lea, Flood, 2014), in case the library's hash leaves bits alone.
    std::uint64_t hash = std::hash<std::string_view>()(bytes);
    hash = (hash ^ hash >> 30) * 0xBF58476D1CE4E5B9ULL;
    hash = (hash ^ hash >> 27) * 0x94D049BB133111EBULL;
    return hash ^ hash >> 31;
}

}  // namespace pantry::data
