#include "app/catalog/catalog_panel.h"

#include <QKeyEvent>
#include <QVBoxLayout>
#include <algorithm>
#include <utility>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/catalog/place_menu.h"
#include "app/catalog/row_delegate.h"
#include "app/command/command.h"
#include "app/look/connection_colours.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/db/engine_traits.h"
#include "core/sql/write/standard_queries.h"

namespace pantry::app {
namespace {

constexpr int kMaxHeight = 220;  // of the connections, so that the objects have room

template <class List>
List* makeList(QWidget* parent, const char* objectName, const QString& accessibleName) {
    auto* list = new List(parent);
    name(list, objectName, accessibleName);
    list->setItemDelegate(new RowDelegate(list));
    list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list->setUniformItemSizes(false);
    return list;
}

QListWidgetItem* addRow(QListWidget* list, CatalogRowKind kind, const QString& text) {
    auto* item = new QListWidgetItem(text, list);
    item->setData(RowKindRole, int(kind));
    if (kind != CatalogRowKind::Connection) item->setFlags(Qt::NoItemFlags);
    return item;
}

}  // namespace

CatalogPanel::CatalogPanel(Desk& desk, QWidget* parent)
    : QWidget(parent),
      desk_(desk),
      fold_(makeButton({}, "plainLeft", "connectionsFold", tr("Fold or unfold the connections"), this)),
      sheetPlace_(makeButton({}, "plainLeft", "catalogOfSheet", tr("Show the catalog of the sheet"), this)),
      connections_(makeList<QListWidget>(this, objectName::kConnectionList, tr("Connections"))),
      find_(new QLineEdit(this)),
      place_(makeButton({}, "crumb", objectName::kCatalogPlace, tr("What is shown of this catalog"), this)),
      stop_(makeButton(tr("Stop"), "link", objectName::kCatalogStop, tr("Stop reading the catalog"), this)),
      model_(new CatalogModel(this)),
      objects_(makeList<QListView>(this, objectName::kObjectList, tr("Objects of the catalog"))),
      card_(new ObjectCard(this)),
      parts_(new QSplitter(Qt::Vertical, this)) {
    name(find_, objectName::kCatalogFind, tr("Find a table, column or view"));
    find_->setProperty("look", "find");
    find_->setPlaceholderText(tr("Find a table, column, view…   /"));
    find_->setClearButtonEnabled(true);
    place_->setToolTip(tr("Choose database, schemas and kinds"));
    objects_->setModel(model_);
    objects_->setSelectionMode(QAbstractItemView::ExtendedSelection);  // several names go into a text as a list
    objects_->setDragEnabled(true);
    objects_->setDragDropMode(QAbstractItemView::DragOnly);
    objects_->setContextMenuPolicy(Qt::CustomContextMenu);
    for (QWidget* watched :
         {static_cast<QWidget*>(find_), static_cast<QWidget*>(objects_), static_cast<QWidget*>(connections_)}) {
        watched->installEventFilter(this);
    }
    makeLayout();
    followChoices();
    fillConnections();
    if (!desk_.connections().profiles().empty()) choosePlace(toQt(desk_.connections().profiles().front().id));
}

void CatalogPanel::makeLayout() {
    connections_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 6, 0, 0);
    layout->setSpacing(4);
    auto* foldRow = new QHBoxLayout;
    foldRow->setContentsMargins(8, 0, 12, 0);
    foldRow->addWidget(fold_, 0, Qt::AlignLeft);
    layout->addLayout(foldRow);
    layout->addWidget(connections_);
    auto* sheetRow = new QHBoxLayout;
    sheetRow->setContentsMargins(12, 0, 12, 0);
    sheetRow->addWidget(sheetPlace_);
    layout->addLayout(sheetRow);
    sheetPlace_->hide();
    auto* findRow = new QHBoxLayout;
    findRow->setContentsMargins(12, 6, 12, 0);
    findRow->addWidget(find_);
    layout->addLayout(findRow);
    auto* placeRow = new QHBoxLayout;
    placeRow->setContentsMargins(6, 0, 12, 2);
    placeRow->addWidget(place_);
    placeRow->addStretch();
    placeRow->addWidget(stop_);
    layout->addLayout(placeRow);
    layout->addWidget(makeParts(), 1);
}

