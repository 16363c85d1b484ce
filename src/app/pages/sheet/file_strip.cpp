#include "app/pages/sheet/file_strip.h"

#include <QHBoxLayout>

#include "app/base/object_names.h"
#include "app/look/widgets.h"

namespace pantry::app {

FileStrip::FileStrip(Sheet& sheet, QWidget* parent) : LateStrip(parent), sheet_(sheet) {
    name(this, objectName::kFileStrip, tr("The sheet's file"));
    setProperty("look", "notice");
    connect(&sheet_.file(), &SheetFile::changed, this, &FileStrip::refresh);
    refresh();
}

void FileStrip::makeContent() {
    label_ = makeLabel({}, "", this);
    reload_ = makeButton(tr("Reload"), "", objectName::kFileReload, tr("Read the file again"), this);
    keepOurs_ = makeButton(tr("Keep this text"), "", objectName::kFileKeepOurs,
                           tr("Keep this text; saving replaces the file"), this);
    save_ = makeButton(tr("Save"), "", objectName::kFileSave, tr("Write the file again"), this);
    saveAsUtf8_ = makeButton(tr("Save as UTF-8"), "", objectName::kFileSaveAsUtf8, tr("Save in UTF-8"), this);
    label_->setWordWrap(true);
    reload_->setToolTip(tr("Ctrl+Z brings this text back"));
    keepOurs_->setToolTip(tr("Nothing is written until you save"));
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(12, 3, 10, 3);
    layout->setSpacing(8);
    layout->addWidget(label_, 1);
    for (QPushButton* button : {reload_, keepOurs_, save_, saveAsUtf8_}) layout->addWidget(button);
    SheetFile* file = &sheet_.file();
    connect(reload_, &QPushButton::clicked, file, &SheetFile::reload);
    connect(keepOurs_, &QPushButton::clicked, file, &SheetFile::keepOurs);
    connect(save_, &QPushButton::clicked, file, [file] { file->save(); });
    connect(saveAsUtf8_, &QPushButton::clicked, file, &SheetFile::saveAsUtf8);
}

void FileStrip::refresh() {
    const SheetFile& file = sheet_.file();
    using Trouble = SheetFile::Trouble;
    const Trouble trouble = file.trouble();
    if (!showIf(trouble != Trouble::None)) return;
    reload_->setVisible(trouble == Trouble::ChangedOnDisk);
    keepOurs_->setVisible(trouble == Trouble::ChangedOnDisk);
    save_->setVisible(trouble == Trouble::Gone);
    saveAsUtf8_->setVisible(trouble == Trouble::Lacking);
    switch (trouble) {
        case Trouble::None: break;
        case Trouble::ChangedOnDisk:
            label_->setText(file.isUnsaved()
                                ? tr("%1 was changed by another program, and this text has changes that are not saved.")
                                      .arg(file.fileName())
                                : tr("%1 was changed by another program.").arg(file.fileName()));
            break;
        case Trouble::Gone:
            label_->setText(tr("%1 is no longer there. The text is kept in this sheet.").arg(file.fileName()));
            break;
        case Trouble::Lacking: label_->setText(file.troubleText()); break;
    }
}

}  // namespace pantry::app

#include "moc_file_strip.cpp"
