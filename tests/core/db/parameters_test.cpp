#include "core/db/parameters.h"

#include <gtest/gtest.h>

namespace pantry::db {
namespace {

Result<BoundStatement> bound(std::string_view sql, const ParameterValues& values) {
    int n = 0;
    return BoundStatement::make(sql, sql::Dialect::Postgres, values, [&n](const std::string&, const auto&) {
        return std::string(1, '$').append(std::to_string(++n));
    });
}

TEST(BoundStatementTest, PutsPlacesWhereParametersStand) {
    const auto out = bound("SELECT :least::int, ':least', a[1:2] FROM t WHERE x > :least", {{"least", "3"}});
    ASSERT_TRUE(out) << out.error().text();
    EXPECT_EQ(out->text(), "SELECT $1::int, ':least', a[1:2] FROM t WHERE x > $2");
}

TEST(BoundStatementTest, FindsTheWayBackToTheUsersText) {
    const std::string_view sql = "SELECT :a + nonsense + :b, more";
    const auto out = bound(sql, {{"a", "1"}, {"b", "2"}});
    ASSERT_TRUE(out);
    for (const char* word : {"nonsense", "more", "SELECT"}) {
        EXPECT_EQ(out->originOf(out->text().find(word)), sql.find(word)) << word;
    }
    EXPECT_EQ(out->originOf(out->text().find("$2") + 1), sql.find(":b"));
}

TEST(BoundStatementTest, MissesAValueAtItsPlace) {
    const auto out = bound("SELECT 1,\n  :where", {});
    ASSERT_FALSE(out);
    EXPECT_EQ(out.error().byteOffset, 12U);
    EXPECT_NE(out.error().message.find(":where"), std::string::npos);
}

}  // namespace
}  // namespace pantry::db
