#pragma once

#include <QAbstractListModel>
#include <optional>
#include <vector>

#include "core/catalog/catalog_list.h"
#include "core/sql/text/dialect.h"

namespace pantry::app {

/// A catalog as the flat list of the left column. Ten thousand objects cost no more than those that are seen.
class CatalogModel : public QAbstractListModel {
    Q_OBJECT

public:
    using QAbstractListModel::QAbstractListModel;

    /// Shows rows that point into a catalog. `remark` stands in their place when there are none.
    void show(catalog::CatalogPtr catalog, std::vector<catalog::Row> rows, const QString& remark);

    [[nodiscard]] const catalog::CatalogPtr& catalog() const { return catalog_; }
    /// The row's object; nullptr for headings and remarks.
    [[nodiscard]] const catalog::Row* rowAt(const QModelIndex& index) const;
    [[nodiscard]] QModelIndex indexOf(const catalog::ObjectName& object) const;
    [[nodiscard]] QModelIndex firstObject() const;

    int rowCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    Qt::ItemFlags flags(const QModelIndex& index) const override;
    QStringList mimeTypes() const override;
    QMimeData* mimeData(const QModelIndexList& indexes) const override;

    /// How a name is written in a statement of this catalog's engine, with its schema where that is needed.
    void setDialect(sql::Dialect dialect) { dialect_ = dialect; }
    [[nodiscard]] std::string nameInStatement(const catalog::ObjectName& object) const;

private:
    [[nodiscard]] QVariant objectData(const catalog::Row& row, int role) const;
    [[nodiscard]] bool needsSchema(const std::string& schema) const;

    catalog::CatalogPtr catalog_;
    std::vector<catalog::Row> rows_;
    QString remark_;
    sql::Dialect dialect_ = sql::Dialect::Ansi;
};

[[nodiscard]] QIcon iconOf(catalog::ObjectKind kind);

}  // namespace pantry::app
