#include <fmt/format.h>
#include <poll.h>

#include <array>
#include <chrono>
#include <vector>

#include "core/base/late_library.h"
#include "core/base/secret_text.h"

#include <libpq-fe.h>

#include "core/base/text.h"
#include "core/db/connecting.h"
#include "core/db/drivers/postgres/handle.h"
#include "core/db/host_lookup.h"

namespace pantry::db::postgres {

void CloseConnection::operator()(PGconn* connection) const { PQfinish(connection); }
void ClearResult::operator()(PGresult* result) const { PQclear(result); }
void FreeCancel::operator()(PGcancel* cancel) const { PQfreeCancel(cancel); }

namespace {

using Clock = std::chrono::steady_clock;

/// Names and values as PQconnectStartParams takes them.
class ConnectionWords {
public:
    ConnectionWords() = default;
    ConnectionWords(ConnectionWords&&) = default;
    ConnectionWords& operator=(ConnectionWords&&) = default;
    ~ConnectionWords() {
        for (std::string& value : values_) base::wipe(value);  // the password is among them
    }
    void add(const char* name, std::string value) {
        if (value.empty()) return;
        names_.push_back(name);
        values_.push_back(std::move(value));
    }
    [[nodiscard]] PGconn* start() const {
        std::vector<const char*> names(names_);
        std::vector<const char*> values;
        for (const std::string& value : values_) values.push_back(value.c_str());
        names.push_back(nullptr);
        values.push_back(nullptr);
        return PQconnectStartParams(names.data(), values.data(), 0);
    }

private:
    std::vector<const char*> names_;
    std::vector<std::string> values_;
};

/// libpq's own words for how a connection is encrypted (manual, 34.19).
const char* modeWord(TlsMode mode, bool isLocal) {
    switch (mode) {
        case TlsMode::Auto: return isLocal ? "prefer" : "verify-full";
        case TlsMode::Off: return "disable";
        case TlsMode::Encrypt: return "require";
        case TlsMode::VerifyCa: return "verify-ca";
        case TlsMode::Verify: break;
    }
    return "verify-full";
}

ConnectionWords wordsOf(const ConnectionProfile& profile, const std::optional<std::string>& password,
                        const TlsChoice& tls) {
    ConnectionWords words;
    words.add("host", profile.host);
    words.add("port", profile.port == 0 ? "" : std::to_string(profile.port));
    words.add("dbname", profile.database);
    words.add("user", profile.user);
    if (mayShowPassword(profile, tls.mode != TlsMode::Off)) {
        words.add("password", password.value_or(""));  // else the engine's own password file
    } else {
        words.add("passfile", "/dev/null/none");  // the usual one would give a password away as well
    }
    words.add("client_encoding", "UTF8");
    words.add("application_name", "Agile Pantry");
    words.add("sslmode", modeWord(tls.mode, isOnThisMachine(profile)));
    const bool verifies = tls.mode == TlsMode::Verify || tls.mode == TlsMode::VerifyCa ||
                          (tls.mode == TlsMode::Auto && !isOnThisMachine(profile));
    if (verifies) words.add("sslrootcert", tls.ca.empty() ? systemCertificates() : tls.ca);
    words.add("sslcert", tls.certificate);
    words.add("sslkey", tls.key);
    words.add("sslpassword", tls.keyPassword);
    // A connection whose other end is gone is found out within a minute, also while nothing is sent.
    words.add("keepalives_idle", "20");
    words.add("keepalives_interval", "10");
    words.add("keepalives_count", "3");
    words.add("tcp_user_timeout", "30000");
    return words;
}

struct ParameterMeaning {
    std::string_view part;
    ErrorKind kind;
    std::string_view message;  // with the place
    std::string_view hint;
};

/// What libpq and the server say when no line comes about; libpq has no codes for it.
constexpr auto kParameterMeanings = std::to_array<ParameterMeaning>({
    {"password authentication failed", ErrorKind::Permission, "{} did not accept user and password.",
     "Check both; capitals count."},
    {"no password supplied", ErrorKind::Permission, "{} asks for a password, and none is known.",
     "Enter it in the connection's form."},
    {"certificate authentication failed", ErrorKind::Permission, "{} did not accept our certificate.",
     "Check the certificate and the user it is made for."},
    {"no pg_hba.conf entry", ErrorKind::Permission, "{} lets nobody in from here with this user and database.",
     "Ask whoever runs the server to allow it."},
    {"certificate verify failed", ErrorKind::Connection, "The certificate of {} is signed by nobody we trust.",
     "Name the file of its certificate authority, or choose “encrypt” to go without the check."},
    {"does not match host name", ErrorKind::Connection, "The certificate of {} is made for another host.",
     "Connect with the name that the certificate is made for, or choose “verify-ca”."},
    {"root certificate file", ErrorKind::Connection, "There are no certificates to check {} against.",
     "Name the file of its certificate authority, or choose “encrypt” to go without the check."},
    {"too many clients", ErrorKind::Busy, "{} has no connection left.",
     "Close a sheet's connection or try again later."},
    {"remaining connection slots", ErrorKind::Busy, "{} has no connection left.",
     "Close a sheet's connection or try again later."},
    {"too many connections", ErrorKind::Busy, "{} has no connection left.",
     "Close a sheet's connection or try again later."},
    {"the database system is", ErrorKind::Busy, "{} is starting or stopping.", "Try again in a moment."},
    {"could not translate host name", ErrorKind::Connection, "Nobody knows the host of {}.",
     "Check the spelling, and whether this machine is in the network that knows it."},
    {"Connection refused", ErrorKind::Connection, "Nobody answers at {}.",
     "Is the server running, and is the port right?"},
    {"No such file or directory", ErrorKind::Connection, "There is no server's socket at {}.",
     "Is the server running on this machine?"},
    {"No route to host", ErrorKind::Connection, "There is no way to {}.", "Check the network."},
    {"Network is unreachable", ErrorKind::Connection, "There is no way to {}.", "Check the network."},
});

Error failureOf(const PGconn* connection, const ConnectionProfile& profile) {
    const std::string said = connection == nullptr ? "out of memory" : PQerrorMessage(connection);
    // Of several addresses of a host the last word counts.
    std::string last(base::trimmed(said));
    if (const std::size_t line = last.rfind('\n'); line != std::string::npos) last = last.substr(line + 1);
    if (const std::size_t fatal = last.find("FATAL:"); fatal != std::string::npos) last = last.substr(fatal + 6);
    if (said.find("server does not support SSL") != std::string::npos) return noEncryption(profile);
    Error error{.kind = ErrorKind::Connection,
                .message = fmt::format("No connection to {} came about.", placeOf(profile)),
                .detail = base::oneLine(base::trimmed(last), 300)};
    if (said.find("database \"") != std::string::npos && said.find("does not exist") != std::string::npos) {
        error.kind = ErrorKind::NotFound;
        error.message = fmt::format("There is no database {} at {}.", profile.database, placeOf(profile));
        error.hint = "Check its name; capitals count.";
        error.detail.clear();
        return error;
    }
    for (const ParameterMeaning& meaning : kParameterMeanings) {
        if (said.find(meaning.part) == std::string::npos) continue;
        error.kind = meaning.kind;
        error.message = fmt::format(fmt::runtime(meaning.message), placeOf(profile));
        error.hint = meaning.hint;
        break;
    }
    return error;
}

Result<ConnectionHandle> connectWith(const ConnectionWords& words, const ConnectionProfile& profile,
                                     const base::Cancellation& cancellation) {
    constexpr int kLookEveryMs = 50;  // for a cancellation
    if (Status there = base::loadLibrary(LATE_PQ); !there) return there.error();
    ConnectionHandle connection(words.start());
    if (connection == nullptr) return failureOf(nullptr, profile);
    const auto deadline = Clock::now() + patienceOf(profile);
    PostgresPollingStatusType status = PGRES_POLLING_WRITING;
    while (PQstatus(connection.get()) != CONNECTION_BAD) {
        pollfd socket{.fd = PQsocket(connection.get()),
                      .events = static_cast<short>(status == PGRES_POLLING_READING ? POLLIN : POLLOUT),
                      .revents = 0};
        const int ready = ::poll(&socket, 1, kLookEveryMs);
        if (cancellation.isRequested()) return stopped();
        if (Clock::now() > deadline) return answeredTooLate(profile);
        if (ready <= 0) continue;
        status = PQconnectPoll(connection.get());
        if (status == PGRES_POLLING_OK) return connection;
        if (status == PGRES_POLLING_FAILED) break;
    }
    return failureOf(connection.get(), profile);
}

}  // namespace

Result<ConnectionHandle> connect(const ConnectionProfile& profile, const std::optional<std::string>& password,
                                 const base::Cancellation& cancellation) {
    auto tls = tlsOf(profile);
    if (!tls) return tls.error();
    if (Status found = lookUpHost(profile, cancellation); !found) return found.error();
    auto connection = connectWith(wordsOf(profile, password, *tls), profile, cancellation);
    const bool offersNone = !connection && connection.error() == noEncryption(profile);
    if (offersNone && tls->mode == TlsMode::Auto) {
        tls->mode = TlsMode::Off;
        connection = connectWith(wordsOf(profile, password, *tls), profile, cancellation);
    }
    const bool wasAsked = !connection && connection.error().kind == ErrorKind::Permission;
    const bool wasWithheld = tls->mode == TlsMode::Off && !mayShowPassword(profile, false);
    if (wasAsked && wasWithheld) return wouldShowPassword(profile);
    return connection;
}

}  // namespace pantry::db::postgres
