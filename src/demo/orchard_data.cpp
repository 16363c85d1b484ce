#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "demo/demo_data.h"
#include "demo/demo_world.h"
#include "demo/random.h"
#include "demo/table_loader.h"

namespace pantry::demo {
namespace {

constexpr const char* kOrchardSchema = R"(
CREATE TABLE warden (
    warden_id   INTEGER PRIMARY KEY,
    full_name   TEXT NOT NULL,
    phone       TEXT,
    joined_on   DATE NOT NULL,
    is_active   BOOLEAN NOT NULL DEFAULT 1
);
CREATE TABLE variety (
    variety_id  INTEGER PRIMARY KEY,
    name        TEXT NOT NULL UNIQUE,
    fruit       TEXT NOT NULL CHECK (fruit IN ('apple', 'pear', 'plum', 'quince', 'medlar')),
    blossom_week SMALLINT,
    keeps_weeks SMALLINT,
    remark      TEXT
);
CREATE TABLE plot (  -- a piece of ground with a name of its own
    plot_id     INTEGER PRIMARY KEY,
    name        TEXT NOT NULL UNIQUE,
    hectares    DECIMAL(6, 3) NOT NULL,
    slope       TEXT,
    leased_until DATE,
    lead_warden_id INTEGER REFERENCES warden (warden_id)
);
CREATE TABLE tree (
    tree_id     INTEGER PRIMARY KEY,
    plot_id     INTEGER NOT NULL REFERENCES plot (plot_id),
    variety_id  INTEGER NOT NULL REFERENCES variety (variety_id),
    row_no      SMALLINT NOT NULL,
    place_no    SMALLINT NOT NULL,
    planted_on  DATE,
    felled_on   DATE,
    tag         BIGINT UNIQUE,  -- number on the metal tag
    UNIQUE (plot_id, row_no, place_no)
);
CREATE TABLE inspection (
    inspection_id INTEGER PRIMARY KEY,
    tree_id     INTEGER NOT NULL REFERENCES tree (tree_id),
    warden_id   INTEGER NOT NULL REFERENCES warden (warden_id),
    visited_on  DATE NOT NULL,
    fruit_count SMALLINT,
    scab_score  INTEGER CHECK (scab_score BETWEEN 0 AND 10),
    remark      TEXT
);
CREATE TABLE treatment (
    treatment_id INTEGER PRIMARY KEY,
    inspection_id INTEGER REFERENCES inspection (inspection_id),
    plot_id     INTEGER NOT NULL REFERENCES plot (plot_id),
    treated_on  DATE NOT NULL,
    agent       TEXT NOT NULL,
    dose_ml     DECIMAL(8, 2),
    cost        DECIMAL(10, 2)
);
CREATE TABLE frost_alert (
    alert_id    INTEGER PRIMARY KEY,
    plot_id     INTEGER NOT NULL REFERENCES plot (plot_id),
    raised_at   TIMESTAMP NOT NULL,
    lowest_c    REAL NOT NULL,
    answered_by INTEGER REFERENCES warden (warden_id)
);
CREATE TABLE picking (
    picking_id  INTEGER PRIMARY KEY,
    tree_id     INTEGER NOT NULL REFERENCES tree (tree_id) ON DELETE CASCADE,
    picked_on   DATE NOT NULL,
    weight_kg   DECIMAL(8, 2) NOT NULL,
    grade       TEXT,
    picker      TEXT
);
CREATE INDEX inspection_by_tree ON inspection (tree_id, visited_on);
CREATE INDEX inspection_by_day ON inspection (visited_on);
CREATE INDEX picking_by_day ON picking (picked_on);
CREATE INDEX tree_by_plot ON tree (plot_id);
CREATE VIEW plot_health AS
SELECT p.plot_id, p.name, count(*) AS visits, round(avg(i.scab_score), 2) AS mean_scab, max(i.visited_on) AS last_visit
FROM plot AS p JOIN tree AS t USING (plot_id) JOIN inspection AS i USING (tree_id)
GROUP BY p.plot_id;
CREATE VIEW harvest_by_month AS
SELECT substr(picked_on, 1, 7) AS month, v.fruit, sum(weight_kg) AS weight_kg, count(*) AS pickings
FROM picking JOIN tree AS t USING (tree_id) JOIN variety AS v USING (variety_id)
GROUP BY 1, 2;
CREATE TRIGGER tree_not_in_the_future BEFORE INSERT ON tree
WHEN new.planted_on > '2027-12-31'
BEGIN
    SELECT raise(ABORT, 'a tree cannot be planted that late');
END;
CREATE TRIGGER felled_trees_rest AFTER UPDATE OF felled_on ON tree
WHEN new.felled_on IS NOT NULL
BEGIN
    DELETE FROM picking WHERE tree_id = new.tree_id AND picked_on > new.felled_on;
END;
)";

constexpr const char* kPlots[] = {"Saltmarsh",    "Quarry Field", "Old Railway", "Alder Bank",    "Heath End",
                                  "Mill Orchard", "Fen Corner",   "Long Acre",   "Chapel Piece",  "Wren's Hollow",
                                  "Bell Meadow",  "Sluice Side",  "Top Terrace", "Limekiln",      "Sheepwash",
                                  "Nettle Yard",  "Hazel Strip",  "Moon Field",  "Little Egypt",  "Ferry Bank",
                                  "Cuckoo Pen",   "Stony Rise",   "Ford Garden", "Larkspur Green"};

constexpr const char* kWardens[] = {
    "Ines Halloway",   "Tobias Renn",     "Maud Okafor",     "Piet Aldous",   "Siân O’Dair",   "Bram \"Bee\" Castell",
    "Lotte Wray",      "Yusuf Penhale",   "Greta Lindqvist", "Oswin Tarrant", "Νεφέλη Δρόσου", "Ada Quill",
    "Rufus Marsh",     "שירה לוי",        "Hedy Brook",      "Colm Farrow",   "Wanda Sorrel",  "Emil Thwaite",
    "Nora Gale",       "Jory Penrose",    "Tilda Moss",      "Abel Crane",    "Zofia Kestrel", "Finn Orchardson",
    "Iris Dunnock",    "Kwame Holt",      "Bettina Rook",    "Sol Whitlock",  "Mina Harrow",   "Edgar Vetch",
    "Una Pike",        "Leif Sallow",     "Pearl Haddon",    "Casper Yew",    "Dora Finch",    "Milo Garth",
    "Freya Stonecrop", "Oleander Smith 🍎"};

constexpr const char* kVarietyFirst[] = {"Larkspur", "Abbot's", "Winter",      "Red",   "Golden", "Lady",    "Miller's",
                                         "Hollow",   "Early",   "Saint Osyth", "Rough", "Honey",  "Bishop's"};
constexpr const char* kVarietySecond[] = {"Russet", "Pippin", "Keeper", "Beauty", "Blush"};
constexpr const char* kFruits[] = {"apple", "apple", "apple", "pear", "plum", "quince", "medlar"};

constexpr const char* kRemarks[] = {"fine",
                                    "some scab on the lower leaves",
                                    "canker, cut back",
                                    "aphids; ants about",
                                    "bark split\nby frost",
                                    "needs a stake",
                                    "O'Dair says: \"leave it\"",
                                    "wasps 🐝 in the hollow",
                                    "fruit thinned by hand",
                                    "",
                                    "tag missing",
                                    "שורה שלישית",
                                    "50% bitter pit?",
                                    "bird-pecked; net it",
                                    "see photo\tin the shed"};
constexpr const char* kAgents[] = {"lime sulphur", "copper soap", "kaolin", "horsetail tea", "soft soap"};
constexpr const char* kSlopes[] = {"north", "south", "east", "west"};
constexpr const char* kGrades[] = {"I", "I", "II", "juice"};

constexpr int kTrees = 1640;
constexpr int kInspections = 8412;
constexpr int kPickings = 3900;
constexpr int kFirstDay = kLastDay - 980;
constexpr int kSickPlot = 1;  // Saltmarsh, whose scab gets out of hand

/// Fills one orchard database. The live one is the same world some weeks later.
class OrchardWriter {
public:
    OrchardWriter(TableLoader& loader, bool isLive) : loader_(loader), isLive_(isLive) {}

