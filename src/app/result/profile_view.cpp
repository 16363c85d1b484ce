#include "app/result/profile_view.h"

#include "app/base/background.h"
#include "app/look/widgets.h"
#include "app/result/profile_card.h"
#include "app/result/result_names.h"

namespace pantry::app {
namespace {

constexpr int kCardWidth = 290;
constexpr std::size_t kMaxCards = 300;

}  // namespace

ProfileView::ProfileView(QWidget* parent) : QScrollArea(parent), body_(new QWidget), grid_(new QGridLayout(body_)) {
    name(this, resultName::kProfilePage, tr("What the columns are like"));
    body_->setObjectName(QStringLiteral("plainBox"));
    grid_->setContentsMargins(12, 8, 12, 12);
    grid_->setSpacing(10);
    setWidget(body_);
    setWidgetResizable(true);
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
}

void ProfileView::show(const data::ResultView& view, const std::vector<std::size_t>& columns) {
    view_ = view;
    columns_ = columns;
    if (columns_.size() > kMaxCards) columns_.resize(kMaxCards);
    cancellation_.request();
    cancellation_ = base::Cancellation();
    for (QWidget* card : cards_) card->deleteLater();
    cards_.clear();
    for (const std::size_t column : columns_) {
        auto* card = new ProfileCard(view.result()->columns()[column], column, body_);
        connect(card, &ProfileCard::conditionWanted, this, &ProfileView::conditionWanted);
        cards_.push_back(card);
    }
    place();
    workOut(0);
}

/// One after another, so that the first cards fill at once and stopping is quick.
void ProfileView::workOut(std::size_t number) {
    if (number >= columns_.size()) return;
    inBackground(
        base::Work::Long, this,
        [view = *view_, column = columns_[number], cancellation = cancellation_] {
            auto profile = data::profileColumn(view, column, cancellation);
            return cancellation.isRequested() ? std::nullopt : std::move(profile);
        },
        [this, number, cancellation = cancellation_](const std::optional<data::ColumnProfile>& profile) {
            if (!profile || cancellation.isRequested()) return;
            static_cast<ProfileCard*>(cards_[number])->setProfile(*profile);
            workOut(number + 1);
        });
}

void ProfileView::place() {
    const int columns = std::max(1, (viewport()->width() - 14) / kCardWidth);
    for (int i = 0; i < static_cast<int>(cards_.size()); ++i) {
        QWidget* card = cards_[static_cast<std::size_t>(i)];
        // All of one width, however long a value in one of them is.
        card->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
        grid_->addWidget(card, i / columns, i % columns);
    }
    for (int c = 0; c < grid_->columnCount(); ++c) grid_->setColumnStretch(c, c < columns ? 1 : 0);
}

void ProfileView::resizeEvent(QResizeEvent* event) {
    QScrollArea::resizeEvent(event);
    place();
}

}  // namespace pantry::app

#include "moc_profile_view.cpp"