void CatalogPanel::followChoices() {
    connect(fold_, &QPushButton::clicked, this, [this] {
        desk_.preferences().changeWindowState([](auto& s) { s.isConnectionListFolded = !s.isConnectionListFolded; });
        fillConnections();
    });
    connect(sheetPlace_, &QPushButton::clicked, this, [this] { choosePlace(sheetConnection_, sheetDatabase_); });
    connect(find_, &QLineEdit::textChanged, this, &CatalogPanel::fillObjects);
    connect(find_, &QLineEdit::textEdited, this, [this] { whenListed_.clear(); });  // it was meant for less letters
    connect(place_, &QPushButton::clicked, this, &CatalogPanel::showPlaceMenu);
    connect(stop_, &QPushButton::clicked, this, [this] { desk_.catalogs().stop(fromQt(connectionId_), database_); });
    connect(objects_->selectionModel(), &QItemSelectionModel::currentChanged, this, &CatalogPanel::showCard);
    connect(objects_, &QListView::doubleClicked, this, &CatalogPanel::openCurrent);
    connect(objects_, &QWidget::customContextMenuRequested, this, &CatalogPanel::showMenu);
    connect(connections_, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* item) {
        if (item != nullptr && !item->data(IdRole).toString().isEmpty()) choosePlace(item->data(IdRole).toString());
    });
    connect(connections_, &QListWidget::itemClicked, this, &CatalogPanel::beginWith);
    connect(connections_, &QListWidget::itemActivated, this, &CatalogPanel::beginWith);
    connect(&desk_, &Desk::begun, this, [this](const QString& id) {
        if (id == connectionId_) desk_.catalogs().want(fromQt(connectionId_), database_);
        if (id == connectionId_) fillObjects();
    });
    connect(connections_, &QListWidget::itemDoubleClicked, this,
            [this](QListWidgetItem* item) { Q_EMIT sheetRequested(item->data(IdRole).toString()); });
    connect(&desk_, &Desk::profilesChanged, this, &CatalogPanel::fillConnections);
    connect(&desk_, &Desk::catalogChanged, this, [this](const QString& id) {
        if (id == connectionId_) fillObjects();
    });
    connect(&desk_, &Desk::catalogProgressed, this, [this](const QString& id) {
        if (id == connectionId_) showState();
    });
    connect(&Theme::current(), &Theme::changed, this, [this] {
        fillConnections();
        objects_->doItemsLayout();
        showCard();
    });
}

/// The card keeps the height that somebody gave it; the objects have the rest.
QWidget* CatalogPanel::makeParts() {
    parts_->addWidget(objects_);
    parts_->addWidget(card_);
    parts_->setStretchFactor(0, 1);
    parts_->setStretchFactor(1, 0);
    parts_->setChildrenCollapsible(false);
    const int height = desk_.windowState().objectCardHeight;
    parts_->setSizes({1000, height});
    connect(parts_, &QSplitter::splitterMoved, this, [this] {
        desk_.preferences().changeWindowState([this](auto& s) { s.objectCardHeight = parts_->sizes()[1]; });
    });
    return parts_;
}

/// When the sheet in front runs elsewhere, so that nobody takes one's tables for the other's.
void CatalogPanel::noteSheet(const QString& connectionId, const std::string& database) {
    sheetConnection_ = connectionId;
    sheetDatabase_ = database;
    showSheetPlace();
}

void CatalogPanel::showSheetPlace() {
    const db::ConnectionProfile* p = desk_.connections().profile(fromQt(sheetConnection_));
    const std::string other = p == nullptr || sheetDatabase_ == p->database ? std::string() : sheetDatabase_;
    const bool isElsewhere = p != nullptr && (sheetConnection_ != connectionId_ || other != database_);
    sheetPlace_->setVisible(isElsewhere);
    if (!isElsewhere) return;
    QString place = toQt(p->name);
    if (!other.empty()) place += QStringLiteral(" › ") + toQt(other);
    sheetPlace_->setIcon(markIcon(Theme::current().connectionColour(signalColour(*p))));
    const QString words = tr("Sheet runs on %1").arg(place);
    sheetPlace_->setText(sheetPlace_->fontMetrics().elidedText(words, Qt::ElideRight, width() - 52));
    sheetPlace_->setToolTip(words + tr("\nClick: show its catalog"));
}

/// Folded, only the chosen connection stays, and the objects have the room.
void CatalogPanel::foldConnections() {
    const bool isFolded = desk_.windowState().isConnectionListFolded && desk_.connections().profiles().size() > 1;
    fold_->setVisible(desk_.connections().profiles().size() > 1);
    fold_->setText(
        tr("Connections · %1 %2").arg(desk_.connections().profiles().size()).arg(isFolded ? tr("▸") : tr("▾")));
    int height = 4;
    for (int i = 0; i < connections_->count(); ++i) {
        const QListWidgetItem* item = connections_->item(i);
        const bool isShown = !isFolded || item->data(IdRole).toString() == connectionId_;
        connections_->setRowHidden(i, !isShown);
        const auto kind = static_cast<CatalogRowKind>(item->data(RowKindRole).toInt());
        if (isShown) height += RowDelegate::heightOf(kind);
    }
    connections_->setFixedHeight(std::min(height, Theme::px(kMaxHeight)));
}

