#include "core/sql/syntax/next_words.h"

#include <algorithm>
#include <array>
#include <bitset>

#include "core/sql/syntax/parser.h"
#include "core/sql/syntax/statement_kind.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

/// Complaints about what stands before a token.
std::size_t errorsBefore(const SyntaxTree& tree, std::size_t token) {
    return static_cast<std::size_t>(
        std::ranges::count_if(tree.errors, [&](const SyntaxError& e) { return e.token < token; }));
}

/// Where the last few words begin. What they mean may be clear only by what follows: “left” is a name until JOIN comes.
std::size_t startOfLastWords(const std::vector<Token>& tokens) {
    constexpr int kFew = 4;
    int words = 0;
    for (std::size_t i = tokens.size(); i-- > 0;) {
        if (!tokens[i].isSilent() && ++words == kFew) return i;
    }
    return 0;
}

}  // namespace

/// The beginning with something behind it.
struct NextWords::Trial {
    SyntaxTree tree;
    std::size_t firstNew = 0;  ///< token
    LookedFor lookedFor;
    bool isTaken = false;  ///< without a complaint that the beginning alone does not give
};

NextWords::NextWords(std::string_view beginning, std::vector<Token> tokens, Language language)
    : beginning_(beginning), tokens_(std::move(tokens)), language_(language) {
    const SyntaxTree tree = parseBeginning(beginning_, tokens_, language_, lookedFor_);
    errors_ = errorsBefore(tree, startOfLastWords(tokens_));
}

NextWords::Trial NextWords::tryWith(std::string_view words) const {
    constexpr std::size_t kOfATry = 20;  // what it costs beside the tokens, in tokens
    afforded_ -= std::min(afforded_, tokens_.size() + kOfATry);
    const std::string text = beginning_ + " " + std::string(words);
    std::vector<Token> tokens = tokens_;
    const auto base = static_cast<std::uint32_t>(beginning_.size());
    for (Token token : lex(std::string_view(text).substr(base), language_)) {
        token.start += base;
        tokens.push_back(token);
    }
    Trial trial;
    trial.firstNew = tokens_.size() + 1;  // behind the blank
    trial.tree = parseBeginning(text, tokens, language_, trial.lookedFor);
    trial.isTaken = errorsBefore(trial.tree, trial.tree.tokens.size()) <= errors_;
    return trial;
}

std::vector<Keyword> NextWords::phraseOf(Keyword first) const {
    constexpr std::size_t kLongest = 4;
    std::string words(spellingOf(first));
    Trial trial = tryWith(words);
    if (!trial.isTaken || trial.tree.roles.back() != TokenRole::Keyword) return phraseByWhatFollows(first, trial);
    std::vector<Keyword> phrase{first};
    while (trial.lookedFor.required != Keyword::None && phrase.size() < kLongest) {
        const Keyword next = trial.lookedFor.required;
        words += " " + std::string(spellingOf(next));
        trial = tryWith(words);
        if (!trial.isTaken || trial.tree.roles.back() != TokenRole::Keyword) break;
        phrase.push_back(next);
    }
    return phrase;
}

/// A word that is a name, or wrong, as long as nothing follows: PRIMARY before KEY, FILTER before a parenthesis.
std::vector<Keyword> NextWords::phraseByWhatFollows(Keyword first, const Trial& alone) const {
    const std::string word(spellingOf(first));
    const auto isKeywordBefore = [&](std::string_view behind) {
        const Trial trial = tryWith(word + " " + std::string(behind));
        return trial.isTaken && trial.tree.roles[trial.firstNew] == TokenRole::Keyword;
    };
    constexpr auto kOthers = std::to_array<std::string_view>({"(", "pantry_name", "1", "="});
    if (std::ranges::any_of(kOthers, isKeywordBefore)) return {first};
    // What the parser asked for is worth trying with all that it then looks for; any other word with what most want.
    std::bitset<kKeywordCount> seconds;
    for (const Keyword usual : {Keyword::Key, Keyword::Value}) seconds.set(static_cast<std::size_t>(usual));
    if (lookedFor_.keywords.test(static_cast<std::size_t>(first))) seconds = alone.lookedFor.keywords;
    std::vector<Keyword> phrase;
    for (std::size_t i = 1; i < kKeywordCount; ++i) {
        const auto second = static_cast<Keyword>(i);
        if (!seconds.test(i) || !isKeywordBefore(spellingOf(second))) continue;
        if (!phrase.empty()) return {first};
        phrase = {first, second};
    }
    return phrase;
}

bool NextWords::takes(std::string_view words) const {
    const Trial trial = tryWith(words);
    if (!trial.isTaken) return false;
    for (std::size_t i = trial.firstNew; i < trial.tree.tokens.size(); ++i) {
        const bool isWord = trial.tree.tokens[i].kind == TokenKind::Word;
        if (isWord && trial.tree.roles[i] != TokenRole::Keyword) return false;
    }
    return true;
}

std::optional<NextWords::Name> NextWords::name() const {
    const Trial trial = tryWith("pantry_name");
    if (!trial.isTaken) return std::nullopt;
    const auto token = static_cast<std::uint32_t>(trial.firstNew);
    Name name{.role = trial.tree.roles[token], .around = {}};
    for (std::uint32_t n = trial.tree.nodeAt(token); n != Node::kNone; n = trial.tree.nodes[n].parent) {
        if (trial.tree.nodes[n].kind == NodeKind::Error) return std::nullopt;
        name.around.push_back(trial.tree.nodes[n].kind);
    }
    return name;
}

}  // namespace pantry::sql
