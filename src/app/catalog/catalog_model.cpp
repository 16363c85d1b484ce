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
        case catalog::ObjectKind::Function:
        case catalog::ObjectKind::Procedure:
        case catalog::ObjectKind::Aggregate: break;
    }
    return QIcon(QStringLiteral(":/icons/routine.svg"));
}

void CatalogModel::show(catalog::CatalogPtr catalog, std::vector<catalog::Row> rows, const QString& remark) {
    beginResetModel();
    catalog_ = std::move(catalog);
    rows_ = std::move(rows);
    remark_ = rows_.empty() ? remark : QString();
    endResetModel();
}

const catalog::Row* CatalogModel::rowAt(const QModelIndex& index) const {
    const auto at = static_cast<std::size_t>(index.row());
    if (!index.isValid() || at >= rows_.size() || rows_[at].isHeading()) return nullptr;
    return &rows_[at];
}

QModelIndex CatalogModel::indexOf(const catalog::ObjectName& object) const {
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        if (!rows_[i].isHeading() && rows_[i].name() == object) return index(static_cast<int>(i));
    }
    return {};
}

QModelIndex CatalogModel::firstObject() const {
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        if (!rows_[i].isHeading()) return index(static_cast<int>(i));
    }
    return {};
}

int CatalogModel::rowCount(const QModelIndex& parent) const {
    if (parent.isValid()) return 0;
    return static_cast<int>(rows_.size()) + (remark_.isEmpty() ? 0 : 1);
}

Qt::ItemFlags CatalogModel::flags(const QModelIndex& index) const {
    if (rowAt(index) == nullptr) return Qt::NoItemFlags;
    return Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsDragEnabled | Qt::ItemNeverHasChildren;
}

QVariant CatalogModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid() || index.row() >= rowCount()) return {};
    const auto at = static_cast<std::size_t>(index.row());
    if (at >= rows_.size()) {
        if (role == Qt::DisplayRole) return remark_;
        return role == RowKindRole ? QVariant(int(CatalogRowKind::Remark)) : QVariant();
    }
    const catalog::Row& row = rows_[at];
    if (!row.isHeading()) return objectData(row, role);
    if (role == RowKindRole) return int(CatalogRowKind::Section);
    if (role != Qt::DisplayRole) return {};
    return QStringLiteral("%1 · %2").arg(toQt(row.heading), toQt(base::grouped(static_cast<std::int64_t>(row.count))));
}

QVariant CatalogModel::objectData(const catalog::Row& row, int role) const {
    const catalog::ObjectName name = row.name();
    switch (role) {
        case RowKindRole: return int(CatalogRowKind::Object);
        case Qt::DisplayRole:
        case Qt::AccessibleTextRole: {
            const std::string shown = needsSchema(name.schema) ? name.schema + "." + name.name : name.name;
            return toQt(shown);
        }
        case DetailRole:
            if (!row.column.empty()) return toQt(row.column);
            if (row.object != nullptr) return toQt(row.object->detail);
            return row.relation->rowEstimate ? QStringLiteral("≈ ") + toQt(base::grouped(*row.relation->rowEstimate))
                                             : QString();
        case Qt::DecorationRole: return iconOf(name.kind);
        case Qt::ToolTipRole: {
            QString words = toQt(catalog::kindName(name.kind)) + QLatin1Char(' ') + toQt(name.name);
            if (!name.signature.empty()) words += QStringLiteral(" (%1)").arg(toQt(name.signature));
            const std::string& comment = row.relation != nullptr ? row.relation->comment : row.object->comment;
            if (!comment.empty()) words += QLatin1Char('\n') + toQt(comment);
            return words + tr("\nReturn opens its details, %1 shows its first rows").arg(keyText("catalog.firstRows"));
        }
        default: return {};
    }
}

/// Names that need no schema stand without it.
bool CatalogModel::needsSchema(const std::string& schema) const {
    return catalog_->facts().searchPath.empty() || catalog_->facts().searchPath.front() != schema;
}

std::string CatalogModel::nameInStatement(const catalog::ObjectName& object) const {
    return sql::qualifiedName(needsSchema(object.schema) ? object.schema : std::string(), object.name, dialect_);
}

QStringList CatalogModel::mimeTypes() const { return {QStringLiteral("text/plain")}; }

QMimeData* CatalogModel::mimeData(const QModelIndexList& indexes) const {
    QModelIndexList inOrder = indexes;
    std::ranges::sort(inOrder, {}, &QModelIndex::row);
    QStringList names;
    for (const QModelIndex& index : inOrder) {
        if (const catalog::Row* row = rowAt(index)) names += toQt(nameInStatement(row->name()));
    }
    auto* data = new QMimeData;
    data->setText(names.join(QStringLiteral(", ")));
    return data;
}

}  // namespace pantry::app