void CatalogPanel::fillConnections() {
    const QSignalBlocker blocker(connections_);
    connections_->clear();
    std::string group;
    for (const db::ConnectionProfile* p : desk_.connections().byGroup()) {
        if (p->group != group) {
            group = p->group;
            addRow(connections_, CatalogRowKind::Section, toQt(group));
        }
        auto* item = addRow(connections_, CatalogRowKind::Connection, toQt(p->name));
        item->setData(IdRole, toQt(p->id));
        item->setData(DetailRole, toQt(db::environmentWord(p->environment)));
        item->setData(ColourRole, Theme::current().connectionColour(signalColour(*p)));
        item->setToolTip(tr("%1\nDouble click opens a sheet on it").arg(toQt(db::placeOf(*p))));
        if (toQt(p->id) == connectionId_) connections_->setCurrentItem(item);
    }
    if (desk_.connections().profiles().empty()) {
        addRow(connections_, CatalogRowKind::Remark, tr("No connection yet. Make one on the page Connections."));
    }
    foldConnections();
}

void CatalogPanel::beginWith(const QListWidgetItem* item) {
    const QString id = item->data(IdRole).toString();
    if (!id.isEmpty()) desk_.connections().beginWith(fromQt(id));
}

void CatalogPanel::choosePlace(const QString& connectionId, const std::string& database) {
    const db::ConnectionProfile* p = desk_.connections().profile(fromQt(connectionId));
    if (p == nullptr) return;
    const std::string other = database == p->database ? std::string() : database;
    if (connectionId == connectionId_ && other == database_) return;
    connectionId_ = connectionId;
    database_ = other;
    for (int i = 0; i < connections_->count(); ++i) {
        const QSignalBlocker blocker(connections_);
        if (connections_->item(i)->data(IdRole).toString() == connectionId) connections_->setCurrentRow(i);
    }
    foldConnections();
    showSheetPlace();
    model_->setDialect(db::dialectOf(p->engine));
    desk_.catalogs().want(fromQt(connectionId_), database_);
    fillObjects();
}

/// What stands where the objects would be, when there are none.
QString CatalogPanel::remark() const {
    const auto state = desk_.catalogs().state(fromQt(connectionId_), database_);
    if (state.catalog) {
        if (!find_->text().trimmed().isEmpty()) {
            return tr("No table, view or column here fits “%1”. Esc shows all.").arg(find_->text());
        }
        return desk_.catalogs().choices(fromQt(connectionId_), database_).hiddenSchemas.empty()
                   ? tr("This database holds no table yet.")
                   : tr("Nothing is in the schemas that are shown. Choose others above.");
    }
    if (state.error) return toQt(*state.error);
    if (state.isLoading) return tr("Reading the catalog…");
    const db::ConnectionProfile* p = desk_.connections().profile(fromQt(connectionId_));
    if (p == nullptr) return tr("Choose a connection.");
    return desk_.connections().hasBegunWith(fromQt(connectionId_))
               ? QString()
               : tr("Not connected. A click on %1 above connects.").arg(toQt(p->name));
}

/// The list is worked out beside the window; one that nobody waits for any more is given up.
void CatalogPanel::fillObjects() {
    listing_.request();
    listing_ = base::Cancellation();
    showState();
    const auto catalog = desk_.catalogs().state(fromQt(connectionId_), database_).catalog;
    if (!catalog) {
        isListing_ = false;
        return showList(nullptr, {});
    }
    isListing_ = true;
    inBackground(
        this,
        [catalog, pattern = fromQt(find_->text().trimmed()),
         choices = desk_.catalogs().choices(fromQt(connectionId_), database_)] {
            return catalog::listCatalog(*catalog, pattern, choices);
        },
        [this, catalog, cancellation = listing_](std::vector<catalog::Row> rows) {
            if (cancellation.isRequested()) return;
            isListing_ = false;
            showList(catalog, std::move(rows));
        });
}

/// What was chosen stays so; while something is looked for, the best of it is chosen.
void CatalogPanel::showList(const catalog::CatalogPtr& catalog, std::vector<catalog::Row> rows) {
    const catalog::Row* before = current();
    const catalog::ObjectName kept = before != nullptr ? before->name() : catalog::ObjectName{};
    model_->show(catalog, std::move(rows), remark());
    QModelIndex index = model_->indexOf(kept);
    if (!index.isValid() && !find_->text().isEmpty()) index = model_->firstObject();
    if (index.isValid()) {
        objects_->setCurrentIndex(index);
        objects_->scrollTo(index);
    }
    showCard();
    for (const std::function<void()>& act : std::exchange(whenListed_, {})) act();
}

