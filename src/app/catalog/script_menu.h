#pragma once

#include <QMenu>
#include <functional>
#include <vector>

#include "app/base/object_place.h"
#include "app/desk/desk.h"
#include "core/sql/define/scripts.h"

namespace pantry::app {

/// A script that somebody wants.
struct ScriptWish {
    std::vector<ObjectPlace> objects;  ///< all of one place
    sql::ScriptKind kind = sql::ScriptKind::Select;
    QString targetId;         ///< the connection that it is written for, and in whose sheet it goes
    bool isAtCursor = false;  ///< into the sheet in front, not into a new one
};

/// Fills a menu with the scripts that there are for some objects: in a new sheet, at the cursor of the sheet in front,
/// and for other connections.
void addScripts(QMenu* menu, Desk& desk, const std::vector<ObjectPlace>& objects,
                const std::function<void(const ScriptWish&)>& take);

}  // namespace pantry::app
