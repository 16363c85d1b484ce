#include "core/work/connections.h"

#include <fmt/format.h>

#include <algorithm>
#include <iterator>
#include <utility>

#include "core/base/joined.h"
#include "core/base/secret_text.h"
#include "core/db/driver_properties.h"
#include "core/db/places_on_server.h"
#include "core/db/profile_change.h"
#include "core/store/connection_merge.h"
#include "core/store/guard_of_now.h"
#include "core/store/keyring.h"
#include "core/store/passwords.h"
#include "core/work/background.h"

namespace pantry::work {

Connections::Connections(Surroundings& around, Told told)
    : around_(around), told_(std::move(told)), file_(around.home().connectionsFile()) {}

Connections::~Connections() {
    for (auto& [id, password] : passwords_) base::wipe(password);
    forgetRemoved();
}

void Connections::open() {
    auto list = load();
    if (!list) return around_.raise(list.error());
    list_ = std::move(*list);
    std::ranges::copy_if(list_.profiles, std::back_inserter(profiles_),
                         [](const db::ConnectionProfile& p) { return !p.isTemplate; });
    if (list_.notice) around_.raise(*list_.notice);
}

void Connections::take(store::ConnectionList list) {
    if (list.profiles == list_.profiles && list.groups == list_.groups) return;
    list_ = std::move(list);
    noteChange();
}

const db::ConnectionProfile* Connections::profile(std::string_view id) const {
    for (const auto* profiles : {&lent_, &profiles_}) {
        const auto found = std::ranges::find(*profiles, id, &db::ConnectionProfile::id);
        if (found != profiles->end()) return &*found;
    }
    return nullptr;
}

void Connections::lend(const db::ConnectionProfile& profile, const std::optional<std::string>& password) {
    lent_.push_back(profile);
    if (password) passwords_[profile.id] = *password;
}

std::optional<db::ConnectionProfile> Connections::profileAt(std::string_view id, const std::string& database) const {
    const db::ConnectionProfile* p = profile(id);
    if (p == nullptr) return std::nullopt;
    db::ConnectionProfile there = *p;
    if (!database.empty()) there.database = database;
    return there;
}

std::vector<const db::ConnectionProfile*> Connections::byGroup() const {
    std::vector<std::string> groups{std::string()};  // those without a group come first
    for (const store::ConnectionGroup& g : list_.groups) groups.push_back(g.name);
    std::vector<const db::ConnectionProfile*> ordered;
    for (const std::string& group : groups) {
        for (const auto& p : profiles_) {
            if (p.group == group) ordered.push_back(&p);
        }
    }
    return ordered;
}

/// What leads elsewhere now is connected to anew.
void Connections::noteChange() {
    const std::vector<db::ConnectionProfile> before = std::exchange(profiles_, {});
    std::ranges::copy_if(list_.profiles, std::back_inserter(profiles_),
                         [](const db::ConnectionProfile& p) { return !p.isTemplate; });
    for (const db::ConnectionProfile& old : before) {
        const db::ConnectionProfile* now = profile(old.id);
        if (now == nullptr || db::leadsElsewhere(old, *now)) told_.ledElsewhere(old.id);
    }
    told_.changed();
}

void Connections::change(const std::function<void(store::ConnectionList&)>& change) {
    around_.noteChange();
    change(list_);
    store::complete(list_);
    around_.write([file = file_, change] {
        return file.change([&](store::ConnectionList& list) -> Status {
            change(list);
            return {};
        });
    });
    noteChange();
}

void Connections::put(const db::ConnectionProfile& profile) {
    change([profile](store::ConnectionList& list) { store::putProfile(list, profile); });
}

void Connections::put(const db::ConnectionProfile& wanted, const db::ConnectionProfile& original) {
    // Done twice, the second time on the thread that writes: only then may the file hold what others have changed.
    change([&around = around_, own = &list_, wanted, original](store::ConnectionList& list) {
        const auto current = std::ranges::find(list.profiles, wanted.id, &db::ConnectionProfile::id);
        if (current == list.profiles.end()) return store::putProfile(list, wanted);
        const store::MergedProfile both = store::merged(original, wanted, *current);
        if (!both.conflicts.empty() && &list != own) {
            around.raise({.kind = ErrorKind::InvalidInput,
                          .message = fmt::format("{} was changed elsewhere meanwhile, too: {}.", wanted.name,
                                                 base::joined(both.conflicts, ", ")),
                          .hint = "What was saved here holds; look whether it is right."});
        }
        store::putProfile(list, both.profile);
    });
}

void Connections::remove(const std::string& id) {
    const auto found = std::ranges::find(list_.profiles, id, &db::ConnectionProfile::id);
    if (found == list_.profiles.end()) return;
    forgetRemoved();
    lastRemoved_ = *found;
    removedBefore_ = found + 1 == list_.profiles.end() ? std::string() : (found + 1)->id;
    change([id](store::ConnectionList& list) {
        std::erase_if(list.profiles, [&](const db::ConnectionProfile& p) { return p.id == id; });
    });
}

/// Once a removal cannot be undone any more, the keyring need not hold the password either.
void Connections::forgetRemoved() {
    const auto removed = std::exchange(lastRemoved_, std::nullopt);
    if (!removed || removed->passwordSource != db::PasswordSource::Keyring) return;
    around_.write([id = removed->id] { return store::Keyring::forget(id); });
}

void Connections::undoRemoval() {
    if (!lastRemoved_) return;
    const db::ConnectionProfile profile = *std::exchange(lastRemoved_, std::nullopt);
    change([profile, before = removedBefore_](store::ConnectionList& list) {
        store::putProfile(list, profile);
        store::moveProfile(list, profile.id, profile.group, before);
    });
}

std::function<std::optional<db::RunGuard>()> Connections::guardOfNow(const std::string& id) const {
    return store::guardOfNow(around_.home().connectionsFile(), id);
}

void Connections::find(std::function<void(std::vector<store::FoundConnection>)> done) {
    inBackground(
        base::Work::Network, around_.owner(),
        [saved = profiles_] { return store::EngineFiles::ofThisUser().found(saved); }, whileThere_(std::move(done)));
}

void Connections::test(const db::ConnectionProfile& profile, const std::optional<std::string>& password,
                       std::function<void(std::vector<db::TestStage>)> done) {
    inBackground(
        base::Work::Network, around_.owner(),
        [profile, password]() -> std::vector<db::TestStage> {
            auto driver = db::driverFor(profile.engine);
            if (!driver) return {{.name = "Found a driver", .error = driver.error()}};
            const auto found = store::passwordProvider(password)(profile);
            if (!found) return {{.name = "Found the password", .error = found.error()}};
            return (*driver)->test(profile, *found, {});
        },
        whileThere_(std::move(done)));
}

void Connections::listPlaces(const db::ConnectionProfile& profile, const std::optional<std::string>& password,
                             std::function<void(Result<std::vector<std::string>>)> done) {
    inBackground(
        base::Work::Network, around_.owner(),
        [profile, password]() -> Result<std::vector<std::string>> {
            const auto found = store::passwordProvider(password)(profile);
            if (!found) return found.error();
            return db::placesOnServer(profile, *found, {});
        },
        whileThere_(std::move(done)));
}

void Connections::setPassword(const db::ConnectionProfile& profile, const std::string& password,
                              std::function<void(const Status&)> done) {
    if (const auto old = passwords_.find(profile.id); old != passwords_.end()) {
        base::wipe(old->second);
        passwords_.erase(old);
    }
    if (!password.empty()) passwords_[profile.id] = password;
    if (password.empty() || profile.passwordSource != db::PasswordSource::Keyring) return done({});
    inBackground(
        base::Work::Network, around_.owner(),
        [profile, password] { return store::Keyring::keep(profile.id, "Agile Pantry: " + profile.name, password); },
        whileThere_(std::move(done)));
}

db::PasswordProvider Connections::passwordFor(const std::string& id) const {
    const db::ConnectionProfile* p = profile(id);
    const db::ConnectionProfile key = db::secretOf(p != nullptr ? *p : db::ConnectionProfile{}, db::kTlsKeyPassword);
    return [own = store::passwordProvider(passwordOf(id)), id = key.id,
            secret = passwordOf(key.id)](const db::ConnectionProfile& wanted) {
        if (secret && wanted.id == id) return Result<std::optional<std::string>>(secret);
        return own(wanted);
    };
}

std::optional<std::string> Connections::passwordOf(const std::string& id) const {
    const auto found = passwords_.find(id);
    return found == passwords_.end() ? std::nullopt : std::optional(found->second);
}

void Connections::beginWith(const std::string& id) {
    if (begun_.insert(id).second) told_.begun(id);
}

}  // namespace pantry::work
