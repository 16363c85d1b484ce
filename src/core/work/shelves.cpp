#include "core/work/shelves.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/file.h"
#include "core/base/fuzzy.h"
#include "core/base/joined.h"
#include "core/base/text.h"
#include "core/shelf/git_program.h"
#include "core/shelf/shelf_names.h"
#include "core/sql/meaning/read_from.h"
#include "core/sql/syntax/script.h"

namespace pantry::work {
namespace {

std::string withoutEnding(std::string_view path) {
    if (path.ends_with(".sql")) path.remove_suffix(4);
    return base::toLower(path);
}

std::string titled(const std::string& shelf) { return shelf.empty() ? "your shelf" : "“" + shelf + "”"; }

}  // namespace

std::string savedName(const store::QueryPlace& place) {
    return place.shelf.empty() ? place.path : place.shelf + ":" + place.path;
}

Result<shelf::Shelf*> Shelves::shelf(const std::string& name) {
    if (const auto found = open_.find(name); found != open_.end()) return &found->second;
    const auto keep = [&](Result<shelf::Shelf> opened) -> Result<shelf::Shelf*> {
        if (!opened) return opened.error();
        return &open_.emplace(name, std::move(*opened)).first->second;
    };
    if (name.empty()) return keep(shelf::Shelf::openOwn(home_.shelfFolder()));
    const auto shelves = store::loadShelves(home_.shelvesFile());
    if (!shelves) return shelves.error();
    for (const store::ShelfPlace& place : shelves->places) {
        if (place.name == name) return keep(shelf::Shelf::open(place.folder));
    }
    return Error{.kind = ErrorKind::NotFound,
                 .message = "There is no shelf named “" + name + "”.",
                 .hint = "pantry shelf shelves lists them."};
}

Result<std::vector<ShelfInfo>> Shelves::infos() {
    const auto shelves = store::loadShelves(home_.shelvesFile());
    if (!shelves) return shelves.error();
    std::vector<ShelfInfo> all{{.name = {}, .folder = home_.shelfFolder()}};
    for (const store::ShelfPlace& place : shelves->places) all.push_back({.name = place.name, .folder = place.folder});
    for (ShelfInfo& info : all) {
        auto one = shelf(info.name);
        if (!one) {
            info.problem = one.error();
            continue;
        }
        info.folders = (*one)->foldersThere();
        info.hasVersions = (*one)->hasVersions();
        info.problem = (*one)->problem();
        const auto state = remoteOf(info.name);
        if (!state) continue;
        info.remote = *state;
        const auto remotes = (*(*one)->repository())->remotes();
        for (const shelf::Remote& remote : remotes.value_or(std::vector<shelf::Remote>{})) {
            if (remote.name == state->remote) info.address = remote.address;
        }
    }
    return all;
}

Status Shelves::add(const store::ShelfPlace& place) {
    std::error_code code;
    const auto folder = std::filesystem::absolute(place.folder, code);
    auto opened = shelf::Shelf::open(folder);
    if (!opened) return opened.error();
    if (Status added = store::addShelf(home_.shelvesFile(), {place.name, folder}); !added) return added;
    open_.insert_or_assign(place.name, std::move(*opened));
    return {};
}

Result<std::filesystem::path> Shelves::clone(const std::string& address, const std::string& name,
                                             const RemoteTalk& talk) {
    const auto shelves = home_.data / "shelves";
    if (Status made = base::makeFolder(shelves); !made) return made.error();
    std::error_code ignored;
    auto folder = shelves / shelf::fileNameFor(name);
    for (int number = 2; std::filesystem::exists(folder, ignored); ++number)
        folder = shelves / fmt::format("{}-{}", shelf::fileNameFor(name), number);
    if (Status cloned = shelf::GitProgram::clone(address, folder, talk.cancellation, talk.progress); !cloned)
        return cloned.error();
    if (auto repository = shelf::Repository::open(folder)) {
        if (Status chosen = repository->chooseBranch(); !chosen) return chosen.error();
    }
    if (Status added = add({name, folder}); !added) {
        std::filesystem::remove_all(folder, ignored);  // it was only just copied
        return added.error();
    }
    return folder;
}

Status Shelves::forget(const std::string& name) {
    open_.erase(name);
    return store::removeShelf(home_.shelvesFile(), name);
}

Result<std::vector<ShelvedQuery>> Shelves::find(std::string_view words) {
    const auto shelves = store::loadShelves(home_.shelvesFile());
    if (!shelves) return shelves.error();
    std::vector<std::string> names{""};
    for (const store::ShelfPlace& place : shelves->places) names.push_back(place.name);
    std::vector<ShelvedQuery> all;
    for (const std::string& name : names) {
        auto one = shelf(name);
        if (!one && name.empty()) return one.error();
        if (!one) continue;
        auto items = (*one)->find(words);
        if (!items && name.empty()) return items.error();
        if (!items) continue;
        for (shelf::ShelfItem& item : *items) {
            store::QueryPlace place{name, item.path};
            const bool isStarred = std::ranges::find(shelves->starred, place) != shelves->starred.end();
            all.push_back({std::move(place), std::move(item), isStarred});
        }
    }
    return all;
}

Result<std::vector<ShelvedQuery>> Shelves::naming(const std::string& schema, const std::string& relation,
                                                  const sql::Language& language) {
    auto found = find(relation);
    if (!found) return found;
    const auto isIt = [&](const sql::NamedRelation& one) {
        const bool isHere = one.schema.empty() || base::toLower(one.schema) == base::toLower(schema);
        return isHere && base::toLower(one.name) == base::toLower(relation);
    };
    std::erase_if(*found, [&](const ShelvedQuery& one) {
        auto shelf = this->shelf(one.place.shelf);
        if (!shelf || one.item.isNotebook) return true;
        const auto content = (*shelf)->read(one.place.path);
        if (!content) return true;
        sql::Script script(language);
        script.setText(*content);
        for (std::size_t i = 0; i < script.statements().size(); ++i) {
            if (std::ranges::any_of(sql::relationsNamed(script.textOf(i), language), isIt)) return false;
        }
        return true;
    });
    return found;
}

Result<store::QueryPlace> Shelves::placeOf(std::string_view wanted, const std::string& shelf) {
    auto one = this->shelf(shelf);
    if (!one) return one.error();
    const auto items = (*one)->list();
    if (!items) return items.error();
    std::vector<std::string> titledSo;
    std::string nearest;
    std::size_t distance = wanted.size() / 2 + 1;
    for (const shelf::ShelfItem& item : *items) {
        if (item.path == wanted || withoutEnding(item.path) == withoutEnding(wanted))
            return store::QueryPlace{shelf, item.path};
        const bool isNamedSo = withoutEnding(shelf::nameOf(item.path)) == withoutEnding(wanted);
        if (isNamedSo || base::equalsIgnoringCase(item.head.title, wanted)) titledSo.push_back(item.path);
        for (const std::string& name : {item.head.title, withoutEnding(item.path)}) {
            const std::size_t edits = base::editDistance(name, wanted, distance);
            if (edits >= distance) continue;
            distance = edits;
            nearest = item.path;
        }
    }
    if (titledSo.size() == 1) return store::QueryPlace{shelf, titledSo.front()};
    if (titledSo.size() > 1) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = fmt::format("{} queries are called “{}”: {}.", titledSo.size(), wanted,
                                            base::joined(titledSo, ", ")),
                     .hint = "Name one by its path."};
    }
    return Error{.kind = ErrorKind::NotFound,
                 .message = fmt::format("“{}” is not on {}.", wanted, titled(shelf)),
                 .hint = nearest.empty() ? "" : fmt::format("{} is.", nearest)};
}

