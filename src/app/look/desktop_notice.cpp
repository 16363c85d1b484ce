#include "app/look/desktop_notice.h"

#include <QDBusConnection>
#include <QDBusMessage>
#include <QVariantMap>

namespace pantry::app {

void tellDesktop(const QString& title, const QString& text) {
    QDBusConnection bus = QDBusConnection::sessionBus();
    if (!bus.isConnected()) return;
    QDBusMessage call = QDBusMessage::createMethodCall(
        QStringLiteral("org.freedesktop.Notifications"), QStringLiteral("/org/freedesktop/Notifications"),
        QStringLiteral("org.freedesktop.Notifications"), QStringLiteral("Notify"));
    constexpr int kAsLongAsUsual = -1;
    // The text may hold marks of the specification's markup, which are not meant.
    call.setArguments({QStringLiteral("Agile Pantry"), 0U, QStringLiteral("agile-pantry"), title, text.toHtmlEscaped(),
                       QStringList(), QVariantMap(), kAsLongAsUsual});
    bus.send(call);
}

}  // namespace pantry::app
