#include "core/snippet/session.h"

#include <gmock/gmock.h>
#include <rapidcheck/gtest.h>

namespace pantry::snippet {
namespace {

using testing::ElementsAre;

std::vector<ColumnOfTable> columns(std::string_view table) {
    if (table != "plot") return {};
    return {{"plot_id", "integer"}, {"name", "text"}};
}

/// A text with a session in it, as an editor would keep both.
struct Filling {
    explicit Filling(std::string_view from, std::string before = {}, std::string behind = {})
        : session(*parseTemplate(from), before.size(), {}, columns), text(before + session.rendered().text + behind) {}

    /// Types in place of what the current place holds, everywhere that it stands.
    void fill(const std::string& with) {
        for (std::size_t i = 0; i < session.current().size(); ++i) {
            const sql::TextRange range = session.current()[i];
            text.replace(range.start, range.length, with);
            session.noteEdit(range.start, range.length, 0);
            session.noteEdit(range.start, 0, with.size());
        }
    }
    void edit(std::size_t at, std::size_t removed, const std::string& with) {
        text.replace(at, removed, with);
        session.noteEdit(at, removed, with.size());
    }
    [[nodiscard]] std::string whole() const { return text.substr(session.whole().start, session.whole().length); }
    [[nodiscard]] std::vector<std::string> here() const {
        std::vector<std::string> texts;
        for (const auto& range : session.current()) texts.push_back(text.substr(range.start, range.length));
        return texts;
    }

    Session session;
    std::string text;
};

TEST(SnippetSessionTest, PlacesAreFilledOneAfterTheOtherEverywhere) {
    Filling f("SELECT «c» FROM «t» -- «t»«»;", "x; ", " y");
    EXPECT_THAT(f.here(), ElementsAre("«c»"));
    f.fill("name");
    ASSERT_TRUE(f.session.next());
    EXPECT_THAT(f.here(), ElementsAre("«t»", "«t»"));
    f.fill("plot");
    EXPECT_EQ(f.text, "x; SELECT name FROM plot -- plot; y");
    EXPECT_EQ(f.whole(), "SELECT name FROM plot -- plot;");
    EXPECT_FALSE(f.session.next());
    EXPECT_TRUE(f.session.isOver());
    EXPECT_EQ(f.text.substr(f.session.end()), "; y");
}

TEST(SnippetSessionTest, OneGoesBackAndChangesWhatWasFilled) {
    Filling f("«a=1» + «b=2»");
    ASSERT_TRUE(f.session.next());
    ASSERT_TRUE(f.session.previous());
    EXPECT_FALSE(f.session.previous());
    f.fill("100");
    ASSERT_TRUE(f.session.next());
    EXPECT_THAT(f.here(), ElementsAre("2"));
    EXPECT_EQ(f.text, "100 + 2");
}

TEST(SnippetSessionTest, PlacesBesideEachOtherKeepTheirOwn) {
    Filling f("«a=x»«b=y»«a»");
    f.fill("long");
    EXPECT_EQ(f.text, "longylong");
    ASSERT_TRUE(f.session.next());
    EXPECT_THAT(f.here(), ElementsAre("y"));
    f.fill("");
    f.fill("zz");
    EXPECT_EQ(f.text, "longzzlong");
}

TEST(SnippetSessionTest, RepeatedPartsFollowTheTable) {
    Filling f("INSERT INTO «t:table» («each column of t joined by \", \": «column»»)", "-- ");
    f.fill("plot");
    const auto renewed = f.session.renewed(f.whole(), columns);
    ASSERT_TRUE(renewed);
    EXPECT_EQ(*renewed, "INSERT INTO plot (plot_id, name)");
    f.text = "-- " + *renewed;
    EXPECT_THAT(f.here(), ElementsAre("plot"));
    EXPECT_FALSE(f.session.renewed(f.whole(), columns)) << "it stands as it should";
}

TEST(SnippetSessionTest, RepeatedPartsFollowEveryOtherTableToo) {
    Filling f("SELECT «each column of t joined by \", \": «column»» FROM «t:table»");
    ASSERT_TRUE(f.session.next());
    f.fill("plot");
    const auto first = f.session.renewed(f.whole(), columns);
    ASSERT_TRUE(first);
    f.text = *first;
    f.fill("crate");
    const auto second = f.session.renewed(f.whole(), columns);
    ASSERT_TRUE(second);
    EXPECT_EQ(*second, "SELECT «column» FROM crate") << "of which nothing is known: the place stands open";
    f.text = *second;
    f.fill("plot");
    const auto third = f.session.renewed(f.whole(), columns);
    ASSERT_TRUE(third);
    EXPECT_EQ(*third, "SELECT plot_id, name FROM plot");
    f.text = *third;
    f.edit(7, 7, "plot.plot_id");
    EXPECT_FALSE(f.session.renewed(f.whole(), columns)) << "what somebody has changed there stays";
}

TEST(SnippetSessionTest, WhatSomebodyHasChangedBesideThePlacesStays) {
    Filling f("INSERT INTO «t:table» («each column of t: «column»»)");
    f.fill("plot");
    f.edit(0, 6, "REPLACE");
    EXPECT_FALSE(f.session.renewed(f.whole(), columns));
}

TEST(SnippetSessionTest, UnfilledPlacesAreToldStringsIncluded) {
    Filling f("SELECT '«a»', «b»", "ab");
    EXPECT_EQ(f.session.unfilled(f.whole()).size(), 2U);
    f.fill("x");
    ASSERT_EQ(f.session.unfilled(f.whole()).size(), 1U);
    EXPECT_EQ(f.text.substr(f.session.unfilled(f.whole())[0].start), "«b»");
}

TEST(SnippetSessionTest, EditsBeforeMoveItAndThoseThatTearItEndIt) {
    Filling f("«a» b", "one two ", " three");
    f.edit(0, 4, "");
    EXPECT_THAT(f.here(), ElementsAre("«a»"));
    f.edit(f.text.size(), 0, "!");
    EXPECT_THAT(f.here(), ElementsAre("«a»"));
    f.edit(2, f.text.size() - 2, "");
    EXPECT_TRUE(f.session.isOver());
}

RC_GTEST_PROP(SnippetSessionTest, AnyEditsLeavePlacesWithinTheText, ()) {
    Filling f("SELECT «a», '«b=x»' FROM «a»«» -- «c»", "before ", " behind");
    const auto steps = *rc::gen::inRange(0, 12);
    for (int i = 0; i < steps; ++i) {
        const auto at = *rc::gen::inRange<std::size_t>(0, f.text.size() + 1);
        const auto removed = *rc::gen::inRange<std::size_t>(0, std::min<std::size_t>(f.text.size() - at, 5) + 1);
        f.edit(at, removed, std::string(*rc::gen::inRange<std::size_t>(0, 4), 'z'));
        if (*rc::gen::arbitrary<bool>()) (void)f.session.next();
        if (f.session.isOver()) return;
        RC_ASSERT(f.session.whole().start + f.session.whole().length <= f.text.size());
        RC_ASSERT(f.session.end() <= f.text.size());
        for (const auto& range : f.session.current()) RC_ASSERT(range.start + range.length <= f.text.size());
    }
}

}  // namespace
}  // namespace pantry::snippet
