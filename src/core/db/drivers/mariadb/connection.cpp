#include <errmsg.h>
#include <fmt/format.h>
#include <netinet/in.h>
#include <netinet/tcp.h>
#include <poll.h>
#include <sys/socket.h>

#include <chrono>
#include <cstdlib>
#include <filesystem>

#include "core/base/late_library.h"
#include "core/db/connecting.h"

#include <mysql.h>

#include "core/db/drivers/mariadb/handle.h"
#include "core/db/host_lookup.h"

namespace pantry::db::mariadb {

void CloseConnection::operator()(MYSQL* connection) const { mysql_close(connection); }
void FreeResult::operator()(MYSQL_RES* result) const { mysql_free_result(result); }

namespace {

using Clock = std::chrono::steady_clock;

void setText(MYSQL* connection, mysql_option option, const std::string& value) {
    if (!value.empty()) mysql_options(connection, option, value.c_str());
}

void setFlag(MYSQL* connection, mysql_option option, bool value) {
    const my_bool flag = value ? 1 : 0;
    mysql_options(connection, option, &flag);
}

void encrypt(MYSQL* connection, const TlsChoice& tls, bool isLocal) {
    // This client has no way of asking for encryption “if there is some”; on this machine nobody can listen.
    if (tls.mode == TlsMode::Off || (tls.mode == TlsMode::Auto && isLocal)) return;
    const bool checksSigner = tls.mode != TlsMode::Encrypt;
    setFlag(connection, MYSQL_OPT_SSL_ENFORCE, true);
    setFlag(connection, MYSQL_OPT_SSL_VERIFY_SERVER_CERT, checksSigner && tls.mode != TlsMode::VerifyCa);
    if (checksSigner) setText(connection, MYSQL_OPT_SSL_CA, tls.ca.empty() ? systemCertificates() : tls.ca);
    setText(connection, MYSQL_OPT_SSL_CERT, tls.certificate);
    setText(connection, MYSQL_OPT_SSL_KEY, tls.key);
    setText(connection, MARIADB_OPT_TLS_PASSPHRASE, tls.keyPassword);
}

/// The engine's own password file is asked only when no password was given.
void readOwnPasswordFile(MYSQL* connection) {
    const char* home = std::getenv("HOME");
    const std::string file = fmt::format("{}/.my.cnf", home == nullptr ? "" : home);
    std::error_code ignored;
    if (std::filesystem::exists(file, ignored)) mysql_options(connection, MYSQL_READ_DEFAULT_FILE, file.c_str());
}

/// A connection whose other end is gone is found out within a minute, also while nothing is sent.
void keepAlive(my_socket socket) {
    const int on = 1;
    const int idle = 20;
    const int interval = 10;
    const int count = 3;
    ::setsockopt(socket, SOL_SOCKET, SO_KEEPALIVE, &on, sizeof on);
    ::setsockopt(socket, IPPROTO_TCP, TCP_KEEPIDLE, &idle, sizeof idle);
    ::setsockopt(socket, IPPROTO_TCP, TCP_KEEPINTVL, &interval, sizeof interval);
    ::setsockopt(socket, IPPROTO_TCP, TCP_KEEPCNT, &count, sizeof count);
}

Error connectError(MYSQL* connection, const ConnectionProfile& profile) {
    const std::string_view said = mysql_error(connection);
    if (said.find("server does not support it") != std::string_view::npos) return noEncryption(profile);
    Error error = errorOf(connection, {}, profile);
    if (error.kind == ErrorKind::Statement) error.kind = ErrorKind::Connection;
    error.detail = error.message;
    constexpr unsigned kNoRightToDatabase = 1044;
    if (mysql_errno(connection) == kNoRightToDatabase) {
        error.message = fmt::format("This user may not use the database {} at {}.", profile.database, placeOf(profile));
        return error;
    }
    switch (error.kind) {
        case ErrorKind::Permission:
            error.message = fmt::format("{} did not accept user and password.", placeOf(profile));
            break;
        case ErrorKind::NotFound:
            error.message = fmt::format("There is no database {} at {}.", profile.database, placeOf(profile));
            break;
        case ErrorKind::Busy: error.message = fmt::format("{} has no connection left.", placeOf(profile)); break;
        default: error.message = fmt::format("No connection to {} came about.", placeOf(profile));
    }
    return error;
}

/// Waits for what the client waits for; the events that came.
int waitFor(MYSQL* connection, int events) {
    constexpr int kLookEveryMs = 50;
    pollfd socket{.fd = mysql_get_socket(connection), .events = 0, .revents = 0};
    if ((events & MYSQL_WAIT_READ) != 0) socket.events |= POLLIN;
    if ((events & MYSQL_WAIT_WRITE) != 0) socket.events |= POLLOUT;
    if ((events & MYSQL_WAIT_EXCEPT) != 0) socket.events |= POLLPRI;
    if (::poll(&socket, 1, kLookEveryMs) <= 0) return 0;
    int happened = 0;
    if ((socket.revents & (POLLIN | POLLERR | POLLHUP)) != 0) happened |= MYSQL_WAIT_READ;
    if ((socket.revents & (POLLOUT | POLLERR | POLLHUP)) != 0) happened |= MYSQL_WAIT_WRITE;
    if ((socket.revents & POLLPRI) != 0) happened |= MYSQL_WAIT_EXCEPT;
    return happened & events;
}

Result<ConnectionHandle> connectWith(const ConnectionProfile& profile, const std::optional<std::string>& password,
                                     const TlsChoice& tls, const base::Cancellation& cancellation) {
    if (Status there = base::loadLibrary(LATE_MARIADB); !there) return there.error();
    ConnectionHandle connection(mysql_init(nullptr));
    MYSQL* c = connection.get();
    if (c == nullptr) return Error{.kind = ErrorKind::Internal, .message = "There is no memory for a connection."};
    const bool isSocket = profile.host.starts_with('/');
    mysql_options(c, MYSQL_OPT_NONBLOCK, nullptr);
    mysql_options(c, MYSQL_SET_CHARSET_NAME, "utf8mb4");
    mysql_options4(c, MYSQL_OPT_CONNECT_ATTR_ADD, "program_name", "Agile Pantry");
    setFlag(c, MYSQL_REPORT_DATA_TRUNCATION, false);
    const unsigned noLocalFiles = 0;  // a server must not be able to ask for files of this machine
    mysql_options(c, MYSQL_OPT_LOCAL_INFILE, &noLocalFiles);
    if (!isSocket && profile.port != 0) {
        const unsigned protocol = MYSQL_PROTOCOL_TCP;  // else “localhost” means the socket
        mysql_options(c, MYSQL_OPT_PROTOCOL, &protocol);
    }
    encrypt(c, tls, isOnThisMachine(profile));
    const bool maySign = mayShowPassword(profile, tls.mode != TlsMode::Off);
    if (!password && maySign) readOwnPasswordFile(c);

    const auto orNull = [](const std::string& text) { return text.empty() ? nullptr : text.c_str(); };
    const auto deadline = Clock::now() + patienceOf(profile);
    MYSQL* connected = nullptr;
    int waits = mysql_real_connect_start(&connected, c, isSocket ? nullptr : orNull(profile.host), orNull(profile.user),
                                         password && maySign ? password->c_str() : nullptr, orNull(profile.database),
                                         profile.port, isSocket ? profile.host.c_str() : nullptr, CLIENT_MULTI_RESULTS);
    bool isGivenUp = false;
    while (waits != 0) {
        int happened = waitFor(c, waits);
        if (!isGivenUp && (cancellation.isRequested() || Clock::now() > deadline)) {
            isGivenUp = true;
            ::shutdown(mysql_get_socket(c), SHUT_RDWR);  // ends the wait in good order
        }
        if (isGivenUp) happened = waits & ~MYSQL_WAIT_TIMEOUT;
        if (happened != 0) waits = mysql_real_connect_cont(&connected, c, happened);
    }
    if (cancellation.isRequested()) return stopped();
    if (isGivenUp) return answeredTooLate(profile);
    if (connected == nullptr) return connectError(c, profile);
    // The client goes on in the open where the server offers nothing, whatever it was told.
    const bool mustBeEncrypted = tls.mode != TlsMode::Off && tls.mode != TlsMode::Auto;
    if (mustBeEncrypted && mysql_get_ssl_cipher(c) == nullptr) {
        return noEncryption(profile);
    }
    if (!isSocket) keepAlive(mysql_get_socket(c));
    return connection;
}

}  // namespace

Result<ConnectionHandle> connect(const ConnectionProfile& profile, const std::optional<std::string>& password,
                                 const base::Cancellation& cancellation) {
    auto tls = tlsOf(profile);
    if (!tls) return tls.error();
    if (Status found = lookUpHost(profile, cancellation); !found) return found.error();
    auto connection = connectWith(profile, password, *tls, cancellation);
    const bool offersNone = !connection && connection.error() == noEncryption(profile);
    if (offersNone && tls->mode == TlsMode::Auto) {
        tls->mode = TlsMode::Off;
        connection = connectWith(profile, password, *tls, cancellation);
    }
    const bool wasAsked = !connection && connection.error().kind == ErrorKind::Permission;
    const bool wasWithheld = tls->mode == TlsMode::Off && !mayShowPassword(profile, false);
    if (wasAsked && wasWithheld) return wouldShowPassword(profile);
    return connection;
}

}  // namespace pantry::db::mariadb
