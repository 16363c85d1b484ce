#include "core/db/parameters.h"

#include <gtest/gtest.h>

namespace pantry::db {
namespace {

Result<BoundStatement> bound(std::string_view sql, const sql::ParameterValues& values) {
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

TEST(BoundStatementTest, SeveralValuesStandBesideEachOther) {
    const sql::ParameterValue several(std::vector<std::optional<std::string>>{"a", std::nullopt, "c"});
    const auto out = bound("SELECT 1 WHERE x IN (:list) AND y = :one", {{"list", several}, {"one", "z"}});
    ASSERT_TRUE(out);
    EXPECT_EQ(out->text(), "SELECT 1 WHERE x IN ($1, $2, $3) AND y = $4");
    EXPECT_EQ(out->originOf(out->text().find("y =")), std::string_view("SELECT 1 WHERE x IN (:list) AND ").size());
    const auto none = bound("SELECT 1 WHERE x IN (:list)",
                            {{"list", sql::ParameterValue(std::vector<std::optional<std::string>>{})}});
    ASSERT_TRUE(none);
    EXPECT_EQ(none->text(), "SELECT 1 WHERE x IN (NULL)") << "no value is none that anything equals";
}

TEST(BoundStatementTest, ParametersWithoutNamesGoByTheirNumber) {
    const auto out = bound("SELECT $2, $1", {{"1", "a"}, {"2", "b"}});
    ASSERT_TRUE(out);
    EXPECT_EQ(out->text(), "SELECT $1, $2") << "in the order in which they are sent";
    const auto later = bound("PREPARE p AS SELECT $1", {});
    ASSERT_TRUE(later) << "what is to be called later has its own";
    EXPECT_EQ(later->text(), "PREPARE p AS SELECT $1");
}

TEST(BoundStatementTest, MissesAValueAtItsPlace) {
    const auto out = bound("SELECT 1,\n  :where", {});
    ASSERT_FALSE(out);
    EXPECT_EQ(out.error().byteOffset, 12U);
    EXPECT_NE(out.error().message.find(":where"), std::string::npos);
}

}  // namespace
}  // namespace pantry::db
