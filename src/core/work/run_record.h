#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

#include "core/base/error.h"
#include "core/data/store/result_set.h"
#include "core/db/profile.h"
#include "core/db/session.h"
#include "core/sql/meaning/statement.h"
#include "core/store/ledger.h"

/// What the ledger keeps of a run: the same for sheets, exports and the command line.
namespace pantry::work {

/// When it begins. `sheet`: the title of the sheet it runs for; `schema`: where names are looked for first. Both may be
/// empty.
[[nodiscard]] store::RunStart startRecord(const db::ConnectionProfile& profile, const sql::Statement& statement,
                                          const std::string& sheet = {}, const std::string& schema = {});

/// How far a run has come.
struct RunOutcome {
    db::RunSummary summary = {};
    std::optional<std::int64_t> rows = {};  ///< that were read; none for a statement without a result
    std::optional<Error> error = {};
    bool isPartial = false;  ///< more rows are there than were read
};

/// When it has ended or paused. A paused run counts as well done so far, and is completed again when it goes on; a part
/// that was enough is no failure.
[[nodiscard]] store::RunEnd endRecord(const RunOutcome& outcome);

/// The rows that a server answered to a statement that asks for its plan, as the ledger keeps them: a line a row,
/// values with tabs between, names of columns before them where there are several, secrets of the statement hidden. A
/// very long one is cut, and says so.
[[nodiscard]] std::string planText(const data::ResultSet& rows, std::string_view statement,
                                   const sql::Language& language);

}  // namespace pantry::work
