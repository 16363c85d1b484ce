#include "core/store/engine_files.h"

#include <gmock/gmock.h>
#include <sys/socket.h>
#include <sys/un.h>
#include <unistd.h>

#include <fstream>
#include <map>

#include "support/temporary_folder.h"

namespace pantry::store {
namespace {

class EngineFilesTest : public testing::Test {
protected:
    EngineFilesTest() {
        files_.home = std::filesystem::path(folder_ / "home");
        std::filesystem::create_directories(files_.home);
        files_.environment = [this](std::string_view name) -> std::optional<std::string> {
            const auto found = environment_.find(std::string(name));
            return found == environment_.end() ? std::nullopt : std::optional(found->second);
        };
        environment_["PGSYSCONFDIR"] = (folder_ / "none").string();
        files_.postgresSockets = {std::filesystem::path(folder_ / "run")};
        files_.mariaDbSockets = {};
    }
    void write(const std::string& name, const std::string& text) { std::ofstream(files_.home / name) << text; }
    db::ConnectionProfile profile(db::Engine engine, const std::string& host, const std::string& user) {
        db::ConnectionProfile p;
        p.engine = engine;
        p.host = host;
        p.user = user;
        p.database = "orchard";
        return p;
    }

    test::TemporaryFolder folder_;
    std::map<std::string, std::string> environment_;
    EngineFiles files_;
};

TEST_F(EngineFilesTest, ServicesOfPostgresAreFound) {
    write(".pg_service.conf",
          "# mine\n[orchard]\nhost=trial-db\nport=5433\ndbname=orchard\nuser=ida\nsslmode=verify-full\n\n[empty]\n");
    const auto found = files_.services();
    ASSERT_EQ(found.size(), 2U);
    const db::ConnectionProfile& p = found[1].profile;
    EXPECT_EQ(p.name, "orchard");
    EXPECT_EQ(p.host, "trial-db");
    EXPECT_EQ(p.port, 5433);
    EXPECT_EQ(p.options.at("tls"), "verify");
    EXPECT_THAT(found[1].where, testing::HasSubstr("service orchard"));
}

TEST_F(EngineFilesTest, TheClientSectionAndTheEnvironmentAreFound) {
    write(".my.cnf", "[mysqld]\nport=1\n[client]\nuser = ida\npassword = \"s3; cret\"\nhost=kitchen-db\n");
    environment_["PGHOST"] = "live-db";
    environment_["PGPASSWORD"] = "x";
    const auto found = files_.configured();
    ASSERT_EQ(found.size(), 2U);
    EXPECT_EQ(found[0].profile.host, "live-db");
    EXPECT_EQ(found[0].profile.passwordVariable, "PGPASSWORD");
    EXPECT_EQ(found[1].profile.host, "kitchen-db");
    EXPECT_EQ(files_.passwordFor(found[1].profile), "s3; cret");
}

TEST_F(EngineFilesTest, TheFirstLineOfThePasswordFileThatFitsCounts) {
    write(".pgpass", "# first\nh:5432:other:ida:no\nh:*:orchard:ida:pa\\:ss\\\\word\n*:*:*:*:last\n");
    EXPECT_EQ(files_.passwordFor(profile(db::Engine::Postgres, "h", "ida")), "pa:ss\\word");
    EXPECT_EQ(files_.passwordFor(profile(db::Engine::Postgres, "elsewhere", "ida")), "last");
    environment_["PGPASSFILE"] = (folder_ / "missing").string();
    EXPECT_EQ(files_.passwordFor(profile(db::Engine::Postgres, "h", "ida")), std::nullopt);
}

TEST_F(EngineFilesTest, AServerThatListensIsOfferedUnlessItIsSaved) {
    const std::string run = (folder_ / "run").string();
    std::filesystem::create_directories(run);
    const int listener = ::socket(AF_UNIX, SOCK_STREAM, 0);
    sockaddr_un address{};
    address.sun_family = AF_UNIX;
    const std::string path = run + "/.s.PGSQL.5999";
    ASSERT_LT(path.size(), sizeof address.sun_path);
    path.copy(address.sun_path, path.size());
    ASSERT_EQ(::bind(listener, reinterpret_cast<const sockaddr*>(&address), sizeof address), 0);
    const auto isIt = [&](const FoundConnection& f) { return f.profile.port == 5999 && f.profile.host == run; };
    EXPECT_TRUE(std::ranges::any_of(files_.found({}), isIt));
    db::ConnectionProfile saved = profile(db::Engine::Postgres, run, "ida");
    saved.port = 5999;
    EXPECT_FALSE(std::ranges::any_of(files_.found({saved}), isIt));
    ::close(listener);
}

}  // namespace
}  // namespace pantry::store