    void write() {
        loader_.execute(kOrchardSchema);
        wardens();
        varieties();
        plots();
        trees();
        inspections();
        treatments();
        frostAlerts();
        pickings();
        if (isLive_) changeSince();
    }

private:
    Value maybe(double nullShare, Value value) { return random_.chance(nullShare) ? Value() : std::move(value); }

    void wardens() {
        for (std::size_t i = 0; i < std::size(kWardens); ++i) {
            const Value phone =
                maybe(0.3, fmt::format("0{} {}", random_.between(20, 99), random_.between(100000, 999999)));
            loader_.insert("warden",
                           {std::int64_t(i + 1), std::string(kWardens[i]), phone,
                            dateText(kFirstDay - random_.between(0, 4000)), std::int64_t(random_.chance(0.85))});
        }
    }

    void varieties() {
        std::int64_t id = 0;
        for (const char* first : kVarietyFirst) {
            for (const char* second : kVarietySecond) {
                if (++id > 61) return;
                loader_.insert("variety", {id, fmt::format("{} {}", first, second), std::string(kFruits[id % 7]),
                                           maybe(0.1, std::int64_t(random_.between(14, 21))),
                                           maybe(0.2, std::int64_t(random_.between(2, 30))),
                                           id == 17 ? Value("Keeps till the cuckoo calls; \"not for cider\".")
                                                    : maybe(0.8, std::string(""))});
            }
        }
    }

