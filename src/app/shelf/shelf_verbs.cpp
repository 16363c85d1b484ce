#include "app/shelf/shelf_verbs.h"

#include <QFileDialog>
#include <QInputDialog>
#include <QPointer>
#include <set>

#include "app/base/background.h"
#include "app/base/text.h"
#include "app/shelf/shelf_list.h"
#include "core/base/text.h"
#include "core/shelf/shelf_names.h"

namespace pantry::app {
namespace {

QString shelfName(const std::string& shelf) { return shelf.empty() ? QObject::tr("My shelf") : toQt(shelf); }

std::string joined(const std::string& folder, const std::string& name) {
    return folder.empty() ? name : folder + "/" + name;
}

/// A folder as somebody types it, each part as a file's name.
std::string folderFor(const QString& typed) {
    std::string folder;
    for (const QString& part : typed.split(QLatin1Char('/'), Qt::SkipEmptyParts))
        folder = joined(folder, shelf::fileNameFor(fromQt(part.trimmed())));
    return folder;
}

}  // namespace

ShelfVerbs::ShelfVerbs(Desk& desk, QWidget* parent) : QObject(parent), desk_(desk), parent_(parent) {}

void ShelfVerbs::tell(const Error& error) { Q_EMIT remarked(toQt(error)); }

void ShelfVerbs::tellSaved(const shelf::Saved& saved, const QString& done) {
    if (saved.unversioned) return Q_EMIT remarked(tr("%1 No version: %2").arg(done, toQt(*saved.unversioned)));
    Q_EMIT remarked(done);
}

std::optional<QString> ShelfVerbs::askText(const QString& title, const QString& label, const QString& start) {
    QInputDialog dialog(parent_);
    dialog.setObjectName(QStringLiteral("shelfAsk"));
    dialog.setWindowTitle(title);
    dialog.setLabelText(label);
    dialog.setTextValue(start);
    if (dialog.exec() != QDialog::Accepted || dialog.textValue().trimmed().isEmpty()) return std::nullopt;
    return dialog.textValue().trimmed();
}

/// Another title, and the name of the file after it.
void ShelfVerbs::rename(const work::ShelvedQuery& query) {
    const auto wished = askText(tr("Rename"), tr("Title"), toQt(query.item.head.title));
    if (!wished || fromQt(*wished) == query.item.head.title) return;
    const store::QueryPlace place = query.place;
    desk_.shelf().change<shelf::Saved>(
        [place, title = fromQt(*wished)](work::Shelves& shelves) { return shelves.rename(place, title); },
        whileThere(this, [this, place, title = *wished](const Result<shelf::Saved>& saved) {
            if (!saved) return tell(saved.error());
            tellSaved(*saved, tr("Renamed to %1.").arg(title));
            Q_EMIT moved(place, {place.shelf, saved->path});
        }));
}

void ShelfVerbs::move(const work::ShelvedQuery& query) {
    std::set<std::string> folders;
    for (const work::ShelvedQuery& one : desk_.shelf().queries()) {
        if (one.place.shelf == query.place.shelf) folders.insert(one.item.folder());
    }
    QStringList parts;
    for (const std::string& folder : folders) parts << toQt(folder);
    bool isChosen = false;
    const QString folder = QInputDialog::getItem(
        parent_, tr("Move %1").arg(toQt(query.item.head.title)), tr("Folder; another one is made"), parts,
        static_cast<int>(parts.indexOf(toQt(query.item.folder()))), true, &isChosen);
    if (isChosen) moveTo(query.place, folderFor(folder));
}

void ShelfVerbs::moveTo(const store::QueryPlace& query, const std::string& folder) {
    moveNow(query, joined(folder, shelf::nameOf(query.path)));
}

void ShelfVerbs::moveNow(const store::QueryPlace& from, const std::string& to) {
    if (from.path == to) return;
    desk_.shelf().change<shelf::Saved>(
        [from, to](work::Shelves& shelves) { return shelves.move(from, to); },
        whileThere(this, [this, from](const Result<shelf::Saved>& saved) {
            if (!saved) return tell(saved.error());
            const store::QueryPlace place{from.shelf, saved->path};
            const QString folder = spokenFolder({{}, shelf::folderOf(saved->path)});
            tellSaved(*saved, folder.isEmpty() ? tr("Moved to the top.") : tr("Moved to %1.").arg(folder));
            Q_EMIT moved(from, place);
        }));
}

void ShelfVerbs::duplicate(const work::ShelvedQuery& query) {
    desk_.shelf().change<shelf::Saved>(
        [place = query.place](work::Shelves& shelves) { return shelves.duplicate(place); },
        whileThere(this, [this](const Result<shelf::Saved>& saved) {
            if (!saved) return tell(saved.error());
            tellSaved(*saved, tr("Copied to %1.").arg(toQt(saved->path)));
        }));
}

void ShelfVerbs::toggleStar(const work::ShelvedQuery& query) {
    desk_.shelf().change<bool>(
        [place = query.place, isStarred = !query.isStarred](work::Shelves& shelves) -> Result<bool> {
            if (Status done = shelves.setStarred(place, isStarred); !done) return done.error();
            return isStarred;
        },
        whileThere(this, [this](const Result<bool>& done) {
            if (!done) tell(done.error());
        }));
}

void ShelfVerbs::remove(const work::ShelvedQuery& query) {
    desk_.shelf().change<std::string>(
        [place = query.place](work::Shelves& shelves) -> Result<std::string> {
            auto shelf = shelves.shelf(place.shelf);
            if (!shelf) return shelf.error();
            return (*shelf)->remove(place.path);
        },
        whileThere(
            this, [this, place = query.place, title = toQt(query.item.head.title)](const Result<std::string>& content) {
                if (!content) return tell(content.error());
                removed_ = Removed{place, *content};
                Q_EMIT remarked(tr("Removed %1. Its versions stay.").arg(title));
                Q_EMIT undoChanged();
            }));
}

void ShelfVerbs::undoRemove() {
    if (!removed_) return;
    desk_.shelf().change<shelf::Saved>(
        [removed = *removed_](work::Shelves& shelves) -> Result<shelf::Saved> {
            auto shelf = shelves.shelf(removed.place.shelf);
            if (!shelf) return shelf.error();
            return (*shelf)->save(removed.place.path, removed.content);
        },
        whileThere(this, [this](const Result<shelf::Saved>& saved) {
            if (!saved) return tell(saved.error());
            removed_.reset();
            tellSaved(*saved, tr("%1 is back.").arg(toQt(saved->path)));
            Q_EMIT undoChanged();
        }));
}

void ShelfVerbs::restore(const store::QueryPlace& place, const std::string& version) {
    desk_.shelf().change<shelf::Saved>(
        [place, version](work::Shelves& shelves) -> Result<shelf::Saved> {
            auto shelf = shelves.shelf(place.shelf);
            if (!shelf) return shelf.error();
            return (*shelf)->restore(place.path, version);
        },
        whileThere(this, [this](const Result<shelf::Saved>& saved) {
            if (!saved) return tell(saved.error());
            tellSaved(*saved,
                      saved->message.empty() ? tr("It is so already.") : toQt(saved->message) + QLatin1Char('.'));
        }));
}

/// What git says is shown as it comes, now and then.
work::RemoteTalk ShelfVerbs::talk() {
    talk_ = base::Cancellation();
    Q_EMIT talkingChanged(true);
    const auto tellLine = [this, there = QPointer<QObject>(this)](const std::string& line) {
        onWindowThread(there, [this, text = toQt(line)] { Q_EMIT remarked(text); });
    };
    return {.cancellation = talk_, .progress = tellLine};
}

void ShelfVerbs::pull(const std::string& shelf, const shelf::Resolutions& resolutions) {
    Q_EMIT remarked(tr("Asking the remote of %1…").arg(shelfName(shelf)));
    desk_.shelf().talk<shelf::Merge>(
        [shelf, resolutions, talk = talk()](work::Shelves& shelves) { return shelves.pull(shelf, resolutions, talk); },
        whileThere(this, [this, shelf](const Result<shelf::Merge>& merge) {
            Q_EMIT talkingChanged(false);
            if (!merge) return tell(merge.error());
            if (merge->kind == shelf::Merge::Kind::Conflicts) {
                Q_EMIT remarked(tr("Both changed the same: choose for each."));
                return Q_EMIT conflictsMet(toQt(shelf), merge->conflicts);
            }
            const auto count = toQt(base::counted(static_cast<std::int64_t>(merge->versions), "version", "versions"));
            Q_EMIT remarked(merge->kind == shelf::Merge::Kind::UpToDate ? tr("Nothing new on %1.").arg(shelfName(shelf))
                                                                        : tr("Brought in %1.").arg(count));
        }));
}

void ShelfVerbs::push(const std::string& shelf) {
    Q_EMIT remarked(tr("Handing on %1…").arg(shelfName(shelf)));
    desk_.shelf().talk<std::size_t>(
        [shelf, talk = talk()](work::Shelves& shelves) { return shelves.push(shelf, talk); },
        whileThere(this, [this](const Result<std::size_t>& count) {
            Q_EMIT talkingChanged(false);
            if (!count) return tell(count.error());
            const auto counted = toQt(base::counted(static_cast<std::int64_t>(*count), "version", "versions"));
            Q_EMIT remarked(*count == 0 ? tr("Nothing to push.") : tr("Pushed %1.").arg(counted));
        }));
}

void ShelfVerbs::addRemote(const std::string& shelf) {
    const auto address =
        askText(tr("Share %1").arg(shelfName(shelf)),
                tr("Address of an empty git repository: ssh, https without a password, or a folder"), {});
    if (!address) return;
    desk_.shelf().change<bool>(
        [shelf, address = fromQt(*address)](work::Shelves& shelves) -> Result<bool> {
            auto one = shelves.shelf(shelf);
            if (!one) return one.error();
            auto repository = (*one)->repository();
            if (!repository) return repository.error();
            if (Status added = (*repository)->addRemote("origin", address); !added) return added.error();
            return true;
        },
        whileThere(this, [this, shelf](const Result<bool>& done) {
            if (!done) return tell(done.error());
            push(shelf);
        }));
}

void ShelfVerbs::addFolder() {
    const QString folder = QFileDialog::getExistingDirectory(parent_, tr("A folder with .sql files"));
    if (folder.isEmpty()) return;
    const auto name = askText(tr("Add a shelf"), tr("What it is called here"), QFileInfo(folder).fileName());
    if (!name) return;
    desk_.shelf().change<bool>(
        [place = store::ShelfPlace{fromQt(*name), fromQt(folder)}](work::Shelves& shelves) -> Result<bool> {
            if (Status added = shelves.add(place); !added) return added.error();
            return true;
        },
        whileThere(this, [this, name = *name](const Result<bool>& done) {
            if (!done) return tell(done.error());
            Q_EMIT remarked(tr("%1 stands among the shelves.").arg(name));
        }));
}

void ShelfVerbs::copyShared() {
    const auto address = askText(tr("Copy a shared shelf"), tr("Address of its git repository"), {});
    if (!address) return;
    const QString last = QFileInfo(*address).completeBaseName();
    const auto name = askText(tr("Copy a shared shelf"), tr("What it is called here"), last);
    if (!name) return;
    Q_EMIT remarked(tr("Copying %1…").arg(*name));
    desk_.shelf().talk<std::filesystem::path>(
        [address = fromQt(*address), name = fromQt(*name), talk = talk()](work::Shelves& shelves) {
            return shelves.clone(address, name, talk);
        },
        whileThere(this, [this, name = *name](const Result<std::filesystem::path>& folder) {
            Q_EMIT talkingChanged(false);
            if (!folder) return tell(folder.error());
            Q_EMIT remarked(tr("%1 stands among the shelves.").arg(name));
        }));
}

void ShelfVerbs::forget(const std::string& shelf) {
    desk_.shelf().change<bool>(
        [shelf](work::Shelves& shelves) -> Result<bool> {
            if (Status done = shelves.forget(shelf); !done) return done.error();
            return true;
        },
        whileThere(this, [this, shelf](const Result<bool>& done) {
            if (!done) return tell(done.error());
            Q_EMIT remarked(tr("%1 is off the list. Its folder stays.").arg(toQt(shelf)));
        }));
}

void ShelfVerbs::showRemoved(const std::string& shelf) {
    using Files = std::vector<shelf::RemovedFile>;
    desk_.shelf().ask<Files>(
        [shelf](work::Shelves& shelves) -> Result<Files> {
            auto one = shelves.shelf(shelf);
            if (!one) return one.error();
            auto repository = (*one)->repository();
            if (!repository) return repository.error();
            constexpr std::size_t kMax = 100;
            return (*repository)->removed(kMax);
        },
        whileThere(this, [this, shelf](const Result<Files>& files) {
            if (!files) return tell(files.error());
            if (files->empty()) return Q_EMIT remarked(tr("Nothing was removed from %1.").arg(shelfName(shelf)));
            QStringList parts;
            for (const shelf::RemovedFile& one : *files)
                parts << tr("%1, removed %2").arg(toQt(one.path), toQt(base::spoken(one.removedAt, base::now())));
            bool isChosen = false;
            const QString chosen = QInputDialog::getItem(
                parent_, tr("Bring back"), tr("Removed from %1").arg(shelfName(shelf)), parts, 0, false, &isChosen);
            if (!isChosen) return;
            const auto& file = (*files)[static_cast<std::size_t>(parts.indexOf(chosen))];
            restore({shelf, file.path}, file.lastVersion);
        }));
}

void ShelfVerbs::fillShelfMenu(QMenu& menu) {
    connect(menu.addAction(tr("Add a folder with .sql files…")), &QAction::triggered, this, &ShelfVerbs::addFolder);
    connect(menu.addAction(tr("Copy a shared shelf…")), &QAction::triggered, this, &ShelfVerbs::copyShared);
    for (const work::ShelfInfo& info : desk_.shelf().shelves()) {
        const std::string name = info.name;
        menu.addSection(shelfName(name));
        if (info.hasVersions) {
            connect(menu.addAction(tr("Bring back something removed…")), &QAction::triggered, this,
                    [this, name] { showRemoved(name); });
        }
        if (info.hasVersions && info.remote.remote.empty()) {
            connect(menu.addAction(tr("Share %1…").arg(shelfName(name))), &QAction::triggered, this,
                    [this, name] { addRemote(name); });
        }
        if (!name.empty()) {
            connect(menu.addAction(tr("Take %1 off the list").arg(shelfName(name))), &QAction::triggered, this,
                    [this, name] { forget(name); });
        }
    }
}

}  // namespace pantry::app

#include "moc_shelf_verbs.cpp"
