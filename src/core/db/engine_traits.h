#pragma once

#include <chrono>
#include <cstdint>
#include <span>
#include <string>
#include <string_view>

#include "core/db/profile.h"
#include "core/sql/meaning/statement.h"

namespace pantry::db {

/// What the database of a connection is.
enum class PlaceKind {
    File,    ///< a file of this machine: nobody is connected to, and nobody asks for a password
    Server,  ///< one of those on a server, which a host and a port lead to
    Source,  ///< a name that the driver's own settings lead on from
};

/// What an engine is like, as far as anybody but its driver must know. Each driver declares its own in traits.cpp, so
/// that nobody else asks which engine it is. Texts are empty, functions null and lists empty where an engine has no
/// such thing.
struct EngineTraits {
    std::string_view name;  ///< for people: PostgreSQL
    std::string_view word;  ///< in files and addresses: postgresql
    sql::Dialect dialect = sql::Dialect::Ansi;
    PlaceKind place = PlaceKind::Server;
    std::uint16_t port = 0;  ///< where servers listen when nobody says otherwise
    /// The driver speaks to the server itself, and so can tell whether what goes over the network is encrypted.
    bool tellsEncryption = false;
    /// A schema is a database, and names are looked for in one of them alone.
    bool schemasAreDatabases = false;

    std::string_view passwordVariable = {};    ///< of the environment, that the engine's own programs read
    std::string_view passwordFile = {};        ///< of those programs: ~/.pgpass
    std::string_view passwordFileAdvice = {};  ///< what to write into it

    std::string_view onConnectExample = {};  ///< a statement that people run on connecting
    std::string_view databasesQuery = {};    ///< names the databases that this user may enter
    std::string_view firstDatabase = {};     ///< one that is there when nobody knows another

    std::string_view beginTransaction = "BEGIN";
    std::span<const std::string_view> isolationLevels = {};  ///< weakest first
    std::string (*setIsolation)(std::string_view level) = nullptr;
    std::string (*setReadOnly)(bool isReadOnly) = nullptr;
    std::string (*setStatementLimit)(std::chrono::milliseconds limit) = nullptr;
    std::string (*setSchema)(std::string_view quotedName) = nullptr;

    /// Whether a statement ends an open transaction before it runs, without being asked to.
    bool (*commitsByItself)(const sql::Statement& statement) = nullptr;

    /// How long a statement waits for a lock that somebody else holds.
    std::string (*setLockLimit)(std::chrono::milliseconds limit) = nullptr;
    /// A transaction that is rolled back takes definitions back too.
    bool canRollBackDefinitions = false;
};

/// Lives as long as the program.
[[nodiscard]] const EngineTraits& traitsOf(Engine engine);

[[nodiscard]] inline bool isFile(Engine engine) { return traitsOf(engine).place == PlaceKind::File; }

}  // namespace pantry::db
