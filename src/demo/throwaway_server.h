#pragma once

#include <signal.h>
#include <sys/types.h>

#include <cstdint>
#include <filesystem>
#include <functional>
#include <string>
#include <vector>

namespace pantry::demo {

/// What a throwaway server is like.
struct ServerOptions {
    bool overTcp = false;            ///< also listens on a free port of this machine
    bool withTls = false;            ///< with certificates made on the spot; see certificates()
    std::vector<std::string> words;  ///< further words of its command line
};

/// A database server for a while: started in a new temporary folder, reached by a socket in it, gone at the end.
/// Servers refuse to run as root, so as root it runs as the user that its package made.
///
/// Threads: one at a time.
/// Errors:  startup() says why a server could not be started.
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
    /// Port on 127.0.0.1; 0 without ServerOptions::overTcp.
    [[nodiscard]] std::uint16_t port() const { return port_; }
    /// Folder of ca.crt, client.crt and client.key.
    [[nodiscard]] std::filesystem::path certificates() const { return folder_ / "certificates"; }

    // What may happen to a server.
    void kill();    ///< at once, without a farewell
    void freeze();  ///< it answers nothing, but its lines stay
    void unfreeze();
    void restart();  ///< after kill() or stop()
    void stop();     ///< in good order

protected:
    ThrowawayServer(const std::string& name, const std::string& packageUser, ServerOptions options);

    /// Runs a program as the server's user to its end; its output goes into the folder's log. False when it fails.
    bool runToEnd(const std::vector<std::string>& command);
    /// Starts the server itself and waits until it is ready to answer.
    void start(std::vector<std::string> command, std::function<bool()> isReady);
    void giveUp(std::string why);
    void makeCertificates();
    [[nodiscard]] pid_t pid() const { return pid_; }
    /// The signal that ends it at once and in order, without waiting for its clients to leave.
    void setStopSignal(int signal) { stopSignal_ = signal; }
    [[nodiscard]] const ServerOptions& options() const { return options_; }

private:
    void launch();
    [[nodiscard]] pid_t spawn(const std::vector<std::string>& command) const;
    void signalAll(int signal) const;

    ServerOptions options_;
    std::filesystem::path folder_;
    std::string user_;
    uid_t uid_;
    gid_t gid_;
    std::uint16_t port_ = 0;
    pid_t pid_ = -1;
    bool wasKilled_ = false;
    int stopSignal_ = SIGTERM;
    std::vector<std::string> command_;
    std::function<bool()> isReady_;
    std::string startup_;
};

/// PostgreSQL 15; databases are made with CREATE DATABASE.
class PostgresServer : public ThrowawayServer {
public:
    explicit PostgresServer(ServerOptions options = {});
    /// A connection string of libpq.
    [[nodiscard]] std::string address(const std::string& database) const;
};

class MariaDbServer : public ThrowawayServer {
public:
    explicit MariaDbServer(ServerOptions options = {});
    [[nodiscard]] std::string socket() const { return folder() / "socket"; }
};

}  // namespace pantry::demo
