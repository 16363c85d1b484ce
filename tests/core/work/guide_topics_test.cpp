#include "core/work/guide_topics.h"

#include <gmock/gmock.h>

#include <algorithm>

#include "support/temporary_folder.h"

namespace pantry::work {
namespace {

using testing::ElementsAre;
using testing::HasSubstr;
using testing::IsEmpty;
using testing::SizeIs;

const std::string kGuide =
    "# Guide\n\nBefore all.\n\n## Catalog\nWhat is there.\n\n**Find.** Type a name.\nAnd more.\n\n**Drag** (Alt) "
    "takes.\n"
    "not **a title.** here\n\n```\n## no heading\n\n**no title.**\n```\n\n## Rows\n**Order.** A click.\n\n### Fine "
    "points\nSmall.\n";

std::vector<std::string> titlesOf(const std::vector<GuideTopic>& topics) {
    std::vector<std::string> titles;
    for (const GuideTopic& one : topics) titles.push_back(one.chapter + "/" + one.title);
    return titles;
}

TEST(GuideTopicsTest, ChaptersAndBoldBeginningsAreTopics) {
    const auto topics = guideTopics(kGuide);
    EXPECT_THAT(titlesOf(topics),
                ElementsAre("Catalog/Catalog", "Catalog/Find", "Catalog/Drag", "Rows/Order", "Fine points/Fine points"))
        << "a chapter that says nothing by itself is none, what stands before the first one neither";
    EXPECT_TRUE(topics[0].isChapter());
    EXPECT_EQ(topics[1].text, "**Find.** Type a name.\nAnd more.\n\n");
    EXPECT_THAT(topics[2].text, HasSubstr("**no title.**")) << "what stands in a fence is text";
}

TEST(GuideTopicsTest, NothingAndOneLineAreRead) {
    EXPECT_THAT(guideTopics(""), IsEmpty());
    EXPECT_THAT(guideTopics("**bold** before a chapter"), IsEmpty());
    EXPECT_THAT(titlesOf(guideTopics("## One\r\nText\r\n")), ElementsAre("One/One"));
}

TEST(GuideTopicsTest, AllWordsMustBeThereAndTitlesComeFirst) {
    const auto topics = guideTopics("## A\nAbout order.\n\n**Order.** Click it.\n\n**Else.** No such word.\n");
    EXPECT_THAT(topicsAbout("ORDER", topics), ElementsAre(1, 0));
    EXPECT_THAT(topicsAbout(" click  order ", topics), ElementsAre(1));
    EXPECT_THAT(topicsAbout("plough", topics), IsEmpty());
    EXPECT_THAT(topicsAbout("", topics), SizeIs(3));
}

TEST(GuideTopicsTest, AGlanceHasNoMarksAndWholeWords) {
    const auto topics = guideTopics("## A\nAbout `one`\nand *two* things.\n");
    EXPECT_EQ(glanceAt(topics[0], 12, 5), "About one\nand two\nthings.");
    EXPECT_EQ(glanceAt(topics[0], 12, 2), "About one\nand two …");
    EXPECT_EQ(glanceAt(topics[0], 3, 9), "About\none\nand\ntwo\nthings.") << "words are not torn";
}

TEST(GuideTopicsTest, OurOwnGuideHasTopicsThatSaySomething) {
    const auto topics = guideTopics(test::contentOf(GUIDE_FILE));
    EXPECT_GT(topics.size(), 50U);
    for (const GuideTopic& one : topics) {
        EXPECT_GT(one.text.size(), one.title.size() + 10) << one.title;
        EXPECT_FALSE(one.chapter.empty()) << one.title;
    }
    const auto about = topicsAbout("freeze column", topics);
    ASSERT_FALSE(about.empty());
    EXPECT_EQ(topics[about.front()].chapter, "Results");
}

}  // namespace
}  // namespace pantry::work
