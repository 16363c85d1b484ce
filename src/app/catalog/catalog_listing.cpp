#include "app/catalog/catalog_listing.h"

#include <algorithm>
#include <utility>

#include "app/base/background.h"
#include "app/base/text.h"
#include "core/db/engine_traits.h"

namespace pantry::app {
namespace {

/// Rows, and where there are some when there is none. On another thread.
Listed workedOut(Listed list, const Listed& others) {
    const catalog::Search search{list.wish.pattern};
    list.rows = catalog::listCatalog(list.catalogs, search);
    if (!list.rows.empty()) return list;
    list.elsewhere = catalog::foundElsewhere(list.catalogs, search);
    if (search.isEmpty()) return list;
    for (std::size_t i = 0; i < others.catalogs.size(); ++i) {
        const auto rows = catalog::listCatalog({others.catalogs[i]}, search);
        const auto hits = std::ranges::count(rows, catalog::Row::Kind::Object, &catalog::Row::kind);
        if (hits > 0) list.others.emplace_back(others.places[i], static_cast<std::size_t>(hits));
    }
    return list;
}

}  // namespace

CatalogListing::CatalogListing(Desk& desk, QObject* parent) : QObject(parent), desk_(desk) {}

void CatalogListing::addPlace(Listed& list, const QString& connectionId, const std::string& database) const {
    const db::ConnectionProfile* profile = desk_.connections().profile(fromQt(connectionId));
    const auto catalog = desk_.catalogs().state(fromQt(connectionId), database).catalog;
    if (profile == nullptr || !catalog) return;
    list.places.push_back({connectionId, database, toQt(profile->name), db::dialectOf(profile->engine)});
    catalog::ListedPlace place{.label = profile->name,
                               .catalog = catalog,
                               .choices = desk_.catalogs().choices(fromQt(connectionId), database)};
    const auto texts = texts_.find({connectionId, database});
    if (list.wish.withTexts && texts != texts_.end()) place.sources = texts->second;
    list.catalogs.push_back(std::move(place));
}

void CatalogListing::list(const ListWish& wish) {
    listing_.request();
    listing_ = base::Cancellation();
    if (wish != last_) texts_.clear();
    last_ = wish;
    Listed list{.wish = wish};
    Listed others;
    addPlace(list, wish.connectionId, wish.database);
    for (const db::ConnectionProfile& one : desk_.connections().profiles()) {
        if (toQt(one.id) != wish.connectionId) addPlace(wish.isEverywhere ? list : others, toQt(one.id), {});
    }
    if (!list.catalogs.empty()) {
        const catalog::Facts& facts = list.catalogs.front().catalog->facts();
        list.databases = facts.databases;
        std::erase(list.databases, facts.database);
    }
    if (wish.withTexts && !wish.pattern.empty()) readTexts(wish, list);
    isListing_ = true;
    inBackground(
        this,
        [list = std::move(list), others = std::move(others)]() mutable { return workedOut(std::move(list), others); },
        [this, cancellation = listing_](const Listed& done) {
            if (cancellation.isRequested()) return;
            isListing_ = false;
            Q_EMIT listed(done);
        });
}

/// Texts are asked of the servers once, and the list is worked out anew when they are there.
void CatalogListing::readTexts(const ListWish& wish, const Listed& list) {
    for (const ShownPlace& place : list.places) {
        const std::pair key(place.connectionId, place.database);
        if (texts_.contains(key)) continue;
        texts_[key] = nullptr;  // on its way
        desk_.catalogs().readSources(fromQt(place.connectionId), place.database,
                                     whileThere(this, [this, wish, key](const Result<work::SourcesPtr>& read) {
                                         if (!read || wish != last_) return;
                                         texts_[key] = *read;
                                         this->list(wish);
                                     }));
    }
}

}  // namespace pantry::app

#include "moc_catalog_listing.cpp"
