#include "app/catalog/change_menu.h"

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/widgets.h"
#include "core/db/engine_traits.h"

namespace pantry::app {
namespace {

void addForms(QMenu* menu, const ObjectPlace& place, const ChangeChoices& choices) {
    const std::pair<QString, TableWish> forms[] = {{QMenu::tr("Columns, keys and rules…"), TableWish::Look},
                                                   {QMenu::tr("Add a column…"), TableWish::AddColumn},
                                                   {QMenu::tr("Add an index…"), TableWish::AddIndex},
                                                   {QMenu::tr("Add a unique key…"), TableWish::AddUnique},
                                                   {QMenu::tr("Add a check…"), TableWish::AddCheck},
                                                   {QMenu::tr("Add a foreign key…"), TableWish::AddForeignKey}};
    for (const auto& [text, wish] : forms) {
        QObject::connect(menu->addAction(text), &QAction::triggered, menu,
                         [choices, place, wish = wish] { choices.table(place, wish); });
    }
    menu->addSeparator();
}

}  // namespace

void addChanges(QMenu* menu, Desk& desk, const ObjectPlace& place, const ChangeChoices& choices) {
    name(menu, objectName::kObjectChanges, QMenu::tr("Change this object"));
    const db::ConnectionProfile* profile = desk.connections().profile(fromQt(place.connectionId));
    if (profile == nullptr) return;
    const sql::Dialect dialect = db::dialectOf(profile->engine);
    if (place.object.kind == catalog::ObjectKind::Table) addForms(menu, place, choices);
    bool isApart = false;
    for (const sql::SmallChangeEntry& entry : sql::smallChangeEntries()) {
        if (!sql::hasSmallChange(entry.change, place.object.kind, dialect)) continue;
        if (entry.isDestructive && !isApart) menu->addSeparator();
        isApart = isApart || entry.isDestructive;
        QObject::connect(menu->addAction(toQt(entry.label)), &QAction::triggered, menu,
                         [choices, place, change = entry.change] { choices.small(place, change); });
    }
}

}  // namespace pantry::app
