#include "app/look/tick_list.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPainter>
#include <QScreen>
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

constexpr int kTickRow = 26;
constexpr int kMaxTickRows = 14;
constexpr int kDetail = Qt::UserRole;

/// The tick and the name as lists have them, the detail quiet at the right.
class TickDelegate : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override {
        return {100, Theme::px(kTickRow)};
    }
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        QStyledItemDelegate::paint(painter, option, index);
        painter->setFont(option.font);
        painter->setPen(Theme::current().colour("quiet"));
        painter->drawText(option.rect.adjusted(0, 0, -10, 0), Qt::AlignVCenter | Qt::AlignRight,
                          index.data(kDetail).toString());
    }
};

}  // namespace

TickList::TickList(const std::vector<Choice>& choices, const QString& what, const QString& verb,
                   std::function<void(std::vector<std::size_t>)> taken, QWidget* parent)
    : QFrame(parent, Qt::Popup),
      taken_(std::move(taken)),
      verb_(verb),
      find_(new QLineEdit(this)),
      list_(new QListWidget(this)),
      take_(makeButton({}, "main", objectName::kTickTake, verb, this)) {
    setAttribute(Qt::WA_DeleteOnClose);
    setProperty("look", "float");
    name(this, objectName::kTickList, what);
    name(find_, objectName::kTickFind, tr("Find: %1").arg(what));
    name(list_, objectName::kTickChoices, what);
    find_->setPlaceholderText(tr("Find; Space ticks and unticks"));
    find_->setProperty("look", "find");
    list_->setItemDelegate(new TickDelegate(list_));
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    for (const Choice& choice : choices) {
        auto* item = new QListWidgetItem(choice.text, list_);
        item->setData(kDetail, choice.detail);
        item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
        item->setCheckState(Qt::Checked);
    }
    auto* all = makeButton(tr("All"), "plain", "tickAll", tr("Tick all that are shown"), this);
    auto* none = makeButton(tr("None"), "plain", "tickNone", tr("Untick all that are shown"), this);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(all);
    buttons->addWidget(none);
    buttons->addStretch();
    buttons->addWidget(take_);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(10, 10, 10, 8);
    layout->setSpacing(6);
    layout->addWidget(find_);
    layout->addWidget(list_);
    layout->addLayout(buttons);
    for (QWidget* one : std::initializer_list<QWidget*>{find_, list_}) one->installEventFilter(this);
    connect(find_, &QLineEdit::textChanged, this, &TickList::narrow);
    connect(list_, &QListWidget::itemChanged, this, &TickList::noteTicks);
    connect(all, &QPushButton::clicked, this, [this] { tickAll(true); });
    connect(none, &QPushButton::clicked, this, [this] { tickAll(false); });
    connect(take_, &QPushButton::clicked, this, &TickList::take);
    const int rows = std::clamp<int>(list_->count(), 1, kMaxTickRows);
    list_->setFixedHeight(rows * Theme::px(kTickRow) + 6);
    setFixedWidth(Theme::px(340));
    noteTicks();
}

void TickList::openAt(const QPoint& global) {
    adjustSize();
    const QRect screen = this->screen()->availableGeometry();
    move(std::min(global.x(), screen.right() - width()), std::min(global.y(), screen.bottom() - height()));
    list_->setCurrentRow(0);
    show();
    find_->setFocus();
}

void TickList::narrow() {
    const std::string wanted = fromQt(find_->text().trimmed());
    QListWidgetItem* first = nullptr;
    for (int i = 0; i < list_->count(); ++i) {
        QListWidgetItem* item = list_->item(i);
        item->setHidden(!wanted.empty() && !base::fuzzyScore(wanted, fromQt(item->text())).has_value());
        if (!item->isHidden() && first == nullptr) first = item;
    }
    if (first != nullptr) list_->setCurrentItem(first);
}

void TickList::tickAll(bool isTicked) {
    for (int i = 0; i < list_->count(); ++i) {
        if (!list_->item(i)->isHidden()) list_->item(i)->setCheckState(isTicked ? Qt::Checked : Qt::Unchecked);
    }
    find_->setFocus();
}

void TickList::noteTicks() {
    int ticked = 0;
    for (int i = 0; i < list_->count(); ++i) ticked += list_->item(i)->checkState() == Qt::Checked ? 1 : 0;
    const bool isAll = ticked == list_->count();
    take_->setText(isAll ? tr("%1 all %2").arg(verb_).arg(ticked) : tr("%1 %2").arg(verb_).arg(ticked));
    take_->setEnabled(ticked > 0);
}

void TickList::take() {
    std::vector<std::size_t> places;
    for (int i = 0; i < list_->count(); ++i) {
        if (list_->item(i)->checkState() == Qt::Checked) places.push_back(static_cast<std::size_t>(i));
    }
    if (places.empty()) return;
    const auto taken = taken_;
    close();
    taken(std::move(places));
}

bool TickList::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() != QEvent::KeyPress) return QFrame::eventFilter(watched, event);
    const auto* key = static_cast<QKeyEvent*>(event);
    if (key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter) {
        take();
        return true;
    }
    if (watched == find_ && stepInList(list_, key->key(), kMaxTickRows - 1)) return true;
    QListWidgetItem* item = list_->currentItem();
    if (watched == find_ && key->key() == Qt::Key_Space && item != nullptr && !item->isHidden()) {
        item->setCheckState(item->checkState() == Qt::Checked ? Qt::Unchecked : Qt::Checked);
        return true;
    }
    return QFrame::eventFilter(watched, event);
}

}  // namespace pantry::app

#include "moc_tick_list.cpp"