Result<QueryDetails> Shelves::details(const store::QueryPlace& place) {
    auto one = shelf(place.shelf);
    if (!one) return one.error();
    auto content = (*one)->read(place.path);
    if (!content) return content.error();
    QueryDetails details{.query = {.place = place, .item = {}}, .content = std::move(*content)};
    const auto items = (*one)->list();
    if (!items) return items.error();
    for (const shelf::ShelfItem& item : *items) {
        if (item.path == place.path) details.query.item = item;
    }
    const auto shelves = store::loadShelves(home_.shelvesFile());
    details.query.isStarred = shelves && std::ranges::find(shelves->starred, place) != shelves->starred.end();
    constexpr std::size_t kMostVersions = 200;
    if ((*one)->hasVersions()) {
        auto versions = (*(*one)->repository())->versionsOf(place.path, kMostVersions);
        if (versions) details.versions = std::move(*versions);
    }
    return details;
}

Result<shelf::Saved> Shelves::rename(const store::QueryPlace& place, const std::string& title) {
    auto one = shelf(place.shelf);
    if (!one) return one.error();
    auto content = (*one)->read(place.path);
    if (!content) return content.error();
    const bool isNotebook = shelf::isNotebook(place.path);
    const std::string folder = shelf::folderOf(place.path);
    const std::string wished =
        (folder.empty() ? "" : folder + "/") + shelf::fileNameFor(title) + (isNotebook ? ".md" : ".sql");
    store::QueryPlace now = place;
    if (wished != place.path) {
        auto moved = move(place, (*one)->freePath(wished));
        if (!moved) return moved;
        now.path = moved->path;
    }
    if (isNotebook) return shelf::Saved{.path = now.path};
    shelf::SavedQuery query = shelf::readQuery(*content);
    query.head.title = title;
    query.hasHead = true;
    return (*one)->save(now.path, shelf::writeQuery(query));
}

