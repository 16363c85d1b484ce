#include "core/store/engine_files.h"

#include <fmt/format.h>
#include <netinet/in.h>
#include <poll.h>
#include <pwd.h>
#include <sys/socket.h>
#include <unistd.h>

#include <algorithm>
#include <charconv>
#include <cstdlib>
#include <map>

#include "core/base/file.h"
#include "core/base/text.h"
#include "core/db/address_parameters.h"
#include "core/db/driver_properties.h"
#include "core/db/engine_traits.h"

namespace pantry::store {
namespace {

namespace fs = std::filesystem;
using db::ConnectionProfile;
using db::Engine;
using Section = std::map<std::string, std::string>;

constexpr std::uint16_t kPostgresPort = 5432;
constexpr std::uint16_t kMariaDbPort = 3306;

std::uint16_t portOf(std::string_view text) {
    std::uint16_t port = 0;
    std::from_chars(text.data(), text.data() + text.size(), port);
    return port;
}

/// The sections of a file of [name] and key=value lines; keys in small letters, with _ for -.
std::map<std::string, Section> sectionsOf(const fs::path& path) {
    std::map<std::string, Section> sections;
    const auto text = base::readFile(path);
    if (!text) return sections;
    std::string current;
    for (const std::string_view raw : base::splitAt(*text, '\n')) {
        const std::string_view line = base::trimmed(raw);
        if (line.empty() || line.front() == '#' || line.front() == ';') continue;
        if (line.front() == '[') {
            current = line.substr(1, line.find(']') - 1);
            sections[current];
            continue;
        }
        const std::size_t equals = line.find('=');
        std::string key = base::toLower(base::trimmed(line.substr(0, equals)));
        std::ranges::replace(key, '-', '_');
        std::string value(equals == std::string_view::npos ? std::string_view()
                                                           : base::trimmed(line.substr(equals + 1)));
        if (value.size() > 1 && (value.front() == '"' || value.front() == '\'') && value.back() == value.front()) {
            value = value.substr(1, value.size() - 2);
        }
        sections[current][key] = std::move(value);
    }
    return sections;
}

std::string valueIn(const Section& section, const char* key) {
    const auto found = section.find(key);
    return found == section.end() ? std::string() : found->second;
}

ConnectionProfile server(Engine engine, std::string name) {
    ConnectionProfile profile;
    profile.engine = engine;
    profile.name = std::move(name);
    return profile;
}

/// Whether something takes connections on a loopback port; answers at once, since nothing is far away.
bool isListening(std::uint16_t port) {
    constexpr int kTimeoutMs = 200;
    const int socket = ::socket(AF_INET, SOCK_STREAM | SOCK_NONBLOCK | SOCK_CLOEXEC, 0);
    if (socket < 0) return false;
    sockaddr_in address{};
    address.sin_family = AF_INET;
    address.sin_port = htons(port);
    address.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
    int error = ::connect(socket, reinterpret_cast<const sockaddr*>(&address), sizeof address) == 0 ? 0 : errno;
    if (error == EINPROGRESS) {
        pollfd waiting{.fd = socket, .events = POLLOUT, .revents = 0};
        socklen_t size = sizeof error;
        if (::poll(&waiting, 1, kTimeoutMs) == 1) ::getsockopt(socket, SOL_SOCKET, SO_ERROR, &error, &size);
    }
    ::close(socket);
    return error == 0;
}

/// Fields of a line of ~/.pgpass: parted by colons, with \ before a colon or backslash that is meant as one.
std::vector<std::string> fieldsOf(std::string_view line) {
    std::vector<std::string> fields(1);
    for (std::size_t i = 0; i < line.size(); ++i) {
        if (line[i] == '\\' && i + 1 < line.size()) {
            fields.back() += line[++i];
        } else if (line[i] == ':' && fields.size() < 5) {
            fields.emplace_back();
        } else {
            fields.back() += line[i];
        }
    }
    return fields;
}

bool leadsTheSameWay(const ConnectionProfile& a, const ConnectionProfile& b) {
    const auto hostOf = [](const ConnectionProfile& p) {
        return p.host.empty() || p.host == "127.0.0.1" || p.host.starts_with('/') ? std::string("localhost") : p.host;
    };
    const auto port = [](const ConnectionProfile& p) { return p.port != 0 ? p.port : db::traitsOf(p.engine).port; };
    return a.engine == b.engine && hostOf(a) == hostOf(b) && port(a) == port(b);
}

}  // namespace

EngineFiles EngineFiles::ofThisUser() {
    EngineFiles files;
    files.environment = [](std::string_view name) -> std::optional<std::string> {
        const char* value = std::getenv(std::string(name).c_str());
        return value == nullptr ? std::nullopt : std::optional<std::string>(value);
    };
    const char* home = std::getenv("HOME");
    if (home == nullptr) {
        const passwd* user = ::getpwuid(::getuid());
        if (user != nullptr) home = user->pw_dir;
    }
    if (home != nullptr) files.home = home;
    return files;
}

std::vector<FoundConnection> EngineFiles::services() const {
    std::vector<fs::path> paths;
    paths.push_back(environment("PGSERVICEFILE").value_or(home / ".pg_service.conf"));
    paths.push_back(fs::path(environment("PGSYSCONFDIR").value_or("/etc/postgresql-common")) / "pg_service.conf");
    std::vector<FoundConnection> all;
    for (const fs::path& path : paths) {
        for (const auto& [name, section] : sectionsOf(path)) {
            if (name.empty()) continue;
            ConnectionProfile p = server(Engine::Postgres, name);
            for (const auto& [key, value] : section) {
                if (key == "host" || key == "hostaddr") {
                    p.host = value;
                } else if (key == "port") {
                    p.port = portOf(value);
                } else if (key == "dbname") {
                    p.database = value;
                } else if (key == "user") {
                    p.user = value;
                } else if (key != "password") {
                    p.options[key] = value;
                }
            }
            db::takeAddressParameters(p);
            if (const auto problem = db::checkProperties(p); !problem) p.options.clear();
            p.passwordSource = db::PasswordSource::EngineFile;
            all.push_back({std::move(p), fmt::format("service {} of {}", name, path.string())});
        }
    }
    return all;
}

std::vector<FoundConnection> EngineFiles::configured() const {
    std::vector<FoundConnection> all;
    const auto value = [this](std::string_view name) { return environment(name).value_or(""); };
    if (environment("PGHOST") || environment("PGDATABASE")) {
        ConnectionProfile p = server(Engine::Postgres, "PostgreSQL of the environment");
        p.host = value("PGHOST");
        p.port = portOf(value("PGPORT"));
        p.database = value("PGDATABASE");
        p.user = value("PGUSER");
        if (environment("PGPASSWORD")) {
            p.passwordSource = db::PasswordSource::Environment;
            p.passwordVariable = "PGPASSWORD";
        }
        all.push_back({std::move(p), "PGHOST and its kin in the environment"});
    }
    if (environment("MYSQL_HOST")) {
        ConnectionProfile p = server(Engine::MariaDb, "MariaDB of the environment");
        p.host = value("MYSQL_HOST");
        p.port = portOf(value("MYSQL_TCP_PORT"));
        if (environment("MYSQL_PWD")) {
            p.passwordSource = db::PasswordSource::Environment;
            p.passwordVariable = "MYSQL_PWD";
        }
        all.push_back({std::move(p), "MYSQL_HOST in the environment"});
    }
    const auto sections = sectionsOf(home / ".my.cnf");
    if (const auto client = sections.find("client"); client != sections.end()) {
        ConnectionProfile p = server(Engine::MariaDb, "MariaDB of .my.cnf");
        p.host = valueIn(client->second, "host");
        if (p.host.empty()) p.host = valueIn(client->second, "socket");
        p.port = portOf(valueIn(client->second, "port"));
        p.user = valueIn(client->second, "user");
        p.database = valueIn(client->second, "database");
        p.passwordSource = db::PasswordSource::EngineFile;
        all.push_back({std::move(p), fmt::format("section [client] of {}", (home / ".my.cnf").string())});
    }
    return all;
}

std::vector<FoundConnection> EngineFiles::listening() const {
    std::vector<FoundConnection> all;
    const auto user = environment("USER").value_or("");
    std::error_code ignored;
    for (const fs::path& folder : postgresSockets) {
        for (const auto& entry : fs::directory_iterator(folder, ignored)) {
            const std::string name = entry.path().filename().string();
            constexpr std::string_view kBegin = ".s.PGSQL.";
            if (!name.starts_with(kBegin) || name.ends_with(".lock")) continue;
            ConnectionProfile p = server(Engine::Postgres, "PostgreSQL on this machine");
            p.host = folder.string();
            p.port = portOf(std::string_view(name).substr(kBegin.size()));
            if (p.port == kPostgresPort) p.port = 0;
            p.user = user;
            p.database = "postgres";
            all.push_back({std::move(p), fmt::format("listens on {}", entry.path().string())});
        }
    }
    for (const fs::path& socket : mariaDbSockets) {
        if (!fs::is_socket(socket, ignored)) continue;
        ConnectionProfile p = server(Engine::MariaDb, "MariaDB on this machine");
        p.host = socket.string();
        p.user = user;
        all.push_back({std::move(p), fmt::format("listens on {}", socket.string())});
    }
    for (const auto& [engine, port, name] : {std::tuple(Engine::Postgres, kPostgresPort, "PostgreSQL on this machine"),
                                             std::tuple(Engine::MariaDb, kMariaDbPort, "MariaDB on this machine")}) {
        const bool isKnown = std::ranges::any_of(
            all, [&, e = engine](const FoundConnection& f) { return f.profile.engine == e && f.profile.port == 0; });
        if (isKnown || !isListening(port)) continue;
        ConnectionProfile p = server(engine, name);
        p.host = "127.0.0.1";
        p.user = user;
        all.push_back({std::move(p), fmt::format("listens on port {}", port)});
    }
    return all;
}

std::vector<FoundConnection> EngineFiles::found(const std::vector<ConnectionProfile>& saved) const {
    std::vector<FoundConnection> all;
    const auto isSaved = [&](const ConnectionProfile& p) {
        return std::ranges::any_of(saved, [&](const ConnectionProfile& s) { return leadsTheSameWay(p, s); });
    };
    for (auto list : {services(), configured(), listening()}) {
        for (FoundConnection& f : list) {
            if (!isSaved(f.profile)) all.push_back(std::move(f));
        }
    }
    return all;
}

std::optional<std::string> EngineFiles::passwordFor(const ConnectionProfile& profile) const {
    if (profile.engine == Engine::MariaDb) {
        const auto sections = sectionsOf(home / ".my.cnf");
        const auto client = sections.find("client");
        if (client == sections.end() || !client->second.contains("password")) return std::nullopt;
        return client->second.at("password");
    }
    const auto text = base::readFile(environment("PGPASSFILE").value_or(home / ".pgpass"));
    if (!text) return std::nullopt;
    const bool isLocal = profile.host.empty() || profile.host.starts_with('/');
    const std::string wanted[] = {isLocal ? "localhost" : profile.host,
                                  std::to_string(profile.port != 0 ? profile.port : kPostgresPort),
                                  profile.database.empty() ? profile.user : profile.database, profile.user};
    for (const std::string_view raw : base::splitAt(*text, '\n')) {
        if (raw.empty() || raw.front() == '#') continue;
        const std::vector<std::string> fields = fieldsOf(raw.ends_with('\r') ? raw.substr(0, raw.size() - 1) : raw);
        if (fields.size() != 5) continue;
        bool fits = true;
        for (std::size_t i = 0; i < 4; ++i) fits = fits && (fields[i] == "*" || fields[i] == wanted[i]);
        if (fits) return fields[4];
    }
    return std::nullopt;
}

}  // namespace pantry::store
