#include "app/result/export_columns.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QVBoxLayout>

#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/base/text.h"

namespace pantry::app {
namespace {

constexpr int kListHeight = 150;

}  // namespace

ExportColumns::ExportColumns(QWidget* parent)
    : QWidget(parent),
      summary_(makeLabel({}, "field", this)),
      unfold_(makeButton(tr("Choose"), "plain", "exportColumnsUnfold", tr("Choose the columns that go"), this)),
      all_(makeButton(tr("All or none"), "plain", "exportColumnsAll", tr("Tick all columns, or none"), this)),
      list_(new QListWidget(this)) {
    setObjectName(QStringLiteral("plainBox"));
    name(summary_, "exportColumnsSummary", tr("How many columns go"));
    name(list_, "exportColumns", tr("Columns: tick those that go; drag, or Alt and an arrow, moves"));
    list_->setToolTip(tr("Tick the columns that go. Drag them, or press Alt and an arrow, to order them."));
    list_->setDragDropMode(QAbstractItemView::InternalMove);
    Theme::fit(this, [this] { list_->setFixedHeight(Theme::px(kListHeight)); });
    list_->installEventFilter(this);
    list_->hide();
    all_->hide();
    auto* top = new QHBoxLayout;
    top->setContentsMargins(0, 0, 0, 0);
    top->addWidget(summary_, 1);
    top->addWidget(all_);
    top->addWidget(unfold_);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(3);
    layout->addLayout(top);
    layout->addWidget(list_);
    connect(unfold_, &QPushButton::clicked, this, [this] {
        list_->setVisible(!list_->isVisibleTo(this));
        all_->setVisible(list_->isVisibleTo(this));
        unfold_->setText(list_->isVisibleTo(this) ? tr("Fold") : tr("Choose"));
        if (list_->isVisibleTo(this)) list_->setFocus();
    });
    connect(all_, &QPushButton::clicked, this, &ExportColumns::tickAll);
    connect(list_, &QListWidget::itemChanged, this, &ExportColumns::refresh);
    connect(list_->model(), &QAbstractItemModel::rowsMoved, this, &ExportColumns::refresh);
}

void ExportColumns::setColumns(const std::vector<std::pair<int, bool>>& columns, const QStringList& names) {
    {
        const QSignalBlocker blocker(list_);
        list_->clear();
        for (const auto& [column, goes] : columns) {
            auto* item = new QListWidgetItem(names[column], list_);
            item->setData(Qt::UserRole, column);
            item->setFlags((item->flags() | Qt::ItemIsUserCheckable | Qt::ItemIsDragEnabled) & ~Qt::ItemIsDropEnabled);
            item->setCheckState(goes ? Qt::Checked : Qt::Unchecked);
        }
        if (list_->count() > 0) list_->setCurrentRow(0);
    }
    refresh();
}

std::vector<std::size_t> ExportColumns::columns() const {
    std::vector<std::size_t> columns;
    for (int i = 0; i < list_->count(); ++i) {
        const QListWidgetItem* item = list_->item(i);
        if (item->checkState() == Qt::Checked) {
            columns.push_back(static_cast<std::size_t>(item->data(Qt::UserRole).toInt()));
        }
    }
    return columns;
}

void ExportColumns::tickAll() {
    const bool areAll = columns().size() == static_cast<std::size_t>(list_->count());
    {
        const QSignalBlocker blocker(list_);
        for (int i = 0; i < list_->count(); ++i) list_->item(i)->setCheckState(areAll ? Qt::Unchecked : Qt::Checked);
    }
    refresh();
}

void ExportColumns::moveCurrent(int by) {
    const int from = list_->currentRow();
    const int to = from + by;
    if (from < 0 || to < 0 || to >= list_->count()) return;
    QListWidgetItem* item = list_->takeItem(from);
    list_->insertItem(to, item);
    list_->setCurrentRow(to);
    refresh();
}

void ExportColumns::refresh() {
    const auto going = static_cast<std::int64_t>(columns().size());
    const QString all = toQt(base::counted(list_->count(), "column", "columns"));
    summary_->setText(going == list_->count() ? (going == 1 ? tr("One column goes") : tr("All %1 go").arg(all))
                                              : tr("%1 of %2 go").arg(toQt(base::grouped(going)), all));
    Q_EMIT changed();
}

bool ExportColumns::eventFilter(QObject* watched, QEvent* event) {
    if (watched == list_ && event->type() == QEvent::KeyPress) {
        const auto* key = static_cast<QKeyEvent*>(event);
        const bool isUp = key->key() == Qt::Key_Up;
        if (key->modifiers() == Qt::AltModifier && (isUp || key->key() == Qt::Key_Down)) {
            moveCurrent(isUp ? -1 : 1);
            return true;
        }
    }
    return QWidget::eventFilter(watched, event);
}

}  // namespace pantry::app

#include "moc_export_columns.cpp"
