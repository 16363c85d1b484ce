#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "core/base/secret_text.h"
#include "core/shelf/repository_impl.h"
#include "core/shelf/shelf_names.h"

// What a repository shares with others.

namespace pantry::shelf {
namespace {

std::string branchName(git_repository* repository) {
    ReferenceHandle head;
    if (made(head, [&](auto** out) { return git_reference_lookup(out, repository, "HEAD"); }) != 0) return {};
    const char* target = git_reference_symbolic_target(head.get());
    if (target == nullptr) return {};
    const std::string_view whole(target);
    constexpr std::string_view kHeads = "refs/heads/";
    return std::string(whole.starts_with(kHeads) ? whole.substr(kHeads.size()) : whole);
}

std::vector<std::string> remoteNames(git_repository* repository) {
    git_strarray names{};
    std::vector<std::string> all;
    if (git_remote_list(&names, repository) != 0) return all;
    for (std::size_t i = 0; i < names.count; ++i) all.emplace_back(names.strings[i]);
    git_strarray_dispose(&names);
    return all;
}

/// The remote that a branch follows: the one that its settings name, else origin, else the first.
std::string remoteOf(git_repository* repository, const std::string& branch) {
    git_buf name{};
    const std::string reference = "refs/heads/" + branch;
    if (!branch.empty() && git_branch_upstream_remote(&name, repository, reference.c_str()) == 0) {
        std::string remote(name.ptr, name.size);
        git_buf_dispose(&name);
        return remote;
    }
    const auto names = remoteNames(repository);
    if (std::ranges::find(names, "origin") != names.end()) return "origin";
    return names.empty() ? "" : names.front();
}

}  // namespace

Result<CommitHandle> Repository::Impl::upstream(std::string& remote) const {
    const std::string branch = branchName(repository.get());
    remote = remoteOf(repository.get(), branch);
    CommitHandle commit;
    if (remote.empty() || branch.empty()) return commit;
    const std::string reference = "refs/remotes/" + remote + "/" + branch;
    git_oid id;
    if (git_reference_name_to_id(&id, repository.get(), reference.c_str()) != 0) return commit;
    if (const int code = made(commit, [&](auto** out) { return git_commit_lookup(out, repository.get(), &id); });
        code != 0)
        return gitError(code, "read the remote's versions");
    return commit;
}

Result<std::vector<Remote>> Repository::remotes() const {
    std::vector<Remote> all;
    for (const std::string& name : remoteNames(impl_->repository.get())) {
        RemoteHandle remote;
        const int code =
            made(remote, [&](auto** out) { return git_remote_lookup(out, impl_->repository.get(), name.c_str()); });
        if (code != 0) return gitError(code, "read the remotes");
        const char* address = git_remote_url(remote.get());
        all.push_back({name, address != nullptr ? address : ""});
    }
    return all;
}

Status Repository::addRemote(const std::string& name, const std::string& address) {
    if (base::withoutAddressSecrets(address) != address) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = "The address holds a password, which would stand in a file.",
                     .hint = "Leave it out; git asks your credential helper or your ssh keys."};
    }
    RemoteHandle remote;
    const int code = made(remote, [&](auto** out) {
        return git_remote_create(out, impl_->repository.get(), name.c_str(), address.c_str());
    });
    if (code == GIT_EEXISTS) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = fmt::format("There is a remote named “{}” already.", name),
                     .hint = "Remove that one first, or choose another name."};
    }
    if (code == GIT_EINVALIDSPEC) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = fmt::format("“{}” cannot be the name of a remote.", name),
                     .hint = "Letters, digits and hyphens can."};
    }
    if (code != 0) return gitError(code, "add the remote");
    return {};
}

Status Repository::removeRemote(const std::string& name) {
    const int code = git_remote_delete(impl_->repository.get(), name.c_str());
    if (code == GIT_ENOTFOUND || code == GIT_EINVALIDSPEC)
        return Error{.kind = ErrorKind::NotFound, .message = fmt::format("There is no remote named “{}”.", name)};
    if (code != 0) return gitError(code, "remove the remote");
    return {};
}

Result<RemoteState> Repository::remoteState() const {
    RemoteState state{.branch = branchName(impl_->repository.get()), .remote = {}};
    auto theirs = impl_->upstream(state.remote);
    if (!theirs) return theirs.error();
    auto ours = impl_->head();
    if (!ours) return ours.error();
    if (!*ours || !*theirs) {
        // Nothing was pushed yet: all versions are only here.
        if (*ours && !state.remote.empty()) {
            RevwalkHandle walk;
            git_oid id;
            made(walk, [&](auto** out) { return git_revwalk_new(out, impl_->repository.get()); });
            git_revwalk_push(walk.get(), git_commit_id(ours->get()));
            while (git_revwalk_next(&id, walk.get()) == 0) ++state.ahead;
        }
        return state;
    }
    const int code = git_graph_ahead_behind(&state.ahead, &state.behind, impl_->repository.get(),
                                            git_commit_id(ours->get()), git_commit_id(theirs->get()));
    if (code != 0) return gitError(code, "compare with the remote");
    return state;
}

