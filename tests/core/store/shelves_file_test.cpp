#include "core/store/shelves_file.h"

#include <gtest/gtest.h>

#include "support/temporary_folder.h"

namespace pantry::store {
namespace {

TEST(ShelvesFileTest, KeepsShelvesAndStars) {
    const test::TemporaryFolder folder;
    const auto file = folder / "shelves.json";
    EXPECT_TRUE(loadShelves(file)->places.empty());
    ASSERT_TRUE(addShelf(file, {"Orchard team", "/srv/team"}));
    ASSERT_TRUE(addShelf(file, {"Mine too", "/srv/mine"}));
    EXPECT_EQ(addShelf(file, {"orchard TEAM", "/srv/x"}).error().kind, ErrorKind::InvalidInput);
    EXPECT_EQ(addShelf(file, {" ", "/srv/x"}).error().kind, ErrorKind::InvalidInput);
    ASSERT_TRUE(setStarred(file, {"", "a.sql"}, true));
    ASSERT_TRUE(setStarred(file, {"", "a.sql"}, true));
    ASSERT_TRUE(setStarred(file, {"Orchard team", "b.sql"}, true));
    ASSERT_TRUE(moveStar(file, {"", "a.sql"}, {"", "c/a.sql"}));
    auto shelves = loadShelves(file);
    ASSERT_EQ(shelves->places.size(), 2U);
    EXPECT_EQ(shelves->places[0], (ShelfPlace{"Orchard team", "/srv/team"}));
    EXPECT_EQ(shelves->starred, (std::vector<QueryPlace>{{"", "c/a.sql"}, {"Orchard team", "b.sql"}}));
    ASSERT_TRUE(setStarred(file, {"", "c/a.sql"}, false));
    ASSERT_TRUE(removeShelf(file, "Mine too"));
    EXPECT_EQ(removeShelf(file, "Mine too").error().kind, ErrorKind::NotFound);
    shelves = loadShelves(file);
    EXPECT_EQ(shelves->places.size(), 1U);
    EXPECT_EQ(shelves->starred.size(), 1U);
}

TEST(ShelvesFileTest, WhatCannotBeReadIsKeptAside) {
    const test::TemporaryFolder folder;
    test::writeFile(folder / "shelves.json", "{ nonsense");
    EXPECT_TRUE(loadShelves(folder / "shelves.json")->places.empty());
    test::writeFile(folder / "shelves.json", R"({"version": 99})");
    EXPECT_EQ(loadShelves(folder / "shelves.json").error().kind, ErrorKind::TooNew);
    test::writeFile(folder / "shelves.json", R"({"version": 1, "shelves": [1, {"name": "x"}], "starred": {}})");
    EXPECT_TRUE(loadShelves(folder / "shelves.json")->places.empty());
}

}  // namespace
}  // namespace pantry::store
