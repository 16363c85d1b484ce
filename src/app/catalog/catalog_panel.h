#pragma once

#include <QLineEdit>
#include <QListWidget>
#include <QWidget>

#include "app/base/desk.h"
#include "app/catalog/object_card.h"

namespace pantry::app {

/// The page Catalog of the left column: connections on top, then the chosen one's objects in one flat list.
class CatalogPanel : public QWidget {
    Q_OBJECT

public:
    explicit CatalogPanel(Desk& desk, QWidget* parent = nullptr);

    [[nodiscard]] QString connectionId() const { return connectionId_; }
    void chooseConnection(const QString& id);
    void focusFind();
    /// Selects a relation of the chosen connection, and shows its card.
    void chooseRelation(const std::string& schema, const std::string& name);

Q_SIGNALS:
    void sheetRequested(const QString& connectionId);
    void objectRequested(const QString& connectionId, const std::string& schema, const std::string& name);
    void rowsRequested(const QString& connectionId, const std::string& schema, const std::string& name);
    void nameRequested(const QString& name);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void fillConnections();
    void fillObjects();
    void addRelation(const db::CatalogRelation& relation);
    void showCard();
    [[nodiscard]] const db::CatalogRelation* current() const;
    void openCurrent();
    void showMenu(const QPoint& at);

    Desk& desk_;
    QString connectionId_;
    QListWidget* connections_;
    QLineEdit* find_;
    QListWidget* objects_;
    ObjectCard* card_;
};

}  // namespace pantry::app
