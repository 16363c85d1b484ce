#pragma once

#include <functional>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/cancellation.h"
#include "core/shelf/shelf.h"
#include "core/sql/text/dialect.h"
#include "core/store/home.h"
#include "core/store/shelves_file.h"

namespace pantry::work {

/// A shelf as somebody sees it.
struct ShelfInfo {
    std::string name;  ///< empty for the program's own
    std::filesystem::path folder;
    bool hasVersions = false;
    std::optional<Error> problem = {};  ///< why it cannot be read, or has no versions
    shelf::RemoteState remote = {};
    std::string address = {};                         ///< of that remote
    std::vector<std::filesystem::path> folders = {};  ///< where something may come or go by other hands
};

/// A query on one of the shelves.
struct ShelvedQuery {
    store::QueryPlace place;
    shelf::ShelfItem item;
    bool isStarred = false;
};

/// Everything about one query.
struct QueryDetails {
    ShelvedQuery query;
    std::string content;
    std::vector<shelf::Version> versions = {};  ///< the newest first
};

/// How the ledger names a saved query: by its path, behind the name of its shelf if that is not the program's own.
[[nodiscard]] std::string savedName(const store::QueryPlace& place);

/// What goes on with a remote while one waits, and how to stop it.
struct RemoteTalk {
    base::Cancellation cancellation = {};
    std::function<void(const std::string&)> progress = {};
};

/// The program's own shelf and those that somebody added to it. The window and the command line use it alike.
///
/// Threads: one at a time; calls read and write files, those with a RemoteTalk go over a network.
/// Errors:  those of shelf::Shelf and store::loadShelves; NotFound for a name that no shelf has.
class Shelves {
public:
    explicit Shelves(store::Home home) : home_(std::move(home)) {}

    /// By its name; the program's own for an empty one.
    Result<shelf::Shelf*> shelf(const std::string& name);
    Result<std::vector<ShelfInfo>> infos();
    /// A folder, with or without a repository.
    Status add(const store::ShelfPlace& place);
    /// Copies a repository into a folder of the program's and adds it.
    /// Returns: the folder.
    Result<std::filesystem::path> clone(const std::string& address, const std::string& name, const RemoteTalk& talk);
    /// The folder stays.
    Status forget(const std::string& name);

    /// Queries of all shelves that have all the words, the program's own first; all of them without a word. A shelf
    /// that cannot be read is left out.
    Result<std::vector<ShelvedQuery>> find(std::string_view words);
    /// Queries whose text names a relation, as `language` reads it; one that writes another schema is left out.
    Result<std::vector<ShelvedQuery>> naming(const std::string& schema, const std::string& relation,
                                             const sql::Language& language);
    /// The query that somebody means by its path, with or without .sql, or by its title. Errors: NotFound, with what is
    /// alike; InvalidInput when several have that title.
    Result<store::QueryPlace> placeOf(std::string_view wanted, const std::string& shelf);
    /// Errors: NotFound.
    Result<QueryDetails> details(const store::QueryPlace& place);

    /// Gives it another title, and its file the name that goes with it.
    Result<shelf::Saved> rename(const store::QueryPlace& place, const std::string& title);
    Result<shelf::Saved> move(const store::QueryPlace& from, const std::string& to);
    /// A copy beside it, with a title that says so.
    Result<shelf::Saved> duplicate(const store::QueryPlace& place);
    Status setStarred(const store::QueryPlace& place, bool isStarred);

    /// Brings in what others did. Errors: also InvalidInput for a shelf without a remote.
    Result<shelf::Merge> pull(const std::string& name, const shelf::Resolutions& resolutions, const RemoteTalk& talk);
    /// Hands on what is new here.
    /// Returns: how many versions there were.
    Result<std::size_t> push(const std::string& name, const RemoteTalk& talk);

private:
    Result<shelf::RemoteState> remoteOf(const std::string& name);

    store::Home home_;
    std::map<std::string, shelf::Shelf> open_;
};

}  // namespace pantry::work
