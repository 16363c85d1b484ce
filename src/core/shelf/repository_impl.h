#pragma once

#include <filesystem>
#include <functional>
#include <optional>
#include <string>

#include "core/shelf/git_handle.h"
#include "core/shelf/repository.h"
#include "core/shelf/write_turn.h"

// Only for .cpp files of this folder: this header shows the git library.

namespace pantry::shelf {

struct Repository::Impl {
    RepositoryHandle repository;
    std::string prefix;  ///< of the shelf within the repository: empty, or with a slash at its end

    [[nodiscard]] std::string inRepository(const std::string& path) const { return prefix + path; }
    /// Nothing for what is not of the shelf.
    [[nodiscard]] std::optional<std::string> onShelf(std::string_view path) const;

    /// The commit that the branch points to; null before the first version.
    Result<CommitHandle> head() const;
    Result<TreeHandle> treeOf(const git_commit* commit) const;
    /// The blob of a file in a tree; nothing when it is not there.
    static std::optional<git_oid> blobIn(const git_tree* tree, const std::string& path);
    Result<std::string> textOf(const git_oid& blob) const;
    Result<SignatureHandle> signature(const std::optional<Author>& author) const;
    /// A new file of the object store.
    Result<git_oid> blobOf(const std::string& text) const;
    /// Whether a version can be made now: on a branch, and not in the middle of something.
    Status isReady() const;
    /// Whether there were locks that nobody can have any more.
    bool clearOldLocks() const;
    /// To be held while something is written.
    [[nodiscard]] WriteTurn turnToWrite() const;
    /// Removes what a killed program of ours left locked; waits a second for it, so that nobody else's is taken.
    void clearLocksOfKilled(const WriteTurn& turn) const;
    /// Makes a commit of the branch. The second parent may be null.
    Result<std::string> commit(const git_oid& tree, const git_commit* parent, const git_commit* other,
                               const std::string& message, const std::optional<Author>& by = {}) const;
    /// The remote branch that the branch follows; null when there is none, or nothing came from it yet.
    Result<CommitHandle> upstream(std::string& remote) const;
    /// The differences of two trees with moves as such; either may be null.
    Result<DiffHandle> differences(const git_tree* before, const git_tree* now) const;

    Result<Merge> goAlong(const git_commit* theirs, std::size_t versions) const;
    Status resolve(git_index* index, const Conflict& conflict, const std::optional<std::string>& text) const;
    Result<Merge> bringTogether(const git_commit* ours, const git_commit* theirs, const std::string& remote,
                                const Resolutions& resolutions) const;
};

}  // namespace pantry::shelf
