#include "app/pages/connections/connection_card.h"

#include <QApplication>
#include <QDrag>
#include <QDragEnterEvent>
#include <QKeyEvent>
#include <QMimeData>
#include <QPainter>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/connection_colours.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"

namespace pantry::app {

ConnectionCard::ConnectionCard(Desk& desk, const db::ConnectionProfile& profile, const QString& facts,
                               std::function<QString()> usage, QWidget* parent)
    : QAbstractButton(parent), desk_(desk), profile_(profile), facts_(facts), usage_(std::move(usage)) {
    setCheckable(true);
    Theme::fit(this, [this] { setFixedHeight(Theme::px(kHeight)); });
    setFocusPolicy(Qt::StrongFocus);
    setAcceptDrops(true);
    name(this, "connectionCard",
         tr("%1, %2, %3").arg(toQt(profile.name), toQt(db::environmentWord(profile.environment)), facts_));
    setProperty("connection", toQt(profile.id));
    const QString note = profile.note.empty() ? QString() : toQt(profile.note) + QLatin1Char('\n');
    setToolTip(note + tr("Double click or Return opens a sheet on it; it can be dragged to another place"));
}

const char* ConnectionCard::environmentRole() const {
    switch (profile_.environment) {
        case db::Environment::Live: return "tomato";
        case db::Environment::Trial: return "marigold";
        case db::Environment::Local: break;
    }
    return "sage";
}

void ConnectionCard::paintEvent(QPaintEvent*) {
    const Theme& theme = Theme::current();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF box = QRectF(rect()).adjusted(1, 1, -1, -1);
    QPen edge(theme.colour(isChecked() || hasFocus() ? "juniper" : "line"), isChecked() ? 2 : 1);
    if (profile_.isTemplate) edge.setStyle(Qt::DashLine);
    painter.setPen(edge);
    painter.setBrush(theme.colour(underMouse() ? "selection" : "card"));
    painter.drawRoundedRect(box, 7, 7);
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme.connectionColour(signalColour(profile_)));
    painter.drawRoundedRect(QRectF(box.left() + 1, box.top() + 1, 5, box.height() - 2), 2.5, 2.5);
    if (isTarget_) {
        painter.setBrush(theme.colour("juniper"));
        painter.drawRect(QRectF(0, 0, width(), 3));
    }
    const QRect area = rect().adjusted(19, 10, -14, -9);
    QFont strong = font();
    strong.setPixelSize(Theme::px(14));
    strong.setWeight(QFont::DemiBold);
    QFont small = font();
    small.setPixelSize(Theme::px(11));
    small.setWeight(QFont::Bold);
    const QString environment =
        profile_.isTemplate ? tr("TEMPLATE") : toQt(db::environmentWord(profile_.environment)).toUpper();
    if (hasMark(profile_)) {  // beside the word of the environment
        const int left = area.right() - QFontMetrics(small).horizontalAdvance(environment) - 12;
        painter.setBrush(theme.connectionColour(profile_.colour));
        painter.drawEllipse(QPointF(left, area.top() + 6.5), 4, 4);
    }
    painter.setFont(small);
    painter.setPen(theme.colour(profile_.isTemplate ? "quiet" : environmentRole()));
    painter.drawText(area, Qt::AlignTop | Qt::AlignRight, environment);
    const int room = area.width() - QFontMetrics(small).horizontalAdvance(environment) - 24;
    painter.setFont(strong);
    painter.setPen(theme.colour("ink"));
    painter.drawText(area, Qt::AlignTop | Qt::AlignLeft,
                     QFontMetrics(strong).elidedText(toQt(profile_.name), Qt::ElideRight, room));
    QFont plain = font();
    plain.setPixelSize(Theme::px(12));
    painter.setFont(plain);
    painter.setPen(theme.colour("quiet"));
    const QFontMetrics metrics(plain);
    painter.drawText(area, Qt::AlignVCenter | Qt::AlignLeft, metrics.elidedText(facts_, Qt::ElideMiddle, area.width()));
    const QString usage = usage_();
    const QString note = toQt(profile_.note);
    const QString last = note.isEmpty() || usage.isEmpty() ? usage + note : usage + QStringLiteral(" · ") + note;
    if (hasDraft_) painter.setPen(theme.colour("marigold"));
    painter.drawText(area, Qt::AlignBottom | Qt::AlignLeft,
                     hasDraft_ ? tr("unsaved changes") : metrics.elidedText(last, Qt::ElideRight, area.width()));
}

void ConnectionCard::setDraft(bool hasDraft) {
    if (std::exchange(hasDraft_, hasDraft) == hasDraft) return;
    const QString environment = toQt(db::environmentWord(profile_.environment));
    const QString state = hasDraft ? tr(", unsaved changes") : QString();
    setAccessibleName(tr("%1, %2, %3").arg(toQt(profile_.name), environment, facts_) + state);
    update();
}

void ConnectionCard::mousePressEvent(QMouseEvent* event) {
    pressedAt_ = event->pos();
    QAbstractButton::mousePressEvent(event);
}

void ConnectionCard::mouseMoveEvent(QMouseEvent* event) {
    const bool isFar = (event->pos() - pressedAt_).manhattanLength() >= QApplication::startDragDistance();
    if (!event->buttons().testFlag(Qt::LeftButton) || !isFar) return QAbstractButton::mouseMoveEvent(event);
    setDown(false);
    auto* drag = new QDrag(this);
    auto* what = new QMimeData;
    what->setData(kConnectionMime, QByteArray::fromStdString(profile_.id));
    drag->setMimeData(what);
    drag->setPixmap(grab());
    drag->setHotSpot(event->pos());
    drag->exec(Qt::MoveAction);
}

void ConnectionCard::mouseDoubleClickEvent(QMouseEvent*) { Q_EMIT openRequested(); }

void ConnectionCard::keyPressEvent(QKeyEvent* event) {
    const bool isAlt = event->modifiers().testFlag(Qt::AltModifier);
    switch (event->key()) {
        case Qt::Key_Return:
        case Qt::Key_Enter: return Q_EMIT openRequested();
        case Qt::Key_Up:
        case Qt::Key_Down:
            if (isAlt) return Q_EMIT moveRequested(event->key() == Qt::Key_Up ? -1 : 1);
            break;
        case Qt::Key_Menu: return Q_EMIT menuRequested(mapToGlobal(rect().center()));
        default: break;
    }
    QAbstractButton::keyPressEvent(event);
}

void ConnectionCard::contextMenuEvent(QContextMenuEvent* event) { Q_EMIT menuRequested(event->globalPos()); }

void ConnectionCard::dragEnterEvent(QDragEnterEvent* event) {
    if (!event->mimeData()->hasFormat(kConnectionMime)) return;
    isTarget_ = true;
    update();
    event->acceptProposedAction();
}

void ConnectionCard::dragLeaveEvent(QDragLeaveEvent*) {
    isTarget_ = false;
    update();
}

void ConnectionCard::dropEvent(QDropEvent* event) {
    const std::string id = event->mimeData()->data(kConnectionMime).toStdString();
    event->acceptProposedAction();
    isTarget_ = false;
    // Not while the drag is on its way: the card that it came from goes with the change.
    QMetaObject::invokeMethod(
        &desk_,
        [&desk = desk_, group = profile_.group, id, before = profile_.id] {
            desk.connections().change(
                [=](store::ConnectionList& list) { store::moveProfile(list, id, group, before); });
        },
        Qt::QueuedConnection);
}

}  // namespace pantry::app

#include "moc_connection_card.cpp"
