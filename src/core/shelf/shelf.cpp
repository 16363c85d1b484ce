#include "core/shelf/shelf.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>
#include <tuple>

#include "core/base/file.h"
#include "core/base/text.h"
#include "core/shelf/secret_check.h"
#include "core/shelf/shelf_names.h"
#include "core/shelf/version_words.h"
#include "core/store/text_file.h"

namespace pantry::shelf {
namespace {

namespace fs = std::filesystem;

constexpr std::size_t kMostSearched = 256 << 10;  // bytes of a file that are searched

Error isThere(const std::string& path) {
    return {.kind = ErrorKind::InvalidInput,
            .message = fmt::format("“{}” is on the shelf already.", path),
            .hint = "Choose another name."};
}

std::string_view endingOf(std::string_view path) { return isNotebook(path) ? ".md" : ".sql"; }

}  // namespace

std::string ShelfItem::folder() const { return folderOf(path); }

Result<Shelf> Shelf::openOwn(const fs::path& folder) {
    std::error_code ignored;
    if (fs::exists(folder / ".git", ignored)) return open(folder);
    auto made = Repository::make(folder);
    if (!made) return made.error();
    Shelf shelf(folder);
    shelf.repository_ = std::move(*made);
    return shelf;
}

Result<Shelf> Shelf::open(const fs::path& folder) {
    std::error_code code;
    if (!fs::is_directory(folder, code)) {
        if (code && code != std::errc::no_such_file_or_directory) return base::fileError(code.value(), "open", folder);
        return Error{.kind = ErrorKind::NotFound,
                     .message = folder.string() + " is no folder.",
                     .hint = "A shelf is a folder with .sql files."};
    }
    Shelf shelf(folder);
    auto repository = Repository::open(folder);
    if (repository) {
        shelf.repository_ = std::move(*repository);
    } else if (repository.error().kind != ErrorKind::NotFound) {
        shelf.problem_ = repository.error();
    }
    return shelf;
}

Result<Repository*> Shelf::repository() {
    if (repository_) return &*repository_;
    if (problem_) return *problem_;
    return Error{.kind = ErrorKind::InvalidInput,
                 .message = folder_.string() + " is a plain folder and keeps no versions.",
                 .hint = "git init in it makes a repository of it."};
}

std::vector<std::string> Shelf::filesThere() const {
    std::vector<std::string> paths;
    std::error_code code;
    fs::recursive_directory_iterator each(folder_, fs::directory_options::skip_permission_denied, code);
    for (; !code && each != fs::recursive_directory_iterator(); each.increment(code)) {
        const std::string name = each->path().filename().string();
        std::error_code ignored;
        if (each->is_directory(ignored)) {
            if (name.starts_with('.')) each.disable_recursion_pending();
        } else if (!name.starts_with('.') && isShown(name)) {
            paths.push_back(each->path().lexically_relative(folder_).generic_string());
        }
    }
    return paths;
}

std::vector<fs::path> Shelf::foldersThere() const {
    std::error_code code;
    fs::path own = folder_;
    while (!fs::is_directory(own, code) && own.has_relative_path()) own = own.parent_path();
    std::vector<fs::path> folders{own};
    if (own != folder_) return folders;
    fs::recursive_directory_iterator each(folder_, fs::directory_options::skip_permission_denied, code);
    for (; !code && each != fs::recursive_directory_iterator(); each.increment(code)) {
        std::error_code ignored;
        if (!each->is_directory(ignored)) continue;
        if (each->path().filename().string().starts_with('.'))
            each.disable_recursion_pending();
        else
            folders.push_back(each->path());
    }
    return folders;
}

const Shelf::Known& Shelf::know(const std::string& path) {
    Known& known = known_[path];
    const auto stamp = store::stampOf(fileOf(path));
    if (stamp && known.modifiedNs == stamp->modifiedNs && known.size == static_cast<std::uintmax_t>(stamp->size))
        return known;
    known = {};
    if (stamp) {
        known.modifiedNs = stamp->modifiedNs;
        known.size = static_cast<std::uintmax_t>(stamp->size);
    }
    const auto content = read(path);
    if (content && !isNotebook(path)) known.head = readQuery(*content).head;
    if (known.head.title.empty()) known.head.title = titleOfName(nameOf(path));
    known.searched = base::toLower(fmt::format("{}\n{}\n{}", known.head.title, path, titleOfName(folderOf(path))));
    if (content) known.searched += '\n' + base::toLower(std::string_view(*content).substr(0, kMostSearched));
    return known;
}

void Shelf::addVersioning(std::vector<ShelfItem>& items) {
    if (!repository_) return;
    std::set<std::string> notPushed;
    if (const auto paths = repository_->notPushed()) notPushed.insert(paths->begin(), paths->end());
    const auto states = repository_->states();
    for (ShelfItem& item : items) {
        item.isNotPushed = notPushed.contains(item.path);
        item.versioning = Versioning::Kept;
        if (!states) continue;
        const auto found = states->find(item.path);
        if (found != states->end()) item.versioning = found->second ? Versioning::New : Versioning::Changed;
    }
}

Result<std::vector<ShelfItem>> Shelf::list() { return find({}); }

Result<std::vector<ShelfItem>> Shelf::find(std::string_view words) {
    std::error_code code;
    if (!fs::is_directory(folder_, code))
        return Error{.kind = ErrorKind::NotFound, .message = "The shelf’s folder " + folder_.string() + " is gone."};
    std::vector<std::string> wanted;
    const std::string lower = base::toLower(words);
    for (const std::string_view word : base::splitAt(lower, ' ')) {
        if (!word.empty()) wanted.emplace_back(word);
    }
    std::vector<ShelfItem> items;
    for (const std::string& path : filesThere()) {
        const Known& known = know(path);
        const auto has = [&](const std::string& word) { return known.searched.find(word) != std::string::npos; };
        if (std::ranges::all_of(wanted, has)) items.push_back({path, known.head, isNotebook(path)});
    }
    std::ranges::sort(items, [](const ShelfItem& a, const ShelfItem& b) {
        const auto key = [](const ShelfItem& one) {
            return std::tuple(base::toLower(one.folder()), one.isNotebook, base::toLower(one.head.title), one.path);
        };
        return key(a) < key(b);
    });
    addVersioning(items);
    return items;
}

Result<std::string> Shelf::read(const std::string& path) const {
    if (Status fine = checkPath(path); !fine) return fine.error();
    const auto opened = store::openTextFile(fileOf(path));
    if (!opened && opened.error().kind == ErrorKind::NotFound)
        return Error{.kind = ErrorKind::NotFound, .message = "“" + path + "” is not on the shelf."};
    if (!opened) return opened.error();
    return opened->text;
}

Saved Shelf::version(const std::vector<FileChange>& changes, Saved saved) {
    if (!repository_) {
        if (problem_) saved.unversioned = problem_;
        return saved;
    }
    auto id = repository_->keep(changes, saved.message);
    if (id) {
        saved.version = *id;
    } else {
        saved.unversioned = id.error();
    }
    return saved;
}

Result<Saved> Shelf::save(const std::string& path, const std::string& content,
                          const std::optional<std::string>& expected) {
    if (Status fine = checkPath(path); !fine) return fine.error();
    if (!isShown(nameOf(path)))
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = "Names on the shelf end with .sql or .md: " + path + "."};
    if (const auto secret = secretIn(content, isNotebook(path))) return *secret;
    const fs::path file = fileOf(path);
    std::error_code ignored;
    store::TextForm form;
    if (fs::exists(file, ignored)) {
        const auto there = store::openTextFile(file);
        if (!there) return there.error();
        if (expected && there->text != *expected) {
            return Error{.kind = ErrorKind::Busy,
                         .message = fmt::format("“{}” was changed by another program; it was not written.", path),
                         .hint = "Look at both, and save again."};
        }
        form = there->form;
    }
    if (Status made = base::makeFolder(file.parent_path()); !made) return made.error();
    if (const auto written = store::saveTextFile(file, content, form, {}); !written) return written.error();
    return keep(path);
}

