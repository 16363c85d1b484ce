// What a main window does with files: MainWindow's fourth file, by theme.
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QMessageBox>
#include <QMimeData>
#include <QUrl>
#include <algorithm>
#include <array>
#include <fstream>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/shell/main_window.h"
#include "core/db/engine_traits.h"
#include "core/store/connection_transfer.h"
#include "core/work/query_link.h"

namespace pantry::app {
namespace {

/// SQLite's files begin with these words (sqlite.org/fileformat.html).
bool isDatabaseFile(const std::string& path) {
    constexpr std::string_view kMark{"SQLite format 3\0", 16};
    std::array<char, kMark.size()> begin{};
    std::ifstream file(path, std::ios::binary);
    return file.read(begin.data(), begin.size()) && std::string_view(begin.data(), begin.size()) == kMark;
}

}  // namespace

void MainWindow::openFile(const QString& path) {
    if (work::isLink(fromQt(path))) return openLink(path);
    const bool isUrl = path.startsWith(QLatin1String("file://"));  // as file managers hand it over
    const QString file = QFileInfo(isUrl ? QUrl(path).toLocalFile() : path).absoluteFilePath();
    if (SheetPage* open = sheetOfFile(file)) return host_->bringToFront(open);
    inBackground(
        base::Work::Long, this,
        [path = fromQt(file)]() -> Result<std::optional<store::OpenedText>> {
            if (isDatabaseFile(path)) return std::optional<store::OpenedText>();
            auto content = store::openTextFile(path);
            if (!content) return content.error();
            return std::optional(std::move(*content));
        },
        [this, file](const Result<std::optional<store::OpenedText>>& read) {
            if (!read) return raiseNotice(toQt(read.error()));
            if (!*read) return offerDatabase(file);
            if (store::readExport((*read)->text)) {
                showConnections();
                return connections_->beginImport(file);
            }
            openText(file, **read);
        });
}

void MainWindow::openText(const QString& path, const store::OpenedText& read) {
    SheetPage* page = openSheetLikeThis(read.text);
    page->sheet().file().begin({.path = fromQt(path), .form = read.form, .stamp = read.stamp}, read.text);
    page->sheet().setTitle(QFileInfo(path).completeBaseName());
    if (read.hasMixedLineEnds) {
        say(tr("The lines of %1 end in several ways. Saving ends them all in the one that most have.")
                .arg(QFileInfo(path).fileName()));
    }
}

SheetPage* MainWindow::sheetOfFile(const QString& path) const {
    const std::vector<SheetPage*> all = sheets();
    const auto found = std::ranges::find_if(all, [&](const SheetPage* page) {
        const auto& file = page->sheet().file().state();
        return file && file->path == fromQt(path);
    });
    return found == all.end() ? nullptr : *found;
}

/// Saves the sheet in front; one without a file is offered a place on the shelf.
void MainWindow::saveSheet(bool isAnotherFile) {
    SheetPage* page = currentSheet();
    if (page == nullptr) return;
    if (!page->sheet().file().state() && !isAnotherFile) return offerShelf(page);
    if (const auto place = savedPlace(page); place && !isAnotherFile) return saveAgain(page, *place);
    if (page->sheet().file().state() && !isAnotherFile) return page->sheet().file().save();
    const auto& file = page->sheet().file().state();
    const QString suggested = file ? toQt(file->path) : page->sheet().title() + QStringLiteral(".sql");
    auto* dialog = new QFileDialog(this, tr("Save as"), suggested, tr("SQL files (*.sql);;All files (*)"));
    dialog->setObjectName(QLatin1String(objectName::kSaveAs));
    dialog->setAcceptMode(QFileDialog::AcceptSave);
    dialog->setDefaultSuffix(QStringLiteral("sql"));
    dialog->selectFile(suggested);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &QFileDialog::fileSelected, &page->sheet(), [sheet = &page->sheet()](const QString& path) {
        sheet->file().saveAs(path, [sheet, path](bool isSaved) {
            if (isSaved) sheet->setTitle(QFileInfo(path).completeBaseName());
        });
    });
    dialog->open();
}

/// A database file that was dropped or opened: the connection that leads there, else the form of a new one.
void MainWindow::offerDatabase(const QString& path) {
    const std::string file = fromQt(QFileInfo(path).absoluteFilePath());
    const auto& all = desk_.connections().profiles();
    const auto known = std::ranges::find_if(
        all, [&](const db::ConnectionProfile& p) { return db::isFile(p.engine) && p.database == file; });
    if (known != all.end()) {
        openSheet(toQt(known->id));
        return;
    }
    showConnections();
    db::ConnectionProfile p;
    p.engine = db::Engine::Sqlite;
    p.database = file;
    p.name = fromQt(QFileInfo(path).completeBaseName());
    connections_->makeFrom(p);
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event) {
    for (const QUrl& url : event->mimeData()->urls()) {
        if (url.isLocalFile()) openFile(url.toLocalFile());
    }
}

/// Asks before a sheet is closed whose file lacks what was typed; true when the sheet may go now. After *Save* it goes
/// when it is saved.
bool MainWindow::askUnsaved(SheetPage* page) {
    SheetFile& file = page->sheet().file();
    if (!file.isUnsaved()) return true;
    QMessageBox question(QMessageBox::NoIcon, tr("Not saved"),
                         tr("%1 has changes that are not saved.").arg(file.fileName()), QMessageBox::NoButton, this);
    question.setObjectName(QLatin1String(objectName::kUnsavedFile));
    auto* save = question.addButton(tr("Save"), QMessageBox::AcceptRole);
    auto* drop = question.addButton(tr("Close without saving"), QMessageBox::DestructiveRole);
    auto* stay = question.addButton(tr("Cancel"), QMessageBox::RejectRole);
    save->setObjectName(QLatin1String(objectName::kUnsavedFileSave));
    drop->setObjectName(QLatin1String(objectName::kUnsavedFileDrop));
    question.setDefaultButton(save);
    question.setEscapeButton(stay);
    question.exec();
    if (question.clickedButton() == drop) return true;
    if (question.clickedButton() != save) return false;
    file.save([this, guard = QPointer<SheetPage>(page)](bool isSaved) {
        if (isSaved && guard) closePage(guard);
    });
    return false;
}

}  // namespace pantry::app
