#include "app/look/theme.h"

#include <QApplication>
#include <QFile>
#include <QJsonDocument>
#include <QJsonObject>
#include <QPalette>
#include <QRegularExpression>
#include <algorithm>
#include <utility>

#include "app/base/text.h"

/// A static library's resources are only there once somebody asked for them; the macro wants the global namespace.
static void loadResources() { Q_INIT_RESOURCE(resources); }

namespace pantry::app {
namespace {

QJsonObject readTheme(const QString& name) {
    QFile file(QStringLiteral(":/themes/%1.json").arg(name));
    if (!file.open(QIODevice::ReadOnly)) return {};
    return QJsonDocument::fromJson(file.readAll()).object();
}

/// A style sheet with its texts, and what goes with them, at the size of now.
QString withTextSizes(const QString& source) {
    static const QRegularExpression size(QStringLiteral("(font-size|min-height|width|height): (\\d+)px"));
    constexpr int kSmallestScaled = 12;  // lines and gaps stay what they are
    QString out;
    qsizetype from = 0;
    for (auto it = size.globalMatch(source); it.hasNext();) {
        const auto match = it.next();
        const int pixels = match.captured(2).toInt();
        const bool isText = match.captured(1) == QLatin1String("font-size");
        out += source.mid(from, match.capturedStart(2) - from);
        out += QString::number(isText || pixels >= kSmallestScaled ? Theme::px(pixels) : pixels);
        from = match.capturedEnd(2);
    }
    return out + source.mid(from);
}

QString capitalised(QString word) {
    if (!word.isEmpty()) word[0] = word[0].toUpper();
    return word;
}

}  // namespace

Theme& Theme::current() {
    static Theme theme;
    static const bool isLoaded = (loadResources(), true);
    (void)isLoaded;
    if (theme.name_.isEmpty()) theme.load(QStringLiteral("daylight"));
    return theme;
}

void Theme::load(const QString& wanted) {
    QJsonObject object = readTheme(wanted);
    name_ = object.isEmpty() ? QStringLiteral("daylight") : wanted;
    if (object.isEmpty()) object = readTheme(name_);
    isDark_ = object.value(QLatin1String("isDark")).toBool();
    colours_.clear();
    const QJsonObject colours = object.value(QLatin1String("colours")).toObject();
    for (auto it = colours.begin(); it != colours.end(); ++it) colours_.insert(it.key(), QColor(it.value().toString()));
}

QFont Theme::usualFont() {
    constexpr int kPixels = 13;
    QFont font;
    font.setFamilies({QStringLiteral("Inter"), QStringLiteral("Noto Sans"), QStringLiteral("DejaVu Sans")});
    font.setPixelSize(px(kPixels));
    return font;
}

void Theme::choose(const QString& wanted) {
    load(wanted);
    show();
}

/// Beyond twice the usual size no window would hold its controls; texts and cells grow on.
void Theme::setTextSize(int points) {
    constexpr int kSmallest = 8;
    constexpr int kLargest = 20;
    const int size = std::clamp(points, kSmallest, kLargest);
    if (std::exchange(textSize_, size) != size) show();
}

int Theme::px(int usual) { return (usual * current().textSize_ + kUsualTextSize / 2) / kUsualTextSize; }

void Theme::fit(QWidget* widget, std::function<void()> apply) {
    apply();
    connect(&current(), &Theme::changed, widget, std::move(apply));
}

void Theme::show() {
    QPalette palette;
    palette.setColor(QPalette::Window, colour("paper"));
    palette.setColor(QPalette::Base, colour("card"));
    palette.setColor(QPalette::AlternateBase, colour("paper"));
    for (const auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText, QPalette::HighlightedText}) {
        palette.setColor(role, colour("ink"));
    }
    palette.setColor(QPalette::PlaceholderText, colour("quiet"));
    palette.setColor(QPalette::Highlight, colour("selection"));
    palette.setColor(QPalette::Button, colour("card"));
    palette.setColor(QPalette::Link, colour("juniper"));
    QApplication::setPalette(palette);
    QApplication::setFont(usualFont());
    const QString sheet = windows_.empty() ? QString() : styleSheet();
    for (const QPointer<QWidget>& window : windows_) {
        if (window) window->setStyleSheet(sheet);
    }
    Q_EMIT changed();
}

void Theme::dress(QWidget* window) {
    std::erase_if(windows_, [](const QPointer<QWidget>& one) { return one.isNull(); });
    windows_.emplace_back(window);
    window->setStyleSheet(styleSheet());
}

QColor Theme::colour(const char* role) const { return colours_.value(QLatin1String(role), QColor(Qt::magenta)); }

QColor Theme::connectionColour(std::string_view wanted) const {
    const QString role = QStringLiteral("fill") + capitalised(toQt(wanted));
    return colours_.value(role, colour("fillJuniper"));
}

QColor Theme::tinted(const QColor& tint, double share) const {
    const QColor paper = colour("paper");
    const auto mix = [share](int a, int b) { return static_cast<int>(a * share + b * (1 - share)); };
    return {mix(tint.red(), paper.red()), mix(tint.green(), paper.green()), mix(tint.blue(), paper.blue())};
}

QString Theme::styleSheet() const {
    QFile file(QStringLiteral(":/style/window.qss"));
    if (!file.open(QIODevice::ReadOnly)) return {};
    const QString source = QString::fromUtf8(file.readAll());
    static const QRegularExpression role(QStringLiteral("@([A-Za-z]+)"));
    QString out;
    qsizetype from = 0;
    for (auto it = role.globalMatch(source); it.hasNext();) {
        const auto match = it.next();
        out += source.mid(from, match.capturedStart() - from);
        const auto found = colours_.find(match.captured(1));
        out += found == colours_.end() ? match.captured(0) : found->name();
        from = match.capturedEnd();
    }
    out += source.mid(from);
    return withTextSizes(out);
}

std::vector<Theme::Choice> Theme::choices() {
    std::vector<Choice> list;
    for (const char* name : {"daylight", "lamplight"}) {
        const QString key = QLatin1String(name);
        list.push_back({key, readTheme(key).value(QLatin1String("title")).toString()});
    }
    return list;
}

const std::vector<const char*>& connectionColours() {
    static const std::vector<const char*> colours{"tomato", "marigold", "sage", "juniper", "beet", "cocoa"};
    return colours;
}

}  // namespace pantry::app

#include "moc_theme.cpp"
