#include "core/work/connection_edit.h"

#include <algorithm>
#include <array>

#include "core/db/address.h"
#include "core/db/driver_properties.h"
#include "core/db/engine_traits.h"
#include "core/store/connection_merge.h"

namespace pantry::work {

Result<AddressTaken> takeAddress(const std::string& text) {
    auto address = db::parseAddress(text);
    if (!address) return address.error();
    const db::ConnectionProfile& there = address->profile;
    if (const auto driver = db::driverFor(there.engine); !driver) return driver.error();
    const bool isOnServer = !db::isFile(there.engine) && !there.database.empty();
    const std::string place = db::placeOf(there);
    const std::string name = isOnServer ? there.database : place.substr(0, place.find('.'));
    return AddressTaken{std::move(address->profile), std::move(address->password), std::move(address->unused), name};
}

std::string databaseFor(const db::ConnectionProfile& profile, bool isFile) {
    return db::isFile(profile.engine) == isFile ? profile.database : std::string();
}

std::string colourWith(db::Environment environment, const std::string& chosen) {
    constexpr std::array kAll{db::Environment::Local, db::Environment::Trial, db::Environment::Live};
    const auto isUsual = [&](db::Environment e) { return chosen == db::usualColour(e); };
    const bool isChosen = chosen != db::ConnectionProfile{}.colour && std::ranges::none_of(kAll, isUsual);
    return isChosen ? chosen : std::string(db::usualColour(environment));
}

void ConnectionEdit::begin(const db::ConnectionProfile& profile, bool isNew) {
    stored_ = profile;
    isNew_ = isNew;
}

// ---- What was entered and not saved ----

void ConnectionEdit::keepDraft(const ConnectionDraft& entered) {
    if (!hasBegun()) return;
    if (isNew_) {
        if (isEdited(entered.profile)) newDraft_ = entered;
    } else if (isEdited(entered.profile)) {
        drafts_[stored_.id] = entered;
    } else {
        drafts_.erase(stored_.id);
    }
}

const ConnectionDraft* ConnectionEdit::draft() const {
    const auto found = isNew_ ? drafts_.end() : drafts_.find(stored_.id);
    return found == drafts_.end() ? nullptr : &found->second;
}

// ---- What others have written ----

std::optional<ConnectionEdit::Elsewhere> ConnectionEdit::takeFromElsewhere(const db::ConnectionProfile& entered) {
    if (isNew_ || !hasBegun()) return std::nullopt;
    const auto& all = connections_.list().profiles;
    const auto now = std::ranges::find(all, stored_.id, &db::ConnectionProfile::id);
    if (now == all.end()) {
        isNew_ = true;
        return Elsewhere{.wasRemoved = true};
    }
    if (*now == stored_) return std::nullopt;
    store::MergedProfile merged = store::merged(stored_, entered, *now);
    stored_ = *now;
    return Elsewhere{.shown = std::move(merged.profile), .conflicts = std::move(merged.conflicts)};
}

// ---- The way into the file and out of it ----

Status ConnectionEdit::save(db::ConnectionProfile entered, const std::string& password, const Secrets& secrets,
                            const std::function<void(const Status&)>& told) {
    entered.isUnseen = false;  // whoever saves it has seen it
    if (const auto problem = store::problemOf(entered, connections_.list().profiles)) return *problem;
    const db::ConnectionProfile original = std::exchange(stored_, entered);
    const bool wasNew = std::exchange(isNew_, false);
    drafts_.erase(entered.id);
    wasNew ? connections_.put(entered) : connections_.put(entered, original);
    if (db::isFile(entered.engine)) return {};
    connections_.setPassword(entered, password, told);
    for (const auto& [property, value] : secrets) {
        connections_.setPassword(db::secretOf(entered, property), value, told);
    }
    return {};
}

void ConnectionEdit::test(db::ConnectionProfile entered, const std::string& password, const Secrets& secrets,
                          std::function<void(std::vector<db::TestStage>)> done) {
    for (const auto& [property, value] : secrets) {
        if (!value.empty()) entered.options[property] = value;
    }
    connections_.test(entered, password.empty() ? std::nullopt : std::optional(password), std::move(done));
}

void ConnectionEdit::remove() {
    const std::string id = stored_.id;
    end();
    drafts_.erase(id);
    connections_.remove(id);
}

}  // namespace pantry::work
