#include "core/shelf/repository.h"

#include <fmt/format.h>
#include <pwd.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <chrono>
#include <cstdlib>
#include <thread>

#include "core/base/file.h"
#include "core/shelf/repository_impl.h"

namespace pantry::shelf {
namespace {

namespace fs = std::filesystem;

std::string loginName() {
    const passwd* entry = ::getpwuid(::getuid());
    return entry != nullptr ? entry->pw_name : "somebody";
}

std::string hostName() {
    char name[256] = {};
    return ::gethostname(name, sizeof name - 1) == 0 ? name : "localhost";
}

/// What a repository is in the middle of; empty for nothing.
std::string_view stateWord(int state) {
    switch (state) {
        case GIT_REPOSITORY_STATE_NONE: return {};
        case GIT_REPOSITORY_STATE_MERGE: return "merge";
        case GIT_REPOSITORY_STATE_REVERT:
        case GIT_REPOSITORY_STATE_REVERT_SEQUENCE: return "revert";
        case GIT_REPOSITORY_STATE_CHERRYPICK:
        case GIT_REPOSITORY_STATE_CHERRYPICK_SEQUENCE: return "cherry-pick";
        case GIT_REPOSITORY_STATE_BISECT: return "bisect";
        default: return "rebase";
    }
}

}  // namespace

std::optional<std::string> Repository::Impl::onShelf(std::string_view path) const {
    if (!path.starts_with(prefix)) return std::nullopt;
    return std::string(path.substr(prefix.size()));
}

Result<CommitHandle> Repository::Impl::head() const {
    ReferenceHandle reference;
    const int code = made(reference, [&](auto** out) { return git_repository_head(out, repository.get()); });
    if (code == GIT_EUNBORNBRANCH || code == GIT_ENOTFOUND) return CommitHandle();
    if (code != 0) return gitError(code, "read the shelf's branch");
    CommitHandle commit;
    const int peeled = made(commit, [&](auto** out) {
        return git_reference_peel(reinterpret_cast<git_object**>(out), reference.get(), GIT_OBJECT_COMMIT);
    });
    if (peeled != 0) return gitError(peeled, "read the shelf's last version");
    return commit;
}

Result<TreeHandle> Repository::Impl::treeOf(const git_commit* commit) const {
    TreeHandle tree;
    if (commit == nullptr) return tree;
    const int code = made(tree, [&](auto** out) { return git_commit_tree(out, commit); });
    if (code != 0) return gitError(code, "read a version of the shelf");
    return tree;
}

std::optional<git_oid> Repository::Impl::blobIn(const git_tree* tree, const std::string& path) {
    if (tree == nullptr) return std::nullopt;
    TreeEntryHandle entry;
    const int code = made(entry, [&](auto** out) { return git_tree_entry_bypath(out, tree, path.c_str()); });
    if (code != 0 || git_tree_entry_type(entry.get()) != GIT_OBJECT_BLOB) return std::nullopt;
    return *git_tree_entry_id(entry.get());
}

Result<std::string> Repository::Impl::textOf(const git_oid& blob) const {
    BlobHandle handle;
    const int code = made(handle, [&](auto** out) { return git_blob_lookup(out, repository.get(), &blob); });
    if (code != 0) return gitError(code, "read a version of a file");
    return std::string(static_cast<const char*>(git_blob_rawcontent(handle.get())), git_blob_rawsize(handle.get()));
}

Result<git_oid> Repository::Impl::blobOf(const std::string& text) const {
    git_oid id;
    const int code = git_blob_create_from_buffer(&id, repository.get(), text.data(), text.size());
    if (code != 0) return gitError(code, "keep a version of a file");
    return id;
}

Result<SignatureHandle> Repository::Impl::signature(const std::optional<Author>& author) const {
    SignatureHandle signature;
    if (author) {
        const auto seconds = std::chrono::duration_cast<std::chrono::seconds>(author->when.time_since_epoch()).count();
        const int code = made(signature, [&](auto** out) {
            return git_signature_new(out, author->name.c_str(), author->address.c_str(), seconds, 0);
        });
        if (code != 0) return gitError(code, "name the author of a version");
        return signature;
    }
    if (made(signature, [&](auto** out) { return git_signature_default(out, repository.get()); }) == 0)
        return signature;
    const std::string name = loginName();
    const std::string address = name + "@" + hostName();
    const int code = made(signature, [&](auto** out) { return git_signature_now(out, name.c_str(), address.c_str()); });
    if (code != 0) return gitError(code, "name the author of a version");
    return signature;
}

Status Repository::Impl::isReady() const {
    if (const std::string_view state = stateWord(git_repository_state(repository.get())); !state.empty()) {
        return Error{
            .kind = ErrorKind::Busy,
            .message = fmt::format("The shelf's repository is in the middle of a {}; no version was made.", state),
            .hint = fmt::format("Finish it with git, or leave it with git {} --abort.", state)};
    }
    if (git_repository_head_detached(repository.get()) == 1) {
        return Error{.kind = ErrorKind::Busy,
                     .message = "The shelf's repository stands on no branch (detached HEAD); no version was made.",
                     .hint = "Choose a branch with git switch."};
    }
    return {};
}

namespace {

/// The files with which git locks what it writes.
std::vector<fs::path> lockFiles(const fs::path& own) {
    std::vector<fs::path> locks{own / "index.lock", own / "HEAD.lock"};
    std::error_code code;
    for (fs::recursive_directory_iterator each(own / "refs", code); !code && each != fs::recursive_directory_iterator();
         each.increment(code)) {
        if (each->path().extension() == ".lock") locks.push_back(each->path());
    }
    return locks;
}

/// Removes the locks that have been there for so long.
bool removeLocks(const fs::path& own, std::chrono::milliseconds old) {
    bool isCleared = false;
    for (const fs::path& lock : lockFiles(own)) {
        std::error_code ignored;
        const auto written = fs::last_write_time(lock, ignored);
        if (ignored || fs::file_time_type::clock::now() - written < old) continue;
        isCleared = fs::remove(lock, ignored) || isCleared;
    }
    return isCleared;
}

}  // namespace

/// A program that was killed leaves the locks behind that it had for some milliseconds. Old ones are nobody's.
bool Repository::Impl::clearOldLocks() const {
    return removeLocks(git_repository_path(repository.get()), std::chrono::seconds(30));
}

WriteTurn Repository::Impl::turnToWrite() const { return WriteTurn(git_repository_path(repository.get())); }

/// Another program's lock is there for less than a second; what is still there after it is that of the killed one.
void Repository::Impl::clearLocksOfKilled(const WriteTurn& turn) const {
    if (!turn.isAfterKill()) return;
    constexpr auto kOld = std::chrono::seconds(1);
    const fs::path own = git_repository_path(repository.get());
    const auto isThere = [](const fs::path& lock) { return fs::exists(lock); };
    if (std::ranges::any_of(lockFiles(own), isThere)) std::this_thread::sleep_for(kOld);
    removeLocks(own, kOld);
}

Result<std::string> Repository::Impl::commit(const git_oid& tree, const git_commit* parent, const git_commit* other,
                                             const std::string& message, const std::optional<Author>& by) const {
    auto author = signature(by);
    if (!author) return author.error();
    TreeHandle handle;
    if (const int code = made(handle, [&](auto** out) { return git_tree_lookup(out, repository.get(), &tree); });
        code != 0)
        return gitError(code, "make a version");
    const git_commit* parents[] = {parent, other};
    const std::size_t count = parent == nullptr ? 0 : other == nullptr ? 1 : 2;
    git_oid id;
    const auto create = [&] {
        return git_commit_create(&id, repository.get(), "HEAD", author->get(), author->get(), nullptr, message.c_str(),
                                 handle.get(), count, parents);
    };
    int code = create();
    if (code == GIT_ELOCKED && clearOldLocks()) code = create();
    if (code == GIT_EMODIFIED) {
        return Error{.kind = ErrorKind::Busy,
                     .message = "Another program made a version at the same moment.",
                     .hint = "Save again."};
    }
    if (code != 0) return gitError(code, "make a version");
    return idText(id);
}

Result<DiffHandle> Repository::Impl::differences(const git_tree* before, const git_tree* now) const {
    DiffHandle diff;
    // The library's function takes trees that it could change, and does not.
    const int code = made(diff, [&](auto** out) {
        return git_diff_tree_to_tree(out, repository.get(), const_cast<git_tree*>(before), const_cast<git_tree*>(now),
                                     nullptr);
    });
    if (code != 0) return gitError(code, "compare versions");
    git_diff_find_options options;
    git_diff_find_options_init(&options, GIT_DIFF_FIND_OPTIONS_VERSION);
    options.flags = GIT_DIFF_FIND_RENAMES;
    options.rename_limit = 2000;
    if (const int found = git_diff_find_similar(diff.get(), &options); found != 0)
        return gitError(found, "compare versions");
    return diff;
}

Repository::Repository(std::unique_ptr<Impl> impl) : impl_(std::move(impl)) {}
Repository::~Repository() = default;
Repository::Repository(Repository&&) noexcept = default;
Repository& Repository::operator=(Repository&&) noexcept = default;

Result<Repository> Repository::open(const fs::path& folder) {
    if (Status there = beginGit(); !there) return there.error();
    auto impl = std::make_unique<Impl>();
    const int code = made(impl->repository, [&](auto** out) {
        return git_repository_open_ext(out, folder.c_str(), GIT_REPOSITORY_OPEN_CROSS_FS, nullptr);
    });
    if (code == GIT_ENOTFOUND)
        return Error{.kind = ErrorKind::NotFound, .message = folder.string() + " is in no git repository."};
    if (code != 0) return gitError(code, "open the repository of " + folder.string());
    const char* top = git_repository_workdir(impl->repository.get());
    if (top == nullptr) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = folder.string() + " is a repository without files of its own (a bare one).",
                     .hint = "Clone it, and open the clone."};
    }
    std::error_code ignored;
    const std::string within =
        fs::relative(fs::weakly_canonical(folder, ignored), fs::weakly_canonical(top, ignored), ignored).string();
    if (within != "." && !within.empty()) impl->prefix = within + "/";
    return Repository(std::move(impl));
}

