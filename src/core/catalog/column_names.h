#pragma once

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

namespace pantry::catalog {

/// The names of very many columns in one piece of memory: who looks at a hundred thousand of them, one string here and
/// one there, waits for the memory most of the time.
///
/// Threads: immutable once filled.
class ColumnNames {
public:
    struct Entry {
        std::uint32_t start = 0;
        std::uint32_t length = 0;
        std::uint32_t relation = 0;  ///< among the relations of the catalog
        std::uint32_t place = 0;     ///< among its columns
    };

    void add(std::string_view name, std::size_t relation, std::size_t place) {
        entries_.push_back({static_cast<std::uint32_t>(letters_.size()), static_cast<std::uint32_t>(name.size()),
                            static_cast<std::uint32_t>(relation), static_cast<std::uint32_t>(place)});
        letters_ += name;
    }

    [[nodiscard]] const std::vector<Entry>& entries() const { return entries_; }
    [[nodiscard]] std::string_view nameOf(const Entry& entry) const {
        return std::string_view(letters_).substr(entry.start, entry.length);
    }
    [[nodiscard]] std::uint64_t memoryBytes() const {
        return letters_.capacity() + entries_.capacity() * sizeof(Entry);
    }

private:
    std::string letters_;
    std::vector<Entry> entries_;
};

}  // namespace pantry::catalog
