#include "core/base/output_file.h"

#include <fcntl.h>
#include <sqlite3.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

#include <thread>

#include "support/temporary_folder.h"

namespace pantry::base {
namespace {

namespace fs = std::filesystem;
using test::contentOf;
using test::TemporaryFolder;
using test::writeFile;

mode_t modeOf(const fs::path& path) {
    struct stat info {};
    ::lstat(path.c_str(), &info);
    return info.st_mode & 07777;
}

std::size_t filesIn(const fs::path& folder) {
    return static_cast<std::size_t>(std::distance(fs::directory_iterator(folder), fs::directory_iterator()));
}

TEST(OutputFileTest, AFileIsThereWhenItIsWholeAndNotBefore) {
    const TemporaryFolder folder;
    OutputFile file(folder / "out.csv");
    ASSERT_TRUE(file.open());
    ASSERT_TRUE(file.write("half"));
    EXPECT_FALSE(fs::exists(folder / "out.csv"));
    ASSERT_TRUE(file.finish());
    EXPECT_EQ(contentOf(folder / "out.csv"), "half");
    EXPECT_EQ(modeOf(folder / "out.csv"), newFileMode());
    EXPECT_EQ(filesIn(folder.path()), 1U);
}

TEST(OutputFileTest, RightsOfTheFileBeforeStay) {
    const TemporaryFolder folder;
    for (const mode_t mode : {0600, 0640, 0755}) {
        writeFile(folder / "kept", "old");
        ::chmod((folder / "kept").c_str(), mode);
        ASSERT_TRUE(writeOutputFile(folder / "kept", "new"));
        EXPECT_EQ(modeOf(folder / "kept"), mode);
        EXPECT_EQ(contentOf(folder / "kept"), "new");
    }
}

TEST(OutputFileTest, OtherNamesOfAFileStayNamesOfIt) {
    const TemporaryFolder folder;
    writeFile(folder / "one", "a longer text of before");
    fs::create_hard_link(folder / "one", folder / "two");
    ASSERT_TRUE(writeOutputFile(folder / "one", "new"));
    EXPECT_EQ(contentOf(folder / "two"), "new");
    EXPECT_EQ(fs::hard_link_count(folder / "one"), 2U);
}

TEST(OutputFileTest, LinksAreFollowedAndStay) {
    const TemporaryFolder folder;
    fs::create_directory(folder / "there");
    writeFile(folder / "there" / "real", "old");
    fs::create_symlink("there/real", folder / "link");
    fs::create_symlink("link", folder / "chain");
    fs::create_symlink("there/later", folder / "dangling");
    ASSERT_TRUE(writeOutputFile(folder / "chain", "new"));
    ASSERT_TRUE(writeOutputFile(folder / "dangling", "made"));
    EXPECT_TRUE(fs::is_symlink(folder / "chain"));
    EXPECT_TRUE(fs::is_symlink(folder / "link"));
    EXPECT_EQ(contentOf(folder / "there" / "real"), "new");
    EXPECT_EQ(contentOf(folder / "there" / "later"), "made");
}

TEST(OutputFileTest, APlantedNameIsNeitherFollowedNorDestroyed) {
    const TemporaryFolder folder;
    writeFile(folder / "precious", "untouched");
    fs::create_symlink("precious", folder / "out.csv.part");
    OutputFile file(folder / "out.csv");
    ASSERT_TRUE(file.open());
    ASSERT_TRUE(file.write("some rows"));
    const std::string part = file.keepPart();
    EXPECT_EQ(part, (folder / "out.csv.part-2").string());
    EXPECT_EQ(contentOf(part), "some rows");
    EXPECT_EQ(contentOf(folder / "precious"), "untouched");
    EXPECT_TRUE(fs::is_symlink(folder / "out.csv.part"));
}

TEST(OutputFileTest, PipesAreStreamedIntoAndStayPipes) {
    const TemporaryFolder folder;
    const fs::path pipe = folder / "pipe";
    ASSERT_EQ(::mkfifo(pipe.c_str(), 0600), 0);
    std::string read;
    std::thread reader([&] { read = contentOf(pipe); });
    EXPECT_TRUE(writeOutputFile(pipe, "through it"));
    reader.join();
    EXPECT_EQ(read, "through it");
    EXPECT_TRUE(fs::is_fifo(pipe));
}

TEST(OutputFileTest, DevicesStay) {
    EXPECT_TRUE(writeOutputFile("/dev/null", "gone"));
    struct stat info {};
    ASSERT_EQ(::stat("/dev/null", &info), 0);
    EXPECT_TRUE(S_ISCHR(info.st_mode));
    const Status full = writeOutputFile("/dev/full", "too much");
    ASSERT_FALSE(full);
    EXPECT_THAT(full.error().message, testing::HasSubstr("the disk is full"));
}

TEST(OutputFileTest, WhatCannotBeWrittenIsToldAndThrowsNothing) {
    const TemporaryFolder folder;
    fs::create_symlink("round", folder / "loop");
    fs::create_symlink("loop", folder / "round");
    fs::create_directory(folder / "closed");
    for (const fs::path& path : {folder / "loop", folder.path(), folder / "nowhere" / "out.csv",
                                 folder / std::string(300, 'x'), folder / "loop" / "out.csv", fs::path()}) {
        const Status status = writeOutputFile(path, "x");
        ASSERT_FALSE(status) << path;
        EXPECT_FALSE(status.error().message.empty()) << path;
    }
    EXPECT_TRUE(fs::is_symlink(folder / "loop"));
}

TEST(OutputFileTest, OurOwnFilesAndDatabasesAreRefused) {
    const TemporaryFolder folder;
    fs::create_directory(folder / "home");
    writeFile(folder / "home" / "connections.json", "{}");
    protectFolder(folder / "home");
    sqlite3* db = nullptr;
    sqlite3_open((folder / "orchard.db").c_str(), &db);
    sqlite3_exec(db, "PRAGMA journal_mode = WAL; CREATE TABLE plot (id)", nullptr, nullptr, nullptr);
    fs::create_symlink("home/connections.json", folder / "link");
    const std::string before = contentOf(folder / "orchard.db");
    for (const char* name : {"home/connections.json", "home/new.csv", "link", "orchard.db", "orchard.db-wal",
                             "orchard.db-shm", "orchard.db-journal"}) {
        const Status status = writeOutputFile(folder / name, "x");
        ASSERT_FALSE(status) << name;
        EXPECT_EQ(status.error().kind, ErrorKind::InvalidInput) << status.error().text();
    }
    EXPECT_EQ(contentOf(folder / "home" / "connections.json"), "{}");
    EXPECT_EQ(contentOf(folder / "orchard.db"), before);
    sqlite3_close(db);
}

TEST(OutputFileTest, AWriterThatIsKilledLeavesNothing) {
    const TemporaryFolder folder;
    const int nameless = ::open(folder.path().c_str(), O_TMPFILE | O_WRONLY | O_CLOEXEC, 0600);
    if (nameless >= 0) ::close(nameless);
    writeFile(folder / "out.csv", "old");
    const pid_t child = ::fork();
    if (child == 0) {
        OutputFile file(folder / "out.csv");
        (void)file.open();
        (void)file.write("half");
        ::kill(::getpid(), SIGKILL);
    }
    int status = 0;
    ::waitpid(child, &status, 0);
    EXPECT_EQ(contentOf(folder / "out.csv"), "old");
    // Where a file system has no files without a name, one with a name stays, which the next start clears.
    EXPECT_EQ(filesIn(folder.path()), nameless >= 0 ? 1U : 2U);
}

}  // namespace
}  // namespace pantry::base
