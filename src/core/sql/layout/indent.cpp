#include "core/sql/layout/indent.h"

#include <algorithm>
#include <array>

#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

/// Words that stand at the end of a line when what belongs to them comes on the next ones.
constexpr auto kOpeners =
    std::to_array({Keyword::Select, Keyword::From, Keyword::Where, Keyword::Having, Keyword::Set, Keyword::Values,
                   Keyword::By, Keyword::Begin, Keyword::Then, Keyword::Else, Keyword::Case, Keyword::Loop, Keyword::Do,
                   Keyword::Returning, Keyword::Distinct, Keyword::On});

}  // namespace

int indentBehind(std::string_view line, const Language& language) {
    int open = 0;
    int closedBefore = 0;  // brackets that close what earlier lines have opened
    const Token* last = nullptr;
    const std::vector<Token> tokens = lex(line, language);
    for (const Token& token : tokens) {
        if (token.isSilent()) continue;
        last = &token;
        if (token.kind == TokenKind::OpenParen) ++open;
        if (token.kind == TokenKind::CloseParen && open-- == 0) {
            open = 0;
            ++closedBefore;
        }
    }
    if (last == nullptr) return 0;
    const bool beginsWithClose = !tokens.empty() && line.find_first_not_of(" \t") != std::string_view::npos &&
                                 line[line.find_first_not_of(" \t")] == ')';
    if (open > 0) return 1;
    if (std::ranges::find(kOpeners, last->keyword) != kOpeners.end()) return 1;
    // A line that begins with its bracket stands as deep as what it closes already.
    return closedBefore > (beginsWithClose ? 1 : 0) ? -1 : 0;
}

}  // namespace pantry::sql
