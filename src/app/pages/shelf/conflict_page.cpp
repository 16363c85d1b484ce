#include "app/pages/shelf/conflict_page.h"

#include <QHBoxLayout>
#include <QVBoxLayout>
#include <algorithm>

#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/base/text.h"
#include "core/shelf/text_difference.h"

namespace pantry::app {
namespace {

constexpr int kFilesWidth = 230;

}  // namespace

ConflictPage::ConflictPage(ShelfVerbs& verbs, std::string shelf, std::vector<shelf::Conflict> conflicts,
                           QWidget* parent)
    : Page(parent),
      verbs_(verbs),
      shelf_(std::move(shelf)),
      conflicts_(std::move(conflicts)),
      choices_(conflicts_.size(), Choice::None),
      own_(conflicts_.size()),
      files_(new QListWidget),
      what_(makeLabel({}, "quiet")),
      difference_(new DifferenceView),
      text_(new QPlainTextEdit),
      finish_(
          makeButton(tr("Bring both together"), "main", "conflictFinish", tr("Make a version of what was chosen"))) {
    name(this, "conflictPage", tr("Changed here and there"));
    name(files_, "conflictFiles", tr("Queries that were changed here and there"));
    name(text_, "conflictText", tr("A text of both"));
    what_->setObjectName(QStringLiteral("conflictWhat"));
    text_->setProperty("look", "code");
    text_->setMaximumHeight(Theme::px(180));
    files_->setFixedWidth(Theme::px(kFilesWidth));
    files_->setFrameShape(QFrame::NoFrame);
    for (const shelf::Conflict& one : conflicts_) new QListWidgetItem(toQt(one.path), files_);
    auto* sides = new QHBoxLayout;
    sides->addWidget(makeLabel(tr("Here"), "heading"), 1);
    sides->addWidget(makeLabel(tr("There"), "heading"), 1);
    auto* right = new QVBoxLayout;
    right->setContentsMargins(14, 12, 14, 12);
    right->setSpacing(8);
    right->addWidget(what_);
    right->addLayout(sides);
    right->addWidget(difference_, 1);
    right->addWidget(makeVerbs());
    right->addWidget(text_);
    auto* left = new QVBoxLayout;
    left->setContentsMargins(12, 12, 12, 12);
    left->addWidget(makeLabel(tr("Both changed"), "heading"));
    left->addWidget(files_, 1);
    left->addWidget(finish_);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addLayout(left);
    layout->addLayout(right, 1);
    connect(files_, &QListWidget::currentRowChanged, this, &ConflictPage::showFile);
    connect(finish_, &QPushButton::clicked, this, &ConflictPage::finish);
    connect(text_, &QPlainTextEdit::textChanged, this, [this] {
        if (files_->currentRow() >= 0 && choices_[row()] == Choice::Own) own_[row()] = text_->toPlainText();
    });
    files_->setCurrentRow(0);
}

QWidget* ConflictPage::makeVerbs() {
    ours_ = makeButton(tr("Use this one"), "segment", "conflictOurs", tr("Use the text of this shelf"));
    theirs_ = makeButton(tr("Use the remote’s"), "segment", "conflictTheirs", tr("Use the text of the remote"));
    both_ = makeButton(tr("Edit by hand"), "segmentLast", "conflictBoth", tr("Write the merged text by hand"));
    auto* box = new QWidget;
    auto* layout = new QHBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    for (QPushButton* one : {ours_, theirs_, both_}) {
        one->setCheckable(true);
        layout->addWidget(one);
    }
    layout->addStretch();
    connect(ours_, &QPushButton::clicked, this, [this] { choose(Choice::Ours); });
    connect(theirs_, &QPushButton::clicked, this, [this] { choose(Choice::Theirs); });
    connect(both_, &QPushButton::clicked, this, [this] { choose(Choice::Own); });
    return box;
}

QIcon ConflictPage::icon() const { return markIcon(Theme::current().colour("fillMarigold")); }

void ConflictPage::enter() { files_->setFocus(); }

void ConflictPage::showFile(int row) {
    if (row < 0) return;
    const shelf::Conflict& one = conflicts_[static_cast<std::size_t>(row)];
    what_->setText(!one.ours     ? tr("Removed here, changed there.")
                   : !one.theirs ? tr("Changed here, removed there.")
                                 : tr("Changed here and there."));
    difference_->show(shelf::differenceOf(one.ours.value_or(""), one.theirs.value_or("")), sql::Dialect::Ansi);
    refresh();
}

void ConflictPage::choose(Choice choice) {
    choices_[row()] = choice;
    const shelf::Conflict& one = conflicts_[row()];
    if (choice == Choice::Own && own_[row()].isNull()) own_[row()] = toQt(one.ours.value_or(one.theirs.value_or("")));
    refresh();
    if (choice == Choice::Own) return text_->setFocus();
    // On to the next one that waits.
    const auto next = std::ranges::find(choices_, Choice::None);
    if (next != choices_.end()) files_->setCurrentRow(static_cast<int>(next - choices_.begin()));
}

void ConflictPage::refresh() {
    const Choice choice = choices_[row()];
    ours_->setChecked(choice == Choice::Ours);
    theirs_->setChecked(choice == Choice::Theirs);
    both_->setChecked(choice == Choice::Own);
    text_->setVisible(choice == Choice::Own);
    if (choice == Choice::Own && text_->toPlainText() != own_[row()]) text_->setPlainText(own_[row()]);
    const std::array labels{QString(), tr("here"), tr("there"), tr("both")};
    for (int r = 0; r < files_->count(); ++r) {
        const auto i = static_cast<std::size_t>(r);
        const QString& chosen = labels[static_cast<std::size_t>(choices_[i])];
        files_->item(r)->setText(toQt(conflicts_[i].path) +
                                 (chosen.isEmpty() ? QString() : QStringLiteral(" · ") + chosen));
    }
    const auto open = std::ranges::count(choices_, Choice::None);
    finish_->setEnabled(open == 0);
    finish_->setToolTip(open == 0 ? QString() : tr("%1 to be chosen yet").arg(open));
}

void ConflictPage::finish() {
    shelf::Resolutions chosen;
    for (std::size_t i = 0; i < conflicts_.size(); ++i) {
        const shelf::Conflict& one = conflicts_[i];
        std::optional<std::string> text = choices_[i] == Choice::Ours ? one.ours : one.theirs;
        if (choices_[i] == Choice::Own) {
            text = fromQt(own_[i]);
            if (!text->empty() && !text->ends_with('\n')) *text += '\n';
        }
        chosen.emplace(one.path, std::move(text));
    }
    verbs_.pull(shelf_, chosen);
    Q_EMIT finished();
}

}  // namespace pantry::app

#include "moc_conflict_page.cpp"
