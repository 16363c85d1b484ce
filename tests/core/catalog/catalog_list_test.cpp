#include "core/catalog/catalog_list.h"

#include "core/catalog/named_object.h"
#include "core/catalog/overview.h"

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
        switch (row.kind) {
            case Row::Kind::Heading: out.push_back(fmt::format("[{}]", row.text)); break;
            case Row::Kind::More:
            case Row::Kind::Excerpt: out.push_back(row.text); break;
            case Row::Kind::Column: out.push_back("  " + row.column->name); break;
            case Row::Kind::Object: out.push_back(row.name().name); break;
        }
    }
    return out;
}

/// The list of one catalog.
std::vector<std::string> listed(const Catalog& c, const std::string& pattern, const Choices& choices = {},
                                std::vector<SourceText> sources = {}) {
    const auto texts = std::make_shared<const std::vector<SourceText>>(std::move(sources));
    return words(listCatalog({{.catalog = std::make_shared<const Catalog>(c), .choices = choices, .sources = texts}},
                             {pattern}));
}

TEST(CatalogListTest, EveryKindHasItsSection) {
    EXPECT_THAT(listed(catalog(), ""),
                ElementsAre("[Tables]", "Plot", "plot", "warden", "box", "[Views]", "big_plot", "[Functions]", "ripe"));
}

TEST(CatalogListTest, FavouritesComeFirstAndStayInTheirSection) {
    Choices choices;
    choices.toggleFavourite("orchard", "warden");
    choices.noteUse("orchard", "ripe");
    choices.noteUse("attic", "box");
    EXPECT_THAT(listed(catalog(), "", choices),
                ElementsAre("[Favourites]", "warden", "[Recently used]", "box", "ripe", "[Tables]", "Plot", "plot",
                            "warden", "box", "[Views]", "big_plot", "[Functions]", "ripe"));
    choices.toggleFavourite("orchard", "warden");
    EXPECT_TRUE(choices.favourites.empty());
}

TEST(CatalogListTest, WhatWasUsedLastIsRememberedOnceAndNotForever) {
    Choices choices;
    for (int i = 0; i < 20; ++i) choices.noteUse("orchard", fmt::format("t{}", i));
    choices.noteUse("orchard", "t15");
    EXPECT_EQ(choices.recent.front().second, "t15");
    EXPECT_EQ(choices.recent.size(), 8U);
    EXPECT_EQ(std::ranges::count(choices.recent, "t15", &std::pair<std::string, std::string>::second), 1);
}

TEST(CatalogListTest, HiddenSchemasAndKindsStayOut) {
    Choices choices{.hiddenSchemas = {"attic"}, .hiddenKinds = {ObjectKind::Function, ObjectKind::View}};
    EXPECT_THAT(listed(catalog(), "", choices), ElementsAre("[Tables]", "Plot", "plot", "warden"));
}

TEST(CatalogListTest, TheEnginesOwnSchemasStandApartAtTheEnd) {
    Schema own{.name = "system_things", .isOwn = true, .isLoaded = true};
    own.relations = {relation("system_things", "pages")};
    Schema orchard{.name = "orchard", .isLoaded = true};
    orchard.relations = {relation("orchard", "plot")};
    const Catalog c({}, {std::make_shared<Schema>(std::move(own)), std::make_shared<Schema>(std::move(orchard))});
    EXPECT_THAT(listed(c, ""), ElementsAre("[Tables]", "plot", "[System schema system_things]", "pages"));
}

TEST(CatalogListTest, TheLargestComeFirstWhenThatIsAskedFor) {
    Schema orchard{.name = "orchard", .isLoaded = true};
    orchard.relations = {relation("orchard", "plot"), relation("orchard", "tree"), relation("orchard", "warden")};
    orchard.relations[0].rowEstimate = 40;
    orchard.relations[0].sizeEstimate = 9000;
    orchard.relations[1].rowEstimate = 5000;
    orchard.relations[1].sizeEstimate = 700;
    const Catalog c({}, {std::make_shared<Schema>(std::move(orchard))});
    EXPECT_THAT(listed(c, "", {.order = ListOrder::Rows}), ElementsAre("[Tables]", "tree", "plot", "warden"));
    EXPECT_THAT(listed(c, "", {.order = ListOrder::Size}), ElementsAre("[Tables]", "plot", "tree", "warden"));
}

TEST(CatalogListTest, ColumnsAreListedBelowTheirTables) {
    EXPECT_THAT(listed(catalog(), "ward"), ElementsAre("[Names]", "warden", "[Columns]", "plot", "  warden_id"));
    EXPECT_THAT(listed(catalog(), "zzz"), ElementsAre());
}

