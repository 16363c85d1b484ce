#include "cli/password_prompt.h"

#include <fcntl.h>
#include <termios.h>
#include <unistd.h>

#include <fmt/format.h>

#include "core/db/driver.h"
#include "core/db/engine_traits.h"

namespace pantry::cli {
namespace {

/// The terminal that this program was started on.
class Terminal {
public:
    Terminal() : file_(::open("/dev/tty", O_RDWR | O_CLOEXEC)) {}
    ~Terminal() {
        if (file_ >= 0) ::close(file_);
    }
    Terminal(const Terminal&) = delete;
    Terminal& operator=(const Terminal&) = delete;

    [[nodiscard]] bool isThere() const { return file_ >= 0; }
    void write(const std::string& text) const {
        if (::write(file_, text.data(), text.size()) < 0) return;  // whoever sees no question can still answer it
    }
    [[nodiscard]] std::optional<std::string> readLine() const {
        std::string line;
        char c = 0;
        while (::read(file_, &c, 1) == 1) {
            if (c == '\n') return line;
            line += c;
        }
        return std::nullopt;
    }
    [[nodiscard]] int file() const { return file_; }

private:
    int file_;
};

/// Lets nothing that is typed show, for as long as it lives.
class NoEcho {
public:
    explicit NoEcho(int file) : file_(file) {
        ::tcgetattr(file_, &before_);
        termios silent = before_;
        silent.c_lflag &= ~static_cast<tcflag_t>(ECHO);
        ::tcsetattr(file_, TCSAFLUSH, &silent);
    }
    ~NoEcho() { ::tcsetattr(file_, TCSAFLUSH, &before_); }
    NoEcho(const NoEcho&) = delete;
    NoEcho& operator=(const NoEcho&) = delete;

private:
    int file_;
    termios before_{};
};

/// Whether the server refuses this profile with this password, tried by signing in.
bool isRefused(db::ConnectionProfile profile, const std::optional<std::string>& password) {
    const auto driver = db::driverFor(profile.engine);
    if (!driver) return false;
    profile.onConnect.clear();
    const auto connection = (*driver)->open(profile, password, {});
    return !connection && connection.error().kind == ErrorKind::Permission;
}

/// Asks without showing what is typed. Nothing when the terminal ends before there is an answer.
std::optional<std::string> ask(const Terminal& terminal, const std::string& question) {
    const NoEcho silence(terminal.file());
    terminal.write(question);
    auto line = terminal.readLine();
    terminal.write("\n");
    return line;
}

}  // namespace

std::optional<std::string> passwordFromTerminal(const db::ConnectionProfile& profile) {
    if (db::isFile(profile.engine) || profile.passwordSource != db::PasswordSource::Ask) return std::nullopt;
    const Terminal terminal;
    if (!terminal.isThere() || !isRefused(profile, std::nullopt)) return std::nullopt;
    std::optional<std::string> password;
    constexpr int kAttempts = 3;
    for (int attempt = 1; attempt <= kAttempts; ++attempt) {
        password = ask(terminal, fmt::format("Password for {}: ", db::placeOf(profile)));
        if (!password || !isRefused(profile, password)) return password;
        if (attempt < kAttempts) terminal.write("The server refuses this password.\n");
    }
    return password;  // the run tells what the server says
}

}  // namespace pantry::cli
