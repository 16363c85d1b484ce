#include "core/sql/define/translate.h"

#include <algorithm>
#include <array>
#include <vector>

#include "core/base/text.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

/// Words that every engine reads alike; a function among them is called with brackets.
constexpr auto kCommon = std::to_array<std::string_view>({
    "and",    "or",      "not",   "in",    "between",      "like",         "is",
    "null",   "true",    "false", "case",  "when",         "then",         "else",
    "end",    "abs",     "lower", "upper", "round",        "coalesce",     "nullif",
    "trim",   "replace", "cast",  "as",    "current_date", "current_time", "current_timestamp",
    "substr",
});

/// Words that mean the same under two names.
struct Word {
    std::string_view postgres;
    std::string_view mysql;
    std::string_view sqlite;
    std::string_view ansi;
};
constexpr auto kWords = std::to_array<Word>({
    {"now()", "current_timestamp()", "CURRENT_TIMESTAMP", "CURRENT_TIMESTAMP"},
    {"CURRENT_TIMESTAMP", "current_timestamp()", "CURRENT_TIMESTAMP", "CURRENT_TIMESTAMP"},
    {"CURRENT_DATE", "(curdate())", "CURRENT_DATE", "CURRENT_DATE"},
    {"CURRENT_TIME", "(curtime())", "CURRENT_TIME", "CURRENT_TIME"},
    {"gen_random_uuid()", "uuid()", "", ""},
    {"length", "char_length", "length", "CHAR_LENGTH"},
});

std::string_view wordFor(const Word& word, Dialect dialect) {
    switch (dialect) {
        case Dialect::Postgres: return word.postgres;
        case Dialect::MySql: return word.mysql;
        case Dialect::Sqlite: return word.sqlite;
        case Dialect::Ansi: break;
    }
    return word.ansi;
}

bool isOperatorOfAll(std::string_view text) {
    constexpr auto kOperators =
        std::to_array<std::string_view>({"=", "<", ">", "<=", ">=", "<>", "+", "-", "*", "/", "%"});
    return std::ranges::find(kOperators, text) != kOperators.end();
}

class Translator {
public:
    Translator(std::string_view text, Dialect from, Dialect to) : text_(text), from_(from), to_(to) {
        for (const Token& token : lex(text, from)) {
            if (!token.isTrivia()) tokens_.push_back(token);
        }
    }

    std::optional<std::string> translate() {
        if (const std::string_view whole = wholeWord(); !whole.empty()) return std::string(whole);
        while (at_ < tokens_.size()) {
            if (!step()) return std::nullopt;
        }
        return out_;
    }

private:
    /// An expression that is one word of the table.
    [[nodiscard]] std::string_view wholeWord() const {
        std::string bare;
        for (const Token& token : tokens_) bare += base::toLower(token.textIn(text_));
        // current_timestamp(6) tells its precision, which the column's type has.
        for (const Word& word : kWords) {
            const std::string own = base::toLower(wordFor(word, from_));
            const std::string stem = own.substr(0, own.find('('));
            const bool isIt = bare == own || (!stem.empty() && (bare == stem || bare.starts_with(stem + "(")) &&
                                              stem != "length" && stem != "char_length");
            if (isIt) return wordFor(word, to_);
        }
        return {};
    }

    [[nodiscard]] std::string_view textAt(std::size_t at) const {
        return at < tokens_.size() ? tokens_[at].textIn(text_) : std::string_view();
    }
    [[nodiscard]] bool isWord(std::size_t at, std::string_view word) const {
        return at < tokens_.size() && tokens_[at].kind == TokenKind::Word && base::equalsIgnoringCase(textAt(at), word);
    }

    bool step() {
        const Token& token = tokens_[at_];
        switch (token.kind) {
            case TokenKind::OpenParen:
            case TokenKind::CloseParen:
            case TokenKind::Comma:
            case TokenKind::Number: put(textAt(at_++)); return true;
            case TokenKind::String: return string();
            case TokenKind::QuotedName: put(quotedName(unquotedName(textAt(at_++)), to_)); return true;
            case TokenKind::Operator: return operation();
            case TokenKind::Word: return word();
            default: return false;
        }
    }

    /// Only plain quotes: E'…', $$…$$, X'…' and _utf8'…' are an engine's own.
    bool string() {
        const std::string_view text = textAt(at_);
        const bool isPlain = text.starts_with('\'') && text.find('\\') == std::string_view::npos;
        if (!isPlain) return false;
        put(text);
        ++at_;
        return true;
    }

