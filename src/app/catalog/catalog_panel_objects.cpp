#include <QKeyEvent>
#include <algorithm>
#include <utility>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/catalog/catalog_panel.h"
#include "app/catalog/place_menu.h"
#include "app/catalog/row_delegate.h"
#include "app/command/command.h"
#include "app/look/widgets.h"
#include "core/base/text.h"
#include "core/base/time.h"
#include "core/db/engine_traits.h"
#include "core/sql/write/standard_queries.h"

// The lower half of the catalog page: the list of objects and what can be done with them.

namespace pantry::app {

/// What stands where the objects would be, when there are none.
QString CatalogPanel::remark(const Listed& list) const {
    const auto state = desk_.catalogs().state(fromQt(connectionId_), database_);
    const db::ConnectionProfile* p = desk_.connections().profile(fromQt(connectionId_));
    if (!list.catalogs.empty()) {
        if (!list.wish.pattern.empty()) {
            QString text =
                list.places.size() > 1
                    ? tr("Nothing fits “%1” in the names, columns and comments of %2 connections.")
                          .arg(toQt(list.wish.pattern))
                          .arg(list.places.size())
                    : tr("Nothing fits “%1” in the names, columns and comments here.").arg(toQt(list.wish.pattern));
            return list.wish.withTexts ? text + tr(" Texts say nothing of it either.") : text;
        }
        return list.elsewhere.empty() ? tr("This database holds nothing yet.")
                                      : tr("Nothing of what is shown is here.");
    }
    if (state.error) return toQt(*state.error);
    if (state.isLoading) return tr("Reading the catalog…");
    if (p == nullptr) return tr("Choose a connection.");
    return desk_.connections().hasBegunWith(fromQt(connectionId_))
               ? QString()
               : tr("Not connected to %1. Return, or a click, connects.").arg(toQt(p->name));
}

ListWish CatalogPanel::wish() const {
    const QString pattern = find_->text().trimmed();
    return {.connectionId = connectionId_,
            .database = database_,
            .pattern = fromQt(pattern),
            .isEverywhere = !pattern.isEmpty() && everywhere_->isChecked(),
            .withTexts = !pattern.isEmpty() && texts_->isChecked()};
}

void CatalogPanel::fillObjects() {
    scope_->setVisible(!find_->text().trimmed().isEmpty());
    showState();
    showServer();
    listing_->list(wish());
}

/// What was chosen stays so; while something is looked for, the best of it is chosen.
void CatalogPanel::showList(const Listed& list) {
    const ObjectPlace kept = model_->placeAt(objects_->currentIndex());
    model_->show(list);
    nothing_->setVisible(list.rows.empty());
    if (list.rows.empty()) showNothing(list);
    QModelIndex index = model_->indexOf(kept);
    if (!index.isValid() && !find_->text().isEmpty()) index = model_->firstObject();
    if (index.isValid()) {
        objects_->setCurrentIndex(index);
        objects_->scrollTo(index);
    }
    showCard();
    for (const std::function<void()>& act : std::exchange(whenListed_, {})) act();
}

void CatalogPanel::showNothing(const Listed& list) { nothing_->say(remark(list), waysOf(list)); }

/// Ways to where there is something of what was looked for.
std::vector<NothingHere::Way> CatalogPanel::waysOf(const Listed& list) {
    std::vector<NothingHere::Way> ways;
    const db::ConnectionProfile* profile = desk_.connections().profile(fromQt(connectionId_));
    if (profile != nullptr && !desk_.connections().hasBegunWith(profile->id)) {
        ways.push_back({tr("Connect"), [this] { desk_.connections().beginWith(fromQt(connectionId_)); }});
    }
    const auto change = [this](std::function<void(catalog::Choices&)> edit) {
        desk_.catalogs().changeChoices(fromQt(connectionId_), database_, edit);
    };
    for (const catalog::Elsewhere& one : list.elsewhere) {
        if (list.places[one.place].connectionId != connectionId_) continue;
        const QString count = toQt(base::grouped(static_cast<std::int64_t>(one.count)));
        const QString schema = toQt(one.schema);
        switch (one.where) {
            case catalog::Elsewhere::Where::HiddenSchema:
                ways.push_back(
                    {tr("%1 in the hidden schema %2: show it").arg(count, schema),
                     [change, name = one.schema] { change([name](auto& c) { c.hiddenSchemas.erase(name); }); }});
                break;
            case catalog::Elsewhere::Where::HiddenKind:
                ways.push_back(
                    {tr("%1 hidden: %2: show them").arg(count, toQt(base::toLower(catalog::kindHeading(one.kind)))),
                     [change, kind = one.kind] { change([kind](auto& c) { c.hiddenKinds.erase(kind); }); }});
                break;
            case catalog::Elsewhere::Where::UnreadSchema:
                ways.push_back({tr("Schema %1 is not read: read it").arg(schema), [this, change, name = one.schema] {
                                    change([name](auto& c) { c.hiddenSchemas.erase(name); });
                                    desk_.catalogs().load(fromQt(connectionId_), database_, {.schemas = {name}});
                                }});
                break;
            case catalog::Elsewhere::Where::Forbidden:
                ways.push_back({tr("%1 in %2 that you may not read: list them").arg(count, schema), [this, change] {
                                    change([](auto& c) { c.withForbidden = true; });
                                    desk_.catalogs().load(fromQt(connectionId_), database_);
                                }});
                break;
        }
    }
    for (const auto& [place, hits] : list.others) {
        ways.push_back({tr("%1 on %2: look in all connections").arg(hits).arg(place.label),
                        [this] { everywhere_->setChecked(true); }});
    }
    constexpr std::size_t kMaxDatabases = 5;
    for (std::size_t i = 0; i < std::min(list.databases.size(), kMaxDatabases); ++i) {
        ways.push_back({tr("Look in the database %1").arg(toQt(list.databases[i])),
                        [this, database = list.databases[i]] { choosePlace(connectionId_, database); }});
    }
    return ways;
}

/// Now, or once the list of what was typed and chosen before is there.
void CatalogPanel::whenListed(std::function<void()> act) {
    if (!listing_->isListing()) return act();
    whenListed_.push_back(std::move(act));
}

/// The server's version, as whom it is asked, and when it was asked last.
void CatalogPanel::showServer() {
    const auto state = desk_.catalogs().state(fromQt(connectionId_), database_);
    server_->setVisible(state.catalog != nullptr && !state.isLoading);
    if (!state.catalog) return;
    const catalog::Facts& facts = state.catalog->facts();
    QStringList parts{toQt(facts.serverVersion)};
    if (!facts.user.empty()) {
        parts += facts.role.empty() || facts.role == facts.user
                     ? toQt(facts.user)
                     : tr("%1 as %2").arg(toQt(facts.user), toQt(facts.role));
    }
    QString when = toQt(base::spoken(state.readAt, base::now()));
    if (when.startsWith(QLatin1String("today "))) when.remove(0, 6);
    parts += when;
    const QString line = parts.join(QStringLiteral(" · "));
    server_->setText(server_->fontMetrics().elidedText(line, Qt::ElideRight, width() - 34));
    server_->setToolTip(line + QLatin1Char('\n') + tr("Click or %1: read again").arg(keyText("catalog.refresh")));
}

/// Which part of the catalog is shown, or how far its reading is.
void CatalogPanel::showState() {
    const auto state = desk_.catalogs().state(fromQt(connectionId_), database_);
    stop_->setVisible(state.isLoading);
    place_->setVisible(state.isLoading || state.catalog != nullptr);
    if (state.isLoading) {
        place_->setText(state.progress ? tr("Reading %1, %2 of %3")
                                             .arg(toQt(state.progress->part))
                                             .arg(state.progress->number)
                                             .arg(state.progress->all)
                                       : tr("Reading…"));
        return;
    }
    if (!state.catalog) return;
    const catalog::Choices choices = desk_.catalogs().choices(fromQt(connectionId_), database_);
    QStringList shown;
    std::size_t others = 0;
    for (const catalog::SchemaPtr& schema : state.catalog->schemas()) {
        const bool isShown = schema->isLoaded && !choices.hiddenSchemas.contains(schema->name);
        if (isShown) shown += toQt(schema->name);
        others += isShown || schema->isOwn ? 0 : 1;
    }
    QString text = shown.size() <= 2 ? shown.join(QStringLiteral(", ")) : tr("%1 schemas").arg(shown.size());
    if (shown.isEmpty()) text = tr("no schema");
    if (others > 0) text += tr(" of %1").arg(static_cast<std::size_t>(shown.size()) + others);
    if (!state.catalog->facts().database.empty()) {
        text = toQt(state.catalog->facts().database) + QStringLiteral(" › ") + text;
    }
    if (!choices.hiddenKinds.empty()) text += tr(", some kinds");
    if (state.error) text = tr("Not read again: ") + text;
    place_->setToolTip(state.error ? toQt(*state.error) : tr("Choose database, schemas, kinds and order"));
    place_->setText(QFontMetrics(place_->font()).elidedText(text, Qt::ElideMiddle, width() - 60) +
                    QStringLiteral(" ▾"));
}

void CatalogPanel::showPlaceMenu() {
    auto* menu = new PlaceMenu(desk_, connectionId_, database_, this);
    connect(menu, &PlaceMenu::databaseChosen, this,
            [this](const std::string& database) { choosePlace(connectionId_, database); });
    if (desk_.connections().profile(fromQt(connectionId_)) != nullptr) {
        const ObjectPlace here = placeAtHand();
        menu->addSeparator();
        addNewThings(menu->addMenu(tr("New")), desk_, here, changeChoices());
        QMenu* changes = menu->addMenu(tr("Schemas, databases, roles"));
        using sql::FormGroup;
        addServerChanges(changes, desk_, here,
                         {FormGroup::Schema, FormGroup::Database, FormGroup::Role, FormGroup::Right}, false,
                         changeChoices());
        changes->menuAction()->setVisible(!changes->isEmpty());
    }
    menu->popup(place_->mapToGlobal(QPoint(0, place_->height())));
}

ObjectPlace CatalogPanel::placeAtHand() const {
    std::string schema = currentPlace().object.schema;
    const auto catalog = desk_.catalogs().state(fromQt(connectionId_), database_).catalog;
    if (schema.empty() && catalog && !catalog->facts().searchPath.empty()) schema = catalog->facts().searchPath.front();
    return {connectionId_, database_, {.schema = schema}};
}

const catalog::Row* CatalogPanel::current() const { return model_->rowAt(objects_->currentIndex()); }

ObjectPlace CatalogPanel::currentPlace() const { return model_->placeAt(objects_->currentIndex()); }

/// All that are chosen in the place of the current one.
std::vector<ObjectPlace> CatalogPanel::chosenPlaces() const {
    const ObjectPlace here = currentPlace();
    std::vector<ObjectPlace> places;
    QModelIndexList chosen = objects_->selectionModel()->selectedIndexes();
    std::ranges::sort(chosen, {}, &QModelIndex::row);
    for (const QModelIndex& index : chosen) {
        const ObjectPlace place = model_->placeAt(index);
        const bool isHere = place.connectionId == here.connectionId && place.database == here.database;
        if (isHere && std::ranges::find(places, place) == places.end()) places.push_back(place);
    }
    if (places.empty() && !here.object.name.empty()) places.push_back(here);
    return places;
}

void CatalogPanel::showCard() {
    const catalog::Row* row = current();
    if (row == nullptr) return card_->hide();
    if (row->relation != nullptr) return card_->show(*row->relation);
    card_->show(*row->object);
}

void CatalogPanel::chooseObject(const catalog::ObjectName& object) {
    // What was looked for stays, when it is among that.
    if (!find_->text().isEmpty() && !model_->indexOf({connectionId_, database_, object}).isValid()) find_->clear();
    whenListed([this, object] {
        const QModelIndex index = model_->indexOf({connectionId_, database_, object});
        if (!index.isValid()) return;
        objects_->setCurrentIndex(index);
        objects_->scrollTo(index);
    });
}

/// Where nothing is listed since nobody has connected yet, that is what is meant.
void CatalogPanel::openCurrent() {
    if (!connectionId_.isEmpty() && !desk_.connections().hasBegunWith(fromQt(connectionId_))) {
        return desk_.connections().beginWith(fromQt(connectionId_));
    }
    whenListed([this] {
        if (current() == nullptr) return;
        noteUse(currentPlace());
        Q_EMIT objectRequested(currentPlace());
    });
}

void CatalogPanel::showRows() {
    whenListed([this] {
        if (current() == nullptr || current()->relation == nullptr) return;
        noteUse(currentPlace());
        Q_EMIT rowsRequested(currentPlace());
    });
}

void CatalogPanel::toggleFavourite() {
    whenListed([this] {
        if (current() == nullptr) return;
        const ObjectPlace place = currentPlace();
        desk_.catalogs().changeChoices(fromQt(place.connectionId), place.database, [&](catalog::Choices& choices) {
            choices.toggleFavourite(place.object.schema, place.object.name);
        });
    });
}

void CatalogPanel::noteUse(const ObjectPlace& place) {
    desk_.catalogs().changeChoices(fromQt(place.connectionId), place.database, [&](catalog::Choices& choices) {
        choices.noteUse(place.object.schema, place.object.name);
    });
}

void CatalogPanel::showMenu(const QPoint& at) {
    const catalog::Row* row = current();
    if (row == nullptr) return;
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    name(menu, objectName::kObjectMenu, tr("What can be done with this object"));
    const ObjectPlace place = currentPlace();
    const QString inStatement = toQt(model_->nameInStatement(*row));
    connect(menu->addAction(tr("Open details\tReturn")), &QAction::triggered, this, &CatalogPanel::openCurrent);
    if (row->relation != nullptr) {
        connect(menu->addAction(QStringLiteral("%1\t%2").arg(tr("First rows"), keyText("catalog.firstRows"))),
                &QAction::triggered, this, &CatalogPanel::showRows);
    }
    if (row->relation != nullptr) addQueries(menu->addMenu(tr("Queries")));
    addScripts(menu->addMenu(tr("Script")), desk_, chosenPlaces(), [this](const ScriptWish& wish) {
        for (const ObjectPlace& one : wish.objects) noteUse(one);
        Q_EMIT scriptRequested(wish);
    });
    addChanges(menu->addMenu(tr("Change")), desk_, place, changeChoices());
    addNewThings(menu->addMenu(tr("New")), desk_, place, changeChoices());
    connect(menu->addAction(tr("Insert name")), &QAction::triggered, this,
            [this, inStatement] { Q_EMIT nameRequested(inStatement); });
    const bool isFavourite = desk_.catalogs()
                                 .choices(fromQt(place.connectionId), place.database)
                                 .isFavourite(place.object.schema, place.object.name);
    connect(menu->addAction(isFavourite ? tr("Remove from favourites\tSpace") : tr("Add to favourites\tSpace")),
            &QAction::triggered, this, &CatalogPanel::toggleFavourite);
    menu->popup(objects_->viewport()->mapToGlobal(at));
}

ChangeChoices CatalogPanel::changeChoices() {
    return {
        .table = [this](const ObjectPlace& one, TableWish wish) { Q_EMIT tableRequested(one, wish); },
        .form = [this](const ObjectPlace& one, const QString& form) { Q_EMIT formRequested(one, form); },
        .text = [this](const ObjectPlace& one, const sql::EditedObject& edited) { Q_EMIT textRequested(one, edited); }};
}

/// What people ask of nearly every table, and below it what somebody has saved that names this one.
void CatalogPanel::addQueries(QMenu* menu) {
    const ObjectPlace place = currentPlace();
    const db::ConnectionProfile* profile = desk_.connections().profile(fromQt(place.connectionId));
    const auto catalog = desk_.catalogs().state(fromQt(place.connectionId), place.database).catalog;
    const catalog::Relation* relation = catalog ? catalog->find(place.object.schema, place.object.name) : nullptr;
    if (profile == nullptr || relation == nullptr) return;
    name(menu, objectName::kObjectQueries, tr("Queries of this object"));
    const sql::Dialect dialect = db::dialectOf(profile->engine);
    for (const sql::StandardQuery& one : sql::standardQueries(*relation, catalog::View(catalog), dialect)) {
        connect(menu->addAction(toQt(one.label)), &QAction::triggered, this,
                [this, place, one] { Q_EMIT queryRequested(place, toQt(one.title), toQt(one.statement)); });
    }
    desk_.shelf().ask<std::vector<work::ShelvedQuery>>(
        [object = place.object, dialect](work::Shelves& shelves) {
            return shelves.naming(object.schema, object.name, dialect);
        },
        whileThere(menu, [this, menu](const Result<std::vector<work::ShelvedQuery>>& found) {
            if (!found || found->empty()) return;
            menu->addSection(tr("Saved"));
            for (const work::ShelvedQuery& one : *found) {
                connect(menu->addAction(toQt(one.item.head.title)), &QAction::triggered, this,
                        [this, place = one.place] { Q_EMIT savedRequested(place); });
            }
        }));
}

void CatalogPanel::focusFind() {
    find_->setFocus();
    find_->selectAll();
}

bool CatalogPanel::findKey(int key, Qt::KeyboardModifiers modifiers) {
    if (modifiers.testFlag(Qt::ControlModifier) && (key == Qt::Key_Return || key == Qt::Key_Enter)) {
        showRows();
        return true;
    }
    if (modifiers == Qt::AltModifier && key == Qt::Key_A) {
        everywhere_->toggle();
        return true;
    }
    if (modifiers == Qt::AltModifier && key == Qt::Key_T) {
        texts_->toggle();
        return true;
    }
    switch (key) {
        case Qt::Key_Escape: find_->clear(); return true;
        case Qt::Key_Down: objects_->setFocus(); return true;
        case Qt::Key_Return:
        case Qt::Key_Enter: openCurrent(); return true;
        default: return false;
    }
}

bool CatalogPanel::objectsKey(const QString& text, int key, Qt::KeyboardModifiers modifiers) {
    if (text == QLatin1String("/")) {
        focusFind();
        return true;
    }
    if (key == Qt::Key_Space) {
        toggleFavourite();
        return true;
    }
    if (key != Qt::Key_Return && key != Qt::Key_Enter) return false;
    if (modifiers.testFlag(Qt::ControlModifier)) {
        showRows();
    } else {
        openCurrent();
    }
    return true;
}

bool CatalogPanel::eventFilter(QObject* watched, QEvent* event) {
    const bool isForShortcuts = event->type() == QEvent::ShortcutOverride;
    if (isForShortcuts && (watched == objects_ || watched == find_)) {
        // Ctrl+Return means its rows here, not the statement in the sheet.
        const int pressed = static_cast<QKeyEvent*>(event)->key();
        if (pressed == Qt::Key_Return || pressed == Qt::Key_Enter) event->accept();
        const bool isScope = static_cast<QKeyEvent*>(event)->modifiers() == Qt::AltModifier &&
                             (pressed == Qt::Key_A || pressed == Qt::Key_T);
        if (isScope && watched == find_) event->accept();
    }
    if (event->type() != QEvent::KeyPress) return QWidget::eventFilter(watched, event);
    auto* key = static_cast<QKeyEvent*>(event);
    if (watched == find_ && findKey(key->key(), key->modifiers())) return true;
    if (watched == objects_ && objectsKey(key->text(), key->key(), key->modifiers())) return true;
    const bool isReturn = key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter;
    if (watched == connections_ && isReturn && connections_->currentItem() != nullptr) {
        Q_EMIT sheetRequested(connections_->currentItem()->data(IdRole).toString());
        return true;
    }
    return QWidget::eventFilter(watched, event);
}

}  // namespace pantry::app
