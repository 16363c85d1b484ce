#include "app/catalog/catalog_model.h"

#include <QIcon>
#include <QMimeData>
#include <QStringList>
#include <algorithm>

#include "app/base/text.h"
#include "app/catalog/row_delegate.h"
#include "app/command/command.h"
#include "core/base/text.h"
#include "core/sql/write/names.h"

namespace pantry::app {

QIcon iconOf(catalog::ObjectKind kind) {
    switch (kind) {
        case catalog::ObjectKind::View:
        case catalog::ObjectKind::MaterializedView: return QIcon(QStringLiteral(":/icons/view.svg"));
        case catalog::ObjectKind::VirtualTable:
        case catalog::ObjectKind::ForeignTable: return QIcon(QStringLiteral(":/icons/virtual_table.svg"));
        case catalog::ObjectKind::Table: return QIcon(QStringLiteral(":/icons/table.svg"));
        case catalog::ObjectKind::Sequence: return QIcon(QStringLiteral(":/icons/sequence.svg"));
        case catalog::ObjectKind::Type: return QIcon(QStringLiteral(":/icons/type.svg"));
        case catalog::ObjectKind::Event: return QIcon(QStringLiteral(":/icons/event.svg"));
        case catalog::ObjectKind::Extension: return QIcon(QStringLiteral(":/icons/extension.svg"));
        case catalog::ObjectKind::Function:
        case catalog::ObjectKind::Procedure:
        case catalog::ObjectKind::Aggregate: break;
    }
    return QIcon(QStringLiteral(":/icons/routine.svg"));
}

void CatalogModel::show(const Listed& list) {
    beginResetModel();
    list_ = list;
    endResetModel();
}

const catalog::Row* CatalogModel::rowAt(const QModelIndex& index) const {
    const auto at = static_cast<std::size_t>(index.row());
    if (!index.isValid() || at >= list_.rows.size() || list_.rows[at].isHeading()) return nullptr;
    return &list_.rows[at];
}

const ShownPlace* CatalogModel::shownAt(const QModelIndex& index) const {
    const catalog::Row* row = rowAt(index);
    return row == nullptr ? nullptr : &list_.places[row->place];
}

ObjectPlace CatalogModel::placeAt(const QModelIndex& index) const {
    const catalog::Row* row = rowAt(index);
    if (row == nullptr) return {};
    const ShownPlace& place = list_.places[row->place];
    return {place.connectionId, place.database, row->name()};
}

QModelIndex CatalogModel::indexOf(const ObjectPlace& place) const {
    for (std::size_t i = 0; i < list_.rows.size(); ++i) {
        const catalog::Row& row = list_.rows[i];
        if (row.kind != catalog::Row::Kind::Object || row.name() != place.object) continue;
        const ShownPlace& shown = list_.places[row.place];
        if (shown.connectionId == place.connectionId && shown.database == place.database)
            return index(static_cast<int>(i));
    }
    return {};
}

QModelIndex CatalogModel::firstObject() const {
    for (std::size_t i = 0; i < list_.rows.size(); ++i) {
        if (!list_.rows[i].isHeading()) return index(static_cast<int>(i));
    }
    return {};
}

int CatalogModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(list_.rows.size());
}

Qt::ItemFlags CatalogModel::flags(const QModelIndex& index) const {
    if (rowAt(index) == nullptr) return Qt::NoItemFlags;
    return Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsDragEnabled | Qt::ItemNeverHasChildren;
}

QVariant CatalogModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid() || index.row() >= rowCount()) return {};
    const catalog::Row& row = list_.rows[static_cast<std::size_t>(index.row())];
    switch (row.kind) {
        case catalog::Row::Kind::Object: return objectData(row, role);
        case catalog::Row::Kind::Column:
        case catalog::Row::Kind::Excerpt: return partData(row, role);
        case catalog::Row::Kind::Heading:
        case catalog::Row::Kind::More: break;
    }
    if (role == RowKindRole) return int(CatalogRowKind::Section);
    if (role != Qt::DisplayRole && role != Qt::AccessibleTextRole) return {};
    if (row.kind == catalog::Row::Kind::More) return toQt(row.text);
    return QStringLiteral("%1 · %2").arg(toQt(row.text), toQt(base::grouped(static_cast<std::int64_t>(row.count))));
}

