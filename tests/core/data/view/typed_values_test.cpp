// Texts read by what they mean: numbers of any size, moments, spans, truth.
#include <rapidcheck/gtest.h>

#include "core/data/view/decimal.h"
#include "core/data/view/typed_text.h"

namespace pantry::data {
namespace {

constexpr std::int64_t kHour = 3'600'000'000;

TEST(DecimalTest, ComparesByValueWhateverTheDigits) {
    const char* ascending[] = {
        "-1e30", "-100", "-99.9999999999999999999999", "-0.5", "-0.05", "0", "0.000001", "1.0001", "9.1", "12.4", "100",
        "1e3",   "1e400"};
    for (std::size_t i = 0; i + 1 < std::size(ascending); ++i) {
        EXPECT_TRUE(compareDecimals(ascending[i], ascending[i + 1]) < 0) << ascending[i] << " " << ascending[i + 1];
        EXPECT_TRUE(compareDecimals(ascending[i + 1], ascending[i]) > 0);
    }
    EXPECT_TRUE(compareDecimals("1.0", "1") == 0);
    EXPECT_TRUE(compareDecimals("-0", "0.00") == 0);
    EXPECT_TRUE(compareDecimals("0100", "1e2") == 0);
    EXPECT_TRUE(compareDecimals("12345678901234567890.1", "12345678901234567890.2") < 0);
}

TEST(DecimalTest, TellsNumbersFromOtherTexts) {
    for (const char* number : {"1", "-1.5", "+.5", "5.", "1e-7", "00012"}) EXPECT_TRUE(isDecimal(number)) << number;
    for (const char* other : {"", "-", ".", "1e", "1.2.3", "NaN", "12 ", "0x1f", "1e999999999"}) {
        EXPECT_FALSE(isDecimal(other)) << other;
    }
}

RC_GTEST_PROP(DecimalProperty, SumsOfWholeNumbersAreExact, (const std::vector<std::int32_t>& values)) {
    DecimalSum sum;
    std::int64_t expected = 0;
    for (const std::int32_t v : values) {
        v % 2 == 0 ? sum.add(std::int64_t{v}) : static_cast<void>(sum.add(std::string_view(std::to_string(v))));
        expected += v;
    }
    RC_ASSERT(sum.text() == std::to_string(expected));
}

RC_GTEST_PROP(DecimalProperty, ComparisonAgreesWithNumbers, (std::int64_t a, std::int64_t b)) {
    const auto compared = compareDecimals(std::to_string(a), std::to_string(b));
    RC_ASSERT((compared < 0) == (a < b));
    RC_ASSERT((compared == 0) == (a == b));
}

TEST(DecimalTest, MeansAreRoundedHalfAwayFromZero) {
    DecimalSum sum;
    for (const char* value : {"0.1", "0.2", "0.2"}) sum.add(std::string_view(value));
    EXPECT_EQ(sum.text(), "0.5");
    EXPECT_EQ(sum.mean(3, 3), "0.1667");
    DecimalSum negative;
    negative.add(-1);
    EXPECT_EQ(negative.mean(2, 0), "-1");
}

TEST(TypedTextTest, MomentsAreReadInEveryFormOfTheEngines) {
    EXPECT_EQ(momentIn("1970-01-01"), 0);
    EXPECT_EQ(momentIn("1970-01-01 01:00:00"), kHour);
    EXPECT_EQ(momentIn("1970-01-01T01:00Z"), kHour);
    EXPECT_EQ(momentIn("1970-01-01 01:00:00.25+00"), kHour + 250'000);
    EXPECT_EQ(momentIn("1970-01-01 02:00:00+02:00"), 0);
    EXPECT_EQ(momentIn("1969-12-31 18:30:00-0530"), 0);
    EXPECT_EQ(momentIn("infinity"), INT64_MAX);
    EXPECT_EQ(momentIn("-infinity"), INT64_MIN);
    EXPECT_LT(*momentIn("0044-03-15 BC"), *momentIn("0001-01-01"));
    EXPECT_LT(*momentIn("2026-02-28"), *momentIn("2026-03-01"));
    EXPECT_GT(*momentIn("100000-01-01"), *momentIn("9999-12-31"));
    for (const char* other : {"", "2026", "2026-13-01", "2026-11-32", "2026-11-17 8h", "17.11.2026", "2026-11-17x"}) {
        EXPECT_FALSE(momentIn(other)) << other;
    }
}

RC_GTEST_PROP(TypedTextProperty, AMomentsTextReadsAsTheSameMoment, ()) {
    const auto seconds = *rc::gen::inRange<std::int64_t>(-200'000'000'000, 9'000'000'000'000);
    const std::int64_t moment = seconds * 1'000'000 + *rc::gen::inRange(0, 1'000'000);
    RC_ASSERT(momentIn(momentText(moment, false)) == moment);
}

TEST(TypedTextTest, SpansAreReadInEveryFormOfTheEngines) {
    constexpr std::int64_t day = 24 * kHour;
    EXPECT_EQ(intervalIn("04:05:06"), 4 * kHour + 5 * 60'000'000 + 6'000'000);
    EXPECT_EQ(intervalIn("-04:00:00"), -4 * kHour);
    EXPECT_EQ(intervalIn("1 year 2 mons -3 days +04:00:00"), (12 + 2) * 30 * day - 3 * day + 4 * kHour);
    EXPECT_EQ(intervalIn("P1Y2M3DT4H5M6.5S"), (14 * 30 + 3) * day + 4 * kHour + 5 * 60'000'000 + 6'500'000);
    EXPECT_EQ(intervalIn("90 minutes"), 90 * 60'000'000LL);
    EXPECT_EQ(intervalIn("2 weeks"), 14 * day);
    EXPECT_EQ(clockTimeIn("-120:30:00"), -120 * kHour - kHour / 2);
    EXPECT_EQ(clockTimeIn("10:00:00+02"), 8 * kHour);
    for (const char* other : {"", "soon", "3", "3 apples", "P1X", "1:2:3:4"}) EXPECT_FALSE(intervalIn(other)) << other;
}

TEST(TypedTextTest, TruthIsReadInEverySpelling) {
    for (const char* yes : {"t", "TRUE", "yes", "Y", "on", "1"}) EXPECT_EQ(booleanIn(yes), true) << yes;
    for (const char* no : {"f", "False", "no", "off", "0"}) EXPECT_EQ(booleanIn(no), false) << no;
    EXPECT_FALSE(booleanIn("maybe"));
}

}  // namespace
}  // namespace pantry::data
