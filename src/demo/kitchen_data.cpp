#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "demo/demo_data.h"
#include "demo/demo_world.h"
#include "demo/random.h"
#include "demo/table_loader.h"

namespace pantry::demo {
namespace {

constexpr const char* kKitchenSchema = R"(
CREATE TABLE ingredient (
    ingredient_id INTEGER PRIMARY KEY,
    name          TEXT NOT NULL UNIQUE,
    unit          TEXT NOT NULL,
    price         DECIMAL(10, 4)
);
CREATE TABLE recipe (
    recipe_id     INTEGER PRIMARY KEY,
    name          TEXT NOT NULL,
    kind          TEXT NOT NULL,
    sugar_target  REAL,
    method        TEXT,
    UNIQUE (name)
);
CREATE TABLE recipe_ingredient (
    recipe_id     INTEGER NOT NULL REFERENCES recipe (recipe_id),
    ingredient_id INTEGER NOT NULL REFERENCES ingredient (ingredient_id),
    amount        DECIMAL(10, 3) NOT NULL,
    PRIMARY KEY (recipe_id, ingredient_id)
) WITHOUT ROWID;
CREATE TABLE jar_type (
    jar_type_id   INTEGER PRIMARY KEY,
    name          TEXT NOT NULL,
    volume_ml     INTEGER NOT NULL,
    deposit       DECIMAL(6, 2) NOT NULL DEFAULT '0.00'
);
CREATE TABLE kettle_run (
    run_id        INTEGER PRIMARY KEY,
    recipe_id     INTEGER NOT NULL REFERENCES recipe (recipe_id),
    started_at    TIMESTAMP NOT NULL,
    ended_at      TIMESTAMP,
    kettle        TEXT NOT NULL,
    yield_kg      DECIMAL(8, 2)
);
CREATE TABLE batch (
    batch_id      INTEGER PRIMARY KEY,
    run_id        INTEGER NOT NULL REFERENCES kettle_run (run_id),
    jar_type_id   INTEGER NOT NULL REFERENCES jar_type (jar_type_id),
    code          TEXT NOT NULL UNIQUE,
    jars          INTEGER NOT NULL,
    best_before   DATE,
    label         JSON,
    label_picture BLOB
);
CREATE TABLE stock_move (
    move_id       INTEGER PRIMARY KEY,
    batch_id      INTEGER NOT NULL REFERENCES batch (batch_id),
    moved_at      TIMESTAMP NOT NULL,
    jars          INTEGER NOT NULL,  -- negative when they leave the store
    reason        TEXT
);
CREATE TABLE stall (
    stall_id      INTEGER PRIMARY KEY,
    name          TEXT NOT NULL,
    weekday       SMALLINT
);
CREATE TABLE stall_sale (
    sale_id       INTEGER PRIMARY KEY,
    stall_id      INTEGER NOT NULL REFERENCES stall (stall_id),
    batch_id      INTEGER NOT NULL REFERENCES batch (batch_id),
    sold_on       DATE NOT NULL,
    jars          INTEGER NOT NULL CHECK (jars > 0),
    price         DECIMAL(8, 2) NOT NULL
);
CREATE INDEX stall_sale_by_batch ON stall_sale (batch_id, sold_on);
CREATE INDEX stock_move_by_batch ON stock_move (batch_id);
CREATE VIEW jars_left AS
SELECT b.batch_id, b.code, r.name AS recipe, b.jars - coalesce(sum(s.jars), 0) AS jars_left
FROM batch AS b JOIN kettle_run AS k USING (run_id) JOIN recipe AS r USING (recipe_id)
LEFT JOIN stall_sale AS s ON s.batch_id = b.batch_id
GROUP BY b.batch_id;
CREATE VIEW takings_by_month AS
SELECT substr(sold_on, 1, 7) AS month, round(sum(jars * price), 2) AS takings, sum(jars) AS jars
FROM stall_sale GROUP BY 1;
CREATE TRIGGER sale_leaves_the_store AFTER INSERT ON stall_sale
WHEN new.sold_on > '2026-11-17'
BEGIN
    INSERT INTO stock_move (batch_id, moved_at, jars, reason)
    VALUES (new.batch_id, new.sold_on || ' 18:00:00', -new.jars, 'sold');
END;
)";

struct RecipeFact {
    const char* name;
    const char* kind;
    double sugar;
};
constexpr RecipeFact kRecipes[] = {{"Quarry Plum Jam", "jam", 55},
                                   {"Saltmarsh Apple Butter", "butter", 38},
                                   {"Rowan & Crab Jelly", "jelly", 60},
                                   {"Medlar Cheese", "cheese", 58},
                                   {"Pear and Ginger Chutney", "chutney", 30},
                                   {"Quince Paste “Luna”", "paste", 62},
                                   {"Green Tomato Relish", "relish", 22},
                                   {"Damson Ketchup", "ketchup", 26},
                                   {"Blackberry Bramble", "jam", 52},
                                   {"Honey Pippin Curd", "curd", 35},
                                   {"Wild Cherry Syrup", "syrup", 64},
                                   {"Elderflower Jelly", "jelly", 57}};
constexpr const char* kIngredients[] = {
    "plum",       "apple",        "rowan berry", "medlar",      "pear",  "quince",  "green tomato", "damson",
    "blackberry", "honey",        "wild cherry", "elderflower", "sugar", "pectin",  "lemon",        "ginger",
    "vinegar",    "mustard seed", "egg",         "butter",      "salt",  "cinnamon"};
constexpr const char* kStalls[] = {"Larkspur Market", "Mill Bridge", "Harbour Steps", "Saturday Shed", "Abbey Gate"};
constexpr const char* kKettles[] = {"Old Copper", "Big Bess", "Small Steel"};

constexpr int kBatches = 180;
constexpr int kFastTwin = 41;  // two batches from one kettle run:
constexpr int kSlowTwin = 42;  // the second sells at a third of the pace

class KitchenWriter {
public:
    explicit KitchenWriter(TableLoader& loader) : loader_(loader) {}