/// Made beside and moved to its place: two programs that start together never see half of one, and the second one takes
/// the first one's.
Result<Repository> Repository::make(const fs::path& folder) {
    if (Status there = beginGit(); !there) return there.error();
    if (Status status = base::makeFolder(folder); !status) return status.error();
    std::string beside = (folder / ".making-XXXXXX").string();
    if (::mkdtemp(beside.data()) == nullptr) return base::fileError(errno, "make a repository in", folder);
    const auto removed = [&](auto result) {
        std::error_code ignored;
        fs::remove_all(beside, ignored);
        return result;
    };
    git_repository_init_options options;
    git_repository_init_options_init(&options, GIT_REPOSITORY_INIT_OPTIONS_VERSION);
    options.initial_head = "main";
    RepositoryHandle half;
    const int code = made(half, [&](auto** out) { return git_repository_init_ext(out, beside.c_str(), &options); });
    if (code != 0) return removed(gitError(code, "make a repository of " + folder.string()));
    half.reset();
    std::error_code failed;
    fs::rename(fs::path(beside) / ".git", folder / ".git", failed);
    std::error_code ignored;
    if (failed && !fs::exists(folder / ".git", ignored))
        return removed(base::fileError(failed.value(), "make", folder / ".git"));
    return removed(open(folder));
}

