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
      scope_(makeScope()),
      server_(makeButton({}, "plainLeft", objectName::kCatalogServer, tr("Server and time of the last reading"), this)),
      listing_(new CatalogListing(desk, this)),
      model_(new CatalogModel(this)),
      nothing_(new NothingHere(this)),
      objects_(makeList<QListView>(this, objectName::kObjectList, tr("Objects of the catalog"))),
      card_(new ObjectCard(this)),
      parts_(new QSplitter(Qt::Vertical, this)) {
    name(find_, objectName::kCatalogFind, tr("Find a table, column or view"));
    find_->setProperty("look", "find");
    find_->setPlaceholderText(tr("Find a table, column, comment…   /"));
    find_->setToolTip(tr("Beginnings of words are enough: frale finds frost_alert. A dot parts a schema from a name."));
    find_->setClearButtonEnabled(true);
    place_->setToolTip(tr("Choose database, schemas, kinds and order"));
    server_->setToolTip(tr("Read the catalog again (%1)").arg(keyText("catalog.refresh")));
    objects_->setModel(model_);
    objects_->setUniformItemSizes(true);
    Theme::fit(this, [this] { server_->setFixedHeight(Theme::px(18)); });
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
    layout->addWidget(scope_);
    auto* placeRow = new QHBoxLayout;
    placeRow->setContentsMargins(6, 0, 12, 2);
    placeRow->addWidget(place_);
    placeRow->addStretch();
    placeRow->addWidget(stop_);
    layout->addLayout(placeRow);
    auto* serverRow = new QHBoxLayout;
    serverRow->setContentsMargins(10, 0, 12, 0);
    serverRow->addWidget(server_);
    layout->addLayout(serverRow);
    layout->addWidget(makeParts(), 1);
}

/// Where is looked besides; of no use, and so not there, while nothing is looked for.
QWidget* CatalogPanel::makeScope() {
    auto* scope = new QWidget(this);
    everywhere_ = new QCheckBox(tr("All connections"), scope);
    texts_ = new QCheckBox(tr("Texts"), scope);
    name(everywhere_, objectName::kCatalogEverywhere, tr("Look in all connections that were opened"));
    name(texts_, objectName::kCatalogTexts, tr("Look in the texts of views, routines and triggers"));
    everywhere_->setToolTip(commandTip("catalog.everywhere"));
    texts_->setToolTip(commandTip("catalog.texts"));
    auto* row = new QHBoxLayout(scope);
    row->setContentsMargins(14, 2, 12, 0);
    row->setSpacing(14);
    row->addWidget(everywhere_);
    row->addWidget(texts_);
    row->addStretch();
    scope->hide();
    return scope;
}

void CatalogPanel::followChoices() {
    connect(fold_, &QPushButton::clicked, this, [this] {
        desk_.preferences().changeWindowState([](auto& s) { s.isConnectionListFolded = !s.isConnectionListFolded; });
        fillConnections();
    });
    connect(sheetPlace_, &QPushButton::clicked, this, [this] { choosePlace(sheetConnection_, sheetDatabase_); });
    connect(find_, &QLineEdit::textChanged, this, &CatalogPanel::fillObjects);
    connect(everywhere_, &QCheckBox::toggled, this, &CatalogPanel::fillObjects);
    connect(texts_, &QCheckBox::toggled, this, &CatalogPanel::fillObjects);
    connect(listing_, &CatalogListing::listed, this, &CatalogPanel::showList);
    connect(server_, &QPushButton::clicked, this, [this] { desk_.catalogs().load(fromQt(connectionId_), database_); });
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
        if (id == connectionId_ || everywhere_->isChecked()) fillObjects();
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
    auto* list = new QWidget(parts_);
    auto* layout = new QVBoxLayout(list);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(nothing_);
    layout->addWidget(objects_, 1);
    nothing_->hide();
    parts_->addWidget(list);
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
    const QString text = tr("Sheet runs on %1").arg(place);
    sheetPlace_->setText(sheetPlace_->fontMetrics().elidedText(text, Qt::ElideRight, width() - 52));
    sheetPlace_->setToolTip(text + tr("\nClick: show its catalog"));
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
    desk_.catalogs().want(fromQt(connectionId_), database_);
    fillObjects();
}

}  // namespace pantry::app

#include "moc_catalog_panel.cpp"
