#include <fmt/format.h>

#include <array>

#include "demo/demo_data.h"
#include "demo/table_loader.h"

namespace pantry::demo {

/// A table for each kind of record and year, as old archives grow.
Status writeArchive(const std::filesystem::path& file, int tables) {
    constexpr std::array kFruit{"apple",  "pear",  "plum",   "quince", "medlar",
                                "cherry", "hazel", "walnut", "fig",    "mulberry"};
    constexpr std::array kRecords{"picking", "inspection", "grafting", "pruning",  "frost",
                                  "storage", "sale",       "label",    "delivery", "note"};
    constexpr int kFirstYear = 1900;
    TableLoader loader(file);
    for (int i = 0; i < tables; ++i) {
        const auto at = static_cast<std::size_t>(i);
        const std::string name = fmt::format("{}_{}_{}", kFruit[at % 10], kRecords[at / 10 % 10], kFirstYear + i / 100);
        loader.execute(
            fmt::format("CREATE TABLE {0} ({0}_id INTEGER PRIMARY KEY, plot_id INT NOT NULL, warden TEXT, "
                        "amount DECIMAL(8, 2), noted_on DATE, remark TEXT)",
                        name));
    }
    return loader.finish();
}

}  // namespace pantry::demo
