#include "core/sql/syntax/script.h"

#include <algorithm>
#include <unordered_map>

#include "core/base/text.h"
#include "core/sql/syntax/parser.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

/// After so many places where old and new text could meet again, the rest is read anew.
constexpr int kMeetingTries = 4;

/// Whether the same bytes were cut into the same tokens then as now; a SET before them can change that.
bool isReadAlike(const SyntaxTree& tree, std::span<const Token> tokens) {
    return std::ranges::equal(tree.tokens, tokens, {}, &Token::kind, &Token::kind);
}

}  // namespace

/// What differs between the old text and the new: the bytes from `start` on, up to an end in each.
struct Script::Edit {
    std::size_t start;
    std::size_t oldEnd;
    std::size_t newEnd;

    static Edit between(std::string_view before, std::string_view after) {
        const std::size_t start = base::commonStart(before, after);
        const std::size_t tail = base::commonEnd(before.substr(start), after.substr(start));
        return {start, before.size() - tail, after.size() - tail};
    }
};

void Script::setText(std::string_view text) {
    parsedCount_ = 0;
    if (text == text_) return;
    const Edit edit = Edit::between(text_, text);
    const std::size_t kept = statementsBefore(edit.start);
    const Window window = read(text, edit, kept);
    replace(text, edit, kept, window);
}

/// Statements that an edit at `offset` cannot reach: what follows them can be read by itself.
std::size_t Script::statementsBefore(std::size_t offset) const {
    const auto after =
        std::ranges::upper_bound(statements_, offset, {}, [](const ScriptStatement& s) { return s.span.regionEnd; });
    auto count = static_cast<std::size_t>(after - statements_.begin());
    while (count > 0 && !statements_[count - 1].isFreshAfter) --count;
    return count;
}

/// The line of the place behind the last kept statement; counted from that statement on, not from the text's beginning.
std::size_t Script::lineOf(std::size_t offset, std::size_t kept) const {
    if (kept == 0) return 1;
    const StatementSpan& last = statements_[kept - 1].span;
    return last.line + static_cast<std::size_t>(std::count(text_.begin() + static_cast<std::ptrdiff_t>(last.start),
                                                           text_.begin() + static_cast<std::ptrdiff_t>(offset), '\n'));
}

/// Reads the new text from the end of the kept statements on, until it meets an old statement's end again.
Script::Window Script::read(std::string_view text, const Edit& edit, std::size_t kept) const {
    Window window;
    window.start = kept == 0 ? 0 : statements_[kept - 1].span.regionEnd;
    window.resume = statements_.size();
    Lexer lexer(text, language_, window.tokens, window.start);
    const auto split = [&, from = lineOf(window.start, kept)] {
        return Splitter(text, window.tokens, language_, {window.start, from}).split();
    };
    std::vector<std::size_t> freshEnds;
    int tries = 0;
    while (lexer.next()) {
        const Token token = window.tokens.back();
        if (token.kind != TokenKind::Terminator || !lexer.isAtFreshStart() || text[token.start] != ';') continue;
        freshEnds.push_back(token.end());
        if (token.end() < edit.newEnd || tries >= kMeetingTries) continue;
        const std::size_t oldEnd = token.end() - edit.newEnd + edit.oldEnd;
        const auto met = std::ranges::lower_bound(statements_, oldEnd, {},
                                                  [](const ScriptStatement& s) { return s.span.regionEnd; });
        if (met == statements_.end() || met->span.regionEnd != oldEnd || !met->isFreshAfter) continue;
        ++tries;
        // The lexer may stand between statements while a routine's body is still open.
        window.spans = split();
        const bool isBetween =
            !window.spans.empty() && window.spans.back().isTerminated && window.spans.back().regionEnd == token.end();
        if (!isBetween) continue;
        window.resume = static_cast<std::size_t>(met - statements_.begin()) + 1;
        window.meets = true;
        break;
    }
    if (!window.meets) window.spans = split();
    for (const StatementSpan& span : window.spans) {
        // An open body may end in a terminator without being ended by it.
        window.isFreshAfter.push_back(span.isTerminated && std::ranges::binary_search(freshEnds, span.regionEnd));
    }
    return window;
}

