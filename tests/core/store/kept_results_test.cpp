#include "core/store/kept_results.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>
#include <sys/stat.h>

#include <limits>

#include "support/temporary_folder.h"

namespace pantry::store {
namespace {

using testing::ElementsAre;
using testing::IsEmpty;
namespace fs = std::filesystem;

data::ResultSetPtr oneColumn(const std::vector<std::string>& values) {
    auto set = std::make_shared<data::ResultSet>(
        std::vector<data::Column>{{.name = "variety", .typeName = "text", .type = data::ColumnType::Text}});
    data::ChunkBuilder builder(1);
    for (const std::string& value : values) {
        builder.addText(value);
        builder.endRow();
        if (builder.isFull()) set->append(builder.take());
    }
    if (builder.rowCount() > 0) set->append(builder.take());
    return set;
}

class KeptResultsTest : public testing::Test {
protected:
    test::TemporaryFolder folder_;
    KeptResults results_{folder_ / "results"};
};

TEST_F(KeptResultsTest, ARunComesBackAsItWas) {
    auto rows = std::make_shared<data::ResultSet>(
        std::vector<data::Column>{{.name = "id",
                                   .typeName = "bigint",
                                   .type = data::ColumnType::Integer,
                                   .originTable = "tree",
                                   .originColumn = "id",
                                   .originSchema = "main"},
                                  {.name = "share", .typeName = "real", .type = data::ColumnType::Real},
                                  {.name = "note", .typeName = "text", .type = data::ColumnType::Text},
                                  {.name = "photo", .typeName = "blob", .type = data::ColumnType::Binary}});
    data::ChunkBuilder builder(4);
    builder.addInteger(std::numeric_limits<std::int64_t>::min());
    builder.addReal(-0.5);
    builder.addText("quince \xff is no UTF-8");
    builder.addBinary(std::string("\0\x01\xfe", 3));
    builder.endRow();
    for (int i = 0; i < 4; ++i) builder.addNull();
    builder.endRow();
    builder.addInteger(std::numeric_limits<std::int64_t>::max());
    builder.addReal(std::numeric_limits<double>::infinity());
    builder.addText("");
    builder.addBinary("");
    builder.endRow();
    rows->append(builder.take());
    const KeptRun run{.number = 7,
                      .title = "Trees",
                      .statement = "SELECT * FROM tree WHERE id > :least",
                      .whole = "SELECT 1",
                      .values = {{"least", {"3", std::nullopt}}},
                      .connectionId = "c1",
                      .database = "orchard",
                      .schema = "main",
                      .place = "Orchard records",
                      .startedAt = base::Moment(std::chrono::microseconds(1'700'000'000'123'456)),
                      .serverTime = std::chrono::microseconds(12),
                      .totalTime = std::chrono::microseconds(34),
                      .end = KeptEnd::Partial,
                      .isPinned = true,
                      .hasResult = true,
                      .rowCount = 3,
                      .rows = rows};
    ASSERT_TRUE(results_.save("sheet", run));
    const auto back = results_.load("sheet");
    ASSERT_EQ(back.size(), 1U);
    EXPECT_EQ(back[0].number, 7);
    EXPECT_EQ(back[0].statement, run.statement);
    EXPECT_EQ(back[0].whole, "SELECT 1");
    EXPECT_EQ(back[0].values, run.values);
    EXPECT_EQ(back[0].startedAt, run.startedAt);
    EXPECT_EQ(back[0].totalTime, run.totalTime);
    EXPECT_EQ(back[0].end, KeptEnd::Partial);
    EXPECT_TRUE(back[0].isPinned);
    ASSERT_TRUE(back[0].rows);
    EXPECT_EQ(back[0].rows->columns(), rows->columns());
    ASSERT_EQ(back[0].rows->rowCount(), 3U);
    for (std::size_t row = 0; row < 3; ++row) {
        for (std::size_t column = 0; column < 4; ++column) {
            EXPECT_EQ(back[0].rows->cell(row, column).kind, rows->cell(row, column).kind) << row << "," << column;
            EXPECT_EQ(data::toText(back[0].rows->cell(row, column)), data::toText(rows->cell(row, column)));
        }
    }
    struct stat facts {};
    ASSERT_EQ(::stat((folder_ / "results/sheet/7.result").c_str(), &facts), 0);
    EXPECT_EQ(facts.st_mode & 077U, 0U) << "for its owner alone";
}

TEST_F(KeptResultsTest, AFailureComesBackWithItsPlace) {
    const Error error{.kind = ErrorKind::UnknownName,
                      .message = "no such column: aple",
                      .hint = "apple?",
                      .byteOffset = 7,
                      .code = "42703",
                      .detail = "d",
                      .constraint = "c"};
    ASSERT_TRUE(results_.save("s", {.number = 1, .end = KeptEnd::Failed, .error = error}));
    const auto back = results_.load("s");
    ASSERT_EQ(back.size(), 1U);
    EXPECT_EQ(back[0].error, error);
    EXPECT_FALSE(back[0].rows);
}

TEST_F(KeptResultsTest, LargeResultsAreKeptWithoutTheirRows) {
    const auto many = oneColumn(std::vector<std::string>(2001, "Cox"));
    const auto wide = oneColumn({std::string(2 << 20, 'x')});
    const auto most = oneColumn(std::vector<std::string>(2000, "Cox"));
    EXPECT_FALSE(isSmallEnough(*many));
    EXPECT_FALSE(isSmallEnough(*wide));
    ASSERT_TRUE(isSmallEnough(*most));
    ASSERT_TRUE(results_.save("s", {.number = 1, .hasResult = true, .rowCount = 2001, .rows = many}));
    ASSERT_TRUE(results_.save("s", {.number = 2, .hasResult = true, .rowCount = 2000, .rows = most}));
    const auto back = results_.load("s");
    ASSERT_EQ(back.size(), 2U);
    EXPECT_FALSE(back[0].rows);
    EXPECT_EQ(back[0].rowCount, 2001U);
    ASSERT_TRUE(back[1].rows);
    EXPECT_EQ(back[1].rows->rowCount(), 2000U);
}

TEST_F(KeptResultsTest, DamagedAndNewerFilesAreLeftOutAndStay) {
    ASSERT_TRUE(results_.save("s", {.number = 1, .title = "good"}));
    test::writeFile(folder_ / "results/s/2.result", "no result at all");
    test::writeFile(folder_ / "results/s/3.result", "");
    const std::string whole = test::contentOf(folder_ / "results/s/1.result");
    test::writeFile(folder_ / "results/s/4.result", whole.substr(0, whole.size() / 2));
    const auto back = results_.load("s");
    ASSERT_EQ(back.size(), 1U);
    EXPECT_EQ(back[0].title, "good");
    EXPECT_TRUE(fs::exists(folder_ / "results/s/2.result"));
    EXPECT_THAT(results_.load("nobody"), IsEmpty());
}

TEST_F(KeptResultsTest, RemovedOnesAreGoneAndTheOldestMakeRoom) {
    for (int i = 1; i <= 4; ++i) {
        ASSERT_TRUE(results_.save("s", {.number = i, .title = std::string(1000, 'a')}));
        fs::last_write_time(folder_ / "results/s" / (std::to_string(i) + ".result"),
                            fs::file_time_type::clock::now() - std::chrono::hours(10 - i));
    }
    results_.remove("s", 4);
    const auto numbers = [&] {
        std::vector<int> all;
        for (const KeptRun& one : results_.load("s")) all.push_back(one.number);
        return all;
    };
    EXPECT_THAT(numbers(), ElementsAre(1, 2, 3));
    results_.tidy(3000);
    EXPECT_THAT(numbers(), ElementsAre(2, 3));
    results_.tidy(0);
    EXPECT_FALSE(fs::exists(folder_ / "results/s")) << "an empty folder goes too";
}

RC_GTEST_PROP(KeptResultsProperty, AnyTextsComeBack, (const std::vector<std::string>& values)) {
    const test::TemporaryFolder folder;
    const KeptResults results(folder / "r");
    RC_ASSERT(static_cast<bool>(results.save("s", {.number = 1, .rows = oneColumn(values)})));
    const auto back = results.load("s");
    RC_ASSERT(back.size() == 1U);
    RC_ASSERT(back[0].rows->rowCount() == values.size());
    for (std::size_t i = 0; i < values.size(); ++i) RC_ASSERT(data::toText(back[0].rows->cell(i, 0)) == values[i]);
}

}  // namespace
}  // namespace pantry::store
