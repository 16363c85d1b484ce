#include "core/work/run_difference.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.h"
#include "core/db/profile.h"
#include "core/sql/text/lexer.h"

namespace pantry::work {
namespace {

using namespace std::chrono_literals;

/// A value of a statement, and the name that it stands beside.
struct NamedValue {
    std::string name;
    std::string value;
};

bool isValue(sql::TokenKind kind) {
    return kind == sql::TokenKind::String || kind == sql::TokenKind::Number || kind == sql::TokenKind::Parameter;
}

std::vector<NamedValue> valuesOf(const store::LedgerEntry& entry) {
    const auto engine = db::engineFromWord(entry.start.engine);
    const sql::Language language = engine ? db::dialectOf(*engine) : sql::Dialect::Sqlite;
    std::vector<NamedValue> values;
    std::string name;
    for (const sql::Token& token : sql::lex(entry.start.statement, language)) {
        if (token.isSilent()) continue;
        const std::string_view text = token.textIn(entry.start.statement);
        const bool isName = token.kind == sql::TokenKind::QuotedName ||
                            (token.kind == sql::TokenKind::Word && token.keyword == sql::Keyword::None);
        if (isName) name = text;
        if (isValue(token.kind)) values.push_back({name, std::string(text)});
    }
    return values;
}

std::string rowsOf(const store::LedgerEntry& entry) {
    if (entry.end.affected) return base::grouped(*entry.end.affected) + " changed";
    if (!entry.end.rows) return "none";
    return (entry.end.isPartial ? "first " : "") + base::grouped(*entry.end.rows);
}

std::string outcomeOf(const store::LedgerEntry& entry) {
    switch (entry.end.status) {
        case store::RunStatus::Succeeded: return "done";
        case store::RunStatus::HeldBack: return "held back";
        case store::RunStatus::Failed:
            return entry.end.error.empty() ? "failed" : "failed: " + base::oneLine(entry.end.error, 120);
        default: return std::string(store::statusWord(entry.end.status));
    }
}

void addValues(std::vector<RunDifference>& all, const store::LedgerEntry& before, const store::LedgerEntry& now) {
    const auto old = valuesOf(before);
    const auto fresh = valuesOf(now);
    if (old.size() != fresh.size()) {
        all.push_back({"Values", std::to_string(old.size()), std::to_string(fresh.size())});
        return;
    }
    constexpr std::size_t kMax = 8;  // who wants all of them compares the texts
    for (std::size_t i = 0; i < fresh.size() && all.size() < kMax; ++i) {
        if (old[i].value == fresh[i].value) continue;
        const std::string what = fresh[i].name.empty() ? "Value" : "Value of " + fresh[i].name;
        all.push_back({what, base::oneLine(old[i].value, 80), base::oneLine(fresh[i].value, 80)});
    }
}

}  // namespace

std::vector<RunDifference> differencesOf(const store::LedgerEntry& before, const store::LedgerEntry& now) {
    std::vector<RunDifference> all;
    addValues(all, before, now);
    const auto also = [&](std::string what, const std::string& old, const std::string& fresh) {
        if (old != fresh) all.push_back({std::move(what), old.empty() ? "none" : old, fresh.empty() ? "none" : fresh});
    };
    also("Parameters", before.start.parameters, now.start.parameters);
    also("Database", before.start.database, now.start.database);
    also("Schema", before.start.schema, now.start.schema);
    also("User", before.start.user, now.start.user);
    also("Outcome", outcomeOf(before), outcomeOf(now));
    const bool areBothDone =
        before.end.status == store::RunStatus::Succeeded && now.end.status == store::RunStatus::Succeeded;
    if (!areBothDone) return all;
    also("Rows", rowsOf(before), rowsOf(now));
    also("Time at the server", base::readable(before.end.duration - before.end.fetching),
         base::readable(now.end.duration - now.end.fetching));
    return all;
}

std::string slownessOf(const std::vector<store::LedgerFold::Point>& points) {
    constexpr std::size_t kEnough = 3;
    std::vector<std::chrono::microseconds> before;
    if (points.empty() || points.back().status != store::RunStatus::Succeeded) return {};
    for (std::size_t i = 0; i + 1 < points.size(); ++i) {
        if (points[i].status == store::RunStatus::Succeeded) before.push_back(points[i].duration);
    }
    if (before.size() < kEnough) return {};
    const auto middle = before.begin() + static_cast<std::ptrdiff_t>(before.size() / 2);
    std::ranges::nth_element(before, middle);
    const auto usual = std::max(*middle, 1us);
    const auto last = points.back().duration;
    if (last < 3 * usual || last < usual + 100ms) return {};
    return fmt::format("{:.0f} times slower than usual",
                       static_cast<double>(last.count()) / static_cast<double>(usual.count()));
}

std::pair<std::size_t, std::size_t> firstValueOf(const std::string& statement, const sql::Language& language) {
    std::pair first(statement.size(), statement.size());
    bool isAfterSign = false;  // such as = and >
    for (const sql::Token& token : sql::lex(statement, language)) {
        if (token.isSilent()) continue;
        const bool isQuoted =
            token.kind == sql::TokenKind::String && token.length >= 2 && statement[token.start] == '\'';
        if (isQuoted || token.kind == sql::TokenKind::Number) {
            const std::size_t quote = isQuoted ? 1 : 0;
            const std::pair here(token.start + quote, token.start + token.length - quote);
            if (isAfterSign) return here;
            if (first.first == statement.size()) first = here;
        }
        isAfterSign = token.kind == sql::TokenKind::Operator && token.textIn(statement) != "*";
    }
    return first;
}

}  // namespace pantry::work
