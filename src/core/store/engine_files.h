#pragma once

#include <filesystem>
#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/db/profile.h"

namespace pantry::store {

/// A connection that was found on this machine and can be saved with one click.
struct FoundConnection {
    db::ConnectionProfile profile;
    std::string where;  ///< how it was found: “listens on /run/postgresql”, “service kitchen of ~/.pg_service.conf”
};

/// Where the engines' own files and sockets are. Tests give others.
struct EngineFiles {
    std::function<std::optional<std::string>(std::string_view name)> environment;
    std::filesystem::path home;
    std::vector<std::filesystem::path> postgresSockets{"/var/run/postgresql", "/tmp"};
    std::vector<std::filesystem::path> mariaDbSockets{"/run/mysqld/mysqld.sock", "/var/lib/mysql/mysql.sock",
                                                      "/tmp/mysql.sock"};

    /// Those of this user and machine.
    [[nodiscard]] static EngineFiles ofThisUser();

    /// The services of pg_service.conf, the user's own and the system's ($PGSERVICEFILE, ~/.pg_service.conf,
    /// $PGSYSCONFDIR).
    [[nodiscard]] std::vector<FoundConnection> services() const;
    /// What PGHOST and its kin, MYSQL_HOST and its kin, and the section [client] of ~/.my.cnf say.
    [[nodiscard]] std::vector<FoundConnection> configured() const;
    /// Servers with a socket, or a loopback port that takes connections.
    [[nodiscard]] std::vector<FoundConnection> listening() const;
    /// All of them, without those that lead where one of `saved` leads. Looks at files and sockets: not for the
    /// window's thread.
    [[nodiscard]] std::vector<FoundConnection> found(const std::vector<db::ConnectionProfile>& saved) const;

    /// The password that the engine's own file has for a profile: the first line of ~/.pgpass ($PGPASSFILE) that fits,
    /// or that of [client] in ~/.my.cnf.
    [[nodiscard]] std::optional<std::string> passwordFor(const db::ConnectionProfile& profile) const;
};

}  // namespace pantry::store
