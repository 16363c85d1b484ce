// Every form of rows, read back by somebody else.
#include "core/exchange/formats.h"
#include "core/exchange/row_export.h"

#include <fmt/format.h>
#include <gmock/gmock.h>
#include <sqlite3.h>

#include <fstream>
#include <nlohmann/json.hpp>

#include "core/data/view/result_view.h"
#include "core/exchange/json_text.h"
#include "core/exchange/view_row.h"
#include "core/exchange/writers/insert_writer.h"
#include "core/exchange/writers/workbook_writer.h"
#include "core/sql/write/literals.h"
#include "support/temporary_folder.h"

namespace pantry::exchange {
namespace {

using testing::HasSubstr;

const std::vector<data::Column> kColumns{{"id", "integer", data::ColumnType::Integer},
                                         {"paid", "numeric", data::ColumnType::Decimal},
                                         {"words", "text", data::ColumnType::Text},
                                         {"facts", "json", data::ColumnType::Json},
                                         {"bytes", "blob", data::ColumnType::Binary}};

/// Awkward values of every type.
data::ResultSetPtr awkward() {
    auto result = std::make_shared<data::ResultSet>(kColumns);
    data::ChunkBuilder builder(kColumns.size());
    const auto add = [&](std::int64_t id, const char* paid, std::string_view words, const char* facts) {
        builder.addInteger(id);
        builder.addText(paid);
        builder.addText(words);
        builder.addText(facts);
        builder.addBinary(std::string_view("\0\xff\n'", 4));
        builder.endRow();
    };
    add(INT64_MAX, "12345678901234567890.10", "a,b;\t\"c\" 'd' \\e | <f> & g\r\nh", R"({"b": [1.10, null], "a": "x"})");
    add(-1, "NaN", "", "not json");
    add(0, "0.50", "🍏 Äpfel -- ]]> ${x}", "[]");
    for (std::size_t i = 0; i < kColumns.size(); ++i) builder.addNull();
    builder.endRow();
    result->append(builder.take());
    return result;
}

std::string written(Format format, const FormatChoices& choices = {}) {
    const data::ResultView view(awkward());
    const std::vector<std::size_t> columns{0, 1, 2, 3, 4};
    const auto writer = makeWriter(format, choices);
    std::string out;
    writer->begin(kColumns, out);
    for (std::size_t i = 0; i < view.rowCount(); ++i) writer->row(ViewRow(view, columns, i), out);
    writer->end(out);
    return out;
}

TEST(FormatsTest, JsonIsReadBackWithItsNumbersAndNestedValues) {
    for (const bool isIndented : {false, true}) {
        const std::string text = written(Format::Json, {.isJsonIndented = isIndented});
        const auto json = nlohmann::json::parse(text);
        ASSERT_EQ(json.size(), 4U);
        EXPECT_EQ(json[0]["id"], INT64_MAX);
        EXPECT_THAT(text, HasSubstr("\"paid\": 12345678901234567890.10")) << "every digit is there";
        EXPECT_EQ(json[0]["words"], "a,b;\t\"c\" 'd' \\e | <f> & g\r\nh");
        EXPECT_EQ(json[0]["facts"]["b"][0], 1.10);
        EXPECT_EQ(json[0]["bytes"], "\\x00ff0a27");
        EXPECT_EQ(json[1]["paid"], "NaN");
        EXPECT_EQ(json[1]["facts"], "not json");
        EXPECT_EQ(json[2]["words"], "🍏 Äpfel -- ]]> ${x}");
        EXPECT_TRUE(json[3]["id"].is_null());
    }
}

TEST(FormatsTest, JsonLinesHaveAnObjectALine) {
    const std::string text = written(Format::JsonLines);
    EXPECT_EQ(std::ranges::count(text, '\n'), 4);
    std::size_t start = 0;
    for (int i = 0; i < 4; ++i) {
        const std::size_t end = text.find('\n', start);
        EXPECT_TRUE(nlohmann::json::accept(text.substr(start, end - start)));
        start = end + 1;
    }
}

/// Runs a little Python over a file and gives back what it prints.
std::string python(const std::string& program, const std::string& content) {
    const test::TemporaryFolder folder;
    std::ofstream(folder / "in", std::ios::binary) << content;
    std::ofstream(folder / "read.py") << program;
    const std::string command = fmt::format("cd {} && /usr/bin/python3 read.py in > out 2>&1", folder.path().string());
    EXPECT_EQ(std::system(command.c_str()), 0) << test::contentOf(folder / "out");
    return test::contentOf(folder / "out");
}

TEST(FormatsTest, DelimitedTextIsReadBackByAnotherParser) {
    const char* program =
        "import csv, sys\n"
        "rows = list(csv.reader(open(sys.argv[1], newline='', encoding='utf-8'), delimiter=DELIMITER))\n"
        "print(len(rows), ascii(rows[1]), ascii(rows[4]))\n";
    for (const auto& [format, delimiter] : {std::pair(Format::Csv, "','"), std::pair(Format::Tsv, "'\\t'")}) {
        std::string text = program;
        text.replace(text.find("DELIMITER"), 9, delimiter);
        const std::string read = python(text, written(format));
        EXPECT_THAT(read, HasSubstr("5 ['9223372036854775807', '12345678901234567890.10', "
                                    "'a,b;\\t\"c\" \\'d\\' \\\\e | <f> & g\\r\\nh'"));
        EXPECT_THAT(read, HasSubstr("['', '', '', '', '']"));
    }
}

TEST(FormatsTest, XmlIsReadBackByAnotherParser) {
    const std::string read = python(
        "import sys, xml.etree.ElementTree as E\n"
        "rows = E.parse(sys.argv[1]).getroot().findall('row')\n"
        "v = [x for x in rows[0]]\n"
        "print(len(rows), v[2].get('column'), ascii(v[2].text), v[4].get('encoding'), v[4].text, "
        "rows[3][0].get('null'))\n",
        written(Format::Xml));
    EXPECT_EQ(read, "4 words 'a,b;\\t\"c\" \\'d\\' \\\\e | <f> & g\\r\\nh' hex 00ff0a27 true\n");
}

TEST(FormatsTest, HtmlIsReadBackByAnotherParser) {
    const std::string read = python(
        "import sys\nfrom html.parser import HTMLParser\n"
        "class P(HTMLParser):\n"
        "    cells, tag = [], ''\n"
        "    def handle_starttag(self, tag, attrs):\n"
        "        if tag == 'td': self.cells.append('')\n"
        "        self.tag = tag\n"
        "    def handle_data(self, data):\n"
        "        if self.tag == 'td' and self.cells: self.cells[-1] += data\n"
        "    def handle_endtag(self, tag): self.tag = ''\n"
        "p = P(); p.feed(open(sys.argv[1], newline='', encoding='utf-8').read())\n"
        "print(len(p.cells), ascii(p.cells[2]), p.cells[15])\n",
        written(Format::Html));
    EXPECT_EQ(read, "20 'a,b;\\t\"c\" \\'d\\' \\\\e | <f> & g\\r\\nh' null\n");
}

TEST(FormatsTest, MarkdownKeepsARowOnALineAndBarsInTheirCells) {
    const std::string text = written(Format::Markdown);
    EXPECT_EQ(std::ranges::count(text, '\n'), 6);
    EXPECT_THAT(text, HasSubstr("| id | paid | words | facts | bytes |\n| ---: | ---: | --- | --- | --- |\n"));
    EXPECT_THAT(text, HasSubstr("\\\\e \\| &lt;f>"));
    EXPECT_THAT(text, HasSubstr("| *null* |"));
}

TEST(FormatsTest, InsertsMakeTheSameRowsAgain) {
    FormatChoices choices;
    choices.insert = {.dialect = sql::Dialect::Sqlite, .table = "old plot", .batchRows = 3, .hasCreateTable = true};
    const std::string script = written(Format::Insert, choices);
    sqlite3* db = nullptr;
    ASSERT_EQ(sqlite3_open(":memory:", &db), SQLITE_OK);
    char* problem = nullptr;
    ASSERT_EQ(sqlite3_exec(db, script.c_str(), nullptr, nullptr, &problem), SQLITE_OK) << problem << script;
    sqlite3_stmt* statement = nullptr;
    sqlite3_prepare_v2(db, "SELECT id, words, facts, bytes FROM \"old plot\"", -1, &statement, nullptr);
    const data::ResultSetPtr expected = awkward();
    for (std::size_t row = 0; row < expected->rowCount(); ++row) {
        ASSERT_EQ(sqlite3_step(statement), SQLITE_ROW);
        const int from[] = {0, 2, 3, 4};
        for (int i = 0; i < 4; ++i) {
            const data::Cell cell = expected->cell(row, static_cast<std::size_t>(from[i]));
            const auto* bytes = static_cast<const char*>(sqlite3_column_blob(statement, i));
            const std::string there(bytes == nullptr ? "" : bytes,
                                    static_cast<std::size_t>(sqlite3_column_bytes(statement, i)));
            EXPECT_EQ(sqlite3_column_type(statement, i) == SQLITE_NULL, cell.isNull());
            EXPECT_EQ(there, data::toText(cell)) << row << " " << i;
        }
    }
    EXPECT_EQ(sqlite3_step(statement), SQLITE_DONE);
    sqlite3_finalize(statement);
    sqlite3_close(db);
}

TEST(FormatsTest, RecordsShowNamesAndValues) {
    const std::string text = written(Format::Record);
    EXPECT_THAT(text, HasSubstr("── row 2 ──\nid     -1\npaid   NaN\n"));
    EXPECT_THAT(text, HasSubstr("words  null"));
}

TEST(FormatsTest, AlignedTextStandsInColumnsAndCutsNothing) {
    const std::string text = written(Format::Aligned);
    EXPECT_TRUE(text.starts_with("                 id                     paid  words"));
    EXPECT_THAT(text, HasSubstr("9223372036854775807  12345678901234567890.10  a,b;⇥\"c\""));
    EXPECT_EQ(std::ranges::count(text, '\n'), 6);
}

/// What a little Python, which finds the workbook as b, prints of it.
std::string readBook(WorkbookWriter& writer, const std::string& program) {
    std::string bytes;
    const Status status = writer.handOver([&](std::string_view piece) {
        bytes += piece;
        return Status();
    });
    EXPECT_TRUE(status);
    return python("import sys, openpyxl\nb = openpyxl.load_workbook(open(sys.argv[1], 'rb'))\n" + program, bytes);
}

TEST(FormatsTest, WorkbooksAreReadBackByAnotherReaderWithTheirTypes) {
    const std::vector<data::Column> columns{
        {"n", "bigint", data::ColumnType::Integer},        {"price", "numeric", data::ColumnType::Decimal},
        {"day", "date", data::ColumnType::Date},           {"moment", "timestamp", data::ColumnType::Timestamp},
        {"is_ripe", "boolean", data::ColumnType::Boolean}, {"remark", "text", data::ColumnType::Text},
        {"label", "bytea", data::ColumnType::Binary}};
    data::ChunkBuilder builder(columns.size());
    const auto add = [&](std::int64_t n, const char* price, const char* day, const char* moment, const char* isRipe,
                         std::string_view remark) {
        builder.addInteger(n);
        for (const std::string_view text : {std::string_view(price), std::string_view(day), std::string_view(moment),
                                            std::string_view(isRipe), remark}) {
            builder.addText(text);
        }
        builder.addBinary("\x01\xff");
        builder.endRow();
    };
    add(42, "12.50", "2026-11-17", "2026-11-17 08:30:15", "t", "=1+1 & <b> \"x\" _x0041_");
    add(INT64_MAX, "1234567890123456.7", "infinity", "2026-11-17 08:30:15+02", "f", "🍏\tline\nend");
    add(-7, "NaN", "1850-01-01", "2026-11-17 08:30:15.123456", "f", "007");
    for (std::size_t i = 0; i < columns.size(); ++i) builder.addNull();
    builder.endRow();
    const auto chunk = builder.take();
    WorkbookWriter writer("Plots [old]");
    std::string out;
    writer.begin(columns, out);
    writer.rows(*chunk, chunk->rowCount(), std::vector<std::size_t>{0, 1, 2, 3, 4, 5, 6}, out);
    writer.end(out);
    ASSERT_TRUE(writer.status());
    EXPECT_EQ(writer.remark(),
              "One number was rounded to what a workbook keeps. One whole number is too large to be exact there and "
              "written as text. One time was written without the zone, which workbooks do not have.");

    const std::string cells = readBook(
        writer,
        "s = b.worksheets[0]\n"
        "print(s.title, s.freeze_panes, s['A1'].font.bold, s.max_row)\n"
        "for row in s.iter_rows(min_row=1):\n"
        "    print(' | '.join(c.data_type + ' ' + ascii(c.value) + ('' if c.number_format == 'General' else ' ' + "
        "c.number_format) for c in row))\n");
    EXPECT_EQ(
        cells,
        "Plots  old  A2 True 4\n"
        "s 'n' | s 'price' | s 'day' | s 'moment' | s 'is_ripe' | s 'remark' | s 'label'\n"
        "n 42 | n 12.5 0.00 | d datetime.datetime(2026, 11, 17, 0, 0) yyyy-mm-dd | d datetime.datetime(2026, 11, "
        "17, 8, 30, 15) yyyy-mm-dd hh:mm:ss | b True | s '=1+1 & <b> \"x\" _x005F_x0041_' | s '\\\\x01ff'\n"
        "s '9223372036854775807' | n 1234567890123457 | s 'infinity' | d datetime.datetime(2026, 11, 17, 8, 30, 15) "
        "yyyy-mm-dd hh:mm:ss | b False "
        "| s '\\U0001f34f\\tline\\nend' | s '\\\\x01ff'\n"
        "n -7 | s 'NaN' | s '1850-01-01' | d datetime.datetime(2026, 11, 17, 8, 30, 15, 123000) yyyy-mm-dd "
        "hh:mm:ss.000 | b False | s '007' | s '\\\\x01ff'\n");
}

TEST(FormatsTest, AveragesTimesAndDoublesOfAWorkbookCanBeCountedWith) {
    const std::vector<data::Column> columns{{"average", "numeric", data::ColumnType::Decimal},
                                            {"sum", "double precision", data::ColumnType::Real},
                                            {"double", "", data::ColumnType::Unknown},
                                            {"clock", "time", data::ColumnType::Time}};
    const auto written = [&](bool isInexactText) {
        data::ChunkBuilder builder(4);
        builder.addText("5.6700000000000000");
        builder.addText("0.30000000000000004");
        builder.addReal(1.7976931348623157e308);
        builder.addText("08:30:15.25");
        builder.endRow();
        builder.addText("5.6666666666666667");
        builder.addText("1e300");
        builder.addReal(0.1 + 0.2);
        builder.addText("26:00:00");
        builder.endRow();
        const auto chunk = builder.take();
        WorkbookWriter writer("rows", {.isInexactText = isInexactText});
        std::string out;
        writer.begin(columns, out);
        writer.rows(*chunk, 2, std::vector<std::size_t>{0, 1, 2, 3}, out);
        writer.end(out);
        EXPECT_EQ(writer.remark().empty(), isInexactText) << writer.remark();
        return readBook(writer,
                        "for row in b.worksheets[0].iter_rows(min_row=2): print(' | '.join(c.data_type + ' ' + "
                        "str(c.value) + ' ' + c.number_format for c in row))\n");
    };
    EXPECT_EQ(written(false),
              "n 5.67 0.0000000000000000 | n 0.3 General | n 1.797693134862315e+308 General | d 08:30:15.250000 "
              "hh:mm:ss.000\n"
              "n 5.666666666666667 General | n 1e+300 General | n 0.3 General | d 1 day, 2:00:00 [h]:mm:ss\n");
    EXPECT_EQ(written(true),
              "n 5.67 0.0000000000000000 | s 0.30000000000000004 General | s 1.7976931348623157e+308 General | d "
              "08:30:15.250000 hh:mm:ss.000\n"
              "s 5.6666666666666667 General | n 1e+300 General | s 0.30000000000000004 General | d 1 day, 2:00:00 "
              "[h]:mm:ss\n");
}

TEST(FormatsTest, WhatAFormatCannotHoldIsSolvedOrTold) {
    const std::vector<data::Column> columns{{"n", "text", data::ColumnType::Text},
                                            {"n", "boolean", data::ColumnType::Boolean}};
    const auto exported = [&](Format format) {
        data::ChunkBuilder builder(2);
        builder.addText("plain");
        builder.addText("true");
        builder.endRow();
        builder.addText(std::string("bell\x07 \xFF"));
        builder.addText("f");
        builder.endRow();
        auto result = std::make_shared<data::ResultSet>(columns);
        result->append(builder.take());
        auto target = std::make_unique<TextTarget>(10'000);
        const TextTarget* text = target.get();
        ExportChoices choices{.format = format};
        RowExport out(choices, std::move(target));
        EXPECT_TRUE(exportView(data::ResultView(result), nullptr, out, {}, [](std::size_t) {}));
        return text->text() + "# " + out.remark();
    };
    EXPECT_THAT(exported(Format::Xml), testing::HasSubstr("encoding=\"hex\" of=\"text\">62656c6c0720ff</value>"));
    EXPECT_THAT(exported(Format::Xml), testing::HasSubstr("# One text has characters that XML does not have, and is "
                                                          "written as hexadecimal digits: first in row 2, column 1."));
    EXPECT_THAT(exported(Format::Csv),
                testing::HasSubstr("not text in UTF-8 and were written as they are, the first near row 2."));
    EXPECT_THAT(exported(Format::Json), testing::HasSubstr("\"n_2\": true"));
    EXPECT_THAT(exported(Format::Json), testing::HasSubstr("\"n_2\": false"));
    EXPECT_THAT(exported(Format::Json), testing::HasSubstr("Another column called “n” is written as “n_2”."));
    EXPECT_THAT(exported(Format::Insert), testing::HasSubstr("(n, n_2)"));
}

TEST(FormatsTest, ALongValueDoesNotPadAllOthersToItsLength) {
    const std::vector<data::Column> columns{{"a", "text", data::ColumnType::Text},
                                            {"b", "text", data::ColumnType::Text}};
    data::ChunkBuilder builder(2);
    for (int i = 0; i < 100; ++i) {
        builder.addText(i == 7 ? std::string(10'000, 'x') : "short");
        builder.addText("y");
        builder.endRow();
    }
    const auto chunk = builder.take();
    const auto writer = makeWriter(Format::Aligned, {});
    std::string out;
    writer->begin(columns, out);
    writer->rows(*chunk, 100, std::vector<std::size_t>{0, 1}, out);
    writer->end(out);
    EXPECT_LT(out.size(), 25'000U);
    EXPECT_EQ(writer->remark(), "Values longer than their column push what follows to the right: a.");
}

TEST(FormatsTest, WorkbooksGoOnOnAnotherSheetAndTellWhatWasCut) {
    const std::vector<data::Column> columns{{"n", "", data::ColumnType::Integer}, {"t", "", data::ColumnType::Text}};
    data::ChunkBuilder builder(2);
    for (int i = 0; i < 25; ++i) {
        builder.addInteger(i);
        builder.addText(i == 3 ? std::string(40'000, 'x') : "x");
        builder.endRow();
    }
    const auto chunk = builder.take();
    WorkbookWriter writer("rows", {.rowsPerSheet = 11});
    std::string out;
    writer.begin(columns, out);
    writer.rows(*chunk, 25, std::vector<std::size_t>{0, 1}, out);
    writer.end(out);
    EXPECT_EQ(
        writer.remark(),
        "The rows stand on 3 worksheets. One text was longer than a cell may be and cut after 32,767 characters.");
    EXPECT_EQ(readBook(writer,
                       "for s in b.worksheets: print(s.title, s.max_row, s['A1'].value, s.cell(s.max_row, 1).value)\n"
                       "print(len(b.worksheets[0]['B5'].value))\n"),
              "rows 11 n 9\nrows 2 11 n 19\nrows 3 6 n 24\n32767\n");
}

TEST(FormatsTest, AFullTemporaryFolderIsToldByTheWorkbook) {
    const test::TemporaryFolder folder;
    const std::string before = std::getenv("TMPDIR") == nullptr ? "" : std::getenv("TMPDIR");
    ::setenv("TMPDIR", (folder / "missing").c_str(), 1);
    WorkbookWriter writer("rows");
    std::string out;
    writer.begin({{"n", ""}}, out);
    before.empty() ? ::unsetenv("TMPDIR") : ::setenv("TMPDIR", before.c_str(), 1);
    EXPECT_FALSE(writer.status());
}

/// One row with a value of each type, spelled as chosen.
std::string spelled(const ValueFormat& valueFormat, Format format = Format::Csv) {
    const std::vector<data::Column> columns{{"is_ripe", "boolean", data::ColumnType::Boolean},
                                            {"day", "date", data::ColumnType::Date},
                                            {"moment", "timestamptz", data::ColumnType::Timestamp},
                                            {"price", "numeric", data::ColumnType::Decimal},
                                            {"sugar", "real", data::ColumnType::Real},
                                            {"remark", "text", data::ColumnType::Text},
                                            {"=none", "text", data::ColumnType::Text}};
    data::ChunkBuilder builder(columns.size());
    builder.addText("t");
    builder.addText("2026-11-17");
    builder.addText("2026-11-17 08:30:15.5+02");
    builder.addText("-1234.50");
    builder.addReal(0.5);
    builder.addText("=cmd  ");
    builder.addNull();
    builder.endRow();
    const auto chunk = builder.take();
    FormatChoices choices{.valueFormat = valueFormat};
    choices.csv.lineEnd = "\n";
    choices.csv.delimiter = ";";
    const auto writer = makeWriter(format, choices);
    std::string out;
    writer->begin(columns, out);
    writer->rows(*chunk, 1, std::vector<std::size_t>{0, 1, 2, 3, 4, 5, 6}, out);
    writer->end(out);
    return out.substr(out.find('\n') + 1);
}

TEST(ValueFormatTest, ValuesAreSpelledAsChosen) {
    EXPECT_EQ(spelled({}), "t;2026-11-17;2026-11-17 08:30:15.5+02;-1234.50;0.5;\"=cmd  \";\n");
    EXPECT_EQ(spelled({.nullText = "NULL",
                       .trueText = "yes",
                       .falseText = "no",
                       .dateForm = DateForm::DayMonthYear,
                       .decimalSign = ',',
                       .trimsTrailingBlanks = true,
                       .guardsFormulas = true}),
              "yes;17.11.2026;17.11.2026 08:30:15.5+02;-1234,50;0,5;'=cmd;NULL\n");
    EXPECT_EQ(spelled({.dateForm = DateForm::MonthDayYearSlash}),
              "t;11/17/2026;11/17/2026 08:30:15.5+02;-1234.50;0.5;\"=cmd  \";\n");
    EXPECT_EQ(spelled({.nullText = "nothing", .decimalSign = ','}, Format::Record),
              "is_ripe  t\nday      2026-11-17\nmoment   2026-11-17 08:30:15.5+02\nprice    -1234,50\n"
              "sugar    0,5\nremark   =cmd  \n=none    nothing\n");
}

TEST(ValueFormatTest, GuardsTextsAndHeadingsButNoNumbers) {
    for (const char* formula : {"=1+1", "+cmd", "-x", "@sum", "\tx"}) EXPECT_TRUE(looksLikeFormula(formula));
    for (const char* plain : {"", "-1.5", "+3", "a=b", "1e5"}) EXPECT_FALSE(looksLikeFormula(plain));
    FormatChoices choices{.valueFormat = {.guardsFormulas = true}};
    std::string out;
    makeWriter(Format::Csv, choices)->begin({{"=1", ""}, {"plot", ""}}, out);
    EXPECT_EQ(out, "'=1,plot\r\n");
}

TEST(ValueFormatTest, ADayThatIsNoneStays) {
    EXPECT_EQ(respelledDay("infinity", DateForm::DayMonthYear), std::nullopt);
    EXPECT_EQ(respelledDay("0044-03-15 BC", DateForm::DayMonthYear), "15.03.0044 BC");
    EXPECT_EQ(respelledDay("2026-11", DateForm::Compact), std::nullopt);
    EXPECT_EQ(respelledDay("2026-11-17", DateForm::Compact), "20261117");
}

TEST(FormatsTest, EveryFormatHasAWord) {
    for (const std::string& word : formatWords()) EXPECT_EQ(formatWord(*formatFromWord(word)), word);
    EXPECT_FALSE(formatFromWord("papyrus"));
}

TEST(FormatsTest, BytesThatJsonCannotHoldAreTold) {
    JsonWriter writer;
    data::ResultSet result({{.name = "a"}});
    data::ChunkBuilder builder(1);
    for (const std::string_view text : {"plain", "caf\xe9", "\xEF\xBF\xBD as such"}) {
        builder.addText(text);
        builder.endRow();
    }
    result.append(builder.take());
    std::string out;
    writer.begin(result.columns(), out);
    const std::vector<std::size_t> columns{0};
    writer.rows(result.chunk(0), 3, columns, out);
    writer.end(out);
    EXPECT_THAT(writer.remark(), testing::HasSubstr("One value"));
}

TEST(FormatsTest, TextWithAZeroByteIsReadBackBySqlite) {
    std::string literal;
    const std::string text("a\0b'c", 5);
    sql::appendLiteral(literal, {.kind = data::CellKind::Text, .bytes = text}, {.name = "a"}, sql::Dialect::Sqlite);
    sqlite3* db = nullptr;
    sqlite3_open(":memory:", &db);
    sqlite3_stmt* statement = nullptr;
    const std::string query = "SELECT " + literal + ", typeof(" + literal + ")";
    ASSERT_EQ(sqlite3_prepare_v2(db, query.c_str(), -1, &statement, nullptr), SQLITE_OK) << query;
    ASSERT_EQ(sqlite3_step(statement), SQLITE_ROW);
    const auto* read = reinterpret_cast<const char*>(sqlite3_column_text(statement, 0));
    EXPECT_EQ(std::string(read, static_cast<std::size_t>(sqlite3_column_bytes(statement, 0))), text);
    EXPECT_STREQ(reinterpret_cast<const char*>(sqlite3_column_text(statement, 1)), "text");
    sqlite3_finalize(statement);
    sqlite3_close(db);
}

}  // namespace
}  // namespace pantry::exchange
