#include "core/base/text.h"
#include "core/sql/grammar.h"

namespace pantry::sql {

/// Takes a word of the server's own: a keyword where the table knows it.
void Grammar::optionWord(bool afterValueSign) {
    const bool isWord = s_.at(TokenKind::Word) && s_.keyword() != Keyword::None;
    const bool isPartOfName = afterValueSign || s_.at(TokenKind::Dot, 1);
    s_.take(isWord && !isPartOfName ? TokenRole::Keyword : TokenRole::Plain);
}

/// ( … ) with anything in it whose parentheses match.
void Grammar::optionGroup() {
    const DepthScope depth(s_);
    const NodeScope node(s_, NodeKind::OptionGroup);
    s_.expect(TokenKind::OpenParen, "(");
    if (tooDeep()) return;
    bool afterValueSign = false;
    while (!s_.atClose()) {
        if (s_.at(TokenKind::OpenParen)) {
            optionGroup();
            afterValueSign = false;
            continue;
        }
        const bool isValueSign = s_.atOperator("=") || s_.at(TokenKind::Dot);
        optionWord(afterValueSign);
        afterValueSign = isValueSign;
    }
    s_.expect(TokenKind::CloseParen, ")");
}

/// Words, values and groups whose meaning is the server's business, up to the end, a closing parenthesis of the
/// outside, or a token at which `stop` holds.
void Grammar::options(const std::function<bool()>& stop) {
    if (s_.atClose() || (stop && stop())) return;
    const NodeScope node(s_, NodeKind::Options);
    bool afterValueSign = false;
    while (!s_.atClose() && !(stop && stop())) {
        if (s_.at(TokenKind::OpenParen)) {
            optionGroup();
            afterValueSign = false;
            continue;
        }
        const bool isValueSign = s_.atOperator("=") || s_.at(TokenKind::Dot);
        optionWord(afterValueSign);
        afterValueSign = isValueSign;
    }
}

/// A user: name, 'name'@'host', CURRENT_USER().
void Grammar::account() {
    if (!s_.atName() && !s_.at(TokenKind::String) && !s_.at(TokenKind::Parameter)) return s_.fail("a user");
    const bool isFunction = s_.atAny({Keyword::CurrentUser, Keyword::CurrentRole, Keyword::SessionUser});
    s_.take(isFunction ? TokenRole::Keyword : TokenRole::Plain);
    if (isFunction && s_.at(TokenKind::OpenParen)) optionGroup();
    if (s_.at(TokenKind::Variable)) {
        s_.take();
        if (s_.atOperator("%")) s_.take();
    }
}

/// IF NOT EXISTS or IF EXISTS.
void Grammar::existence() {
    if (!s_.at(Keyword::If)) return;
    if (s_.takePhrase({Keyword::If, Keyword::Not, Keyword::Exists})) return;
    if (s_.takePhrase({Keyword::If, Keyword::Exists})) return;
    s_.take(TokenRole::Keyword);
    s_.fail("EXISTS or NOT EXISTS");
}

/// + or schema.+
bool Grammar::isOperatorName() const {
    std::size_t n = 0;
    while (s_.atName(n) && s_.at(TokenKind::Dot, n + 1)) n += 2;
    return s_.at(TokenKind::Operator, n);
}

/// A name followed, for routines and operators, by the types of its arguments.
void Grammar::objectName(TokenRole role) {
    if (isOperatorName()) {
        while (s_.atName() || s_.at(TokenKind::Dot)) s_.take();
        s_.take();
    } else if (s_.at(TokenKind::String) || s_.at(TokenKind::Parameter)) {
        account();  // a role or user
    } else {
        name(role);
        if (s_.at(TokenKind::Variable)) s_.take();  // user@host
        while (s_.at(TokenKind::Operator) && s_.at(TokenKind::OpenParen, 1)) s_.take();
    }
    if (s_.at(TokenKind::OpenParen)) optionGroup();
}

}  // namespace pantry::sql
