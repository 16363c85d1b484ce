#include "app/editor/find_strip.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QVBoxLayout>
#include <algorithm>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/command/command.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"

namespace pantry::app {
namespace {

constexpr std::size_t kMostFound = 100'000;

}  // namespace

FindStrip::FindStrip(Reach reach, SqlEditor& editor, QWidget* parent)
    : QFrame(parent),
      editor_(editor),
      find_(new QLineEdit(this)),
      replacement_(new QLineEdit(this)),
      count_(makeLabel({}, "quiet", this)),
      replaceRow_(new QWidget(this)) {
    name(this, objectName::kFindStrip, tr("Find in the text"));
    setProperty("look", "fields");
    makeLayout(reach);
    constexpr int kRestMs = 100;
    timer_.setSingleShot(true);
    timer_.setInterval(kRestMs);
    connect(&timer_, &QTimer::timeout, this, &FindStrip::look);
    connect(find_, &QLineEdit::textChanged, this, [this] { timer_.start(); });
    connect(&editor_, &SqlEditor::textEdited, this, [this] {
        if (isVisible()) timer_.start();
    });
    connect(&editor_, &SqlEditor::caretMoved, this, [this] {
        if (isVisible()) showCount();
    });
    hide();
}

QPushButton* FindStrip::makeToggle(const QString& text, const char* objectName, const QString& tip) {
    QPushButton* toggle = makeButton(text, "toggle", objectName, tip, this);
    toggle->setCheckable(true);
    toggle->setToolTip(tip);
    connect(toggle, &QPushButton::toggled, this, &FindStrip::look);
    return toggle;
}

void FindStrip::makeLayout(Reach reach) {
    name(find_, objectName::kFindText, tr("Text to find"));
    name(replacement_, objectName::kReplaceText, tr("Text to put in its place"));
    count_->setObjectName(QLatin1String(objectName::kFindCount));
    find_->setPlaceholderText(tr("Find"));
    replacement_->setPlaceholderText(tr("Replace with"));
    letters_ = makeToggle(tr("Aa"), "findLetters", tr("Tell capital letters from small ones"));
    words_ = makeToggle(tr("Words"), "findWords", tr("Whole words only"));
    expression_ =
        makeToggle(tr("Expression"), "findExpression", tr("A regular expression; $1 is what its brackets found"));
    inSelection_ = makeToggle(tr("In selection"), "findInSelection", tr("Replace in the selection only"));
    auto* before = makeButton(QStringLiteral("↑"), "plain", "findBefore", tr("The one before (Shift+Return)"), this);
    auto* next = makeButton(QStringLiteral("↓"), "plain", "findNext", tr("The next one (Return)"), this);
    auto* everywhere =
        makeButton(tr("All sheets…"), "plain", objectName::kFindEverywhere, tr("Find it in every open sheet"), this);
    auto* away = makeButton(QStringLiteral("×"), "away", "findClose", tr("Close (Esc)"), this);
    auto* top = new QHBoxLayout;
    top->setSpacing(6);
    top->addWidget(find_, 1);
    for (QWidget* one : std::initializer_list<QWidget*>{before, next}) top->addWidget(one);
    count_->setMinimumWidth(Theme::px(90));
    top->addWidget(count_);
    top->addWidget(away);
    find_->setMinimumWidth(Theme::px(110));
    auto* options = new QHBoxLayout;
    options->setSpacing(6);
    for (QWidget* one : std::initializer_list<QWidget*>{letters_, words_, expression_}) options->addWidget(one);
    options->addStretch();
    options->addWidget(everywhere);
    everywhere->setVisible(reach == Reach::Sheets);
    auto* one = makeButton(tr("Replace"), "", objectName::kReplaceOne, tr("Replace this one and go on"), replaceRow_);
    auto* all = makeButton(tr("Replace all"), "", objectName::kReplaceAll, tr("Replace all of them"), replaceRow_);
    auto* bottom = new QHBoxLayout(replaceRow_);
    bottom->setContentsMargins(0, 0, 0, 0);
    bottom->setSpacing(6);
    bottom->addWidget(replacement_, 1);
    for (QWidget* each : std::initializer_list<QWidget*>{inSelection_, one, all}) bottom->addWidget(each);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 5, 10, 5);
    layout->setSpacing(4);
    layout->addLayout(top);
    layout->addLayout(options);
    layout->addWidget(replaceRow_);
    for (QLineEdit* field : {find_, replacement_}) field->installEventFilter(this);
    connect(before, &QPushButton::clicked, this, [this] { goOn(false); });
    connect(next, &QPushButton::clicked, this, [this] { goOn(true); });
    connect(everywhere, &QPushButton::clicked, this, [this] { Q_EMIT everywhereWanted(query()); });
    connect(away, &QPushButton::clicked, this, &FindStrip::close);
    connect(one, &QPushButton::clicked, this, &FindStrip::replaceOne);
    connect(all, &QPushButton::clicked, this, &FindStrip::replaceAll);
}

