#include "app/catalog/place_menu.h"

#include <QActionGroup>
#include <QCheckBox>
#include <QHBoxLayout>
#include <QWidgetAction>
#include <algorithm>
#include <set>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/widgets.h"

namespace pantry::app {

PlaceMenu::PlaceMenu(Desk& desk, const QString& connectionId, const std::string& database, QWidget* parent)
    : QMenu(parent), desk_(desk), connectionId_(connectionId), database_(database) {
    setAttribute(Qt::WA_DeleteOnClose);
    name(this, objectName::kPlaceMenu, tr("What is shown of this catalog"));
    const auto catalog = desk_.catalogs().state(fromQt(connectionId_), database_).catalog;
    if (catalog) {
        addDatabases(*catalog);
        addSchemas(*catalog);
        addKinds(*catalog);
        addOrder();
        addSeparator();
    }
    const bool withForbidden = desk_.catalogs().choices(fromQt(connectionId_), database_).withForbidden;
    if (catalog && !catalog->facts().databases.empty()) {
        addTick(tr("Show objects without privileges"), withForbidden, [this](bool on) {
            change([on](catalog::Choices& choices) { choices.withForbidden = on; });
            desk_.catalogs().load(fromQt(connectionId_), database_);
        });
    }
    connect(addAction(tr("Refresh\tF5")), &QAction::triggered, &desk_,
            [&desk = desk_, connectionId, database] { desk.catalogs().load(fromQt(connectionId), database); });
}

void PlaceMenu::change(const std::function<void(catalog::Choices&)>& change) {
    desk_.catalogs().changeChoices(fromQt(connectionId_), database_, change);
}

void PlaceMenu::addTick(const QString& text, bool isOn, const std::function<void(bool)>& change) {
    auto* box = new QCheckBox(text);
    box->setChecked(isOn);
    box->setObjectName(QStringLiteral("placeTick"));
    auto* action = new QWidgetAction(this);
    auto* padded = new QWidget;
    auto* row = new QHBoxLayout(padded);
    row->setContentsMargins(10, 3, 14, 3);
    row->addWidget(box);
    action->setDefaultWidget(padded);
    connect(box, &QCheckBox::toggled, this, change);
    addAction(action);
}

/// The style leaves a section's own words out.
void PlaceMenu::addHeading(const QString& text) {
    addSeparator();
    auto* label = makeLabel(text, "section");
    label->setContentsMargins(10, 3, 10, 2);
    auto* action = new QWidgetAction(this);
    action->setDefaultWidget(label);
    addAction(action);
}

void PlaceMenu::addDatabases(const catalog::Catalog& catalog) {
    if (catalog.facts().databases.size() < 2) return;
    auto* menu = addMenu(tr("Database"));
    for (const std::string& database : catalog.facts().databases) {
        QAction* action = menu->addAction(toQt(database));
        action->setCheckable(true);
        action->setChecked(database == catalog.facts().database);
        connect(action, &QAction::triggered, this, [this, database] { Q_EMIT databaseChosen(database); });
    }
}

void PlaceMenu::addOrder() {
    addHeading(tr("Order"));
    auto* group = new QActionGroup(this);
    const std::pair<QString, catalog::ListOrder> orders[] = {{tr("By name"), catalog::ListOrder::Name},
                                                             {tr("By rows"), catalog::ListOrder::Rows},
                                                             {tr("By size"), catalog::ListOrder::Size}};
    const catalog::ListOrder now = desk_.catalogs().choices(fromQt(connectionId_), database_).order;
    for (const auto& [text, order] : orders) {
        QAction* action = addAction(text);
        action->setCheckable(true);
        action->setChecked(order == now);
        group->addAction(action);
        connect(action, &QAction::triggered, this,
                [this, order = order] { change([order](catalog::Choices& c) { c.order = order; }); });
    }
}

/// A schema that was not read yet is read when it is ticked. The engine's own stand apart.
void PlaceMenu::addSchemas(const catalog::Catalog& catalog) {
    if (catalog.schemas().size() < 2) return;
    addSchemas(catalog, tr("Schemas"), false);
    addSchemas(catalog, tr("System schemas"), true);
}

void PlaceMenu::addSchemas(const catalog::Catalog& catalog, const QString& heading, bool areOwn) {
    if (std::ranges::none_of(catalog.schemas(), [&](const auto& one) { return one->isOwn == areOwn; })) return;
    addHeading(heading);
    const catalog::Choices choices = desk_.catalogs().choices(fromQt(connectionId_), database_);
    for (const catalog::SchemaPtr& schema : catalog.schemas()) {
        if (schema->isOwn != areOwn) continue;
        const bool isShown = schema->isLoaded && !choices.hiddenSchemas.contains(schema->name);
        addTick(toQt(schema->name), isShown, [this, schema = schema->name, isLoaded = schema->isLoaded](bool on) {
            change([&](catalog::Choices& c) {
                if (on) {
                    c.hiddenSchemas.erase(schema);
                } else {
                    c.hiddenSchemas.insert(schema);
                }
            });
            if (on && !isLoaded) desk_.catalogs().load(fromQt(connectionId_), database_, {.schemas = {schema}});
        });
    }
}

void PlaceMenu::addKinds(const catalog::Catalog& catalog) {
    std::set<catalog::ObjectKind> kinds;
    for (const catalog::SchemaPtr& schema : catalog.schemas()) {
        for (const auto& relation : schema->relations) kinds.insert(relation.kind);
        for (const auto& object : schema->objects) kinds.insert(object.kind);
    }
    if (kinds.size() < 2) return;
    addHeading(tr("Kinds"));
    const catalog::Choices choices = desk_.catalogs().choices(fromQt(connectionId_), database_);
    for (const catalog::ObjectKind kind : kinds) {
        addTick(toQt(catalog::kindHeading(kind)), !choices.hiddenKinds.contains(kind), [this, kind](bool on) {
            change([&](catalog::Choices& c) {
                if (on) {
                    c.hiddenKinds.erase(kind);
                } else {
                    c.hiddenKinds.insert(kind);
                }
            });
        });
    }
}

}  // namespace pantry::app

#include "moc_place_menu.cpp"
