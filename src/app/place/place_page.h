#pragma once

#include "app/base/object_place.h"
#include "app/desk/desk.h"
#include "app/page/page.h"
#include "core/sql/text/dialect.h"

namespace pantry::app {

/// A page about something in a database: an object, its schema, or the server.
///
/// Threads: the window's thread.
class PlacePage : public Page {
    Q_OBJECT

public:
    PlacePage(Desk& desk, ObjectPlace place, QWidget* parent);

    [[nodiscard]] const ObjectPlace& object() const { return place_; }
    [[nodiscard]] std::optional<PagePlace> place() const override {
        return PagePlace{place_.connectionId, place_.database};
    }

protected:
    /// nullptr when it was removed meanwhile.
    [[nodiscard]] const db::ConnectionProfile* profile() const;
    [[nodiscard]] work::CatalogState catalogState() const;

    Desk& desk_;
    ObjectPlace place_;
    sql::Dialect dialect_ = sql::Dialect::Ansi;  // of the connection
};

}  // namespace pantry::app
