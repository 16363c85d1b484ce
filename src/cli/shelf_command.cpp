#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>
#include <memory>

#include "cli/command.h"
#include "cli/json_output.h"
#include "cli/run_command.h"
#include "core/base/text.h"
#include "core/shelf/secret_check.h"
#include "core/shelf/shelf_names.h"
#include "core/work/query_proposal.h"
#include "core/work/shelves.h"

namespace pantry::cli {
namespace {

struct ShelfOptions {
    std::string shelf;
    bool asJson = false;
    std::string query;
    std::string to;  ///< where it moves, or is copied
    std::string find;
    std::string version;
    std::string title;
    std::string note;
    std::string connection;
    std::string name;
    std::string address;
    std::vector<std::string> ours;
    std::vector<std::string> theirs;
    bool showsRemoved = false;
    TextInput input;
    RunChoices run;
};

JsonObject queryJson(const work::ShelvedQuery& one) {
    static constexpr std::string_view kVersioning[] = {"kept", "changed", "new", "none"};
    const auto parameterJson = [](const shelf::QueryParameter& p) {
        JsonObject out;
        out.text("name", p.name).text("type", p.type);
        if (p.hasValue) out.text("value", p.value);
        return out.str();
    };
    JsonObject out;
    out.text("shelf", one.place.shelf)
        .text("path", one.place.path)
        .text("title", one.item.head.title)
        .text("note", one.item.head.note)
        .text("connection", one.item.head.connection)
        .json("parameters", jsonArray(one.item.head.parameters, parameterJson))
        .text("kind", one.item.isNotebook ? "notebook" : "query")
        .text("versioning", kVersioning[static_cast<std::size_t>(one.item.versioning)])
        .flag("starred", one.isStarred)
        .flag("pushed", !one.item.isNotPushed);
    return out;
}

std::string versionJson(const shelf::Version& one) {
    return JsonObject()
        .text("version", one.id)
        .text("when", base::isoUtc(one.when))
        .text("author", one.author)
        .text("message", one.message)
        .text("path", one.path)
        .flag("removal", one.isRemoval)
        .str();
}

std::string remoteJson(const shelf::Remote& one) {
    return JsonObject().text("name", one.name).text("address", one.address).str();
}

std::string shelfJson(const work::ShelfInfo& one) {
    JsonObject out;
    out.text("name", one.name)
        .text("folder", one.folder.string())
        .flag("versions", one.hasVersions)
        .text("remote", one.remote.remote)
        .number("notPushed", one.remote.ahead)
        .number("notPulled", one.remote.behind);
    if (one.problem) out.text("problem", one.problem->text());
    return out.str();
}

/// A line for each of them.
template <class All, class Write>
void printJson(const All& all, Write write) {
    fmt::print("{}\n", jsonArray(all, write, JsonArray::Layout::LineEach));
}

std::string marksOf(const work::ShelvedQuery& one) {
    std::string marks;
    const auto add = [&](bool is, std::string_view word) {
        if (is) marks += fmt::format("{}{}", marks.empty() ? "" : ", ", word);
    };
    add(one.isStarred, "starred");
    add(one.item.versioning == shelf::Versioning::Changed, "changed since its last version");
    add(one.item.versioning == shelf::Versioning::New, "in no version yet");
    add(one.item.isNotPushed, "not pushed");
    return marks;
}

/// Queries under the name of their shelf.
void printQueries(const std::vector<work::ShelvedQuery>& all) {
    std::string shelf;
    for (const work::ShelvedQuery& one : all) {
        if (one.place.shelf != shelf) fmt::print("{}:\n", one.place.shelf);
        shelf = one.place.shelf;
        const std::string marks = marksOf(one);
        fmt::print("{:<44} {:<32} {}{}\n", one.place.path, base::oneLine(one.item.head.title, 32),
                   one.item.head.connection, marks.empty() ? "" : "  (" + marks + ")");
    }
}

/// Tells what became of saving; a version that could not be made is a failure of its own.
void tellSaved(Context& context, const shelf::Saved& saved, std::string_view done) {
    if (saved.unversioned) {
        tell(fmt::format("{} {}, but there is no version of it.\n", done, saved.path));
        return fail(context, *saved.unversioned);
    }
    if (saved.version.empty()) return tell(fmt::format("{} {}.\n", done, saved.path));
    tell(fmt::format("{} {}: {} ({}).\n", done, saved.path, saved.message, saved.version.substr(0, 7)));
}

/// The shelves, and a query that the options name.
struct Asked {
    Context& context;
    const ShelfOptions& options;
    work::Shelves shelves;