Result<Saved> Shelf::keep(const std::string& path) { return keepAs(path, {}); }

/// Without a message it says what changed.
Result<Saved> Shelf::keepAs(const std::string& path, std::string message) {
    auto content = base::readFile(fileOf(path));
    if (!content) return content.error();
    Saved saved{.path = path, .message = std::move(message)};
    if (auto secret = secretIn(*content, isNotebook(path))) {
        saved.unversioned = std::move(secret);
        return saved;
    }
    if (repository_) {
        const auto before = repository_->lastText(path);
        const bool isThere = before && *before;
        if (isThere && **before == *content) return saved;
        if (saved.message.empty()) saved.message = describeChange(isThere ? **before : std::string(), *content);
    }
    return version({{path, std::move(*content)}}, std::move(saved));
}

std::string Shelf::freePath(const std::string& wished) const {
    std::error_code ignored;
    const std::string ending(endingOf(wished));
    const std::string stem = wished.ends_with(ending) ? wished.substr(0, wished.size() - ending.size()) : wished;
    std::string path = stem + ending;
    for (int number = 2; fs::exists(fileOf(path), ignored); ++number)
        path = fmt::format("{}-{}{}", stem, number, ending);
    return path;
}

Result<Saved> Shelf::move(const std::string& from, const std::string& to) {
    for (const std::string* path : {&from, &to}) {
        if (Status fine = checkPath(*path); !fine) return fine.error();
    }
    auto content = base::readFile(fileOf(from));
    if (!content) return read(from).error();
    std::error_code code;
    if (fs::exists(fileOf(to), code) && !fs::equivalent(fileOf(from), fileOf(to), code)) return isThere(to);
    if (!isShown(nameOf(to)))
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = "Names on the shelf end with .sql or .md: " + to + "."};
    if (Status made = base::makeFolder(fileOf(to).parent_path()); !made) return made.error();
    fs::rename(fileOf(from), fileOf(to), code);
    if (code) return base::fileError(code.value(), "move", fileOf(from));
    removeEmptyFolders(from);
    known_.erase(from);
    const bool isRenamed = folderOf(from) == folderOf(to);
    Saved saved{.path = to};
    saved.message = isRenamed ? fmt::format("Renamed from {}", titleOfName(nameOf(from)))
                              : fmt::format("Moved from {}", folderOf(from).empty() ? "the top" : folderOf(from));
    if (secretIn(*content, isNotebook(to))) return saved;
    return version({{from, std::nullopt}, {to, std::move(*content)}}, std::move(saved));
}

