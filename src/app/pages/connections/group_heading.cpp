#include "app/pages/connections/group_heading.h"

#include <QDragEnterEvent>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMenu>
#include <QMimeData>
#include <QPainter>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "app/pages/connections/connection_card.h"

namespace pantry::app {
namespace {

const store::ConnectionGroup* groupIn(const Desk& desk, const std::string& name) {
    const auto& groups = desk.connections().list().groups;
    const auto found = std::ranges::find(groups, name, &store::ConnectionGroup::name);
    return found == groups.end() ? nullptr : &*found;
}

}  // namespace

GroupHeading::GroupHeading(Desk& desk, const std::string& group, std::size_t count, QWidget* parent)
    : QWidget(parent), desk_(desk), group_(group), edit_(new QLineEdit(this)) {
    const store::ConnectionGroup* known = groupIn(desk_, group_);
    const bool isCollapsed = known != nullptr && known->isCollapsed;
    if (known != nullptr && !known->colour.empty()) colour_ = Theme::current().connectionColour(known->colour);
    const QString title = group_.empty() ? tr("Without a group") : toQt(group_);
    name_ = makeButton(title, "heading", objectName::kGroupHeading, tr("Group %1: open or close it").arg(title), this);
    Theme::fit(this, [this, isCollapsed] { showFold(name_, !isCollapsed); });
    name_->setProperty("group", toQt(group_));
    name(edit_, objectName::kGroupName, tr("Name of the group"));
    edit_->hide();
    edit_->installEventFilter(this);
    setAcceptDrops(true);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(colour_.isValid() ? 10 : 0, 2, 0, 2);
    layout->addWidget(name_);
    layout->addWidget(edit_);
    layout->addStretch();
    layout->addWidget(makeLabel(QString::number(count), "small"));
    if (!group_.empty()) {
        auto* more =
            makeButton(QStringLiteral("…"), "plain", objectName::kGroupMenu, tr("What to do with %1").arg(title));
        more->setToolTip(tr("Rename, colour, order"));
        layout->addWidget(more);
        connect(more, &QPushButton::clicked, this, &GroupHeading::showMenu);
    }
    connect(name_, &QPushButton::clicked, this, [this] {
        desk_.connections().change([group = group_](store::ConnectionList& list) {
            if (auto* g = store::findGroup(list, group)) g->isCollapsed = !g->isCollapsed;
        });
    });
    connect(edit_, &QLineEdit::editingFinished, this, &GroupHeading::rename);
}

void GroupHeading::beginRename() {
    edit_->setText(toQt(group_));
    name_->hide();
    edit_->show();
    edit_->setFocus();
    edit_->selectAll();
}

/// Escape leaves the name as it was.
bool GroupHeading::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() != QEvent::KeyPress || static_cast<QKeyEvent*>(event)->key() != Qt::Key_Escape)
        return QWidget::eventFilter(watched, event);
    edit_->setText(toQt(group_));
    rename();
    return true;
}

void GroupHeading::rename() {
    if (edit_->isHidden()) return;
    edit_->hide();
    name_->show();
    const std::string wanted = fromQt(edit_->text().trimmed());
    if (wanted.empty() || wanted == group_) return Q_EMIT namingEnded();
    desk_.connections().change(
        [from = group_, wanted](store::ConnectionList& list) { store::renameGroup(list, from, wanted); });
}

void GroupHeading::showMenu() {
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    connect(menu->addAction(tr("Rename")), &QAction::triggered, this, &GroupHeading::beginRename);
    auto* colours = menu->addMenu(tr("Colour"));
    connect(colours->addAction(tr("none")), &QAction::triggered, this, [this] {
        desk_.connections().change([group = group_](store::ConnectionList& list) {
            if (auto* g = store::findGroup(list, group)) g->colour.clear();
        });
    });
    for (const char* colour : connectionColours()) {
        QPixmap dot(12, 12);
        dot.fill(Theme::current().connectionColour(colour));
        QAction* action = colours->addAction(QIcon(dot), QLatin1String(colour));
        connect(action, &QAction::triggered, this, [this, colour = std::string(colour)] {
            desk_.connections().change([group = group_, colour](store::ConnectionList& list) {
                if (auto* g = store::findGroup(list, group)) g->colour = colour;
            });
        });
    }
    const auto& groups = desk_.connections().list().groups;
    const auto here = std::ranges::find(groups, group_, &store::ConnectionGroup::name);
    const auto at = static_cast<std::size_t>(here - groups.begin());
    const auto moveBefore = [this](const std::string& before) {
        desk_.connections().change(
            [group = group_, before](store::ConnectionList& list) { store::moveGroup(list, group, before); });
    };
    QAction* up = menu->addAction(tr("Further up"));
    up->setEnabled(at > 0);
    connect(up, &QAction::triggered, this, [=, this] { moveBefore(desk_.connections().list().groups[at - 1].name); });
    QAction* down = menu->addAction(tr("Further down"));
    down->setEnabled(at + 1 < groups.size());
    connect(down, &QAction::triggered, this, [=, this] {
        const auto& all = desk_.connections().list().groups;
        moveBefore(at + 2 < all.size() ? all[at + 2].name : std::string());
    });
    menu->addSeparator();
    connect(menu->addAction(tr("Remove group")), &QAction::triggered, this, [this] {
        desk_.connections().change([group = group_](store::ConnectionList& list) { store::removeGroup(list, group); });
    });
    menu->popup(mapToGlobal(QPoint(width() - 20, height())));
}

void GroupHeading::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasFormat(kConnectionMime)) event->acceptProposedAction();
}

/// What is dropped on a heading goes to the end of its group.
void GroupHeading::dropEvent(QDropEvent* event) {
    const std::string id = event->mimeData()->data(kConnectionMime).toStdString();
    event->acceptProposedAction();
    // Not while the drag is on its way: the card that it came from goes with the change.
    QMetaObject::invokeMethod(
        &desk_,
        [&desk = desk_, group = group_, id] {
            desk.connections().change(
                [group, id](store::ConnectionList& list) { store::moveProfile(list, id, group, {}); });
        },
        Qt::QueuedConnection);
}

void GroupHeading::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    if (colour_.isValid()) painter.fillRect(QRect(0, 7, 4, height() - 14), colour_);
    painter.fillRect(QRect(0, height() - 1, width(), 1), Theme::current().colour("line"));
}

}  // namespace pantry::app

#include "moc_group_heading.cpp"