    void plots() {
        for (std::size_t i = 0; i < std::size(kPlots); ++i) {
            const Value slope = maybe(0.2, std::string(random_.pick(kSlopes)));
            const Value leased = maybe(0.6, dateText(kLastDay + random_.between(-200, 3000)));
            const Value lead = maybe(0.12, std::int64_t(random_.between(1, 24)));
            loader_.insert(
                "plot", {std::int64_t(i + 1), std::string(kPlots[i]),
                         fmt::format("{}.{:03}", random_.between(0, 4), random_.between(0, 999)), slope, leased, lead});
        }
    }

    void trees() {
        for (int i = 0; i < kTrees; ++i) {
            const int plot = i % static_cast<int>(std::size(kPlots)) + 1;
            const int inPlot = i / static_cast<int>(std::size(kPlots));
            const Value planted = maybe(0.07, dateText(kFirstDay - random_.between(100, 22000)));
            const Value felled = maybe(0.97, dateText(kFirstDay + random_.between(0, 900)));
            // Tags are long: the maker counts over all valleys.
            const Value tag = maybe(0.05, std::int64_t(9'007'199'254'740'993LL + i * 1009LL));
            loader_.insert("tree",
                           {std::int64_t(i + 1), std::int64_t(plot), std::int64_t(random_.between(1, 61)),
                            std::int64_t(inPlot / 12 + 1), std::int64_t(inPlot % 12 + 1), planted, felled, tag});
        }
    }

    /// Scab creeps up everywhere in wet springs; on the sick plot it doubles each season.
    int scabOn(int plot, int day) {
        const double season = static_cast<double>(day - kFirstDay) / 365.0;
        const double base = plot == kSickPlot ? 1.2 * std::pow(2.0, season) : 1.6 + 0.3 * std::sin(season * 6.28);
        return std::clamp(static_cast<int>(std::lround(random_.around(base, 1.3))), 0, 10);
    }

    void inspections() {
        for (int i = 0; i < kInspections; ++i) {
            const int tree = random_.between(1, kTrees);
            const int plot = (tree - 1) % static_cast<int>(std::size(kPlots)) + 1;
            const int day =
                kFirstDay + static_cast<int>(static_cast<std::int64_t>(i) * (kLastDay - kFirstDay) / kInspections);
            Value remark = maybe(0.7, std::string(random_.pick(kRemarks)));
            if (i == 4711) remark = longRemark(100'000);
            if (i == 4712) remark = std::string("a zero\0in the middle", 20);
            loader_.insert("inspection", {std::int64_t(i + 1), std::int64_t(tree), std::int64_t(random_.between(1, 38)),
                                          dateText(day), maybe(0.25, std::int64_t(random_.between(0, 420))),
                                          maybe(0.08, std::int64_t(scabOn(plot, day))), remark});
        }
    }

    void treatments() {
        for (int i = 0; i < 730; ++i) {
            const int plot = random_.chance(0.3) ? kSickPlot : random_.between(1, 24);
            const Value dose = maybe(0.1, amountText(random_.between(500, 250'000)));
            loader_.insert(
                "treatment",
                {std::int64_t(i + 1), maybe(0.4, std::int64_t(random_.between(1, kInspections))), std::int64_t(plot),
                 dateText(kFirstDay + random_.between(0, kLastDay - kFirstDay)), std::string(random_.pick(kAgents)),
                 dose, maybe(0.15, amountText(random_.between(300, 48'000)))});
        }
    }

    void frostAlerts() {
        for (int i = 0; i < 260; ++i) {
            const std::int64_t night = kFirstDay + random_.between(0, 900);
            loader_.insert("frost_alert", {std::int64_t(i + 1), std::int64_t(random_.between(1, 24)),
                                           timeText(night * 86400 + random_.between(0, 6 * 3600)),
                                           std::round(random_.around(-1.8, 1.2) * 10) / 10,
                                           maybe(0.35, std::int64_t(random_.between(1, 38)))});
        }
    }

    /// Harvest is in autumn; the last month is not over.
    void pickings() {
        for (int i = 0; i < kPickings; ++i) {
            const int season = random_.between(0, 2);
            const int day = kLastDay - 95 - season * 365 + random_.between(0, 95);
            loader_.insert("picking",
                           {std::int64_t(i + 1), std::int64_t(random_.between(1, kTrees)), dateText(day),
                            amountText(random_.between(80, 9400)), maybe(0.05, std::string(random_.pick(kGrades))),
                            maybe(0.2, std::string(kWardens[random_.next() % std::size(kWardens)]))});
        }
    }

    /// What some weeks of work did to the live database.
    void changeSince() {
        loader_.execute(R"(
            ALTER TABLE warden ADD COLUMN email TEXT;
            ALTER TABLE inspection ADD COLUMN photo_count SMALLINT NOT NULL DEFAULT 0;
            ALTER TABLE treatment RENAME COLUMN agent TO substance;
            CREATE INDEX treatment_by_plot ON treatment (plot_id, treated_on);
            UPDATE plot SET leased_until = '2031-12-31' WHERE plot_id IN (3, 9, 14);
            UPDATE tree SET felled_on = '2026-11-20' WHERE plot_id = 1 AND tree_id % 17 = 0;
            DELETE FROM frost_alert WHERE alert_id % 29 = 0;
            UPDATE warden SET is_active = 0 WHERE warden_id IN (5, 22);
            INSERT INTO warden VALUES (39, 'Quentin Marrow', NULL, '2026-11-02', 1, 'q.marrow@larkspur.example');
        )");
        for (int i = 0; i < 212; ++i) {
            loader_.execute(fmt::format("INSERT INTO inspection VALUES ({}, {}, {}, '{}', {}, {}, NULL, {})",
                                        kInspections + 1 + i, random_.between(1, kTrees), random_.between(1, 39),
                                        dateText(kLastDay + random_.between(1, 20)), random_.between(0, 60),
                                        random_.between(0, 9), random_.between(0, 3)));
        }
    }

    TableLoader& loader_;
    bool isLive_;
    Random random_{20261123};
};

}  // namespace

Status writeOrchard(const std::filesystem::path& file, bool isLive) {
    TableLoader loader(file);
    OrchardWriter(loader, isLive).write();
    return loader.finish();
}

}  // namespace pantry::demo
