#include "core/sql/meaning/secrets.h"

#include <algorithm>
#include <array>
#include <bitset>
#include <iterator>
#include <utility>

#include "core/base/secret_text.h"
#include "core/base/text.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

/// Functions and clauses whose texts are strings of connection.
constexpr auto kConnecting = std::to_array<std::string_view>(
    {"dblink", "dblink_connect", "dblink_connect_u", "dblink_exec", "dblink_open", "dblink_send_query"});

/// PRAGMAs of encrypted databases.
constexpr auto kKeyPragmas =
    std::to_array<std::string_view>({"key", "rekey", "hexkey", "hexrekey", "textkey", "textrekey", "cipher_key"});

template <std::size_t N>
bool isAmong(const std::array<std::string_view, N>& words, std::string_view word) {
    return std::ranges::any_of(words, [&](std::string_view w) { return base::equalsIgnoringCase(w, word); });
}

/// Parts a text in quotes into what opens it, what it holds and what closes it.
struct Quoted {
    std::string_view open;
    std::string_view content;
    std::string_view close;
};
Quoted partsOf(std::string_view literal) {
    if (literal.starts_with("/*")) {
        const std::size_t start = std::min(literal.find('!') + 1, literal.size());
        const std::size_t end = literal.ends_with("*/") ? std::max(literal.size() - 2, start) : literal.size();
        return {literal.substr(0, start), literal.substr(start, end - start), literal.substr(end)};
    }
    const std::size_t quote = literal.find_first_of("'\"$");
    if (quote == std::string_view::npos) return {{}, literal, {}};
    std::size_t openEnd = quote + 1;
    if (literal[quote] == '$') openEnd = std::min(literal.find('$', quote + 1), literal.size() - 1) + 1;
    const std::string_view close = literal.substr(quote, openEnd - quote);
    const bool isClosed = literal.size() >= openEnd + close.size() && literal.ends_with(close);
    const std::size_t end = isClosed ? literal.size() - close.size() : literal.size();
    return {literal.substr(0, openEnd), literal.substr(openEnd, end - openEnd), literal.substr(end)};
}

/// A word behind which texts are secret, or say how to connect.
bool isSecretWord(std::string_view word) {
    return base::isSecretName(word) || base::equalsIgnoringCase(word, "connection") ||
           (base::startsWithIgnoringCase(word, "dblink") && isAmong(kConnecting, word));
}

/// Most words of a statement are keywords, and which of them name a secret is always the same.
bool isSecretKeyword(Keyword keyword) {
    static const std::bitset<kKeywordCount> kSecret = [] {
        std::bitset<kKeywordCount> secret;
        for (std::size_t k = 1; k < kKeywordCount; ++k) {
            if (isSecretWord(spellingOf(static_cast<Keyword>(k)))) secret.set(k);
        }
        return secret;
    }();
    return kSecret.test(static_cast<std::size_t>(keyword));
}

class Hider {
public:
    Hider(std::string_view statement, const Language& language) : text_(statement), language_(language) {}

    std::string hide() {
        for (const Token& token : lex(text_, language_)) take(token);
        return base::withoutAddressSecrets(out_);
    }
    [[nodiscard]] std::vector<std::string> takeSecrets() { return std::move(secrets_); }
    /// Notes what is secret, without a text that hides it.
    void read(std::span<const Token> tokens) {
        isWriting_ = false;
        for (const Token& token : tokens) {
            if (!token.isTrivia()) take(token);
        }
    }

private:
    void take(const Token& token) {
        takeOne(token);
        if (!token.isTrivia()) isAfterParen_ = token.kind == TokenKind::OpenParen;
    }

    void takeOne(const Token& token) {
        const std::string_view piece = token.textIn(text_);
        switch (token.kind) {
            case TokenKind::Word:
                if (isKeyDue_) return hideToken(piece);
                word(token, piece);
                break;
            case TokenKind::LineComment:
            case TokenKind::BlockComment:
                if (isWriting_) out_ += base::withoutSecretText(piece);
                return;
            case TokenKind::Variable:
                hides_ =
                    hides_ || base::isSecretName(piece.substr(std::min(piece.find_first_not_of('@'), piece.size())));
                break;
            case TokenKind::Terminator:
                hides_ = isKeyDue_ = inPragma_ = inAttach_ = false;
                isFirst_ = true;
                break;
            case TokenKind::QuotedName:
                if (isKeyDue_) return hideToken(piece);
                if (hides_ && piece.starts_with('"')) return hideToken(piece);  // MariaDB takes it for a text
                hides_ = hides_ || base::isSecretName(unquotedName(piece));
                break;
            case TokenKind::String: return string(piece);
            case TokenKind::Number:
                if (isKeyDue_ || (hides_ && base::startsWithIgnoringCase(piece, "0x"))) return hideToken(piece);
                break;
            case TokenKind::ExecutableComment:
            case TokenKind::CopyData: return nested(piece);
            default: break;
        }
        if (isWriting_) out_ += piece;
    }

