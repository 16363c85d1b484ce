#pragma once

#include <QObject>
#include <QString>
#include <string>
#include <vector>

#include "app/desk/desk.h"
#include "core/base/cancellation.h"
#include "core/catalog/catalog_list.h"
#include "core/sql/text/dialect.h"

namespace pantry::app {

/// A place whose objects are listed.
struct ShownPlace {
    QString connectionId;
    std::string database;
    QString label;  ///< of the connection
    sql::Dialect dialect = sql::Dialect::Ansi;
};

/// What somebody wants to see in the list.
struct ListWish {
    QString connectionId;
    std::string database;
    std::string pattern;
    bool isEverywhere = false;  ///< in all connections whose catalogs were read
    bool withTexts = false;     ///< also in the texts of views, routines and triggers

    friend bool operator==(const ListWish&, const ListWish&) = default;
};

/// A list of objects as it was worked out.
struct Listed {
    ListWish wish;
    std::vector<ShownPlace> places;
    std::vector<catalog::ListedPlace> catalogs;  ///< in the same order; rows point into them
    std::vector<catalog::Row> rows;
    // When there is no row:
    std::vector<catalog::Elsewhere> elsewhere;
    std::vector<std::pair<ShownPlace, std::size_t>> others;  ///< hits in other connections
    std::vector<std::string> databases;                      ///< others of the server, into which nobody has looked
};

/// Works out the list of the catalog page on another thread; of several wishes only the last one is answered.
class CatalogListing : public QObject {
    Q_OBJECT

public:
    explicit CatalogListing(Desk& desk, QObject* parent = nullptr);

    void list(const ListWish& wish);
    [[nodiscard]] bool isListing() const { return isListing_; }

Q_SIGNALS:
    void listed(const pantry::app::Listed& list);

private:
    void addPlace(Listed& list, const QString& connectionId, const std::string& database) const;
    void readTexts(const ListWish& wish, const Listed& list);

    Desk& desk_;
    base::Cancellation listing_;
    bool isListing_ = false;
    ListWish last_;
    std::map<std::pair<QString, std::string>, work::SourcesPtr> texts_;  // of the wish at hand
};

}  // namespace pantry::app
