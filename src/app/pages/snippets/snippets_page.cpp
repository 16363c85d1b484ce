#include "app/pages/snippets/snippets_page.h"

#include <QHBoxLayout>
#include <QVBoxLayout>
#include <algorithm>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/base/utf8.h"
#include "core/snippet/built_in.h"

namespace pantry::app {

QIcon SnippetsPage::icon() const { return colourDot(Theme::current().colour("quiet")); }

SnippetsPage::SnippetsPage(Desk& desk, QWidget* parent) : Page(parent), desk_(desk) {
    setObjectName(QLatin1String(objectName::kSnippetsPage));
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(22, 18, 22, 18);
    layout->setSpacing(22);
    layout->addWidget(makeList());
    layout->addWidget(makeForm(), 1);
    layout->addWidget(makeTrial(), 1);
    constexpr int kRestMs = 150;
    trialTimer_.setSingleShot(true);
    trialTimer_.setInterval(kRestMs);
    connect(&trialTimer_, &QTimer::timeout, this, &SnippetsPage::tryOut);
    fillList({});
    list_->setCurrentRow(0);
}

QWidget* SnippetsPage::makeList() {
    auto* column = new QWidget(this);
    Theme::fit(column, [column] { column->setFixedWidth(Theme::px(260)); });
    list_ = new QListWidget(column);
    name(list_, objectName::kSnippetList, tr("Snippets by their triggers"));
    auto* fresh = makeButton(tr("New snippet"), "", objectName::kSnippetNew, tr("Begin a new snippet"), column);
    auto* layout = new QVBoxLayout(column);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(makeLabel(tr("Snippets"), "title"));
    layout->addWidget(list_, 1);
    layout->addWidget(fresh);
    connect(list_, &QListWidget::currentRowChanged, this, &SnippetsPage::show);
    connect(fresh, &QPushButton::clicked, this, [this] {
        list_->setCurrentRow(-1);
        before_.clear();
        showSnippet({});
        trigger_->setFocus();
    });
    return column;
}

QWidget* SnippetsPage::makeForm() {
    auto* form = new QWidget(this);
    trigger_ = new QLineEdit(form);
    title_ = new QLineEdit(form);
    text_ = new QPlainTextEdit(form);
    message_ = makeLabel({}, "bad", form);
    message_->setWordWrap(true);
    message_->setObjectName(QLatin1String(objectName::kSnippetMessage));
    name(trigger_, objectName::kSnippetTrigger, tr("Trigger: the word that brings it"));
    name(title_, objectName::kSnippetTitle, tr("What it does"));
    name(text_, objectName::kSnippetText, tr("The template"));
    trigger_->setPlaceholderText(tr("the word that is typed for it"));
    title_->setPlaceholderText(tr("what it does, in a few words"));
    text_->setProperty("look", "code");
    text_->setLineWrapMode(QPlainTextEdit::NoWrap);
    text_->setTabChangesFocus(true);  // the page is walked through by keys; templates are indented with blanks
    text_->setPlaceholderText(tr("SELECT «column» FROM «table:table»"));
    auto* place = makeButton(tr("Selection to place"), "", objectName::kSnippetPlace,
                             tr("Make a place of the selected text"), form);
    save_ = makeButton(tr("Save"), "main", objectName::kSnippetSave, tr("Keep this snippet"), form);
    remove_ = makeButton(tr("Remove"), "", objectName::kSnippetRemove, tr("Remove this snippet"), form);
    auto* where = new QHBoxLayout;
    for (const auto& [dialect, label] :
         {std::pair(sql::Dialect::Postgres, tr("PostgreSQL")), std::pair(sql::Dialect::MySql, tr("MariaDB")),
          std::pair(sql::Dialect::Sqlite, tr("SQLite"))}) {
        auto* box = new QCheckBox(label, form);
        dialects_.emplace_back(dialect, box);
        where->addWidget(box);
        connect(box, &QCheckBox::toggled, this, &SnippetsPage::noteWritten);
    }
    where->addStretch();
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(place);
    buttons->addStretch();
    buttons->addWidget(remove_);
    buttons->addWidget(save_);
    auto* notation =
        makeLabel(tr("«name» is a place, the same wherever it stands; «name=text» is filled at first; «name:table», "
                     ":column of name, :view, :relation, :schema or :type offers what the database has. "
                     "«each column of name joined by \", \": «column»» repeats. «» is where the cursor ends."),
                  "quiet", form);
    notation->setWordWrap(true);
    auto* layout = new QVBoxLayout(form);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(7);
    layout->addWidget(makeLabel(tr("Template"), "section", form));
    layout->addWidget(trigger_);
    layout->addWidget(title_);
    layout->addWidget(makeLabel(tr("Offered in"), "quiet", form));
    layout->addLayout(where);
    layout->addWidget(text_, 1);
    layout->addWidget(notation);
    layout->addWidget(message_);
    layout->addLayout(buttons);
    for (QLineEdit* field : {trigger_, title_})
        connect(field, &QLineEdit::textChanged, this, &SnippetsPage::noteWritten);
    connect(text_, &QPlainTextEdit::textChanged, this, &SnippetsPage::noteWritten);
    connect(place, &QPushButton::clicked, this, &SnippetsPage::makePlace);
    connect(save_, &QPushButton::clicked, this, &SnippetsPage::save);
    connect(remove_, &QPushButton::clicked, this, &SnippetsPage::remove);
    return form;
}

QWidget* SnippetsPage::makeTrial() {
    auto* column = new QWidget(this);
    trial_ = new SqlEditor(column);
    trial_->setTextSize(desk_.settings().textSize);
    auto* frame = makeFrame("card", column);
    auto* inner = new QVBoxLayout(frame);
    inner->setContentsMargins(1, 1, 1, 1);
    inner->addWidget(trial_);
    auto* layout = new QVBoxLayout(column);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(7);
    layout->addWidget(makeLabel(tr("Try it"), "section", column));
    layout->addWidget(frame, 1);
    auto* hint = makeLabel(tr("Tab and Shift+Tab walk through the places."), "quiet", column);
    layout->addWidget(hint);
    return column;
}

void SnippetsPage::fillList(const std::string& trigger) {
    shown_ = desk_.preferences().snippets();
    const auto builtIn = snippet::builtIn();
    shown_.insert(shown_.end(), builtIn.begin(), builtIn.end());
    const QSignalBlocker blocker(list_);
    list_->clear();
    for (const snippet::Snippet& one : shown_) {
        QString where;
        for (const sql::Dialect dialect : one.dialects) {
            if (dialect != sql::Dialect::Ansi)
                where += (where.isEmpty() ? " · " : ", ") + toQt(sql::dialectName(dialect));
        }
        auto* item = new QListWidgetItem(toQt(one.trigger) + where, list_);
        item->setToolTip(toQt(one.title));
        item->setSizeHint({0, Theme::px(24)});
        if (!one.isBuiltIn) item->setForeground(Theme::current().colour("juniper"));
        if (!one.isBuiltIn && one.trigger == trigger) list_->setCurrentItem(item);
    }
}

void SnippetsPage::show(int row) {
    if (row < 0 || row >= static_cast<int>(shown_.size())) return;
    const snippet::Snippet& one = shown_[static_cast<std::size_t>(row)];
    before_ = one.isBuiltIn ? std::string() : one.trigger;
    showSnippet(one);
}

void SnippetsPage::showSnippet(const snippet::Snippet& one) {
    for (QObject* field : std::initializer_list<QObject*>{trigger_, title_, text_}) field->blockSignals(true);
    trigger_->setText(toQt(one.trigger));
    title_->setText(toQt(one.title));
    text_->setPlainText(toQt(one.text));
    for (QObject* field : std::initializer_list<QObject*>{trigger_, title_, text_}) field->blockSignals(false);
    for (const auto& [dialect, box] : dialects_) {
        const QSignalBlocker blocker(box);
        box->setChecked(one.fits(dialect));
    }
    noteWritten();
}

void SnippetsPage::begin(const std::string& text, sql::Dialect dialect) {
    list_->setCurrentRow(-1);
    before_.clear();
    showSnippet({.trigger = {}, .title = {}, .text = text, .dialects = {dialect}});
    trigger_->setFocus();
}

snippet::Snippet SnippetsPage::written() const {
    snippet::Snippet one{.trigger = fromQt(trigger_->text().trimmed()),
                         .title = fromQt(title_->text().trimmed()),
                         .text = fromQt(text_->toPlainText()),
                         .dialects = {}};
    const bool isInAll = std::ranges::all_of(dialects_, [](const auto& each) { return each.second->isChecked(); });
    for (const auto& [dialect, box] : dialects_) {
        if (!isInAll && box->isChecked()) one.dialects.push_back(dialect);
    }
    return one;
}

/// Those of somebody's own beside the one that is being changed: the built-in ones make way.
std::vector<snippet::Snippet> SnippetsPage::others() const {
    std::vector<snippet::Snippet> all = desk_.preferences().snippets();
    std::erase_if(all, [&](const snippet::Snippet& one) { return !before_.empty() && one.trigger == before_; });
    return all;
}

/// Says what is wrong as it is written, and shows what would become of it.
void SnippetsPage::noteWritten() {
    const snippet::Snippet one = written();
    const bool isEmpty = one.trigger.empty() && one.text.empty();
    const Status status = snippet::check(one, others());
    QString text = status || isEmpty ? QString() : toQt(status.error());
    if (!status && status.error().byteOffset && !isEmpty) {
        const base::LinePosition place = base::linePositionAt(one.text, *status.error().byteOffset);
        text = tr("Line %1, column %2: %3").arg(place.line).arg(place.column).arg(text);
    }
    message_->setText(text);
    message_->setVisible(!text.isEmpty());
    const bool isOffered = std::ranges::any_of(dialects_, [](const auto& each) { return each.second->isChecked(); });
    save_->setEnabled(status.has_value() && isOffered);
    remove_->setEnabled(!before_.empty());
    trialTimer_.start();
}

void SnippetsPage::tryOut() {
    const auto parsed = snippet::parseTemplate(written().text);
    trial_->resetText(base::SharedText());
    if (parsed) trial_->fillIn(0, 0, *parsed, {});
}

/// The selected text becomes a place that is filled with it at first; its name is to be typed.
void SnippetsPage::makePlace() {
    QTextCursor cursor = text_->textCursor();
    if (!cursor.hasSelection()) {
        message_->setText(tr("Select the text that is to be a place."));
        return message_->show();
    }
    const QString selected = cursor.selectedText();
    QString name;
    for (const QChar c : selected.toLower()) {
        if (c.isLetterOrNumber() || c == QLatin1Char('_')) name += c;
    }
    if (name.isEmpty() || name[0].isDigit()) name.prepend(QStringLiteral("value"));
    const int start = cursor.selectionStart();
    cursor.insertText(QStringLiteral("«%1=%2»").arg(name, selected));
    cursor.setPosition(start + 1);
    cursor.setPosition(start + 1 + static_cast<int>(name.size()), QTextCursor::KeepAnchor);
    text_->setTextCursor(cursor);
    text_->setFocus();
}

void SnippetsPage::save() {
    const snippet::Snippet one = written();
    desk_.preferences().putSnippet(one, before_);
    before_ = one.trigger;
    fillList(one.trigger);
    remove_->setEnabled(true);
}

void SnippetsPage::remove() {
    desk_.preferences().removeSnippet(before_);
    before_.clear();
    fillList({});
    list_->setCurrentRow(0);
}

}  // namespace pantry::app

#include "moc_snippets_page.cpp"