Result<std::vector<std::string>> Repository::notPushed() const {
    std::vector<std::string> paths;
    std::string remote;
    auto theirs = impl_->upstream(remote);
    if (!theirs) return theirs.error();
    auto ours = impl_->head();
    if (!ours) return ours.error();
    if (remote.empty() || !*ours) return paths;
    auto theirTree = impl_->treeOf(theirs->get());
    auto ourTree = impl_->treeOf(ours->get());
    if (!theirTree || !ourTree) return (theirTree ? ourTree : theirTree).error();
    // Seen from where both parted, so that what is new there does not count as changed here.
    if (*theirs) {
        git_oid base;
        CommitHandle parting;
        if (git_merge_base(&base, impl_->repository.get(), git_commit_id(ours->get()), git_commit_id(theirs->get())) ==
                0 &&
            made(parting, [&](auto** out) { return git_commit_lookup(out, impl_->repository.get(), &base); }) == 0)
            theirTree = impl_->treeOf(parting.get());
        if (!theirTree) return theirTree.error();
    }
    auto diff = impl_->differences(theirTree->get(), ourTree->get());
    if (!diff) return diff.error();
    for (std::size_t i = 0; i < git_diff_num_deltas(diff->get()); ++i) {
        const auto path = impl_->onShelf(git_diff_get_delta(diff->get(), i)->new_file.path);
        if (path && isShown(nameOf(*path))) paths.push_back(*path);
    }
    return paths;
}

namespace {

/// Collects what a merge could not decide.
Result<std::vector<Conflict>> conflictsOf(git_index* index,
                                          const std::function<Result<std::string>(const git_oid&)>& textOf,
                                          const std::string& prefix) {
    std::vector<Conflict> conflicts;
    ConflictsHandle each;
    if (const int code = made(each, [&](auto** out) { return git_index_conflict_iterator_new(out, index); }); code != 0)
        return gitError(code, "read the conflicts");
    const git_index_entry* base = nullptr;
    const git_index_entry* ours = nullptr;
    const git_index_entry* theirs = nullptr;
    while (git_index_conflict_next(&base, &ours, &theirs, each.get()) == 0) {
        const git_index_entry* any = ours != nullptr ? ours : theirs != nullptr ? theirs : base;
        Conflict conflict;
        conflict.path = any->path;
        if (conflict.path.starts_with(prefix)) conflict.path.erase(0, prefix.size());
        for (auto [entry, into] :
             {std::pair(base, &conflict.base), std::pair(ours, &conflict.ours), std::pair(theirs, &conflict.theirs)}) {
            if (entry == nullptr) continue;
            auto text = textOf(entry->id);
            if (!text) return text.error();
            *into = std::move(*text);
        }
        conflicts.push_back(std::move(conflict));
    }
    return conflicts;
}

/// Writes what differs between two versions into the files; refuses where a file has changes of its own.
Status checkOut(git_repository* repository, const git_oid& tree) {
    ObjectHandle object;
    if (const int code =
            made(object, [&](auto** out) { return git_object_lookup(out, repository, &tree, GIT_OBJECT_TREE); });
        code != 0)
        return gitError(code, "read the new version");
    std::vector<std::string> inTheWay;
    git_checkout_options options;
    git_checkout_options_init(&options, GIT_CHECKOUT_OPTIONS_VERSION);
    options.checkout_strategy = GIT_CHECKOUT_SAFE;
    options.notify_flags = GIT_CHECKOUT_NOTIFY_CONFLICT;
    options.notify_payload = &inTheWay;
    options.notify_cb = [](git_checkout_notify_t, const char* path, const git_diff_file*, const git_diff_file*,
                           const git_diff_file*, void* payload) {
        static_cast<std::vector<std::string>*>(payload)->emplace_back(path);
        return 0;
    };
    const int code = git_checkout_tree(repository, object.get(), &options);
    if (code == 0) return {};
    if (inTheWay.empty()) return gitError(code, "write the new version into the files");
    const std::string more = inTheWay.size() > 1 ? fmt::format(" and {} more", inTheWay.size() - 1) : "";
    return Error{.kind = ErrorKind::Busy,
                 .message = fmt::format("“{}”{} has changes that are in no version yet; nothing was brought in.",
                                        inTheWay.front(), more),
                 .hint = "Save it to the shelf first, or undo its changes."};
}

}  // namespace

/// The branch goes on where the remote's stands.
Result<Merge> Repository::Impl::goAlong(const git_commit* theirs, std::size_t versions) const {
    auto tree = treeOf(theirs);
    if (!tree) return tree.error();
    if (Status done = checkOut(repository.get(), *git_tree_id(tree->get())); !done) return done.error();
    const std::string branch = "refs/heads/" + branchName(repository.get());
    ReferenceHandle moved;
    const int code = made(moved, [&](auto** out) {
        return git_reference_create(out, repository.get(), branch.c_str(), git_commit_id(theirs), 1, "pull");
    });
    if (code != 0) return gitError(code, "move the branch");
    return Merge{.kind = Merge::Kind::FastForward, .versions = versions};
}

