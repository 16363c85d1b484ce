#include "core/snippet/template.h"

#include <gmock/gmock.h>
#include <rapidcheck/gtest.h>

namespace pantry::snippet {
namespace {

using testing::HasSubstr;

std::vector<ColumnOfTable> columnsOf(std::string_view table) {
    if (table != "plot") return {};
    return {{"plot_id", "integer"}, {"name", "text"}};
}

std::string written(std::string_view text, const std::map<std::string, std::string>& values = {},
                    std::string_view indent = {}) {
    const auto parsed = parseTemplate(text);
    if (!parsed) return "! " + parsed.error().message;
    return render(*parsed, values, columnsOf, indent).text;
}

TEST(TemplateTest, PlacesWithoutATextStandAsTheirName) {
    EXPECT_EQ(written("SELECT «column» FROM «table=plot» -- «table»"), "SELECT «column» FROM plot -- plot");
    EXPECT_EQ(written("SELECT «column» FROM «table:table»", {{"table", "tree"}, {"column", "tag"}}),
              "SELECT tag FROM tree");
    EXPECT_EQ(written("««quoted»"), "«quoted»") << "the sign itself";
    EXPECT_EQ(written("«note=»x"), "x") << "an empty text is one";
}

TEST(TemplateTest, TheSamePlaceIsEverywhereCommentsAndStringsIncluded) {
    const auto parsed = parseTemplate("-- «t»\nSELECT '«t»' FROM «t» AS «a=x»«»;");
    ASSERT_TRUE(parsed);
    const Rendered out = render(*parsed, {{"t", "plot"}}, columnsOf);
    EXPECT_EQ(out.text, "-- plot\nSELECT 'plot' FROM plot AS x;");
    ASSERT_EQ(out.places.size(), 2U);
    ASSERT_EQ(out.places[0].ranges.size(), 3U);
    for (const auto& range : out.places[0].ranges) EXPECT_EQ(out.text.substr(range.start, range.length), "plot");
    EXPECT_EQ(out.end, out.text.size() - 1);
}

TEST(TemplateTest, APartIsRepeatedForEachColumnOfATable) {
    const char* insert =
        "INSERT INTO «t:table» («each column of t joined by \", \": «column»»)\nVALUES («each column of t joined by "
        "\", \": :«column»»)";
    EXPECT_EQ(written(insert, {{"t", "plot"}}), "INSERT INTO plot (plot_id, name)\nVALUES (:plot_id, :name)");
    EXPECT_EQ(written(insert), "INSERT INTO «t» («column»)\nVALUES (:«column»)") << "once, until the table is known";
    EXPECT_EQ(written("«each column of t joined by \",\\n\": «column» «type»»", {{"t", "plot"}}, "  "),
              "plot_id integer,\n  name text");
}

TEST(TemplateTest, LinesBeginWithTheIndentOfThePlaceTheyArePutAt) {
    EXPECT_EQ(written("a\nb\nc", {}, "    "), "a\n    b\n    c");
}

TEST(TemplateTest, WhatIsNotUnderstoodSaysWhereAndWhatToWrite) {
    const auto errorOf = [](std::string_view text) {
        const auto parsed = parseTemplate(text);
        EXPECT_FALSE(parsed) << text;
        return parsed ? Error{} : parsed.error();
    };
    EXPECT_EQ(errorOf("SELECT «name").byteOffset, 13U + 0U);
    EXPECT_THAT(errorOf("«=x»").hint, HasSubstr("««"));
    EXPECT_THAT(errorOf("«t:tabel»").message, HasSubstr("tabel"));
    EXPECT_THAT(errorOf("«c:column»").hint, HasSubstr("column of table"));
    EXPECT_THAT(errorOf("«each column of t: x").hint, HasSubstr("»"));
    EXPECT_THAT(errorOf("«each column of t joined by ,: x»").hint, HasSubstr("joined by"));
    EXPECT_THAT(errorOf("«name=open").hint, HasSubstr("»"));
}

TEST(TemplateTest, KindsAreKnownWhereverTheyAreSaid) {
    const auto parsed = parseTemplate("SELECT «c» FROM «t:table» WHERE «c:column of t» = 1");
    ASSERT_TRUE(parsed);
    const Rendered out = render(*parsed, {}, columnsOf);
    EXPECT_EQ(out.places[0].offers, PlaceKind::Column);
    EXPECT_EQ(out.places[0].of, "t");
    EXPECT_EQ(out.places[1].offers, PlaceKind::Table);
}

TEST(TemplateTest, AnUnfilledPlaceIsFoundAmongTheWords) {
    const std::string sql = "CREATE INDEX i_«table» ON x";
    EXPECT_EQ(unfilledPlace(sql, {{0, 6}, {13, 11}, {25, 2}}), "«table»");
    EXPECT_EQ(unfilledPlace(sql, {{0, 6}, {25, 2}}), std::nullopt);
}

RC_GTEST_PROP(TemplateTest, AnyTextIsUnderstoodOrRefusedAtAPlaceInIt, ()) {
    const auto parts = *rc::gen::container<std::vector<std::string>>(
        rc::gen::element<std::string>("«", "»", "««", "each column of t", ": ", "joined by", "\"", "name", "=",
                                      ":table", "column of t", " ", "\n", "é", "\xc2"));
    std::string text;
    for (const std::string& part : parts) text += part;
    const auto parsed = parseTemplate(text);
    if (!parsed) {
        RC_ASSERT(parsed.error().byteOffset.value_or(0) <= text.size());
        RC_ASSERT(!parsed.error().message.empty());
        return;
    }
    for (const auto& values :
         {std::map<std::string, std::string>{}, std::map<std::string, std::string>{{"t", "plot"}, {"name", ""}}}) {
        const Rendered out = render(*parsed, values, columnsOf, "  ");
        RC_ASSERT(out.end.value_or(0) <= out.text.size());
        for (const Place& place : out.places) {
            for (const auto& range : place.ranges) RC_ASSERT(range.start + range.length <= out.text.size());
        }
    }
}

}  // namespace
}  // namespace pantry::snippet