QVariant CatalogModel::objectData(const catalog::Row& row, int role) const {
    const catalog::ObjectName name = row.name();
    switch (role) {
        case RowKindRole: return int(CatalogRowKind::Object);
        case Qt::DisplayRole:
        case Qt::AccessibleTextRole: return toQt(needsSchema(row) ? name.schema + "." + name.name : name.name);
        case DetailRole: return detailOf(row);
        case Qt::DecorationRole: return iconOf(name.kind);
        case Qt::ToolTipRole: return tipOf(row);
        default: return {};
    }
}

/// A column, or a line of a text, below its object.
QVariant CatalogModel::partData(const catalog::Row& row, int role) const {
    const bool isColumn = row.kind == catalog::Row::Kind::Column;
    switch (role) {
        case RowKindRole: return int(CatalogRowKind::Part);
        case Qt::DisplayRole:
        case Qt::AccessibleTextRole: return toQt(isColumn ? row.column->name : row.text);
        case DetailRole: return isColumn ? toQt(base::toLower(row.column->typeName)) : QString();
        case Qt::ToolTipRole:
            if (!isColumn) return toQt(row.text);
            return toQt(row.column->comment.empty() ? row.column->name : row.column->name + "\n" + row.column->comment);
        default: return {};
    }
}

/// Where it is, when several places are listed; else how much is in it.
QString CatalogModel::detailOf(const catalog::Row& row) const {
    if (list_.places.size() > 1) return list_.places[row.place].label;
    if (row.object != nullptr) return toQt(row.object->detail);
    const catalog::Relation& relation = *row.relation;
    if (list_.catalogs[row.place].choices.order == catalog::ListOrder::Size && relation.sizeEstimate) {
        return toQt(base::readableBytes(static_cast<std::uint64_t>(*relation.sizeEstimate)));
    }
    return relation.rowEstimate ? QStringLiteral("≈ ") + toQt(base::grouped(*relation.rowEstimate)) : QString();
}

QString CatalogModel::tipOf(const catalog::Row& row) const {
    const catalog::ObjectName name = row.name();
    QString text = toQt(catalog::kindName(name.kind)) + QLatin1Char(' ') + toQt(name.name);
    if (!name.signature.empty()) text += QStringLiteral(" (%1)").arg(toQt(name.signature));
    if (row.relation != nullptr && row.relation->rowEstimate) {
        text += QStringLiteral(" · ≈ ") + toQt(base::counted(*row.relation->rowEstimate, "row", "rows"));
    }
    if (row.relation != nullptr && row.relation->sizeEstimate) {
        text +=
            QStringLiteral(" · ") + toQt(base::readableBytes(static_cast<std::uint64_t>(*row.relation->sizeEstimate)));
    }
    const std::string& comment = row.relation != nullptr ? row.relation->comment : row.object->comment;
    if (!comment.empty()) text += QLatin1Char('\n') + toQt(comment);
    text += QLatin1Char('\n') + tr("Return opens its details");
    return row.relation == nullptr ? text : text + tr(", %1 shows its first rows").arg(keyText("catalog.firstRows"));
}

/// Names that need no schema stand without it.
bool CatalogModel::needsSchema(const catalog::Row& row) const {
    const auto& path = list_.catalogs[row.place].catalog->facts().searchPath;
    return path.empty() || path.front() != row.name().schema;
}

std::string CatalogModel::nameInStatement(const catalog::Row& row) const {
    const sql::Dialect dialect = list_.places[row.place].dialect;
    if (row.column != nullptr) return sql::qualifiedName({}, row.column->name, dialect);
    const catalog::ObjectName name = row.name();
    return sql::qualifiedName(needsSchema(row) ? name.schema : std::string(), name.name, dialect);
}

QStringList CatalogModel::mimeTypes() const { return {QStringLiteral("text/plain")}; }

QMimeData* CatalogModel::mimeData(const QModelIndexList& indexes) const {
    QModelIndexList inOrder = indexes;
    std::ranges::sort(inOrder, {}, &QModelIndex::row);
    QStringList names;
    for (const QModelIndex& index : inOrder) {
        if (const catalog::Row* row = rowAt(index)) names += toQt(nameInStatement(*row));
    }
    auto* data = new QMimeData;
    data->setText(names.join(QStringLiteral(", ")));
    return data;
}

}  // namespace pantry::app

#include "moc_catalog_model.cpp"