/// Puts what a conflict is resolved with into an index.
Status Repository::Impl::resolve(git_index* index, const Conflict& conflict,
                                 const std::optional<std::string>& text) const {
    const std::string path = inRepository(conflict.path);
    git_index_conflict_remove(index, path.c_str());
    if (!text) return {};
    auto blob = blobOf(*text);
    if (!blob) return blob.error();
    git_index_entry entry{};
    entry.mode = GIT_FILEMODE_BLOB;
    entry.id = *blob;
    entry.path = path.c_str();
    if (const int code = git_index_add(index, &entry); code != 0) return gitError(code, "resolve " + path);
    return {};
}

/// Makes a version of both. It is put together in memory: files change when nothing can be in doubt any more.
Result<Merge> Repository::Impl::bringTogether(const git_commit* ours, const git_commit* theirs,
                                              const std::string& remote, const Resolutions& resolutions) const {
    IndexHandle index;
    int code = made(index, [&](auto** out) { return git_merge_commits(out, repository.get(), ours, theirs, nullptr); });
    if (code != 0) return gitError(code, "bring both together");
    if (git_index_has_conflicts(index.get()) != 0) {
        auto conflicts = conflictsOf(
            index.get(), [this](const git_oid& blob) { return textOf(blob); }, prefix);
        if (!conflicts) return conflicts.error();
        const bool areResolved =
            std::ranges::all_of(*conflicts, [&](const Conflict& one) { return resolutions.contains(one.path); });
        if (!areResolved) return Merge{.kind = Merge::Kind::Conflicts, .conflicts = std::move(*conflicts)};
        for (const Conflict& one : *conflicts) {
            if (Status done = resolve(index.get(), one, resolutions.find(one.path)->second); !done) return done.error();
        }
    }
    git_oid tree;
    code = git_index_write_tree_to(&tree, index.get(), repository.get());
    if (code != 0) return gitError(code, "bring both together");
    if (Status done = checkOut(repository.get(), tree); !done) return done.error();
    auto id = commit(tree, ours, theirs, fmt::format("Brought together with {}", remote));
    if (!id) return id.error();
    return Merge{.kind = Merge::Kind::Merged};
}

Status Repository::chooseBranch() {
    auto head = impl_->head();
    if (!head) return head.error();
    if (*head) return {};
    BranchesHandle each;
    git_repository* repository = impl_->repository.get();
    if (made(each, [&](auto** out) { return git_branch_iterator_new(out, repository, GIT_BRANCH_REMOTE); }) != 0)
        return {};
    git_reference* next = nullptr;
    git_branch_t kind = GIT_BRANCH_REMOTE;
    while (git_branch_next(&next, &kind, each.get()) == 0) {
        const ReferenceHandle reference(next);
        const std::string_view whole = git_reference_name(reference.get());  // refs/remotes/origin/main
        const std::string branch(whole.substr(whole.find('/', std::string_view("refs/remotes/").size()) + 1));
        if (branch == "HEAD") continue;
        const int code = git_repository_set_head(repository, ("refs/heads/" + branch).c_str());
        if (code != 0) return gitError(code, "go to the branch " + branch);
        const auto merged = merge();
        return merged ? Status() : merged.error();
    }
    return {};
}

Result<Merge> Repository::merge(const Resolutions& resolutions) {
    const WriteTurn turn = impl_->turnToWrite();
    impl_->clearLocksOfKilled(turn);
    if (Status ready = impl_->isReady(); !ready) return ready.error();
    std::string remote;
    auto theirs = impl_->upstream(remote);
    if (!theirs) return theirs.error();
    auto ours = impl_->head();
    if (!ours) return ours.error();
    if (!*theirs) return Merge{};
    if (!*ours) return impl_->goAlong(theirs->get(), 1);
    const git_oid* ourId = git_commit_id(ours->get());
    const git_oid* theirId = git_commit_id(theirs->get());
    std::size_t ahead = 0;
    std::size_t behind = 0;
    const int code = git_graph_ahead_behind(&ahead, &behind, impl_->repository.get(), ourId, theirId);
    if (code != 0) return gitError(code, "compare with the remote");
    if (behind == 0) return Merge{};
    git_oid parting;
    if (git_merge_base(&parting, impl_->repository.get(), ourId, theirId) != 0) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = fmt::format("The versions of “{}” have nothing in common with those of this shelf; "
                                            "nothing was brought in.",
                                            remote),
                     .hint = "It is another shelf: add it as one of its own."};
    }
    if (ahead == 0) return impl_->goAlong(theirs->get(), behind);
    auto merged = impl_->bringTogether(ours->get(), theirs->get(), remote, resolutions);
    if (merged) merged->versions = behind;
    return merged;
}

}  // namespace pantry::shelf
