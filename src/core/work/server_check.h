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
/// make is told as a hint, since nobody can know before that has run. `opinions`: one a statement. `known`: what our
/// own rules found; an error of theirs at the same place is not told again, and of a statement that neither understands
/// only theirs is told, which names what is expected.
[[nodiscard]] std::vector<sql::Finding> serverFindings(const sql::Script& script,
                                                       const std::vector<db::Session::Opinion>& opinions,
                                                       const std::vector<sql::Finding>& known = {});

}  // namespace pantry::work
