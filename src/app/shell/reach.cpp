#include "app/shell/reach.h"

#include <QKeyEvent>
#include <QPainter>
#include <QStyledItemDelegate>
#include <QVBoxLayout>
#include <algorithm>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/base/fuzzy.h"

namespace pantry::app {
namespace {

enum Role { KindRole = Qt::UserRole, DetailRole };
constexpr int kRowHeight = 30;
constexpr int kMostRows = 12;
constexpr int kWidth = 620;

class RowDelegate : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override {
        return {100, Theme::px(kRowHeight)};
    }
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        const Theme& theme = Theme::current();
        painter->save();
        painter->setRenderHint(QPainter::Antialiasing);
        if (option.state.testFlag(QStyle::State_Selected)) {
            painter->setPen(Qt::NoPen);
            painter->setBrush(theme.colour("selection"));
            painter->drawRoundedRect(option.rect.adjusted(6, 1, -6, -1), 5, 5);
        }
        const QRect area = option.rect.adjusted(16, 0, -16, 0);
        QFont small = option.font;
        small.setPixelSize(Theme::px(12));
        painter->setFont(small);
        painter->setPen(theme.colour("quiet"));
        painter->drawText(QRect(area.left(), area.top(), Theme::px(62), area.height()), Qt::AlignVCenter,
                          index.data(KindRole).toString());
        const QString detail =
            QFontMetrics(small).elidedText(index.data(DetailRole).toString(), Qt::ElideRight, Theme::px(200));
        painter->drawText(area, Qt::AlignVCenter | Qt::AlignRight, detail);
        QFont font = option.font;
        font.setPixelSize(Theme::px(13));
        painter->setFont(font);
        painter->setPen(theme.colour("ink"));
        const QRect title = area.adjusted(Theme::px(66), 0, -QFontMetrics(small).horizontalAdvance(detail) - 12, 0);
        painter->drawText(title, Qt::AlignVCenter,
                          QFontMetrics(font).elidedText(index.data().toString(), Qt::ElideRight, title.width()));
        painter->restore();
    }
};

}  // namespace

Reach::Reach(QWidget* parent) : QFrame(parent), input_(new QLineEdit(this)), list_(new QListWidget(this)) {
    setProperty("look", "float");
    name(this, objectName::kReach, tr("Reach"));
    name(input_, objectName::kReachInput, tr("Reach for a table, sheet, run, action or setting"));
    name(list_, objectName::kReachList, tr("What fits"));
    input_->setProperty("look", "big");
    input_->setPlaceholderText(tr("Reach for a table, sheet, run, action or setting…"));
    input_->installEventFilter(this);
    list_->setItemDelegate(new RowDelegate(list_));
    list_->setFocusPolicy(Qt::NoFocus);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(1, 1, 1, 6);
    layout->setSpacing(2);
    layout->addWidget(input_);
    layout->addWidget(makeFrame("rule"));
    layout->addWidget(list_);
    connect(input_, &QLineEdit::textChanged, this, [this](const QString& text) {
        late_.clear();
        fill();
        Q_EMIT textChanged(text);
    });
    connect(list_, &QListWidget::itemClicked, this, &Reach::take);
    hide();
}

void Reach::open(std::vector<Reachable> everything) {
    everything_ = std::move(everything);
    late_.clear();
    input_->clear();
    fill();
    show();
    raise();
    input_->setFocus();
    Q_EMIT textChanged({});
}

void Reach::add(const QString& forText, std::vector<Reachable> found) {
    if (!isVisible() || forText != input_->text()) return;
    late_ = std::move(found);
    fill();
}

void Reach::fill() {
    struct Hit {
        const Reachable* what;
        int score;
    };
    const std::string pattern = fromQt(input_->text().trimmed());
    std::vector<Hit> hits;
    for (const Reachable& r : everything_) {
        // What is named so comes before what is only meant by it.
        constexpr int kOnlyMeant = 40;
        if (const auto score = base::wordScore(pattern, fromQt(r.title))) {
            hits.push_back({&r, *score});
        } else if (const auto also = base::wordScore(pattern, fromQt(r.title + QLatin1Char(' ') + r.also))) {
            hits.push_back({&r, *also - kOnlyMeant});
        }
    }
    std::ranges::stable_sort(hits, std::ranges::greater{}, &Hit::score);
    for (const Reachable& r : late_) hits.push_back({&r, 0});
    list_->clear();
    shownActs_.clear();
    constexpr std::size_t kMostHits = 60;
    for (const Hit& hit : hits) {
        if (shownActs_.size() == kMostHits) break;
        auto* item = new QListWidgetItem(hit.what->title, list_);
        item->setData(KindRole, hit.what->kind);
        item->setData(DetailRole, hit.what->detail);
        shownActs_.push_back(hit.what->act);
    }
    if (hits.empty()) {
        auto* item = new QListWidgetItem(tr("Nothing here fits “%1”").arg(input_->text()), list_);
        item->setFlags(Qt::NoItemFlags);
    }
    list_->setCurrentRow(0);
    const int rows = std::clamp<int>(list_->count(), 1, kMostRows);
    list_->setFixedHeight(rows * Theme::px(kRowHeight) + 4);
    const int width = std::min(Theme::px(kWidth), parentWidget()->width() - 40);
    resize(width, rows * Theme::px(kRowHeight) + Theme::px(62));
    move((parentWidget()->width() - width) / 2, 56);
}

void Reach::take() {
    const int row = list_->currentRow();
    if (row < 0 || row >= static_cast<int>(shownActs_.size())) return;
    const auto act = shownActs_[static_cast<std::size_t>(row)];
    hide();
    act();
}

bool Reach::eventFilter(QObject* watched, QEvent* event) {
    if (watched == input_ && event->type() == QEvent::FocusOut && isVisible()) hide();
    if (watched != input_ || event->type() != QEvent::KeyPress) return QFrame::eventFilter(watched, event);
    const int key = static_cast<QKeyEvent*>(event)->key();
    if (stepInList(list_, key, kMostRows)) return true;
    switch (key) {
        case Qt::Key_Return:
        case Qt::Key_Enter: take(); return true;
        case Qt::Key_Escape:
            hide();
            parentWidget()->setFocus();
            return true;
        default: return false;
    }
}

}  // namespace pantry::app
