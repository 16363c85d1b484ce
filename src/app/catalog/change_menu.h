#pragma once

#include <QMenu>
#include <functional>

#include "app/base/object_place.h"
#include "app/define/table_wish.h"
#include "app/desk/desk.h"
#include "core/sql/define/small_changes.h"

namespace pantry::app {

/// What is done to an object by a form.
struct ChangeChoices {
    std::function<void(const ObjectPlace& place, TableWish wish)> table;
    std::function<void(const ObjectPlace& place, sql::SmallChange change)> small;
};

/// Fills a menu with the ways to change an object: what does no harm first, what takes something away apart from it.
void addChanges(QMenu* menu, Desk& desk, const ObjectPlace& place, const ChangeChoices& choices);

}  // namespace pantry::app
