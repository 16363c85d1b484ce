#pragma once

#include <QPainter>
#include <QPixmap>
#include <QProxyStyle>

#include "app/look/theme.h"

namespace pantry::app {

/// Fusion, below the style sheet, in what a style sheet cannot say: the letters that open menus are marked nowhere,
/// since every menu shows its keys and Alt works all the same; buttons of dialogs have words, no pictures. The cross
/// that empties a field, and what leads to menus that find no room, are drawn: to read Fusion's, the start would load
/// what reads pictures.
class ProgramStyle : public QProxyStyle {
    Q_OBJECT

public:
    ProgramStyle() : QProxyStyle(QStringLiteral("Fusion")) {}
    int styleHint(StyleHint hint, const QStyleOption* option = nullptr, const QWidget* widget = nullptr,
                  QStyleHintReturn* returned = nullptr) const override {
        if (hint == SH_UnderlineShortcut || hint == SH_DialogButtonBox_ButtonsHaveIcons) return 0;
        return QProxyStyle::styleHint(hint, option, widget, returned);
    }
    [[nodiscard]] QIcon standardIcon(StandardPixmap which, const QStyleOption* option,
                                     const QWidget* widget) const override {
        if (which == SP_LineEditClearButton)
            return drawn({QPolygonF({{5, 5}, {11, 11}}), QPolygonF({{11, 5}, {5, 11}})});
        if (which == SP_ToolBarHorizontalExtensionButton) {
            return drawn({QPolygonF({{4, 4}, {8, 8}, {4, 12}}), QPolygonF({{8, 4}, {12, 8}, {8, 12}})});
        }
        return QProxyStyle::standardIcon(which, option, widget);
    }

private:
    /// Lines within a square of sixteen.
    static QIcon drawn(const QList<QPolygonF>& lines) {
        constexpr int kSize = 32;  // twice as large as it is shown, for screens with small points
        QPixmap picture(kSize, kSize);
        picture.setDevicePixelRatio(2);
        picture.fill(Qt::transparent);
        QPainter painter(&picture);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(QPen(Theme::current().colour("quiet"), 1.4, Qt::SolidLine, Qt::RoundCap));
        for (const QPolygonF& line : lines) painter.drawPolyline(line);
        painter.end();
        return QIcon(picture);
    }
};

}  // namespace pantry::app
