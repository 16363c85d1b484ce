#pragma once

#include <chrono>
#include <cstdint>
#include <filesystem>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/base/error.h"
#include "core/base/result.h"
#include "core/base/time.h"
#include "core/data/store/result_set.h"

namespace pantry::store {

/// How a run that is kept ended.
enum class KeptEnd : std::uint8_t { Done, Partial, Failed, Stopped };
inline constexpr std::size_t kKeptEnds = 4;

/// A run of a sheet as it is kept between starts.
struct KeptRun {
    int number = 0;
    std::string title = {};
    std::string statement = {};
    std::string whole = {};  ///< the statement that it is only a part of; empty when it is a whole one
    std::map<std::string, std::vector<std::optional<std::string>>> values = {};  ///< of its parameters
    std::string connectionId = {};
    std::string database = {};
    std::string schema = {};
    std::string place = {};  ///< the same for people
    base::Moment startedAt{};
    std::chrono::microseconds serverTime{};
    std::chrono::microseconds totalTime{};
    KeptEnd end = KeptEnd::Done;
    std::optional<Error> error = {};
    std::optional<std::int64_t> affected = {};
    std::string generatedKey = {};
    bool isPinned = false;
    bool hasResult = false;        ///< it had columns
    std::size_t rowCount = 0;      ///< that it had
    data::ResultSetPtr rows = {};  ///< null when there are none, or they were too many to keep
};

/// Whether the rows of a result are few enough to be kept: two thousand, and a megabyte.
[[nodiscard]] bool isSmallEnough(const data::ResultSet& rows);

/// The folder with the results of open sheets and of saved queries: a folder for each of them, a file for each run.
/// They are for their owner alone. All of them together take 64 MB at most; the oldest go first.
///
/// Threads: one at a time; other processes may use the same folder.
/// Errors:  those of the file system. What cannot be understood, or is of a newer version, is left out, and stays.
class KeptResults {
public:
    explicit KeptResults(std::filesystem::path folder) : folder_(std::move(folder)) {}

    /// `owner`: an identity that is a file's name, such as that of a sheet.
    Status save(const std::string& owner, const KeptRun& run) const;
    void remove(const std::string& owner, int number) const;
    /// By their numbers.
    [[nodiscard]] std::vector<KeptRun> load(const std::string& owner) const;
    /// Removes the oldest while there is more than may be.
    void tidy(std::uintmax_t most = kMostBytes) const;

    static constexpr std::uintmax_t kMostBytes = std::uintmax_t{64} << 20;

private:
    [[nodiscard]] std::filesystem::path fileOf(const std::string& owner, int number) const;

    std::filesystem::path folder_;
};

}  // namespace pantry::store