    void word(const Token& token, std::string_view piece) {
        const bool isFirst = std::exchange(isFirst_, false);
        if (isFirst) {
            inPragma_ = token.is(Keyword::Pragma);
            inAttach_ = token.is(Keyword::Attach);
            return;
        }
        if (inPragma_ && isAmong(kKeyPragmas, piece)) {
            isKeyDue_ = true;
        } else if (inAttach_ && base::equalsIgnoringCase(piece, "key")) {
            isKeyDue_ = true;
        }
        if (!hides_) hides_ = token.keyword != Keyword::None ? isSecretKeyword(token.keyword) : isSecretWord(piece);
    }

    void hideToken(std::string_view piece) {
        const Quoted parts = partsOf(piece);
        if (!parts.content.empty()) secrets_.emplace_back(parts.content);
        out_ += "'";
        out_ += base::kHidden;
        out_ += "'";
    }

    void string(std::string_view piece) {
        if (hides_ || isKeyDue_) return hideToken(piece);
        // set_config('my.secret', 'value'): the first argument may name what the second holds.
        if (isAfterParen_ && base::isSecretName(partsOf(piece).content)) hides_ = true;
        nested(piece);
    }

    /// A text may be a statement, a string of connection, an address; what it holds of secrets is hidden within.
    void nested(std::string_view piece) {
        const Quoted parts = partsOf(piece);
        const bool isBody = piece.starts_with('$') || piece.starts_with("/*");
        if (isBody && parts.content.size() < piece.size()) {
            Hider inner(parts.content, language_);
            out_ += parts.open;
            out_ += inner.hide();
            out_ += parts.close;
            std::ranges::move(inner.takeSecrets(), std::back_inserter(secrets_));
            return;
        }
        const std::string shown = base::withoutSecretText(piece);
        if (shown == piece) {
            out_ += piece;
        } else {
            hideToken(piece);  // what is hidden within quotes could leave half of it
        }
    }

    std::string_view text_;
    Language language_;
    std::string out_;
    std::vector<std::string> secrets_;
    bool isWriting_ = true;
    bool isFirst_ = true;
    bool hides_ = false;
    bool isAfterParen_ = false;
    bool inPragma_ = false;
    bool inAttach_ = false;
    bool isKeyDue_ = false;
};

std::string without(std::string text, const std::vector<std::string>& secrets) {
    for (const std::string& secret : secrets) {
        if (secret.size() < 3) continue;  // it would be found everywhere
        for (std::size_t at = text.find(secret); at != std::string::npos; at = text.find(secret, at)) {
            text.replace(at, secret.size(), base::kHidden);
            at += base::kHidden.size();
        }
    }
    return text;
}

}  // namespace

std::string withoutSecrets(std::string_view statement, Language dialect) {
    const std::vector<std::string> secrets = secretsIn(statement, dialect);
    return without(Hider(statement, dialect).hide(), secrets);
}

std::vector<std::string> secretsIn(std::string_view statement, Language dialect) {
    return secretsIn(statement, lex(statement, dialect), dialect);
}

std::vector<std::string> secretsIn(std::string_view statement, std::span<const Token> tokens, Language dialect) {
    Hider hider(statement, dialect);
    hider.read(tokens);
    return hider.takeSecrets();
}

Error withoutSecrets(Error error, std::string_view statement, Language dialect) {
    std::vector<std::string> secrets = secretsIn(statement, dialect);
    // Longer ones first: one may hold another.
    std::ranges::sort(secrets, std::greater{}, &std::string::size);
    const bool hasSecrets = !secrets.empty();
    for (std::string* part : {&error.message, &error.hint, &error.detail}) {
        *part = base::withoutAddressSecrets(without(std::move(*part), secrets));
        // A server quotes from the mistake on, and perhaps only half of a text.
        if (hasSecrets) *part = base::withoutSecretText(*part);
    }
    return error;
}

}  // namespace pantry::sql
