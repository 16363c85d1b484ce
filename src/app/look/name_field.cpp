#include "app/look/name_field.h"

#include <QKeyEvent>
#include <algorithm>
#include <utility>

#include "app/look/theme.h"

namespace pantry::app {

NameField::NameField(const QString& now, QWidget* named, const QRect& place) : QLineEdit(now, named->parentWidget()) {
    constexpr int kReadable = 220;
    setProperty("look", "find");
    ensurePolished();  // its height is that of its looks
    const QRect there(named->mapToParent(place.topLeft()), place.size());
    QRect area(QPoint(),
               there.size().expandedTo({Theme::px(kReadable), sizeHint().height()}).boundedTo(parentWidget()->size()));
    area.moveCenter(there.center());
    area.moveLeft(std::min(there.left(), parentWidget()->width() - area.width()));
    area.moveTop(std::clamp(area.top(), 0, parentWidget()->height() - area.height()));
    setGeometry(area);
    connect(this, &QLineEdit::editingFinished, this,
            [this, now] { end(text().trimmed() == now ? QString() : text().trimmed()); });
    connect(named, &QObject::destroyed, this, &QObject::deleteLater);  // and tells nobody: who listens may be going too
    selectAll();
    show();
    raise();
    setFocus();
}

/// Escape is meant for the name, whatever else it is good for.
bool NameField::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape) {
        event->accept();
        return true;
    }
    return QLineEdit::event(event);
}

void NameField::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) return end({});
    QLineEdit::keyPressEvent(event);
    event->accept();  // the Return that ends it does nothing else
}

/// Hiding it takes the focus away, which ends it once more.
void NameField::end(const QString& name) {
    if (std::exchange(isOver_, true)) return;
    Q_EMIT ended(name);
    hide();
    deleteLater();
}

}  // namespace pantry::app

#include "moc_name_field.cpp"
