#include "core/store/export_presets.h"

#include <gtest/gtest.h>

#include "support/temporary_folder.h"

namespace pantry::store {
namespace {

using exchange::ExportChoices;
using exchange::Format;

ExportChoices unusual() {
    ExportChoices choices{.format = Format::Csv};
    choices.encoding = exchange::Encoding::Latin1;
    choices.compression = exchange::Compression::Zstd;
    choices.forms.csv = {.delimiter = "::",
                         .hasHeadings = false,
                         .quoting = exchange::Quoting::Texts,
                         .quote = '\'',
                         .escape = '\\',
                         .lineEnd = "\r"};
    choices.forms.valueFormat = {.nullText = "",
                                 .trueText = "yes",
                                 .falseText = "no",
                                 .dateForm = exchange::DateForm::Compact,
                                 .decimalSign = ',',
                                 .trimsTrailingBlanks = true,
                                 .guardsFormulas = true};
    return choices;
}

TEST(ExportPresetsTest, WhatAFormatWasToldComesBack) {
    const test::TemporaryFolder folder;
    ASSERT_TRUE(saveLastExport(folder / "exports.json", unusual()));
    ExportChoices lines{.format = Format::Json};
    lines.forms.isJsonIndented = true;
    ASSERT_TRUE(saveLastExport(folder / "exports.json", lines));

    const auto presets = loadExportPresets(folder / "exports.json");
    ASSERT_TRUE(presets);
    EXPECT_EQ(presets->lastFormat, Format::Json);
    EXPECT_TRUE(presets->lastUsed.at(Format::Json).forms.isJsonIndented);
    const ExportChoices& csv = presets->lastUsed.at(Format::Csv);
    EXPECT_EQ(csv.encoding, exchange::Encoding::Latin1);
    EXPECT_EQ(csv.compression, exchange::Compression::Zstd);
    EXPECT_EQ(csv.forms.valueFormat, unusual().forms.valueFormat);
    EXPECT_EQ(csv.forms.csv.delimiter, "::");
    EXPECT_EQ(csv.forms.csv.quoting, exchange::Quoting::Texts);
    EXPECT_EQ(csv.forms.csv.escape, '\\');
    EXPECT_EQ(csv.forms.csv.lineEnd, "\r");
    EXPECT_FALSE(csv.forms.csv.hasHeadings);
}

TEST(ExportPresetsTest, PresetsAreKeptByNameAndRemoved) {
    const test::TemporaryFolder folder;
    const auto file = folder / "exports.json";
    ASSERT_TRUE(saveExportPreset(file, {"for the stall", unusual()}));
    ASSERT_TRUE(saveExportPreset(file, {"as a page", {.format = Format::Html}}));
    ASSERT_TRUE(saveExportPreset(file, {"for the stall", {.format = Format::Tsv}}));
    auto presets = loadExportPresets(file);
    ASSERT_TRUE(presets);
    ASSERT_EQ(presets->named.size(), 2U);
    EXPECT_EQ(presets->named[0].name, "as a page");
    EXPECT_EQ(presets->named[1].choices.format, Format::Tsv) << "the later one takes its place";
    ASSERT_TRUE(removeExportPreset(file, "as a page"));
    EXPECT_EQ(loadExportPresets(file)->named.size(), 1U);
}

TEST(ExportPresetsTest, WhatIsNotUnderstoodCountsAsNotChosen) {
    const test::TemporaryFolder folder;
    test::writeFile(folder / "exports.json",
                    R"({"version": 1, "lastFormat": "papyrus", "last": {"csv": {"quote": "xyz", "batchRows": -5}}})");
    const auto presets = loadExportPresets(folder / "exports.json");
    ASSERT_TRUE(presets);
    EXPECT_FALSE(presets->lastFormat);
    EXPECT_EQ(presets->lastUsed.at(Format::Csv).forms.csv.quote, '"');
    EXPECT_FALSE(loadExportPresets(folder / "none.json")->lastFormat);
}

}  // namespace
}  // namespace pantry::store
