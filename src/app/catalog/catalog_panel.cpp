#include "app/catalog/catalog_panel.h"

#include <QIcon>
#include <QKeyEvent>
#include <QMenu>
#include <QPainter>
#include <QStyledItemDelegate>
#include <QVBoxLayout>
#include <algorithm>
#include <set>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/base/widgets.h"
#include "app/theme/theme.h"
#include "core/base/fuzzy.h"
#include "core/base/text.h"
#include "core/sql/lexer.h"

namespace pantry::app {
namespace {

enum Role { IdRole = Qt::UserRole, KindRole, DetailRole, ColourRole, SchemaRole, NameRole };
enum Kind { Section, Connection, Object, Remark };

constexpr int kRowHeight = 27;
constexpr int kObjectHeight = 22;
constexpr int kSectionHeight = 24;

/// Rows of the two lists of this panel: sections, connections with their colour, objects with their icon.
class RowDelegate : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;

    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex& index) const override {
        switch (index.data(KindRole).toInt()) {
            case Section: return {80, kSectionHeight};
            case Connection: return {80, kRowHeight};
            case Remark: return {80, 64};
            default: return {80, kObjectHeight};
        }
    }

    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        const Theme& theme = Theme::current();
        painter->save();
        painter->setRenderHint(QPainter::Antialiasing);
        const int kind = index.data(KindRole).toInt();
        const bool isCurrent = option.state.testFlag(QStyle::State_Selected) && (kind == Connection || kind == Object);
        const QRect box = option.rect.adjusted(8, 1, -8, -1);
        if (isCurrent) {
            painter->setPen(option.state.testFlag(QStyle::State_HasFocus) ? QPen(theme.colour("juniper")) : Qt::NoPen);
            painter->setBrush(theme.colour("selection"));
            painter->drawRoundedRect(box, 4, 4);
        }
        QFont font = option.font;
        font.setPixelSize(13);
        QFont small = font;
        small.setPixelSize(12);
        if (kind == Section || kind == Remark) {
            painter->setFont(small);
            painter->setPen(theme.colour("quiet"));
            const int flags = kind == Remark ? Qt::AlignTop | Qt::TextWordWrap : int(Qt::AlignVCenter);
            painter->drawText(option.rect.adjusted(14, 0, -10, 0), flags, index.data().toString());
            return painter->restore();
        }
        QRect area = box.adjusted(8, 0, -6, 0);
        if (kind == Connection) {
            painter->setPen(Qt::NoPen);
            painter->setBrush(index.data(ColourRole).value<QColor>());
            painter->drawRoundedRect(QRect(box.left() + 6, box.top() + 4, 4, box.height() - 8), 1.5, 1.5);
            area.adjust(10, 0, 0, 0);
        } else {
            const QIcon icon = index.data(Qt::DecorationRole).value<QIcon>();
            icon.paint(painter, QRect(box.left() + 6, box.center().y() - 7, 15, 15));
            area.adjust(19, 0, 0, 0);
        }
        const QString detail = index.data(DetailRole).toString();
        painter->setFont(small);
        painter->setPen(theme.colour("quiet"));
        const int detailWidth = QFontMetrics(small).horizontalAdvance(detail);
        painter->drawText(area, Qt::AlignVCenter | Qt::AlignRight, detail);
        font.setWeight(isCurrent && kind == Object ? QFont::DemiBold : QFont::Normal);
        painter->setFont(font);
        painter->setPen(theme.colour("ink"));
        const int room = area.width() - detailWidth - 8;
        painter->drawText(area, Qt::AlignVCenter | Qt::AlignLeft,
                          QFontMetrics(font).elidedText(index.data().toString(), Qt::ElideRight, room));
        painter->restore();
    }
};

QListWidget* makeList(QWidget* parent, const char* objectName, const QString& accessibleName) {
    auto* list = new QListWidget(parent);
    name(list, objectName, accessibleName);
    list->setItemDelegate(new RowDelegate(list));
    list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list->setUniformItemSizes(false);
    return list;
}

QListWidgetItem* addRow(QListWidget* list, Kind kind, const QString& text) {
    auto* item = new QListWidgetItem(text, list);
    item->setData(KindRole, kind);
    if (kind == Section || kind == Remark) item->setFlags(Qt::NoItemFlags);
    return item;
}

QIcon iconOf(db::RelationKind kind) {
    switch (kind) {
        case db::RelationKind::View: return QIcon(QStringLiteral(":/icons/view.svg"));
        case db::RelationKind::VirtualTable: return QIcon(QStringLiteral(":/icons/virtual_table.svg"));
        case db::RelationKind::Table: break;
    }
    return QIcon(QStringLiteral(":/icons/table.svg"));
}

}  // namespace

