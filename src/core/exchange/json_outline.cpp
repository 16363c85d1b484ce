#include "core/exchange/json_outline.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.h"
#include "core/exchange/json_text.h"

namespace pantry::exchange {
namespace {

/// Reads tokens and follows, with a stack of open brackets, what may come next (RFC 8259, 2).
class Outliner {
public:
    explicit Outliner(std::string_view text) : text_(text) {}

    JsonOutline run() {
        while (skipBlanks()) {
            const JsonToken token = next();
            out_.tokens.push_back(token);
            take(out_.tokens.back());
            at_ = token.start + token.length;
        }
        if (!open_.empty()) {
            complain(text_.size(), fmt::format("The {} of line {} has no end.", text_[open_.back()] == '{' ? "{" : "[",
                                               1 + std::ranges::count(text_.substr(0, open_.back()), '\n')));
        }
        return std::move(out_);
    }

private:
    enum class Expects : std::uint8_t { Value, ValueOrEnd, NameOrEnd, Name, Colon, CommaOrEnd };

    bool skipBlanks() {
        while (at_ < text_.size() && base::isAsciiBlank(text_[at_])) ++at_;
        return at_ < text_.size();
    }

    JsonToken next() {
        const auto token = [this](std::size_t end, JsonTokenKind kind) {
            return JsonToken{static_cast<std::uint32_t>(at_), static_cast<std::uint32_t>(end - at_), kind};
        };
        const char c = text_[at_];
        if (c == '"') return token(endOfString(), JsonTokenKind::String);
        if (std::string_view("{}[]").find(c) != std::string_view::npos) return token(at_ + 1, JsonTokenKind::Bracket);
        if (c == ',' || c == ':') return token(at_ + 1, JsonTokenKind::Separator);
        const std::size_t end = std::min(text_.find_first_of(" \t\r\n{}[],:\"", at_), text_.size());
        const std::string_view word = text_.substr(at_, end - at_);
        if (word == "true" || word == "false" || word == "null") return token(end, JsonTokenKind::Word);
        return token(end, isJsonNumber(word) ? JsonTokenKind::Number : JsonTokenKind::Unknown);
    }

    /// Behind the closing quote, or at the end of the line that lacks it.
    std::size_t endOfString() {
        for (std::size_t i = at_ + 1; i < text_.size(); ++i) {
            if (text_[i] == '"') return i + 1;
            if (text_[i] == '\n') {
                complain(at_, "This text has no closing quote.");
                return i;
            }
            if (text_[i] == '\\') {
                const bool isKnown = i + 1 < text_.size() &&
                                     std::string_view("\"\\/bfnrtu").find(text_[i + 1]) != std::string_view::npos;
                if (!isKnown) complain(i, "JSON knows no such escape; a backslash itself is written \\\\.");
                if (i + 1 < text_.size() && text_[i + 1] != '\n') ++i;
            } else if (static_cast<unsigned char>(text_[i]) < 0x20) {
                complain(i, "A control character in a text is written as an escape: \\t, \\n, \\u0001.");
            }
        }
        complain(at_, "This text has no closing quote.");
        return text_.size();
    }

    void take(JsonToken& token) {
        const std::string_view word = text_.substr(token.start, token.length);
        switch (token.kind) {
            case JsonTokenKind::Bracket: return word == "{" || word == "[" ? openBracket(token) : closeBracket(token);
            case JsonTokenKind::Separator: return separate(token);
            case JsonTokenKind::Unknown:
                complain(token.start, fmt::format("“{}” is no value of JSON; a text stands in double quotes.",
                                                  base::oneLine(word, 40)));
                return noteValue();
            case JsonTokenKind::String:
                if (expects_ == Expects::Name || expects_ == Expects::NameOrEnd) {
                    token.kind = JsonTokenKind::Name;
                    expects_ = Expects::Colon;
                    return;
                }
                [[fallthrough]];
            default: expectValue(token); return noteValue();
        }
    }

    void expectValue(const JsonToken& token) {
        switch (expects_) {
            case Expects::Value:
            case Expects::ValueOrEnd: return;
            case Expects::Name:
            case Expects::NameOrEnd: return complain(token.start, "A name in double quotes should stand here.");
            case Expects::Colon: return complain(token.start, "A colon is missing before this.");
            case Expects::CommaOrEnd: return complain(token.start, "A comma is missing before this.");
        }
    }

    void openBracket(const JsonToken& token) {
        expectValue(token);
        open_.push_back(token.start);
        expects_ = text_[token.start] == '{' ? Expects::NameOrEnd : Expects::ValueOrEnd;
    }

    void closeBracket(const JsonToken& token) {
        const char bracket = text_[token.start];
        if (open_.empty())
            return complain(token.start, fmt::format("Nothing is open that this {} could end.", bracket));
        const char wanted = text_[open_.back()] == '{' ? '}' : ']';
        if (bracket != wanted) {
            return complain(token.start,
                            fmt::format("A {} should stand here: that is how the bracket before began.", wanted));
        }
        if (expects_ == Expects::Value || expects_ == Expects::Name) {
            complain(token.start, fmt::format("Something should follow the comma or colon before this {}.", bracket));
        } else if (expects_ == Expects::Colon) {
            complain(token.start, "A colon and a value are missing before this.");
        }
        out_.pairs.push_back({open_.back(), token.start});
        open_.pop_back();
        noteValue();
    }

    void separate(const JsonToken& token) {
        const bool isColon = text_[token.start] == ':';
        if (isColon && expects_ == Expects::Colon) {
            expects_ = Expects::Value;
        } else if (!isColon && expects_ == Expects::CommaOrEnd && !open_.empty()) {
            expects_ = text_[open_.back()] == '{' ? Expects::Name : Expects::Value;
        } else {
            complain(token.start,
                     isColon ? "A colon stands only behind a name." : "A comma stands only between two values.");
        }
    }

    /// Outside all brackets another value may follow, as in JSON Lines.
    void noteValue() { expects_ = open_.empty() ? Expects::Value : Expects::CommaOrEnd; }

    void complain(std::size_t at, std::string message) {
        const bool isEarlier = !out_.problem || at < out_.problem->byteOffset;
        if (isEarlier) out_.problem = JsonProblem{at, std::move(message)};
    }

    std::string_view text_;
    std::size_t at_ = 0;
    Expects expects_ = Expects::Value;
    std::vector<std::uint32_t> open_;
    JsonOutline out_;
};

}  // namespace

JsonOutline outlineJson(std::string_view text) { return Outliner(text).run(); }

bool looksLikeJson(std::string_view text) {
    const auto first = std::ranges::find_if_not(text, base::isAsciiBlank);
    return first != text.end() && (*first == '{' || *first == '[');
}

}  // namespace pantry::exchange
