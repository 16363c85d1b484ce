#include "core/base/late_library.h"

#include <gmock/gmock.h>

namespace pantry::base {
namespace {

using testing::HasSubstr;

TEST(LateLibrary, ALibraryThatIsMissingIsAnErrorThatSaysWhatToDo) {
    const Status there = loadLibrary("libmedlar.so.9");
    ASSERT_FALSE(there);
    EXPECT_EQ(there.error().kind, ErrorKind::NotFound);
    EXPECT_THAT(there.error().message, HasSubstr("libmedlar.so.9"));
    EXPECT_THAT(there.error().hint, HasSubstr("Install"));
}

TEST(LateLibrary, OneThatIsThereMayBeAskedForAgain) {
    EXPECT_TRUE(loadLibrary("libc.so.6"));
    EXPECT_TRUE(loadLibrary("libc.so.6"));
}

}  // namespace
}  // namespace pantry::base
