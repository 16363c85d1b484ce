#pragma once

#include <QMenu>

#include "app/sheet/sheet.h"

namespace pantry::app {

/// What holds on a sheet's line, to be seen and changed: schema, commits, isolation, reading only, time limit, and what
/// happens after an error. Changes run as statements, which show as cards.
///
/// Ownership: the menu deletes itself when it is closed.
QMenu* makeSessionMenu(Desk& desk, Sheet& sheet, QWidget* parent);

}  // namespace pantry::app
