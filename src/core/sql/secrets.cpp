#include "core/sql/secrets.h"

#include <algorithm>
#include <array>

#include "core/base/text.h"
#include "core/sql/lexer.h"

namespace pantry::sql {
namespace {

constexpr auto kTellTale =
    std::to_array<std::string_view>({"password", "passwd", "identified", "key", "rekey", "hexkey", "secret", "passfile",
                                     "dblink_connect", "dblink", "connection", "sslpassword"});

/// Words after which a string is a secret; KEY only where it is a PRAGMA's.
bool isTellTale(std::string_view word, bool inPragma) {
    const bool isKeyWord = base::equalsIgnoringCase(word, "key");
    if (isKeyWord) return inPragma;
    return std::ranges::any_of(kTellTale, [&](std::string_view t) { return base::equalsIgnoringCase(word, t); });
}

}  // namespace

std::string withoutSecrets(std::string_view statement, Language dialect) {
    std::string out;
    bool hides = false;
    bool inPragma = false;
    for (const Token& token : lex(statement, dialect)) {
        const std::string_view piece = token.textIn(statement);
        if (token.kind == TokenKind::Word) {
            inPragma = inPragma || token.is(Keyword::Pragma);
            hides = hides || isTellTale(piece, inPragma);
        }
        if (token.kind == TokenKind::Terminator) hides = inPragma = false;
        const bool isString = token.kind == TokenKind::String || (inPragma && token.kind == TokenKind::QuotedName);
        if (hides && isString) {
            out += "'•••'";
        } else {
            out += piece;
        }
    }
    return out;
}

}  // namespace pantry::sql
