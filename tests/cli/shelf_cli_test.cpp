#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cstdlib>

#include "cli/pantry_program.h"

namespace pantry {
namespace {

using testing::HasSubstr;
using testing::Not;

class ShelfCliTest : public test::PantryProgram {
protected:
    ShelfCliTest() { std::filesystem::remove_all(path("home") + "/shelf"); }
    test::Outcome save(const std::string& more) { return pantry("shelf save " + more); }
};

TEST_F(ShelfCliTest, AQueryIsSavedShownRunAndFoundInTheHistory) {
    EXPECT_EQ(pantry("shelf list").output, "The shelf is empty. pantry shelf save puts a query on it.\n");
    const auto saved = save(
        "kitchen/jars-left -e 'SELECT batch_id FROM batch WHERE jars > :least' -c Kitchen --title 'Jars left' --note "
        "'By "
        "batch.'");
    EXPECT_EQ(saved.exitCode, 0);
    EXPECT_THAT(saved.output, HasSubstr("Saved kitchen/jars-left.sql: First version ("));
    EXPECT_EQ(pantry("shelf show 'jars LEFT'").output,
              "-- title: Jars left\n-- note: By batch.\n-- connection: Kitchen\n-- parameter: least\n\n"
              "SELECT batch_id FROM batch WHERE jars > :least\n");
    EXPECT_THAT(pantry("shelf list --find 'batch left'").output, HasSubstr("kitchen/jars-left.sql"));
    EXPECT_THAT(pantry("shelf list --find 'batch right'").output, HasSubstr("No query on the shelf"));
    const auto missing = pantry("shelf run jars-left");
    EXPECT_EQ(missing.exitCode, 1);
    EXPECT_THAT(missing.output, HasSubstr("kitchen/jars-left.sql:6:41: The parameter :least has no value"));
    const auto ran = pantry("shelf run jars-left --set least=1 --as csv");
    EXPECT_EQ(ran.exitCode, 0) << ran.output;
    EXPECT_THAT(ran.output, testing::StartsWith("batch_id"));
    EXPECT_THAT(pantry("history --limit 1 --json").output, HasSubstr(R"("saved":"kitchen/jars-left.sql")"));
}

TEST_F(ShelfCliTest, LastValuesAreUsedAndOnesThatAreSetWin) {
    ASSERT_EQ(
        pantry("shelf save a", "-- title: A\n-- connection: Kitchen\n-- parameter: n integer = 7\n\nSELECT :n AS n;\n")
            .exitCode,
        0);
    EXPECT_THAT(pantry("shelf run a --as csv").output, HasSubstr("7"));
    EXPECT_THAT(pantry("shelf run a --as csv --set n=9").output, HasSubstr("9"));
    ASSERT_EQ(pantry("shelf save a", "SELECT :n AS n, :m AS m;\n").exitCode, 0);
    EXPECT_THAT(pantry("shelf show a").output,
                HasSubstr("-- title: A\n-- connection: Kitchen\n-- parameter: n integer = 7\n-- parameter: m\n"))
        << "what was told before stays";
    EXPECT_EQ(pantry("shelf save b -e 'SELECT 1'").exitCode, 0);
    EXPECT_EQ(pantry("shelf run b").exitCode, 2) << "it does not say where";
    EXPECT_THAT(pantry("shelf run b -c Kitchen --as csv").output, HasSubstr("1"));
}

TEST_F(ShelfCliTest, VersionsMoveAndComeBack) {
    save("a -e 'SELECT jars FROM batch'");
    save("a -e 'SELECT jars, sugar FROM batch'");
    const std::string versions = pantry("shelf versions a").output;
    EXPECT_THAT(versions, HasSubstr("sugar added"));
    EXPECT_THAT(versions, HasSubstr("First version"));
    EXPECT_THAT(pantry("shelf move a kitchen/b").output, HasSubstr("Moved to kitchen/b.sql: "));
    EXPECT_THAT(pantry("shelf versions b --json").output, HasSubstr(R"("path":"a.sql")"));
    const std::string first = versions.substr(versions.find('\n') + 1, 7);
    EXPECT_THAT(pantry("shelf show b --version " + first).output, Not(HasSubstr("sugar")));
    EXPECT_EQ(pantry("shelf restore b " + first).exitCode, 0);
    EXPECT_THAT(pantry("shelf show b").output, Not(HasSubstr("sugar")));
    EXPECT_THAT(pantry("shelf copy b").output, HasSubstr("Copied to kitchen/b-2.sql"));
    EXPECT_EQ(pantry("shelf remove kitchen/b").exitCode, 0);
    EXPECT_THAT(pantry("shelf removed").output, HasSubstr("kitchen/b.sql"));
    EXPECT_EQ(pantry("shelf restore kitchen/b").exitCode, 0);
    EXPECT_THAT(pantry("shelf list --json").output, HasSubstr(R"("path":"kitchen/b.sql")"));
}

TEST_F(ShelfCliTest, WrongNamesAndSecretsAreTold) {
    save("kitchen/jars-left -e 'SELECT 1'");
    const auto unknown = pantry("shelf show jars-lef");
    EXPECT_EQ(unknown.exitCode, 1);
    EXPECT_THAT(unknown.output, HasSubstr("“jars-lef” is not on your shelf. kitchen/jars-left.sql is."));
    save("other/jars-left -e 'SELECT 2'");
    EXPECT_THAT(pantry("shelf show jars-left").output, HasSubstr("2 queries are called “jars-left”"));
    const auto secret = pantry("shelf save x", "SELECT 1;\nALTER ROLE maud PASSWORD 'hunter2';\n");
    EXPECT_EQ(secret.exitCode, 1);
    EXPECT_THAT(secret.output, testing::StartsWith("-:2:"));
    EXPECT_THAT(secret.output, Not(HasSubstr("hunter2")));
    EXPECT_THAT(pantry("shelf save ../x -e 'SELECT 1'").output, HasSubstr("cannot be a place on the shelf"));
    EXPECT_THAT(pantry("shelf list --shelf None").output, HasSubstr("There is no shelf named “None”"));
    EXPECT_EQ(pantry("shelf").exitCode, 2);
}

TEST_F(ShelfCliTest, TwoShelvesShareThroughARemote) {
    const std::string remote = path("remote.git");
    std::filesystem::remove_all(remote);
    ASSERT_EQ(std::system(("git init -q --bare '" + remote + "'").c_str()), 0);
    save("a -e 'SELECT 1'");
    EXPECT_THAT(pantry("shelf push").output, HasSubstr("has no remote"));
    ASSERT_EQ(pantry("shelf remote add team " + remote).exitCode, 0);
    EXPECT_THAT(pantry("shelf push").output, HasSubstr("Pushed 1 version."));
    const auto copied = pantry("shelf add Team file://" + remote);
    EXPECT_EQ(copied.exitCode, 0) << copied.output;
    EXPECT_THAT(pantry("shelf list --shelf Team").output, HasSubstr("a.sql")) << "whatever its branch is called";
    pantry("shelf save a --shelf Team -e 'SELECT 2'");
    EXPECT_THAT(pantry("shelf push --shelf Team").output, HasSubstr("Pushed 1 version."));
    save("a -e 'SELECT 3'");
    EXPECT_THAT(pantry("shelf push").output, HasSubstr("Pull first"));
    const auto conflict = pantry("shelf pull");
    EXPECT_EQ(conflict.exitCode, 1);
    EXPECT_THAT(conflict.output, HasSubstr("a.sql: changed here and there"));
    EXPECT_THAT(pantry("shelf show a").output, HasSubstr("SELECT 3"));
    EXPECT_THAT(pantry("shelf pull --theirs a").output, HasSubstr("Brought in 1 version."));
    EXPECT_THAT(pantry("shelf show a").output, HasSubstr("SELECT 2"));
    EXPECT_THAT(pantry("shelf push").output, HasSubstr("Pushed 2 versions."));
    EXPECT_THAT(pantry("shelf remote").output, HasSubstr(remote));
    EXPECT_EQ(pantry("shelf forget Team").exitCode, 0);
    EXPECT_THAT(pantry("shelf shelves").output, Not(HasSubstr("Team")));
}

}  // namespace
}  // namespace pantry
