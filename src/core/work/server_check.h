#pragma once

#include <vector>

#include "core/db/session.h"
#include "core/sql/check/findings.h"
#include "core/sql/syntax/script.h"

namespace pantry::work {

/// The name of the rule of what a server says.
inline constexpr std::string_view kServerRule = "server";

/// The statements of a text as a server is asked about them.
[[nodiscard]] std::vector<sql::Statement> statementsOf(const sql::Script& script);

/// What a server said of the statements of a text, at its places. What it does not know and what a statement before may
/// make is told as a hint, since nobody can know before that has run. `opinions`: one a statement.
[[nodiscard]] std::vector<sql::Finding> serverFindings(const sql::Script& script,
                                                       const std::vector<db::Session::Opinion>& opinions);

}  // namespace pantry::work
