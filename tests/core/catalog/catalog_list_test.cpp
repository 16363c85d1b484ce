#include "core/catalog/catalog_list.h"

#include <fmt/format.h>

namespace pantry::catalog {
namespace {

using testing::ElementsAre;

Relation relation(const std::string& schema, const std::string& name, ObjectKind kind = ObjectKind::Table,
                  std::vector<std::string> columns = {}) {
    Relation r{.schema = schema, .name = name, .kind = kind};
    for (std::string& c : columns) r.columns.push_back({.name = std::move(c)});
    return r;
}

Catalog catalog() {
    Schema orchard{.name = "orchard", .isLoaded = true};
    orchard.relations = {relation("orchard", "Plot"), relation("orchard", "plot", ObjectKind::Table, {"warden_id"}),
                         relation("orchard", "warden"), relation("orchard", "big_plot", ObjectKind::View)};
    orchard.objects = {{.schema = "orchard", .name = "ripe", .kind = ObjectKind::Function, .signature = "integer"}};
    Schema attic{.name = "attic", .isLoaded = true};
    attic.relations = {relation("attic", "box")};
    return Catalog({.searchPath = {"orchard"}},
                   {std::make_shared<Schema>(std::move(orchard)), std::make_shared<Schema>(std::move(attic))});
}

std::vector<std::string> words(const std::vector<Row>& rows) {
    std::vector<std::string> out;
    for (const Row& row : rows) {
        out.push_back(row.isHeading()      ? fmt::format("[{}]", row.heading)
                      : row.column.empty() ? row.name().name
                                           : fmt::format("{}.{}", row.name().name, row.column));
    }
    return out;
}

TEST(CatalogListTest, EveryKindHasItsSection) {
    EXPECT_THAT(words(listCatalog(catalog(), "", {})),
                ElementsAre("[Tables]", "Plot", "plot", "warden", "box", "[Views]", "big_plot", "[Functions]", "ripe"));
}

TEST(CatalogListTest, FavouritesComeFirstAndStayInTheirSection) {
    Choices choices;
    choices.toggleFavourite("orchard", "warden");
    EXPECT_THAT(words(listCatalog(catalog(), "", choices)),
                ElementsAre("[Favourites]", "warden", "[Tables]", "Plot", "plot", "warden", "box", "[Views]",
                            "big_plot", "[Functions]", "ripe"));
    choices.toggleFavourite("orchard", "warden");
    EXPECT_TRUE(choices.favourites.empty());
}

TEST(CatalogListTest, HiddenSchemasAndKindsStayOut) {
    Choices choices{.hiddenSchemas = {"attic"}, .hiddenKinds = {ObjectKind::Function, ObjectKind::View}};
    EXPECT_THAT(words(listCatalog(catalog(), "", choices)), ElementsAre("[Tables]", "Plot", "plot", "warden"));
}

TEST(CatalogListTest, APatternFindsNamesBeforeColumns) {
    EXPECT_THAT(words(listCatalog(catalog(), "ward", {})), ElementsAre("[Found]", "warden", "plot.warden_id"));
    EXPECT_TRUE(listCatalog(catalog(), "zzz", {}).empty());
}

TEST(CatalogTest, NamesThatDifferInCaseAreDifferentTables) {
    const Catalog c = catalog();
    EXPECT_EQ(c.find("orchard", "Plot")->name, "Plot");
    EXPECT_EQ(c.find("orchard", "plot")->name, "plot");
    EXPECT_EQ(c.find("", "WARDEN")->name, "warden");
    EXPECT_EQ(c.find("", "box"), nullptr);
    EXPECT_NE(c.findObject("orchard", "ripe", "integer"), nullptr);
}

TEST(CatalogTest, WhatWasReadBeforeStaysBesideWhatIsReadAnew) {
    const CatalogPtr known = std::make_shared<const Catalog>(catalog());
    Schema fresh{.name = "attic", .isLoaded = true};
    fresh.relations = {relation("attic", "ladder")};
    std::vector<Schema> read{{.name = "orchard"}, std::move(fresh), {.name = "cellar"}};
    const CatalogPtr merged = mergeCatalog({}, std::move(read), known);
    EXPECT_NE(merged->find("orchard", "warden"), nullptr);
    EXPECT_NE(merged->find("attic", "ladder"), nullptr);
    EXPECT_EQ(merged->find("attic", "box"), nullptr);
    EXPECT_FALSE(merged->schema("cellar")->isLoaded);
    EXPECT_EQ(merged->schema("orchard"), known->schema("orchard"));  // shared, not copied
}

TEST(CatalogTest, WithVeryManySchemasOnlyTheSearchPathIsReadUnasked) {
    std::vector<Schema> many;
    for (int i = 0; i < 200; ++i) many.push_back({.name = fmt::format("s{}", i)});
    EXPECT_THAT(schemasToRead({}, many, {"s7"}), ElementsAre("s7"));
    EXPECT_THAT(schemasToRead({.schemas = {"s9"}}, many, {"s7"}), ElementsAre("s9"));
    many.resize(3);
    EXPECT_EQ(schemasToRead({}, many, {}).size(), 3U);
}

}  // namespace
}  // namespace pantry::catalog
