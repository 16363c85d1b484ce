#pragma once

#include <QString>

namespace pantry::app {

/// Tells somebody who is looking elsewhere, by the desktop's own notifications (org.freedesktop.Notifications of the
/// Desktop Notifications Specification). Nothing happens where a desktop has none. Returns at once.
void tellDesktop(const QString& title, const QString& text);

}  // namespace pantry::app
