#include "app/pages/text/text_page.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLocale>
#include <QTime>
#include <QVBoxLayout>
#include <functional>
#include <utility>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/catalog/catalog_model.h"
#include "app/command/command.h"
#include "app/editor/text_verbs.h"
#include "app/look/elided_label.h"
#include "app/look/widgets.h"
#include "core/db/engine_traits.h"

namespace pantry::app {

TextPage::TextPage(Desk& desk, ObjectPlace place, sql::EditedObject edited, QWidget* parent)
    : PlacePage(desk, std::move(place), parent),
      edited_(std::move(edited)),
      about_(makeLabel({}, "quiet", this)),
      editor_(new WrittenText(desk, place_.connectionId, place_.database, this)),
      finding_(new FindStrip(FindStrip::Reach::Text, *editor_, this)),
      dropsFirst_(new QCheckBox(tr("Drop it first"), this)),
      panel_(new DefinitionPanel(desk, place_.connectionId, place_.database, this)) {
    name(this, objectName::kTextPage, title());
    name(editor_, objectName::kTextEditor, tr("The text that makes it"));
    name(dropsFirst_, objectName::kTextDrops, dropsFirst_->text());
    if (const db::ConnectionProfile* profile = this->profile()) {
        canRollBack_ = db::traitsOf(profile->engine).canRollBackDefinitions;
    }
    dropsFirst_->setToolTip(tr(
        "For what cannot be replaced as it is: other columns, another result, other parameters. Rights on it go with "
        "it, and what is built on it keeps the server from dropping it."));
    dropsFirst_->setVisible(sql::canDropFirst(edited_, dialect_));
    panel_->setTitle(title());
    panel_->setStatementsShown(false);
    panel_->setVerb(tr("Apply"));
    panel_->setAsksFirst();
    makeLayout();
    makeKeys();
    constexpr int kRestMs = 150;
    workTimer_.setSingleShot(true);
    workTimer_.setInterval(kRestMs);
    connect(&workTimer_, &QTimer::timeout, this, &TextPage::work);
    connect(editor_, &SqlEditor::textEdited, &workTimer_, qOverload<>(&QTimer::start));
    connect(dropsFirst_, &QCheckBox::toggled, this, &TextPage::work);
    connect(panel_, &DefinitionPanel::done, this, &TextPage::finish);
    connect(panel_, &DefinitionPanel::runRequested, this, &TextPage::apply);
    connect(panel_, &DefinitionPanel::failed, this, [this](qint64 at) {
        if (at < 0) return;
        editor_->setCaret(static_cast<std::size_t>(at));
        editor_->setErrorAt(at);
        editor_->setFocus();
    });
    connect(panel_, &DefinitionPanel::cancelled, this, [this] {
        isGivenUp_ = true;
        Q_EMIT closeRequested();
    });
    connect(panel_, &DefinitionPanel::sheetRequested, this,
            [this](const QString& title) { Q_EMIT sheetRequested(place_, title, toQt(editor_->text().str())); });
    read();
}

QString TextPage::title() const {
    const bool isTrigger = edited_.isNewTrigger || !edited_.trigger.empty();
    const QString kind = isTrigger ? tr("trigger") : toQt(catalog::kindName(edited_.object.kind));
    if (edited_.isNew()) return tr("New %1").arg(kind);
    return tr("Edit %1").arg(toQt(isTrigger ? edited_.trigger : edited_.object.name));
}

QIcon TextPage::icon() const { return iconOf(edited_.object.kind); }

void TextPage::makeLayout() {
    auto* heading = new ElidedLabel(title(), this);
    setLook(heading, "title");
    const QString schema = toQt(edited_.object.schema);
    const QString whole = schema + QLatin1Char('.') + toQt(edited_.object.name);
    const bool isTrigger = !edited_.trigger.empty() || edited_.isNewTrigger;
    about_->setText(edited_.object.name.empty() ? tr("in %1").arg(schema)
                    : isTrigger                 ? tr("trigger on %1").arg(whole)
                                : toQt(catalog::kindName(edited_.object.kind)) + QLatin1Char(' ') + whole);
    auto* format = makeButton(tr("Format"), "", "textFormat", commandTip("sheet.format"), this);
    connect(format, &QPushButton::clicked, editor_, &WrittenText::format);
    auto* head = new QHBoxLayout;
    head->setSpacing(12);
    head->addWidget(heading, 1);
    head->addWidget(format);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(26, 16, 26, 16);
    layout->setSpacing(8);
    layout->addLayout(head);
    layout->addWidget(about_);
    layout->addWidget(editor_, 1);
    layout->addWidget(finding_);
    layout->addWidget(dropsFirst_);
    layout->addWidget(panel_);
    panel_->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Maximum);
}

/// Keys of the sheet, which is not in front: the same ones here.
void TextPage::makeKeys() {
    editor_->focusProxy()->installEventFilter(this);
    connect(editor_, &SqlEditor::commandRequested, this, [this](const QString& id) {
        if (id == QLatin1String("editor.find")) return finding_->open(false);
        if (id == QLatin1String("editor.replace")) return finding_->open(true);
        if (id == QLatin1String("editor.findNext")) return finding_->goOn(true);
        if (id == QLatin1String("editor.findBefore")) return finding_->goOn(false);
        if (id == QLatin1String("editor.allOccurrences")) {
            editor_->selectAllOccurrences();
            return;
        }
        carryOut(fromQt(id), *editor_);
    });
}