TEST(CatalogListTest, BeginningsOfWordsAreEnough) {
    EXPECT_THAT(listed(catalog(), "bp"), ElementsAre("[Names]", "big_plot"));
    EXPECT_THAT(listed(catalog(), "wi"), ElementsAre("[Columns]", "plot", "  warden_id"));
    EXPECT_THAT(listed(catalog(), "lo"), ElementsAre()) << "two letters in the middle of a word are none";
    EXPECT_THAT(listed(catalog(), "lot"), ElementsAre("[Names]", "Plot", "plot", "big_plot"));
    EXPECT_THAT(listed(catalog(), "attic.b"), ElementsAre("[Names]", "box")) << "the schema before the dot";
    EXPECT_THAT(listed(catalog(), "attic."), ElementsAre("[Names]", "box"));
}

TEST(CatalogListTest, CommentsAndTextsTellWhereTheyWereFound) {
    Schema orchard{.name = "orchard", .isLoaded = true};
    orchard.relations = {relation("orchard", "plot", ObjectKind::Table, {"leased"}),
                         relation("orchard", "ripe_now", ObjectKind::View)};
    orchard.relations[0].comment = "A piece of ground\nwith frost pockets";
    orchard.relations[0].columns[0].comment = "frost clause included";
    const Catalog c({}, {std::make_shared<Schema>(std::move(orchard))});
    const std::vector<SourceText> sources{
        {.object = {.kind = ObjectKind::View, .schema = "orchard", .name = "ripe_now"},
         .text = "SELECT *\n  FROM frost_alert\nWHERE ripe"},
        {.object = {.kind = ObjectKind::Table, .schema = "orchard", .name = "plot"},
         .part = "trigger note_it",
         .text = "BEGIN INSERT INTO frost_alert"}};
    EXPECT_THAT(listed(c, "FROST", {}, sources),
                ElementsAre("[Comments]", "plot", "with frost pockets", "leased: frost clause included", "[Texts]",
                            "ripe_now", "FROM frost_alert", "plot", "trigger note_it: BEGIN INSERT INTO frost_alert"));
}

TEST(CatalogListTest, OfVeryManyHitsTheRestIsCounted) {
    Schema orchard{.name = "orchard", .isLoaded = true};
    for (int i = 0; i < 1000; ++i)
        orchard.relations.push_back(relation("orchard", fmt::format("plot_{}", i), ObjectKind::Table, {"note"}));
    const Catalog c({}, {std::make_shared<Schema>(std::move(orchard))});
    const auto rows = listed(c, "plot");
    EXPECT_EQ(rows.size(), 402U);
    EXPECT_EQ(rows.back(), "and 600 more; another letter narrows it");
    EXPECT_EQ(listed(c, "note").back(), "and 850 tables more; another letter narrows it");
}

TEST(CatalogListTest, SeveralPlacesAreListedTogether) {
    Schema kitchen{.name = "kitchen", .isLoaded = true};
    kitchen.relations = {relation("kitchen", "ward_jar")};
    const auto other = std::make_shared<const Catalog>(Catalog({}, {std::make_shared<Schema>(std::move(kitchen))}));
    const auto own = std::make_shared<const Catalog>(catalog());  // rows point into them
    const auto rows =
        listCatalog({{.label = "Orchard", .catalog = own}, {.label = "Kitchen", .catalog = other}}, {"ward"});
    EXPECT_THAT(words(rows), ElementsAre("[Names]", "warden", "ward_jar", "[Columns]", "plot", "  warden_id"));
    EXPECT_EQ(rows[1].place, 0U);
    EXPECT_EQ(rows[2].place, 1U);
}

TEST(CatalogListTest, WhereThereIsSomethingElsewhereIsTold) {
    Schema closed{.name = "closed", .isLoaded = true, .forbidden = 3};
    Schema unread{.name = "unread"};
    Schema attic{.name = "attic", .isLoaded = true};
    attic.relations = {relation("attic", "box"), relation("attic", "box_old"),
                       relation("attic", "boxes", ObjectKind::View)};
    const Catalog c(
        {}, {std::make_shared<Schema>(closed), std::make_shared<Schema>(unread), std::make_shared<Schema>(attic)});
    const ListedPlace hidden{.catalog = std::make_shared<const Catalog>(c), .choices = {.hiddenSchemas = {"attic"}}};
    const auto elsewhere = foundElsewhere({hidden}, {"box"});
    ASSERT_EQ(elsewhere.size(), 3U);
    EXPECT_EQ(elsewhere[0].where, Elsewhere::Where::HiddenSchema);
    EXPECT_EQ(elsewhere[0].count, 3U);
    EXPECT_EQ(elsewhere[1].where, Elsewhere::Where::Forbidden);
    EXPECT_EQ(elsewhere[2].where, Elsewhere::Where::UnreadSchema);
    const ListedPlace views{.catalog = std::make_shared<const Catalog>(c),
                            .choices = {.hiddenKinds = {ObjectKind::View}}};
    EXPECT_EQ(foundElsewhere({views}, {"boxes"}).front().kind, ObjectKind::View);
}

