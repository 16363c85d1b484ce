#pragma once

#include <cstddef>
#include <cstdint>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <utility>

#include "core/base/time.h"
#include "core/catalog/catalog.h"
#include "core/data/store/result_set.h"
#include "core/db/session.h"
#include "core/sql/define/scripts.h"
#include "core/sql/meaning/catalog_changes.h"
#include "core/sql/meaning/statement.h"
#include "core/store/catalog_choices_file.h"
#include "core/store/defined_file.h"
#include "core/work/connections.h"
#include "core/work/owner_thread.h"
#include "core/work/surroundings.h"

namespace pantry::work {

/// How far the reading of a catalog has come.
struct CatalogProgress {
    std::string part;  ///< what is read now, such as “columns”
    std::size_t number = 0;
    std::size_t all = 0;
};

/// What is known of a database's catalog.
struct CatalogState {
    catalog::CatalogPtr catalog;  ///< the last one read; may be null
    bool isLoading = false;
    std::optional<CatalogProgress> progress;
    std::optional<Error> error;  ///< why the last reading failed
    base::Moment readAt{};       ///< when the catalog at hand was read
};

/// Texts of objects; shared, since nobody changes them.
using SourcesPtr = std::shared_ptr<const std::vector<catalog::SourceText>>;

/// The catalogs of connections, of each of their databases that is looked at; an empty database means the connection's
/// own. They are read on connections of their own, so that no sheet's transaction is touched and none waits for a
/// query.
///
/// Threads: the owner's; what is told comes there, and none of it once the catalogs are gone.
class Catalogs {
public:
    struct Told {
        std::function<void(const std::string& connection)> changed;
        std::function<void(const std::string& connection)> progressed;
        /// A place was read for the first time.
        std::function<void(const std::string& connection, const catalog::Catalog& catalog)> connected;
    };
    Catalogs(Surroundings& around, Connections& connections, Told told);

    /// Reads what is chosen to be seen; a small file, for the start of the program.
    void open();

    [[nodiscard]] CatalogState state(const std::string& connection, const std::string& database = {}) const;
    /// Reads the catalog unless it is there or on its way, once somebody has begun with the connection.
    void want(const std::string& connection, const std::string& database = {});
    /// Reads the catalog again, or only what has changed in it.
    void load(const std::string& connection, const std::string& database = {}, const sql::CatalogChanges& changes = {});
    /// A statement has defined something: its catalog is read again where it is known, here and by whoever else has
    /// this home open.
    void noteDefined(const std::string& connection, const std::string& database, const sql::CatalogChanges& changes);
    /// What others have defined, as their file says; what is new of it is read again.
    void takeDefined(const std::vector<store::DefinedPlace>& places);
    /// Stops reading; what was there before stays.
    void stop(const std::string& connection, const std::string& database = {});
    /// The connection leads elsewhere now, or nowhere.
    void forget(const std::string& connection);

    /// What is chosen to be seen of a catalog.
    [[nodiscard]] catalog::Choices choices(const std::string& connection, const std::string& database = {}) const;
    void changeChoices(const std::string& connection, const std::string& database,
                       const std::function<void(catalog::Choices&)>& change);

    /// Reads the statements that make an object.
    void readDefinition(const std::string& connection, const std::string& database, const catalog::ObjectName& object,
                        std::function<void(Result<catalog::Definition>)> done);
    /// Reads what is known of an object beyond the catalog.
    void readDetails(const std::string& connection, const std::string& database, const catalog::ObjectName& object,
                     std::function<void(Result<catalog::ObjectDetails>)> done);
    /// Writes a script for objects of a place, with names as a session sees them that looks into the place's own
    /// schemas first. `to`: the dialect of the script. Errors: those of the server, and InvalidInput where there is no
    /// such script.
    void writeScript(const std::string& connection, const std::string& database, sql::ScriptKind kind,
                     const std::vector<catalog::ObjectName>& objects, sql::Dialect to,
                     std::function<void(Result<std::string>)> done);
    /// The texts of all views, routines and triggers of the schemas that were read; kept until the catalog is read
    /// again.
    void readSources(const std::string& connection, const std::string& database,
                     std::function<void(Result<SourcesPtr>)> done);

    /// Runs a query that reads. At most so many rows; gives up after some seconds.
    void readRows(const std::string& connection, const std::string& database, const sql::Statement& query,
                  std::size_t most, std::function<void(Result<data::ResultSetPtr>)> done);
    /// The same for a query that answers with a number.
    void count(const std::string& connection, const std::string& database, const sql::Statement& query,
               std::function<void(Result<std::int64_t>)> done);

    /// Runs a query that reads on a connection of its own, however long it takes; the handle stops it.
    db::RunHandle readAtLength(const std::string& connection, const std::string& database, const sql::Statement& query,
                               std::size_t most, std::function<void(Result<data::ResultSetPtr>)> done);
    /// Counts the rows of a table or view so.
    db::RunHandle countAll(const std::string& connection, const std::string& database, const catalog::ObjectName& table,
                           std::function<void(Result<std::int64_t>)> done);

private:
    using Place = std::pair<std::string, std::string>;  // a connection, and its database when that is not its own

    [[nodiscard]] bool isKnown(const std::string& connection, const std::string& database) const;
    [[nodiscard]] Place placeOf(const std::string& connection, const std::string& database) const;
    [[nodiscard]] std::shared_ptr<db::Session> sessionAt(const std::string& connection, const std::string& database);
    void noteRead(const std::string& connection, const std::string& database,
                  const Result<catalog::CatalogPtr>& result);

    Surroundings& around_;
    Connections& connections_;
    Told told_;
    store::AllCatalogChoices choices_;
    std::map<Place, CatalogState> states_;
    std::map<Place, db::RunHandle> runs_;
    std::map<Place, sql::CatalogChanges> laterReads_;  // asked for while a reading was on its way
    std::map<Place, std::shared_ptr<db::Session>> sessions_;
    std::map<Place, SourcesPtr> sources_;
    base::Moment takenAt_ = base::now();  // until when the definitions of others are known
    WhileThere whileThere_;
};

}  // namespace pantry::work
