#include "core/store/log.h"

#include "core/base/file.h"
#include "support/temporary_folder.h"

namespace pantry::store {
namespace {

std::string logOf(const Home& home) { return base::readFile(home.logFile()).value_or(""); }

TEST(LogTest, KeepsNotesAndWarningsAndDetailsOnlyWhereAskedFor) {
    const test::TemporaryFolder folder;
    const Home home = findHome(folder.path());
    ASSERT_TRUE(home.prepare());
    for (const bool isVerbose : {false, true}) {
        startLog(home, isVerbose);
        log(LogLevel::Detail, "the soup of {leek} simmers");
        log(LogLevel::Note, "a crate of 40 % plums came");
        log(LogLevel::Warning, "the cellar is warm");
        const std::string text = logOf(home);
        EXPECT_EQ(text.find(" D the soup of {leek} simmers\n") != std::string::npos, isVerbose) << text;
        EXPECT_NE(text.find(" I a crate of 40 % plums came\n"), std::string::npos) << text;
        EXPECT_NE(text.find(" W the cellar is warm\n"), std::string::npos) << text;
    }
}

}  // namespace
}  // namespace pantry::store
