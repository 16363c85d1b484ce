#include "support/throwaway_server.h"

#include <fcntl.h>
#include <grp.h>
#include <pwd.h>
#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>

#include <chrono>
#include <cstdlib>
#include <fstream>
#include <sstream>
#include <thread>

namespace pantry::test {
namespace {

constexpr auto kPatience = std::chrono::seconds(60);
constexpr auto kPause = std::chrono::milliseconds(20);

std::string contentOf(const std::filesystem::path& file) {
    std::ifstream in(file);
    std::stringstream text;
    text << in.rdbuf();
    return text.str();
}

}  // namespace

ThrowawayServer::ThrowawayServer(const std::string& name, const std::string& packageUser)
    : uid_(getuid()), gid_(getgid()) {
    const passwd* account = uid_ == 0 ? getpwnam(packageUser.c_str()) : getpwuid(uid_);
    if (account == nullptr) {
        giveUp("There is no user " + packageUser + "; is the server's package installed?");
        return;
    }
    user_ = account->pw_name;
    uid_ = account->pw_uid;
    gid_ = account->pw_gid;
    // Sockets have short paths, so the folder stands right in /tmp.
    std::string pattern = "/tmp/pantry-" + name + "-XXXXXX";
    if (mkdtemp(pattern.data()) == nullptr) {
        giveUp("No temporary folder could be made.");
        return;
    }
    folder_ = pattern;
    if (chown(pattern.c_str(), uid_, gid_) != 0) giveUp("The temporary folder cannot be given to " + user_ + ".");
}

ThrowawayServer::~ThrowawayServer() {
    if (pid_ > 0) {
        kill(pid_, SIGINT);  // at once and in order, for both servers: MariaDB is asked again below
        int status = 0;
        const auto deadline = std::chrono::steady_clock::now() + std::chrono::seconds(2);
        while (waitpid(pid_, &status, WNOHANG) == 0) {
            if (std::chrono::steady_clock::now() > deadline) kill(pid_, SIGTERM);
            std::this_thread::sleep_for(kPause);
        }
    }
    std::error_code ignored;
    if (!folder_.empty()) std::filesystem::remove_all(folder_, ignored);
}

void ThrowawayServer::giveUp(std::string why) {
    if (startup_.empty()) startup_ = std::move(why);
}

pid_t ThrowawayServer::spawn(const std::vector<std::string>& command) const {
    const pid_t child = fork();
    if (child != 0) return child;
    if (getuid() == 0 && (setgroups(0, nullptr) != 0 || setgid(gid_) != 0 || setuid(uid_) != 0)) _exit(126);
    if (chdir(folder_.c_str()) != 0) _exit(126);
    const int log = open("log", O_WRONLY | O_CREAT | O_APPEND, 0600);
    if (log >= 0) {
        dup2(log, STDOUT_FILENO);
        dup2(log, STDERR_FILENO);
    }
    setenv("HOME", folder_.c_str(), 1);
    std::vector<char*> arguments;
    for (const std::string& word : command) arguments.push_back(const_cast<char*>(word.c_str()));
    arguments.push_back(nullptr);
    execv(arguments[0], arguments.data());
    _exit(127);
}

bool ThrowawayServer::runToEnd(const std::vector<std::string>& command) {
    if (!startup_.empty()) return false;
    const pid_t child = spawn(command);
    int status = 0;
    if (child > 0) waitpid(child, &status, 0);
    if (child > 0 && WIFEXITED(status) && WEXITSTATUS(status) == 0) return true;
    giveUp(command[0] + " failed: " + contentOf(folder_ / "log"));
    return false;
}

void ThrowawayServer::start(const std::vector<std::string>& command, const std::function<bool()>& isReady) {
    if (!startup_.empty()) return;
    pid_ = spawn(command);
    const auto deadline = std::chrono::steady_clock::now() + kPatience;
    while (!isReady()) {
        int status = 0;
        if (waitpid(pid_, &status, WNOHANG) == pid_ || std::chrono::steady_clock::now() > deadline) {
            pid_ = -1;
            return giveUp(command[0] + " did not start: " + contentOf(folder_ / "log"));
        }
        std::this_thread::sleep_for(kPause);
    }
}

PostgresServer::PostgresServer() : ThrowawayServer("postgres", "postgres") {
    const std::string programs = "/usr/lib/postgresql/15/bin/";
    const std::string data = folder() / "data";
    runToEnd({programs + "initdb", "-D", data, "-A", "trust", "-E", "UTF8", "--locale=C.UTF-8", "-N"});
    start({programs + "postgres", "-D", data, "-k", folder(), "-c", "listen_addresses=", "-c", "fsync=off", "-c",
           "wal_level=logical"},
          [&] { return contentOf(folder() / "data" / "postmaster.pid").find("ready") != std::string::npos; });
}

std::string PostgresServer::address(const std::string& database) const {
    return "host=" + folder().string() + " user=" + user() + " dbname=" + database;
}

MariaDbServer::MariaDbServer() : ThrowawayServer("mariadb", "mysql") {
    const std::string data = "--datadir=" + (folder() / "data").string();
    runToEnd({"/usr/bin/mariadb-install-db", "--no-defaults", data, "--auth-root-authentication-method=normal",
              "--skip-test-db"});
    start({"/usr/sbin/mariadbd", "--no-defaults", data, "--socket=" + socket(), "--skip-networking",
           "--innodb-flush-log-at-trx-commit=0", "--pid-file=" + (folder() / "pid").string()},
          [this] { return std::filesystem::exists(socket()); });
}

}  // namespace pantry::test
