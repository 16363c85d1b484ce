// What a main window does with the shelf: MainWindow's fifth file, by theme.
#include <algorithm>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/widgets.h"
#include "app/pages/shelf/conflict_page.h"
#include "app/shelf/save_panel.h"
#include "app/shell/main_window.h"
#include "core/shelf/saved_query.h"
#include "core/shelf/secret_check.h"
#include "core/shelf/shelf_names.h"
#include "core/store/grid_choices_file.h"
#include "core/work/query_link.h"
#include "core/work/query_proposal.h"

namespace pantry::app {
namespace {

constexpr int kPanelTop = 52;  // pixels below the band

constexpr std::size_t kMostForGrid = 64 * 1024 + 1;  // bytes that are looked at for the first statement

/// What a sheet's text is read by, to be handed to another thread.
struct SheetText {
    base::SharedText text;
    sql::Language language;
    catalog::View catalog;
    store::KeptParameters parameters;
    std::string connection;
    std::string grid;  ///< what is chosen for the rows of its first statement

    SheetText(const Sheet& sheet, const work::Preferences& preferences)
        : text(sheet.text()),
          language(sheet.dialect()),
          catalog(sheet.session().catalogView()),
          parameters(sheet.parameters().kept()),
          connection(sheet.profile() != nullptr ? sheet.profile()->name : std::string()) {
        const std::string key = work::firstGridKey(text.part(0, kMostForGrid), fromQt(sheet.connectionId()), language);
        grid = store::gridChoicesLine(preferences.gridChoices(key));
    }

