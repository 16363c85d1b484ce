#include <rapidcheck.h>

#include "core/exchange/clipboard_text.h"
#include "core/exchange/encoding.h"
#include "core/exchange/json_text.h"
#include "core/exchange/table_text.h"
#include "core/exchange/writers/csv_writer.h"
#include "support/rows.h"

namespace pantry::exchange {
namespace {

std::shared_ptr<data::ResultSet> sample() {
    auto result =
        std::make_shared<data::ResultSet>(std::vector<data::Column>{{"id", "integer", data::ColumnType::Integer},
                                                                    {"remark", "text", data::ColumnType::Text},
                                                                    {"label", "blob", data::ColumnType::Binary}});
    data::ChunkBuilder builder(3);
    builder.addInteger(1);
    builder.addText("he said \"no\",\nthen left");
    builder.addBinary(std::string_view("\x00\xFF", 2));
    builder.endRow();
    builder.addNull();
    builder.addText("");
    builder.addNull();
    builder.endRow();
    result->append(builder.take());
    return result;
}

std::string written(RowWriter& writer, const data::ResultSet& result) {
    std::string out;
    writer.begin(result.columns(), out);
    for (std::size_t i = 0; i < result.rowCount(); ++i) writer.row(test::rowOf(result.chunk(0), i), out);
    writer.end(out);
    return out;
}

std::string csv(CsvOptions options) {
    CsvWriter writer(std::move(options));
    return written(writer, *sample());
}

TEST(CsvWriterTest, FollowsRfc4180) {
    EXPECT_EQ(csv({}), "id,remark,label\r\n1,\"he said \"\"no\"\",\nthen left\",\\x00ff\r\n,\"\",\r\n");
}

TEST(CsvWriterTest, TellsNullFromTheEmptyText) {
    EXPECT_EQ(csv({.hasHeadings = false, .nullText = "NULL", .lineEnd = "\n"}),
              "1,\"he said \"\"no\"\",\nthen left\",\\x00ff\nNULL,\"\",NULL\n");
}

TEST(CsvWriterTest, TakesOtherDelimitersAndQuotesWhatHoldsThem) {
    auto result = std::make_shared<data::ResultSet>(std::vector<data::Column>{{"a;b", ""}});
    data::ChunkBuilder builder(1);
    builder.addText("x,y");
    builder.endRow();
    result->append(builder.take());
    CsvWriter writer({.delimiter = ";", .lineEnd = "\n"});
    EXPECT_EQ(written(writer, *result), "\"a;b\"\nx,y\n");
}

TEST(CsvWriterTest, QuotesAsChosen) {
    EXPECT_EQ(csv({.hasHeadings = false, .quoting = Quoting::Texts, .lineEnd = "\n"}),
              "1,\"he said \"\"no\"\",\nthen left\",\\x00ff\n,\"\",\n");
    EXPECT_EQ(csv({.hasHeadings = false, .quoting = Quoting::Everything, .lineEnd = "\n"}),
              "\"1\",\"he said \"\"no\"\",\nthen left\",\"\\x00ff\"\n,\"\",\n");
    EXPECT_EQ(csv({.hasHeadings = false, .escape = '\\', .lineEnd = "\n"}),
              "1,\"he said \\\"no\\\",\nthen left\",\"\\\\x00ff\"\n,\"\",\n");
    EXPECT_EQ(csv({.hasHeadings = false, .quote = '\'', .escape = '\'', .lineEnd = "\n"}),
              "1,'he said \"no\",\nthen left',\\x00ff\n,'',\n");
}

/// Values of every kind, and such that must be quoted, in columns of one kind and in mixed ones.
data::ChunkPtr manyRows(std::size_t rows) {
    data::ChunkBuilder builder(6);
    const char* texts[] = {"plain", "", " blank", "com,ma", "quo\"te", "line\nend", "NULL", "semi;colon"};
    for (std::size_t i = 0; i < rows; ++i) {
        builder.addInteger(static_cast<std::int64_t>(i * 7919) - 5);
        builder.addReal(static_cast<double>(i) / 7);
        builder.addText(texts[i % 8]);
        builder.addBinary(std::string(i % 5, static_cast<char>(i)));
        i % 3 == 0 ? builder.addNull() : builder.addText("apple");
        i % 2 == 0 ? builder.addInteger(-1) : builder.addText(texts[i % 7]);
        builder.endRow();
    }
    return builder.take();
}

TEST(CsvWriterTest, ManyRowsAtOnceAreTheSameAsOneByOne) {
    const auto chunk = manyRows(1000);
    const std::vector<std::size_t> columns{5, 0, 1, 2, 3, 4, 2};
    for (const char* delimiter : {",", ";", "\t", "::", ".", "x"}) {
        for (const auto quoting : {Quoting::WhereNeeded, Quoting::Texts, Quoting::Everything}) {
            for (const char* nullText : {"", "NULL", "a rather long word for nothing at all, with a comma"}) {
                const CsvOptions options{.delimiter = delimiter, .nullText = nullText, .quoting = quoting};
                CsvWriter together(options);
                CsvWriter single(options);
                std::string all;
                std::string each;
                together.rows(*chunk, 999, columns, all);
                for (std::size_t i = 0; i < 999; ++i) single.row(ChunkRow(*chunk, columns, i), each);
                ASSERT_TRUE(all == each) << delimiter << nullText;
            }
        }
    }
}

TEST(EncoderTest, WritesOtherEncodingsAndTellsWhatIsLost) {
    const auto encoded = [](Encoder encoder) {
        std::string out;
        encoder.encode("é→", out);
        encoder.encode("🍎→\n", out);
        return out;
    };
    EXPECT_EQ(encoded(Encoder(Encoding::Latin1)), "\xE9???\n");
    EXPECT_EQ(encoded(Encoder(Encoding::Utf16LittleEndian)),
              std::string("\xFF\xFE\xE9\0\x92\x21\x3C\xD8\x4E\xDF\x92\x21\n\0", 14));
    EXPECT_EQ(encoded(Encoder(Encoding::Utf8WithMark)), "\xEF\xBB\xBFé→🍎→\n");
    Encoder latin(Encoding::Latin1);
    std::string out;
    latin.encode("é→🍎→", out);
    EXPECT_EQ(latin.lostCharacters(), 3U);
    EXPECT_EQ(latin.lostExamples(), "→🍎");
}

/// Reads one record as RFC 4180 says, to see whether what was written comes back.
std::vector<std::string> readRecord(const std::string& text) {
    std::vector<std::string> fields(1);
    bool isQuoted = false;
    for (std::size_t i = 0; i < text.size(); ++i) {
        if (isQuoted && text[i] == '"' && i + 1 < text.size() && text[i + 1] == '"') {
            fields.back() += '"';
            ++i;
        } else if (text[i] == '"') {
            isQuoted = !isQuoted;
        } else if (!isQuoted && text[i] == ',') {
            fields.emplace_back();
        } else if (!isQuoted && text.substr(i) == "\r\n") {
            break;
        } else {
            fields.back() += text[i];
        }
    }
    return fields;
}

TEST(CsvWriterTest, AnyTextComesBack) {
    EXPECT_TRUE(rc::check("round trip", [] {
        const auto texts = *rc::gen::nonEmpty(rc::gen::container<std::vector<std::string>>(
            rc::gen::container<std::string>(rc::gen::element('a', ',', '"', '\n', '\r', ' ', ';', '\t', 'z'))));
        data::ChunkBuilder builder(texts.size());
        for (const std::string& text : texts) builder.addText(text);
        builder.endRow();
        const auto chunk = builder.take();
        CsvWriter writer({.hasHeadings = false});
        std::string out;
        writer.row(test::rowOf(*chunk, 0), out);
        RC_ASSERT(readRecord(out) == texts);
    }));
}

TEST(JsonWriterTest, WritesAnArrayOfObjects) {
    JsonWriter writer;
    EXPECT_EQ(written(writer, *sample()),
              "[\n{\"id\": 1, \"remark\": \"he said \\\"no\\\",\\nthen left\", \"label\": \"\\\\x00ff\"},\n"
              "{\"id\": null, \"remark\": \"\", \"label\": null}\n]\n");
    EXPECT_EQ(jsonString("\x01\xFF"), "\"\\u0001\uFFFD\"");
    EXPECT_EQ(textOfJsonString(jsonString("a \"b\"\n\\ \xF0\x9F\x8D\x8E")), "a \"b\"\n\\ \xF0\x9F\x8D\x8E");
    EXPECT_EQ(textOfJsonString("1"), "") << "no string";
}

TEST(JsonWriterTest, ColumnsOfOneNameStayApart) {
    data::ResultSet result({{"a", ""}, {"a", ""}});
    data::ChunkBuilder builder(2);
    builder.addInteger(1);
    builder.addInteger(2);
    builder.endRow();
    result.append(builder.take());
    JsonWriter writer;
    EXPECT_EQ(written(writer, result), "[\n{\"a\": 1, \"a_2\": 2}\n]\n");
}

TEST(TableTextTest, AlignsColumnsAndShowsNulls) {
    EXPECT_EQ(tableText(*sample(), 10),
              "  id  remark                   label\n"
              "────  ───────────────────────  ───────────────\n"
              "   1  he said \"no\",⏎then left  binary, 2 bytes\n"
              "null                           null\n");
}

TEST(ClipboardTextTest, CopiesExactlyWhatIsSelected) {
    const data::ResultView view(sample());
    EXPECT_EQ(clipboardText(view, {{0}, {1}}, false), "he said \"no\",\nthen left");
    EXPECT_EQ(clipboardText(view, {{0, 1}, {0, 1}}, true), "id\tremark\n1\t\"he said \"\"no\"\",\nthen left\"\n\t\"\"");
    EXPECT_EQ(clipboardText(view, {{0}, {0, 2}}, false), "1\t\\x00ff");
}

TEST(ClipboardTextTest, LeavesOutWhatLiesBetweenSelectedBlocks) {
    const data::ResultView view(sample());
    const CellRange corners = rangeOf({{0, 0, 0, 0}, {1, 1, 1, 1}}, {0, 1, 2});
    EXPECT_EQ(corners.cellCount(), 2U);
    EXPECT_EQ(clipboardText(view, corners, false), "1\t\n\t\"\"");
    const CellRange columns = rangeOf({{0, 1, 0, 0}, {0, 1, 2, 2}}, {2, 1, 0});
    EXPECT_EQ(columns.columns, (std::vector<std::size_t>{2, 0}));
    EXPECT_TRUE(columns.blocks.empty()) << "nothing is left out of it";
    const CellRange rows = rangeOf({{5, 6, 0, 2}, {1, 1, 0, 2}, {6, 7, 0, 2}}, {0, 1, 2});
    EXPECT_EQ(rows.rows, (std::vector<std::size_t>{1, 5, 6, 7}));
    EXPECT_EQ(rows.cellCount(), 12U);
    EXPECT_TRUE(rangeOf({}, {0, 1}).rows.empty());
}

TEST(JsonTextTest, IndentingChangesNoNumberNoOrderAndNoText) {
    EXPECT_EQ(
        indentedJson(R"({"b":1.10,"a":[ ],"t":"x, {y} \"z\"","n":[1,{"c":null}]})"),
        "{\n  \"b\": 1.10,\n  \"a\": [],\n  \"t\": \"x, {y} \\\"z\\\"\",\n  \"n\": [\n    1,\n    {\n      \"c\": "
        "null\n    }\n  ]\n}");
}

}  // namespace
}  // namespace pantry::exchange
