#include "core/exchange/json_outline.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <rapidcheck.h>

#include <nlohmann/json.hpp>

namespace pantry::exchange {
namespace {

using testing::ElementsAre;
using testing::HasSubstr;

std::string kindsOf(std::string_view text) {
    std::string out;
    for (const JsonToken& token : outlineJson(text).tokens) out += "NSDWBsu"[static_cast<int>(token.kind)];
    return out;
}

/// Byte offset and words of the first problem.
std::string problemOf(std::string_view text) {
    const auto problem = outlineJson(text).problem;
    return problem ? std::to_string(problem->byteOffset) + " " + problem->message : "";
}

TEST(JsonOutlineTest, TellsNamesFromTextsAndNumbersFromWords) {
    EXPECT_EQ(kindsOf(R"({"plot": "North", "n": -1.5e3, "ok": true, "list": [null, {}]})"), "BNsSsNsDsNsWsNsBWsBBBB");
    EXPECT_EQ(problemOf(R"({"plot": "North \"old\"", "list": [1, 2]})"), "");
}

TEST(JsonOutlineTest, SeveralValuesMayFollowEachOther) { EXPECT_EQ(problemOf("{\"n\": 1}\n{\"n\": 2}\n"), ""); }

TEST(JsonOutlineTest, BracketsOnSeveralLinesFold) {
    EXPECT_THAT(outlineJson("{\n\"a\": [1],\n\"b\": [\n2]\n}").pairs,
                ElementsAre(JsonPair{7, 9}, JsonPair{17, 20}, JsonPair{0, 22}));
}

TEST(JsonOutlineTest, TheFirstMistakeIsToldWithItsPlace) {
    EXPECT_THAT(problemOf(R"({"a": 1 "b": 2})"), HasSubstr("8 A comma is missing"));
    EXPECT_THAT(problemOf(R"({"a" 1})"), HasSubstr("5 A colon is missing"));
    EXPECT_THAT(problemOf("[1, 2,]"), HasSubstr("6 Something should follow the comma"));
    EXPECT_THAT(problemOf("[1, yes]"), HasSubstr("4 “yes” is no value"));
    EXPECT_THAT(problemOf("[01]"), HasSubstr("1 “01” is no value"));
    EXPECT_THAT(problemOf("{a: 1}"), HasSubstr("1 “a” is no value"));
    EXPECT_THAT(problemOf("[1}"), HasSubstr("2 A ] should stand here"));
    EXPECT_THAT(problemOf("[\"x]\n"), HasSubstr("1 This text has no closing quote"));
    EXPECT_THAT(problemOf("[1,\n[2,\n3]"), HasSubstr("10 The [ of line 1 has no end"));
    EXPECT_THAT(problemOf("[\"\\q\"]"), HasSubstr("2 JSON knows no such escape"));
    EXPECT_THAT(problemOf("[1]]"), HasSubstr("3 Nothing is open"));
}

TEST(JsonOutlineTest, SqlIsNotTakenForJson) {
    EXPECT_TRUE(looksLikeJson(" \n [1]"));
    EXPECT_TRUE(looksLikeJson("{"));
    EXPECT_FALSE(looksLikeJson("SELECT '{}'"));
    EXPECT_FALSE(looksLikeJson(""));
}

TEST(JsonOutlineTest, AgreesWithAnotherReaderAboutWhatIsJson) {
    EXPECT_TRUE(rc::check("the same verdict", [] {
        const auto pieces = *rc::gen::container<std::vector<std::string>>(rc::gen::element<std::string>(
            "{", "}", "[", "]", ",", ":", "\"a\"", "\"\\n\"", "1", "-0.5", "01", "true", "nul", " ", "\n"));
        std::string text = "[";
        for (const std::string& piece : pieces) text += piece + (piece == "1" || piece == "01" ? " " : "");
        text += "]";
        const JsonOutline outline = outlineJson(text);
        std::size_t values = 0;  // outside all brackets, of which the other reader takes only one
        int depth = 0;
        for (const JsonToken& token : outline.tokens) {
            const char c = text[token.start];
            if (depth == 0 && c != ',' && c != ':') ++values;
            if (c == '{' || c == '[') ++depth;
            if (c == '}' || c == ']') --depth;
        }
        if (values > 1) return;
        RC_ASSERT(outline.problem.has_value() == !nlohmann::json::accept(text));
    }));
}

}  // namespace
}  // namespace pantry::exchange