fs::path Repository::top() const { return git_repository_workdir(impl_->repository.get()); }

Result<std::string> Repository::keep(const std::vector<FileChange>& changes, const std::string& message,
                                     const std::optional<Author>& author) {
    const WriteTurn turn = impl_->turnToWrite();
    impl_->clearLocksOfKilled(turn);
    if (Status ready = impl_->isReady(); !ready) return ready.error();
    auto head = impl_->head();
    if (!head) return head.error();
    auto tree = impl_->treeOf(head->get());
    if (!tree) return tree.error();
    // An index of its own: what others have put into the repository's is not for this version.
    IndexHandle index;
    int code = made(index, [](auto** out) { return git_index_new(out); });
    if (code == 0 && *tree) code = git_index_read_tree(index.get(), tree->get());
    if (code != 0) return gitError(code, "make a version");
    for (const FileChange& change : changes) {
        const std::string path = impl_->inRepository(change.path);
        if (!change.text) {
            git_index_remove(index.get(), path.c_str(), 0);
            continue;
        }
        auto blob = impl_->blobOf(*change.text);
        if (!blob) return blob.error();
        git_index_entry entry{};
        entry.mode = GIT_FILEMODE_BLOB;
        entry.id = *blob;
        entry.path = path.c_str();
        if ((code = git_index_add(index.get(), &entry)) != 0) return gitError(code, "put " + path + " into a version");
    }
    git_oid fresh;
    if ((code = git_index_write_tree_to(&fresh, index.get(), impl_->repository.get())) != 0)
        return gitError(code, "make a version");
    if (*tree && git_oid_equal(&fresh, git_tree_id(tree->get())) != 0) return std::string();
    auto id = impl_->commit(fresh, head->get(), nullptr, message, author);
    if (!id) return id;
    // The repository's own index knows them too then; that it is locked is no harm: git finds out by itself.
    impl_->clearOldLocks();
    IndexHandle own;
    if (made(own, [&](auto** out) { return git_repository_index(out, impl_->repository.get()); }) != 0) return id;
    for (const FileChange& change : changes) {
        const std::string path = impl_->inRepository(change.path);
        if (change.text) {
            git_index_add_bypath(own.get(), path.c_str());
        } else {
            git_index_remove(own.get(), path.c_str(), 0);
        }
    }
    git_index_write(own.get());
    return id;
}

Result<std::optional<std::string>> Repository::lastText(const std::string& path) const {
    auto head = impl_->head();
    if (!head) return head.error();
    auto tree = impl_->treeOf(head->get());
    if (!tree) return tree.error();
    const auto blob = Impl::blobIn(tree->get(), impl_->inRepository(path));
    if (!blob) return std::optional<std::string>();
    auto text = impl_->textOf(*blob);
    if (!text) return text.error();
    return std::optional(std::move(*text));
}

}  // namespace pantry::shelf