CatalogPanel::CatalogPanel(Desk& desk, QWidget* parent)
    : QWidget(parent),
      desk_(desk),
      connections_(makeList(this, objectName::kConnectionList, tr("Connections"))),
      find_(new QLineEdit(this)),
      objects_(makeList(this, objectName::kObjectList, tr("Tables and views"))),
      card_(new ObjectCard(this)) {
    name(find_, objectName::kCatalogFind, tr("Find a table, column or view"));
    find_->setProperty("look", "find");
    find_->setPlaceholderText(tr("Find a table, column, view…   /"));
    find_->setClearButtonEnabled(true);
    find_->installEventFilter(this);
    objects_->installEventFilter(this);
    connections_->installEventFilter(this);
    connections_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    objects_->setContextMenuPolicy(Qt::CustomContextMenu);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 6, 0, 0);
    layout->setSpacing(4);
    layout->addWidget(connections_);
    auto* findRow = new QHBoxLayout;
    findRow->setContentsMargins(12, 6, 12, 4);
    findRow->addWidget(find_);
    layout->addLayout(findRow);
    layout->addWidget(objects_, 1);
    layout->addWidget(card_);
    connect(find_, &QLineEdit::textChanged, this, &CatalogPanel::fillObjects);
    connect(objects_, &QListWidget::currentItemChanged, this, &CatalogPanel::showCard);
    connect(objects_, &QListWidget::itemDoubleClicked, this, &CatalogPanel::openCurrent);
    connect(objects_, &QWidget::customContextMenuRequested, this, &CatalogPanel::showMenu);
    connect(connections_, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* item) {
        if (item != nullptr && !item->data(IdRole).toString().isEmpty())
            chooseConnection(item->data(IdRole).toString());
    });
    connect(connections_, &QListWidget::itemDoubleClicked, this,
            [this](QListWidgetItem* item) { Q_EMIT sheetRequested(item->data(IdRole).toString()); });
    connect(&desk_, &Desk::profilesChanged, this, &CatalogPanel::fillConnections);
    connect(&desk_, &Desk::catalogChanged, this, [this](const QString& id) {
        if (id == connectionId_) fillObjects();
    });
    connect(&Theme::current(), &Theme::changed, this, [this] {
        fillConnections();
        showCard();
    });
    fillConnections();
    if (!desk_.profiles().empty()) chooseConnection(toQt(desk_.profiles().front().id));
}

void CatalogPanel::fillConnections() {
    const QSignalBlocker blocker(connections_);
    connections_->clear();
    std::vector<std::string> groups;
    for (const auto& p : desk_.profiles()) {
        if (std::ranges::find(groups, p.group) == groups.end()) groups.push_back(p.group);
    }
    int height = 4;
    for (const std::string& group : groups) {
        if (!group.empty()) {
            addRow(connections_, Section, toQt(group));
            height += kSectionHeight;
        }
        for (const auto& p : desk_.profiles()) {
            if (p.group != group) continue;
            auto* item = addRow(connections_, Connection, toQt(p.name));
            item->setData(IdRole, toQt(p.id));
            item->setData(DetailRole, toQt(db::environmentWord(p.environment)));
            item->setData(ColourRole, Theme::current().connectionColour(p.colour));
            item->setToolTip(tr("%1\nDouble click opens a sheet on it").arg(toQt(p.database)));
            if (toQt(p.id) == connectionId_) connections_->setCurrentItem(item);
            height += kRowHeight;
        }
    }
    if (desk_.profiles().empty()) {
        addRow(connections_, Remark, tr("No connection yet. Make one on the page Connections."));
        height += 64;
    }
    connections_->setFixedHeight(std::min(height, 260));
}

void CatalogPanel::chooseConnection(const QString& id) {
    if (id == connectionId_ || desk_.profile(id) == nullptr) return;
    connectionId_ = id;
    for (int i = 0; i < connections_->count(); ++i) {
        if (connections_->item(i)->data(IdRole).toString() == id) connections_->setCurrentRow(i);
    }
    if (!desk_.catalog(id).catalog) desk_.loadCatalog(id);
    fillObjects();
}

void CatalogPanel::addRelation(const db::CatalogRelation& relation) {
    // Names that need no schema stand without it.
    const auto catalog = desk_.catalog(connectionId_).catalog;
    const bool isNearest = catalog && !catalog->schemas().empty() && catalog->schemas().front() == relation.schema;
    auto* item = addRow(objects_, Object, toQt(isNearest ? relation.name : relation.schema + "." + relation.name));
    item->setIcon(iconOf(relation.kind));
    item->setData(SchemaRole, toQt(relation.schema));
    item->setData(NameRole, toQt(relation.name));
    if (relation.rowEstimate) item->setData(DetailRole, toQt(base::grouped(*relation.rowEstimate)));
    item->setToolTip(tr("%1 %2\nReturn or double click opens its story; Ctrl+Return shows its first rows")
                         .arg(toQt(db::relationKindName(relation.kind)), toQt(relation.name)));
}

