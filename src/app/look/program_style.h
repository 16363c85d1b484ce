#pragma once

#include <QProxyStyle>

namespace pantry::app {

/// Fusion, below the style sheet, in what a style sheet cannot say: the letters that open menus are marked nowhere,
/// since every menu shows its keys and Alt works all the same; buttons of dialogs have words, no pictures.
class ProgramStyle : public QProxyStyle {
    Q_OBJECT

public:
    ProgramStyle() : QProxyStyle(QStringLiteral("Fusion")) {}
    int styleHint(StyleHint hint, const QStyleOption* option = nullptr, const QWidget* widget = nullptr,
                  QStyleHintReturn* returned = nullptr) const override {
        if (hint == SH_UnderlineShortcut || hint == SH_DialogButtonBox_ButtonsHaveIcons) return 0;
        return QProxyStyle::styleHint(hint, option, widget, returned);
    }
};

}  // namespace pantry::app
