#include "core/sql/layout/format_part.h"

#include <algorithm>

#include "core/base/text.h"
#include "core/sql/syntax/parser.h"
#include "core/sql/syntax/splitter.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

/// How many blanks stand at the beginning of the line that a place is on.
std::size_t indentAt(std::string_view text, std::size_t offset) {
    const std::size_t lineBreak = offset == 0 ? std::string_view::npos : text.rfind('\n', offset - 1);
    const std::size_t line = lineBreak == std::string_view::npos ? 0 : lineBreak + 1;
    return std::min(text.find_first_not_of(" \t", line), text.size()) - line;
}

/// Tokens of a formatted text from one to another, whose further lines are moved from one indent to another. Lines
/// within a string or comment stay where they are.
std::string moved(std::string_view text, std::span<const Token> tokens, std::size_t from, std::size_t to) {
    std::string out;
    for (const Token& token : tokens) {
        const std::string_view piece = token.textIn(text);
        const std::size_t lineBreak = token.kind == TokenKind::Blank ? piece.rfind('\n') : std::string_view::npos;
        if (lineBreak == std::string_view::npos) {
            out += piece;
            continue;
        }
        const std::size_t indent = piece.size() - lineBreak - 1;
        out += piece.substr(0, lineBreak + 1);
        out.append(indent + to > from ? indent + to - from : 0, ' ');
    }
    return out;
}

/// The tokens from the n-th that is no blank to the m-th.
std::span<const Token> betweenWords(std::span<const Token> tokens, std::size_t first, std::size_t last) {
    std::size_t begin = tokens.size();
    std::size_t end = tokens.size();
    std::size_t word = 0;
    for (std::size_t i = 0; i < tokens.size(); ++i) {
        if (tokens[i].kind == TokenKind::Blank) continue;
        if (word == first) begin = i;
        if (word == last) {
            end = i + 1;
            break;
        }
        ++word;
    }
    return begin < end ? tokens.subspan(begin, end - begin) : std::span<const Token>();
}

/// A selection of a text, being formatted statement by statement.
class PartFormatter {
public:
    PartFormatter(std::string_view text, std::size_t start, std::size_t end, const Language& language,
                  const FormatOptions& options)
        : text_(text), language_(language), options_(options), tokens_(lex(text, language)) {
        part_.start = start;
        part_.end = end;
        widen();
    }

    FormattedPart run() {
        const std::vector<StatementSpan> spans = touched();
        const bool areWhole = std::ranges::all_of(spans, [&](const StatementSpan& span) { return isWhole(span); });
        if (areWhole) {
            part_.text = alone(part_.start, part_.end);
            return std::move(part_);
        }
        std::size_t done = part_.start;
        for (const StatementSpan& span : spans) {
            const std::size_t from = std::max(span.start, part_.start);
            const std::size_t to = std::min(span.end(), part_.end);
            part_.text += text_.substr(done, from - done);
            part_.text += statement(span, from, to);
            done = to;
        }
        part_.text += text_.substr(done, part_.end - done);
        for (UnreadStatement& one : part_.unread) {  // a mistake may stand behind what was selected
            if (one.offset >= part_.end)
                one.formattedOffset = one.offset + part_.text.size() - (part_.end - part_.start);
        }
        return std::move(part_);
    }

private:
    /// To whole tokens, without blanks at the edges.
    void widen() {
        const auto isTouched = [&](const Token& token) {
            return token.kind != TokenKind::Blank && token.end() > part_.start && token.start < part_.end;
        };
        const auto first = std::ranges::find_if(tokens_, isTouched);
        if (first == tokens_.end()) {
            part_.end = part_.start;
            return;
        }
        const auto last = std::find_if(tokens_.rbegin(), tokens_.rend(), isTouched);
        part_.start = first->start;
        part_.end = last->end();
    }