    void write() {
        loader_.execute(kKitchenSchema);
        basics();
        recipes();
        runsAndBatches();
        moves();
        sales();
    }

private:
    void basics() {
        for (std::size_t i = 0; i < std::size(kIngredients); ++i) {
            const Value price =
                i == 20 ? Value() : Value(fmt::format("{}.{:04}", random_.between(0, 9), random_.between(0, 9999)));
            loader_.insert("ingredient", {std::int64_t(i + 1), std::string(kIngredients[i]),
                                          std::string(i == 18 ? "piece" : "kg"), price});
        }
        constexpr int kVolumes[] = {110, 210, 330, 500, 770};
        for (std::size_t i = 0; i < std::size(kVolumes); ++i) {
            loader_.insert("jar_type",
                           {std::int64_t(i + 1), fmt::format("{} ml {}", kVolumes[i], i % 2 == 0 ? "round" : "hexagon"),
                            std::int64_t(kVolumes[i]), amountText(i < 2 ? 0 : 15)});
        }
        for (std::size_t i = 0; i < std::size(kStalls); ++i) {
            loader_.insert(
                "stall", {std::int64_t(i + 1), std::string(kStalls[i]), i == 3 ? Value() : Value(std::int64_t(i + 2))});
        }
    }

    void recipes() {
        for (std::size_t i = 0; i < std::size(kRecipes); ++i) {
            const auto id = std::int64_t(i + 1);
            loader_.insert("recipe",
                           {id, std::string(kRecipes[i].name), std::string(kRecipes[i].kind), kRecipes[i].sugar,
                            i == 6 ? Value()
                                   : Value("Wash, stone and weigh the fruit.\nSimmer until soft; add the sugar "
                                           "warm.\nTest on a cold plate: it’s done when it \"wrinkles\".")});
            for (const int ingredient : {int(i) + 1, 13, 14 + random_.between(0, 8)}) {
                loader_.insert("recipe_ingredient",
                               {id, std::int64_t(ingredient),
                                fmt::format("{}.{:03}", random_.between(0, 12), random_.between(1, 999))});
            }
        }
    }

