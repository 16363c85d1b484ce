#include "app/sheet/sheet_file.h"

#include <QFileInfo>

#include "app/base/background.h"
#include "app/base/text.h"

namespace pantry::app {
namespace {

constexpr int kLookAfterMs = 150;  // other programs write in several steps

}  // namespace

SheetFile::SheetFile(std::optional<store::FileOfSheet> file, const base::SharedText& text, QObject* parent)
    : QObject(parent), file_(std::move(file)), text_(text) {
    lookTimer_.setSingleShot(true);
    lookTimer_.setInterval(kLookAfterMs);
    connect(&lookTimer_, &QTimer::timeout, this, &SheetFile::lookAtDisk);
    const auto lookSoon = [this] { lookTimer_.start(); };
    connect(&watcher_, &QFileSystemWatcher::fileChanged, this, lookSoon);
    connect(&watcher_, &QFileSystemWatcher::directoryChanged, this, lookSoon);
    if (!file_) return;
    watch();
    readSaved();
    lookTimer_.start();
}

QString SheetFile::fileName() const { return file_ ? QFileInfo(toQt(file_->path)).fileName() : QString(); }

/// After a start only the file knows what was saved; it is worth comparing with while nobody else wrote it.
void SheetFile::readSaved() {
    inBackground(
        base::Work::Long, this, [path = file_->path] { return store::openTextFile(path); },
        [this](const Result<store::OpenedText>& read) {
            if (!read || saved_ || !file_ || read->stamp != file_->stamp) return;
            saved_ = read->text;
            noteText(text_);
        });
}

void SheetFile::noteText(const base::SharedText& text) {
    text_ = text;
    if (!file_) return;
    // Without a look at what is saved: typed is unsaved.
    const bool isUnsaved = saved_ ? !(text_ == *saved_) : true;
    if (isUnsaved == file_->isUnsaved) return;
    file_->isUnsaved = isUnsaved;
    Q_EMIT changed();
}

void SheetFile::begin(const store::FileOfSheet& file, const base::SharedText& text) {
    file_ = file;
    text_ = text;
    saved_ = text;
    watch();
    setTrouble(Trouble::None);
    Q_EMIT changed();
}

/// The folder as well: programs that put a new file in place of the old one end the watch over that one.
void SheetFile::watch() {
    if (const QStringList all = watcher_.files() + watcher_.directories(); !all.isEmpty()) watcher_.removePaths(all);
    const QFileInfo info(toQt(file_->path));
    if (info.exists()) watcher_.addPath(info.filePath());
    watcher_.addPath(info.path());
}

void SheetFile::lookAtDisk() {
    if (!file_ || writing_ > 0) return;
    inBackground(
        base::Work::Long, this, [path = file_->path] { return store::stampOf(path); },
        [this, path = file_->path](const std::optional<store::FileStamp>& stamp) {
            if (!file_ || file_->path != path || writing_ > 0) return;
            if (stamp && !watcher_.files().contains(toQt(path))) watcher_.addPath(toQt(path));
            if (!stamp) return setTrouble(Trouble::Gone);
            if (*stamp != file_->stamp) return setTrouble(Trouble::ChangedOnDisk);
            if (trouble_ != Trouble::Lacking) setTrouble(Trouble::None);
        });
}

void SheetFile::setTrouble(Trouble trouble, const QString& text) {
    if (trouble == trouble_ && text == troubleText_) return;
    trouble_ = trouble;
    troubleText_ = text;
    Q_EMIT changed();
}

void SheetFile::save(std::function<void(bool)> done) {
    if (!file_) return;
    // A file that is gone is written anew, which somebody has seen.
    const auto expected = trouble_ == Trouble::Gone ? std::nullopt : std::optional(file_->stamp);
    write(file_->path, file_->form, expected, std::move(done));
}

void SheetFile::saveAs(const QString& path, std::function<void(bool)> done) {
    write(fromQt(QFileInfo(path).absoluteFilePath()), file_ ? file_->form : store::TextForm{}, std::nullopt,
          std::move(done));
}

void SheetFile::saveAsUtf8() {
    if (!file_) return;
    store::TextForm form = file_->form;
    form.encoding = exchange::Encoding::Utf8;
    write(file_->path, form, file_->stamp, {});
}

void SheetFile::keepOurs() {
    if (!file_) return;
    inBackground(
        base::Work::Long, this, [path = file_->path] { return store::stampOf(path); },
        [this](const std::optional<store::FileStamp>& stamp) {
            if (stamp) file_->stamp = *stamp;
            saved_.reset();
            noteText(text_);
            setTrouble(Trouble::None);
        });
}

void SheetFile::write(const std::string& path, const store::TextForm& form,
                      const std::optional<store::FileStamp>& expected, std::function<void(bool)> done) {
    ++writing_;
    inBackground(
        base::Work::Long, this,
        [path, form, expected, text = text_] { return store::saveTextFile(path, text, form, expected); },
        [this, path, form, text = text_, done = std::move(done)](const Result<store::FileStamp>& written) {
            --writing_;
            if (!written) {
                const ErrorKind kind = written.error().kind;
                if (kind == ErrorKind::Busy && file_) setTrouble(Trouble::ChangedOnDisk);
                if (kind == ErrorKind::InvalidInput && file_) setTrouble(Trouble::Lacking, toQt(written.error()));
                const bool isAsked = file_ && (kind == ErrorKind::Busy || kind == ErrorKind::InvalidInput);
                Q_EMIT remarked(isAsked ? tr("Not saved.") : tr("Not saved. %1").arg(toQt(written.error())));
                if (done) done(false);
                return;
            }
            const base::SharedText now = text_;  // somebody may have typed meanwhile
            begin({.path = path, .form = form, .stamp = *written}, text);
            noteText(now);
            Q_EMIT remarked(tr("Saved as %1.").arg(toQt(path)));
            if (done) done(true);
        });
}

void SheetFile::reload() {
    if (!file_) return;
    inBackground(
        base::Work::Long, this, [path = file_->path] { return store::openTextFile(path); },
        [this, path = file_->path](const Result<store::OpenedText>& read) {
            if (!read) return Q_EMIT remarked(toQt(read.error()));
            const base::SharedText text = read->text;
            begin({.path = path, .form = read->form, .stamp = read->stamp}, text);
            Q_EMIT textRead(text);
        });
}

}  // namespace pantry::app

#include "moc_sheet_file.cpp"
