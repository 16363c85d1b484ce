#include "core/db/places_on_server.h"

#include <fmt/format.h>

#include "core/db/driver.h"
#include "core/db/drivers/odbc/driver.h"
#include "core/db/engine_traits.h"

namespace pantry::db {
namespace {

/// Keeps the first column as text.
class FirstColumn final : public RowSink {
public:
    void columns(std::vector<data::Column> /*columns*/) override {}
    void notice(const Notice& /*notice*/) override {}
    bool rows(data::ChunkPtr chunk, bool /*isLast*/) override {
        for (std::size_t row = 0; row < chunk->rowCount(); ++row) texts.push_back(data::toText(chunk->cell(row, 0)));
        return true;
    }
    std::size_t rowsWanted() const override { return 8192; }
    bool isHandOverDue() const override { return false; }

    std::vector<std::string> texts;
};

}  // namespace

Result<std::vector<std::string>> placesOnServer(const ConnectionProfile& profile,
                                                const std::optional<std::string>& password,
                                                const base::Cancellation& cancellation) {
    const EngineTraits& traits = traitsOf(profile.engine);
    if (traits.place == PlaceKind::Source) return odbcSources();
    if (traits.place == PlaceKind::File) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = fmt::format("A database of {} is a file.", traits.name),
                     .hint = "Choose it."};
    }
    auto driver = driverFor(profile.engine);
    if (!driver) return driver.error();
    ConnectionProfile there = profile;
    there.onConnect.clear();
    if (traits.schemasAreDatabases) there.database.clear();
    auto link = (*driver)->open(there, password, cancellation);
    if (!link && link.error().kind == ErrorKind::NotFound && !traits.firstDatabase.empty()) {
        there.database = traits.firstDatabase;
        link = (*driver)->open(there, password, cancellation);
    }
    if (!link) return link.error();
    FirstColumn names;
    const auto read = (*link)->run(traits.databasesQuery, names, cancellation);
    if (!read) return read.error();
    return std::move(names.texts);
}

}  // namespace pantry::db