void CatalogPanel::fillObjects() {
    const db::CatalogRelation* before = current();
    const QString keep = before != nullptr ? toQt(before->name) : QString();
    const QSignalBlocker blocker(objects_);
    objects_->clear();
    const auto state = desk_.catalog(connectionId_);
    if (state.error) {
        addRow(objects_, Remark, toQt(*state.error));
    } else if (!state.catalog) {
        addRow(objects_, Remark, state.isLoading ? tr("Reading the catalog…") : tr("Choose a connection."));
    } else {
        const std::string pattern = fromQt(find_->text().trimmed());
        struct Hit {
            const db::CatalogRelation* relation;
            int score;
        };
        std::vector<Hit> hits;
        for (const auto& relation : state.catalog->relations()) {
            int score = -1'000'000;
            if (const auto match = base::fuzzyMatch(pattern, relation.name)) score = match->score + 50;
            if (!pattern.empty()) {
                for (const auto& column : relation.columns) {
                    if (base::startsWithIgnoringCase(column.name, pattern)) score = std::max(score, 20);
                }
            }
            if (score > -1000) hits.push_back({&relation, score});
        }
        if (!pattern.empty()) std::ranges::stable_sort(hits, std::ranges::greater{}, &Hit::score);
        const auto section = [&](const QString& title, bool isView) {
            const auto wanted = [&](const Hit& h) { return (h.relation->kind == db::RelationKind::View) == isView; };
            const auto count = std::ranges::count_if(hits, wanted);
            if (count == 0) return;
            addRow(objects_, Section, QStringLiteral("%1 · %2").arg(title).arg(count));
            for (const Hit& h : hits) {
                if (wanted(h)) addRelation(*h.relation);
            }
        };
        section(tr("Tables"), false);
        section(tr("Views"), true);
        if (hits.empty()) {
            addRow(objects_, Remark,
                   pattern.empty() ? tr("This database holds no table yet.")
                                   : tr("No table, view or column here fits “%1”. Esc shows all.").arg(find_->text()));
        }
    }
    for (int i = 0; i < objects_->count(); ++i) {
        if (objects_->item(i)->data(KindRole).toInt() != Object) continue;
        const bool isKept = !keep.isEmpty() && objects_->item(i)->data(NameRole).toString() == keep;
        if (isKept || (!find_->text().isEmpty() && objects_->currentRow() < 0)) objects_->setCurrentRow(i);
        if (isKept) break;
    }
    showCard();
}

const db::CatalogRelation* CatalogPanel::current() const {
    const QListWidgetItem* item = objects_->currentItem();
    const auto state = desk_.catalog(connectionId_);
    if (item == nullptr || !state.catalog || item->data(KindRole).toInt() != Object) return nullptr;
    return state.catalog->find(fromQt(item->data(SchemaRole).toString()), fromQt(item->data(NameRole).toString()));
}

void CatalogPanel::showCard() { card_->show(current()); }

void CatalogPanel::chooseRelation(const std::string& schema, const std::string& relation) {
    if (!find_->text().isEmpty()) find_->clear();
    for (int i = 0; i < objects_->count(); ++i) {
        const bool isIt = fromQt(objects_->item(i)->data(SchemaRole).toString()) == schema &&
                          fromQt(objects_->item(i)->data(NameRole).toString()) == relation;
        if (isIt) objects_->setCurrentRow(i);
    }
}

void CatalogPanel::openCurrent() {
    if (const auto* relation = current()) Q_EMIT objectRequested(connectionId_, relation->schema, relation->name);
}

void CatalogPanel::showMenu(const QPoint& at) {
    const auto* relation = current();
    if (relation == nullptr) return;
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const auto schema = relation->schema;
    const auto relationName = relation->name;
    connect(menu->addAction(tr("Open its story\tReturn")), &QAction::triggered, this, &CatalogPanel::openCurrent);
    connect(menu->addAction(tr("First rows\tCtrl+Return")), &QAction::triggered, this,
            [this, schema, relationName] { Q_EMIT rowsRequested(connectionId_, schema, relationName); });
    connect(menu->addAction(tr("Put its name into the sheet")), &QAction::triggered, this, [this, relationName] {
        Q_EMIT nameRequested(toQt(sql::quotedName(relationName, db::dialectOf(desk_.profile(connectionId_)->engine))));
    });
    menu->popup(objects_->viewport()->mapToGlobal(at));
}

void CatalogPanel::focusFind() {
    find_->setFocus();
    find_->selectAll();
}

bool CatalogPanel::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() != QEvent::KeyPress) return QWidget::eventFilter(watched, event);
    auto* key = static_cast<QKeyEvent*>(event);
    const bool isReturn = key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter;
    if (watched == find_) {
        if (key->key() == Qt::Key_Escape) {
            find_->clear();
            return true;
        }
        if (key->key() == Qt::Key_Down) {
            objects_->setFocus();
            return true;
        }
        if (isReturn && current() != nullptr) {
            openCurrent();
            return true;
        }
    }
    if (watched == objects_) {
        if (key->text() == QLatin1String("/")) {
            focusFind();
            return true;
        }
        if (isReturn && current() != nullptr) {
            if (key->modifiers().testFlag(Qt::ControlModifier)) {
                Q_EMIT rowsRequested(connectionId_, current()->schema, current()->name);
            } else {
                openCurrent();
            }
            return true;
        }
    }
    if (watched == connections_ && isReturn && connections_->currentItem() != nullptr) {
        Q_EMIT sheetRequested(connections_->currentItem()->data(IdRole).toString());
        return true;
    }
    return QWidget::eventFilter(watched, event);
}

}  // namespace pantry::app
