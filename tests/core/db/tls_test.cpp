// Encrypted lines, with certificates made on the spot.
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <fstream>
#include <thread>

#include "core/db/driver_properties.h"
#include "core/db/engine_bench.h"
#include "core/db/run_and_wait.h"
#include "support/temporary_folder.h"

namespace pantry::db {
namespace {

using test::Line;
using testing::HasSubstr;

const demo::ServerOptions kEncrypted{.overTcp = true, .withTls = true};

demo::PostgresServer& postgres() {
    static demo::PostgresServer server(kEncrypted);
    return server;
}
demo::MariaDbServer& mariadb() {
    static demo::MariaDbServer server(kEncrypted);
    return server;
}

class TlsTest : public testing::TestWithParam<Engine> {
protected:
    void SetUp() override {
        ASSERT_EQ(server().startup(), "");
        if (!isPostgres()) Line(test::profileFor(mariadb())).run("CREATE USER IF NOT EXISTS warden");
    }
    [[nodiscard]] bool isPostgres() const { return GetParam() == Engine::Postgres; }
    [[nodiscard]] const demo::ThrowawayServer& server() const {
        return isPostgres() ? static_cast<const demo::ThrowawayServer&>(postgres()) : mariadb();
    }
    [[nodiscard]] ConnectionProfile profile(const std::string& mode, const std::string& ca = "ca.crt") const {
        ConnectionProfile p = isPostgres() ? test::profileFor(postgres()) : test::profileFor(mariadb());
        if (!isPostgres()) p.user = "warden";
        p.host = "localhost";
        p.port = server().port();
        p.options["tls"] = mode;
        if (!ca.empty()) p.options["tls-ca"] = server().certificates() / ca;
        return p;
    }
    /// The cipher of a line; empty when it is not encrypted.
    std::string cipherOf(Line& line) {
        const auto rows =
            line.rows(isPostgres() ? "SELECT coalesce(cipher, '') FROM pg_stat_ssl WHERE pid = pg_backend_pid()"
                                   : "SHOW STATUS LIKE 'Ssl_cipher'");
        return isPostgres() ? rows.front() : rows.front().substr(rows.front().find('|') + 1);
    }
};

TEST_P(TlsTest, AVerifiedLineIsEncrypted) {
    Line line(profile("verify"));
    EXPECT_THAT(cipherOf(line), HasSubstr("_"));  // TLS_AES_256_GCM_SHA384
}

TEST_P(TlsTest, OffMeansOff) {
    Line line(profile("off", ""));
    EXPECT_EQ(cipherOf(line), "");
}

TEST_P(TlsTest, EncryptingAloneAsksForNoCertificateAuthority) {
    Line line(profile("encrypt", ""));
    EXPECT_THAT(cipherOf(line), HasSubstr("_"));
}

TEST_P(TlsTest, ACertificateOfAStrangerIsRefused) {
    const auto run = Line(profile("verify", "stranger.crt")).run("SELECT 1");
    ASSERT_TRUE(run->error());
    EXPECT_EQ(run->error()->kind, ErrorKind::Connection);
    EXPECT_THAT(run->error()->hint, HasSubstr("encrypt")) << run->error()->text();
}

TEST_P(TlsTest, ACertificateForAnotherHostIsRefused) {
    ConnectionProfile p = profile("verify");
    p.host = "127.0.0.1";  // the certificate says localhost
    const auto run = Line(p).run("SELECT 1");
    ASSERT_TRUE(run->error());
    EXPECT_EQ(run->error()->kind, ErrorKind::Connection) << run->error()->text();
    p.options["tls"] = "verify-ca";
    Line line(p);
    EXPECT_THAT(cipherOf(line), HasSubstr("_"));
}

TEST_P(TlsTest, ACertificateOfOnesOwnSignsIn) {
    if (isPostgres()) {
        Line owner(test::profileFor(postgres()));
        owner.run("CREATE ROLE guarded LOGIN");
        std::ofstream rules(server().folder() / "data" / "pg_hba.conf");
        rules << "hostssl all guarded all trust clientcert=verify-ca\nlocal all all trust\nhost all all all trust\n";
        rules.close();
        owner.run("SELECT pg_reload_conf()");
    } else {
        Line(test::profileFor(mariadb())).run("CREATE USER guarded REQUIRE X509");
    }
    ConnectionProfile p = profile("verify");
    p.user = "guarded";
    std::optional<Error> refused;
    for (int i = 0; i < 100 && !refused; ++i) {  // the server reads its rules when it likes
        refused = Line(p).run("SELECT 1")->error();
        std::this_thread::sleep_for(std::chrono::milliseconds(20));
    }
    EXPECT_TRUE(refused) << "without a certificate";
    // A key has to be our own, and nobody else's to read.
    const test::TemporaryFolder folder;
    for (const char* name : {"client.crt", "client.key"}) {
        test::writeFile(folder / name, test::contentOf(server().certificates() / name));
        std::filesystem::permissions(folder / name, std::filesystem::perms::owner_read);
    }
    p.options["tls-certificate"] = folder / "client.crt";
    p.options["tls-key"] = folder / "client.key";
    Line line(p);
    EXPECT_THAT(cipherOf(line), HasSubstr("_"));

    // The same with a key that is encrypted: its password is asked for under a name of its own.
    const std::string seal = fmt::format("openssl pkcs8 -topk8 -in {} -out {} -passout pass:pears 2>&1 && chmod 400 {}",
                                         (folder / "client.key").string(), (folder / "sealed.key").string(),
                                         (folder / "sealed.key").string());
    ASSERT_EQ(std::system(seal.c_str()), 0);
    p.options["tls-key"] = folder / "sealed.key";
    const auto signIn = [&](const std::string& keyPassword) {
        Session session(p, [&](const ConnectionProfile& wanted) -> Result<std::optional<std::string>> {
            if (wanted.id == secretOf(p, kTlsKeyPassword).id) return std::optional(keyPassword);
            return std::optional<std::string>();
        });
        return runAndWait(session, "SELECT 1").has_value();
    };
    EXPECT_TRUE(signIn("pears"));
    EXPECT_FALSE(signIn("plums"));
}

TEST_P(TlsTest, AFileThatIsNotThereIsNamed) {
    const auto run = Line(profile("verify", "nowhere.crt")).run("SELECT 1");
    ASSERT_TRUE(run->error());
    EXPECT_EQ(run->error()->kind, ErrorKind::InvalidInput);
    EXPECT_THAT(run->error()->message, HasSubstr("nowhere.crt"));
}

TEST_P(TlsTest, AnUnknownModeIsRefusedWithTheKnownOnes) {
    const auto run = Line(profile("maybe")).run("SELECT 1");
    ASSERT_TRUE(run->error());
    EXPECT_THAT(run->error()->text(), HasSubstr("verify-ca"));
}

TEST_P(TlsTest, ServersWithoutEncryptionAreRefusedWhereItIsAskedFor) {
    const demo::ServerOptions plain{.overTcp = true};
    std::unique_ptr<demo::ThrowawayServer> bare;
    ConnectionProfile p;
    if (isPostgres()) {
        auto made = std::make_unique<demo::PostgresServer>(plain);
        p = test::profileFor(*made);
        bare = std::move(made);
    } else {
        auto made = std::make_unique<demo::MariaDbServer>(plain);
        p = test::profileFor(*made);
        Line(p).run("CREATE USER warden");
        p.user = "warden";
        bare = std::move(made);
    }
    ASSERT_EQ(bare->startup(), "");
    p.host = "127.0.0.1";
    p.port = bare->port();
    Line automatic(p);
    EXPECT_FALSE(automatic.run("SELECT 1")->error());
    p.options["tls"] = "encrypt";
    const auto run = Line(p).run("SELECT 1");
    ASSERT_TRUE(run->error());
    EXPECT_EQ(run->error()->kind, ErrorKind::Connection) << run->error()->text();
}

TEST_P(TlsTest, APasswordGoesToNoStrangerInTheClear) {
    Line admin(isPostgres() ? test::profileFor(postgres()) : test::profileFor(mariadb()));
    if (isPostgres()) {
        admin.run("DROP ROLE IF EXISTS picker");
        admin.run("CREATE ROLE picker LOGIN PASSWORD 'quince'");
        std::ofstream(server().folder() / "data" / "pg_hba.conf")
            << "local all all trust\nhost all picker all password\nhost all all all trust\n";
        admin.run("SELECT pg_reload_conf()");
    } else {
        admin.run("DROP USER IF EXISTS picker");
        admin.run("CREATE USER picker IDENTIFIED BY 'quince'");
    }
    ConnectionProfile p = profile("off", "");
    p.user = "picker";
    p.host = "127.1";  // leads here, and is no name that this machine has for itself
    if (isPostgres()) p.database = "postgres";
    Line refused(p, "quince");
    const auto run = refused.run("SELECT 1");
    ASSERT_TRUE(run->error());
    EXPECT_THAT(run->error()->message, HasSubstr("not encrypted")) << run->error()->text();
    EXPECT_THAT(run->error()->hint, HasSubstr("unencrypted-password"));
    p.options["unencrypted-password"] = "yes";
    Line agreed(p, "quince");
    const auto allowed = agreed.run("SELECT 1");
    EXPECT_FALSE(allowed->error()) << allowed->error()->text();
    EXPECT_THAT(allowed->notices(), testing::Contains(HasSubstr("not encrypted"))) << "it is told with each line";
    const auto driver = driverFor(GetParam());
    bool isWarned = false;
    int told = 0;
    for (const TestStage& stage : (*driver)->test(p, "quince", {})) {
        isWarned = isWarned || stage.isWarning;
        told += stage.name.find("not encrypted") != std::string::npos ? 1 : 0;
    }
    EXPECT_TRUE(isWarned);
    EXPECT_EQ(told, 1) << "a fact is told once";
}

INSTANTIATE_TEST_SUITE_P(All, TlsTest, testing::Values(Engine::Postgres, Engine::MariaDb),
                         [](const auto& engine) { return engine.param == Engine::Postgres ? "Postgres" : "MariaDb"; });

}  // namespace
}  // namespace pantry::db
