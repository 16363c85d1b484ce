#include <algorithm>

#include "app/base/background.h"
#include "app/base/text.h"
#include "app/pages/form/form_page.h"
#include "app/pages/object/object_page.h"
#include "app/pages/object/overview_page.h"
#include "app/pages/server/server_page.h"
#include "app/pages/sheet/sheet_page.h"
#include "app/pages/text/text_page.h"
#include "app/shell/main_window.h"
#include "app/shell/page_host.h"
#include "core/catalog/catalog_view.h"
#include "core/db/engine_traits.h"
#include "core/sql/forms/form.h"
#include "core/sql/write/names.h"
#include "core/sql/write/read_queries.h"

// What is done with objects of a catalog: their pages, first rows, scripts, and the forms that make and change them.

namespace pantry::app {

void MainWindow::openObject(const ObjectPlace& wanted) {
    ObjectPlace place = wanted;
    desk_.connections().beginWith(fromQt(place.connectionId));
    const auto catalog = desk_.catalogs().state(fromQt(place.connectionId), place.database).catalog;
    if (const auto* relation = catalog ? catalog->find(place.object.schema, place.object.name) : nullptr;
        relation != nullptr && place.object.kind <= catalog::ObjectKind::VirtualTable) {
        place.object = {.kind = relation->kind, .schema = relation->schema, .name = relation->name};
    }
    const auto open =
        std::ranges::find_if(objectPages_, [&](const ObjectPage* page) { return page->object() == place; });
    if (open != objectPages_.end()) return host_->bringToFront(*open);
    catalog_->choosePlace(place.connectionId, place.database);
    catalog_->chooseObject(place.object);
    auto* page = new ObjectPage(desk_, place, host_->placeOfPages());
    connect(page, &ObjectPage::rowsRequested, this, &MainWindow::showFirstRows);
    connect(page, &ObjectPage::objectRequested, this, &MainWindow::openObject);
    connect(page, &ObjectPage::sheetRequested, this, &MainWindow::openStatements);
    connect(page, &ObjectPage::callRequested, this, &MainWindow::runText);
    connect(page, &ObjectPage::scriptRequested, this, &MainWindow::writeScript);
    connect(page, &ObjectPage::tableRequested, this, &MainWindow::openTable);
    connect(page, &ObjectPage::formRequested, this, &MainWindow::openForm);
    connect(page, &ObjectPage::textRequested, this, &MainWindow::editText);
    objectPages_.push_back(page);
    host_->add(page, true);
    page->setFocus();
}

void MainWindow::showFirstRows(const ObjectPlace& place) {
    const auto* p = desk_.connections().profile(fromQt(place.connectionId));
    if (p == nullptr) return;
    const sql::Dialect dialect = db::dialectOf(p->engine);
    const auto catalog = desk_.catalogs().state(fromQt(place.connectionId), place.database).catalog;
    const catalog::Relation* relation = catalog ? catalog->find(place.object.schema, place.object.name) : nullptr;
    const std::string table = relation != nullptr ? sql::nameOf(*relation, catalog::View(catalog), dialect)
                                                  : sql::qualifiedName(place.object.schema, place.object.name, dialect);
    passingSheet(place)->showInPassing(toQt(place.object.name), sql::firstRowsOf(table));
}

/// In the sheet of the connection that it is for; nothing of it is run.
void MainWindow::writeScript(const ScriptWish& wish) {
    const db::ConnectionProfile* target = desk_.connections().profile(fromQt(wish.targetId));
    if (target == nullptr || wish.objects.empty()) return;
    std::vector<catalog::ObjectName> names;
    for (const ObjectPlace& one : wish.objects) names.push_back(one.object);
    const ObjectPlace& first = wish.objects.front();
    const bool isHere = wish.targetId == first.connectionId;
    store::SheetState state;
    state.connectionId = target->id;
    if (isHere) state.database = first.database;
    const QString title = wish.objects.size() == 1
                              ? toQt(first.object.name)
                              : tr("%1 and %2 more").arg(toQt(first.object.name)).arg(wish.objects.size() - 1);
    desk_.catalogs().writeScript(
        fromQt(first.connectionId), first.database, wish.kind, names, db::dialectOf(target->engine),
        whileThere(this, [this, state, title, isAtCursor = wish.isAtCursor](const Result<std::string>& script) {
            if (!script) return desk_.raise(script.error());
            SheetPage* sheet = currentSheet();
            if (isAtCursor && sheet != nullptr) {
                sheet->editor()->insertText(*script);
                sheet->editor()->setFocus();
                return;
            }
            SheetPage* page = openNewSheet(store::SheetState(state), *script);
            page->sheet().setTitle(title);
        }));
}

/// A new table when the place names none.
void MainWindow::openTable(const ObjectPlace& wanted, TablePage::Wish wish) {
    ObjectPlace place = wanted;
    desk_.connections().beginWith(fromQt(place.connectionId));
    if (place.object.schema.empty()) {
        const auto catalog = desk_.catalogs().state(fromQt(place.connectionId), place.database).catalog;
        if (catalog && !catalog->facts().searchPath.empty()) place.object.schema = catalog->facts().searchPath.front();
    }
    auto* page = new TablePage(desk_, place, wish, host_->placeOfPages());
    connect(page, &TablePage::sheetRequested, this, &MainWindow::openStatements);
    connect(page, &TablePage::closeRequested, this, [this, page] { closePage(page); });
    connect(page, &TablePage::done, this, [this, page](const ObjectPlace& there) {
        closePage(page);
        showMade(there);
    });
    host_->add(page, true);
    page->enter();
}

void MainWindow::openOverview(const ObjectPlace& place) {
    desk_.connections().beginWith(fromQt(place.connectionId));
    auto* page = new OverviewPage(desk_, place, host_->placeOfPages());
    connect(page, &OverviewPage::objectRequested, this, &MainWindow::openObject);
    connect(page, &OverviewPage::serverRequested, this, &MainWindow::openServer);
    host_->add(page, true);
    page->enter();
}

/// Each server has one page.
void MainWindow::openServer(const ObjectPlace& place, const QString& subject) {
    desk_.connections().beginWith(fromQt(place.connectionId));
    for (Page* one : host_->pages()) {
        auto* open = dynamic_cast<ServerPage*>(one);
        if (open == nullptr || open->object().connectionId != place.connectionId ||
            open->object().database != place.database) {
            continue;
        }
        open->show(subject);
        return host_->bringToFront(open);
    }
    const ChangeChoices choices{
        .table = {}, .form = [this](const ObjectPlace& one, const QString& form) { openForm(one, form); }, .text = {}};
    auto* page = new ServerPage(desk_, {place.connectionId, place.database, {.schema = place.object.schema}}, subject,
                                choices, host_->placeOfPages());
    connect(page, &ServerPage::sheetRequested, this, &MainWindow::openStatements);
    host_->add(page, true);
    page->pane()->grid()->setFocus();
}

void MainWindow::openForm(const ObjectPlace& place, const QString& form) {
    const sql::FormEntry* entry = sql::formEntry(fromQt(form));
    if (entry == nullptr) return;
    desk_.connections().beginWith(fromQt(place.connectionId));
    auto* page = new FormPage(desk_, place, *entry, host_->placeOfPages());
    connect(page, &FormPage::sheetRequested, this, &MainWindow::openStatements);
    connect(page, &FormPage::closeRequested, this, [this, page] { closePage(page); });
    connect(page, &FormPage::done, this, [this, page, entry, place](const std::optional<ObjectPlace>& there) {
        closePage(page);
        const bool isAboutObject = entry->group == sql::FormGroup::Object;
        if (isAboutObject && (!there || there->object != place.object)) closeObject(place);
        say(tr("Done: %1.").arg(page->title()));
        if (there) return showMade(*there);
        if (host_->current() != nullptr) host_->current()->enter();
    });
    host_->add(page, true);
    page->enter();
}

/// One text has one page.
void MainWindow::editText(const ObjectPlace& place, const sql::EditedObject& edited) {
    desk_.connections().beginWith(fromQt(place.connectionId));
    for (Page* one : host_->pages()) {
        auto* open = dynamic_cast<TextPage*>(one);
        if (open == nullptr || edited.isNew() || open->edited().trigger != edited.trigger) continue;
        if (open->object() == place) return host_->bringToFront(open);
    }
    auto* page = new TextPage(desk_, place, edited, host_->placeOfPages());
    connect(page, &TextPage::sheetRequested, this, &MainWindow::openStatements);
    connect(page, &TextPage::closeRequested, this, [this, page] { closePage(page); });
    connect(page, &TextPage::made, this, [this, page](const ObjectPlace& there) {
        closePage(page);
        showMade(there);
    });
    host_->add(page, true);
    page->enter();
}

/// Pages of what is not there any more go with it.
void MainWindow::closeObject(const ObjectPlace& place) {
    const auto open =
        std::ranges::find_if(objectPages_, [&](const ObjectPage* page) { return page->object() == place; });
    if (open != objectPages_.end()) closePage(*open);
}

/// What was made, as the catalog has it: of a routine whose parameters are not known, any of its name.
std::optional<ObjectPlace> MainWindow::madeIn(const catalog::Catalog& catalog, const ObjectPlace& place) {
    const catalog::ObjectName& name = place.object;
    if (catalog.find(name.schema, name.name) != nullptr) return place;
    if (catalog.findObject(name.schema, name.name, name.signature) != nullptr) return place;
    const catalog::Schema* schema = catalog.schema(name.schema);
    if (schema == nullptr) return {};
    for (const catalog::Object& one : schema->objects) {
        if (one.kind != name.kind || one.name != name.name) continue;
        return ObjectPlace{place.connectionId, place.database, {one.kind, one.schema, one.name, one.signature}};
    }
    return {};
}

/// What was made or changed is chosen and shown, once the catalog knows it.
void MainWindow::showMade(const ObjectPlace& place) {
    const auto there = [this, place]() -> std::optional<ObjectPlace> {
        const auto state = desk_.catalogs().state(fromQt(place.connectionId), place.database);
        return state.catalog && !state.isLoading ? madeIn(*state.catalog, place) : std::nullopt;
    };
    if (const auto now = there()) return openObject(*now);
    auto* waiting = new QObject(this);
    connect(&desk_, &Desk::catalogChanged, waiting, [this, waiting, there] {
        const auto now = there();
        if (!now) return;
        waiting->deleteLater();
        waiting->disconnect();
        QMetaObject::invokeMethod(
            this, [this, now] { openObject(*now); }, Qt::QueuedConnection);
    });
}

/// The same, run at once.
void MainWindow::runText(const ObjectPlace& place, const QString& title, const QString& text) {
    openStatements(place, title, text);
    if (SheetPage* page = currentSheet()) page->runAll();
}

/// Statements in a sheet of their own; nothing of them is run.
void MainWindow::openStatements(const ObjectPlace& place, const QString& title, const QString& text) {
    store::SheetState state;
    state.connectionId = fromQt(place.connectionId);
    state.database = place.database;
    SheetPage* page = openNewSheet(std::move(state), fromQt(text));
    page->sheet().setTitle(title);
}

}  // namespace pantry::app