/// A folder is there for what stands in it, as git sees it too.
void Shelf::removeEmptyFolders(const std::string& path) const {
    std::error_code code;
    for (std::string folder = folderOf(path); !folder.empty(); folder = folderOf(folder)) {
        if (!fs::is_empty(fileOf(folder), code) || code || !fs::remove(fileOf(folder), code)) return;
    }
}

Result<std::string> Shelf::remove(const std::string& path) {
    auto content = read(path);
    if (!content) return content.error();
    if (const auto kept = keep(path); !kept) return kept.error();  // so that it comes back from its versions
    std::error_code code;
    if (!fs::remove(fileOf(path), code)) return base::fileError(code.value(), "remove", fileOf(path));
    removeEmptyFolders(path);
    known_.erase(path);
    version({{path, std::nullopt}}, {.path = path, .message = "Removed"});
    return content;
}

Result<Saved> Shelf::restore(const std::string& path, const std::string& version) {
    auto repository = this->repository();
    if (!repository) return repository.error();
    const auto versions = (*repository)->versionsOf(path, 10'000);
    if (!versions) return versions.error();
    std::string pathThen = path;  // it may have been elsewhere
    base::Moment when{};
    for (const Version& one : *versions) {
        if (version.empty() || !one.id.starts_with(version)) continue;
        pathThen = one.path;
        when = one.when;
    }
    auto content = (*repository)->textAt(version, pathThen);
    if (!content) return content.error();
    if (const auto secret = secretIn(*content, isNotebook(path))) return *secret;
    std::error_code ignored;
    if (fs::exists(fileOf(path), ignored)) {
        if (const auto kept = keep(path); !kept) return kept.error();  // what stands there now must not be lost
    }
    if (Status made = base::makeFolder(fileOf(path).parent_path()); !made) return made.error();
    if (Status written = base::writeFileAtomically(fileOf(path), *content); !written) return written.error();
    return keepAs(path, fmt::format("Restored as of {} {}", base::localDate(when), base::localTime(when).substr(0, 5)));
}

}  // namespace pantry::shelf
