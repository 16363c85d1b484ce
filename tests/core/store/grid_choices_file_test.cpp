#include "core/store/grid_choices_file.h"

#include <fmt/format.h>
#include <gtest/gtest.h>

#include <fstream>

#include "support/temporary_folder.h"

namespace pantry::store {
namespace {

TEST(GridChoicesFileTest, AQueryIsKnownAgainWhateverItsLayout) {
    const auto key = [](std::string_view sql) { return gridKey("orchard", sql, sql::Dialect::Postgres); };
    EXPECT_EQ(key("SELECT a FROM plot"), key("select  a\n  from plot -- all of them"));
    EXPECT_NE(key("SELECT 'A' FROM plot"), key("SELECT 'a' FROM plot"));
    EXPECT_NE(key("SELECT ab FROM plot"), key("SELECT a b FROM plot"));
    EXPECT_NE(gridKey("kitchen", "SELECT a FROM plot", sql::Dialect::Postgres), key("SELECT a FROM plot"));
    EXPECT_EQ(key("SELECT 'secret' FROM plot").find("secret"), std::string::npos);
}

TEST(GridChoicesFileTest, WhatWasChosenComesBack) {
    const test::TemporaryFolder folder;
    data::GridChoices choices;
    choices.columns["weight"] = {
        .width = 120, .isHidden = true, .format = {data::CellForm::Thousands, 2}, .labelColumn = "name"};
    choices.order = {"weight", "name"};
    choices.frozen = 1;
    choices.rules = {{.column = "weight", .test = data::Test::AtLeast, .values = {"5"}, .colour = "tomato"}};
    ASSERT_TRUE(saveGridChoices(folder / "grids.json", "q1", choices));
    ASSERT_TRUE(saveGridChoices(folder / "grids.json", "q2", {}));
    const auto all = loadGridChoices(folder / "grids.json");
    ASSERT_TRUE(all);
    EXPECT_EQ(all->at("q1"), choices);
    EXPECT_EQ(all->size(), 2U);
}

TEST(GridChoicesFileTest, ChoicesStandOnOneLine) {
    data::GridChoices choices;
    EXPECT_EQ(gridChoicesLine(choices), "") << "nothing chosen, nothing said";
    choices.columns["weight"] = {.isHidden = true, .format = {data::CellForm::Thousands, 2}};
    choices.order = {"weight", "na\nme"};
    const std::string line = gridChoicesLine(choices);
    EXPECT_EQ(line.find('\n'), std::string::npos);
    EXPECT_EQ(line.find("frozen"), std::string::npos) << line;
    EXPECT_EQ(gridChoicesIn(line), choices);
    for (const char* none : {"", "7", "[1]", "{", "bars"}) EXPECT_FALSE(gridChoicesIn(none)) << none;
}

TEST(GridChoicesFileTest, NonsenseInTheFileIsPassedOver) {
    const test::TemporaryFolder folder;
    std::ofstream(folder / "grids.json")
        << R"({"version": 1, "queries": {"q": {"frozen": -4, "order": [1, "a"], "columns": {"a": {"width": "wide", "form": "fancy"}}, "colours": [7, {"test": "is odd"}]}, "r": 5}})";
    const auto all = loadGridChoices(folder / "grids.json");
    ASSERT_TRUE(all);
    EXPECT_EQ(all->at("q").frozen, 0);
    EXPECT_EQ(all->at("q").columns.at("a").width, 0);
    EXPECT_TRUE(all->at("q").rules.empty());
}

TEST(GridChoicesFileTest, OnlySoManyQueriesAreRemembered) {
    const test::TemporaryFolder folder;
    for (int i = 0; i < 503; ++i) {
        ASSERT_TRUE(saveGridChoices(folder / "grids.json", fmt::format("q{}", i), {}));
    }
    EXPECT_EQ(loadGridChoices(folder / "grids.json")->size(), 500U);
}

}  // namespace
}  // namespace pantry::store
