#include "app/look/name_field.h"

#include <QKeyEvent>
#include <algorithm>
#include <utility>

#include "app/look/theme.h"

namespace pantry::app {

NameField::NameField(const QString& now, QWidget* named, const QRect& place) : QLineEdit(now, named->parentWidget()) {
    constexpr int kReadable = 220;
    QRect area(named->mapToParent(place.topLeft()), place.size());
    area.setWidth(std::max(area.width(), std::min(Theme::px(kReadable), parentWidget()->width())));
    area.moveRight(std::min(area.right(), parentWidget()->width() - 1));
    setGeometry(area);
    connect(this, &QLineEdit::editingFinished, this,
            [this, now] { end(text().trimmed() == now ? QString() : text().trimmed()); });
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
