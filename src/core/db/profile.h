#pragma once

#include <cstdint>
#include <map>
#include <optional>
#include <set>
#include <string>
#include <string_view>
#include <vector>

#include "core/sql/text/dialect.h"

namespace pantry::db {

enum class Engine { Postgres, MariaDb, Sqlite, Odbc };

/// Which world a connection belongs to: what decides how carefully it is treated.
enum class Environment { Local, Trial, Live };

[[nodiscard]] std::string_view engineName(Engine engine);  ///< for people: PostgreSQL
[[nodiscard]] std::string_view engineWord(Engine engine);  ///< in files: postgresql
[[nodiscard]] std::optional<Engine> engineFromWord(std::string_view word);
[[nodiscard]] sql::Dialect dialectOf(Engine engine);

[[nodiscard]] std::string_view environmentWord(Environment environment);  ///< local, trial, live
[[nodiscard]] std::optional<Environment> environmentFromWord(std::string_view word);

/// Where a connection's password comes from.
enum class PasswordSource {
    Ask,          ///< somebody types it; it is kept in memory while the program runs
    Keyring,      ///< the system's keyring holds it
    EngineFile,   ///< the engine's own file of passwords, or of settings
    Environment,  ///< a variable of the environment
};
[[nodiscard]] std::string_view passwordSourceWord(
    PasswordSource source);  ///< in files: ask, keyring, file, environment
[[nodiscard]] std::optional<PasswordSource> passwordSourceFromWord(std::string_view word);

/// A connection as somebody saved it. Holds no password, ever.
struct ConnectionProfile {
    std::string id;                  ///< made once, never shown, never reused
    std::string name;                ///< the user's own
    std::string group;               ///< heading it stands under; may be empty
    std::string colour = "juniper";  ///< a name of the theme's palette
    Environment environment = Environment::Local;
    Engine engine = Engine::Sqlite;
    std::string host;
    std::uint16_t port = 0;  ///< 0: the engine's own
    std::string database;    ///< for SQLite the file's path
    std::string user;
    std::map<std::string, std::string> options;  ///< driver properties that differ from their defaults
    std::string onConnect;                       ///< statements to run on connecting
    bool isReadOnly = false;
    bool isUnseen = false;  ///< it came from somebody's file, and nobody has looked at it since: it acts on nothing
    std::string note;       ///< the user's own words about it
    PasswordSource passwordSource = PasswordSource::Ask;
    std::string passwordVariable;     ///< its name, when the environment holds the password
    bool isTemplate = false;          ///< nobody connects with it: others begin with what it says
    std::string templateId;           ///< the template that it is based on; may be empty
    std::set<std::string> inherited;  ///< names of the fields that are left to the template

    friend bool operator==(const ConnectionProfile&, const ConnectionProfile&) = default;
};

/// Where it leads, in one line without secrets: “trial-db:5432 · orchard”, or the file's name.
[[nodiscard]] std::string placeOf(const ConnectionProfile& profile);

/// Fields that a template can give, by the names that `inherited` uses.
[[nodiscard]] const std::vector<std::string>& templateFields();
/// Whether two profiles say the same in a field of that name.
[[nodiscard]] bool isSameField(std::string_view field, const ConnectionProfile& a, const ConnectionProfile& b);
/// Takes over the fields that are left to the template.
void inheritFrom(const ConnectionProfile& from, ConnectionProfile& profile);

/// A new id, different from all others.
[[nodiscard]] std::string makeProfileId();

/// The colour that a connection gets when nobody chooses, by the names of the palette.
[[nodiscard]] std::string_view usualColour(Environment environment);

}  // namespace pantry::db