Result<shelf::Saved> Shelves::move(const store::QueryPlace& from, const std::string& to) {
    auto one = shelf(from.shelf);
    if (!one) return one.error();
    auto saved = (*one)->move(from.path, to);
    if (!saved) return saved;
    if (Status moved = store::moveStar(home_.shelvesFile(), from, {from.shelf, to}); !moved) return moved.error();
    return saved;
}

Result<shelf::Saved> Shelves::duplicate(const store::QueryPlace& place) {
    auto one = shelf(place.shelf);
    if (!one) return one.error();
    auto content = (*one)->read(place.path);
    if (!content) return content.error();
    shelf::SavedQuery query = shelf::readQuery(*content);
    if (query.hasHead) {
        query.head.title += " (copy)";
        *content = shelf::writeQuery(query);
    }
    return (*one)->save((*one)->freePath(place.path), *content);
}

Status Shelves::setStarred(const store::QueryPlace& place, bool isStarred) {
    return store::setStarred(home_.shelvesFile(), place, isStarred);
}

Result<shelf::RemoteState> Shelves::remoteOf(const std::string& name) {
    auto one = shelf(name);
    if (!one) return one.error();
    auto repository = (*one)->repository();
    if (!repository) return repository.error();
    auto state = (*repository)->remoteState();
    if (!state || !state->remote.empty()) return state;
    return Error{
        .kind = ErrorKind::InvalidInput,
        .message = fmt::format("{} has no remote to share it with.", name.empty() ? "Your shelf" : titled(name)),
        .hint = "Add one: pantry shelf remote add NAME ADDRESS."};
}

Result<shelf::Merge> Shelves::pull(const std::string& name, const shelf::Resolutions& resolutions,
                                   const RemoteTalk& talk) {
    const auto state = remoteOf(name);
    if (!state) return state.error();
    shelf::Shelf* one = *shelf(name);
    const shelf::GitProgram git{(*one->repository())->top(), talk.cancellation, talk.progress};
    if (Status fetched = git.fetch(state->remote); !fetched) return fetched.error();
    return (*one->repository())->merge(resolutions);
}

Result<std::size_t> Shelves::push(const std::string& name, const RemoteTalk& talk) {
    const auto state = remoteOf(name);
    if (!state) return state.error();
    if (state->ahead == 0) return std::size_t{0};
    shelf::Shelf* one = *shelf(name);
    const shelf::GitProgram git{(*one->repository())->top(), talk.cancellation, talk.progress};
    if (Status pushed = git.push(state->remote, state->branch); !pushed) return pushed.error();
    return state->ahead;
}

}  // namespace pantry::work
