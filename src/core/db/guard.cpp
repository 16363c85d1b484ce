#include "core/db/guard.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "core/base/text.h"
#include "core/db/connecting.h"
#include "core/db/engine_traits.h"

namespace pantry::db {
namespace {

std::string capital(std::string text) {
    if (!text.empty()) text[0] = base::toUpper(text.substr(0, 1))[0];
    return text;
}

}  // namespace

Guard guardOf(const ConnectionProfile& profile) {
    const std::string option = optionOf(profile, "guard");
    if (option == "off") return Guard::Off;
    if (option == "reckless") return Guard::Reckless;
    if (option == "changes" || profile.environment == Environment::Live) return Guard::Changes;
    return Guard::Reckless;
}

RunGuard runGuardOf(const ConnectionProfile& profile) {
    const Guard guard = guardOf(profile);
    return {.guard = guard, .isLocked = guard == Guard::Changes || profile.isReadOnly, .asksToCommit = true};
}

RunGuard stricter(RunGuard asked, const RunGuard& now) {
    // What was confirmed on a connection that was less careful then is not confirmed for this one.
    if (now.guard > asked.guard) asked.isConfirmed = false;
    asked.guard = std::max(asked.guard, now.guard);
    asked.isLocked = asked.isLocked || now.isLocked;
    asked.asksToCommit = asked.asksToCommit || now.asksToCommit;
    return asked;
}

RunGuard onlyReading() { return {.guard = Guard::Changes, .isLocked = true, .mustRead = true}; }

const std::string& currentSchema(Engine engine, const ConnectionState& connection) {
    return traitsOf(engine).schemasAreDatabases ? connection.database : connection.schema;
}

sql::Language languageOf(Engine engine, const ConnectionState& connection) {
    return {dialectOf(engine), connection.quotesAreNames, connection.backslash};
}

bool commitsByItself(Engine engine, const sql::Statement& statement, const ConnectionState& connection) {
    const auto commits = traitsOf(engine).commitsByItself;
    return commits != nullptr && commits(statement.readAs(languageOf(engine, connection)));
}

std::optional<HeldBack> heldBack(const RunGuard& guard, const SessionView& session, const sql::Statement& asked,
                                 const DoubtAboutCalls& doubtAbout) {
    if (guard.isConfirmed) return std::nullopt;
    const sql::Statement statement = asked.readAs(languageOf(session.engine, session.connection));
    const bool isOpen = session.connection.transaction == TransactionState::Open;
    if (guard.asksToCommit && isOpen && commitsByItself(session.engine, statement, session.connection)) {
        return HeldBack{.reason = fmt::format("It commits the open transaction first, with {}.",
                                              session.openChanges == 0
                                                  ? "whatever it changed"
                                                  : "its " + base::counted(session.openChanges, "change", "changes"))};
    }
    const bool wantsReading = guard.guard == Guard::Changes || guard.mustRead;
    if (guard.guard == Guard::Off && !wantsReading) return std::nullopt;
    const sql::StatementRisk& risk = statement.risk();
    if (!wantsReading) {
        if (!risk.isReckless) return std::nullopt;
        return HeldBack{risk.reason, risk.countQuery, true};
    }
    const sql::PlainReading& reading = statement.reading();
    std::string doubt = reading.doubt;
    if (doubt.empty() && doubtAbout) doubt = doubtAbout(reading);
    if (doubt.empty()) return std::nullopt;
    const bool tellsMore = !risk.reason.empty() && risk.effect != sql::StatementEffect::Reads;
    return HeldBack{capital(tellsMore ? risk.reason : doubt), risk.countQuery, risk.isReckless};
}

std::optional<HeldBack> heldBack(const ConnectionProfile& profile, const sql::Statement& statement,
                                 const ConnectionState& connection) {
    return heldBack(runGuardOf(profile), {.engine = profile.engine, .connection = connection}, statement);
}

}  // namespace pantry::db
