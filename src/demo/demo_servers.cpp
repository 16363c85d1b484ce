#include "demo/demo_servers.h"

#include <future>

#include "core/db/session.h"
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

/// Runs statements one after another on a new line.
class Setup final : public db::RunObserver {
public:
    static Status run(const db::ConnectionProfile& profile, const std::string& statement) {
        db::Session session(profile, std::nullopt);
        const auto setup = std::make_shared<Setup>();
        session.execute({.statement = statement, .pageRows = std::nullopt}, setup);
        return setup->end_.get_future().get();
    }
    void started(base::Moment) override {}
    void columns(data::ResultSetPtr) override {}
    void rows(std::size_t) override {}
    void notice(const db::Notice&) override {}
    void paused(std::size_t) override {}
    void finished(const db::RunSummary&) override { end_.set_value({}); }
    void failed(const Error& error, const db::RunSummary&) override { end_.set_value(error); }

private:
    std::promise<Status> end_;
};

}  // namespace

DemoServers::DemoServers() : parts_(std::make_unique<Parts>()) {}
DemoServers::~DemoServers() = default;

const std::vector<db::ConnectionProfile>& DemoServers::profiles() const { return parts_->profiles; }

Result<std::unique_ptr<DemoServers>> DemoServers::start(const std::filesystem::path& folder) {
    std::unique_ptr<DemoServers> servers(new DemoServers);
    Parts& parts = *servers->parts_;
    for (const ThrowawayServer* server : {static_cast<const ThrowawayServer*>(&parts.postgres),
                                          static_cast<const ThrowawayServer*>(&parts.mariadb)}) {
        if (server->startup().empty()) continue;
        return Error{.kind = ErrorKind::NotFound,
                     .message = server->startup(),
                     .hint = "The packages postgresql-15 and mariadb-server have to be installed."};
    }
    auto records = profileOf("demo-pg-records", "Records on PostgreSQL", db::Engine::Postgres, parts.postgres, "orchard");
    auto live = profileOf("demo-pg-live", "Records on PostgreSQL (live)", db::Engine::Postgres, parts.postgres, "orchard_live");
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
        if (Status status = Setup::run(maker, "CREATE DATABASE " + profile.database); !status) return status.error();
        if (Status status = copyDatabase(folder / file, profile); !status) return status.error();
    }
    parts.profiles = {std::move(records), std::move(live), std::move(kitchen)};
    return servers;
}

}  // namespace pantry::demo
