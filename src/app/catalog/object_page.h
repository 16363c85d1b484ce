#pragma once

#include <QVBoxLayout>
#include <QWidget>

#include "app/base/desk.h"

namespace pantry::app {

/// The whole story of a table or view, as a page in the middle: columns, keys, who refers to it, indexes, triggers,
/// definition.
class ObjectPage : public QWidget {
    Q_OBJECT

public:
    ObjectPage(Desk& desk, QString connectionId, std::string schema, std::string relation, QWidget* parent = nullptr);

    [[nodiscard]] const QString& connectionId() const { return connectionId_; }
    [[nodiscard]] const std::string& schema() const { return schema_; }
    [[nodiscard]] const std::string& relationName() const { return relation_; }

Q_SIGNALS:
    void rowsRequested(const QString& connectionId, const std::string& schema, const std::string& name);
    void objectRequested(const QString& connectionId, const std::string& schema, const std::string& name);

private:
    void refresh();
    QWidget* makeHeader(const db::CatalogRelation& relation);
    QWidget* makeColumns(const db::CatalogRelation& relation);
    void addKeys(QVBoxLayout* layout, const db::CatalogRelation& relation, const db::Catalog& catalog);
    void addFacts(QVBoxLayout* layout, const db::CatalogRelation& relation);

    Desk& desk_;
    QString connectionId_;
    std::string schema_;
    std::string relation_;
    QVBoxLayout* layout_;
};

}  // namespace pantry::app
