#pragma once

#include <QAbstractListModel>
#include <optional>

#include "app/base/object_place.h"
#include "app/catalog/catalog_listing.h"

namespace pantry::app {

/// Catalogs as the flat list of the left column. Ten thousand objects cost no more than those that are seen.
class CatalogModel : public QAbstractListModel {
    Q_OBJECT

public:
    using QAbstractListModel::QAbstractListModel;

    void show(const Listed& list);

    /// The row's object, also of a column or a line of its text; nullptr for headings.
    [[nodiscard]] const catalog::Row* rowAt(const QModelIndex& index) const;
    /// The same with its place; its object has no name for headings.
    [[nodiscard]] ObjectPlace placeAt(const QModelIndex& index) const;
    [[nodiscard]] const ShownPlace* shownAt(const QModelIndex& index) const;
    [[nodiscard]] QModelIndex indexOf(const ObjectPlace& place) const;
    [[nodiscard]] QModelIndex firstObject() const;

    int rowCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    Qt::ItemFlags flags(const QModelIndex& index) const override;
    QStringList mimeTypes() const override;
    QMimeData* mimeData(const QModelIndexList& indexes) const override;

    /// How the name of a row is written in a statement of its engine, with its schema where that is needed.
    [[nodiscard]] std::string nameInStatement(const catalog::Row& row) const;

private:
    [[nodiscard]] QVariant objectData(const catalog::Row& row, int role) const;
    [[nodiscard]] QVariant partData(const catalog::Row& row, int role) const;
    [[nodiscard]] QString detailOf(const catalog::Row& row) const;
    [[nodiscard]] QString tipOf(const catalog::Row& row) const;
    [[nodiscard]] bool needsSchema(const catalog::Row& row) const;

    Listed list_;
};

[[nodiscard]] QIcon iconOf(catalog::ObjectKind kind);

}  // namespace pantry::app
