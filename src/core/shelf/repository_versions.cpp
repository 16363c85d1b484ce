#include <algorithm>
#include <set>

#include "core/base/text.h"
#include "core/shelf/repository_impl.h"
#include "core/shelf/shelf_names.h"

// What a repository remembers of files.

namespace pantry::shelf {
namespace {

using namespace std::chrono_literals;

base::Moment momentOf(const git_commit* commit) { return base::Moment(std::chrono::seconds(git_commit_time(commit))); }

Version versionOf(const git_commit* commit, std::string path) {
    const git_signature* author = git_commit_author(commit);
    const char* summary = git_commit_summary(const_cast<git_commit*>(commit));
    return {.id = idText(*git_commit_id(commit)),
            .when = momentOf(commit),
            .author = author != nullptr ? author->name : "",
            .message = summary != nullptr ? summary : "",
            .path = std::move(path)};
}

/// The commits of a branch, the newest first.
class Walk {
public:
    static Result<Walk> from(git_repository* repository, const git_commit* head) {
        Walk walk(repository);
        int code = made(walk.walk_, [&](auto** out) { return git_revwalk_new(out, repository); });
        if (code == 0) code = git_revwalk_sorting(walk.walk_.get(), GIT_SORT_TOPOLOGICAL | GIT_SORT_TIME);
        if (code == 0) code = git_revwalk_push(walk.walk_.get(), git_commit_id(head));
        if (code != 0) return gitError(code, "read the versions of the shelf");
        return walk;
    }
    /// Null at the end.
    Result<CommitHandle> next() {
        git_oid id;
        CommitHandle commit;
        const int code = git_revwalk_next(&id, walk_.get());
        if (code == GIT_ITEROVER) return commit;
        if (code != 0) return gitError(code, "read the versions of the shelf");
        if (const int found = made(commit, [&](auto** out) { return git_commit_lookup(out, repository_, &id); });
            found != 0)
            return gitError(found, "read a version of the shelf");
        return commit;
    }

private:
    explicit Walk(git_repository* repository) : repository_(repository) {}
    git_repository* repository_;
    RevwalkHandle walk_;
};

CommitHandle parentOf(const git_commit* commit, unsigned number) {
    CommitHandle parent;
    if (number < git_commit_parentcount(commit))
        made(parent, [&](auto** out) { return git_commit_parent(out, commit, number); });
    return parent;
}

bool areSame(const std::optional<git_oid>& a, const std::optional<git_oid>& b) {
    if (!a || !b) return a.has_value() == b.has_value();
    return git_oid_equal(&*a, &*b) != 0;
}

/// Where a file of `now` came from by a move; empty when it is new.
std::string movedFrom(const git_diff* diff, const std::string& path) {
    const std::size_t count = git_diff_num_deltas(diff);
    for (std::size_t i = 0; i < count; ++i) {
        const git_diff_delta* delta = git_diff_get_delta(diff, i);
        if (delta->status == GIT_DELTA_RENAMED && path == delta->new_file.path) return delta->old_file.path;
    }
    return {};
}

}  // namespace

Result<std::vector<Version>> Repository::versionsOf(const std::string& path, std::size_t most) const {
    std::vector<Version> versions;
    auto head = impl_->head();
    if (!head) return head.error();
    if (!*head) return versions;
    auto walk = Walk::from(impl_->repository.get(), head->get());
    if (!walk) return walk.error();
    std::string followed = impl_->inRepository(path);
    while (versions.size() < most && !followed.empty()) {
        auto commit = walk->next();
        if (!commit) return commit.error();
        if (!*commit) break;
        auto tree = impl_->treeOf(commit->get());
        if (!tree) return tree.error();
        const auto blob = Impl::blobIn(tree->get(), followed);
        const CommitHandle parent = parentOf(commit->get(), 0);
        auto before = impl_->treeOf(parent.get());
        if (!before) return before.error();
        const auto old = Impl::blobIn(before->get(), followed);
        if (areSame(blob, old)) continue;
        // What a merge only brought in is a version of the branch that it came from.
        if (const CommitHandle other = parentOf(commit->get(), 1)) {
            auto otherTree = impl_->treeOf(other.get());
            if (!otherTree) return otherTree.error();
            if (areSame(blob, Impl::blobIn(otherTree->get(), followed))) continue;
        }
        versions.push_back(versionOf(commit->get(), impl_->onShelf(followed).value_or(followed)));
        versions.back().isRemoval = !blob;
        if (!blob || old) continue;
        auto diff = impl_->differences(before->get(), tree->get());
        if (!diff) return diff.error();
        followed = movedFrom(diff->get(), followed);
    }
    return versions;
}

Result<std::string> Repository::textAt(const std::string& version, const std::string& path) const {
    const bool isHex = std::ranges::all_of(version, [](char c) {
        return base::isAsciiDigit(c) || (base::asciiLower(c) >= 'a' && base::asciiLower(c) <= 'f');
    });
    const Error noVersion{.kind = ErrorKind::InvalidInput,
                          .message = "“" + version + "” is no version of this shelf.",
                          .hint = "pantry shelf versions lists those of a query; the first seven digits are enough."};
    if (!isHex || version.size() < 4 || version.size() > GIT_OID_HEXSZ) return noVersion;
    git_oid prefix;
    CommitHandle commit;
    if (git_oid_fromstrn(&prefix, version.data(), version.size()) != 0 ||
        made(commit, [&](auto** out) {
            return git_commit_lookup_prefix(out, impl_->repository.get(), &prefix, version.size());
        }) != 0)
        return noVersion;
    auto tree = impl_->treeOf(commit.get());
    if (!tree) return tree.error();
    const auto blob = Impl::blobIn(tree->get(), impl_->inRepository(path));
    if (!blob) return Error{.kind = ErrorKind::NotFound, .message = "“" + path + "” is not in that version."};
    return impl_->textOf(*blob);
}

Result<std::map<std::string, bool>> Repository::states() const {
    std::map<std::string, bool> states;
    git_status_options options;
    git_status_options_init(&options, GIT_STATUS_OPTIONS_VERSION);
    options.show = GIT_STATUS_SHOW_INDEX_AND_WORKDIR;
    options.flags = GIT_STATUS_OPT_INCLUDE_UNTRACKED | GIT_STATUS_OPT_RECURSE_UNTRACKED_DIRS;
    StatusHandle list;
    const int code =
        made(list, [&](auto** out) { return git_status_list_new(out, impl_->repository.get(), &options); });
    if (code != 0) return gitError(code, "see what changed on the shelf");
    for (std::size_t i = 0; i < git_status_list_entrycount(list.get()); ++i) {
        const git_status_entry* entry = git_status_byindex(list.get(), i);
        const git_diff_delta* delta =
            entry->index_to_workdir != nullptr ? entry->index_to_workdir : entry->head_to_index;
        if (delta == nullptr || entry->status == GIT_STATUS_CURRENT) continue;
        const unsigned isNew = GIT_STATUS_WT_NEW | GIT_STATUS_INDEX_NEW;
        if (const auto path = impl_->onShelf(delta->new_file.path)) states[*path] = (entry->status & isNew) != 0;
    }
    return states;
}

Result<std::vector<RemovedFile>> Repository::removed(std::size_t most) const {
    constexpr std::size_t kMostCommits = 5000;
    std::vector<RemovedFile> files;
    auto head = impl_->head();
    if (!head) return head.error();
    if (!*head) return files;
    auto last = impl_->treeOf(head->get());
    if (!last) return last.error();
    auto walk = Walk::from(impl_->repository.get(), head->get());
    if (!walk) return walk.error();
    std::set<std::string> told;
    for (std::size_t looked = 0; looked < kMostCommits && files.size() < most; ++looked) {
        auto commit = walk->next();
        if (!commit) return commit.error();
        if (!*commit) break;
        const CommitHandle parent = parentOf(commit->get(), 0);
        if (!parent) continue;
        auto tree = impl_->treeOf(commit->get());
        auto before = impl_->treeOf(parent.get());
        if (!tree || !before) return (tree ? before : tree).error();
        auto diff = impl_->differences(before->get(), tree->get());
        if (!diff) return diff.error();
        for (std::size_t i = 0; i < git_diff_num_deltas(diff->get()); ++i) {
            const git_diff_delta* delta = git_diff_get_delta(diff->get(), i);
            if (delta->status != GIT_DELTA_DELETED) continue;
            const auto path = impl_->onShelf(delta->old_file.path);
            if (!path || !isShown(nameOf(*path)) || !told.insert(*path).second) continue;
            if (Impl::blobIn(last->get(), delta->old_file.path)) continue;
            files.push_back({*path, idText(*git_commit_id(parent.get())), momentOf(commit->get())});
        }
    }
    return files;
}

}  // namespace pantry::shelf
