#include "app/look/program_style.h"

#include <QIcon>
#include <QPainter>
#include <QPixmap>

#include "app/look/theme.h"

namespace pantry::app {
namespace {

/// Lines within a square of sixteen.
QIcon drawn(const QList<QPolygonF>& lines) {
    constexpr int kSize = 32;  // twice as large as it is shown, for screens with small points
    QPixmap picture(kSize, kSize);
    picture.setDevicePixelRatio(2);
    picture.fill(Qt::transparent);
    QPainter painter(&picture);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(Theme::current().colour("quiet"), 1.4, Qt::SolidLine, Qt::RoundCap));
    for (const QPolygonF& line : lines) painter.drawPolyline(line);
    painter.end();
    return {picture};
}

}  // namespace

int ProgramStyle::styleHint(StyleHint hint, const QStyleOption* option, const QWidget* widget,
                            QStyleHintReturn* returned) const {
    if (hint == SH_UnderlineShortcut || hint == SH_DialogButtonBox_ButtonsHaveIcons) return 0;
    return QProxyStyle::styleHint(hint, option, widget, returned);
}

QIcon ProgramStyle::standardIcon(StandardPixmap which, const QStyleOption* option, const QWidget* widget) const {
    using Line = QList<QPointF>;
    if (which == SP_LineEditClearButton) return drawn({Line{{5, 5}, {11, 11}}, Line{{11, 5}, {5, 11}}});
    if (which == SP_ToolBarHorizontalExtensionButton)
        return drawn({Line{{4, 4}, {8, 8}, {4, 12}}, Line{{8, 4}, {12, 8}, {8, 12}}});
    return QProxyStyle::standardIcon(which, option, widget);
}

}  // namespace pantry::app

#include "moc_program_style.cpp"
