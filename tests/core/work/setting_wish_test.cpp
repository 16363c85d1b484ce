#include "core/work/setting_wish.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace pantry::work {
namespace {

using testing::Contains;
using testing::IsEmpty;

std::vector<std::string> textsFor(std::string_view typed) {
    std::vector<std::string> texts;
    for (const SettingWish& wish : settingWishes(typed)) texts.push_back(settingText(wish));
    return texts;
}

TEST(SettingWishTest, WordsAndANumberMeanASetting) {
    EXPECT_THAT(textsFor("first page 500"), testing::ElementsAre("First page: 500 rows"));
    EXPECT_THAT(textsFor("FIR pa 500"), Contains("First page: 500 rows"));
    EXPECT_THAT(textsFor("memory 2048"), Contains("Memory for results: 2\u2009048 MB"));
    EXPECT_THAT(textsFor("results 100").size(), testing::Ge(2U)) << "a group means all of its numbers";
}

TEST(SettingWishTest, WhatIsNotAllowedOrNoSettingIsNotOffered) {
    for (const char* typed : {"", "500", "first page", "first page many", "first page 1",
                              "first page 99999999999999999999", "quince 500", "first page -5"})
        EXPECT_THAT(textsFor(typed), IsEmpty()) << typed;
}

TEST(SettingWishTest, SwitchesAndChoicesAreListed) {
    for (const store::SettingDescriptor& setting : store::settingTable()) {
        const auto wishes = listedWishes(setting);
        for (const SettingWish& wish : wishes) {
            EXPECT_TRUE(setting.isAllowed(wish.value)) << settingText(wish);
            EXPECT_TRUE(settingText(wish).starts_with(std::string(setting.label) + ": "));
            store::Settings changed;
            setting.set(changed, wish.value);
            EXPECT_EQ(setting.get(changed), wish.value);
        }
        if (setting.id == "keepsRows") {
            ASSERT_EQ(wishes.size(), 2U);
            EXPECT_EQ(settingText(wishes[1]), "Rows between starts: off");
        }
    }
}

}  // namespace
}  // namespace pantry::work
