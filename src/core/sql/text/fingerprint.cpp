#include "core/sql/text/fingerprint.h"

#include "core/base/stable_hash.h"
#include "core/base/text.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

/// Of tokens one after another.
class Hash {
public:
    void add(std::string_view text) {
        hash_.add(text);
        hash_.endPart();
    }
    void addSmall(std::string_view text) {
        for (const char c : text) hash_.add(base::asciiLower(c));
        hash_.endPart();
    }
    [[nodiscard]] std::int64_t value() const { return static_cast<std::int64_t>(hash_.value()); }

private:
    base::StableHash hash_;
};

bool isValue(TokenKind kind) {
    return kind == TokenKind::String || kind == TokenKind::Number || kind == TokenKind::Parameter;
}

/// What says nothing of what a statement does.
bool isLeftOut(const Token& token) {
    return token.isSilent() || token.kind == TokenKind::Terminator || token.kind == TokenKind::Semicolon;
}

}  // namespace

Fingerprint fingerprintOf(std::string_view statement, const Language& language) {
    Hash exact;
    Hash form;
    bool isAfterValue = false;  // in the form, a list of values is one
    bool isAfterComma = false;
    for (const Token& token : lex(statement, language)) {
        if (isLeftOut(token)) continue;
        const std::string_view text = token.textIn(statement);
        token.kind == TokenKind::Word ? exact.addSmall(text) : exact.add(text);
        if (isValue(token.kind)) {
            if (!isAfterValue) form.add("?");
            isAfterValue = true;
            isAfterComma = false;
            continue;
        }
        if (token.kind == TokenKind::Comma && isAfterValue && !isAfterComma) {
            isAfterComma = true;  // it counts when no further value follows
            continue;
        }
        if (isAfterComma) form.add(",");
        isAfterValue = isAfterComma = false;
        token.kind == TokenKind::Word ? form.addSmall(text) : form.add(text);
    }
    return {exact.value(), form.value()};
}

}  // namespace pantry::sql