void FindStrip::open(bool replaces) {
    const std::string selected = editor_.selection();
    const bool isPart = selected.find('\n') != std::string::npos;
    if (!selected.empty() && !isPart) find_->setText(toQt(selected));
    replaceRow_->setVisible(replaces);
    inSelection_->setChecked(replaces && isPart);
    QFrame::show();
    find_->setFocus();
    find_->selectAll();
    look();
}

work::TextQuery FindStrip::query() const {
    return {.pattern = fromQt(find_->text()),
            .matchesCase = letters_->isChecked(),
            .wholeWords = words_->isChecked(),
            .isExpression = expression_->isChecked()};
}

void FindStrip::look() {
    if (!isVisible()) return;
    inBackground(
        this,
        [text = editor_.text(), query = query()] {
            return std::pair(text, work::findInText(text.str(), query, kMostFound));
        },
        [this, asked = query()](const std::pair<base::SharedText, Result<std::vector<sql::TextRange>>>& found) {
            if (!(asked == query()) || !found.first.isCopyOf(editor_.text())) return;  // somebody went on
            foundIn_ = found.first;
            show(found.second);
        });
}

void FindStrip::show(const Result<std::vector<sql::TextRange>>& found) {
    found_ = found.value_or(std::vector<sql::TextRange>());
    editor_.markFound(found_);
    if (!found) {
        count_->setText(tr("not understood"));
        count_->setToolTip(toQt(found.error()));
        return;
    }
    count_->setToolTip({});
    showCount();
}

void FindStrip::showCount() {
    if (find_->text().isEmpty()) return count_->setText({});
    if (found_.empty()) return count_->setText(tr("none"));
    const sql::TextRange here{editor_.selectionStart(), editor_.selection().size()};
    const auto at = std::ranges::find(found_, here);
    const auto all = static_cast<qlonglong>(found_.size());
    count_->setText(at == found_.end() ? tr("%1 found").arg(all)
                                       : tr("%1 of %2").arg(at - found_.begin() + 1).arg(all));
}

/// To the next one behind the selection, or the one before; at the end it begins anew.
void FindStrip::goOn(bool forward) {
    if (found_.empty() || !foundIn_.isCopyOf(editor_.text())) return;
    const std::size_t start = editor_.selectionStart();
    const std::size_t end = start + editor_.selection().size();
    const auto behind =
        std::ranges::lower_bound(found_, forward ? std::max(end, start) : start, {}, &sql::TextRange::start);
    auto one = behind;
    if (forward) {
        if (one == found_.end()) one = found_.begin();
    } else {
        one = one == found_.begin() ? found_.end() - 1 : one - 1;
    }
    editor_.select(one->start, one->start + one->length);
    showCount();
}

void FindStrip::replaceOne() {
    const sql::TextRange here{editor_.selectionStart(), editor_.selection().size()};
    if (std::ranges::find(found_, here) == found_.end()) return goOn(true);
    const auto edits = work::replaceInText(editor_.selection(), query(), fromQt(replacement_->text()));
    if (!edits) return Q_EMIT remarked(toQt(edits.error()));
    const std::string text = sql::edited(editor_.selection(), *edits);
    editor_.apply({{here.start, here.length, text}});
    editor_.setCaret(here.start + text.size());
    // The next one is gone to as soon as it is known where it is now.
    inBackground(
        this, [text = editor_.text(), query = query()] { return work::findInText(text.str(), query, kMostFound); },
        [this](const Result<std::vector<sql::TextRange>>& found) {
            foundIn_ = editor_.text();
            show(found);
            goOn(true);
        });
}

void FindStrip::replaceAll() {
    std::optional<sql::TextRange> within;
    if (inSelection_->isChecked()) within = {editor_.selectionStart(), editor_.selection().size()};
    inBackground(
        this,
        [text = editor_.text(), query = query(), with = fromQt(replacement_->text()), within] {
            return std::pair(text, work::replaceInText(text.str(), query, with, within));
        },
        [this](const std::pair<base::SharedText, Result<std::vector<sql::TextEdit>>>& done) {
            if (!done.second) return Q_EMIT remarked(toQt(done.second.error()));
            if (!done.first.isCopyOf(editor_.text())) return Q_EMIT remarked(tr("The text was changed meanwhile."));
            editor_.apply(*done.second);
            const auto count = static_cast<int>(done.second->size());
            Q_EMIT remarked(count == 0 ? tr("Nothing was replaced.")
                                       : tr("%1 replaced; one step takes all back.").arg(count));
        });
}

void FindStrip::close() {
    hide();
    found_.clear();
    editor_.markFound({});
    editor_.setFocus();
}

void FindStrip::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) return close();
    QFrame::keyPressEvent(event);
}

bool FindStrip::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() != QEvent::KeyPress) return QFrame::eventFilter(watched, event);
    const auto* key = static_cast<QKeyEvent*>(event);
    const bool isReturn = key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter;
    if (key->key() == Qt::Key_Escape) {
        close();
        return true;
    }
    if (isReturn && key->modifiers() != Qt::ControlModifier) {
        if (watched == replacement_) {
            replaceOne();
        } else {
            goOn(!key->modifiers().testFlag(Qt::ShiftModifier));
        }
        return true;
    }
    return QFrame::eventFilter(watched, event);
}

}  // namespace pantry::app

#include "moc_find_strip.cpp"