bool TextPage::eventFilter(QObject* watched, QEvent* event) {
    const bool isOverride = event->type() == QEvent::ShortcutOverride;
    if (!isOverride && event->type() != QEvent::KeyPress) return Page::eventFilter(watched, event);
    const auto* key = static_cast<QKeyEvent*>(event);
    const std::pair<const char*, std::function<void()>> verbs[] = {{"run.statement", [this] { apply(); }},
                                                                   {"sheet.format", [this] { editor_->format(); }},
                                                                   {"editor.complete", [this] { editor_->complete(); }},
                                                                   {"editor.mend", [this] { editor_->mend(); }}};
    for (const auto& [id, act] : verbs) {
        if (!isKeyOf(id, key)) continue;
        event->accept();
        if (!isOverride) act();
        return true;
    }
    return Page::eventFilter(watched, event);
}

void TextPage::read() {
    if (edited_.isNew()) return begin(sql::textToBegin(edited_, dialect_));
    editor_->setReadOnly(true);
    const auto done = whileThere(this, [this](const Result<std::string>& script) {
        if (!script) {
            panel_->show({}, toQt(script.error()));
            return;
        }
        editor_->setReadOnly(false);
        begin(edited_.trigger.empty() ? *script : sql::triggerIn(*script, edited_.trigger, dialect_));
    });
    desk_.catalogs().writeScript(fromQt(place_.connectionId), place_.database, sql::ScriptKind::Create,
                                 {edited_.object}, dialect_, done);
}

void TextPage::begin(const std::string& text) {
    editor_->setWritten(text);
    constexpr std::string_view kNew = "new_";
    if (const std::size_t at = edited_.isNew() ? text.find(kNew) : std::string::npos; at != std::string::npos) {
        editor_->select(at, text.find_first_of(" \n(", at));  // its name is written first
    }
    before_ = edited_.isNew() ? base::SharedText() : editor_->text();
    isThere_ = true;
    work();
}

/// The statements of the text, beside the window: it may be long.
void TextPage::work() {
    if (!isThere_) return;
    workTimer_.stop();  // this is what it waits for
    const base::SharedText text = editor_->text();
    const bool drops = dropsFirst_->isChecked();
    const int asked = ++asked_;
    inBackground(
        this,
        [text, before = before_, edited = edited_, drops, dialect = dialect_] {
            return sql::applyText(edited, text.str(), before.str(), drops, dialect);
        },
        [this, text, drops, asked](const Result<sql::TextChange>& change) {
            if (asked != asked_) return;  // the text went on, or this one was applied meanwhile
            shownOf_ = text;
            shownDrops_ = drops;
            show(change);
        });
}

void TextPage::show(const Result<sql::TextChange>& change) {
    change_ = change.value_or(sql::TextChange{});
    QStringList parts;
    if (!change_.change.isEmpty() && change_.change.isDestructive()) {
        parts += tr("%1 first, and then the text%2.")
                     .arg(toQt(change_.change.steps.front().statement),
                          canRollBack_ ? tr(", in one transaction") : QString());
    }
    if (!change_.remark.empty()) parts += toQt(change_.remark);
    panel_->show(change_.change, change ? QString() : toQt(change.error()), parts.join(QLatin1Char('\n')));
    if (std::exchange(isApplyDue_, false)) run();
}

/// What runs is remembered: somebody may write on meanwhile.
void TextPage::run() {
    if (panel_->isRunning()) return;
    applied_ = change_;
    appliedOf_ = shownOf_;
    panel_->run();
}

void TextPage::apply() {
    if (isShown()) return run();
    isApplyDue_ = true;
    work();
}

/// What was new is a page of its own now; of what was there the text stays, to be written on.
void TextPage::finish() {
    if (edited_.isNew()) {
        isGivenUp_ = true;
        ObjectPlace there = place_;
        if (!edited_.isNewTrigger) there.object = {edited_.object.kind, edited_.object.schema, applied_.madeName, {}};
        Q_EMIT made(there);
        return;
    }
    if (!applied_.madeName.empty() && applied_.change.isDestructive()) {
        (edited_.trigger.empty() ? edited_.object.name : edited_.trigger) = applied_.madeName;
        place_.object = edited_.object;
    }
    before_ = appliedOf_;
    {
        const QSignalBlocker blocker(dropsFirst_);
        dropsFirst_->setChecked(false);
    }
    shownDrops_ = false;
    ++asked_;
    panel_->tell(tr("Applied at %1.").arg(QLocale().toString(QTime::currentTime(), QStringLiteral("HH:mm:ss"))));
    if (!appliedOf_.isCopyOf(editor_->text())) return workTimer_.start();  // somebody wrote on meanwhile
    workTimer_.stop();
}

std::optional<UnfinishedText> TextPage::unfinished() const {
    if (isGivenUp_ || !isThere_ || editor_->text() == before_) return {};
    if (edited_.isNew() && editor_->text().str() == sql::textToBegin(edited_, dialect_)) return {};
    return UnfinishedText{title(), toQt(editor_->text().str())};
}

}  // namespace pantry::app

#include "moc_text_page.cpp"
