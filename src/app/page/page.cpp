#include "app/page/page.h"

#include <QPainter>
#include <QPixmap>

#include "app/look/theme.h"

namespace pantry::app {

QColor Page::tabColour() const { return Theme::current().colour("card"); }

QIcon colourDot(const QColor& colour) {
    QPixmap pixmap(20, 20);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(Qt::NoPen);
    painter.setBrush(colour);
    painter.drawRoundedRect(QRectF(4, 4, 12, 12), 3, 3);
    return QIcon(pixmap);
}

}  // namespace pantry::app

#include "moc_page.cpp"
