#include <fmt/format.h>

#include <cmath>

#include "demo/demo_data.h"
#include "demo/demo_world.h"
#include "demo/random.h"
#include "demo/table_loader.h"

namespace pantry::demo {
namespace {

constexpr const char* kProbesSchema = R"(
CREATE TABLE probe (
    probe_id     INTEGER PRIMARY KEY,
    place        TEXT NOT NULL,
    measures     TEXT NOT NULL CHECK (measures IN ('temperature', 'sugar', 'acidity', 'humidity')),
    unit         TEXT NOT NULL,
    installed_on DATE NOT NULL,
    firmware     TEXT
);
CREATE TABLE reading (
    reading_id   INTEGER PRIMARY KEY,
    probe_id     INTEGER NOT NULL REFERENCES probe (probe_id),
    taken_at     TIMESTAMP NOT NULL,
    value        REAL,     -- null when the probe did not answer
    quality      SMALLINT NOT NULL DEFAULT 0
);
CREATE TABLE gateway_event (
    event_id     INTEGER PRIMARY KEY,
    happened_at  TIMESTAMP NOT NULL,
    gateway      TEXT NOT NULL,
    payload      JSON NOT NULL
);
CREATE TABLE weather (
    day          DATE PRIMARY KEY,
    low_c        REAL,
    high_c       REAL,
    rain_mm      REAL,
    sky          TEXT
);
CREATE INDEX reading_by_probe ON reading (probe_id, taken_at);
CREATE INDEX reading_by_time ON reading (taken_at);
CREATE VIEW probe_day AS
SELECT probe_id, substr(taken_at, 1, 10) AS day, count(value) AS readings, round(avg(value), 2) AS mean,
       min(value) AS lowest, max(value) AS highest
FROM reading GROUP BY 1, 2;
)";

struct Measure {
    const char* name;
    const char* unit;
    double mean;
    double swing;
};
constexpr Measure kMeasures[] = {
    {"temperature", "°C", 6.5, 2.2}, {"sugar", "°Bx", 48, 9}, {"acidity", "pH", 3.4, 0.2}, {"humidity", "%", 82, 6}};
constexpr const char* kPlaces[] = {"cold store north", "cold store south",   "kettle Old Copper",
                                   "kettle Big Bess",  "kettle Small Steel", "cellar"};
constexpr const char* kSkies[] = {"clear", "cloudy", "rain", "fog", "snow"};

constexpr int kProbes = 24;
constexpr int kDays = 140;
constexpr int kReadingsPerDay = 72;  // every twenty minutes
constexpr int kDriftingProbe = 9;    // reads a little higher every day

class ProbesWriter {
public:
    explicit ProbesWriter(TableLoader& loader) : loader_(loader) {}

    void write() {
        loader_.execute(kProbesSchema);
        for (int i = 1; i <= kProbes; ++i) {
            const Measure& measure = kMeasures[i % 4];
            loader_.insert(
                "probe",
                {std::int64_t(i), std::string(kPlaces[i % 6]), std::string(measure.name), std::string(measure.unit),
                 dateText(kLastDay - kDays - random_.between(10, 600)),
                 i % 7 == 0 ? Value() : Value(fmt::format("2.{}.{}", random_.between(0, 4), random_.between(0, 20)))});
        }
        readings();
        events();
        weather();
    }

private:
    void readings() {
        std::int64_t id = 0;
        for (int day = kLastDay - kDays + 1; day <= kLastDay; ++day) {
            for (int slot = 0; slot < kReadingsPerDay; ++slot) {
                for (int probe = 1; probe <= kProbes; ++probe) {
                    const std::int64_t at = std::int64_t(day) * 86400 + slot * 1200 + probe;
                    const bool isSilent = random_.chance(0.004) || (probe == 5 && day % 31 == 3);
                    loader_.insert("reading", {++id, std::int64_t(probe), timeText(at),
                                               isSilent ? Value() : Value(valueOf(probe, day, slot)),
                                               std::int64_t(isSilent ? 3 : random_.chance(0.02))});
                }
            }
        }
    }

    double valueOf(int probe, int day, int slot) {
        const Measure& measure = kMeasures[probe % 4];
        const double ofDay = std::sin((slot - 24) * 6.2832 / kReadingsPerDay);
        const double drift = probe == kDriftingProbe ? 0.06 * (day - kLastDay + kDays) : 0;
        const double value =
            measure.mean + measure.swing * 0.4 * ofDay + random_.around(0, measure.swing * 0.15) + drift;
        return std::round(value * 100) / 100;
    }

    void events() {
        for (int i = 1; i <= 1800; ++i) {
            const std::int64_t at = (std::int64_t(kLastDay) - kDays) * 86400 + std::int64_t(i) * kDays * 48;
            const int probe = random_.between(1, kProbes);
            loader_.insert(
                "gateway_event",
                {std::int64_t(i), timeText(at), std::string(i % 3 == 0 ? "gw-kitchen" : "gw-cellar"),
                 fmt::format(R"({{"kind": "{}", "probe": {}, "battery": {:.2f}, "neighbours": [{}, {}], "note": {}}})",
                             random_.chance(0.1) ? "reboot" : "heartbeat", probe, 3.0 + random_.fraction(),
                             random_.between(1, kProbes), random_.between(1, kProbes),
                             random_.chance(0.05) ? R"("wet cable \"again\"")" : "null")});
        }
    }

    void weather() {
        for (int day = kLastDay - 730; day <= kLastDay; ++day) {
            const double season = std::cos((day % 365 - 200) * 6.2832 / 365);
            const double low = std::round(random_.around(5 + 7 * season, 2.5) * 10) / 10;
            const bool isLost = random_.chance(0.01);
            loader_.insert("weather", {dateText(day), isLost ? Value() : Value(low),
                                       isLost ? Value() : Value(std::round((low + random_.between(3, 12)) * 10) / 10),
                                       random_.chance(0.55) ? Value(0.0) : Value(random_.between(1, 300) / 10.0),
                                       std::string(random_.pick(kSkies))});
        }
    }

    TableLoader& loader_;
    Random random_{9090};
};

}  // namespace

Status writeProbes(const std::filesystem::path& file) {
    TableLoader loader(file);
    ProbesWriter(loader).write();
    return loader.finish();
}

}  // namespace pantry::demo
