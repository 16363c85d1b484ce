#pragma once

#include <QWidget>
#include <functional>

namespace pantry::app {

/// Does something once a widget was painted for the first time: what the first picture can do without is made then. At
/// once, if it can be seen already.
///
/// Threads: the window's thread. `act` is forgotten when the widget goes before.
void afterFirstPaint(QWidget* widget, std::function<void()> act);

/// The same for a widget that is made in a window which can be seen: when the widget itself has been painted.
void afterPaintOf(QWidget* widget, std::function<void()> act);

}  // namespace pantry::app
