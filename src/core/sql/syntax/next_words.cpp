#include "core/sql/syntax/next_words.h"

#include <algorithm>

#include "core/sql/syntax/parser.h"
#include "core/sql/syntax/statement_kind.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

/// Complaints about what is there, rather than about what does not follow yet.
std::size_t errorsWithin(const SyntaxTree& tree) {
    return static_cast<std::size_t>(
        std::ranges::count_if(tree.errors, [&](const SyntaxError& e) { return e.token < tree.tokens.size(); }));
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
    : beginning_(beginning), tokens_(std::move(tokens)), language_(std::move(language)) {
    errors_ = errorsWithin(parseBeginning(beginning_, tokens_, language_, lookedFor_));
}

NextWords::Trial NextWords::tryWith(std::string_view words) const {
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
    trial.isTaken = errorsWithin(trial.tree) <= errors_;
    return trial;
}

std::vector<Keyword> NextWords::phraseOf(Keyword first) const {
    constexpr std::size_t kLongest = 4;
    std::vector<Keyword> phrase;
    std::string words;
    for (Keyword next = first; next != Keyword::None && phrase.size() < kLongest;) {
        words += (words.empty() ? "" : " ") + std::string(spellingOf(next));
        const Trial trial = tryWith(words);
        if (!trial.isTaken || trial.tree.roles.back() != TokenRole::Keyword) break;
        phrase.push_back(next);
        next = trial.lookedFor.required;
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
