#pragma once

#include <QFileSystemWatcher>
#include <QObject>
#include <QTimer>
#include <optional>

#include "core/base/shared_text.h"
#include "core/store/text_file.h"

namespace pantry::app {

/// The file that a sheet's text is saved in, if there is one: whether the text is what the file holds, whether another
/// program has changed it, reading and saving. The work on the disk happens elsewhere.
///
/// Threads: the window's thread.
class SheetFile : public QObject {
    Q_OBJECT

public:
    /// What stands between a sheet and its file, to be decided by somebody.
    enum class Trouble {
        None,
        ChangedOnDisk,  ///< by another program
        Gone,           ///< removed, or renamed
        Lacking,        ///< the encoding has no form for characters of the text
    };

    SheetFile(std::optional<store::FileOfSheet> file, const base::SharedText& text, QObject* parent);

    [[nodiscard]] const std::optional<store::FileOfSheet>& state() const { return file_; }
    [[nodiscard]] bool isUnsaved() const { return file_ && file_->isUnsaved; }
    [[nodiscard]] Trouble trouble() const { return trouble_; }
    /// What was said about it, when the failure had words of its own.
    [[nodiscard]] const QString& troubleText() const { return troubleText_; }
    [[nodiscard]] QString fileName() const;

    /// The text is another one now.
    void noteText(const base::SharedText& text);
    /// A text that was just read from a file.
    void begin(const store::FileOfSheet& file, const base::SharedText& text);
    /// Saves to the file; `done` hears whether that went well. What another program wrote meanwhile is not replaced
    /// but told as Trouble.
    void save(std::function<void(bool)> done = {});
    /// Saves to another file, which becomes the sheet's; what stood there is replaced.
    void saveAs(const QString& path, std::function<void(bool)> done = {});
    void saveAsUtf8();
    /// Reads the file again: textRead() follows.
    void reload();
    /// What another program wrote is known and will be replaced by the next saving.
    void keepOurs();

Q_SIGNALS:
    /// Another file, another mark, or trouble.
    void changed();
    void textRead(const pantry::base::SharedText& text);
    void remarked(const QString& text);

private:
    void watch();
    void lookAtDisk();
    void setTrouble(Trouble trouble, const QString& text = {});
    void write(const std::string& path, const store::TextForm& form, const std::optional<store::FileStamp>& expected,
               std::function<void(bool)> done);
    void readSaved();

    std::optional<store::FileOfSheet> file_;
    base::SharedText text_;
    std::optional<base::SharedText> saved_;  // what the file holds; unknown until it was read again after a start
    Trouble trouble_ = Trouble::None;
    QString troubleText_;
    int writing_ = 0;
    QFileSystemWatcher watcher_;
    QTimer lookTimer_;
};

}  // namespace pantry::app
