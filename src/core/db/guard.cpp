#include "core/db/guard.h"

#include "core/db/connecting.h"
#include "core/sql/lexer.h"
#include "core/sql/risk.h"

namespace pantry::db {

Guard guardOf(const ConnectionProfile& profile) {
    const std::string option = optionOf(profile, "guard");
    if (option == "off") return Guard::Off;
    if (option == "reckless") return Guard::Reckless;
    if (option == "changes" || profile.environment == Environment::Live) return Guard::Changes;
    return Guard::Reckless;
}

std::optional<HeldBack> heldBack(const ConnectionProfile& profile, std::string_view statement, const LineState& line) {
    const Guard guard = guardOf(profile);
    if (guard == Guard::Off) return std::nullopt;
    const sql::Language language(dialectOf(profile.engine), line.quotesAreNames, line.backslash);
    sql::StatementRisk risk = sql::riskOf(statement, language);
    const bool isHeld = risk.isReckless || (guard == Guard::Changes && sql::mayChangeData(statement, language));
    if (!isHeld) return std::nullopt;
    return HeldBack{std::move(risk.reason), std::move(risk.countQuery), risk.isReckless};
}

}  // namespace pantry::db
