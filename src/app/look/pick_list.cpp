#include "app/look/pick_list.h"

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

constexpr int kRowHeight = 28;
constexpr int kMaxRows = 14;
constexpr int kWidth = 320;
constexpr int kDetailRole = Qt::UserRole;

class ChoiceDelegate : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override {
        return {100, Theme::px(kRowHeight)};
    }
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        const Theme& theme = Theme::current();
        if (option.state.testFlag(QStyle::State_Selected)) painter->fillRect(option.rect, theme.colour("selection"));
        QRect area = option.rect.adjusted(10, 0, -12, 0);
        const auto icon = index.data(Qt::DecorationRole).value<QIcon>();
        icon.paint(painter, QRect(area.left(), area.center().y() - 6, 12, 12));
        area.setLeft(area.left() + 22);
        painter->setFont(option.font);
        painter->setPen(theme.colour("quiet"));
        const QString detail = index.data(kDetailRole).toString();
        painter->drawText(area, Qt::AlignVCenter | Qt::AlignRight, detail);
        area.setRight(area.right() - option.fontMetrics.horizontalAdvance(detail) - 10);
        painter->setPen(theme.colour("ink"));
        painter->drawText(area, Qt::AlignVCenter,
                          option.fontMetrics.elidedText(index.data().toString(), Qt::ElideRight, area.width()));
    }
};

}  // namespace

PickList::PickList(std::vector<Choice> choices, const QString& what, QWidget* parent)
    : QFrame(parent, Qt::Popup),
      choices_(std::move(choices)),
      input_(new QLineEdit(this)),
      list_(new QListWidget(this)) {
    setAttribute(Qt::WA_DeleteOnClose);
    setProperty("look", "float");
    name(this, objectName::kPickList, what);
    name(input_, objectName::kPickInput, tr("Find: %1").arg(what));
    name(list_, objectName::kPickChoices, what);
    input_->setPlaceholderText(what + QStringLiteral("…"));
    input_->setProperty("look", "find");
    input_->installEventFilter(this);
    list_->setItemDelegate(new ChoiceDelegate(list_));
    list_->setFocusPolicy(Qt::NoFocus);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(8, 8, 8, 8);
    layout->setSpacing(6);
    layout->addWidget(input_);
    layout->addWidget(list_);
    connect(input_, &QLineEdit::textChanged, this, &PickList::fill);
    connect(list_, &QListWidget::itemClicked, this, &PickList::take);
    setFixedWidth(Theme::px(kWidth));
}

void PickList::openAt(const QPoint& global) {
    fill();
    const auto current = std::ranges::find_if(choices_, &Choice::isCurrent);
    if (current != choices_.end()) list_->setCurrentRow(static_cast<int>(current - choices_.begin()));
    adjustSize();
    move(global);
    show();
    input_->setFocus();
}

void PickList::fill() {
    struct Hit {
        std::size_t index;
        int score;
    };
    std::vector<Hit> hits;
    for (std::size_t i = 0; i < choices_.size(); ++i) {
        const std::string text = fromQt(choices_[i].text + QLatin1Char(' ') + choices_[i].detail);
        if (const auto score = base::wordScore(fromQt(input_->text().trimmed()), text)) hits.push_back({i, *score});
    }
    if (!input_->text().trimmed().isEmpty()) std::ranges::stable_sort(hits, std::ranges::greater{}, &Hit::score);
    list_->clear();
    shown_.clear();
    for (const Hit& hit : hits) {
        const Choice& choice = choices_[hit.index];
        auto* item = new QListWidgetItem(choice.icon, choice.text, list_);
        item->setData(kDetailRole, choice.detail);
        shown_.push_back(hit.index);
    }
    if (hits.empty()) {
        auto* item = new QListWidgetItem(tr("Nothing fits"), list_);
        item->setFlags(Qt::NoItemFlags);
    }
    list_->setCurrentRow(0);
    list_->setFixedHeight(std::clamp<int>(list_->count(), 1, kMaxRows) * Theme::px(kRowHeight) + 4);
}

void PickList::take() {
    const int row = list_->currentRow();
    if (row < 0 || row >= static_cast<int>(shown_.size())) return;
    const auto act = choices_[shown_[static_cast<std::size_t>(row)]].act;
    close();
    act();
}

bool PickList::eventFilter(QObject* watched, QEvent* event) {
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

void PickList::hideEvent(QHideEvent* event) {
    QFrame::hideEvent(event);
    if (parentWidget() != nullptr) parentWidget()->activateWindow();
}

}  // namespace pantry::app

#include "moc_pick_list.cpp"
