#include "core/sql/define/table_options.h"

#include <fmt/format.h>

#include <algorithm>
#include <optional>
#include <utility>

#include "core/base/joined.h"
#include "core/base/text.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

using Options = std::vector<std::pair<std::string, std::string>>;  // name in capital letters, value

std::vector<Token> tokensOf(std::string_view text, Dialect dialect) {
    std::vector<Token> tokens = lex(text, dialect);
    std::erase_if(tokens, [](const Token& token) { return token.isSilent(); });
    return tokens;
}

/// Behind the bracket that closes the columns.
std::size_t behindColumns(const std::vector<Token>& tokens) {
    int depth = 0;
    for (std::size_t i = 0; i < tokens.size(); ++i) {
        if (tokens[i].kind == TokenKind::OpenParen) ++depth;
        if (tokens[i].kind == TokenKind::CloseParen && --depth == 0) return i + 1;
    }
    return tokens.size();
}

/// Options with their values; nothing when the text is not made of such pairs alone. Of PostgreSQL's those in the
/// brackets behind WITH stand as they are, the others as TABLESPACE.
std::optional<Options> pairsOf(std::string_view text, Dialect dialect) {
    Options options;
    std::string name;
    const std::vector<Token> tokens = tokensOf(text, dialect);
    for (std::size_t i = 0; i < tokens.size(); ++i) {
        const std::string_view word = tokens[i].textIn(text);
        const bool isMark = tokens[i].kind == TokenKind::Comma || tokens[i].kind == TokenKind::OpenParen ||
                            tokens[i].kind == TokenKind::CloseParen;
        if (isMark || base::equalsIgnoringCase(word, "with") || base::equalsIgnoringCase(word, "default")) continue;
        const bool isGiven = i + 1 < tokens.size() && tokens[i + 1].textIn(text) == "=";
        if (!isGiven && !base::equalsIgnoringCase(word, "tablespace")) {
            name += base::toUpper(word) + " ";  // CHARACTER SET=…
            continue;
        }
        const std::size_t value = isGiven ? i + 2 : i + 1;
        if (value >= tokens.size()) return {};
        options.emplace_back(name + base::toUpper(word), tokens[value].textIn(text));
        name.clear();
        i = value;
    }
    return name.empty() ? std::optional(options) : std::nullopt;
}

const std::string* find(const Options& options, const std::string& name) {
    const auto found = std::ranges::find(options, name, &Options::value_type::first);
    return found == options.end() ? nullptr : &found->second;
}

std::vector<std::string> postgresChanges(const Options& before, const Options& after) {
    std::vector<std::string> clauses;
    std::vector<std::string> set;
    std::vector<std::string> reset;
    for (const auto& [name, value] : after) {
        const std::string* was = find(before, name);
        if (was != nullptr && *was == value) continue;
        if (name == "TABLESPACE") {
            clauses.push_back("SET TABLESPACE " + value);
        } else {
            set.push_back(fmt::format("{} = {}", base::toLower(name), value));
        }
    }
    for (const auto& [name, value] : before) {
        if (name != "TABLESPACE" && find(after, name) == nullptr) reset.push_back(base::toLower(name));
    }
    if (!set.empty()) clauses.push_back(fmt::format("SET ({})", base::joined(set, ", ")));
    if (!reset.empty()) clauses.push_back(fmt::format("RESET ({})", base::joined(reset, ", ")));
    return clauses;
}

}  // namespace

std::string optionsIn(std::string_view statement, Dialect dialect) {
    if (dialect != Dialect::MySql && dialect != Dialect::Postgres) return {};
    const std::vector<Token> tokens = tokensOf(statement, dialect);
    std::string out;
    for (std::size_t i = behindColumns(tokens); i < tokens.size() && !tokens[i].endsStatement(); ++i) {
        const std::string_view word = tokens[i].textIn(statement);
        if (base::equalsIgnoringCase(word, "partition")) break;
        if (base::equalsIgnoringCase(word, "inherits")) return {};
        const bool isLeftOut =
            base::equalsIgnoringCase(word, "auto_increment") || base::equalsIgnoringCase(word, "comment");
        if (isLeftOut) {
            i += 2;
            continue;
        }
        const bool isTight = word == "=" || word == "," || word == ")" || out.ends_with('=') || out.ends_with('(');
        if (!out.empty() && !isTight) out += ' ';
        out += word;
    }
    return out;
}

std::vector<std::string> optionChanges(std::string_view before, std::string_view after, Dialect dialect) {
    if (before == after) return {};
    const auto was = pairsOf(before, dialect);
    const auto now = pairsOf(after, dialect);
    if (!was || !now) return after.empty() ? std::vector<std::string>{} : std::vector{std::string(after)};
    if (dialect == Dialect::Postgres) return postgresChanges(*was, *now);
    std::vector<std::string> changed;
    for (const auto& [name, value] : *now) {
        const std::string* had = find(*was, name);
        if (had == nullptr || *had != value) changed.push_back(fmt::format("{} = {}", name, value));
    }
    if (changed.empty()) return {};
    return {base::joined(changed, ", ")};
}

}  // namespace pantry::sql
