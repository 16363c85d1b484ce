#include "demo/throwaway_server.h"

#include <arpa/inet.h>
#include <fcntl.h>
#include <grp.h>
#include <netinet/in.h>
#include <pwd.h>
#include <signal.h>
#include <sys/prctl.h>
#include <sys/socket.h>
#include <sys/un.h>
#include <sys/wait.h>
#include <unistd.h>

#include <chrono>
#include <cstdlib>
#include <fstream>
#include <sstream>
#include <thread>

namespace pantry::demo {
namespace {

constexpr auto kTimeout = std::chrono::seconds(60);
constexpr auto kPause = std::chrono::milliseconds(20);

std::string contentOf(const std::filesystem::path& file) {
    std::ifstream in(file);
    std::stringstream text;
    text << in.rdbuf();
    return text.str();
}

std::vector<pid_t> childrenOf(pid_t parent) {
    std::vector<pid_t> children;
    std::error_code ignored;
    for (const auto& entry : std::filesystem::directory_iterator("/proc", ignored)) {
        const std::string status = contentOf(entry.path() / "status");
        if (status.find("\nPPid:\t" + std::to_string(parent) + "\n") == std::string::npos) continue;
        children.push_back(static_cast<pid_t>(std::stol(entry.path().filename())));
    }
    return children;
}

/// A port of this machine that nobody listens on.
std::uint16_t freePort() {
    const int probe = ::socket(AF_INET, SOCK_STREAM, 0);
    sockaddr_in address{};
    address.sin_family = AF_INET;
    address.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
    socklen_t length = sizeof address;
    auto* raw = reinterpret_cast<sockaddr*>(&address);
    const bool isFound = ::bind(probe, raw, length) == 0 && ::getsockname(probe, raw, &length) == 0;
    ::close(probe);
    return isFound ? ntohs(address.sin_port) : 0;
}

}  // namespace

ThrowawayServer::ThrowawayServer(const std::string& name, const std::string& packageUser, ServerOptions options)
    : options_(std::move(options)), uid_(getuid()), gid_(getgid()) {
    if (options_.overTcp) port_ = freePort();
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
    stop();
    std::error_code ignored;
    if (!folder_.empty()) std::filesystem::remove_all(folder_, ignored);
}

void ThrowawayServer::stop() {
    if (pid_ <= 0) return;
    signalAll(SIGCONT);
    ::kill(pid_, stopSignal_);
    int status = 0;
    const auto deadline = std::chrono::steady_clock::now() + std::chrono::seconds(20);
    while (waitpid(pid_, &status, WNOHANG) == 0) {
        if (std::chrono::steady_clock::now() > deadline) signalAll(SIGKILL);
        std::this_thread::sleep_for(kPause);
    }
    pid_ = -1;
}

/// The server, held still meanwhile, and the processes that it started, which have groups of their own.
void ThrowawayServer::signalAll(int signal) const {
    if (pid_ <= 0) return;
    ::kill(pid_, SIGSTOP);
    for (const pid_t child : childrenOf(pid_)) ::kill(child, signal);
    ::kill(pid_, signal);
}

void ThrowawayServer::kill() {
    wasKilled_ = true;
    if (pid_ <= 0) return;
    signalAll(SIGKILL);
    int status = 0;
    waitpid(pid_, &status, 0);
    pid_ = -1;
}

void ThrowawayServer::freeze() { signalAll(SIGSTOP); }
void ThrowawayServer::unfreeze() { signalAll(SIGCONT); }

void ThrowawayServer::restart() { launch(); }

/// A certificate authority, a certificate for the server on this machine, and one for a client.
void ThrowawayServer::makeCertificates() {
    const std::string script =
        "set -e; mkdir certificates; cd certificates; "
        "new() { openssl req -new -newkey rsa:2048 -nodes -keyout $1.key -out $1.csr -subj /CN=$2; }; "
        "openssl req -x509 -newkey rsa:2048 -nodes -keyout ca.key -out ca.crt -days 2 -subj '/CN=Larkspur Vale test'; "
        "new server localhost; printf 'subjectAltName=DNS:localhost' > san; "
        "openssl x509 -req -in server.csr -CA ca.crt -CAkey ca.key -CAcreateserial -days 2 -extfile san -out "
        "server.crt; new client \"$(id -un)\"; "
        "openssl x509 -req -in client.csr -CA ca.crt -CAkey ca.key -CAcreateserial -days 2 -out client.crt; "
        "openssl req -x509 -newkey rsa:2048 -nodes -keyout stranger.key -out stranger.crt -days 2 -subj /CN=stranger; "
        "chmod 0600 *.key";
    runToEnd({"/bin/sh", "-c", script});
}

void ThrowawayServer::giveUp(std::string why) {
    if (startup_.empty()) startup_ = std::move(why);
}

pid_t ThrowawayServer::spawn(const std::vector<std::string>& command) const {
    const pid_t child = fork();
    if (child != 0) return child;
    setpgid(0, 0);  // Ctrl+C is for us; we stop it in good order
    if (getuid() == 0 && (setgroups(0, nullptr) != 0 || setgid(gid_) != 0 || setuid(uid_) != 0)) _exit(126);
    prctl(PR_SET_PDEATHSIG, SIGTERM);  // it must not outlive a program that dies
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

void ThrowawayServer::start(std::vector<std::string> command, std::function<bool()> isReady) {
    command_ = std::move(command);
    command_.insert(command_.end(), options_.words.begin(), options_.words.end());
    isReady_ = std::move(isReady);
    if (startup_.empty()) launch();
}

void ThrowawayServer::launch() {
    pid_ = spawn(command_);
    const auto deadline = std::chrono::steady_clock::now() + kTimeout;
    do {
        std::this_thread::sleep_for(kPause);
        int status = 0;
        const bool isOver = std::chrono::steady_clock::now() > deadline;
        const bool hasEnded = waitpid(pid_, &status, WNOHANG) == pid_;
        if (hasEnded && wasKilled_ && !isOver) {  // what is left of the one before holds its memory for a moment
            pid_ = spawn(command_);
        } else if (hasEnded || isOver) {
            pid_ = -1;
            return giveUp(command_[0] + " did not start: " + contentOf(folder_ / "log"));
        }
    } while (!isReady_());
}

PostgresServer::PostgresServer(ServerOptions options) : ThrowawayServer("postgres", "postgres", std::move(options)) {
    setStopSignal(SIGINT);
    const std::string programs = "/usr/lib/postgresql/15/bin/";
    const std::string data = folder() / "data";
    runToEnd({programs + "initdb", "-D", data, "-A", "trust", "-E", "UTF8", "--locale=C.UTF-8", "-N"});
    std::vector<std::string> command{programs + "postgres", "-D", data, "-k", folder(), "-c", "fsync=off", "-c",
                                     "wal_level=logical",   "-c"};
    command.push_back(this->options().overTcp ? "listen_addresses=127.0.0.1" : "listen_addresses=");
    if (this->options().overTcp) command.insert(command.end(), {"-p", std::to_string(port())});
    if (this->options().withTls) {
        makeCertificates();
        const std::string folder = certificates();
        for (const std::string& setting :
             {std::string("ssl=on"), "ssl_cert_file=" + folder + "/server.crt",
              "ssl_key_file=" + folder + "/server.key", "ssl_ca_file=" + folder + "/ca.crt"}) {
            command.insert(command.end(), {"-c", setting});
        }
    }
    start(std::move(command), [this, file = folder() / "data" / "postmaster.pid"] {
        const std::string status = contentOf(file);  // one that was killed leaves its own behind
        return status.starts_with(std::to_string(pid()) + "\n") && status.find("ready") != std::string::npos;
    });
}

std::string PostgresServer::address(const std::string& database) const {
    const std::string port = this->port() == 0 ? "" : " port=" + std::to_string(this->port());
    return "host=" + folder().string() + port + " user=" + user() + " dbname=" + database;
}

MariaDbServer::MariaDbServer(ServerOptions options) : ThrowawayServer("mariadb", "mysql", std::move(options)) {
    const std::string data = "--datadir=" + (folder() / "data").string();
    // A server that starts clears away what it takes for its predecessor's temporary tables, so that two in one folder
    // take each other's.
    const std::string temporary = "--tmpdir=" + folder().string();
    runToEnd({"/usr/bin/mariadb-install-db", "--no-defaults", data, temporary,
              "--auth-root-authentication-method=normal", "--skip-test-db"});
    std::vector<std::string> command{"/usr/sbin/mariadbd",
                                     "--no-defaults",
                                     data,
                                     temporary,
                                     "--socket=" + socket(),
                                     "--innodb-flush-log-at-trx-commit=0",
                                     "--pid-file=" + (folder() / "pid").string()};
    if (this->options().overTcp) {
        command.insert(command.end(), {"--bind-address=127.0.0.1", "--port=" + std::to_string(port())});
    } else {
        command.emplace_back("--skip-networking");
    }
    if (this->options().withTls) {
        makeCertificates();
        const std::string folder = certificates();
        command.insert(command.end(), {"--ssl-ca=" + folder + "/ca.crt", "--ssl-cert=" + folder + "/server.crt",
                                       "--ssl-key=" + folder + "/server.key"});
    }
    start(std::move(command), [file = socket()] {
        const int probe = ::socket(AF_UNIX, SOCK_STREAM, 0);
        sockaddr_un address{};
        address.sun_family = AF_UNIX;
        file.copy(address.sun_path, sizeof address.sun_path - 1);
        const bool answers = ::connect(probe, reinterpret_cast<sockaddr*>(&address), sizeof address) == 0;
        ::close(probe);
        return answers;
    });
}

}  // namespace pantry::demo
