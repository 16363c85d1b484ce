#pragma once

#include <cstddef>
#include <cstdint>
#include <filesystem>
#include <functional>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "core/base/cancellation.h"
#include "core/base/result.h"
#include "core/shelf/repository.h"
#include "core/shelf/saved_query.h"

namespace pantry::shelf {

/// How what stands in a file stands to its last version.
enum class Versioning : std::uint8_t {
    Kept,     ///< as in its last version
    Changed,  ///< somebody changed it since
    New,      ///< it is in no version yet
    None,     ///< the shelf is a plain folder
};

/// A file on the shelf.
struct ShelfItem {
    std::string path;  ///< within the shelf, with /
    QueryHead head;    ///< the title is that of the file's name where there is no head
    bool isNotebook = false;
    Versioning versioning = Versioning::None;
    bool isNotPushed = false;

    [[nodiscard]] std::string folder() const;
};

/// What became of saving.
struct Saved {
    std::string path;
    std::string version = {};               ///< its id; empty when nothing was different, or no version could be made
    std::string message = {};               ///< of the version
    std::optional<Error> unversioned = {};  ///< the file is saved, but there is no version of it, and why
};

/// A folder with saved queries and notebooks, and their versions if it is in a git repository. What others do in it at
/// the same time is found there the next time that somebody looks.
///
/// Threads: one at a time; each call may read and write files.
/// Errors:  those of files; InvalidInput for paths that are none (checkPath) and for texts that hold a secret;
/// NotFound;
///          Busy when a file is not as it was expected, or another program locks the repository.
class Shelf {
public:
    /// The shelf of the program itself: a repository is made there when there is none.
    static Result<Shelf> openOwn(const std::filesystem::path& folder);
    /// Any folder: with versions when it is in a repository, else a plain one.
    static Result<Shelf> open(const std::filesystem::path& folder);

    [[nodiscard]] const std::filesystem::path& folder() const { return folder_; }
    [[nodiscard]] bool hasVersions() const { return repository_.has_value(); }
    /// Why a folder that is in a repository has no versions all the same.
    [[nodiscard]] const std::optional<Error>& problem() const { return problem_; }
    /// Where something may come or go by other hands: its folder and those in it; as long as it is not there, the
    /// nearest one above it. Reads the disk.
    [[nodiscard]] std::vector<std::filesystem::path> foldersThere() const;
    /// Errors: InvalidInput for a plain folder.
    Result<Repository*> repository();

    /// Everything on it by folder and title. What cannot be read is there with its name.
    /// Cost: reads files that changed since the last call, and the repository.
    Result<std::vector<ShelfItem>> list();
    /// Those that have all the words in title, folder, note, connection or text, whatever the case.
    Result<std::vector<ShelfItem>> find(std::string_view words);
    [[nodiscard]] std::filesystem::path fileOf(const std::string& path) const { return folder_ / path; }

    /// The content of a file, in UTF-8.
    Result<std::string> read(const std::string& path) const;
    /// Writes a file and makes a version of it. `expected`: what it must hold now; Busy when somebody else wrote it.
    Result<Saved> save(const std::string& path, const std::string& content,
                       const std::optional<std::string>& expected = {});
    /// A version of a file that is written already.
    Result<Saved> keep(const std::string& path);
    /// A path that is free: the one that is wished, or with a number behind its name.
    [[nodiscard]] std::string freePath(const std::string& wished) const;
    /// Errors: also InvalidInput when something is there already.
    Result<Saved> move(const std::string& from, const std::string& to);
    /// Returns: what it held, so that saving it again undoes it.
    Result<std::string> remove(const std::string& path);
    /// Puts a file back as it was in a version, which is a new version.
    Result<Saved> restore(const std::string& path, const std::string& version);

private:
    /// What was read of a file, as long as it does not change.
    struct Known {
        std::int64_t modifiedNs = 0;
        std::uintmax_t size = 0;
        QueryHead head;
        std::string searched;  ///< in small letters
    };
    explicit Shelf(std::filesystem::path folder) : folder_(std::move(folder)) {}
    [[nodiscard]] std::vector<std::string> filesThere() const;
    const Known& know(const std::string& path);
    Result<Saved> keepAs(const std::string& path, std::string message);
    void removeEmptyFolders(const std::string& path) const;
    Saved version(const std::vector<FileChange>& changes, Saved saved);
    void addVersioning(std::vector<ShelfItem>& items);

    std::filesystem::path folder_;
    std::optional<Repository> repository_;
    std::optional<Error> problem_;
    std::map<std::string, Known> known_;
};

}  // namespace pantry::shelf
