#pragma once

#include <QProxyStyle>

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
                  QStyleHintReturn* returned = nullptr) const override;
    [[nodiscard]] QIcon standardIcon(StandardPixmap which, const QStyleOption* option,
                                     const QWidget* widget) const override;
};

}  // namespace pantry::app