    bool operation() {
        const std::string_view text = textAt(at_);
        if (text == "::") return skipCast();
        if (text == "!=") {
            put("<>");
            ++at_;
            return true;
        }
        // x = ANY (ARRAY[…]) is how PostgreSQL keeps x IN (…).
        if (text == "=" && isWord(at_ + 1, "any")) return anyArray();
        if (!isOperatorOfAll(text)) return false;
        put(text);
        ++at_;
        return true;
    }

    /// ::character varying(20)[]
    bool skipCast() {
        ++at_;
        if (at_ >= tokens_.size() || tokens_[at_].kind != TokenKind::Word) return false;
        while (at_ < tokens_.size() && tokens_[at_].kind == TokenKind::Word && !isCommon(textAt(at_))) ++at_;
        if (textAt(at_) == "(") {
            while (at_ < tokens_.size() && textAt(at_) != ")") ++at_;
            ++at_;
        }
        while (textAt(at_) == "[" && textAt(at_ + 1) == "]") at_ += 2;
        return true;
    }

    bool anyArray() {
        std::size_t at = at_ + 2;
        std::size_t open = 0;
        while (textAt(at) == "(") {
            ++at;
            ++open;
        }
        if (!isWord(at, "array") || textAt(at + 1) != "[") return false;
        put("IN");
        put("(");
        at_ = at + 2;
        while (at_ < tokens_.size() && textAt(at_) != "]") {
            if (!step()) return false;
        }
        put(")");
        ++at_;
        while (open > 0 && at_ < tokens_.size()) {
            if (textAt(at_) == "::" && !skipCast()) return false;
            if (textAt(at_) != ")") return false;
            ++at_;
            --open;
        }
        return open == 0;
    }

    static bool isCommon(std::string_view word) {
        return std::ranges::any_of(kCommon, [&](std::string_view one) { return base::equalsIgnoringCase(one, word); });
    }

    bool word() {
        const std::string_view text = textAt(at_);
        const bool isCall = textAt(at_ + 1) == "(" && !isCommon(text);
        if (isCommon(text)) {
            put(text);
        } else if (isCall) {
            const std::string_view other = functionFor(text);
            if (other.empty()) return false;
            put(other);
        } else if (tokens_[at_].keyword == Keyword::None || quotedName(text, from_) == text) {
            put(quotedName(unquotedName(text), to_));
        } else {
            return false;
        }
        ++at_;
        return true;
    }

    [[nodiscard]] std::string_view functionFor(std::string_view name) const {
        for (const Word& word : kWords) {
            const std::string_view own = wordFor(word, from_);
            if (own.find('(') == std::string_view::npos && base::equalsIgnoringCase(own, name))
                return wordFor(word, to_);
        }
        return {};
    }

    void put(std::string_view text) {
        const bool isTight = out_.empty() || out_.ends_with('(') || text == ")" || text == "," ||
                             (text == "(" && !out_.ends_with(' ') && endsWithName());
        if (!isTight) out_ += ' ';
        out_ += text;
        wasCommonWord_ = isCommon(text) || isOperatorOfAll(text) || text == "IN";
    }
    [[nodiscard]] bool endsWithName() const { return !wasCommonWord_ && !out_.ends_with(','); }

    std::string_view text_;
    Dialect from_;
    Dialect to_;
    std::vector<Token> tokens_;
    std::size_t at_ = 0;
    std::string out_;
    bool wasCommonWord_ = false;
};

}  // namespace

std::optional<std::string> expressionIn(std::string_view expression, Dialect from, Dialect to) {
    if (from == to) return std::string(expression);
    auto translated = Translator(expression, from, to).translate();
    if (!translated || translated->empty()) return std::nullopt;
    return translated;
}

std::string withColumnRenamed(std::string_view expression, std::string_view was, std::string_view now,
                              Dialect dialect) {
    if (was == now) return std::string(expression);
    std::string out;
    const std::vector<Token> tokens = lex(expression, dialect);
    for (std::size_t i = 0; i < tokens.size(); ++i) {
        const std::string_view text = tokens[i].textIn(expression);
        const bool isName = tokens[i].kind == TokenKind::Word || tokens[i].kind == TokenKind::QuotedName;
        std::size_t next = i + 1;
        while (next < tokens.size() && tokens[next].isTrivia()) ++next;
        const bool isCall = next < tokens.size() && tokens[next].kind == TokenKind::OpenParen;
        if (isName && !isCall && base::equalsIgnoringCase(unquotedName(text), was)) {
            out += quotedName(now, dialect);
        } else {
            out += text;
        }
    }
    return out;
}

}  // namespace pantry::sql
