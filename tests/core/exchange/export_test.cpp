#include "core/exchange/csv_writer.h"
#include "core/exchange/file_export.h"
#include "support/run_recorder.h"
#include "support/sqlite_file.h"
#include "support/temporary_folder.h"

namespace pantry::exchange {
namespace {

using test::TemporaryFolder;

std::shared_ptr<ExportFile> fileAt(const std::filesystem::path& path) {
    return std::make_shared<ExportFile>(path, std::make_unique<CsvWriter>(CsvOptions{.lineEnd = "\n"}));
}

long filesIn(const TemporaryFolder& folder) {
    return std::distance(std::filesystem::directory_iterator(folder.path()), {});
}

TEST(ExportTest, StreamsFromTheServerToTheFile) {
    const TemporaryFolder folder;
    const auto file = fileAt(folder / "out.csv");
    db::Session session(test::profileOf(":memory:"), std::nullopt);
    auto run = std::make_shared<test::RunRecorder>();
    session.execute({.statement = test::rowsQuery(100'000),
                     .pageRows = std::nullopt,
                     .consumer = std::make_shared<ExportConsumer>(file)},
                    run);
    run->waitForEnd();
    ASSERT_FALSE(run->error());
    ASSERT_TRUE(file->finish());

    const std::string content = test::contentOf(folder / "out.csv");
    EXPECT_EQ(std::count(content.begin(), content.end(), '\n'), 100'001);
    EXPECT_TRUE(content.starts_with("n,t\n1,row 1\n"));
    EXPECT_TRUE(content.ends_with("\n100000,row 100000\n"));
    EXPECT_EQ(file->byteCount(), content.size());
}

TEST(ExportTest, AnExportThatDidNotFinishLeavesNothing) {
    const TemporaryFolder folder;
    test::writeFile(folder / "out.csv", "the old one");
    {
        const auto file = fileAt(folder / "out.csv");
        ASSERT_TRUE(file->begin({{"a", ""}}));
    }
    EXPECT_EQ(filesIn(folder), 1);
    EXPECT_EQ(test::contentOf(folder / "out.csv"), "the old one");
}

TEST(ExportTest, WritesAViewInItsOrder) {
    const TemporaryFolder folder;
    auto result = std::make_shared<data::ResultSet>(std::vector<data::Column>{{"a", "", data::ColumnType::Integer}});
    data::ChunkBuilder builder(1);
    for (const int i : {3, 1, 2}) {
        builder.addInteger(i);
        builder.endRow();
    }
    result->append(builder.take());
    const auto view = data::ResultView::make(result, {.order = {{0, false}}}, {});
    const auto file = fileAt(folder / "out.csv");
    std::size_t reported = 0;

    ASSERT_TRUE(exportView(*view, *file, {}, [&](std::size_t rows) { reported = rows; }));

    EXPECT_EQ(test::contentOf(folder / "out.csv"), "a\n1\n2\n3\n");
    EXPECT_EQ(reported, 3U);
}

TEST(ExportTest, StopsWhenAsked) {
    const TemporaryFolder folder;
    const base::Cancellation cancellation;
    cancellation.request();
    auto result = std::make_shared<data::ResultSet>(std::vector<data::Column>{{"a", ""}});
    data::ChunkBuilder builder(1);
    builder.addInteger(1);
    builder.endRow();
    result->append(builder.take());
    {
        const auto file = fileAt(folder / "out.csv");
        const Status status = exportView(data::ResultView(result), *file, cancellation, [](std::size_t) {});
        EXPECT_EQ(status.error().kind, ErrorKind::Cancelled);
    }
    EXPECT_EQ(filesIn(folder), 0);
}

TEST(ExportTest, SaysWhenTheFolderIsMissing) {
    const auto file = fileAt("/no/such/folder/out.csv");
    const Status status = file->begin({});
    ASSERT_FALSE(status);
    EXPECT_THAT(status.error().message, testing::HasSubstr("/no/such/folder/out.csv"));
}

}  // namespace
}  // namespace pantry::exchange
