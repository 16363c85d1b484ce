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

    /// `remark` stands in the list's place when there is nothing in it.
    void show(db::CatalogPtr catalog, const QString& pattern, const db::CatalogChoices& choices, const QString& remark);

    [[nodiscard]] const db::CatalogPtr& catalog() const { return catalog_; }
    /// The row's object; nullptr for headings and remarks.
    [[nodiscard]] const db::CatalogRow* rowAt(const QModelIndex& index) const;
    [[nodiscard]] QModelIndex indexOf(const db::ObjectName& object) const;
    [[nodiscard]] QModelIndex firstObject() const;

    int rowCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    Qt::ItemFlags flags(const QModelIndex& index) const override;
    QStringList mimeTypes() const override;
    QMimeData* mimeData(const QModelIndexList& indexes) const override;

    /// How a name is written in a statement of this catalog's engine, with its schema where that is needed.
    void setDialect(sql::Dialect dialect) { dialect_ = dialect; }
    [[nodiscard]] std::string nameInStatement(const db::ObjectName& object) const;

private:
    [[nodiscard]] QVariant objectData(const db::CatalogRow& row, int role) const;
    [[nodiscard]] bool needsSchema(const std::string& schema) const;

    db::CatalogPtr catalog_;
    std::vector<db::CatalogRow> rows_;
    QString remark_;
    sql::Dialect dialect_ = sql::Dialect::Ansi;
};

[[nodiscard]] QIcon iconOf(db::ObjectKind kind);

}  // namespace pantry::app
