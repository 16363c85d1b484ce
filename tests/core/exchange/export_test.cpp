#include "core/exchange/row_export.h"

#include <signal.h>
#include <sys/resource.h>
#include <zlib.h>
#include <zstd.h>

#include <algorithm>
#include <array>

#include "support/run_recorder.h"
#include "support/sqlite_file.h"
#include "support/temporary_folder.h"

namespace pantry::exchange {
namespace {

using test::TemporaryFolder;

std::shared_ptr<RowExport> fileAt(const std::filesystem::path& path, ExportChoices choices = {}) {
    choices.forms.csv.lineEnd = "\n";
    return std::make_shared<RowExport>(std::move(choices), std::make_unique<FileTarget>(path));
}

/// n and “row n”, as a result of many chunks.
data::ResultSetPtr numbered(std::size_t rows) {
    auto result = std::make_shared<data::ResultSet>(
        std::vector<data::Column>{{"n", "", data::ColumnType::Integer}, {"t", "", data::ColumnType::Text}});
    data::ChunkBuilder builder(2);
    for (std::size_t i = 1; i <= rows; ++i) {
        builder.addInteger(static_cast<std::int64_t>(i));
        builder.addText("row " + std::to_string(i));
        builder.endRow();
        if (builder.rowCount() == 1000 || i == rows) result->append(builder.take());
    }
    return result;
}

const auto kUnheard = [](std::size_t) {};

/// A compressed file as gzip's and Zstandard's own libraries read it.
std::string unpacked(const std::filesystem::path& path, Compression compression) {
    const std::string packed = test::contentOf(path);
    std::string text;
    if (compression == Compression::None) return packed;
    if (compression == Compression::Gzip) {
        gzFile file = gzopen(path.c_str(), "rb");
        std::array<char, 65536> piece;
        for (int count = 0; (count = gzread(file, piece.data(), piece.size())) > 0;) {
            text.append(piece.data(), static_cast<std::size_t>(count));
        }
        EXPECT_EQ(gzclose_r(file), Z_OK) << "the stream has its end";
        return text;
    }
    ZSTD_DCtx* context = ZSTD_createDCtx();
    ZSTD_inBuffer in{.src = packed.data(), .size = packed.size(), .pos = 0};
    std::array<char, 65536> piece;
    std::size_t left = 1;
    while (in.pos < in.size && ZSTD_isError(left) == 0) {
        ZSTD_outBuffer room{.dst = piece.data(), .size = piece.size(), .pos = 0};
        left = ZSTD_decompressStream(context, &room, &in);
        text.append(piece.data(), room.pos);
    }
    EXPECT_EQ(left, 0U) << "the stream has its end";
    ZSTD_freeDCtx(context);
    return text;
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

TEST(ExportTest, AnExportThatWroteNothingLeavesNothing) {
    const TemporaryFolder folder;
    test::writeFile(folder / "out.csv", "the old one");
    {
        const auto file = fileAt(folder / "out.csv");
        ASSERT_TRUE(file->begin({{"a", ""}}));
    }
    EXPECT_EQ(filesIn(folder), 1);
    EXPECT_EQ(test::contentOf(folder / "out.csv"), "the old one");
}

TEST(ExportTest, WhatWasStoppedStaysAsAPartWithWholeRows) {
    for (const Compression compression : {Compression::None, Compression::Gzip, Compression::Zstd}) {
        const TemporaryFolder folder;
        const auto file = fileAt(folder / "out.csv", {.compression = compression});
        const base::Cancellation cancellation;
        const auto result = numbered(50'000);
        const Status status = exportView(data::ResultView(result), nullptr, *file, cancellation, [&](std::size_t rows) {
            if (rows >= 20'000) cancellation.request();
        });
        ASSERT_FALSE(status);
        EXPECT_EQ(status.error().kind, ErrorKind::Cancelled);
        EXPECT_EQ(file->abandon(), (folder / "out.csv.part").string());
        const std::size_t rows = file->keptRowCount();
        EXPECT_EQ(rows, file->rowCount());
        EXPECT_FALSE(std::filesystem::exists(folder / "out.csv"));
        const std::string text = unpacked(folder / "out.csv.part", compression);
        EXPECT_EQ(static_cast<std::size_t>(std::ranges::count(text, '\n')), rows + 1);
        EXPECT_TRUE(text.ends_with("row " + std::to_string(rows) + "\n"));
    }
}

TEST(ExportTest, CompressedFilesAreReadBackByOthers) {
    for (const Compression compression : {Compression::Gzip, Compression::Zstd}) {
        const TemporaryFolder folder;
        const auto file = fileAt(folder / "out.csv", {.compression = compression});
        ASSERT_TRUE(exportView(data::ResultView(numbered(50'000)), nullptr, *file, {}, kUnheard));
        const std::string text = unpacked(folder / "out.csv", compression);
        EXPECT_EQ(std::ranges::count(text, '\n'), 50'001);
        EXPECT_LT(file->byteCount(), text.size() / 2);
        EXPECT_EQ(file->byteCount(), std::filesystem::file_size(folder / "out.csv"));
    }
}

TEST(ExportTest, AFullDiskIsToldAndWhatCameIsAPart) {
    const TemporaryFolder folder;
    std::filesystem::create_symlink("/dev/full", folder / "out.csv");  // a disk that is always full
    const auto file = fileAt(folder / "out.csv");
    const Status status = exportView(data::ResultView(numbered(50'000)), nullptr, *file, {}, kUnheard);
    ASSERT_FALSE(status);
    EXPECT_THAT(status.error().text(), testing::HasSubstr("out.csv"));
    EXPECT_THAT(status.error().text(), testing::HasSubstr("the disk is full"));
    EXPECT_EQ(file->abandon(), "");
    EXPECT_TRUE(std::filesystem::is_symlink(folder / "out.csv")) << "the link stays";
}

/// No file of this process grows beyond that, as on a disk that is nearly full.
class FileSizeLimit {
public:
    explicit FileSizeLimit(rlim_t bytes) : handler_(::signal(SIGXFSZ, SIG_IGN)) {
        ::getrlimit(RLIMIT_FSIZE, &before_);
        const rlimit limit{.rlim_cur = bytes, .rlim_max = before_.rlim_max};
        ::setrlimit(RLIMIT_FSIZE, &limit);
    }
    ~FileSizeLimit() {
        ::setrlimit(RLIMIT_FSIZE, &before_);
        ::signal(SIGXFSZ, handler_);
    }
    FileSizeLimit(const FileSizeLimit&) = delete;
    FileSizeLimit& operator=(const FileSizeLimit&) = delete;

private:
    rlimit before_{};
    void (*handler_)(int);
};

TEST(ExportTest, WhenOnlyAPieceFitsThePartEndsAtAWholeRow) {
    const TemporaryFolder folder;
    const auto file = fileAt(folder / "out.csv");
    Status status;
    {
        const FileSizeLimit limit(1'000'000);
        status = exportView(data::ResultView(numbered(500'000)), nullptr, *file, {}, kUnheard);
    }
    EXPECT_FALSE(status);
    const std::string text = test::contentOf(file->abandon());
    EXPECT_GT(file->keptRowCount(), 1000U);
    EXPECT_EQ(static_cast<std::size_t>(std::ranges::count(text, '\n')), file->keptRowCount() + 1);
    EXPECT_TRUE(text.ends_with("row " + std::to_string(file->keptRowCount()) + "\n"));
}

TEST(ExportTest, TwoExportsDoNotWriteOneFile) {
    const TemporaryFolder folder;
    const auto first = fileAt(folder / "out.csv");
    const auto second = fileAt(folder / "out.csv");
    ASSERT_TRUE(first->begin({{"a", ""}}));
    const Status status = second->begin({{"a", ""}});
    ASSERT_FALSE(status);
    EXPECT_EQ(status.error().kind, ErrorKind::Busy);
    ASSERT_TRUE(first->finish());
    EXPECT_EQ(test::contentOf(folder / "out.csv"), "a\n");
}

TEST(ExportTest, TakesTheChosenColumnsInTheirOrder) {
    const TemporaryFolder folder;
    const auto byNumber = fileAt(folder / "out.csv", {.columns = {1, 0, 1}, .mostRows = 2});
    ASSERT_TRUE(exportView(data::ResultView(numbered(5000)), nullptr, *byNumber, {}, kUnheard));
    EXPECT_EQ(test::contentOf(folder / "out.csv"), "t,n,t\nrow 1,1,row 1\nrow 2,2,row 2\n");

    const auto byName = fileAt(folder / "named.csv", {.columnNames = {"t"}, .mostRows = 1});
    ASSERT_TRUE(exportView(data::ResultView(numbered(5000)), nullptr, *byName, {}, kUnheard));
    EXPECT_EQ(test::contentOf(folder / "named.csv"), "t\nrow 1\n");

    const auto unknown = fileAt(folder / "none.csv", {.columnNames = {"jars"}});
    const Status status = exportView(data::ResultView(numbered(5)), nullptr, *unknown, {}, kUnheard);
    ASSERT_FALSE(status);
    EXPECT_THAT(status.error().text(), testing::HasSubstr("No column is called “jars”. There are n, t."));
}

TEST(ExportTest, TakesTheChosenRows) {
    const TemporaryFolder folder;
    const std::vector<std::size_t> positions{3, 1};
    const auto file = fileAt(folder / "out.csv");
    ASSERT_TRUE(exportView(data::ResultView(numbered(10)), &positions, *file, {}, kUnheard));
    EXPECT_EQ(test::contentOf(folder / "out.csv"), "n,t\n4,row 4\n2,row 2\n");
}

TEST(ExportTest, OtherEncodingsHaveTheirMarkOnceAndTellWhatIsLost) {
    const TemporaryFolder folder;
    auto result = std::make_shared<data::ResultSet>(std::vector<data::Column>{{"t", "", data::ColumnType::Text}});
    data::ChunkBuilder builder(1);
    for (int i = 0; i < 60'000; ++i) {
        builder.addText("Äpfel 🍏");
        builder.endRow();
    }
    result->append(builder.take());
    const auto wide = fileAt(folder / "wide.csv", {.encoding = Encoding::Utf16LittleEndian});
    ASSERT_TRUE(exportView(data::ResultView(result), nullptr, *wide, {}, kUnheard));
    EXPECT_EQ(test::contentOf(folder / "wide.csv").find("\xFF\xFE", 2), std::string::npos);
    EXPECT_EQ(wide->remark(), "");
    const auto latin = fileAt(folder / "latin.csv", {.encoding = Encoding::Latin1});
    ASSERT_TRUE(exportView(data::ResultView(result), nullptr, *latin, {}, kUnheard));
    EXPECT_TRUE(test::contentOf(folder / "latin.csv").starts_with("t\n\xC4pfel ?\n"));
    EXPECT_EQ(latin->remark(), "60\u2009000 characters are not in Latin-1 and became “?”: 🍏 and others.");
}

TEST(ExportTest, ATextForTheClipboardHasALimit) {
    auto target = std::make_unique<TextTarget>(1000);
    RowExport out({}, std::move(target));
    const Status status = exportView(data::ResultView(numbered(5000)), nullptr, out, {}, kUnheard);
    ASSERT_FALSE(status);
    EXPECT_THAT(status.error().text(), testing::HasSubstr("Export to a file"));
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

    ASSERT_TRUE(exportView(*view, nullptr, *file, {}, [&](std::size_t rows) { reported = rows; }));

    EXPECT_EQ(test::contentOf(folder / "out.csv"), "a\n1\n2\n3\n");
    EXPECT_EQ(reported, 3U);
}

TEST(ExportTest, SaysWhenTheFolderIsMissing) {
    const auto file = fileAt("/no/such/folder/out.csv");
    const Status status = file->begin({});
    ASSERT_FALSE(status);
    EXPECT_THAT(status.error().message, testing::HasSubstr("/no/such/folder/out.csv"));
}

}  // namespace
}  // namespace pantry::exchange