    /// The parameters of the text with the values that they have now.
    [[nodiscard]] std::vector<shelf::QueryParameter> headParameters(const std::string& query) const {
        return work::headParameters(
            query, language, catalog, [&](const std::string& key) -> std::optional<std::string> {
                const auto found = parameters.find(key);
                const bool isTyped =
                    found != parameters.end() && found->second.given.isThere() && !found->second.given.isNull;
                return isTyped ? std::optional(found->second.given.typed) : std::nullopt;
            });
    }
};

/// What saving again does to the text first, or what keeps it from being saved.
struct Prepared {
    std::string before;
    std::optional<std::string> content;  ///< with another head
    std::optional<Error> secret;
};

/// The values in its head become the last ones, and nothing secret may be in it.
Prepared prepared(const SheetText& sheet, bool isNotebook) {
    Prepared result{.before = sheet.text.str()};
    const shelf::SavedQuery query = shelf::readQuery(result.before);
    if (query.hasHead && !isNotebook) {
        std::string content = work::contentToSave(result.before, {},
                                                  {.parameters = sheet.headParameters(query.text), .grid = sheet.grid});
        if (shelf::readQuery(content).head != query.head) result.content = std::move(content);
    }
    result.secret = shelf::secretIn(result.content.value_or(result.before), isNotebook);
    return result;
}

/// What was written of a query, and the file as it is then.
struct Written {
    shelf::Saved saved;
    std::string before;
    std::string content;
    store::FileStamp stamp;
};

}  // namespace

void MainWindow::bindShelfCommands() {
    bind("view.shelf", [this] {
        showLeftPage(1);
        shelf_->focusFind();
    });
    bind("sheet.saveTo", [this] { offerShelf(currentSheet()); });
    bind("sheet.versions", [this] {
        if (const auto place = savedPlace(currentSheet())) return showQuery(*place);
        say(tr("This sheet is on no shelf. Ctrl+S puts it there."));
    });
}

void MainWindow::makeShelfVerbs() {
    verbs_ = new ShelfVerbs(desk_, this);
    connect(verbs_, &ShelfVerbs::remarked, this, &MainWindow::say);
    connect(verbs_, &ShelfVerbs::conflictsMet, this, &MainWindow::showConflicts);
    connect(verbs_, &ShelfVerbs::moved, this, &MainWindow::followMoved);
}

ShelfPanel* MainWindow::makeShelf() {
    auto* shelf = new ShelfPanel(desk_, *verbs_, leftPages());
    name(shelf, objectName::kShelfPage, tr("Shelf"));
    leftPages_->addWidget(shelf);
    putBehindInTabOrder(leftColumn_, shelf);
    connect(shelf, &ShelfPanel::openRequested, this, &MainWindow::openSaved);
    connect(shelf, &ShelfPanel::regularRequested, this, [this](const store::QueryPlace& place) {
        withSaved(place, [](SheetPage* page) { page->runAllRegularly(); });
    });
    connect(shelf, &ShelfPanel::pageRequested, this, &MainWindow::showQuery);
    connect(shelf, &ShelfPanel::snippetsRequested, this, [this] { showSnippets(); });
    connect(shelf, &ShelfPanel::snippetRequested, this, [this](const snippet::Snippet& one) {
        SheetPage* page = currentSheet();
        if (page == nullptr) return say(tr("Open a sheet first; the snippet is filled in there."));
        page->editor()->setFocus();
        page->snippets().putAtCaret(one);
    });
    return shelf;
}

/// What the head says of the columns counts where nobody has chosen anything here.
void MainWindow::takeGrid(const Sheet& sheet, const std::string& text, const std::string& line) {
    const auto choices = store::gridChoicesIn(line);
    if (!choices) return;
    const std::string key = work::firstGridKey(text, fromQt(sheet.connectionId()), sheet.dialect());
    if (!key.empty() && desk_.preferences().gridChoices(key) == data::GridChoices{})
        desk_.preferences().changeGridChoices(key, *choices);
}

/// Where on a shelf a sheet is saved.
std::optional<store::QueryPlace> MainWindow::savedPlace(const SheetPage* page) const {
    const auto& file = page->sheet().file().state();
    return file ? desk_.shelf().placeOf(file->path) : std::nullopt;
}

/// Its sheet if it is open, else a new one on its connection, with its last values.
void MainWindow::openSaved(const store::QueryPlace& place, bool toRun) {
    withSaved(place, [toRun](SheetPage* page) {
        if (toRun) page->runAll();
    });
}

void MainWindow::withSaved(const store::QueryPlace& place, std::function<void(SheetPage*)> then) {
    const QString path = toQt(desk_.shelf().fileOf(place).string());
    if (SheetPage* open = sheetOfFile(path)) {
        host_->bringToFront(open);
        return then(open);
    }
    inBackground(
        base::Work::Interactive, this, [path = fromQt(path)] { return store::openTextFile(path); },
        [this, path, then = std::move(then)](const Result<store::OpenedText>& read) {
            if (!read) return raiseNotice(toQt(read.error()));
            const shelf::QueryHead head = shelf::readQuery(read->text).head;
            SheetPage* page = openSheetFor(head.connection, read->text);
            page->sheet().file().begin({.path = fromQt(path), .form = read->form, .stamp = read->stamp}, read->text);
            const std::string name = shelf::titleOfName(shelf::nameOf(fromQt(path)));
            page->sheet().setTitle(toQt(head.title.empty() ? name : head.title));
            for (const shelf::QueryParameter& one : head.parameters) {
                if (one.hasValue)
                    page->sheet().giveParameter(one.name, {.typed = one.value, .isEmptyText = one.value.empty()});
            }
            takeGrid(page->sheet(), read->text, head.grid);
            page->editor()->setCaret(shelf::headLength(read->text));
            then(page);
        });
}

void MainWindow::openLink(const QString& link) {
    if (!desk_.shelf().isRead()) {  // at the start of the program
        connect(
            &desk_, &Desk::shelfChanged, this, [this, link] { openLink(link); }, Qt::SingleShotConnection);
        return;
    }
    if (work::isRunLink(fromQt(link))) return openRunLink(link);
    const auto place = work::placeOfLink(fromQt(link), desk_.shelf().shelves(), desk_.shelf().queries());
    if (!place) return raiseNotice(toQt(place.error()));
    openSaved(*place, false);
}

void MainWindow::openRunLink(const QString& link) {
    const auto wanted = work::readRunLink(fromQt(link));
    if (!wanted) return raiseNotice(toQt(wanted.error()));
    desk_.ledger().findAt(
        wanted->startedAt,
        whileThere(this, [this, wanted = *wanted](const Result<std::vector<store::LedgerEntry>>& runs) {
            if (!runs) return raiseNotice(toQt(runs.error()));
            const auto isIt = [&](const store::LedgerEntry& one) { return work::isRunOf(one, wanted); };
            const auto found = std::ranges::find_if(*runs, isIt);
            if (found != runs->end()) {
                showLedger();
                return ledgerPage_->showRun(*found);
            }
            const QString when = toQt(base::spoken(wanted.startedAt, base::now()));
            if (wanted.query.empty()) {
                return raiseNotice(tr("The run of %1 is not in the ledger here. Ask whoever has it to export it, and "
                                      "import that.")
                                       .arg(when));
            }
            say(tr("The run of %1 is not in the ledger here; this is the query that it came from.").arg(when));
            openLink(toQt(wanted.query));
        }));
}

/// A new sheet on the connection of that name, else where the one in front is.
SheetPage* MainWindow::openSheetFor(const std::string& connectionName, const std::string& text) {
    for (const db::ConnectionProfile& p : desk_.connections().profiles()) {
        if (p.name == connectionName) return openSheet(toQt(p.id), toQt(text));
    }
    SheetPage* page = openSheetLikeThis(text);
    if (!connectionName.empty())
        say(tr("%1, which the query is meant for, is not set up here.").arg(toQt(connectionName)));
    return page;
}

void MainWindow::showQuery(const store::QueryPlace& place) {
    const auto open = std::ranges::find_if(queryPages_, [&](const QueryPage* page) { return page->query() == place; });
    if (open != queryPages_.end()) return host_->bringToFront(*open);
    auto* page = new QueryPage(desk_, *verbs_, place, host_->placeOfPages());
    connect(page, &QueryPage::openRequested, this, &MainWindow::openSaved);
    connect(page, &QueryPage::remarked, this, &MainWindow::say);
    queryPages_.push_back(page);
    host_->add(page, true);
    followPage();
    page->enter();
}

void MainWindow::showConflicts(const QString& shelf, const std::vector<shelf::Conflict>& conflicts) {
    auto* page = new ConflictPage(*verbs_, fromQt(shelf), conflicts, host_->placeOfPages());
    connect(page, &ConflictPage::finished, this, [this, page] { closePage(page); });
    host_->add(page, true);
    followPage();
    page->enter();
}

/// A sheet of a query that stands elsewhere now goes along.
void MainWindow::followMoved(const store::QueryPlace& from, const store::QueryPlace& to) {
    const std::filesystem::path before = desk_.shelf().fileOf(from);
    SheetPage* page = sheetOfFile(toQt(before.string()));
    if (page == nullptr) return;
    const std::filesystem::path now = desk_.shelf().fileOf(to);
    inBackground(
        base::Work::Interactive, page, [now] { return store::openTextFile(now); },
        [page, now](const Result<store::OpenedText>& read) {
            if (!read) return;
            const base::SharedText text = page->sheet().text();
            const bool isUnsaved = page->sheet().file().isUnsaved();
            page->sheet().file().begin({.path = now.string(), .form = read->form, .stamp = read->stamp}, read->text);
            page->sheet().file().noteText(text);
            if (!isUnsaved) page->sheet().file().reload();  // its head has another title
            const std::string title = shelf::readQuery(read->text).head.title;
            if (!title.empty()) page->sheet().setTitle(toQt(title));
        });
}

// ---- Saving ----

/// Asks where on the shelf a sheet is to stand; both are proposed.
void MainWindow::offerShelf(SheetPage* page) {
    auto* panel = page->findChild<SavePanel*>();
    if (panel == nullptr) {
        panel = new SavePanel(desk_, page);
        connect(panel, &SavePanel::closed, page, [page] { page->editor()->setFocus(); });
        connect(panel, &SavePanel::fileRequested, this, [this] { saveSheet(true); });
        connect(panel, &SavePanel::saveRequested, this,
                [this, page](const store::QueryPlace& place, const QString& title, const QString& note) {
                    saveOnShelf(page, place, title, note);
                });
    }
    const auto text = page->sheet().text();
    const sql::Language language = page->sheet().dialect();
    const auto* profile = page->sheet().profile();
    const QString folder = profile != nullptr ? toQt(profile->name) : QString();
    inBackground(
        base::Work::Interactive, page,
        [text, language] {
            const shelf::SavedQuery query = shelf::readQuery(text.str());
            return query.hasHead ? query.head.title : work::proposedTitle(query.text, language);
        },
        [panel, folder](const std::string& title) {
            panel->open({toQt(title), folder}, kPanelTop);
        });
}

/// Puts the head before the text, writes the file and makes a version; the sheet is that query's from then on.
void MainWindow::saveOnShelf(SheetPage* page, const store::QueryPlace& place, const QString& title,
                             const QString& note) {
    desk_.shelf().change<Written>(
        [place, sheet = SheetText(page->sheet(), desk_.preferences()), title = fromQt(title),
         note = fromQt(note)](work::Shelves& shelves) -> Result<Written> {
            auto one = shelves.shelf(place.shelf);
            if (!one) return one.error();
            Written written{.before = sheet.text.str()};
            const shelf::QueryHead told{.title = title,
                                        .note = note,
                                        .connection = sheet.connection,
                                        .parameters = sheet.headParameters(written.before),
                                        .grid = sheet.grid};
            written.content = work::contentToSave(written.before, (*one)->read(place.path).value_or(""), told);
            auto saved = (*one)->save(place.path, written.content);
            if (!saved) return saved.error();
            written.saved = std::move(*saved);
            written.stamp = store::stampOf((*one)->fileOf(place.path)).value_or(store::FileStamp{});
            return written;
        },
        whileThere(page, [this, page, place, title](const Result<Written>& written) {
            if (!written) return say(tr("Not saved. %1").arg(toQt(written.error())));
            takeHead(page, written->before, written->content);
            const base::SharedText now = page->sheet().text();
            page->sheet().file().begin({.path = desk_.shelf().fileOf(place).string(), .stamp = written->stamp},
                                       base::SharedText(written->content));
            page->sheet().file().noteText(now);
            page->sheet().setTitle(title);
            tellSaved(written->saved);
        }));
}

/// What saving has changed in the text is changed in the sheet too, as one step; what was typed meanwhile stays.
void MainWindow::takeHead(SheetPage* page, const std::string& before, const std::string& saved) {
    const std::size_t old = shelf::headLength(before);
    const std::size_t fresh = shelf::headLength(saved);
    std::vector<sql::TextEdit> edits{{0, old, saved.substr(0, fresh)}};
    const bool isEnded = saved.size() - fresh == before.size() - old + 1;
    if (isEnded && page->sheet().text().size() == before.size()) edits.push_back({before.size(), 0, "\n"});
    if (edits.size() == 1 && before.compare(0, old, edits[0].text) == 0) return;
    page->editor()->apply(edits);
}

void MainWindow::tellSaved(const shelf::Saved& saved) {
    if (saved.unversioned) return raiseNotice(tr("Saved, but without a version. %1").arg(toQt(*saved.unversioned)));
    const QString where = toQt(saved.path);
    say(saved.version.empty() ? tr("Saved as %1.").arg(where) : tr("Saved as %1: %2.").arg(where, toQt(saved.message)));
}

/// Ctrl+S of a sheet that stands on a shelf.
void MainWindow::saveAgain(SheetPage* page, const store::QueryPlace& place) {
    const base::SharedText text = page->sheet().text();
    inBackground(
        base::Work::Interactive, page,
        [sheet = SheetText(page->sheet(), desk_.preferences()), isNotebook = shelf::isNotebook(place.path)] {
            return prepared(sheet, isNotebook);
        },
        [this, page, place, text](const Prepared& ready) {
            if (ready.secret) return raiseNotice(tr("Not saved. %1").arg(toQt(*ready.secret)));
            if (ready.content && page->sheet().text().isCopyOf(text)) takeHead(page, ready.before, *ready.content);
            page->sheet().file().save([this, page = QPointer<SheetPage>(page), place](bool isSaved) {
                if (isSaved && page) keepVersion(page, place);
            });
        });
}

void MainWindow::keepVersion(SheetPage* page, const store::QueryPlace& place) {
    desk_.shelf().change<shelf::Saved>(
        [place](work::Shelves& shelves) -> Result<shelf::Saved> {
            auto one = shelves.shelf(place.shelf);
            if (!one) return one.error();
            return (*one)->keep(place.path);
        },
        whileThere(page, [this, page](const Result<shelf::Saved>& saved) {
            if (!saved) return raiseNotice(toQt(saved.error()));
            constexpr std::size_t kLongestHead = 64 << 10;
            const std::string title = shelf::readQuery(page->sheet().text().part(0, kLongestHead)).head.title;
            if (!title.empty()) page->sheet().setTitle(toQt(title));
            tellSaved(*saved);
        }));
}

}  // namespace pantry::app
