#pragma once

#include <QMenu>
#include <functional>
#include <vector>

#include "app/base/object_place.h"
#include "app/define/table_wish.h"
#include "app/desk/desk.h"
#include "core/sql/define/edited_text.h"
#include "core/sql/forms/form.h"

namespace pantry::app {

/// What is done to an object by a form.
struct ChangeChoices {
    std::function<void(const ObjectPlace& place, TableWish wish)> table;
    /// `form`: the id of a sql::FormEntry.
    std::function<void(const ObjectPlace& place, const QString& form)> form;
    std::function<void(const ObjectPlace& place, const sql::EditedObject& edited)> text;
};

/// Fills a menu with the ways to change an object: what does no harm first, what takes something away apart from it.
void addChanges(QMenu* menu, Desk& desk, const ObjectPlace& place, const ChangeChoices& choices);

/// What can be made new where a place is: tables, sequences, schemas, databases, roles.
void addNewThings(QMenu* menu, Desk& desk, const ObjectPlace& place, const ChangeChoices& choices);

/// Schemas, databases, roles and rights: how they are changed and dropped; where `isWithNew`, also made.
void addServerChanges(QMenu* menu, Desk& desk, const ObjectPlace& place, const std::vector<sql::FormGroup>& groups,
                      bool isWithNew, const ChangeChoices& choices);

}  // namespace pantry::app
