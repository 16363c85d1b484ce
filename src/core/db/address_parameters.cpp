#include "core/db/address_parameters.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <optional>

#include "core/base/text.h"
#include "core/sql/text/lexer.h"

namespace pantry::db {
namespace {

enum class Means {
    Tls,             ///< a word for how the connection is encrypted
    TlsSwitch,       ///< true or false
    TlsCa,           ///< a file, likewise the next two
    TlsCertificate,  //
    TlsKey,          //
    Seconds,         ///< for connecting; some write milliseconds
    Schema,          ///< where names are looked for
    ServerOptions,   ///< -c name=value of PostgreSQL
    ReadOnly,        ///< true, or a word that means it
    BusyWait,        ///< milliseconds
    Nothing,         ///< how another client goes about things
};

enum Engines : unsigned { kPostgres = 1, kMariaDb = 2, kSqlite = 4, kServers = kPostgres | kMariaDb };

struct Parameter {
    std::string_view word;  ///< in small letters, without - and _
    unsigned engines;
    Means means;
};

constexpr auto kParameters = std::to_array<Parameter>({
    {"sslmode", kServers, Means::Tls},
    {"ssl", kServers, Means::TlsSwitch},
    {"usessl", kServers, Means::TlsSwitch},
    {"requiressl", kServers, Means::TlsSwitch},
    {"sslrootcert", kPostgres, Means::TlsCa},
    {"sslca", kServers, Means::TlsCa},
    {"serversslcert", kMariaDb, Means::TlsCa},
    {"sslcert", kServers, Means::TlsCertificate},
    {"sslkey", kServers, Means::TlsKey},
    {"logintimeout", kPostgres, Means::Seconds},
    {"connecttimeout", kServers, Means::Seconds},
    {"currentschema", kPostgres, Means::Schema},
    {"searchpath", kPostgres, Means::Schema},
    {"options", kPostgres, Means::ServerOptions},
    {"targetsessionattrs", kPostgres, Means::ReadOnly},
    {"targetservertype", kPostgres, Means::ReadOnly},
    {"readonly", kServers, Means::ReadOnly},
    {"mode", kSqlite, Means::ReadOnly},
    {"immutable", kSqlite, Means::ReadOnly},
    {"busytimeout", kSqlite, Means::BusyWait},
    // How another client goes about things.
    {"applicationname", kPostgres, Means::Nothing},
    {"fallbackapplicationname", kPostgres, Means::Nothing},
    {"clientencoding", kPostgres, Means::Nothing},
    {"keepalives", kPostgres, Means::Nothing},
    {"keepalivesidle", kPostgres, Means::Nothing},
    {"keepalivesinterval", kPostgres, Means::Nothing},
    {"keepalivescount", kPostgres, Means::Nothing},
    {"tcpusertimeout", kPostgres, Means::Nothing},
    {"tcpkeepalive", kServers, Means::Nothing},
    {"channelbinding", kPostgres, Means::Nothing},
    {"gssencmode", kPostgres, Means::Nothing},
    {"gsslib", kPostgres, Means::Nothing},
    {"krbsrvname", kPostgres, Means::Nothing},
    {"sslcompression", kPostgres, Means::Nothing},
    {"sslsni", kPostgres, Means::Nothing},
    {"sslnegotiation", kPostgres, Means::Nothing},
    {"sslcrl", kPostgres, Means::Nothing},
    {"sslcrldir", kPostgres, Means::Nothing},
    {"sslminprotocolversion", kPostgres, Means::Nothing},
    {"sslmaxprotocolversion", kPostgres, Means::Nothing},
    {"loadbalancehosts", kPostgres, Means::Nothing},
    {"requireauth", kPostgres, Means::Nothing},
    {"requirepeer", kPostgres, Means::Nothing},
    {"passfile", kPostgres, Means::Nothing},
    {"replication", kPostgres, Means::Nothing},
    {"sockettimeout", kServers, Means::Nothing},
    {"preparethreshold", kPostgres, Means::Nothing},
    {"rewritebatchedinserts", kPostgres, Means::Nothing},
    {"charset", kMariaDb, Means::Nothing},
    {"characterencoding", kMariaDb, Means::Nothing},
    {"useunicode", kMariaDb, Means::Nothing},
    {"collation", kMariaDb, Means::Nothing},
    {"parsetime", kMariaDb, Means::Nothing},
    {"loc", kMariaDb, Means::Nothing},
    {"servertimezone", kMariaDb, Means::Nothing},
    {"allowpublickeyretrieval", kMariaDb, Means::Nothing},
    {"autoreconnect", kMariaDb, Means::Nothing},
    {"rewritebatchedstatements", kMariaDb, Means::Nothing},
    {"zerodatetimebehavior", kMariaDb, Means::Nothing},
    {"readtimeout", kMariaDb, Means::Nothing},
    {"writetimeout", kMariaDb, Means::Nothing},
    {"cache", kSqlite, Means::Nothing},
    {"vfs", kSqlite, Means::Nothing},
    {"psow", kSqlite, Means::Nothing},
    {"nolock", kSqlite, Means::Nothing},
});

struct TlsWord {
    std::string_view theirs;
    std::string_view ours;
};
constexpr auto kTlsWords = std::to_array<TlsWord>({{"disable", "off"},
                                                   {"disabled", "off"},
                                                   {"allow", "auto"},
                                                   {"prefer", "auto"},
                                                   {"preferred", "auto"},
                                                   {"require", "encrypt"},
                                                   {"required", "encrypt"},
                                                   {"trust", "encrypt"},
                                                   {"verify-ca", "verify-ca"},
                                                   {"verify_ca", "verify-ca"},
                                                   {"verify-full", "verify"},
                                                   {"verify_identity", "verify"}});

unsigned bitOf(Engine engine) {
    switch (engine) {
        case Engine::Postgres: return kPostgres;
        case Engine::MariaDb: return kMariaDb;
        case Engine::Sqlite: return kSqlite;
        case Engine::Odbc: break;
    }
    return 0;
}

std::string plainWord(std::string_view name) {
    std::string out;
    for (const char c : name) {
        if (c != '-' && c != '_') out += base::asciiLower(c);
    }
    return out;
}

std::optional<Means> meaningOf(std::string_view name, Engine engine) {
    const std::string word = plainWord(name);
    for (const Parameter& parameter : kParameters) {
        if (parameter.word == word && (parameter.engines & bitOf(engine)) != 0) return parameter.means;
    }
    return std::nullopt;
}

bool isTrue(std::string_view value) {
    const std::string word = base::toLower(value);
    return word.empty() || word == "true" || word == "1" || word == "on" || word == "yes";
}

void setPath(ConnectionProfile& profile, std::string_view schemas) {
    std::string names;
    for (const std::string_view one : base::splitAt(schemas, ',')) {
        const std::string_view name = base::trimmed(one);
        if (name.empty()) continue;
        const bool isQuoted = name.size() > 1 && name.front() == '"' && name.back() == '"';
        const std::string_view bare = isQuoted ? name.substr(1, name.size() - 2) : name;
        names += (names.empty() ? "" : ", ") + sql::quotedName(bare, sql::Dialect::Postgres);
    }
    if (names.empty()) return;
    profile.onConnect += (profile.onConnect.empty() ? "" : ";\n") + ("SET search_path TO " + names);
}

/// -c name=value, --name=value; blanks within a value stand behind a backslash. Only what is a plain setting is taken.
bool takeServerOptions(ConnectionProfile& profile, std::string_view options) {
    bool isAll = true;
    for (std::string_view word : base::splitAt(options, ' ')) {
        if (word == "-c" || word.empty()) continue;
        word.remove_prefix(word.starts_with("-c") || word.starts_with("--") ? 2 : 0);
        const std::size_t equals = word.find('=');
        const std::string_view name = word.substr(0, equals);
        const bool isPlain =
            equals != std::string_view::npos && !name.empty() &&
            name.find_first_not_of("abcdefghijklmnopqrstuvwxyz_.ABCDEFGHIJKLMNOPQRSTUVWXYZ") == std::string_view::npos;
        if (!isPlain) {
            isAll = false;
        } else if (base::equalsIgnoringCase(name, "search_path")) {
            setPath(profile, word.substr(equals + 1));
        } else {
            const std::string value = sql::quotedString(word.substr(equals + 1), sql::Dialect::Postgres);
            profile.onConnect +=
                (profile.onConnect.empty() ? "" : ";\n") + ("SET " + std::string(name) + " TO " + value);
        }
    }
    return isAll;
}

/// Whole seconds; some write milliseconds, which nobody would wait in seconds.
std::optional<std::string> secondsOf(std::string_view value) {
    long number = 0;
    const auto [end, code] = std::from_chars(value.data(), value.data() + value.size(), number);
    if (code != std::errc() || end != value.data() + value.size() || number < 0) return std::nullopt;
    constexpr long kMaxSeconds = 900;
    return std::to_string(number > kMaxSeconds ? std::max(1L, number / 1000) : number);
}

/// Puts a parameter where it belongs; false when its value means nothing here.
bool take(ConnectionProfile& profile, Means means, const std::string& value) {
    auto& options = profile.options;
    switch (means) {
        case Means::Tls: {
            const std::string word = base::toLower(value);
            const auto found = std::ranges::find(kTlsWords, word, &TlsWord::theirs);
            options["tls"] = found != kTlsWords.end() ? std::string(found->ours) : word;
            return true;
        }
        case Means::TlsSwitch:
            if (!options.contains("tls")) options["tls"] = isTrue(value) ? "encrypt" : "off";
            return true;
        case Means::TlsCa: options["tls-ca"] = value; return true;
        case Means::TlsCertificate: options["tls-certificate"] = value; return true;
        case Means::TlsKey: options["tls-key"] = value; return true;
        case Means::Seconds: {
            const auto seconds = secondsOf(value);
            if (seconds && *seconds != "0") options["connect-seconds"] = *seconds;
            return seconds.has_value();
        }
        case Means::Schema: setPath(profile, value); return true;
        case Means::ServerOptions: return takeServerOptions(profile, value);
        case Means::ReadOnly: {
            const std::string word = base::toLower(value);
            const bool isReading = word == "ro" || word == "read-only" || word == "standby" || word == "secondary" ||
                                   word == "prefer-standby" || isTrue(word);
            profile.isReadOnly = profile.isReadOnly || isReading;
            return true;
        }
        case Means::BusyWait: options["busy_wait_ms"] = value; return true;
        case Means::Nothing: break;
    }
    return false;
}

}  // namespace

std::vector<std::string> takeAddressParameters(ConnectionProfile& profile) {
    std::vector<std::string> unused;
    const auto given = profile.options;
    for (const auto& [name, value] : given) {
        const auto means = meaningOf(name, profile.engine);
        if (!means) continue;
        profile.options.erase(name);
        if (!take(profile, *means, value)) unused.push_back(name);
    }
    return unused;
}

}  // namespace pantry::db
