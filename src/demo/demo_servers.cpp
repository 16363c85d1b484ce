#include "demo/demo_servers.h"

#include "core/db/run_and_wait.h"
#include "demo/database_copy.h"
#include "demo/throwaway_server.h"

namespace pantry::demo {

struct DemoServers::Parts {
    PostgresServer postgres{{.overTcp = true}};
    MariaDbServer mariadb{{.overTcp = true}};
    std::vector<db::ConnectionProfile> profiles;
};

namespace {

db::ConnectionProfile profileOf(const std::string& id, const std::string& name, db::Engine engine,
                                const ThrowawayServer& server, const std::string& database) {
    db::ConnectionProfile profile{.id = id, .name = name, .group = "Servers", .engine = engine};
    profile.host = "127.0.0.1";
    profile.port = server.port();
    profile.user = engine == db::Engine::Postgres ? server.user() : "root";
    profile.database = database;
    return profile;
}

}  // namespace

DemoServers::DemoServers() : parts_(std::make_unique<Parts>()) {}
DemoServers::~DemoServers() = default;

const std::vector<db::ConnectionProfile>& DemoServers::profiles() const { return parts_->profiles; }

Result<std::unique_ptr<DemoServers>> DemoServers::start(const std::filesystem::path& folder) {
    std::unique_ptr<DemoServers> servers(new DemoServers);
    Parts& parts = *servers->parts_;
    for (const ThrowawayServer* server :
         {static_cast<const ThrowawayServer*>(&parts.postgres), static_cast<const ThrowawayServer*>(&parts.mariadb)}) {
        if (server->startup().empty()) continue;
        return Error{.kind = ErrorKind::NotFound,
                     .message = server->startup(),
                     .hint = "The packages postgresql-15 and mariadb-server have to be installed."};
    }
    auto records =
        profileOf("demo-pg-records", "Records on PostgreSQL", db::Engine::Postgres, parts.postgres, "orchard");
    auto live =
        profileOf("demo-pg-live", "Records on PostgreSQL (live)", db::Engine::Postgres, parts.postgres, "orchard_live");
    live.environment = db::Environment::Live;
    live.colour = "tomato";
    auto kitchen = profileOf("demo-my-kitchen", "Kitchen on MariaDB", db::Engine::MariaDb, parts.mariadb, "kitchen");
    kitchen.environment = db::Environment::Trial;
    kitchen.colour = "marigold";
    struct Copying {
        const db::ConnectionProfile& profile;
        const char* file;
        const char* from;  // the database to make it from
    };
    for (const auto& [profile, file, from] :
         {Copying{records, "orchard.db", "postgres"}, Copying{live, "orchard-live.db", "postgres"},
          Copying{kitchen, "kitchen.db", ""}}) {
        db::ConnectionProfile maker = profile;
        maker.database = from;
        db::Session session(std::move(maker), std::nullopt);
        auto made = db::runAndWait(session, "CREATE DATABASE " + profile.database);
        if (!made) return made.error();
        if (Status status = copyDatabase(folder / file, profile); !status) return status.error();
    }
    parts.profiles = {std::move(records), std::move(live), std::move(kitchen)};
    return servers;
}

}  // namespace pantry::demo