    [[nodiscard]] std::vector<StatementSpan> touched() const {
        std::vector<StatementSpan> spans = Splitter(text_, tokens_, language_).split();
        std::erase_if(spans, [&](const StatementSpan& s) { return s.end() <= part_.start || s.start >= part_.end; });
        return spans;
    }
    [[nodiscard]] bool isWhole(const StatementSpan& span) const {
        return part_.start <= span.start && span.end() <= part_.end;
    }

    /// A piece of the text as if it stood alone.
    std::string alone(std::size_t from, std::size_t to) {
        std::vector<UnreadStatement> unread;
        std::string formatted = formatScript(text_.substr(from, to - from), language_, options_, &unread);
        for (UnreadStatement& one : unread) {
            one.start += from;
            one.offset += from;
            one.formattedOffset += part_.start + part_.text.size();
            part_.unread.push_back(std::move(one));
        }
        return formatted;
    }

    std::string statement(const StatementSpan& span, std::size_t from, std::size_t to) {
        const std::string_view whole = text_.substr(span.start, span.length);
        const auto own = std::span(tokens_).subspan(span.firstToken, span.endToken - span.firstToken);
        const SyntaxTree tree = parseStatement(whole, own, span.start, span.kind, language_);
        if (canFormat(tree)) return slice(formatStatement(whole, tree, options_), own, from, to);
        return piece(tree, span, from, to);
    }

    /// A part of a statement as it stands in the formatted whole.
    [[nodiscard]] std::string slice(const std::string& formatted, std::span<const Token> own, std::size_t from,
                                    std::size_t to) const {
        const auto wordsBefore = [&](std::size_t offset) {
            return static_cast<std::size_t>(std::ranges::count_if(
                own, [&](const Token& t) { return t.kind != TokenKind::Blank && t.start < offset; }));
        };
        const std::vector<Token> laidOut = lex(formatted, language_);
        const auto tokens = betweenWords(laidOut, wordsBefore(from), wordsBefore(to) - 1);
        const std::string_view as = text_.substr(from, to - from);
        if (tokens.empty()) return std::string(as);
        std::string out = moved(formatted, tokens, indentAt(formatted, tokens.front().start), indentAt(text_, from));
        // A comment may have changed places with a comma, across the edge of the part.
        return haveSameTokens(as, out, language_) ? out : std::string(as);
    }

    /// A part of a statement that cannot be read: by itself, when that can be read, such as one of two statements that
    /// nothing parts.
    std::string piece(const SyntaxTree& tree, const StatementSpan& span, std::size_t from, std::size_t to) {
        const std::string_view as = text_.substr(from, to - from);
        std::vector<UnreadStatement> unread;
        const std::string formatted = formatScript(as, language_, options_, &unread);
        if (unread.empty()) return moved(formatted, lex(formatted, language_), 0, indentAt(text_, from));
        if (auto why = unreadStatement(tree, span.start)) {
            if (why->offset >= from) why->formattedOffset = part_.start + part_.text.size() + why->offset - from;
            part_.unread.push_back(std::move(*why));
        }
        return std::string(as);
    }

    std::string_view text_;
    const Language& language_;
    const FormatOptions& options_;
    std::vector<Token> tokens_;
    FormattedPart part_;
};

}  // namespace

FormattedPart formatPart(std::string_view text, std::size_t start, std::size_t end, const Language& language,
                         const FormatOptions& options) {
    FormattedPart part = PartFormatter(text, start, end, language, options).run();
    // Around the part other ways of reading may be in force, such as a delimiter: in the whole, the tokens must be the
    // same.
    const std::string whole = std::string(text.substr(0, part.start)).append(part.text).append(text.substr(part.end));
    if (!haveSameTokens(text, whole, language)) {
        part.text = text.substr(part.start, part.end - part.start);
        for (UnreadStatement& one : part.unread) one.formattedOffset = one.offset;
    }
    return part;
}

}  // namespace pantry::sql
