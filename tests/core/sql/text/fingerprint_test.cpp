#include "core/sql/text/fingerprint.h"

#include <gtest/gtest.h>

namespace pantry::sql {
namespace {

Fingerprint of(std::string_view statement) { return fingerprintOf(statement, Dialect::Postgres); }

TEST(FingerprintTest, LayoutCommentsCaseAndTerminatorSayNothing) {
    EXPECT_EQ(of("SELECT name FROM plot WHERE plot_id = 7"),
              of("select  NAME -- the name\n from plot /* all */ where plot_id=7;"));
    EXPECT_NE(of("SELECT 'a'").exact, of("SELECT 'A'").exact);
    EXPECT_NE(of("SELECT \"name\"").exact, of("SELECT \"Name\"").exact);
    EXPECT_NE(of("SELECT a b").form, of("SELECT ab").form);
}

TEST(FingerprintTest, OneFormHasAnyValuesAndAnyNumberOfThem) {
    EXPECT_EQ(of("SELECT 1").form, of("SELECT 'two'").form);
    EXPECT_EQ(of("SELECT 1").form, of("SELECT :n").form);
    EXPECT_NE(of("SELECT 1").exact, of("SELECT 2").exact);
    EXPECT_EQ(of("a IN (1)").form, of("a IN (1, 2, 3)").form);
    EXPECT_EQ(of("VALUES (1, 'x'), (2, 'y')").form, of("VALUES (3), (4, 5)").form);
    EXPECT_NE(of("SELECT 1, a").form, of("SELECT 1 a").form) << "a comma before something else counts";
    EXPECT_NE(of("SELECT a, b").form, of("SELECT a").form);
}

TEST(FingerprintTest, TheNumbersNeverChange) {
    EXPECT_EQ(of("SELECT name FROM plot WHERE plot_id = 7").exact, -7253062754087099359);
    EXPECT_EQ(of("SELECT name FROM plot WHERE plot_id = 7").form, -7260715355017934119);
}

}  // namespace
}  // namespace pantry::sql
