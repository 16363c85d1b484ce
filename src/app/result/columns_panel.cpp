#include "app/result/columns_panel.h"

#include <QCoreApplication>
#include <QKeyEvent>
#include <QScreen>
#include <QVBoxLayout>
#include <utility>

#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "app/result/result_names.h"
#include "core/base/fuzzy.h"

namespace pantry::app {

ColumnsPanel::ColumnsPanel(QWidget* parent)
    : QFrame(parent, Qt::Popup), find_(new QLineEdit(this)), list_(new QListWidget(this)) {
    name(this, resultName::kColumnsPanel, tr("Columns of this result"));
    name(find_, resultName::kColumnsFind, tr("Find a column by name"));
    name(list_, resultName::kColumnsList, tr("Columns: tick to show"));
    setProperty("look", "card");
    Theme::fit(this, [this] { setFixedSize(Theme::px(280), Theme::px(360)); });
    find_->setPlaceholderText(tr("Go to a column…  ↵"));
    find_->setProperty("look", "find");
    auto* all = makeButton(tr("Show all"), "plain", "columnsShowAll", tr("Show every column"), this);
    auto* none = makeButton(tr("Untick all"), "plain", "columnsUntickAll", tr("Then tick the columns to show"), this);
    none->setToolTip(tr("Then tick the columns to show; all others are hidden with the first tick"));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(10, 10, 10, 8);
    layout->setSpacing(6);
    layout->addWidget(find_);
    layout->addWidget(list_, 1);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(all);
    buttons->addWidget(none);
    buttons->addStretch();
    layout->addLayout(buttons);
    find_->installEventFilter(this);
    list_->installEventFilter(this);
    connect(find_, &QLineEdit::textChanged, this, &ColumnsPanel::narrow);
    connect(list_, &QListWidget::itemActivated, this, &ColumnsPanel::choose);
    connect(list_, &QListWidget::itemChanged, this, &ColumnsPanel::noteTick);
    connect(none, &QPushButton::clicked, this, &ColumnsPanel::untickAll);
    connect(all, &QPushButton::clicked, this, [this] {
        hide();
        Q_EMIT allShown();
    });
}

/// Without a column there is no grid: the columns stay until the first one is ticked.
void ColumnsPanel::untickAll() {
    const QSignalBlocker blocker(list_);
    for (int i = 0; i < list_->count(); ++i) list_->item(i)->setCheckState(Qt::Unchecked);
    isFreshStart_ = true;
    list_->setFocus();
}

void ColumnsPanel::noteTick(const QListWidgetItem* item) {
    const int column = item->data(Qt::UserRole).toInt();
    if (std::exchange(isFreshStart_, false)) return Q_EMIT onlyShown(column);
    Q_EMIT columnShown(column, item->checkState() == Qt::Checked);
}

void ColumnsPanel::open(const std::vector<std::pair<int, bool>>& shown, const QStringList& names, const QPoint& at) {
    const QSignalBlocker blocker(list_);
    list_->clear();
    find_->clear();
    isFreshStart_ = false;
    for (const auto& [column, isShown] : shown) {
        auto* item = new QListWidgetItem(names[column], list_);
        item->setData(Qt::UserRole, column);
        item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
        item->setCheckState(isShown ? Qt::Checked : Qt::Unchecked);
    }
    if (list_->count() > 0) list_->setCurrentRow(0);
    const QRect screen = this->screen()->availableGeometry();
    move(std::min(at.x(), screen.right() - width()), std::min(at.y(), screen.bottom() - height()));
    show();
    find_->setFocus();
}

void ColumnsPanel::narrow() {
    const std::string wanted = fromQt(find_->text());
    QListWidgetItem* best = nullptr;
    for (int i = 0; i < list_->count(); ++i) {
        QListWidgetItem* item = list_->item(i);
        const bool fits = wanted.empty() || base::fuzzyScore(wanted, fromQt(item->text())).has_value();
        item->setHidden(!fits);
        const bool isExact = item->text().compare(find_->text(), Qt::CaseInsensitive) == 0;
        if (fits && (best == nullptr || isExact)) best = item;
    }
    if (best != nullptr) list_->setCurrentItem(best);
}

void ColumnsPanel::choose() {
    const QListWidgetItem* item = list_->currentItem();
    if (item == nullptr || item->isHidden()) return;
    hide();
    Q_EMIT columnChosen(item->data(Qt::UserRole).toInt());
}

bool ColumnsPanel::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() != QEvent::KeyPress) return QFrame::eventFilter(watched, event);
    const auto* key = static_cast<QKeyEvent*>(event);
    const bool isReturn = key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter;
    if (isReturn) {
        choose();
        return true;
    }
    if (watched == find_ && (key->key() == Qt::Key_Down || key->key() == Qt::Key_Up)) {
        list_->setFocus();
        QCoreApplication::sendEvent(list_, event);
        return true;
    }
    return QFrame::eventFilter(watched, event);
}

}  // namespace pantry::app

#include "moc_columns_panel.cpp"
