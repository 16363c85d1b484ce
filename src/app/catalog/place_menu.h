#pragma once

#include <QMenu>

#include "app/desk/desk.h"

namespace pantry::app {

/// What is shown of a connection's catalog: which database, which schemas, which kinds of object. Ticks take effect at
/// once, and the menu stays open for more of them.
///
/// Ownership: the menu deletes itself when it is closed.
class PlaceMenu : public QMenu {
    Q_OBJECT

public:
    PlaceMenu(Desk& desk, const QString& connectionId, const std::string& database, QWidget* parent);

Q_SIGNALS:
    void databaseChosen(const std::string& database);

private:
    void addDatabases(const catalog::Catalog& catalog);
    void addSchemas(const catalog::Catalog& catalog);
    void addSchemas(const catalog::Catalog& catalog, const QString& heading, bool areOwn);
    void addOrder();
    void addKinds(const catalog::Catalog& catalog);
    void addHeading(const QString& text);
    void addTick(const QString& text, bool isOn, const std::function<void(bool)>& change);
    void change(const std::function<void(catalog::Choices&)>& change);

    Desk& desk_;
    QString connectionId_;
    std::string database_;
};

}  // namespace pantry::app
