#include "app/shell/reach.h"

#include <QApplication>
#include <QKeyEvent>
#include <QPainter>
#include <QStyledItemDelegate>
#include <QVBoxLayout>
#include <algorithm>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"

namespace pantry::app {
namespace {

enum Role { KindRole = Qt::UserRole, DetailRole };
constexpr int kRowHeight = 30;
constexpr int kMaxRows = 12;
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
        search();
        Q_EMIT textChanged(text);
    });
    connect(list_, &QListWidget::itemClicked, this, &Reach::take);
    hide();
}

void Reach::open(Scope scope) {
    scope_ = std::move(scope);
    auto searched = std::make_shared<work::ReachScope>();
    for (auto [from, to] : {std::pair{&scope_.before, &searched->before}, {&scope_.behind, &searched->behind}}) {
        for (const Reachable& r : *from) to->push_back({fromQt(r.title), fromQt(r.also)});
    }
    searched->catalogs = scope_.catalogs;
    searched_ = std::move(searched);
    late_.clear();
    found_.clear();
    input_->clear();
    search();
    fill();
    if (!isVisible()) before_ = QApplication::focusWidget();
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

/// Looks for what fits the text; what is looked for in vain now is given up.
void Reach::search() {
    search_.request();
    search_ = base::Cancellation();
    isSearching_ = true;
    isTakeDue_ = false;
    inBackground(
        this,
        [pattern = fromQt(input_->text().trimmed()), scope = searched_, cancellation = search_] {
            constexpr std::size_t kMaxHits = 60;
            return work::reachFor(pattern, *scope, kMaxHits, cancellation);
        },
        [this, cancellation = search_](const std::optional<std::vector<work::ReachHit>>& hits) {
            if (hits && !cancellation.isRequested()) noteFound(*hits);
        });
}

void Reach::noteFound(const std::vector<work::ReachHit>& hits) {
    isSearching_ = false;
    found_.clear();
    for (const work::ReachHit& hit : hits) found_.push_back(reachableOf(hit));
    fill();
    if (std::exchange(isTakeDue_, false)) take();
}

Reachable Reach::reachableOf(const work::ReachHit& hit) const {
    switch (hit.part) {
        case work::ReachHit::Part::Before: return scope_.before[hit.index];
        case work::ReachHit::Part::Behind: return scope_.behind[hit.index];
        case work::ReachHit::Part::Relation: break;
    }
    return scope_.ofRelation(scope_.catalogs[hit.index], *hit.relation);
}

void Reach::fill() {
    list_->clear();
    shownActs_.clear();
    for (const std::vector<Reachable>* part : {&found_, &late_}) {
        for (const Reachable& r : *part) {
            auto* item = new QListWidgetItem(r.title, list_);
            item->setData(KindRole, r.kind);
            item->setData(DetailRole, r.detail);
            shownActs_.push_back(r.act);
        }
    }
    if (shownActs_.empty() && !isSearching_) {
        auto* item = new QListWidgetItem(tr("Nothing here fits “%1”").arg(input_->text()), list_);
        item->setFlags(Qt::NoItemFlags);
    }
    list_->setCurrentRow(0);
    const int rows = std::clamp<int>(list_->count(), 1, kMaxRows);
    list_->setFixedHeight(rows * Theme::px(kRowHeight) + 4);
    const int width = std::min(Theme::px(kWidth), parentWidget()->width() - 40);
    resize(width, rows * Theme::px(kRowHeight) + Theme::px(62));
    move((parentWidget()->width() - width) / 2, 56);
}

/// What was chosen, once the list is that of the text.
void Reach::take() {
    if (isSearching_) {
        isTakeDue_ = true;
        return;
    }
    const int row = list_->currentRow();
    if (row < 0 || row >= static_cast<int>(shownActs_.size())) return;
    const auto act = shownActs_[static_cast<std::size_t>(row)];
    close();
    act();
}

/// Whoever reaches for something goes on where they were, unless what they chose leads elsewhere.
void Reach::close() {
    hide();
    QWidget* back = before_ != nullptr && before_->isVisible() ? before_.data() : parentWidget();
    back->setFocus();
}

bool Reach::eventFilter(QObject* watched, QEvent* event) {
    if (watched == input_ && event->type() == QEvent::FocusOut && isVisible()) hide();
    if (watched != input_ || event->type() != QEvent::KeyPress) return QFrame::eventFilter(watched, event);
    const int key = static_cast<QKeyEvent*>(event)->key();
    if (stepInList(list_, key, kMaxRows)) return true;
    switch (key) {
        case Qt::Key_Return:
        case Qt::Key_Enter: take(); return true;
        case Qt::Key_Escape: close(); return true;
        default: return false;
    }
}

}  // namespace pantry::app
