#pragma once

#include <cstddef>
#include <filesystem>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "core/base/result.h"
#include "core/base/time.h"

namespace pantry::shelf {

/// One moment of a file.
struct Version {
    std::string id;  ///< of the commit, 40 hexadecimal digits
    base::Moment when{};
    std::string author;
    std::string message;
    std::string path;  ///< of the file in that version; another one before it was moved
    bool isRemoval = false;
};

/// A file that was there once.
struct RemovedFile {
    std::string path;
    std::string lastVersion;  ///< the last one that has it
    base::Moment removedAt{};
};

/// Who made a version, and when.
struct Author {
    std::string name;
    std::string address;  ///< of mail
    base::Moment when{};
};

/// What to do with a file in a version; without a text it goes.
struct FileChange {
    std::string path;
    std::optional<std::string> text;
};

struct Remote {
    std::string name;
    std::string address;
};

/// How the branch stands to that of its remote, as it was when somebody asked the remote last.
struct RemoteState {
    std::string branch;
    std::string remote;      ///< empty without one
    std::size_t ahead = 0;   ///< versions that the remote lacks
    std::size_t behind = 0;  ///< versions that are only there
};

/// A file that was changed here and there.
struct Conflict {
    std::string path;
    std::optional<std::string> base;    ///< what both began with; nothing where both made it
    std::optional<std::string> ours;    ///< nothing: removed here
    std::optional<std::string> theirs;  ///< nothing: removed there
};

/// What became of bringing in the remote's versions. With conflicts nothing was changed.
struct Merge {
    enum class Kind { UpToDate, FastForward, Merged, Conflicts };
    Kind kind = Kind::UpToDate;
    std::size_t versions = 0;  ///< that came
    std::vector<Conflict> conflicts = {};
};
/// What conflicts are resolved with, by path; nothing: the file goes.
using Resolutions = std::map<std::string, std::optional<std::string>, std::less<>>;

/// The git repository around a shelf: versions of its files. Paths are those of the shelf, which may be a folder within
/// the repository. What others have put into its index or changed in its files stays as it is.
///
/// Threads: one at a time. Other programs may use the same repository.
/// Errors:  Busy while another program locks it or in the middle of a merge, Permission, Damaged, Io.
class Repository {
public:
    /// The repository that `folder` is in. Errors: NotFound without one.
    static Result<Repository> open(const std::filesystem::path& folder);
    /// Makes one of a folder.
    static Result<Repository> make(const std::filesystem::path& folder);
    ~Repository();
    Repository(Repository&&) noexcept;
    Repository& operator=(Repository&&) noexcept;

    /// The folder that the repository is of; the shelf's own or one above it.
    [[nodiscard]] std::filesystem::path top() const;

    /// Makes a version of these files; others are in it as they were in the one before.
    /// `author`: somebody else than git's settings say, and another moment than now.
    /// Returns: its id; an empty one when nothing is different.
    Result<std::string> keep(const std::vector<FileChange>& changes, const std::string& message,
                             const std::optional<Author>& author = {});

    /// The versions of a file, the newest first, through moves.
    Result<std::vector<Version>> versionsOf(const std::string& path, std::size_t most) const;
    /// A file as it was. Errors: NotFound when that version lacks it; InvalidInput for an id that is none, or that
    /// several begin with.
    Result<std::string> textAt(const std::string& version, const std::string& path) const;
    /// Files that are gone, the last one first.
    Result<std::vector<RemovedFile>> removed(std::size_t most) const;
    /// The last version's text of a file; nothing when it is in none.
    Result<std::optional<std::string>> lastText(const std::string& path) const;
    /// Files that are not as in the last version; true for those that are in none yet.
    Result<std::map<std::string, bool>> states() const;

    Result<std::vector<Remote>> remotes() const;
    /// Errors: InvalidInput for a name that is none, that is taken, and for an address with a password in it.
    Status addRemote(const std::string& name, const std::string& address);
    Status removeRemote(const std::string& name);
    Result<RemoteState> remoteState() const;
    /// Paths of files that the remote does not have as they are in the last version.
    Result<std::vector<std::string>> notPushed() const;

    /// After a copy of a repository whose branch has another name than it says: goes to the one that is there.
    Status chooseBranch();

    /// Brings what was fetched from the remote into the branch and its files. Conflicts are told and nothing is
    /// changed, until there is a resolution for each. Errors: Busy when a file that would change has changes that are
    /// in no version; InvalidInput for a remote with another history.
    Result<Merge> merge(const Resolutions& resolutions = {});

private:
    struct Impl;
    explicit Repository(std::unique_ptr<Impl> impl);
    std::unique_ptr<Impl> impl_;
};

}  // namespace pantry::shelf
