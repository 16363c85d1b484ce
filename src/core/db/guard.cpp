#include "core/db/guard.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "core/base/text.h"
#include "core/db/connecting.h"
#include "core/sql/meaning/risk.h"
#include "core/sql/text/lexer.h"

namespace pantry::db {
namespace {

using sql::Keyword;
using sql::Token;

bool isSelfCommittingVerb(Keyword verb) {
    constexpr auto kVerbs = std::to_array<Keyword>(
        {Keyword::Alter,    Keyword::Analyze, Keyword::Cache,     Keyword::Change, Keyword::Check,
         Keyword::Create,   Keyword::Drop,    Keyword::Flush,     Keyword::Grant,  Keyword::Import,
         Keyword::Install,  Keyword::Lock,    Keyword::Optimize,  Keyword::Rename, Keyword::Repair,
         Keyword::Reset,    Keyword::Revoke,  Keyword::Start,     Keyword::Stop,   Keyword::Begin,
         Keyword::Truncate, Keyword::Unlock,  Keyword::Uninstall, Keyword::Comment});
    return std::ranges::find(kVerbs, verb) != kVerbs.end();
}

/// Tokens that the server reads, what stands in executable comments among them.
std::vector<Token> readTokens(std::string_view statement, const sql::Language& language) {
    std::vector<Token> tokens = sql::lex(statement, language);
    std::erase_if(tokens, [](const Token& t) { return t.isTrivia(); });
    return tokens;
}

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

sql::Language languageOf(Engine engine, const LineState& line) {
    return {dialectOf(engine), line.quotesAreNames, line.backslash};
}

bool commitsByItself(Engine engine, std::string_view statement, const LineState& line) {
    const std::vector<Token> tokens = readTokens(statement, languageOf(engine, line));
    if (tokens.empty()) return false;
    const auto has = [&](Keyword keyword) {
        return std::ranges::any_of(tokens, [&](const Token& t) { return t.is(keyword); });
    };
    const Keyword verb = tokens.front().keyword;
    if (engine == Engine::Odbc) return sql::effectOf(sql::kindOf(tokens)) == sql::StatementEffect::Defines;
    if (engine != Engine::MariaDb) return false;
    const bool isHidden =
        std::ranges::any_of(tokens, [](const Token& t) { return t.kind == sql::TokenKind::ExecutableComment; });
    if (isHidden && tokens.front().kind == sql::TokenKind::ExecutableComment) return true;
    if (verb == Keyword::Set) {
        const bool isPassword = tokens.size() > 1 && base::equalsIgnoringCase(tokens[1].textIn(statement), "password");
        const bool setsCommitting = std::ranges::any_of(
            tokens, [&](const Token& t) { return base::toLower(t.textIn(statement)).ends_with("autocommit"); });
        return isPassword || setsCommitting || has(Keyword::Statement);
    }
    const bool isTemporary = tokens.size() > 1 && tokens[1].is(Keyword::Temporary);
    if ((verb == Keyword::Create || verb == Keyword::Drop) && isTemporary) return false;
    if (verb == Keyword::Analyze) return tokens.size() > 1 && tokens[1].is(Keyword::Table);
    if (verb == Keyword::Begin && has(Keyword::Not)) return false;
    return isSelfCommittingVerb(verb);
}

std::optional<HeldBack> heldBack(const RunGuard& guard, const SessionView& session, std::string_view statement,
                                 const DoubtAboutCalls& doubtAbout) {
    if (guard.isConfirmed) return std::nullopt;
    const bool isOpen = session.line.transaction == TransactionState::Open;
    if (guard.asksToCommit && isOpen && commitsByItself(session.engine, statement, session.line)) {
        return HeldBack{.reason = fmt::format("It commits the open transaction first, with {}.",
                                              session.openChanges == 0
                                                  ? "whatever it changed"
                                                  : "its " + base::counted(session.openChanges, "change", "changes"))};
    }
    const bool wantsReading = guard.guard == Guard::Changes || guard.mustRead;
    if (guard.guard == Guard::Off && !wantsReading) return std::nullopt;
    const sql::Language language = languageOf(session.engine, session.line);
    sql::StatementRisk risk = sql::riskOf(statement, language);
    if (!wantsReading) {
        if (!risk.isReckless) return std::nullopt;
        return HeldBack{std::move(risk.reason), std::move(risk.countQuery), true};
    }
    const sql::PlainReading reading = sql::plainReadingOf(statement, language);
    std::string doubt = reading.doubt;
    if (doubt.empty() && doubtAbout) doubt = doubtAbout(reading);
    if (doubt.empty()) return std::nullopt;
    const bool tellsMore = !risk.reason.empty() && risk.effect != sql::StatementEffect::Reads;
    return HeldBack{capital(tellsMore ? std::move(risk.reason) : std::move(doubt)), std::move(risk.countQuery),
                    risk.isReckless};
}

std::optional<HeldBack> heldBack(const ConnectionProfile& profile, std::string_view statement, const LineState& line) {
    return heldBack(runGuardOf(profile), {.engine = profile.engine, .line = line}, statement);
}

}  // namespace pantry::db
