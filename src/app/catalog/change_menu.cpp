#include "app/catalog/change_menu.h"

#include <algorithm>
#include <utility>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/widgets.h"
#include "core/db/engine_traits.h"

namespace pantry::app {
namespace {

/// Those that are there, to be edited, and a new one.
void addTriggers(QMenu* menu, Desk& desk, const ObjectPlace& place, const ChangeChoices& choices) {
    const auto add = [&](QMenu* to, const QString& text, const sql::EditedObject& edited) {
        QObject::connect(to->addAction(text), &QAction::triggered, menu,
                         [choices, place, edited] { choices.text(place, edited); });
    };
    add(menu, QMenu::tr("Add a trigger…"), {.object = place.object, .isNewTrigger = true});
    const auto catalog = desk.catalogs().state(fromQt(place.connectionId), place.database).catalog;
    const catalog::Relation* relation = catalog ? catalog->find(place.object.schema, place.object.name) : nullptr;
    if (relation == nullptr || relation->triggers.empty()) return;
    QMenu* triggers = menu->addMenu(QMenu::tr("Edit a trigger"));
    for (const catalog::Trigger& one : relation->triggers) {
        add(triggers, toQt(one.name), {.object = place.object, .trigger = one.name});
    }
}

void addForms(QMenu* menu, Desk& desk, const ObjectPlace& place, const ChangeChoices& choices) {
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
    addTriggers(menu, desk, place, choices);
    menu->addSeparator();
}

sql::FormPlace formPlaceOf(Desk& desk, const ObjectPlace& place) {
    const db::ConnectionProfile* profile = desk.connections().profile(fromQt(place.connectionId));
    return {.dialect = profile != nullptr ? db::dialectOf(profile->engine) : sql::Dialect::Ansi,
            .object = place.object};
}

bool isNew(const sql::FormEntry& form) { return form.id.ends_with(".new"); }

/// Below “New” the word need not stand again.
QString belowNew(const QString& label) {
    const QString rest = label.mid(QMenu::tr("New ").size());
    return rest.left(1).toUpper() + rest.mid(1);
}

void addForm(QMenu* menu, const sql::FormEntry& form, const ObjectPlace& place, const ChangeChoices& choices) {
    const bool isBelowNew = menu->objectName() == QLatin1String(objectName::kNewThings);
    const QString label = isBelowNew ? belowNew(toQt(form.label)) : toQt(form.label);
    QObject::connect(menu->addAction(label), &QAction::triggered, menu,
                     [choices, place, id = toQt(form.id)] { choices.form(place, id); });
}

/// What does no harm first, and apart from it what takes something away.
void addFormsFor(QMenu* menu, Desk& desk, const ObjectPlace& place, const ChangeChoices& choices,
                 const std::function<bool(const sql::FormEntry&)>& isWanted) {
    const sql::FormPlace formPlace = formPlaceOf(desk, place);
    for (const bool isDestructive : {false, true}) {
        bool isFirst = isDestructive;
        for (const sql::FormEntry& form : sql::formEntries()) {
            if (form.isDestructive != isDestructive || !isWanted(form) || !form.isFor(formPlace)) continue;
            if (std::exchange(isFirst, false)) menu->addSeparator();
            addForm(menu, form, place, choices);
        }
    }
}

}  // namespace

void addChanges(QMenu* menu, Desk& desk, const ObjectPlace& place, const ChangeChoices& choices) {
    name(menu, objectName::kObjectChanges, QMenu::tr("Change this object"));
    if (place.object.kind == catalog::ObjectKind::Table) addForms(menu, desk, place, choices);
    const sql::Dialect dialect = formPlaceOf(desk, place).dialect;
    if (std::ranges::count(sql::writtenKinds(dialect), place.object.kind) > 0) {
        QObject::connect(menu->addAction(QMenu::tr("Edit its text…")), &QAction::triggered, menu,
                         [choices, place] { choices.text(place, {.object = place.object}); });
        if (catalog::isViewKind(place.object.kind)) addTriggers(menu, desk, place, choices);
    }
    addFormsFor(menu, desk, place, choices,
                [](const sql::FormEntry& form) { return form.group == sql::FormGroup::Object; });
}

void addNewThings(QMenu* menu, Desk& desk, const ObjectPlace& place, const ChangeChoices& choices) {
    name(menu, objectName::kNewThings, QMenu::tr("Make something new"));
    const ObjectPlace here{place.connectionId, place.database, {.schema = place.object.schema}};
    QObject::connect(menu->addAction(QMenu::tr("Table…")), &QAction::triggered, menu,
                     [choices, here] { choices.table(here, TableWish::Look); });
    for (const catalog::ObjectKind kind : sql::writtenKinds(formPlaceOf(desk, here).dialect)) {
        QObject::connect(menu->addAction(belowNew(QMenu::tr("New %1…").arg(toQt(catalog::kindName(kind))))),
                         &QAction::triggered, menu, [choices, here, kind] {
                             choices.text(here, {.object = {.kind = kind, .schema = here.object.schema}});
                         });
    }
    addFormsFor(menu, desk, here, choices, isNew);
}

void addServerChanges(QMenu* menu, Desk& desk, const ObjectPlace& place, const std::vector<sql::FormGroup>& groups,
                      bool isWithNew, const ChangeChoices& choices) {
    name(menu, objectName::kServerChanges, QMenu::tr("Change schemas, databases, roles and rights"));
    addFormsFor(menu, desk, place, choices, [&](const sql::FormEntry& form) {
        return std::ranges::count(groups, form.group) > 0 && (isWithNew || !isNew(form));
    });
}

}  // namespace pantry::app
