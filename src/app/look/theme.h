#pragma once

#include <QColor>
#include <QFont>
#include <QHash>
#include <QObject>
#include <QPointer>
#include <QString>
#include <QWidget>
#include <functional>
#include <string_view>
#include <vector>

namespace pantry::app {

/// The colours of the window. Theme files (JSON, in the resources) hold them all; the rest of the program names roles.
///
/// Threads: the window's thread.
class Theme : public QObject {
    Q_OBJECT

public:
    /// The theme in force; there is one.
    static Theme& current();

    /// Makes a theme the one in force and repaints the program. An unknown name means daylight.
    void choose(const QString& name);

    /// Makes everything larger or smaller: the size of texts in points, 10 as usual. Repaints the program when it
    /// changes.
    void setTextSize(int points);
    /// So many pixels of the usual text size at the size of now; for what holds text and is painted or measured.
    [[nodiscard]] static int px(int usual);
    /// Does something about sizes now and whenever the theme or the text size changes, as long as the widget lives.
    static void fit(QWidget* widget, std::function<void()> apply);

    /// Gives a window of its own the look of the theme, now and whenever it changes; its dialogs and menus follow it. A
    /// style sheet of the whole program would be matched again for each widget below each other one.
    void dress(QWidget* window);

    [[nodiscard]] const QString& name() const { return name_; }
    [[nodiscard]] bool isDark() const { return isDark_; }
    [[nodiscard]] QColor colour(const char* role) const;

    /// The strong colour of a connection by its name (tomato, marigold, …).
    [[nodiscard]] QColor connectionColour(std::string_view colour) const;

    /// `tint` of `share` (0 to 1) over the paper.
    [[nodiscard]] QColor tinted(const QColor& tint, double share) const;

    struct Choice {
        QString name;
        QString title;
    };
    [[nodiscard]] static std::vector<Choice> choices();

Q_SIGNALS:
    void changed();

private:
    static constexpr int kUsualTextSize = 10;

    Theme() = default;
    void load(const QString& name);
    void show();
    [[nodiscard]] QString styleSheet() const;
    [[nodiscard]] static QFont usualFont();

    QString name_;
    bool isDark_ = false;
    int textSize_ = kUsualTextSize;
    QHash<QString, QColor> colours_;
    std::vector<QPointer<QWidget>> windows_;
};

/// Colours that a connection can have, in the order they are offered.
[[nodiscard]] const std::vector<const char*>& connectionColours();

}  // namespace pantry::app
