#include "core/base/file.h"

#include <sys/stat.h>

#include "support/temporary_folder.h"

namespace pantry::base {
namespace {

using test::TemporaryFolder;

TEST(FileTest, ReadsBackWhatItWrote) {
    const TemporaryFolder folder;
    const std::string content("zero\0inside\n", 12);

    ASSERT_TRUE(writeFileAtomically(folder / "a", content));

    EXPECT_EQ(readFile(folder / "a").value(), content);
}

TEST(FileTest, LeavesNothingBesideTheFile) {
    const TemporaryFolder folder;
    ASSERT_TRUE(writeFileAtomically(folder / "a", "1"));
    ASSERT_TRUE(writeFileAtomically(folder / "a", "2"));

    EXPECT_EQ(std::distance(std::filesystem::directory_iterator(folder.path()), {}), 1);
}

TEST(FileTest, NewFilesAreTheirOwnersAlone) {
    const TemporaryFolder folder;
    ASSERT_TRUE(writeFileAtomically(folder / "a", "1"));

    struct stat facts {};
    ASSERT_EQ(::stat((folder / "a").c_str(), &facts), 0);
    EXPECT_EQ(facts.st_mode & 0777, 0600U);
}

TEST(FileTest, SaysWhichFileIsMissing) {
    const auto content = readFile("/no/such/place");

    ASSERT_FALSE(content);
    EXPECT_EQ(content.error().kind, ErrorKind::NotFound);
    EXPECT_THAT(content.error().message, testing::HasSubstr("/no/such/place"));
}

TEST(FileTest, MakesFoldersAllTheWayDown) {
    const TemporaryFolder folder;
    EXPECT_TRUE(makeFolder(folder / "a/b/c"));
    EXPECT_TRUE(std::filesystem::is_directory(folder / "a/b/c"));
    EXPECT_TRUE(makeFolder(folder / "a/b/c"));
}

}  // namespace
}  // namespace pantry::base
