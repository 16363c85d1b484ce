#pragma once

#include <git2.h>

#include <memory>
#include <string>
#include <string_view>

#include "core/base/result.h"

// Only for .cpp files of this folder: this header shows the git library.

namespace pantry::shelf {

/// Frees something of the git library with its own function.
template <auto free>
struct GitFree {
    template <class T>
    void operator()(T* one) const {
        free(one);
    }
};
template <class T, auto free>
using GitHandle = std::unique_ptr<T, GitFree<free>>;

using RepositoryHandle = GitHandle<git_repository, git_repository_free>;
using CommitHandle = GitHandle<git_commit, git_commit_free>;
using TreeHandle = GitHandle<git_tree, git_tree_free>;
using TreeEntryHandle = GitHandle<git_tree_entry, git_tree_entry_free>;
using IndexHandle = GitHandle<git_index, git_index_free>;
using BlobHandle = GitHandle<git_blob, git_blob_free>;
using DiffHandle = GitHandle<git_diff, git_diff_free>;
using PatchHandle = GitHandle<git_patch, git_patch_free>;
using ReferenceHandle = GitHandle<git_reference, git_reference_free>;
using RemoteHandle = GitHandle<git_remote, git_remote_free>;
using ObjectHandle = GitHandle<git_object, git_object_free>;
using RevwalkHandle = GitHandle<git_revwalk, git_revwalk_free>;
using SignatureHandle = GitHandle<git_signature, git_signature_free>;
using ConflictsHandle = GitHandle<git_index_conflict_iterator, git_index_conflict_iterator_free>;
using BranchesHandle = GitHandle<git_branch_iterator, git_branch_iterator_free>;
using StatusHandle = GitHandle<git_status_list, git_status_list_free>;

/// Calls a function of the library that makes something, and keeps what it made.
/// Returns: the library's code, 0 when it went well.
template <class Handle, class Make>
int made(Handle& into, Make make) {
    typename Handle::pointer raw = nullptr;
    const int code = make(&raw);
    into.reset(raw);
    return code;
}

/// Makes the library ready; once for the process. Errors: NotFound where it is not installed.
[[nodiscard]] Status beginGit();

/// What the library says after a call that failed; `doing` completes “could not …”.
[[nodiscard]] Error gitError(int code, std::string_view doing);

[[nodiscard]] std::string idText(const git_oid& id);

}  // namespace pantry::shelf
