#include "app/place/place_page.h"

#include <utility>

#include "app/base/text.h"
#include "core/db/engine_traits.h"

namespace pantry::app {

PlacePage::PlacePage(Desk& desk, ObjectPlace place, QWidget* parent)
    : Page(parent), desk_(desk), place_(std::move(place)) {
    if (const db::ConnectionProfile* there = profile()) dialect_ = db::dialectOf(there->engine);
}

const db::ConnectionProfile* PlacePage::profile() const {
    return desk_.connections().profile(fromQt(place_.connectionId));
}

work::CatalogState PlacePage::catalogState() const {
    return desk_.catalogs().state(fromQt(place_.connectionId), place_.database);
}

}  // namespace pantry::app

#include "moc_place_page.cpp"
