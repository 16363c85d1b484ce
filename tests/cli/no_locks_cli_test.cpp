// The command line where files cannot be locked, as on some network folders.
#include "cli/pantry_program.h"

namespace pantry {
namespace {

using testing::HasSubstr;

class NoLocksCliTest : public test::PantryProgram {
protected:
    void SetUp() override { ::setenv("LD_PRELOAD", NO_LOCKS, 1); }
    void TearDown() override { ::unsetenv("LD_PRELOAD"); }
};

TEST_F(NoLocksCliTest, TheLedgerSaysWhatToDo) {
    const auto asked = pantry("history --all");
    EXPECT_EQ(asked.exitCode, 1);
    EXPECT_THAT(asked.output, HasSubstr("cannot be locked"));
    EXPECT_THAT(asked.output, HasSubstr("--home"));
}

TEST_F(NoLocksCliTest, StatementsRunAndNobodyWaits) {
    const auto ran = pantry("run --connection sqlite://:memory: -e 'SELECT 1 AS plots' --as csv");
    EXPECT_THAT(ran.output, HasSubstr("plots"));
    EXPECT_THAT(ran.output, HasSubstr("runs are not kept"));
}

TEST_F(NoLocksCliTest, QueriesAreSavedAndConnectionsToo) {
    const auto saved = pantry("shelf save locks/none.sql", "SELECT 1;\n");
    EXPECT_EQ(saved.exitCode, 0) << saved.output;
    EXPECT_THAT(pantry("shelf show locks/none.sql").output, HasSubstr("SELECT 1"));
    const auto added = pantry("connections add Unlocked sqlite://" + path("kitchen.db"));
    EXPECT_EQ(added.exitCode, 0) << added.output;
    EXPECT_THAT(pantry("connections list").output, HasSubstr("Unlocked"));
}

}  // namespace
}  // namespace pantry
