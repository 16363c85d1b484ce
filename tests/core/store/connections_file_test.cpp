#include "core/store/connections_file.h"

#include <thread>

#include "support/temporary_folder.h"

namespace pantry::store {
namespace {

using test::TemporaryFolder;

db::ConnectionProfile profileNamed(const std::string& id, const std::string& name) {
    db::ConnectionProfile p;
    p.id = id;
    p.name = name;
    p.group = "Orchard and kitchen";
    p.environment = db::Environment::Trial;
    p.database = "/srv/" + id + ".db";
    p.options["busy_wait_ms"] = "100";
    p.onConnect = "PRAGMA foreign_keys = ON";
    p.isReadOnly = true;
    return p;
}

TEST(ConnectionsFileTest, ComesBackAsItWasSaved) {
    const TemporaryFolder folder;
    const ConnectionsFile file(folder / "connections.json");
    ASSERT_TRUE(file.put(profileNamed("1", "Kitchen")));
    ASSERT_TRUE(file.put(profileNamed("2", "Probes")));

    EXPECT_THAT(file.load()->profiles, testing::ElementsAre(profileNamed("1", "Kitchen"), profileNamed("2", "Probes")));
}

TEST(ConnectionsFileTest, KeepsTheConsentToShowAPasswordAndNoPassword) {
    const TemporaryFolder folder;
    const ConnectionsFile file(folder / "connections.json");
    db::ConnectionProfile p = profileNamed("1", "Far");
    p.engine = db::Engine::Postgres;
    p.options = {{"unencrypted-password", "yes"}, {"tls-key-password", "quinces"}};
    ASSERT_TRUE(file.put(p));
    EXPECT_EQ(file.load()->profiles[0].options, (std::map<std::string, std::string>{{"unencrypted-password", "yes"}}));
    EXPECT_EQ(test::contentOf(folder / "connections.json").find("quinces"), std::string::npos);
}

TEST(ConnectionsFileTest, ReplacesAndRemovesById) {
    const TemporaryFolder folder;
    const ConnectionsFile file(folder / "connections.json");
    ASSERT_TRUE(file.put(profileNamed("1", "Kitchen")));
    ASSERT_TRUE(file.put(profileNamed("1", "Old kitchen")));
    EXPECT_EQ(file.load()->profiles.at(0).name, "Old kitchen");
    ASSERT_TRUE(file.remove("1"));
    EXPECT_TRUE(file.load()->profiles.empty());
    EXPECT_EQ(file.remove("1").error().kind, ErrorKind::NotFound);
}

TEST(ConnectionsFileTest, ABrokenFileIsKeptAside) {
    const TemporaryFolder folder;
    test::writeFile(folder / "connections.json", "{\"connections\": [\n  oops");
    const ConnectionsFile file(folder / "connections.json");

    const auto list = file.load();

    ASSERT_TRUE(list && list->notice);
    EXPECT_THAT(list->notice->message, testing::HasSubstr("line 2"));
    ASSERT_TRUE(file.put(profileNamed("1", "Kitchen")));
    std::string kept;
    for (const auto& entry : std::filesystem::directory_iterator(folder.path())) {
        if (entry.path().string().find(".broken-") != std::string::npos) kept = test::contentOf(entry.path());
    }
    EXPECT_EQ(kept, "{\"connections\": [\n  oops");
}

TEST(ConnectionsFileTest, AFileOfANewerVersionIsNotTouched) {
    const TemporaryFolder folder;
    const std::string newer = "{\"version\": 99, \"connections\": []}";
    test::writeFile(folder / "connections.json", newer);
    const ConnectionsFile file(folder / "connections.json");
    EXPECT_EQ(file.load().error().kind, ErrorKind::TooNew);
    EXPECT_EQ(file.put(profileNamed("1", "Kitchen")).error().kind, ErrorKind::TooNew);
    EXPECT_EQ(test::contentOf(folder / "connections.json"), newer);
}

TEST(ConnectionsFileTest, WhatItDoesNotKnowStaysInTheFile) {
    const TemporaryFolder folder;
    test::writeFile(folder / "connections.json",
                    R"({"version": 1, "later": 7, "connections": [{"engine": "carrier-pigeon"}]})");
    const ConnectionsFile file(folder / "connections.json");
    EXPECT_TRUE(file.load()->profiles.empty());
    ASSERT_TRUE(file.put(profileNamed("1", "Kitchen")));
    EXPECT_THAT(test::contentOf(folder / "connections.json"),
                testing::AllOf(testing::HasSubstr("carrier-pigeon"), testing::HasSubstr("later")));
}

TEST(ConnectionsFileTest, TwoWindowsDoNotUndoEachOther) {
    const TemporaryFolder folder;
    const auto add = [&](const std::string& prefix) {
        const ConnectionsFile file(folder / "connections.json");
        for (int i = 0; i < 20; ++i)
            EXPECT_TRUE(file.put(profileNamed(prefix + std::to_string(i), prefix + std::to_string(i))));
    };
    std::thread other([&] { add("a"); });
    add("b");
    other.join();
    EXPECT_EQ(ConnectionsFile(folder / "connections.json").load()->profiles.size(), 40U);
}

TEST(ConnectionsFileTest, NamesMustBeThereAndDiffer) {
    const std::vector saved{profileNamed("1", "Kitchen")};
    EXPECT_THAT(problemOf(profileNamed("2", "kitchen"), saved)->message, testing::HasSubstr("Another connection"));
    EXPECT_TRUE(problemOf(profileNamed("2", " "), saved));
    EXPECT_FALSE(problemOf(profileNamed("1", "Kitchen"), saved));
}

TEST(ResolveConnectionTest, TakesNamesAndAddressesAndSuggestsTheNearest) {
    const std::vector saved{profileNamed("1", "Kitchen")};
    EXPECT_EQ(resolveConnection("kitchen", saved)->profile.id, "1");
    EXPECT_EQ(resolveConnection("sqlite:///srv/x.db", saved)->profile.database, "/srv/x.db");
    EXPECT_EQ(resolveConnection("Kitchn", saved).error().hint, "Did you mean “Kitchen”?");
}

}  // namespace
}  // namespace pantry::store
