#include "app/shelf/save_panel.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <set>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "app/shelf/shelf_list.h"
#include "core/base/text.h"
#include "core/shelf/shelf_names.h"

namespace pantry::app {

SavePanel::SavePanel(Desk& desk, QWidget* parent)
    : QFrame(parent),
      desk_(desk),
      title_(new QLineEdit(this)),
      shelf_(new QComboBox(this)),
      folder_(new QComboBox(this)),
      note_(new QLineEdit(this)),
      place_(makeLabel({}, "small", this)) {
    setProperty("look", "float");
    name(this, objectName::kSavePanel, tr("Save to the shelf"));
    name(title_, objectName::kSaveTitle, tr("Title"));
    name(shelf_, objectName::kSaveShelf, tr("Shelf"));
    name(folder_, objectName::kSaveFolder, tr("Folder"));
    name(note_, objectName::kSaveNote, tr("Note"));
    place_->setObjectName(QStringLiteral("savePlace"));
    folder_->setEditable(true);
    folder_->setInsertPolicy(QComboBox::NoInsert);
    note_->setPlaceholderText(tr("What it is for; may be empty"));
    auto* save = makeButton(tr("Save"), "main", objectName::kSaveNow, tr("Save to the shelf"), this);
    auto* file = makeButton(tr("As a file elsewhere…"), "plain", "saveElsewhere",
                            tr("Save as a file that is on no shelf"), this);
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(10);
    grid->setVerticalSpacing(6);
    const auto addRow = [&](int row, const QString& text, QWidget* field) {
        auto* label = makeLabel(text, "field", this);
        label->setBuddy(field);
        grid->addWidget(label, row, 0);
        grid->addWidget(field, row, 1);
        field->installEventFilter(this);
    };
    addRow(0, tr("Title"), title_);
    addRow(1, tr("Folder"), folder_);
    addRow(2, tr("Shelf"), shelf_);
    addRow(3, tr("Note"), note_);
    grid->setColumnStretch(1, 1);
    folder_->lineEdit()->installEventFilter(this);
    auto* verbs = new QHBoxLayout;
    verbs->addWidget(save);
    verbs->addWidget(file);
    verbs->addStretch();
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 12, 14, 12);
    layout->setSpacing(8);
    layout->addWidget(makeLabel(tr("Save to the shelf"), "heading", this));
    layout->addLayout(grid);
    layout->addWidget(place_);
    layout->addLayout(verbs);
    connect(save, &QPushButton::clicked, this, &SavePanel::save);
    connect(file, &QPushButton::clicked, this, [this] {
        close();
        Q_EMIT fileRequested();
    });
    connect(title_, &QLineEdit::textChanged, this, &SavePanel::showPlace);
    connect(folder_, &QComboBox::editTextChanged, this, &SavePanel::showPlace);
    connect(shelf_, &QComboBox::currentIndexChanged, this, [this] {
        fillFolders();
        showPlace();
    });
    hide();
}

void SavePanel::open(const Proposal& proposal, int top) {
    shelf_->clear();
    for (const work::ShelfInfo& info : desk_.shelf().shelves())
        shelf_->addItem(info.name.empty() ? tr("My shelf") : toQt(info.name), toQt(info.name));
    const bool areSeveral = shelf_->count() > 1;
    shelf_->setVisible(areSeveral);
    for (QLabel* label : findChildren<QLabel*>()) {
        if (label->buddy() == shelf_) label->setVisible(areSeveral);
    }
    title_->setText(proposal.title);
    note_->clear();
    fillFolders();
    folder_->setEditText(proposal.folder);
    showPlace();
    setFixedWidth(std::min(Theme::px(460), parentWidget()->width() - 40));
    adjustSize();
    move(parentWidget()->width() - width() - 24, top);
    show();
    raise();
    title_->setFocus();
    title_->selectAll();
}

void SavePanel::fillFolders() {
    const QString typed = folder_->currentText();
    std::set<std::string> folders;
    for (const work::ShelvedQuery& one : desk_.shelf().queries()) {
        if (one.place.shelf == fromQt(shelf_->currentData().toString())) folders.insert(one.item.folder());
    }
    folder_->clear();
    for (const std::string& folder : folders) {
        if (!folder.empty()) folder_->addItem(spokenFolder({{}, folder}), toQt(folder));
    }
    folder_->setEditText(typed);
}

/// A folder that is chosen by its spoken name, or a new one.
store::QueryPlace SavePanel::place() const {
    std::string folder;
    const int known = folder_->findText(folder_->currentText().trimmed());
    if (known >= 0) {
        folder = fromQt(folder_->itemData(known).toString());
    } else {
        for (const QString& part : folder_->currentText().split(QLatin1Char('/'), Qt::SkipEmptyParts)) {
            if (part.trimmed().isEmpty()) continue;
            folder += (folder.empty() ? "" : "/") + shelf::fileNameFor(fromQt(part.trimmed()));
        }
    }
    const std::string file = shelf::fileNameFor(fromQt(title_->text())) + ".sql";
    return {fromQt(shelf_->currentData().toString()), folder.empty() ? file : folder + "/" + file};
}

bool SavePanel::isTaken() const {
    const auto& all = desk_.shelf().queries();
    return std::ranges::any_of(all, [wished = place()](const work::ShelvedQuery& one) { return one.place == wished; });
}

void SavePanel::showPlace() {
    const QString path = toQt(place().path);
    place_->setText(isTaken() ? tr("%1 is there already: saving makes a new version of it.").arg(path)
                              : tr("%1 · Return saves, Esc closes").arg(path));
}

void SavePanel::save() {
    const QString title = title_->text().trimmed();
    if (title.isEmpty()) return title_->setFocus();
    const store::QueryPlace wished = place();
    close();
    Q_EMIT saveRequested(wished, title, note_->text().trimmed());
}

void SavePanel::close() {
    hide();
    Q_EMIT closed();
}

bool SavePanel::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() != QEvent::KeyPress) return QFrame::eventFilter(watched, event);
    const auto* key = static_cast<QKeyEvent*>(event);
    if (key->key() == Qt::Key_Escape) {
        close();
        return true;
    }
    if (key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter) {
        save();
        return true;
    }
    return QFrame::eventFilter(watched, event);
}

}  // namespace pantry::app

#include "moc_save_panel.cpp"
