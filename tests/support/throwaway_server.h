#pragma once

#include <sys/types.h>

#include <filesystem>
#include <functional>
#include <string>
#include <vector>

namespace pantry::test {

/// A database server of a test's own: started in a new temporary folder, reached by a socket in it, gone at the end.
/// Servers refuse to run as root, so as root it runs as the user that its package made.
///
/// Errors: startup() says why a server could not be started; the test should then fail with it.
class ThrowawayServer {
public:
    ThrowawayServer(const ThrowawayServer&) = delete;
    ThrowawayServer& operator=(const ThrowawayServer&) = delete;
    virtual ~ThrowawayServer();

    /// Empty once the server answers, else what went wrong.
    [[nodiscard]] const std::string& startup() const { return startup_; }
    [[nodiscard]] const std::filesystem::path& folder() const { return folder_; }
    /// User to connect as.
    [[nodiscard]] const std::string& user() const { return user_; }

protected:
    ThrowawayServer(const std::string& name, const std::string& packageUser);

    /// Runs a program as the server's user to its end; its output goes into the folder's log. False when it fails.
    bool runToEnd(const std::vector<std::string>& command);
    /// Starts the server itself and waits until it is ready to answer.
    void start(const std::vector<std::string>& command, const std::function<bool()>& isReady);
    void giveUp(std::string why);

private:
    [[nodiscard]] pid_t spawn(const std::vector<std::string>& command) const;

    std::filesystem::path folder_;
    std::string user_;
    uid_t uid_;
    gid_t gid_;
    pid_t pid_ = -1;
    std::string startup_;
};

/// PostgreSQL 15; databases are made with CREATE DATABASE.
class PostgresServer : public ThrowawayServer {
public:
    PostgresServer();
    /// A connection string of libpq.
    [[nodiscard]] std::string address(const std::string& database) const;
};

class MariaDbServer : public ThrowawayServer {
public:
    MariaDbServer();
    [[nodiscard]] std::string socket() const { return folder() / "socket"; }
};

}  // namespace pantry::test
