#include "core/shelf/git_program.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <poll.h>
#include <signal.h>
#include <spawn.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <cstring>

#include "core/base/secret_text.h"
#include "core/base/text.h"

extern char** environ;  // NOLINT(readability-redundant-declaration): POSIX leaves it to the program

namespace pantry::shelf {
namespace {

/// The environment with what keeps git from asking.
std::vector<std::string> silentEnvironment() {
    std::vector<std::string> all;
    bool hasOwnSsh = false;
    for (char** one = environ; *one != nullptr; ++one) {
        const std::string_view entry(*one);
        hasOwnSsh = hasOwnSsh || entry.starts_with("GIT_SSH_COMMAND=") || entry.starts_with("GIT_SSH=");
        const bool isOurs = entry.starts_with("GIT_TERMINAL_PROMPT=") || entry.starts_with("GIT_DIR=") ||
                            entry.starts_with("GIT_WORK_TREE=") || entry.starts_with("GIT_INDEX_FILE=") ||
                            entry.starts_with("LC_ALL=");
        if (!isOurs) all.emplace_back(entry);
    }
    all.emplace_back("GIT_TERMINAL_PROMPT=0");
    all.emplace_back("LC_ALL=C.UTF-8");  // its words are read
    if (!hasOwnSsh) all.emplace_back("GIT_SSH_COMMAND=ssh -o BatchMode=yes -o ConnectTimeout=15");
    return all;
}

std::vector<char*> pointersTo(std::vector<std::string>& texts) {
    std::vector<char*> all;
    for (std::string& text : texts) all.push_back(text.data());
    all.push_back(nullptr);
    return all;
}

/// What a program said on its standard error, and how it ended.
struct Ended {
    int exit = 0;
    std::string said;
};

/// Tells each line as it comes; lines of progress end with \r.
class Listener {
public:
    explicit Listener(const std::function<void(const std::string&)>& progress) : progress_(progress) {}
    void take(std::string_view bytes) {
        constexpr std::size_t kMax = 64 << 10;
        said.append(bytes);
        if (said.size() > kMax) said.erase(0, said.size() - kMax);
        for (const char c : bytes) {
            if (c != '\n' && c != '\r') {
                line_ += c;
                continue;
            }
            if (progress_ && !base::trimmed(line_).empty()) progress_(std::string(base::trimmed(line_)));
            line_.clear();
        }
    }
    std::string said;

private:
    const std::function<void(const std::string&)>& progress_;
    std::string line_;
};

void stop(pid_t child) {
    ::kill(-child, SIGTERM);
    for (int i = 0; i < 20; ++i) {
        if (::waitpid(child, nullptr, WNOHANG) == child) return;
        ::usleep(50'000);
    }
    ::kill(-child, SIGKILL);
    ::waitpid(child, nullptr, 0);
}

Result<Ended> runProgram(std::vector<std::string> arguments, const base::Cancellation& cancellation,
                         const std::function<void(const std::string&)>& progress) {
    int ends[2];
    if (::pipe2(ends, O_CLOEXEC) != 0)
        return Error{.kind = ErrorKind::Io,
                     .message = std::string("Could not start git: ") + std::strerror(errno) + "."};
    posix_spawn_file_actions_t actions;
    posix_spawn_file_actions_init(&actions);
    posix_spawn_file_actions_addopen(&actions, 0, "/dev/null", O_RDONLY, 0);
    posix_spawn_file_actions_addopen(&actions, 1, "/dev/null", O_WRONLY, 0);
    posix_spawn_file_actions_adddup2(&actions, ends[1], 2);
    posix_spawnattr_t attributes;
    posix_spawnattr_init(&attributes);
    posix_spawnattr_setflags(&attributes, POSIX_SPAWN_SETPGROUP);  // so that what it starts ends with it
    auto environment = silentEnvironment();
    pid_t child = 0;
    const int code = ::posix_spawnp(&child, "git", &actions, &attributes, pointersTo(arguments).data(),
                                    pointersTo(environment).data());
    posix_spawn_file_actions_destroy(&actions);
    posix_spawnattr_destroy(&attributes);
    ::close(ends[1]);
    if (code != 0) {
        ::close(ends[0]);
        if (code == ENOENT) {
            return Error{.kind = ErrorKind::NotFound,
                         .message = "The program git is not installed; sharing a shelf needs it.",
                         .hint = "Install the package git."};
        }
        return Error{.kind = ErrorKind::Io,
                     .message = std::string("Could not start git: ") + std::strerror(code) + "."};
    }
    Listener listener(progress);
    char buffer[4096];
    for (;;) {
        if (cancellation.isRequested()) {
            stop(child);
            ::close(ends[0]);
            return Error{.kind = ErrorKind::Cancelled, .message = "Stopped."};
        }
        pollfd waiting{.fd = ends[0], .events = POLLIN, .revents = 0};
        constexpr int kLookMs = 100;
        if (::poll(&waiting, 1, kLookMs) == 0) continue;
        const ssize_t count = ::read(ends[0], buffer, sizeof buffer);
        if (count < 0 && errno == EINTR) continue;
        if (count <= 0) break;
        listener.take({buffer, static_cast<std::size_t>(count)});
    }
    ::close(ends[0]);
    int state = 0;
    while (::waitpid(child, &state, 0) < 0 && errno == EINTR) {
    }
    return Ended{WIFEXITED(state) ? WEXITSTATUS(state) : 128, std::move(listener.said)};
}

/// The lines of what git said that say what is wrong, without its own words for that.
std::string reasonIn(const std::string& said) {
    std::string reason;
    for (std::string_view line : base::splitAt(said, '\n')) {
        line = base::trimmed(line);
        for (const std::string_view sign : {"fatal: ", "error: ", "remote: ", "ssh: "}) {
            if (line.starts_with(sign) && reason.empty()) reason = line.substr(sign.size());
        }
    }
    if (reason.empty()) reason = base::trimmed(said);
    reason = base::withoutSecretText(base::oneLine(reason, 300));
    while (reason.ends_with('.')) reason.pop_back();
    return reason;
}

bool saysAny(const std::string& said, std::initializer_list<std::string_view> words) {
    return std::ranges::any_of(
        words, [&](std::string_view one) { return base::findIgnoringCase(said, one) != std::string::npos; });
}

Error errorOf(const std::string& said, const std::string& remote) {
    const std::string reason = reasonIn(said);
    if (saysAny(said, {"(fetch first)", "(non-fast-forward)", "tip of your current branch is behind"})) {
        return {.kind = ErrorKind::Busy,
                .message = fmt::format("“{}” has versions that are not here.", remote),
                .hint = "Pull first, then push again."};
    }
    if (saysAny(said, {"could not read Username", "could not read Password", "Authentication failed",
                       "terminal prompts disabled"})) {
        return {.kind = ErrorKind::Permission,
                .message = fmt::format("“{}” asks for a password, and git has none for it.", remote),
                .hint = "Store one with a credential helper of git, or use an address for ssh."};
    }
    if (saysAny(said,
                {"Permission denied (", "Host key verification failed", "remote: Permission", "403", "not allowed"})) {
        return {.kind = ErrorKind::Permission,
                .message = fmt::format("“{}” does not let you in: {}.", remote, reason),
                .hint = "Look at your ssh keys, at the known hosts, and at your rights there."};
    }
    if (saysAny(said, {"certificate", "SSL peer"})) {
        return {.kind = ErrorKind::Permission,
                .message = fmt::format("“{}” shows a certificate that is not trusted here: {}.", remote, reason),
                .hint = "Tell git whom to trust (http.sslCAInfo with the file of its signer), if it is the right one."};
    }
    if (saysAny(said, {"Could not resolve", "unable to access", "Connection refused", "Connection timed out",
                       "unreachable", "Operation timed out", "Could not connect"})) {
        return {.kind = ErrorKind::Connection,
                .message = fmt::format("“{}” cannot be reached: {}.", remote, reason),
                .hint = "Everything stays here; try again when the network is there."};
    }
    if (saysAny(said, {"does not appear to be a git repository", "does not exist", "not found"})) {
        return {.kind = ErrorKind::NotFound,
                .message = fmt::format("“{}” is not there any more: {}.", remote, reason),
                .hint = "Look at its address."};
    }
    return {.kind = ErrorKind::Io, .message = fmt::format("git could not do it with “{}”: {}.", remote, reason)};
}

}  // namespace

Status GitProgram::run(const std::vector<std::string>& arguments, const std::string& remote) const {
    std::vector<std::string> all = {"git"};
    if (!folder.empty()) {
        all.emplace_back("-C");
        all.push_back(folder.string());
    }
    all.insert(all.end(), arguments.begin(), arguments.end());
    auto ended = runProgram(std::move(all), cancellation, progress);
    if (!ended) return ended.error();
    if (ended->exit != 0) return errorOf(ended->said, remote);
    return {};
}

Status GitProgram::fetch(const std::string& remote) const {
    return run({"fetch", "--progress", "--no-recurse-submodules", "--", remote}, remote);
}

Status GitProgram::push(const std::string& remote, const std::string& branch) const {
    return run({"push", "--progress", "--", remote, "refs/heads/" + branch + ":refs/heads/" + branch}, remote);
}

Status GitProgram::clone(const std::string& address, const std::filesystem::path& into,
                         const base::Cancellation& cancellation,
                         const std::function<void(const std::string&)>& progress) {
    const GitProgram program{.folder = {}, .cancellation = cancellation, .progress = progress};
    return program.run({"clone", "--progress", "--", address, into.string()}, address);
}

}  // namespace pantry::shelf
