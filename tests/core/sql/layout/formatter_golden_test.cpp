// The style, shown: every NAME.sql of a dialect's folder is laid out as its NAME.laid_out.sql says.
// After a change of style that is meant, run the test with PANTRY_RENEW_GOLDEN=1 and read the difference.
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <sstream>

#include "core/sql/check/findings.h"
#include "core/sql/layout/formatter.h"

namespace pantry::sql {
namespace {

std::string textOfGolden(const std::filesystem::path& path) {
    std::ifstream in(path, std::ios::binary);
    std::stringstream text;
    text << in.rdbuf();
    return text.str();
}

class FormatterGoldenTest : public testing::TestWithParam<std::filesystem::path> {};

std::vector<std::filesystem::path> inputs() {
    std::vector<std::filesystem::path> out;
    for (const auto& entry : std::filesystem::recursive_directory_iterator(GOLDEN_FOLDER)) {
        const bool isInput = entry.path().extension() == ".sql" && entry.path().stem().extension() != ".laid_out";
        if (isInput) out.push_back(entry.path());
    }
    std::ranges::sort(out);
    return out;
}

TEST_P(FormatterGoldenTest, IsLaidOutAsShown) {
    const std::filesystem::path input = GetParam();
    const Dialect dialect = *dialectFromName(input.parent_path().filename().string());
    const std::string text = textOfGolden(input);
    const std::string laidOut = formatScript(text, dialect);
    auto expected = input;
    expected.replace_extension(".laid_out.sql");
    if (std::getenv("PANTRY_RENEW_GOLDEN") != nullptr) std::ofstream(expected, std::ios::binary) << laidOut;

    EXPECT_EQ(laidOut, textOfGolden(expected));
    EXPECT_EQ(formatScript(laidOut, dialect), laidOut);
    EXPECT_TRUE(haveSameTokens(text, laidOut, dialect));
    for (const Finding& finding : checkScript(text, dialect)) EXPECT_NE(finding.rule, "syntax") << finding.message;
}

INSTANTIATE_TEST_SUITE_P(Style, FormatterGoldenTest, testing::ValuesIn(inputs()), [](const auto& input) {
    return input.param.parent_path().filename().string() + "_" + input.param.stem().string();
});

}  // namespace
}  // namespace pantry::sql
