#pragma once

#include <functional>
#include <map>
#include <optional>
#include <set>
#include <string>
#include <string_view>
#include <vector>

#include "core/db/driver.h"
#include "core/db/guard.h"
#include "core/db/profile.h"
#include "core/db/session.h"
#include "core/store/connections_file.h"
#include "core/store/engine_files.h"
#include "core/work/owner_thread.h"
#include "core/work/surroundings.h"

namespace pantry::work {

/// The connections that somebody has: what is saved of them, their passwords while the program runs, which are worked
/// with. Each change is in effect at once and written by another thread, merged with what other programs wrote.
///
/// Threads: the owner's; what is told comes there, and none of it once the connections are gone.
class Connections {
public:
    struct Told {
        std::function<void()> changed;
        /// A connection is gone, or leads elsewhere now.
        std::function<void(const std::string& id)> ledElsewhere;
        /// The first time that somebody works with a connection.
        std::function<void(const std::string& id)> begun;
    };
    Connections(Surroundings& around, Told told);
    ~Connections();

    /// Reads what is saved; a small file, for the start of the program. What cannot be read is told.
    void open();
    /// Another program has written these.
    void take(store::ConnectionList list);
    /// What is in the file now. Any thread that may wait for a disk.
    [[nodiscard]] Result<store::ConnectionList> load() const { return file_.load(); }

    /// Those that one can connect with: all but the templates.
    [[nodiscard]] const std::vector<db::ConnectionProfile>& profiles() const { return profiles_; }
    /// Everything that is saved: connections, templates and groups.
    [[nodiscard]] const store::ConnectionList& list() const { return list_; }
    /// Takes a connection that is not saved, or whose password came from elsewhere, for this program only. Nothing of
    /// it is written.
    void lend(const db::ConnectionProfile& profile, const std::optional<std::string>& password);
    /// nullptr when it is gone.
    [[nodiscard]] const db::ConnectionProfile* profile(std::string_view id) const;
    /// Where a connection leads when one of its databases is chosen; nullopt when the connection is gone.
    [[nodiscard]] std::optional<db::ConnectionProfile> profileAt(std::string_view id,
                                                                 const std::string& database) const;
    /// Those of one group together, in the user's order of the groups.
    [[nodiscard]] std::vector<const db::ConnectionProfile*> byGroup() const;

    void put(const db::ConnectionProfile& profile);
    /// The same for a wish that was made from `original`: fields that it leaves alone keep what others have written
    /// since. What both changed is told.
    void put(const db::ConnectionProfile& profile, const db::ConnectionProfile& original);
    /// Removes it; undoRemoval() brings back the one removed last.
    void remove(const std::string& id);
    [[nodiscard]] const std::optional<db::ConnectionProfile>& lastRemoved() const { return lastRemoved_; }
    void undoRemoval();
    /// Changes order, groups or several connections at once, here and in the file: `change` is done twice.
    void change(const std::function<void(store::ConnectionList&)>& change);

    /// How runs on a connection are guarded by what its file says when they are sent; for db::RunRequest.
    [[nodiscard]] std::function<std::optional<db::RunGuard>()> guardOfNow(const std::string& id) const;

    /// Looks what else could be connected to: servers on this machine, the engines' own files.
    void find(std::function<void(std::vector<store::FoundConnection>)> done);
    void test(const db::ConnectionProfile& profile, const std::optional<std::string>& password,
              std::function<void(std::vector<db::TestStage>)> done);
    /// What the profile's database can be, as its server tells: see db::placesOnServer().
    void listPlaces(const db::ConnectionProfile& profile, const std::optional<std::string>& password,
                    std::function<void(Result<std::vector<std::string>>)> done);

    /// A password that was entered; empty takes it away. It stays in memory, and goes to the keyring when the profile
    /// says so: `done` hears how that went.
    void setPassword(const db::ConnectionProfile& profile, const std::string& password,
                     std::function<void(const Status&)> done);
    /// What was entered for a connection while the program runs.
    [[nodiscard]] std::optional<std::string> passwordOf(const std::string& id) const;
    /// Where sessions on a connection get its password from.
    [[nodiscard]] db::PasswordProvider passwordFor(const std::string& id) const;

    /// Somebody wants to work with a connection. Until then nothing connects: neither the start of the program nor the
    /// sheets that come back with it reach out to anything.
    void beginWith(const std::string& id);
    [[nodiscard]] bool hasBegunWith(const std::string& id) const { return begun_.contains(id); }

private:
    void noteChange();
    void forgetRemoved();

    Surroundings& around_;
    Told told_;
    store::ConnectionsFile file_;
    store::ConnectionList list_;
    std::vector<db::ConnectionProfile> profiles_;  // those of list_ that are no templates
    std::vector<db::ConnectionProfile> lent_;      // before those that are saved
    std::optional<db::ConnectionProfile> lastRemoved_;
    std::string removedBefore_;                     // the id that came after it
    std::map<std::string, std::string> passwords_;  // by id
    std::set<std::string> begun_;                   // connections that somebody works with since the start
    WhileThere whileThere_;
};

}  // namespace pantry::work
