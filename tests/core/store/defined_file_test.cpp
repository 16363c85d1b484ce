#include "core/store/defined_file.h"

#include <gtest/gtest.h>

#include "support/temporary_folder.h"

namespace pantry::store {
namespace {

TEST(DefinedFileTest, KeepsTheLastPlaces) {
    const test::TemporaryFolder folder;
    const auto file = folder / "defined.json";
    EXPECT_TRUE(loadDefined(file)->empty());
    for (int i = 0; i < 50; ++i) {
        ASSERT_TRUE(addDefined(file, {.connection = "orchard",
                                      .database = std::to_string(i),
                                      .process = "one",
                                      .at = base::fromMicroseconds(1'000'000'000LL + i)}));
    }
    const auto places = loadDefined(file);
    ASSERT_TRUE(places);
    ASSERT_EQ(places->size(), 40U);
    EXPECT_EQ(places->front().database, "10");
    EXPECT_EQ(places->back().database, "49");
    EXPECT_EQ(places->back().process, "one");
    EXPECT_EQ(base::toMicroseconds(places->back().at), 1'000'000'049LL);
}

TEST(DefinedFileTest, WhatCannotBeReadIsKeptAside) {
    const test::TemporaryFolder folder;
    test::writeFile(folder / "defined.json", "[1");
    EXPECT_TRUE(loadDefined(folder / "defined.json")->empty());
    test::writeFile(folder / "defined.json", R"({"version": 99})");
    EXPECT_EQ(loadDefined(folder / "defined.json").error().kind, ErrorKind::TooNew);
    test::writeFile(folder / "defined.json", R"({"version": 1, "places": [1, {"connection": 2, "at": "x"}]})");
    EXPECT_EQ(loadDefined(folder / "defined.json")->size(), 1U);
    test::writeFile(folder / "defined.json", R"({"version": 1, "places": 7})");
    ASSERT_TRUE(addDefined(folder / "defined.json", {.connection = "a"}));
    EXPECT_EQ(loadDefined(folder / "defined.json")->front().connection, "a");
}

}  // namespace
}  // namespace pantry::store