/// Puts what was read between the statements that stay.
void Script::replace(std::string_view text, const Edit& edit, std::size_t kept, const Window& window) {
    const std::size_t firstToken = tokenAt(window.start);
    const std::size_t oldEnd = window.meets ? statements_[window.resume - 1].span.regionEnd : text_.size();
    const std::size_t endToken = tokenAt(oldEnd);
    std::vector<ScriptStatement> fresh = parseWindow(text, kept, window, firstToken);

    const auto byteShift = static_cast<std::ptrdiff_t>(edit.newEnd) - static_cast<std::ptrdiff_t>(edit.oldEnd);
    const auto tokenShift =
        static_cast<std::ptrdiff_t>(window.tokens.size()) - static_cast<std::ptrdiff_t>(endToken - firstToken);
    const auto lineShift = std::count(text.begin() + static_cast<std::ptrdiff_t>(edit.start),
                                      text.begin() + static_cast<std::ptrdiff_t>(edit.newEnd), '\n') -
                           std::count(text_.begin() + static_cast<std::ptrdiff_t>(edit.start),
                                      text_.begin() + static_cast<std::ptrdiff_t>(edit.oldEnd), '\n');
    for (std::size_t i = endToken; i < tokens_.size(); ++i) tokens_[i].start += static_cast<std::uint32_t>(byteShift);
    for (std::size_t i = window.resume; i < statements_.size(); ++i) {
        StatementSpan& span = statements_[i].span;
        span.start += static_cast<std::size_t>(byteShift);
        span.regionEnd += static_cast<std::size_t>(byteShift);
        span.firstToken += static_cast<std::size_t>(tokenShift);
        span.endToken += static_cast<std::size_t>(tokenShift);
        span.line += static_cast<std::size_t>(lineShift);
    }
    const auto place = [](auto& all, std::size_t from, std::size_t to, const auto& middle) {
        const auto at =
            all.erase(all.begin() + static_cast<std::ptrdiff_t>(from), all.begin() + static_cast<std::ptrdiff_t>(to));
        all.insert(at, middle.begin(), middle.end());
    };
    place(tokens_, firstToken, endToken, window.tokens);
    place(statements_, kept, window.resume, fresh);
    text_ = text;
}

/// A statement is told by its bytes: equal bytes in the same language have the same tree, wherever they stand.
std::vector<ScriptStatement> Script::parseWindow(std::string_view text, std::size_t kept, const Window& window,
                                                 std::size_t firstToken) {
    std::unordered_multimap<std::string_view, std::shared_ptr<const SyntaxTree>> known;
    for (std::size_t i = kept; i < window.resume; ++i) known.emplace(textOf(i), statements_[i].tree);
    std::vector<ScriptStatement> fresh;
    fresh.reserve(window.spans.size());
    for (std::size_t i = 0; i < window.spans.size(); ++i) {
        const StatementSpan& span = window.spans[i];
        const std::string_view own = text.substr(span.start, span.length);
        ScriptStatement statement{span, nullptr, window.isFreshAfter[i], statementHash(own)};
        const auto run = std::span(window.tokens).subspan(span.firstToken, span.endToken - span.firstToken);
        if (const auto found = known.find(own); found != known.end() && isReadAlike(*found->second, run)) {
            statement.tree = found->second;
        } else {
            statement.tree =
                std::make_shared<const SyntaxTree>(parseStatement(own, run, span.start, span.kind, language_));
            ++parsedCount_;
        }
        statement.span.firstToken += firstToken;
        statement.span.endToken += firstToken;
        fresh.push_back(std::move(statement));
    }
    return fresh;
}

/// Index of the token that begins at `offset`, or of the end.
std::size_t Script::tokenAt(std::size_t offset) const {
    return static_cast<std::size_t>(std::ranges::lower_bound(tokens_, offset, {}, &Token::start) - tokens_.begin());
}

void Script::setLanguage(const Language& language) {
    if (language == language_) return;
    language_ = language;
    statements_.clear();
    tokens_.clear();
    const std::string text = std::move(text_);
    text_.clear();
    setText(text);
}

std::optional<std::size_t> Script::indexAt(std::size_t offset) const {
    // Only the statements beside the place can be meant.
    const auto after = std::ranges::upper_bound(statements_, offset, {}, [](const auto& s) { return s.span.start; });
    const auto next = static_cast<std::size_t>(after - statements_.begin());
    const std::size_t first = next > 0 ? next - 1 : 0;
    std::vector<StatementSpan> beside;
    for (std::size_t i = first; i < std::min(next + 1, statements_.size()); ++i) beside.push_back(statements_[i].span);
    const auto found = statementAt(text_, beside, offset);
    return found ? std::optional(first + *found) : std::nullopt;
}

}  // namespace pantry::sql
