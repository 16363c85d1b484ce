#include "core/db/places_on_server.h"

#include "core/db/driver.h"
#include "core/db/drivers/odbc/driver.h"

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

constexpr std::string_view kPostgresQuery =
    "SELECT datname FROM pg_catalog.pg_database WHERE datallowconn AND NOT datistemplate "
    "AND pg_catalog.has_database_privilege(datname, 'CONNECT') ORDER BY datname";

}  // namespace

Result<std::vector<std::string>> placesOnServer(const ConnectionProfile& profile,
                                                const std::optional<std::string>& password,
                                                const base::Cancellation& cancellation) {
    if (profile.engine == Engine::Odbc) return odbcSources();
    if (profile.engine == Engine::Sqlite) {
        return Error{
            .kind = ErrorKind::InvalidInput, .message = "A database of SQLite is a file.", .hint = "Choose it."};
    }
    auto driver = driverFor(profile.engine);
    if (!driver) return driver.error();
    ConnectionProfile there = profile;
    there.onConnect.clear();
    const bool isPostgres = profile.engine == Engine::Postgres;
    if (!isPostgres) there.database.clear();
    auto link = (*driver)->open(there, password, cancellation);
    if (!link && link.error().kind == ErrorKind::NotFound && isPostgres) {
        there.database = "postgres";
        link = (*driver)->open(there, password, cancellation);
    }
    if (!link) return link.error();
    FirstColumn names;
    const auto read = (*link)->run(isPostgres ? kPostgresQuery : "SHOW DATABASES", {}, names, cancellation);
    if (!read) return read.error();
    return std::move(names.texts);
}

}  // namespace pantry::db
