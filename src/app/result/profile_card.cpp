#include "app/result/profile_card.h"

#include <QGridLayout>
#include <QPainter>
#include <algorithm>

#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/base/text.h"

namespace pantry::app {
namespace {

constexpr int kHistogramHeight = 46;
constexpr std::size_t kCommonShown = 6;

/// The bars of a distribution; those far out are marked.
class Histogram : public QWidget {
public:
    Histogram(std::vector<std::size_t> counts, QWidget* parent) : QWidget(parent), counts_(std::move(counts)) {
        setObjectName(QStringLiteral("plainBox"));
        setFixedHeight(kHistogramHeight);
        setAccessibleName(QObject::tr("Distribution"));
    }

protected:
    void paintEvent(QPaintEvent*) override {
        const Theme& theme = Theme::current();
        QPainter painter(this);
        const auto most = static_cast<double>(*std::ranges::max_element(counts_));
        const double step = static_cast<double>(width()) / static_cast<double>(counts_.size());
        for (std::size_t i = 0; i < counts_.size(); ++i) {
            if (counts_[i] == 0) continue;
            const double height = std::max(1.5, (this->height() - 2) * static_cast<double>(counts_[i]) / most);
            painter.fillRect(
                QRectF(step * static_cast<double>(i), this->height() - height - 1, std::max(1.0, step - 1), height),
                theme.colour("bar"));
        }
        painter.fillRect(QRectF(0, this->height() - 1, width(), 1), theme.colour("line"));
    }

private:
    std::vector<std::size_t> counts_;
};

QString counted(std::size_t number, const char* singular, const char* plural) {
    return toQt(base::counted(static_cast<std::int64_t>(number), singular, plural));
}
}  // namespace

ProfileCard::ProfileCard(const data::Column& column, std::size_t number, QWidget* parent)
    : QFrame(parent), column_(column), number_(number), layout_(new QVBoxLayout(this)) {
    setProperty("look", "card");
    setObjectName(QStringLiteral("profileCard%1").arg(number));
    setAccessibleName(tr("Profile of %1").arg(toQt(column.name)));
    layout_->setContentsMargins(12, 9, 12, 10);
    layout_->setSpacing(4);
    auto* heading = makeLabel(toQt(column.name), "heading", this);
    auto* row = new QHBoxLayout;
    row->addWidget(heading);
    row->addWidget(makeLabel(toQt(column.typeName), "small", this));
    row->addStretch();
    layout_->addLayout(row);
    layout_->addWidget(makeLabel(tr("counting…"), "small", this));
    layout_->addStretch();
}

void ProfileCard::setProfile(const data::ColumnProfile& profile) {
    while (layout_->count() > 1) {
        QLayoutItem* item = layout_->takeAt(1);
        if (item->widget() != nullptr) item->widget()->deleteLater();
        delete item;
    }
    QString text = counted(profile.rows, "row", "rows");
    if (profile.nulls > 0) {
        const double share = 100.0 * static_cast<double>(profile.nulls) / static_cast<double>(profile.rows);
        text += tr(" · %1 null (%2 %)").arg(grouped(profile.nulls)).arg(share, 0, 'f', share < 10 ? 1 : 0);
    }
    if (profile.empties > 0) text += tr(" · %1 empty").arg(grouped(profile.empties));
    text += profile.isDistinctEstimated ? tr(" · about %1 distinct").arg(grouped(profile.distinct))
                                        : tr(" · %1 distinct").arg(grouped(profile.distinct));
    auto* facts = makeLabel(text, "small", this);
    facts->setWordWrap(true);
    layout_->addWidget(facts);
    const bool hasShape = profile.histogram.size() > 1;
    if (hasShape) layout_->addWidget(new Histogram(profile.histogram, this));
    addFacts(profile);
    addFarOut(profile);
    const bool repeats = !profile.commonest.empty() && profile.commonest.front().count > 1;
    if (repeats && (!hasShape || profile.distinct <= kCommonShown)) addCommonest(profile);
    layout_->addStretch();
}

void ProfileCard::addFacts(const data::ColumnProfile& p) {
    std::vector<std::pair<QString, std::string>> facts;
    const auto add = [&](const QString& text, const std::string& value) {
        if (!value.empty()) facts.emplace_back(text, value);
    };
    add(tr("smallest"), base::oneLine(p.minimum, 60));
    add(tr("lower quartile"), p.lowerQuartile);
    add(tr("median"), p.median);
    add(tr("mean"), p.mean);
    add(tr("upper quartile"), p.upperQuartile);
    add(tr("largest"), base::oneLine(p.maximum, 60));
    add(tr("sum"), p.sum);
    add(tr("standard deviation"), p.deviation);
    if (p.longest > 0) {
        add(tr("length"),
            fromQt(tr("%1 to %2, %3 on average").arg(p.shortest).arg(p.longest).arg(p.meanLength, 0, 'f', 1)));
    }
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(10);
    grid->setVerticalSpacing(1);
    grid->setColumnStretch(1, 1);
    for (std::size_t i = 0; i < facts.size(); ++i) {
        const int row = static_cast<int>(i);
        grid->addWidget(makeLabel(facts[i].first, "small", this), row, 0);
        auto* value = makeLabel(toQt(facts[i].second), "code", this);
        value->setTextInteractionFlags(Qt::TextSelectableByMouse);
        grid->addWidget(value, row, 1);
    }
    auto* box = new QWidget(this);
    box->setObjectName(QStringLiteral("plainBox"));
    grid->setContentsMargins(0, 0, 0, 0);
    box->setLayout(grid);
    layout_->addWidget(box);
}

/// Each of the commonest values is a button that shows its rows.
void ProfileCard::addCommonest(const data::ColumnProfile& p) {
    for (std::size_t i = 0; i < std::min(p.commonest.size(), kCommonShown); ++i) {
        const auto& common = p.commonest[i];
        const QString text = common.text.empty() ? tr("(empty text)") : toQt(base::oneLine(common.text, 40));
        auto* button = makeButton(tr("%1   %2").arg(grouped(common.count), text), "plainLeft", "profileValue",
                                  tr("Show the rows with %1").arg(text), this);
        connect(button, &QPushButton::clicked, this, [this, value = common.text] {
            const data::Test test = value.empty() ? data::Test::IsEmpty : data::Test::OneOf;
            Q_EMIT conditionWanted({.column = number_, .test = test, .values = {value}});
        });
        layout_->addWidget(button);
    }
    if (p.isCommonestPartial) layout_->addWidget(makeLabel(tr("of the first 100 000 distinct ones"), "small", this));
}

void ProfileCard::addFarOut(const data::ColumnProfile& p) {
    if (p.farBelow + p.farAbove == 0) return;
    auto* button = makeButton(tr("%1 far from the rest").arg(grouped(p.farBelow + p.farAbove)), "plainLeft",
                              "profileFarOut", tr("Show the rows that lie far out"), this);
    button->setToolTip(tr("Below %1 or above %2: more than three times the distance of the quartiles beyond them")
                           .arg(toQt(p.lowerFence), toQt(p.upperFence)));
    connect(button, &QPushButton::clicked, this, [this, p] {
        Q_EMIT conditionWanted({.column = number_,
                                .test = data::Test::Between,
                                .isNegated = true,
                                .values = {p.lowerFence, p.upperFence}});
    });
    layout_->addWidget(button);
}

}  // namespace pantry::app

#include "moc_profile_card.cpp"
