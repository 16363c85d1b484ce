#include "core/store/text_file.h"

#include <gmock/gmock.h>

#include <fstream>
#include <thread>

#include "core/base/file.h"
#include "core/store/sheet_store.h"
#include "support/temporary_folder.h"

namespace pantry::store {
namespace {

using namespace std::string_literals;
using exchange::Encoding;

class TextFileTest : public testing::Test {
protected:
    void write(const std::string& bytes) const { std::ofstream(path_, std::ios::binary) << bytes; }
    [[nodiscard]] std::string bytes() const { return *base::readFile(path_); }

    test::TemporaryFolder folder_;
    std::filesystem::path path_ = folder_.path() / "harvest.sql";
};

struct Form {
    std::string bytes;
    std::string text;
    TextForm form;
};

TEST_F(TextFileTest, WhatIsOpenedAndSavedIsTheSameFile) {
    const std::vector<Form> forms{
        {"SELECT 'ä';\n", "SELECT 'ä';\n", {Encoding::Utf8, LineEnds::Lf}},
        {"", "", {Encoding::Utf8, LineEnds::Lf}},
        {"\xEF\xBB\xBFSELECT 1;\r\n\r\n", "SELECT 1;\n\n", {Encoding::Utf8WithMark, LineEnds::CrLf}},
        {"-- \xE4pple\r\nSELECT 1", "-- äpple\nSELECT 1", {Encoding::Latin1, LineEnds::CrLf}},
        {"a\rb\r", "a\nb\n", {Encoding::Utf8, LineEnds::Cr}},
        {"\xFF\xFE"s + "a\0\r\0\n\0\x3D\xD8\x00\xDE"s, "a\n😀", {Encoding::Utf16LittleEndian, LineEnds::CrLf}},
        {"\xFE\xFF"s + "\0a\0\n\xD8\x3D\xDE\x00"s, "a\n😀", {Encoding::Utf16BigEndian, LineEnds::Lf}},
    };
    for (const Form& form : forms) {
        write(form.bytes);
        const auto opened = openTextFile(path_);
        ASSERT_TRUE(opened);
        EXPECT_EQ(opened->text, form.text);
        EXPECT_EQ(opened->form, form.form) << form.text;
        EXPECT_FALSE(opened->hasMixedLineEnds);
        ASSERT_TRUE(saveTextFile(path_, opened->text, opened->form, opened->stamp));
        EXPECT_EQ(bytes(), form.bytes);
    }
}

TEST_F(TextFileTest, LinesThatEndInSeveralWaysEndInTheCommonestOne) {
    write("a\r\nb\r\nc\n");
    const auto opened = openTextFile(path_);
    ASSERT_TRUE(opened);
    EXPECT_TRUE(opened->hasMixedLineEnds);
    ASSERT_TRUE(saveTextFile(path_, opened->text, opened->form, opened->stamp));
    EXPECT_EQ(bytes(), "a\r\nb\r\nc\r\n");
}

TEST_F(TextFileTest, WhatAnotherProgramWroteIsNotReplaced) {
    write("SELECT 1");
    const auto opened = openTextFile(path_);
    write("SELECT 1, 2");
    const auto saved = saveTextFile(path_, "SELECT 3", opened->form, opened->stamp);
    ASSERT_FALSE(saved);
    EXPECT_EQ(saved.error().kind, ErrorKind::Busy);
    EXPECT_EQ(bytes(), "SELECT 1, 2");
    EXPECT_TRUE(saveTextFile(path_, "SELECT 3", opened->form, std::nullopt));
    EXPECT_EQ(bytes(), "SELECT 3");
}

TEST_F(TextFileTest, CharactersThatTheEncodingLacksAreToldAndNothingIsWritten) {
    write("-- \xE4");
    const auto opened = openTextFile(path_);
    const auto saved = saveTextFile(path_, "-- ä → ö", opened->form, opened->stamp);
    ASSERT_FALSE(saved);
    EXPECT_EQ(saved.error().kind, ErrorKind::InvalidInput);
    EXPECT_THAT(saved.error().message, testing::HasSubstr("→"));
    EXPECT_EQ(bytes(), "-- \xE4");
}

TEST_F(TextFileTest, ASheetKeepsWhichFileItIs) {
    const SheetStore store(folder_.path() / "sheets");
    SheetState sheet{.id = "one", .text = "SELECT 1"};
    sheet.file = FileOfSheet{.path = "/tmp/harvest.sql",
                             .form = {Encoding::Latin1, LineEnds::CrLf},
                             .stamp = {.modifiedNs = 1'700'000'000'123'456'789, .size = 8},
                             .isUnsaved = true};
    ASSERT_TRUE(base::makeFolder(folder_.path() / "sheets"));
    ASSERT_TRUE(store.save(sheet));
    const auto kept = store.takeOver();
    ASSERT_TRUE(kept);
    ASSERT_EQ(kept->size(), 1U);
    EXPECT_EQ(kept->front().file, sheet.file);
}

}  // namespace
}  // namespace pantry::store