/// Now, or once the list of what was typed and chosen before is there.
void CatalogPanel::whenListed(std::function<void()> act) {
    if (!isListing_) return act();
    whenListed_.push_back(std::move(act));
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
    QString words = shown.size() <= 2 ? shown.join(QStringLiteral(", ")) : tr("%1 schemas").arg(shown.size());
    if (shown.isEmpty()) words = tr("no schema");
    if (others > 0) words += tr(" of %1").arg(static_cast<std::size_t>(shown.size()) + others);
    if (!state.catalog->facts().database.empty()) {
        words = toQt(state.catalog->facts().database) + QStringLiteral(" › ") + words;
    }
    if (!choices.hiddenKinds.empty()) words += tr(", some kinds");
    if (state.error) words = tr("Not read again: ") + words;
    place_->setToolTip(state.error ? toQt(*state.error) : tr("Choose database, schemas and kinds"));
    place_->setText(QFontMetrics(place_->font()).elidedText(words, Qt::ElideMiddle, width() - 60) +
                    QStringLiteral(" ▾"));
}

void CatalogPanel::showPlaceMenu() {
    auto* menu = new PlaceMenu(desk_, connectionId_, database_, this);
    connect(menu, &PlaceMenu::databaseChosen, this,
            [this](const std::string& database) { choosePlace(connectionId_, database); });
    menu->popup(place_->mapToGlobal(QPoint(0, place_->height())));
}

const catalog::Row* CatalogPanel::current() const { return model_->rowAt(objects_->currentIndex()); }

ObjectPlace CatalogPanel::currentPlace() const {
    const catalog::Row* row = current();
    return {connectionId_, database_, row != nullptr ? row->name() : catalog::ObjectName{}};
}

void CatalogPanel::showCard() {
    const catalog::Row* row = current();
    card_->show(row != nullptr ? row->relation : nullptr);
}

void CatalogPanel::chooseObject(const catalog::ObjectName& object) {
    if (!find_->text().isEmpty()) find_->clear();
    whenListed([this, object] {
        const QModelIndex index = model_->indexOf(object);
        if (!index.isValid()) return;
        objects_->setCurrentIndex(index);
        objects_->scrollTo(index);
    });
}

void CatalogPanel::openCurrent() {
    whenListed([this] {
        if (current() != nullptr) Q_EMIT objectRequested(currentPlace());
    });
}

void CatalogPanel::showRows() {
    whenListed([this] {
        if (current() != nullptr && current()->relation != nullptr) Q_EMIT rowsRequested(currentPlace());
    });
}

void CatalogPanel::toggleFavourite() {
    whenListed([this] {
        if (current() == nullptr) return;
        const catalog::ObjectName object = current()->name();
        desk_.catalogs().changeChoices(fromQt(connectionId_), database_, [&](catalog::Choices& choices) {
            choices.toggleFavourite(object.schema, object.name);
        });
    });
}

void CatalogPanel::showMenu(const QPoint& at) {
    const catalog::Row* row = current();
    if (row == nullptr) return;
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    name(menu, objectName::kObjectMenu, tr("What can be done with this object"));
    const catalog::ObjectName object = row->name();
    connect(menu->addAction(tr("Open details\tReturn")), &QAction::triggered, this, &CatalogPanel::openCurrent);
    if (row->relation != nullptr) {
        connect(menu->addAction(QStringLiteral("%1\t%2").arg(tr("First rows"), keyText("catalog.firstRows"))),
                &QAction::triggered, this, &CatalogPanel::showRows);
    }
    if (row->relation != nullptr) addQueries(menu->addMenu(tr("Queries")));
    connect(menu->addAction(tr("Insert name")), &QAction::triggered, this,
            [this, object] { Q_EMIT nameRequested(toQt(model_->nameInStatement(object))); });
    const bool isFavourite =
        desk_.catalogs().choices(fromQt(connectionId_), database_).isFavourite(object.schema, object.name);
    connect(menu->addAction(isFavourite ? tr("Remove from favourites\tSpace") : tr("Add to favourites\tSpace")),
            &QAction::triggered, this, &CatalogPanel::toggleFavourite);
    menu->popup(objects_->viewport()->mapToGlobal(at));
}

/// What people ask of nearly every table, and below it what somebody has saved that names this one.
void CatalogPanel::addQueries(QMenu* menu) {
    const ObjectPlace place = currentPlace();
    const db::ConnectionProfile* profile = desk_.connections().profile(fromQt(connectionId_));
    const auto catalog = desk_.catalogs().state(fromQt(connectionId_), database_).catalog;
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