    Asked(Context& c, const ShelfOptions& o) : context(c), options(o), shelves(c.home()) {}

    Result<shelf::Shelf*> shelf() { return shelves.shelf(options.shelf); }
    Result<store::QueryPlace> query() { return shelves.placeOf(options.query, options.shelf); }
    /// The path that somebody wants; .sql is added where no ending is named.
    [[nodiscard]] static std::string pathOf(std::string wanted) {
        if (!shelf::isShown(shelf::nameOf(wanted))) wanted += ".sql";
        return wanted;
    }
    [[nodiscard]] work::RemoteTalk talk() const {
        if (::isatty(STDERR_FILENO) == 0) return {};
        return {.progress = [](const std::string& line) { tell(fmt::format("\r\x1b[K{}", line)); }};
    }
    void endTalk() const {
        if (::isatty(STDERR_FILENO) != 0) tell("\r\x1b[K");
    }
};

void listQueries(Asked asked) {
    auto found = asked.shelves.find(asked.options.find);
    if (!found) return fail(asked.context, found.error());
    if (!asked.options.shelf.empty()) {
        if (const auto known = asked.shelf(); !known) return fail(asked.context, known.error());
        std::erase_if(*found, [&](const auto& one) { return one.place.shelf != asked.options.shelf; });
    }
    if (asked.options.asJson) return printJson(*found, [](const auto& one) { return queryJson(one).str(); });
    printQueries(*found);
    if (found->empty())
        tell(asked.options.find.empty() ? "The shelf is empty. pantry shelf save puts a query on it.\n"
                                        : "No query on the shelf has all of these words.\n");
}

void showQuery(Asked asked) {
    const auto place = asked.query();
    if (!place) return fail(asked.context, place.error());
    auto details = asked.shelves.details(*place);
    if (!details) return fail(asked.context, details.error());
    if (!asked.options.version.empty()) {
        auto one = asked.shelf();
        auto repository = (*one)->repository();
        if (!repository) return fail(asked.context, repository.error());
        std::string path = place->path;
        for (const shelf::Version& version : details->versions) {
            if (version.id.starts_with(asked.options.version)) path = version.path;
        }
        auto text = (*repository)->textAt(asked.options.version, path);
        if (!text) return fail(asked.context, text.error());
        details->content = std::move(*text);
    }
    if (!asked.options.asJson) return (void)fmt::print("{}", details->content);
    JsonObject out = queryJson(details->query);
    out.text("text", details->content).number("versions", details->versions.size());
    fmt::print("{}\n", out.str());
}

/// Standard input or a file, with the head that the options ask for.
void saveQuery(Asked asked) {
    const ShelfOptions& o = asked.options;
    auto text = o.input.read();
    if (!text) return fail(asked.context, text.error());
    if (base::trimmed(*text).empty())
        return fail(asked.context, {.kind = ErrorKind::InvalidInput, .message = "There is no text to save."});
    const std::string path = Asked::pathOf(o.query);
    if (const auto secret = shelf::secretIn(*text, shelf::isNotebook(path)))
        return failAt(asked.context, o.input.name(), *text, secret->byteOffset.value_or(0), *secret);
    auto shelf = asked.shelf();
    if (!shelf) return fail(asked.context, shelf.error());
    sql::Language language = sql::Dialect::Ansi;
    if (!o.connection.empty()) {
        const auto connection = findConnection(asked.context, o.connection);
        if (!connection) return fail(asked.context, connection.error());
        language = db::dialectOf(connection->profile.engine);
    }
    std::string content = *text;
    if (!shelf::isNotebook(path)) {
        shelf::QueryHead told{.title = o.title, .note = o.note, .connection = o.connection};
        told.parameters = work::headParameters(content, language, {}, [](const auto&) { return std::nullopt; });
        const std::string before = (*shelf)->read(path).value_or("");
        const bool hasTitle = shelf::readQuery(content).hasHead || shelf::readQuery(before).hasHead;
        if (told.title.empty() && !hasTitle) told.title = shelf::titleOfName(shelf::nameOf(path));
        content = work::contentToSave(content, before, told);
    }
    const auto saved = (*shelf)->save(path, content);
    if (!saved) return fail(asked.context, saved.error());
    tellSaved(asked.context, *saved, "Saved");
}

void removeQuery(Asked asked) {
    const auto place = asked.query();
    if (!place) return fail(asked.context, place.error());
    auto shelf = asked.shelf();
    if (const auto gone = (*shelf)->remove(place->path); !gone) return fail(asked.context, gone.error());
    tell(fmt::format("Removed {}.{}\n", place->path,
                     (*shelf)->hasVersions() ? " pantry shelf restore brings it back." : ""));
}

void moveQuery(Asked asked) {
    const auto place = asked.query();
    if (!place) return fail(asked.context, place.error());
    const auto saved = asked.shelves.move(*place, Asked::pathOf(asked.options.to));
    if (!saved) return fail(asked.context, saved.error());
    tellSaved(asked.context, *saved, "Moved to");
}

void copyQuery(Asked asked) {
    const auto place = asked.query();
    if (!place) return fail(asked.context, place.error());
    const auto saved = asked.shelves.duplicate(*place);
    if (!saved) return fail(asked.context, saved.error());
    tellSaved(asked.context, *saved, "Copied to");
}

void runQuery(Asked asked, RunChoices choices) {
    const auto place = asked.query();
    if (!place) return fail(asked.context, place.error());
    const auto details = asked.shelves.details(*place);
    if (!details) return fail(asked.context, details.error());
    const shelf::SavedQuery query = shelf::readQuery(details->content);
    if (choices.connection.empty()) choices.connection = query.head.connection;
    if (choices.connection.empty()) {
        fail(asked.context, {.kind = ErrorKind::InvalidInput,
                             .message = fmt::format("{} does not say on which connection it runs.", place->path),
                             .hint = "Name one with --connection."});
        asked.context.exitCode = kWrongUse;
        return;
    }
    // What --set says comes behind the last values, and wins.
    std::vector<std::string> values;
    for (const shelf::QueryParameter& one : query.head.parameters) {
        if (one.hasValue) values.push_back(one.name + "=" + one.value);
    }
    values.insert(values.end(), choices.values.begin(), choices.values.end());
    choices.values = std::move(values);
    choices.inputName = place->path;
    choices.saved = work::savedName(*place);
    runScript(asked.context, choices, details->content);
}

void listVersions(Asked asked) {
    std::vector<shelf::Version> versions;
    auto shelf = asked.shelf();
    if (!shelf) return fail(asked.context, shelf.error());
    auto repository = (*shelf)->repository();
    if (!repository) return fail(asked.context, repository.error());
    const auto place = asked.query();
    // One that is gone has versions too.
    const std::string path = place ? place->path : Asked::pathOf(asked.options.query);
    auto found = (*repository)->versionsOf(path, 1000);
    if (!found) return fail(asked.context, found.error());
    if (found->empty() && !place) return fail(asked.context, place.error());
    if (asked.options.asJson) return printJson(*found, versionJson);
    for (const shelf::Version& one : *found)
        fmt::print("{}  {:<17} {:<20} {}\n", one.id.substr(0, 7), base::spoken(one.when, base::now()),
                   base::oneLine(one.author, 20), one.message);
    if (found->empty()) tell(fmt::format("{} is in no version yet.\n", path));
}

/// Without a version: the last one that a removed query had.
void restoreQuery(Asked asked) {
    auto shelf = asked.shelf();
    if (!shelf) return fail(asked.context, shelf.error());
    auto repository = (*shelf)->repository();
    if (!repository) return fail(asked.context, repository.error());
    const auto place = asked.query();
    const std::string path = place ? place->path : Asked::pathOf(asked.options.query);
    std::string version = asked.options.version;
    if (version.empty()) {
        const auto gone = (*repository)->removed(10'000);
        if (!gone) return fail(asked.context, gone.error());
        const auto found = std::ranges::find_if(*gone, [&](const auto& one) { return one.path == path; });
        if (found == gone->end()) {
            return fail(asked.context,
                        {.kind = ErrorKind::NotFound,
                         .message = place ? fmt::format("{} was not removed.", path) : place.error().message,
                         .hint = "Name a version of it; pantry shelf versions lists them."});
        }
        version = found->lastVersion;
    }
    const auto saved = (*shelf)->restore(path, version);
    if (!saved) return fail(asked.context, saved.error());
    tellSaved(asked.context, *saved, "Restored");
}

void listRemoved(Asked asked) {
    auto shelf = asked.shelf();
    if (!shelf) return fail(asked.context, shelf.error());
    auto repository = (*shelf)->repository();
    if (!repository) return fail(asked.context, repository.error());
    const auto gone = (*repository)->removed(1000);
    if (!gone) return fail(asked.context, gone.error());
    for (const shelf::RemovedFile& one : *gone)
        fmt::print("{:<44} removed {}\n", one.path, base::spoken(one.removedAt, base::now()));
}

// ---- Sharing ----

void listRemotes(Asked asked) {
    auto shelf = asked.shelf();
    if (!shelf) return fail(asked.context, shelf.error());
    auto repository = (*shelf)->repository();
    if (!repository) return fail(asked.context, repository.error());
    const auto remotes = (*repository)->remotes();
    if (!remotes) return fail(asked.context, remotes.error());
    if (asked.options.asJson) return printJson(*remotes, remoteJson);
    for (const shelf::Remote& one : *remotes) fmt::print("{:<16} {}\n", one.name, one.address);
    const auto state = (*repository)->remoteState();
    if (state && !state->remote.empty() && state->ahead + state->behind > 0)
        tell(fmt::format("{}: {} not pushed, {} not pulled.\n", state->remote,
                         base::counted(static_cast<std::int64_t>(state->ahead), "version", "versions"), state->behind));
}

void addRemote(Asked asked) {
    auto shelf = asked.shelf();
    if (!shelf) return fail(asked.context, shelf.error());
    auto repository = (*shelf)->repository();
    if (!repository) return fail(asked.context, repository.error());
    if (Status done = (*repository)->addRemote(asked.options.name, asked.options.address); !done)
        return fail(asked.context, done.error());
    tell(fmt::format("Added the remote {}. pantry shelf pull and push share with it.\n", asked.options.name));
}

void removeRemote(Asked asked) {
    auto shelf = asked.shelf();
    if (!shelf) return fail(asked.context, shelf.error());
    auto repository = (*shelf)->repository();
    if (!repository) return fail(asked.context, repository.error());
    if (Status done = (*repository)->removeRemote(asked.options.name); !done) return fail(asked.context, done.error());
    tell(fmt::format("Removed the remote {}. What came from it stays.\n", asked.options.name));
}

/// With --ours and --theirs conflicts are resolved by choice.
Result<shelf::Merge> pullNow(Asked& asked) {
    auto merge = asked.shelves.pull(asked.options.shelf, {}, asked.talk());
    asked.endTalk();
    if (!merge || merge->conflicts.empty()) return merge;
    shelf::Resolutions chosen;
    const auto isAmong = [](const std::vector<std::string>& paths, const std::string& path) {
        return std::ranges::any_of(
            paths, [&](const std::string& one) { return one == "all" || one == path || one + ".sql" == path; });
    };
    for (const shelf::Conflict& one : merge->conflicts) {
        if (isAmong(asked.options.ours, one.path)) chosen[one.path] = one.ours;
        if (isAmong(asked.options.theirs, one.path)) chosen[one.path] = one.theirs;
    }
    if (chosen.size() < merge->conflicts.size()) return merge;
    return (*(*asked.shelf())->repository())->merge(chosen);
}

void pull(Asked asked) {
    const auto merge = pullNow(asked);
    if (!merge) return fail(asked.context, merge.error());
    const auto count = base::counted(static_cast<std::int64_t>(merge->versions), "version", "versions");
    switch (merge->kind) {
        case shelf::Merge::Kind::UpToDate: return tell("Nothing new.\n");
        case shelf::Merge::Kind::FastForward:
        case shelf::Merge::Kind::Merged: return tell(fmt::format("Brought in {}.\n", count));
        case shelf::Merge::Kind::Conflicts: break;
    }
    for (const shelf::Conflict& one : merge->conflicts) {
        const std::string how = !one.ours     ? "removed here, changed there"
                                : !one.theirs ? "changed here, removed there"
                                              : "changed here and there";
        tell(fmt::format("{}: {}\n", one.path, how));
    }
    fail(asked.context, {.kind = ErrorKind::Busy,
                         .message = "Nothing was brought in: somebody must choose for each of these.",
                         .hint = "Add --ours PATH or --theirs PATH for each, or --ours all."});
}

void push(Asked asked) {
    const auto count = asked.shelves.push(asked.options.shelf, asked.talk());
    asked.endTalk();
    if (!count) return fail(asked.context, count.error());
    tell(*count == 0
             ? "Nothing to push.\n"
             : fmt::format("Pushed {}.\n", base::counted(static_cast<std::int64_t>(*count), "version", "versions")));
}

// ---- Several shelves ----

void listShelves(Asked asked) {
    const auto infos = asked.shelves.infos();
    if (!infos) return fail(asked.context, infos.error());
    if (asked.options.asJson) return printJson(*infos, shelfJson);
    for (const work::ShelfInfo& one : *infos)
        fmt::print("{:<20} {}{}\n", one.name.empty() ? "(your own)" : one.name, one.folder.string(),
                   one.problem       ? "  (" + one.problem->text() + ")"
                   : one.hasVersions ? ""
                                     : "  (without versions)");
}

bool isAddress(const std::string& text) {
    return text.find("://") != std::string::npos ||
           (text.find(':') != std::string::npos && text.find('@') != std::string::npos);
}

void addShelf(Asked asked) {
    const ShelfOptions& o = asked.options;
    if (isAddress(o.address)) {
        const auto folder = asked.shelves.clone(o.address, o.name, asked.talk());
        asked.endTalk();
        if (!folder) return fail(asked.context, folder.error());
        return tell(fmt::format("Copied {} to {}.\n", o.name, folder->string()));
    }
    if (Status done = asked.shelves.add({o.name, o.address}); !done) return fail(asked.context, done.error());
    tell(fmt::format("Added the shelf {}.\n", o.name));
}

void forgetShelf(Asked asked) {
    if (Status done = asked.shelves.forget(asked.options.name); !done) return fail(asked.context, done.error());
    tell(fmt::format("Took {} from the list. Its folder stays.\n", asked.options.name));
}

constexpr const char* kFooter =
    "A query is named by its path, with or without .sql, or by its title. --shelf names another shelf than your own.\n"
    "Each saving is a version with a message that says what changed. Nothing secret gets on the shelf.\n"
    "Examples:\n"
    "  pantry shelf save kitchen/jars-left -e \"SELECT * FROM batch WHERE jars > :least\" --connection Kitchen\n"
    "  pantry shelf run \"Jars left\" --set least=20 --as csv\n"
    "  pantry shelf versions kitchen/jars-left\n"
    "  pantry shelf remote add team ssh://git@example.org/queries.git";

}  // namespace

void addShelf(CLI::App& app, Context& context) {
    auto o = std::make_shared<ShelfOptions>();
    CLI::App* shelf = app.add_subcommand("shelf", "Saved queries: list, show, save, run, versions, share");
    shelf->footer(kFooter);
    shelf->require_subcommand(1);
    shelf->fallthrough();
    shelf->add_option("--shelf", o->shelf, "Name of the shelf (your own)")->type_name("NAME");
    shelf->add_flag("--json", o->asJson, "Write JSON");

    const auto verb = [&](const char* name, const char* help, auto work) {
        CLI::App* command = shelf->add_subcommand(name, help);
        command->callback([o, &context, work] { work(Asked(context, *o)); });
        return command;
    };
    const auto ofQuery = [&](const char* name, const char* help, auto work) {
        CLI::App* command = verb(name, help, work);
        command->add_option("query", o->query, "Path or title")->required();
        return command;
    };
    verb("list", "Everything on the shelves", listQueries)
        ->add_option("--find", o->find, "Only those with all of these words in title, note, path or text")
        ->type_name("WORDS");
    ofQuery("show", "The text of a query", showQuery)
        ->add_option("--version", o->version, "As it was then")
        ->type_name("VERSION");
    CLI::App* save = ofQuery("save", "Put a query on the shelf, or a new version of it", saveQuery);
    o->input.addTo(*save, true);
    save->add_option("--title", o->title, "Its title (made of the path)");
    save->add_option("--note", o->note, "What it is for");
    save->add_option("-c,--connection", o->connection, "The connection that it is meant for");
    ofQuery("remove", "Take a query off the shelf; its versions stay", removeQuery);
    ofQuery("move", "Rename it, or put it into another folder", moveQuery)
        ->add_option("to", o->to, "The new path")
        ->required();
    ofQuery("copy", "A copy beside it", copyQuery);
    CLI::App* run = ofQuery("run", "Run it on its connection, with its last values",
                            [o](Asked asked) { runQuery(std::move(asked), o->run); });
    run->add_option("-c,--connection", o->run.connection, "Another connection or address");
    o->run.addTo(*run);
    ofQuery("versions", "What became of it, the newest first", listVersions);
    ofQuery("restore", "Bring back a version, or what was removed", restoreQuery)
        ->add_option("version", o->version, "Which (of a removed query the last one)");
    verb("removed", "What was removed and can be restored", listRemoved);

    CLI::App* remote = shelf->add_subcommand("remote", "Where the shelf is shared");
    remote->require_subcommand(0, 1);
    remote->callback([o, &context, remote] {
        if (remote->get_subcommands().empty()) listRemotes(Asked(context, *o));
    });
    remote->add_subcommand("list", "The remotes")->callback([o, &context] { listRemotes(Asked(context, *o)); });
    CLI::App* add = remote->add_subcommand("add", "Add a remote");
    add->add_option("name", o->name, "What it is called here")->required();
    add->add_option("address", o->address, "A folder, or an address for ssh or https without a password")->required();
    add->callback([o, &context] { addRemote(Asked(context, *o)); });
    CLI::App* forgetRemote = remote->add_subcommand("remove", "Remove a remote; what came from it stays");
    forgetRemote->add_option("name", o->name, "Which")->required();
    forgetRemote->callback([o, &context] { removeRemote(Asked(context, *o)); });
    CLI::App* pulling = verb("pull", "Bring in what others did", pull);
    pulling->add_option("--ours", o->ours, "Where both changed PATH: take what is here (or: all)")->type_name("PATH");
    pulling->add_option("--theirs", o->theirs, "Where both changed PATH: take theirs (or: all)")->type_name("PATH");
    verb("push", "Hand on what is new here", push);

    verb("shelves", "Your own shelf and the others", listShelves);
    CLI::App* also = verb("add", "Add a folder with .sql files, or copy a shared shelf",
                          [](Asked asked) { addShelf(std::move(asked)); });
    also->add_option("name", o->name, "What it is called here")->required();
    also->add_option("place", o->address, "A folder, or the address of a repository")->required();
    verb("forget", "Take a shelf off the list; its folder stays", forgetShelf)
        ->add_option("name", o->name, "Which")
        ->required();
}

}  // namespace pantry::cli
