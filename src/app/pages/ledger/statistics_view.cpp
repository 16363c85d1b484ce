#include "app/pages/ledger/statistics_view.h"

#include <QHBoxLayout>
#include <QPainter>
#include <QPushButton>
#include <algorithm>

#include "app/base/background.h"
#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/base/text.h"

namespace pantry::app {
namespace {

/// Bars with a word below every few of them; the part that failed is the lower one, and told in the description.
class Bars : public QWidget {
public:
    struct Bar {
        QString label;
        std::int64_t runs = 0;
        std::int64_t failed = 0;
    };
    Bars(std::vector<Bar> bars, std::size_t labelEvery, QWidget* parent)
        : QWidget(parent), bars_(std::move(bars)), labelEvery_(labelEvery) {
        setFixedHeight(Theme::px(86));
        QStringList parts;
        for (const Bar& one : bars_) {
            if (one.runs > 0) parts << QObject::tr("%1: %2, %3 failed").arg(one.label).arg(one.runs).arg(one.failed);
        }
        setAccessibleDescription(parts.join(QStringLiteral(", ")));
    }

protected:
    void paintEvent(QPaintEvent*) override {
        if (bars_.empty()) return;
        const Theme& theme = Theme::current();
        QPainter painter(this);
        QFont small = font();
        small.setPixelSize(Theme::px(11));
        painter.setFont(small);
        const int foot = QFontMetrics(small).height() + 4;
        const int tall = height() - foot - 2;
        const auto most = std::ranges::max_element(bars_, {}, &Bar::runs)->runs;
        constexpr double kWidest = 30;
        const double step = std::min(kWidest, static_cast<double>(width()) / static_cast<double>(bars_.size()));
        const auto heightOf = [&](std::int64_t count) {
            const double share = static_cast<double>(count) / static_cast<double>(std::max<std::int64_t>(1, most));
            return count == 0 ? 0 : std::max(2, static_cast<int>(share * tall));
        };
        for (std::size_t i = 0; i < bars_.size(); ++i) {
            const int left = static_cast<int>(static_cast<double>(i) * step);
            const int wide = std::max(1, static_cast<int>(step) - 2);
            const int high = heightOf(bars_[i].runs);
            painter.fillRect(QRect(left, tall - high, wide, high), theme.colour("bar"));
            const int bad = heightOf(bars_[i].failed);
            painter.fillRect(QRect(left, tall - bad, wide, bad), theme.colour("fillTomato"));
            if (i % labelEvery_ != 0) continue;
            painter.setPen(theme.colour("quiet"));
            painter.drawText(QPoint(left, height() - 4), bars_[i].label);
        }
        painter.setPen(theme.colour("line"));
        painter.drawLine(0, tall, width(), tall);
    }

private:
    std::vector<Bar> bars_;
    std::size_t labelEvery_;
};

}  // namespace

StatisticsView::StatisticsView(Desk& desk, QWidget* parent)
    : QWidget(parent),
      desk_(desk),
      period_(new QComboBox(this)),
      state_(makeLabel({}, "quiet", this)),
      content_(new QVBoxLayout) {
    name(this, "ledgerStatistics", tr("What all runs say together"));
    name(period_, "statisticsPeriod", tr("Runs of which time"));
    state_->setObjectName(QStringLiteral("statisticsState"));
    period_->addItem(tr("of the last 7 days"), 7);
    period_->addItem(tr("of the last 30 days"), 30);
    period_->addItem(tr("of the last year"), 365);
    period_->addItem(tr("of all time"), 0);
    period_->setCurrentIndex(1);
    auto* top = new QHBoxLayout;
    top->addWidget(makeLabel(tr("Runs"), "bigHeading", this));
    top->addWidget(period_);
    top->addStretch();
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(16, 14, 16, 14);
    layout->setSpacing(10);
    layout->addLayout(top);
    layout->addWidget(state_);
    layout->addLayout(content_);
    layout->addStretch();
    content_->setSpacing(4);
    connect(period_, &QComboBox::currentIndexChanged, this, &StatisticsView::count);
    connect(&Theme::current(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

void StatisticsView::show(std::vector<std::string> connections) {
    connections_ = std::move(connections);
    count();
}

void StatisticsView::count() {
    state_->setText(tr("Counting…"));
    const int days = period_->currentData().toInt();
    const base::Moment since = days == 0 ? base::Moment{} : base::now() - std::chrono::days(days);
    desk_.ledger().readStatistics(
        connections_, since, whileThere(this, [this, asked = ++asked_](const Result<store::LedgerStatistics>& counted) {
            if (asked != asked_) return;
            counted_.reset();
            if (!counted) return state_->setText(toQt(counted.error()));
            counted_ = *counted;
            refresh();
        }));
}

template <class Tell>
void StatisticsView::addList(const QString& heading, const std::vector<store::RunCount>& counts, Tell tell) {
    if (counts.empty()) return;
    auto* title = makeLabel(heading, "section", this);
    title->setContentsMargins(0, 10, 0, 0);
    content_->addWidget(title);
    for (const store::RunCount& one : counts) {
        const QString statement = toQt(base::oneLine(one.last.start.statement, 200));
        auto* link = makeButton({}, "plainLeft", "statisticsRun", tr("Show the runs of: %1").arg(statement), this);
        link->setToolTip(toQt(std::string_view(one.last.start.statement).substr(0, 1500)));
        const QFontMetrics metrics(link->font());
        link->setText(metrics.elidedText(statement, Qt::ElideRight, Theme::px(330)));
        link->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
        connect(link, &QPushButton::clicked, this, [this, last = one.last] { Q_EMIT runChosen(last); });
        auto* row = new QHBoxLayout;
        row->addWidget(link, 1);
        row->addWidget(makeLabel(tell(one), "quiet", this));
        content_->addLayout(row);
    }
}

void StatisticsView::refresh() {
    clearLayout(content_);
    const store::LedgerStatistics& all = *counted_;
    state_->setText(
        tr("%1, %2 failed").arg(toQt(base::counted(all.runs, "run", "runs")), toQt(base::grouped(all.failed))));
    if (all.runs == 0) return;
    content_->addWidget(makeLabel(tr("By day"), "section", this));
    std::vector<Bars::Bar> days;
    for (const auto& day : all.days) days.push_back({toQt(day.date.substr(5)), day.runs, day.failed});
    const std::size_t dayCount = days.size();
    content_->addWidget(new Bars(std::move(days), std::max<std::size_t>(1, dayCount / 5), this));
    content_->addWidget(makeLabel(tr("By hour"), "section", this));
    std::vector<Bars::Bar> hours;
    for (std::size_t hour = 0; hour < all.byHour.size(); ++hour)
        hours.push_back({QStringLiteral("%1:00").arg(hour, 2, 10, QLatin1Char('0')), all.byHour.at(hour), 0});
    content_->addWidget(new Bars(std::move(hours), 4, this));
    addList(tr("Run most often"), all.most,
            [](const store::RunCount& one) { return toQt(base::counted(one.runs, "run", "runs")); });
    addList(tr("Took longest in all"), all.longest,
            [](const store::RunCount& one) { return toQt(base::readable(one.total)); });
    addList(tr("Failed most often"), all.failing, [](const store::RunCount& one) {
        return tr("%1 of %2").arg(toQt(base::grouped(one.failed)), toQt(base::counted(one.runs, "run", "runs")));
    });
    addList(tr("Got slower"), all.slower, [](const store::RunCount& one) {
        return tr("%1 times since %2").arg(one.times, 0, 'f', 1).arg(toQt(base::localDate(one.since)));
    });
}

}  // namespace pantry::app

#include "moc_statistics_view.cpp"