    void runsAndBatches() {
        constexpr std::uint32_t kColours[] = {0x8C2F57, 0xC98A14, 0xB93A2B, 0x8A5A32, 0x5D7F4E, 0x2A6B6B};
        for (int i = 1; i <= kBatches; ++i) {
            const int run = i == kSlowTwin ? kFastTwin : i;
            const int recipe = run % int(std::size(kRecipes)) + 1;
            const std::int64_t start = (std::int64_t(kLastDay) - 560 + run * 3) * 86400 + random_.between(7, 11) * 3600;
            if (run == i) {
                const bool isOpen = i == kBatches;  // still on the fire
                loader_.insert("kettle_run", {std::int64_t(run), std::int64_t(recipe), timeText(start),
                                              isOpen ? Value() : Value(timeText(start + random_.between(80, 260) * 60)),
                                              std::string(random_.pick(kKettles)),
                                              isOpen ? Value() : Value(amountText(random_.between(1800, 9000)))});
            }
            const std::string label = fmt::format(
                R"({{"title": "{}", "batch": {}, "allergens": {}, "nutrition": {{"sugar": {}, "salt": 0.01}}}})",
                kRecipes[recipe - 1].name, i, i % 5 == 0 ? R"(["mustard"])" : "[]", kRecipes[recipe - 1].sugar);
            loader_.insert("batch", {std::int64_t(i), std::int64_t(run), std::int64_t(random_.between(1, 5)),
                                     fmt::format("LV-{:03}{}", run, i == kSlowTwin ? "B" : "A"),
                                     std::int64_t(i == kFastTwin || i == kSlowTwin ? 240 : random_.between(60, 320)),
                                     dateText(int(start / 86400) + 540), random_.chance(0.1) ? Value() : Value(label),
                                     random_.chance(0.3) ? Value() : Value(Blob{labelPicture(kColours[i % 6], 32)})});
        }
    }

    void moves() {
        std::int64_t id = 0;
        for (int batch = 1; batch <= kBatches; ++batch) {
            const std::int64_t day = std::int64_t(kLastDay) - 555 + batch * 3;
            loader_.insert("stock_move", {++id, std::int64_t(batch), timeText(day * 86400 + 50'000),
                                          std::int64_t(random_.between(60, 320)), std::string("filled")});
            for (int n = random_.between(0, 4); n > 0; --n) {
                const Value reason =
                    random_.chance(0.2) ? Value() : Value(random_.chance(0.9) ? "to the stall" : "broken");
                loader_.insert("stock_move",
                               {++id, std::int64_t(batch), timeText((day + random_.between(5, 90)) * 86400 + 30'000),
                                std::int64_t(-random_.between(6, 48)), reason});
            }
        }
    }

    void sales() {
        std::int64_t id = 0;
        for (int day = kLastDay - 540; day <= kLastDay; ++day) {
            for (int n = random_.between(3, 9); n > 0; --n) {
                const int newest = std::min(kBatches, (day - kLastDay + 555) / 3);
                if (newest < 1) continue;
                int batch = random_.between(std::max(1, newest - 30), newest);
                if (batch == kSlowTwin && random_.chance(0.67)) batch = kFastTwin;
                loader_.insert("stall_sale",
                               {++id, std::int64_t(random_.between(1, 5)), std::int64_t(batch), dateText(day),
                                std::int64_t(random_.between(1, 6)), amountText(random_.between(280, 890))});
            }
        }
    }

    TableLoader& loader_;
    Random random_{4104};
};

}  // namespace

Status writeKitchen(const std::filesystem::path& file) {
    TableLoader loader(file);
    KitchenWriter(loader).write();
    return loader.finish();
}

}  // namespace pantry::demo
