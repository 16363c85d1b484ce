#include "core/catalog/catalog_view.h"

#include <gtest/gtest.h>

namespace pantry::catalog {
namespace {

View kitchenAndOrchard() {
    return View({{.schema = "orchard", .name = "plot", .columns = {{"plot_id", "integer"}}},
                 {.schema = "kitchen", .name = "plot", .columns = {{"jar", "integer"}}},
                 {.schema = "kitchen", .name = "Plot", .columns = {{"lid", "integer"}}},
                 {.schema = "orchard", .name = "tree"}},
                {"orchard"});
}

TEST(CatalogViewTest, ANameWithoutASchemaIsLookedForOnTheSearchPath) {
    const View view = kitchenAndOrchard();
    ASSERT_NE(view.find("", "plot"), nullptr);
    EXPECT_EQ(view.find("", "plot")->schema, "orchard");
    const View kitchen = view.withSearchPath({"kitchen", "orchard"});
    EXPECT_EQ(kitchen.find("", "plot")->schema, "kitchen");
    EXPECT_EQ(kitchen.find("", "tree")->schema, "orchard");
    EXPECT_EQ(view.find("", "shed"), nullptr);
    EXPECT_TRUE(kitchen.isOnSearchPath("KITCHEN"));
    EXPECT_FALSE(view.isOnSearchPath("kitchen"));
}

TEST(CatalogViewTest, ExactlyThisNameGoesBeforeOneOfOtherLetters) {
    const View view = kitchenAndOrchard();
    EXPECT_EQ(view.find("kitchen", "Plot")->columns.front().name, "lid");
    EXPECT_EQ(view.find("kitchen", "PLOT")->columns.front().name, "jar") << "the first one of several";
    EXPECT_EQ(view.find("KITCHEN", "plot")->columns.front().name, "jar");
}

TEST(CatalogViewTest, SchemasAreThoseWithRelations) {
    EXPECT_EQ(kitchenAndOrchard().schemas(), (std::vector<std::string>{"orchard", "kitchen"}));
    EXPECT_EQ(kitchenAndOrchard().relations().size(), 4U);
    EXPECT_TRUE(View().schemas().empty());
    EXPECT_EQ(View().find("", "plot"), nullptr);
}

}  // namespace
}  // namespace pantry::catalog
