#include "app/result/compare_panel.h"

#include <QHBoxLayout>
#include <QScrollArea>
#include <QVBoxLayout>

#include "app/base/background.h"
#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "app/result/result_names.h"
#include "core/base/text.h"
#include "core/work/result_change.h"

namespace pantry::app {
namespace {

constexpr int kCompareWidth = 312;
constexpr int kKeysHeight = 150;

QString namesOf(const std::vector<std::size_t>& columns, const std::vector<data::Column>& all) {
    QStringList names;
    for (const std::size_t column : columns) names += toQt(all[column].name);
    return names.join(QStringLiteral(", "));
}

/// Two runs of one sheet are told apart by their numbers, others by where they ran.
QString titleOf(const ResultSource& before, const ResultSource& after) {
    if (before.parent() == after.parent()) return ComparePanel::tr("%1 beside %2").arg(before.mark(), after.mark());
    return ComparePanel::tr("%1 beside %2").arg(before.place(), after.place());
}

}  // namespace

ComparePanel::ComparePanel(std::function<std::vector<ResultSource*>()> sources, QWidget* parent)
    : QFrame(parent),
      sources_(std::move(sources)),
      before_(new QComboBox(this)),
      after_(new QComboBox(this)),
      label_(makeLabel({}, "quiet", this)),
      keys_(new QListWidget(this)),
      sameRows_(new QCheckBox(tr("Show the rows that are the same too"), this)),
      start_(makeButton(tr("Compare"), "main", resultName::kCompareStart, tr("Compare the two results"), this)),
      stop_(makeButton(tr("Stop"), "", resultName::kCompareStop, tr("Stop comparing"), this)),
      progress_(new QProgressBar(this)),
      state_(makeLabel({}, "small", this)) {
    setProperty("look", "side");
    Theme::fit(this, [this] { setFixedWidth(Theme::px(kCompareWidth)); });
    name(this, resultName::kComparePanel, tr("Compare"));
    name(before_, resultName::kCompareBefore, tr("The result as it was"));
    name(after_, resultName::kCompareAfter, tr("The result as it is"));
    name(keys_, resultName::kCompareKeys, tr("Columns that match rows"));
    name(sameRows_, "compareSameRows", tr("Show the rows that are the same too"));
    name(state_, resultName::kCompareState, tr("State of the comparison"));
    label_->setWordWrap(true);
    state_->setWordWrap(true);
    Theme::fit(this, [this] { keys_->setFixedHeight(Theme::px(kKeysHeight)); });
    keys_->setToolTip(
        tr("Rows with the same values here are compared. With none ticked, the first row is compared with "
           "the first, the second with the second."));
    progress_->setTextVisible(false);
    for (QComboBox* box : {before_, after_}) {
        box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        box->setMinimumContentsLength(8);
        connect(box, &QComboBox::activated, this, &ComparePanel::noteCards);
    }
    auto* close = makeButton(QStringLiteral("✕"), "plain", resultName::kCompareClose, tr("Close the panel"), this);
    auto* turn = makeButton(tr("Swap"), "plain", "compareSwap", tr("The other way round"), this);
    auto* top = new QHBoxLayout;
    top->addWidget(makeLabel(tr("Compare"), "bigHeading"));
    top->addStretch();
    top->addWidget(turn);
    top->addWidget(close);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(start_);
    buttons->addWidget(stop_);
    buttons->addStretch();
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(16, 8, 14, 12);
    layout->setSpacing(6);
    layout->addLayout(top);
    layout->addWidget(makeLabel(tr("Before"), "field"));
    layout->addWidget(before_);
    layout->addWidget(makeLabel(tr("After"), "field"));
    layout->addWidget(after_);
    layout->addWidget(label_);
    layout->addWidget(makeLabel(tr("Match rows by"), "field"));
    layout->addWidget(keys_);
    layout->addWidget(sameRows_);
    layout->addLayout(buttons);
    layout->addWidget(progress_);
    layout->addWidget(state_);
    layout->addStretch();
    connect(close, &QPushButton::clicked, this, &ComparePanel::closeRequested);
    connect(turn, &QPushButton::clicked, this, &ComparePanel::swap);
    connect(start_, &QPushButton::clicked, this, &ComparePanel::start);
    connect(stop_, &QPushButton::clicked, this, &ComparePanel::stop);
    hide();
}

ComparePanel::~ComparePanel() {
    proposal_.request();
    stop();
}

void ComparePanel::open(ResultSource* source, const std::vector<std::size_t>& primaryKey) {
    if (!isRunning_) {
        keyed_ = source;
        primaryKey_ = primaryKey;
        state_->clear();
        offerSources(source);
        noteCards();
    }
    refresh();
    show();
    before_->setFocus();
}

/// The one before this one is what most people mean.
void ComparePanel::offerSources(ResultSource* after) {
    offered_.clear();
    for (ResultSource* source : sources_()) offered_.emplace_back(source);
    before_->clear();
    after_->clear();
    int current = -1;
    int earlier = -1;
    for (int i = 0; i < static_cast<int>(offered_.size()); ++i) {
        const ResultSource* one = offered_[static_cast<std::size_t>(i)];
        const QString text =
            tr("%1  %2, %3 · %4").arg(one->mark(), one->title(), countedRows(one->rowCount()), one->place());
        before_->addItem(text);
        after_->addItem(text);
        if (one == after) current = i;
        if (current < 0 && one->parent() == after->parent()) earlier = i;
    }
    if (earlier < 0 && offered_.size() > 1) earlier = current == 0 ? 1 : 0;
    after_->setCurrentIndex(current);
    before_->setCurrentIndex(earlier);
}

ResultSource* ComparePanel::sourceIn(const QComboBox* box) const {
    const int index = box->currentIndex();
    return index < 0 ? nullptr : offered_[static_cast<std::size_t>(index)].data();
}

void ComparePanel::swap() {
    const int index = before_->currentIndex();
    before_->setCurrentIndex(after_->currentIndex());
    after_->setCurrentIndex(index);
    noteCards();
}

void ComparePanel::noteCards() {
    keys_->clear();
    match_ = {};
    const ResultSource* before = sourceIn(before_);
    const ResultSource* after = sourceIn(after_);
    if (before != nullptr && after != nullptr && before != after && before->result() && after->result()) {
        match_ = data::matchColumns(before->result()->columns(), after->result()->columns());
        proposeKeys();
    }
    refresh();
}

/// The pairs that hold the primary key; empty unless all of it is in both results.
std::vector<std::size_t> ComparePanel::keysOfTable() const {
    const bool isAfter = sourceIn(after_) == keyed_;
    if (keyed_ == nullptr || (!isAfter && sourceIn(before_) != keyed_)) return {};
    std::vector<std::size_t> keys;
    for (std::size_t i = 0; i < match_.pairs.size(); ++i) {
        const std::size_t column = isAfter ? match_.pairs[i].after : match_.pairs[i].before;
        if (std::ranges::find(primaryKey_, column) != primaryKey_.end()) keys.push_back(i);
    }
    return keys.size() == primaryKey_.size() ? keys : std::vector<std::size_t>();
}

/// The primary key where it is known; else the first column that tells rows apart in both, which is looked for in the
/// background.
void ComparePanel::proposeKeys() {
    proposal_.request();
    if (const auto keys = keysOfTable(); !keys.empty()) return showKeys(keys);
    proposal_ = base::Cancellation();
    inBackground(
        base::Work::Long, this,
        [before = *sourceIn(before_)->view(), after = *sourceIn(after_)->view(), pairs = match_.pairs,
         cancellation = proposal_] { return data::proposedKeys(before, after, pairs, cancellation); },
        [this, cancellation = proposal_](const std::optional<std::vector<std::size_t>>& proposed) {
            if (proposed && !cancellation.isRequested()) showKeys(*proposed);
        });
}

void ComparePanel::showKeys(const std::vector<std::size_t>& proposed) {
    const ResultSource* before = sourceIn(before_);
    if (before == nullptr || !before->result()) return;
    keys_->clear();
    for (std::size_t i = 0; i < match_.pairs.size(); ++i) {
        auto* item = new QListWidgetItem(toQt(before->result()->columns()[match_.pairs[i].before].name), keys_);
        item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
        item->setCheckState(std::ranges::find(proposed, i) != proposed.end() ? Qt::Checked : Qt::Unchecked);
    }
    refresh();
}

std::vector<std::size_t> ComparePanel::keys() const {
    std::vector<std::size_t> keys;
    for (int i = 0; i < keys_->count(); ++i) {
        if (keys_->item(i)->checkState() == Qt::Checked) keys.push_back(static_cast<std::size_t>(i));
    }
    return keys;
}

QString ComparePanel::columnWords() const {
    const ResultSource* before = sourceIn(before_);
    const ResultSource* after = sourceIn(after_);
    if (offered_.size() < 2) return tr("There is only one result with rows. Run another statement first.");
    if (before == nullptr || after == nullptr || !before->result() || !after->result()) {
        return tr("A result is gone; choose another.");
    }
    if (before == after) return tr("That is one and the same result; choose another.");
    if (match_.pairs.empty()) return tr("No column of the one has the name of one of the other.");
    QString text =
        tr("%1 in both.")
            .arg(toQt(base::counted(static_cast<std::int64_t>(match_.pairs.size()), "column is", "columns are")));
    if (!match_.onlyBefore.empty()) {
        text += tr(" Only as it was: %1.").arg(namesOf(match_.onlyBefore, before->result()->columns()));
    }
    if (!match_.onlyAfter.empty()) {
        text += tr(" Only as it is: %1.").arg(namesOf(match_.onlyAfter, after->result()->columns()));
    }
    return text;
}

/// Nobody takes a part for the whole.
QString ComparePanel::partText() const {
    QString text;
    for (const QComboBox* box : {before_, after_}) {
        const ResultSource* source = sourceIn(box);
        if (source == nullptr || !source->result() || source->view() == nullptr) continue;
        const bool isNarrowed = source->view()->rowCount() != source->rowCount();
        if (source->hasMore()) {
            text +=
                tr(" Of result %1 only the first %2 are here.").arg(source->mark(), countedRows(source->rowCount()));
        } else if (isNarrowed) {
            text += tr(" Of result %1 the %2 go that its filter shows.")
                        .arg(source->mark(), countedRows(source->view()->rowCount()));
        }
    }
    return text;
}

void ComparePanel::refresh() {
    const bool canStart = !match_.pairs.empty() && !isRunning_;
    start_->setEnabled(canStart);
    stop_->setVisible(isRunning_);
    progress_->setVisible(isRunning_);
    for (QWidget* widget : {static_cast<QWidget*>(before_), static_cast<QWidget*>(after_), static_cast<QWidget*>(keys_),
                            static_cast<QWidget*>(sameRows_)}) {
        widget->setEnabled(!isRunning_);
    }
    label_->setText(columnWords() + partText());
}

void ComparePanel::start() {
    const ResultSource* before = sourceIn(before_);
    const ResultSource* after = sourceIn(after_);
    if (isRunning_ || match_.pairs.empty() || before == nullptr || after == nullptr || before->view() == nullptr ||
        after->view() == nullptr) {
        return refresh();
    }
    isRunning_ = true;
    cancellation_ = base::Cancellation();
    setLook(state_, "small");
    state_->setText(tr("Comparing…"));
    const std::size_t total = before->view()->rowCount() + after->view()->rowCount();
    progress_->setRange(0, static_cast<int>(std::min<std::size_t>(total, INT_MAX)));
    refresh();
    struct Outcome {
        std::optional<data::Comparison> comparison;
        data::ResultSetPtr rows;
    };
    inBackground(
        base::Work::Long, this,
        [request = data::ComparisonRequest{.columns = match_.pairs, .keys = keys()}, left = *before->view(),
         right = *after->view(), hasSame = sameRows_->isChecked(), cancellation = cancellation_,
         guard = QPointer<QObject>(this), this] {
            Outcome out;
            out.comparison = data::compareResults(left, right, request, cancellation, [&](std::size_t rows) {
                if (rows % (1 << 16) != 0) return;
                onWindowThread(guard, [this, rows] { progress_->setValue(static_cast<int>(rows)); });
            });
            if (out.comparison) {
                out.rows = data::differencesOf(*out.comparison, left, right, request, hasSame, cancellation);
            }
            return out;
        },
        [this](const Outcome& out) { finish(out.comparison, out.rows); });
}

void ComparePanel::stop() { cancellation_.request(); }

void ComparePanel::finish(const std::optional<data::Comparison>& comparison, const data::ResultSetPtr& rows) {
    isRunning_ = false;
    const ResultSource* before = sourceIn(before_);
    const ResultSource* after = sourceIn(after_);
    if (!comparison || !rows) {
        state_->setText(tr("Stopped."));
    } else if (before == nullptr || after == nullptr || !before->result()) {
        state_->setText(tr("A result is gone; choose another."));
    } else {
        QString text = toQt(work::differenceText(*comparison, match_.pairs, before->result()->columns()));
        Q_EMIT compared(titleOf(*before, *after), rows, text);
        text[0] = text[0].toUpper();
        if (comparison->repeatedKeys > 0) {
            text += tr(". %1 share their key with an earlier one; such are compared in their order")
                        .arg(countedRows(comparison->repeatedKeys));
        }
        setLook(state_, "good");
        state_->setText(text + QLatin1Char('.'));
    }
    refresh();
}

}  // namespace pantry::app

#include "moc_compare_panel.cpp"
