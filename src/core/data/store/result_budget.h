#pragma once

#include <cstdint>
#include <filesystem>
#include <memory>
#include <vector>

#include "core/base/mutex.h"
#include "core/base/result.h"
#include "core/data/store/result_set.h"

namespace pantry::data {

/// Keeps all results together within a limit of memory: those that were looked at longest ago move to files that nobody
/// else can see and that vanish with them. Pinned ones stay, and so does, as long as that is possible, the one looked
/// at last. Moved results are read as before; the system brings back what is looked at.
///
/// Threads: internally synchronised.
class ResultBudget {
public:
    ResultBudget(std::uint64_t limitBytes, std::filesystem::path folder);

    void add(const ResultSetPtr& result);
    /// Somebody looks at it now.
    void noteUse(const ResultSet* result);
    void setPinned(const ResultSet* result, bool isPinned);

    struct Usage {
        std::uint64_t inMemory = 0;
        std::uint64_t onDisk = 0;
        std::size_t results = 0;
    };
    [[nodiscard]] Usage usage();

    /// Moves results until the limit is kept. Writes to disk: not for the window's thread. Errors: those of writing;
    /// what could not be moved stays in memory.
    Status enforce();

private:
    struct Entry {
        std::weak_ptr<const ResultSet> result;
        const ResultSet* address = nullptr;
        std::uint64_t lastUse = 0;
        bool isPinned = false;
    };
    std::vector<Entry> living();

    base::Mutex mutex_;
    base::Mutex moving_;  // one at a time moves
    std::uint64_t limit_;
    std::filesystem::path folder_;
    std::uint64_t clock_ GUARDED_BY(mutex_) = 0;
    std::vector<Entry> entries_ GUARDED_BY(mutex_);
};

}  // namespace pantry::data
