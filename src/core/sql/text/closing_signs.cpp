#include "core/sql/text/closing_signs.h"

#include <string_view>

#include "core/base/text.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

bool isOneOf(char c, std::string_view signs) { return signs.find(c) != std::string_view::npos; }

/// Where something ends: what is opened before it does not swallow anything.
bool endsSomething(char after) { return after == '\0' || isOneOf(after, " \t\r\n,;)]"); }

bool isOfName(char c) {
    const char lower = base::asciiLower(c);
    return (lower >= 'a' && lower <= 'z') || base::isAsciiDigit(c) || c == '_' ||
           (static_cast<unsigned char>(c) & 0x80U) != 0;
}

}  // namespace

char closingOf(char opening) {
    switch (opening) {
        case '(': return ')';
        case '[': return ']';
        case '\'':
        case '"':
        case '`': return opening;
        default: return '\0';
    }
}

char closingFor(char typed, TypingPlace place) {
    const char closing = closingOf(typed);
    if (closing == '\0' || place.isInText || !endsSomething(place.after)) return '\0';
    if (typed == '(' || typed == '[') return closing;
    // A quote behind a letter ends or doubles something (a text, an abbreviated word); E'…' and N'…' lose little.
    return isOfName(place.before) || place.before == typed ? '\0' : closing;
}

bool endsWithin(std::string_view piece, const Language& language) {
    const auto tokens = lex(piece, language);
    return !tokens.empty() && (!tokens.back().isClosed || tokens.back().kind == TokenKind::LineComment);
}

}  // namespace pantry::sql
