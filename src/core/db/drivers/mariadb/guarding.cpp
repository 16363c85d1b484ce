// How a connection is closed for changes, and what the catalog tells of functions.
#include <fmt/format.h>

#include "core/base/joined.h"
#include "core/base/text.h"

#include <mysql.h>

#include "core/db/connecting.h"
#include "core/db/drivers/mariadb/link.h"

namespace pantry::db::mariadb {

Status MariaDbLink::setReads(bool reads) {
    const std::string statement = fmt::format("SET SESSION TRANSACTION READ {}", reads ? "ONLY" : "WRITE");
    if (Status status = ask(statement, [](MYSQL_ROW, const unsigned long*) {}); !status) return status;
    sessionReads_ = reads;
    return {};
}

/// The session's next transactions read, each statement on its own being one. A transaction that is open already cannot
/// be closed for changes: there only the look at the statement guards.
Status MariaDbLink::enter(Access access, const base::Cancellation& /*cancellation*/) {
    if (!isUsable()) return {};  // running tells it
    noteTransaction();
    if (state_.transaction != TransactionState::None) return {};
    if (access == Access::Reading && !sessionReads_) {
        if (Status status = setReads(true); !status) return status;
        state_.isLocked = true;
    } else if ((access == Access::Changing || access == Access::Beginning) && sessionReads_) {
        if (Status status = setReads(false); !status) return status;
        isReopened_ = true;
    } else if (access == Access::AsIs && state_.isLocked) {
        if (Status status = setReads(false); !status) return status;
        state_.isLocked = false;
    }
    return {};
}

void MariaDbLink::leave(const base::Cancellation& /*cancellation*/) {
    if (!std::exchange(isReopened_, false) || !connection_) return;
    (void)setReads(true);
}

Result<std::vector<std::string>> MariaDbLink::viewDefinitions(const std::vector<sql::CalledName>& relations) {
    std::vector<std::string> places;
    for (const sql::CalledName& r : relations) {
        const std::string schema = r.schema.empty() ? "DATABASE()" : literal(r.schema);
        places.push_back(fmt::format("(TABLE_SCHEMA = {} AND TABLE_NAME = {})", schema, literal(r.name)));
    }
    std::vector<std::string> definitions;
    const Status status = ask(
        fmt::format("SELECT VIEW_DEFINITION FROM information_schema.VIEWS WHERE ({}) AND TABLE_SCHEMA NOT IN ('sys', "
                    "'mysql', 'information_schema', 'performance_schema')",
                    base::joined(places, " OR ")),
        [&](MYSQL_ROW row, const unsigned long*) { definitions.emplace_back(row[0] == nullptr ? "" : row[0]); });
    if (!status) return status.error();
    return definitions;
}

/// SQL_DATA_ACCESS is what a routine's author declared: it is believed, and the read-only mode stands behind it.
Result<std::string> MariaDbLink::doubtAbout(const sql::PlainReading& statement, const base::Cancellation&) {
    if (!isUsable()) return std::string();
    auto reading = withViews(statement, sql::Language(sql::Dialect::MySql, state_.quotesAreNames, state_.backslash),
                             [this](const auto& relations) { return viewDefinitions(relations); });
    if (!reading) return reading.error();
    if (!reading->isPlain()) return reading->doubt;
    for (const sql::CalledName& call : sql::withoutHarmless(reading->calls, sql::Dialect::MySql)) {
        const std::string schema = call.schema.empty() ? "DATABASE()" : literal(call.schema);
        std::string access;
        const Status status =
            ask(fmt::format("SELECT SQL_DATA_ACCESS FROM information_schema.ROUTINES WHERE ROUTINE_TYPE = 'FUNCTION' "
                            "AND ROUTINE_SCHEMA = {} AND ROUTINE_NAME = {}",
                            schema, literal(call.name)),
                [&](MYSQL_ROW row, const unsigned long*) { access = row[0] == nullptr ? "" : row[0]; });
        if (!status) return status.error();
        if (access.empty()) return notKnownToBeHarmless(call);
        if (access == "READS SQL DATA" || access == "NO SQL") continue;
        return fmt::format("It calls {}(), which may change something: it is declared {}.", call.name, access);
    }
    return std::string();
}

}  // namespace pantry::db::mariadb
