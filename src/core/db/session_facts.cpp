#include "core/db/session_facts.h"

#include <fmt/format.h>

#include "core/base/time.h"
#include "core/db/engine_traits.h"

namespace pantry::db {

std::vector<std::string> sessionFacts(const ConnectionProfile& profile, const SessionState& session,
                                      std::string_view serverVersion) {
    std::vector<std::string> facts{fmt::format("{} · {}", profile.name, environmentWord(profile.environment))};
    facts.emplace_back(serverVersion.empty() ? engineName(profile.engine) : serverVersion);
    facts.push_back("at " + placeOf(profile));
    const std::string& user = session.connection.user.empty() ? profile.user : session.connection.user;
    if (!user.empty()) {
        facts.push_back("as " + user + (session.connection.role.empty() ? "" : ", role " + session.connection.role));
    }
    if (!session.connection.database.empty()) facts.push_back("database " + session.connection.database);
    if (session.isConnected && traitsOf(profile.engine).tellsEncryption) {
        facts.push_back(session.encryption.empty() ? "not encrypted" : "encrypted: " + session.encryption);
    }
    if (session.isConnected) facts.push_back("connected since " + base::localTime(session.connectedSince));
    if (session.connection.isReadOnly) facts.emplace_back("read-only");
    if (!session.connection.isolation.empty()) facts.push_back("isolation: " + session.connection.isolation);
    return facts;
}

}  // namespace pantry::db