TEST(CatalogListTest, FavouritesFollowTablesAndSchemasThatGetAnotherName) {
    const auto made = [](const std::string& schema, const std::string& name, std::uint64_t age) {
        Relation r = relation(schema, name, ObjectKind::Table, {"id", "note"});
        r.age = age;
        return r;
    };
    Schema first{.name = "orchard", .isLoaded = true};
    first.relations = {made("orchard", "plot", 16), made("orchard", "tree", 17)};
    Schema second{.name = "grove", .isLoaded = true};
    second.relations = {made("grove", "field", 16), made("grove", "tree", 17), made("grove", "new", 40)};
    const Catalog before({}, {std::make_shared<Schema>(std::move(first))});
    const Catalog after({}, {std::make_shared<Schema>(std::move(second))});
    Choices choices{.hiddenSchemas = {"orchard"},
                    .favourites = {{"orchard", "plot"}, {"orchard", "gone"}},
                    .recent = {{"orchard", "tree"}}};
    followRenames(choices, before, after);
    EXPECT_THAT(choices.favourites, ElementsAre(std::pair("grove", "field"), std::pair("orchard", "gone")));
    EXPECT_THAT(choices.recent, ElementsAre(std::pair("grove", "tree")));
    EXPECT_THAT(choices.hiddenSchemas, ElementsAre("grove"));
}

TEST(OverviewTest, TheLargestNewestEmptyAndKeylessAreTold) {
    const auto made = [](const std::string& name, std::int64_t rows, std::uint64_t age, bool hasKey) {
        Relation r = relation("orchard", name);
        r.rowEstimate = rows;
        r.age = age;
        r.columns.push_back({.name = "id", .keyPosition = hasKey ? 1 : 0});
        return r;
    };
    Schema orchard{.name = "orchard", .isLoaded = true};
    orchard.relations = {made("plot", 24, 1, true), made("tree", 1640, 3, true), made("note", 0, 2, false),
                         relation("orchard", "old", ObjectKind::View)};
    orchard.relations[1].foreignKeys.push_back(
        {.name = "k", .columns = {"id"}, .schema = "orchard", .relation = "plot"});
    Schema own{.name = "system_things", .isOwn = true, .isLoaded = true};
    own.relations = {made("pages", 9000, 9, true)};
    const Catalog c({}, {std::make_shared<Schema>(std::move(orchard)), std::make_shared<Schema>(std::move(own))});
    const auto names = [](const std::vector<const Relation*>& list) {
        std::vector<std::string> out;
        for (const Relation* one : list) out.push_back(one->name);
        return out;
    };
    const Overview overview = overviewOf(c, {}, 2);
    EXPECT_EQ(overview.rows, 1664) << "the engine's own are not the user's";
    EXPECT_THAT(names(overview.largest), ElementsAre("tree", "plot"));
    EXPECT_THAT(names(overview.newest), ElementsAre("tree", "note"));
    EXPECT_THAT(names(overview.empty), ElementsAre("note"));
    EXPECT_THAT(names(overview.withoutKey), ElementsAre("note"));
    EXPECT_THAT(names(overview.alone), ElementsAre("note"));
    EXPECT_THAT(overview.counts, ElementsAre(std::pair(ObjectKind::Table, 3U), std::pair(ObjectKind::View, 1U)));
    EXPECT_EQ(overviewOf(c, "system_things", 5).rows, 9000);
}

TEST(NamedObjectTest, ANameMeansWhatItsPartsSay) {
    Schema odd{.name = "odd.one", .isLoaded = true};
    odd.relations = {relation("odd.one", "a.b")};
    odd.objects = {{.schema = "odd.one", .name = "f", .kind = ObjectKind::Function, .signature = "integer"},
                   {.schema = "odd.one", .name = "f", .kind = ObjectKind::Function, .signature = "text"}};
    const Catalog c({.searchPath = {"main"}}, {std::make_shared<Schema>(std::move(odd))});
    EXPECT_EQ(objectNamed(c, "\"odd.one\".\"a.b\"").value().name, "a.b");
    EXPECT_EQ(objectNamed(c, "odd.one.a.b").value().name, "a.b");
    EXPECT_EQ(objectNamed(c, "odd.one.f(text)").value().signature, "text");
    EXPECT_EQ(objectNamed(c, "f").error().kind, ErrorKind::InvalidInput);
    EXPECT_THAT(objectNamed(c, "f").error().hint, testing::HasSubstr("odd.one.f(integer)"));
    EXPECT_EQ(objectNamed(c, "nothing").error().kind, ErrorKind::NotFound);
    EXPECT_EQ(objectNamed(catalog(), "Plot").value().name, "Plot");
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
