#include "core/store/snippets_file.h"

#include <gmock/gmock.h>

#include "support/temporary_folder.h"

namespace pantry::store {
namespace {

using snippet::Snippet;
using testing::ElementsAre;

TEST(SnippetsFileTest, KeepsOnesOwnInTheirOrderAndChangesThemInPlace) {
    const test::TemporaryFolder folder;
    const auto file = folder / "snippets.json";
    EXPECT_TRUE(loadSnippets(file)->empty());
    const Snippet first{
        "jars", "Jars left", "SELECT «column:column of table» FROM «table:table»", {sql::Dialect::MySql}};
    const Snippet second{"scab", "Scab by plot", "SELECT 'é'\n", {}};
    ASSERT_TRUE(saveSnippet(file, first, {}));
    ASSERT_TRUE(saveSnippet(file, second, {}));
    EXPECT_THAT(loadSnippets(file).value(), ElementsAre(first, second));
    Snippet renamed = first;
    renamed.trigger = "jar";
    ASSERT_TRUE(saveSnippet(file, renamed, "jars"));
    EXPECT_THAT(loadSnippets(file).value(), ElementsAre(renamed, second));
    ASSERT_TRUE(removeSnippet(file, "scab"));
    EXPECT_THAT(loadSnippets(file).value(), ElementsAre(renamed));
}

TEST(SnippetsFileTest, ABrokenFileIsKeptAsideAndANewerOneNotTouched) {
    const test::TemporaryFolder folder;
    const auto file = folder / "snippets.json";
    test::writeFile(file, "{ not json");
    EXPECT_TRUE(loadSnippets(file)->empty());
    test::writeFile(file, R"({"version": 99, "snippets": []})");
    EXPECT_EQ(loadSnippets(file).error().kind, ErrorKind::TooNew);
    EXPECT_FALSE(saveSnippet(file, {"a", "b", "c", {}}, {}));
    test::writeFile(
        file,
        R"({"version": 1, "snippets": [1, {"trigger": 2}, {"trigger": "ok", "text": "x", "dialects": ["nonsense"]}]})");
    const auto read = loadSnippets(file);
    ASSERT_TRUE(read);
    EXPECT_EQ(read->back().trigger, "ok");
    EXPECT_TRUE(read->back().dialects.empty());
}

}  // namespace
}  // namespace pantry::store
