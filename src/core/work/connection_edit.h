#pragma once

#include <functional>
#include <map>
#include <optional>
#include <set>
#include <string>
#include <utility>
#include <vector>

#include "core/base/result.h"
#include "core/db/profile.h"
#include "core/work/connections.h"

namespace pantry::work {

/// What somebody has entered for a connection so far.
struct ConnectionDraft {
    db::ConnectionProfile profile;
    std::string password;
    friend bool operator==(const ConnectionDraft&, const ConnectionDraft&) = default;
};

/// What an address says, for the fields of a form.
struct AddressTaken {
    db::ConnectionProfile profile;
    std::optional<std::string> password;
    std::vector<std::string> unused;  ///< parts of it that have no use here
    std::string name;                 ///< that the connection could have
};
/// Errors: InvalidInput for what is no address, Unsupported for an engine without a driver.
[[nodiscard]] Result<AddressTaken> takeAddress(const std::string& text);

/// What a connection's database is to the fields of a file's form (`isFile`) or of a server's: the path of a file names
/// no database of a server, nor a database a file, so that it is empty for the other one.
[[nodiscard]] std::string databaseFor(const db::ConnectionProfile& profile, bool isFile);

/// The colour that a connection gets with an environment: one that nobody chose follows it.
[[nodiscard]] std::string colourWith(db::Environment environment, const std::string& chosen);

/// One connection after the other that somebody edits: what is saved of it, what was entered and not saved, what others
/// have written meanwhile.
///
/// Threads: the owner's.
class ConnectionEdit {
public:
    /// Values of properties that are secret, by the property's name.
    using Secrets = std::map<std::string, std::string>;

    /// Lifetime: the connections outlive it.
    explicit ConnectionEdit(Connections& connections) : connections_(connections) {}

    /// Takes a connection up. Requires: what was entered for the one before is kept, if it is to stay.
    void begin(const db::ConnectionProfile& profile, bool isNew);
    /// None is edited.
    void end() { begin({}, false); }
    [[nodiscard]] bool hasBegun() const { return !stored_.id.empty(); }
    /// As it is saved, or as it began.
    [[nodiscard]] const db::ConnectionProfile& stored() const { return stored_; }
    [[nodiscard]] bool isNew() const { return isNew_; }
    /// What it takes from its template, as the form shows it, is no edit.
    void noteInherited(std::set<std::string> fields) { stored_.inherited = std::move(fields); }
    [[nodiscard]] bool isEdited(const db::ConnectionProfile& entered) const { return entered != stored_; }

    // What was entered and not saved
    /// Before another one is taken up.
    void keepDraft(const ConnectionDraft& entered);
    [[nodiscard]] bool hasDraft(const std::string& id) const { return drafts_.contains(id); }
    /// Of the one that is taken up; nullptr when there is none.
    [[nodiscard]] const ConnectionDraft* draft() const;
    /// Of a new one that was begun; it is there only once.
    [[nodiscard]] std::optional<ConnectionDraft> takeNewDraft() { return std::exchange(newDraft_, std::nullopt); }

    // What others have written
    struct Elsewhere {
        bool wasRemoved = false;                  ///< saving makes it anew
        db::ConnectionProfile shown = {};         ///< what others wrote, but for what was entered here
        std::vector<std::string> conflicts = {};  ///< fields that both have changed
    };
    /// To be asked when connections have changed; nothing when this one has not.
    [[nodiscard]] std::optional<Elsewhere> takeFromElsewhere(const db::ConnectionProfile& entered);

    /// `told` hears of each secret that could not be put into the keyring. Errors: what cannot be saved so, and why.
    Status save(db::ConnectionProfile entered, const std::string& password, const Secrets& secrets,
                const std::function<void(const Status&)>& told);
    /// Tries what was entered, stage by stage.
    void test(db::ConnectionProfile entered, const std::string& password, const Secrets& secrets,
              std::function<void(std::vector<db::TestStage>)> done);
    /// Removes it; the database stays.
    void remove();

private:
    Connections& connections_;
    db::ConnectionProfile stored_;
    bool isNew_ = false;
    std::map<std::string, ConnectionDraft> drafts_;  // by the connection's id
    std::optional<ConnectionDraft> newDraft_;        // of one that was never saved
};

}  // namespace pantry::work
