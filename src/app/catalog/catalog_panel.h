#pragma once

#include <QCheckBox>
#include <QLineEdit>
#include <QListView>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QSplitter>
#include <QWidget>
#include <functional>
#include <vector>

#include "app/base/object_place.h"
#include "app/catalog/catalog_listing.h"
#include "app/catalog/catalog_model.h"
#include "app/catalog/change_menu.h"
#include "app/catalog/nothing_here.h"
#include "app/catalog/object_card.h"
#include "app/catalog/script_menu.h"
#include "app/desk/desk.h"

namespace pantry::app {

/// The page Catalog of the left column: connections on top, then the chosen one's objects in one flat list.
class CatalogPanel : public QWidget {
    Q_OBJECT

public:
    explicit CatalogPanel(Desk& desk, QWidget* parent = nullptr);

    [[nodiscard]] QString connectionId() const { return connectionId_; }
    [[nodiscard]] const std::string& database() const { return database_; }
    /// Where something new would be made: the schema of what is chosen, or that in which the session would make it.
    [[nodiscard]] ObjectPlace placeAtHand() const;
    /// Shows a connection, and of it a database (empty: the profile's own).
    void choosePlace(const QString& connectionId, const std::string& database = {});
    /// Where the sheet in front runs; empty when none is in front. When that is elsewhere, the panel says so.
    void noteSheet(const QString& connectionId, const std::string& database);
    void focusFind();
    /// Selects an object of the chosen place, and shows its card.
    void chooseObject(const catalog::ObjectName& object);

Q_SIGNALS:
    void sheetRequested(const QString& connectionId);
    void objectRequested(const pantry::app::ObjectPlace& place);
    void rowsRequested(const pantry::app::ObjectPlace& place);
    /// To be run in a sheet of its own.
    void queryRequested(const pantry::app::ObjectPlace& place, const QString& title, const QString& statement);
    void tableRequested(const pantry::app::ObjectPlace& place, pantry::app::TableWish wish);
    void textRequested(const pantry::app::ObjectPlace& place, const pantry::sql::EditedObject& edited);
    /// `form`: the id of a sql::FormEntry.
    void formRequested(const pantry::app::ObjectPlace& place, const QString& form);
    void scriptRequested(const pantry::app::ScriptWish& wish);
    void savedRequested(const pantry::store::QueryPlace& place);
    void nameRequested(const QString& name);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void beginWith(const QListWidgetItem* item);
    void fillConnections();
    void foldConnections();
    void showSheetPlace();
    QWidget* makeParts();
    void fillObjects();
    void showList(const Listed& list);
    void showNothing(const Listed& list);
    [[nodiscard]] std::vector<NothingHere::Way> waysOf(const Listed& list);
    void showServer();
    void whenListed(std::function<void()> act);
    void showState();
    void showCard();
    void showPlaceMenu();
    [[nodiscard]] ChangeChoices changeChoices();
    void makeLayout();
    void followChoices();
    [[nodiscard]] QString remark(const Listed& list) const;
    [[nodiscard]] const catalog::Row* current() const;
    [[nodiscard]] ObjectPlace currentPlace() const;
    [[nodiscard]] std::vector<ObjectPlace> chosenPlaces() const;
    [[nodiscard]] ListWish wish() const;
    void noteUse(const ObjectPlace& place);
    QWidget* makeScope();
    void openCurrent();
    void showRows();
    void toggleFavourite();
    void showMenu(const QPoint& at);
    void addQueries(QMenu* menu);
    bool findKey(int key, Qt::KeyboardModifiers modifiers);
    bool objectsKey(const QString& text, int key, Qt::KeyboardModifiers modifiers);

    Desk& desk_;
    QString connectionId_;
    std::string database_;
    QString sheetConnection_;
    std::string sheetDatabase_;
    QPushButton* fold_;
    QPushButton* sheetPlace_;
    QListWidget* connections_;
    QLineEdit* find_;
    QPushButton* place_;
    QPushButton* stop_;
    QWidget* scope_;  // where is looked, while something is looked for
    QCheckBox* everywhere_;
    QCheckBox* texts_;
    QPushButton* server_;
    CatalogListing* listing_;
    CatalogModel* model_;
    NothingHere* nothing_;
    QListView* objects_;
    ObjectCard* card_;
    QSplitter* parts_;  // objects above, card below
    std::vector<std::function<void()>> whenListed_;
};

}  // namespace pantry::app
