#pragma once

#include <filesystem>

namespace pantry::shelf {

/// The turn of one of our programs to write into a repository. Others of ours wait for it; programs that know nothing
/// of it are kept apart by git's own locks. While it lasts a file in the repository's folder is not empty, so that the
/// next one learns whether the last was killed in the middle, and that locks left behind are nobody's. Meaning: made
/// before writing, gone after it. Thread: one. Errors: none; where the folder cannot be locked (a network folder) there
/// are no turns, and git's locks alone decide.
class WriteTurn {
public:
    /// Waits for the turn, at most ten seconds.
    explicit WriteTurn(const std::filesystem::path& repositoryFolder);
    ~WriteTurn();
    WriteTurn(const WriteTurn&) = delete;
    WriteTurn& operator=(const WriteTurn&) = delete;

    /// Whether whoever had the turn before never ended it.
    [[nodiscard]] bool isAfterKill() const { return isAfterKill_; }

private:
    int descriptor_ = -1;
    bool isAfterKill_ = false;
};

}  // namespace pantry::shelf
