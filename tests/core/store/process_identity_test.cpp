#include "core/store/process_identity.h"

#include <sys/wait.h>
#include <unistd.h>

namespace pantry::store {
namespace {

TEST(ProcessIdentityTest, ThisProcessRuns) { EXPECT_TRUE(isRunning(thisProcess())); }

TEST(ProcessIdentityTest, OneThatEndedIsGoneAlsoBeforeItsParentCollectsIt) {
    int ends[2];
    ASSERT_EQ(::pipe(ends), 0);
    const pid_t child = ::fork();
    if (child == 0) {
        const std::string& identity = thisProcess();
        const ssize_t written = ::write(ends[1], identity.data(), identity.size());
        ::_exit(written > 0 ? 0 : 1);
    }
    char buffer[200];
    const ssize_t length = ::read(ends[0], buffer, sizeof buffer);
    ASSERT_GT(length, 0);
    siginfo_t end{};
    ASSERT_EQ(::waitid(P_PID, static_cast<id_t>(child), &end, WEXITED | WNOWAIT), 0);  // ended, not collected
    EXPECT_FALSE(isRunning(std::string(buffer, static_cast<std::size_t>(length))));
    ::waitpid(child, nullptr, 0);
    ::close(ends[0]);
    ::close(ends[1]);
}

}  // namespace
}  // namespace pantry::store
