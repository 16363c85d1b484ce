#include "core/sql/text/lexer.h"

#include <array>
#include <bit>
#include <cassert>
#include <cstring>

#include "core/base/text.h"
#include "core/sql/text/keyword_table.h"

namespace pantry::sql {
namespace {

using base::isAsciiDigit;

enum Class : std::uint8_t { kNameStart = 1, kNamePart = 2, kOperatorChar = 4, kBlank = 8 };

constexpr std::array<std::uint8_t, 256> makeClasses() {
    std::array<std::uint8_t, 256> table{};
    for (int c = 0; c < 256; ++c) {
        const bool letter = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || c == '_' || c >= 0x80;
        if (letter) table[static_cast<std::size_t>(c)] |= kNameStart | kNamePart;
        if ((c >= '0' && c <= '9') || c == '$') table[static_cast<std::size_t>(c)] |= kNamePart;
    }
    for (const char c : std::string_view("+-*/<>=~!@#%^&|`?")) table[static_cast<unsigned char>(c)] |= kOperatorChar;
    for (const char c : std::string_view(" \t\n\r\f\v")) table[static_cast<unsigned char>(c)] |= kBlank;
    return table;
}

constexpr auto kClasses = makeClasses();

bool hasClass(char c, Class which) { return (kClasses[static_cast<unsigned char>(c)] & which) != 0; }
bool isNameStart(char c) { return hasClass(c, kNameStart); }
bool isNamePart(char c) { return hasClass(c, kNamePart); }

/// Sixteen bytes at a time; the compiler turns it into what the processor has for that.
using Bytes = unsigned char __attribute__((vector_size(16)));

/// How many of the sixteen bytes at `text` belong to a name, from the first on.
std::size_t leadingNameBytes(const char* text) {
    Bytes bytes;
    std::memcpy(&bytes, text, sizeof bytes);
    const Bytes small = bytes | 0x20;
    const auto isPart = ((small - 'a') < 26) | ((bytes - '0') < 10) | (bytes == '_') | (bytes == '$') | (bytes > 0x7F);
    const auto isOther = ~isPart;
    std::uint64_t halves[2];
    std::memcpy(halves, &isOther, sizeof halves);
    if (halves[0] != 0) return static_cast<std::size_t>(std::countr_zero(halves[0])) / 8;
    if (halves[1] != 0) return 8 + static_cast<std::size_t>(std::countr_zero(halves[1])) / 8;
    return sizeof bytes;
}

/// Punctuation that is a token by itself in every dialect.
constexpr std::array<TokenKind, 256> makeSingles() {
    std::array<TokenKind, 256> table{};  // Blank stands for none
    table['('] = TokenKind::OpenParen;
    table[')'] = TokenKind::CloseParen;
    table[','] = TokenKind::Comma;
    return table;
}

constexpr auto kSingles = makeSingles();

/// Operators of the dialects that have a fixed set; longer ones first.
constexpr std::string_view kOperators[] = {"<=>", "->>", "||", "->", "<=", ">=", "<>", "!=", "==", ":=", "::", "=>",
                                           "<<",  ">>",  "&&", "!<", "!>", "+=", "-=", "*=", "/=", "%=", "**", "^="};

/// A trailing + or - belongs to an operator only beside one of these (PostgreSQL manual, 4.1.3).
constexpr std::string_view kKeepsTrailingSign = "~!@#%^&|`?";

bool contains(std::string_view text, std::string_view word) {
    return base::findIgnoringCase(text, word) != std::string_view::npos;
}

/// sql_mode, @@sql_mode, @@session.sql_mode
bool isSqlMode(std::string_view text) {
    constexpr std::string_view kName = "sql_mode";
    if (text.size() < kName.size()) return false;
    const std::string_view before = text.substr(0, text.size() - kName.size());
    return base::equalsIgnoringCase(text.substr(before.size()), kName) && (before.empty() || before.starts_with("@@"));
}

}  // namespace

Lexer::Lexer(std::string_view text, const Language& language, std::vector<Token>& tokens, std::size_t startOffset)
    : text_(text),
      tokens_(tokens),
      dialect_(language.dialect),
      rules_(rulesOf(language)),
      startRules_(rules_),
      pos_(startOffset) {
    assert(text.size() < UINT32_MAX);
}

bool Lexer::isAtFreshStart() const {
    return atStatementStart_ && !hasOwnDelimiter_ && !copyDataNext_ && rules_ == startRules_;
}

/// Written where it stays: a token put together elsewhere and copied as a whole waits for its own writes.
void Lexer::make(TokenKind kind, std::size_t end, bool isClosed, Keyword keyword) {
    tokens_.push_back(
        {static_cast<std::uint32_t>(pos_), static_cast<std::uint32_t>(end - pos_), keyword, kind, isClosed});
    pos_ = end;
}

std::size_t Lexer::lineEnd(std::size_t offset) const {
    const std::size_t end = text_.find_first_of("\r\n", offset);
    return end == std::string_view::npos ? text_.size() : end;
}

std::size_t Lexer::wordEnd(std::size_t offset) const {
    while (offset + sizeof(Bytes) <= text_.size()) {
        const std::size_t parts = leadingNameBytes(text_.data() + offset);
        offset += parts;
        if (parts < sizeof(Bytes)) return offset;
    }
    while (offset < text_.size() && isNamePart(text_[offset])) ++offset;
    return offset;
}

bool Lexer::isFirstOnLine() const {
    std::size_t i = pos_;
    while (i > 0 && (text_[i - 1] == ' ' || text_[i - 1] == '\t')) --i;
    return i == 0 || text_[i - 1] == '\n' || text_[i - 1] == '\r';
}

bool Lexer::isGoLine() const {
    if (base::asciiLower(text_[pos_]) != 'g' || !isFirstOnLine()) return false;
    return base::equalsIgnoringCase(base::trimmed(text_.substr(pos_, lineEnd(pos_) - pos_)), "go");
}

bool Lexer::next() {
    if (pos_ >= text_.size()) return false;
    scanNext();
    // Few tokens mean something beyond themselves.
    const TokenKind kind = tokens_.back().kind;
    if ((isWatching_ || kind >= TokenKind::Terminator) && !tokens_.back().isTrivia()) noteSignificant(tokens_.back());
    return true;
}

/// The three commonest tokens first: a single space, a word, a parenthesis or comma.
void Lexer::scanNext() {
    const char c = text_[pos_];
    const std::uint8_t classes = kClasses[static_cast<unsigned char>(c)];
    if (hasOwnDelimiter_ || copyDataNext_) return scan(c);
    if ((classes & kBlank) != 0) {
        const bool isSingle = c == ' ' && pos_ + 1 < text_.size() && !hasClass(text_[pos_ + 1], kBlank);
        return isSingle ? make(TokenKind::Blank, pos_ + 1) : scanBlank();
    }
    if ((classes & kNameStart) != 0) return scanShortWord();
    if (const TokenKind single = kSingles[static_cast<unsigned char>(c)]; single != TokenKind::Blank) {
        return make(single, pos_ + 1);
    }
    scan(c);
}

/// A word as most are, short enough for one look, and the space after it.
void Lexer::scanShortWord() {
    if (pos_ + 2 * sizeof(Bytes) > text_.size()) return scanWord();
    const char* const start = text_.data() + pos_;
    const std::size_t length = leadingNameBytes(start);
    const char after = start[length];
    if (length == sizeof(Bytes) || (length == 1 && (after == '\'' || after == '&'))) return scanWord();
    if (length == 2 && rules_.goLines) return scanWord();
    const Keyword keyword = keyword_table::find(keyword_table::packedAt(start, length));
    if (keyword == Keyword::Delimiter) return scanWord();
    make(TokenKind::Word, pos_ + length, true, keyword);
    if (!isWatching_ && after == ' ' && !hasClass(start[length + 1], kBlank)) make(TokenKind::Blank, pos_ + 1);
}

void Lexer::endStatement() {
    atStatementStart_ = true;
    copy_ = CopyPhase::None;
    set_ = SetPhase::None;
    bracketDepth_ = 0;
}

/// Follows what changes the reading of the text after it.
void Lexer::noteSignificant(const Token& token) {
    noteKind(token);
    isWatching_ = atStatementStart_ || copy_ != CopyPhase::None || set_ != SetPhase::None;
}

void Lexer::noteKind(const Token& token) {
    switch (token.kind) {
        case TokenKind::Terminator: copyDataNext_ = copy_ == CopyPhase::Due; return endStatement();
        case TokenKind::BackslashLine:
        case TokenKind::DelimiterLine:
        case TokenKind::CopyData: return endStatement();
        case TokenKind::Word:
            if (atStatementStart_ || copy_ != CopyPhase::None) noteWord(token);
            break;
        default: break;
    }
    if (set_ != SetPhase::None) noteSet(token);
    atStatementStart_ = false;
}

/// COPY … FROM STDIN, after whose end the data lines begin; SET.
void Lexer::noteWord(const Token& token) {
    if (atStatementStart_) {
        if (token.is(Keyword::Set)) set_ = SetPhase::Set;
        if (token.is(Keyword::Copy) && rules_.copyData) copy_ = CopyPhase::Copy;
    } else if (copy_ == CopyPhase::Copy && token.is(Keyword::From)) {
        copy_ = CopyPhase::From;
    } else if (copy_ == CopyPhase::From) {
        copy_ = token.is(Keyword::Stdin) ? CopyPhase::Due : CopyPhase::Copy;
    }
}

/// SET standard_conforming_strings = off; SET sql_mode = 'ANSI_QUOTES'
void Lexer::noteSet(const Token& token) {
    const std::string_view text = token.textIn(text_);
    const bool isValue = token.kind == TokenKind::Word || token.kind == TokenKind::String;
    if (set_ == SetPhase::Set) {
        if (base::equalsIgnoringCase(text, "standard_conforming_strings") && dialect_ == Dialect::Postgres) {
            set_ = SetPhase::Strings;
        } else if (dialect_ == Dialect::MySql && isSqlMode(text)) {
            set_ = SetPhase::Mode;
        }
    } else if (isValue && !token.is(Keyword::To)) {
        if (set_ == SetPhase::Strings) {
            const bool isOff = contains(text, "off") || contains(text, "false");
            rules_.backslashEscapes = isOff;
        } else {
            applyMode(text);
        }
        set_ = SetPhase::None;
    }
}

void Lexer::applyMode(std::string_view mode) {
    rules_.doubleQuoteIsString = !contains(mode, "ansi");
    rules_.backslashEscapes = !contains(mode, "no_backslash_escapes");
}

void Lexer::scanBlank() {
    std::size_t end = pos_ + 1;
    while (end < text_.size() && hasClass(text_[end], kBlank)) {
        if (copyDataNext_ && (text_[end] == '\n' || text_[end] == '\r')) break;
        ++end;
    }
    return make(TokenKind::Blank, end);
}

void Lexer::scan(char c) {
    if (hasClass(c, kBlank)) {
        if (copyDataNext_ && (c == '\n' || c == '\r')) return scanCopyData();
        return scanBlank();
    }
    if (hasOwnDelimiter_ && text_.substr(pos_).starts_with(delimiter_)) {
        return make(TokenKind::Terminator, pos_ + delimiter_.size());
    }
    if (isNameStart(c)) return scanWord();
    if (const TokenKind single = kSingles[static_cast<unsigned char>(c)]; single != TokenKind::Blank) {
        return make(single, pos_ + 1);
    }
    switch (c) {
        case '0':
        case '1':
        case '2':
        case '3':
        case '4':
        case '5':
        case '6':
        case '7':
        case '8':
        case '9': return scanNumber();
        case '\'': return scanQuoted(TokenKind::String, '\'', rules_.backslashEscapes || continuesEscaped(), 0);
        case '"':
            return rules_.doubleQuoteIsString ? scanQuoted(TokenKind::String, '"', rules_.backslashEscapes, 0)
                                              : scanQuoted(TokenKind::QuotedName, '"', false, 0);
        case '`':
            if (rules_.backtickNames) return scanQuoted(TokenKind::QuotedName, '`', false, 0);
            break;
        case '[':
            if (rules_.bracketNames) return scanQuoted(TokenKind::QuotedName, ']', false, 0);
            ++bracketDepth_;
            return make(TokenKind::OpenBracket, pos_ + 1);
        case ']':
            if (bracketDepth_ > 0) --bracketDepth_;
            return make(TokenKind::CloseBracket, pos_ + 1);
        case ';': return make(hasOwnDelimiter_ ? TokenKind::Semicolon : TokenKind::Terminator, pos_ + 1);
        case '.':
            if (isAsciiDigit(at(pos_ + 1))) return scanNumber();
            return at(pos_ + 1) == '.' ? make(TokenKind::Operator, pos_ + 2) : make(TokenKind::Dot, pos_ + 1);
        case ':': return scanColon();
        case '$': return scanDollar();
        case '?':
            if (rules_.questionParameters) return scanQuestion();
            break;
        case '@':
            if (rules_.atVariables) return scanVariable();
            if (const std::size_t end = placeholderEnd(); end > pos_) return make(TokenKind::Word, end);
            break;
        case '\\':
            if (isFirstOnLine()) return make(TokenKind::BackslashLine, lineEnd(pos_));
            break;
        case '#':
            if (rules_.hashComments) return make(TokenKind::LineComment, lineEnd(pos_));
            break;
        case '-': return scanDash();
        case '/':
            if (at(pos_ + 1) == '*') return scanBlockComment();
            break;
        default: break;
    }
    return scanOperator();
}

/// A line comment or an operator that begins with a minus.
void Lexer::scanDash() {
    if (at(pos_ + 1) != '-') return scanOperator();
    const bool isApart = pos_ + 2 >= text_.size() || static_cast<unsigned char>(text_[pos_ + 2]) <= ' ';
    if (rules_.dashNeedsBlank && !isApart) return scanOperator();
    return make(TokenKind::LineComment, lineEnd(pos_));
}

void Lexer::scanQuoted(TokenKind kind, char quote, bool backslash, std::size_t prefix) {
    const char* const end = text_.data() + text_.size();
    const char* i = text_.data() + pos_ + prefix + 1;
    while (i < end) {
        if (!backslash) {  // most texts: straight to the next quote
            i = static_cast<const char*>(std::memchr(i, quote, static_cast<std::size_t>(end - i)));
            if (i == nullptr) break;
        } else if (*i == '\\') {
            i += 2;
            continue;
        } else if (*i != quote) {
            ++i;
            continue;
        }
        if (i + 1 == end || i[1] != quote) return make(kind, static_cast<std::size_t>(i + 1 - text_.data()));
        i += 2;  // a doubled quote is one in the text
    }
    return make(kind, text_.size(), false);
}

void Lexer::scanWord() {
    std::size_t end = wordEnd(pos_ + 1);
    const char second = at(pos_ + 1);
    if (end == pos_ + 1 && (second == '\'' || second == '&')) {
        const char c = base::asciiLower(text_[pos_]);
        if (scanPrefixed(c, second)) return;
    }
    if (rules_.goLines && end == pos_ + 2 && isGoLine()) return make(TokenKind::Terminator, end);
    if (hasOwnDelimiter_) {  // a delimiter such as $$ may follow a word directly
        const std::size_t cut = text_.substr(0, end).find(delimiter_, pos_);
        if (cut != std::string_view::npos && cut > pos_) end = cut;
    }
    const Keyword keyword = keywordOf(text_.substr(pos_, end - pos_));
    if (keyword == Keyword::Delimiter && rules_.delimiterLines && atStatementStart_ &&
        (at(end) == ' ' || at(end) == '\t')) {
        return scanDelimiterLine();
    }
    make(TokenKind::Word, end, true, keyword);
}

/// E'…', B'…', X'…', N'…', U&'…', U&"…"; false when the letter is a word by itself.
bool Lexer::scanPrefixed(char c, char second) {
    const auto quoted = [this](TokenKind kind, char quote, bool backslash, std::size_t prefix) {
        scanQuoted(kind, quote, backslash, prefix);
        return true;
    };
    if (second == '\'') {
        if (c == 'e' && rules_.prefixedStrings) return quoted(TokenKind::String, '\'', true, 1);
        if (c == 'b' || c == 'x' || c == 'n') {
            return quoted(TokenKind::String, '\'', rules_.backslashEscapes && c == 'n', 1);
        }
    }
    if (c == 'u' && second == '&' && rules_.prefixedStrings) {
        if (at(pos_ + 2) == '\'') return quoted(TokenKind::String, '\'', false, 2);
        if (at(pos_ + 2) == '"') return quoted(TokenKind::QuotedName, '"', false, 2);
    }
    return false;
}

/// Whether the text goes on with the string before, on a line of its own, and that one escapes: 'a' on the line behind
/// E'b' is a part of it (PostgreSQL manual, 4.1.2.2).
bool Lexer::continuesEscaped() const {
    if (!rules_.prefixedStrings) return false;
    bool isOnNewLine = false;
    for (std::size_t i = tokens_.size(); i-- > 0;) {
        const Token& token = tokens_[i];
        if (token.kind == TokenKind::Blank || token.kind == TokenKind::LineComment) {
            isOnNewLine = isOnNewLine || token.textIn(text_).find('\n') != std::string_view::npos;
            continue;
        }
        if (token.kind != TokenKind::String || !isOnNewLine) return false;
        const char first = text_[token.start];
        if (first != '\'') return base::asciiLower(first) == 'e';
        isOnNewLine = false;  // a part in the middle: look at what it goes on with
    }
    return false;
}

/// The end of @name@, which a script of an extension has in place of a name (PostgreSQL manual, 38.17.4); pos_ for
/// none.
std::size_t Lexer::placeholderEnd() const {
    if (dialect_ != Dialect::Postgres || !isNameStart(at(pos_ + 1))) return pos_;
    std::size_t end = wordEnd(pos_ + 1);
    if (at(end) == ':' && isNameStart(at(end + 1))) end = wordEnd(end + 1);  // @extschema:name@
    return at(end) == '@' ? end + 1 : pos_;
}

void Lexer::scanNumber() {
    std::size_t i = pos_;
    const char prefix = base::asciiLower(at(pos_ + 1));
    if (text_[i] == '0' && (prefix == 'x' || prefix == 'b' || prefix == 'o') && isNamePart(at(pos_ + 2))) {
        return make(TokenKind::Number, wordEnd(pos_ + 2));
    }
    const auto digits = [&] {
        while (i < text_.size() && (isAsciiDigit(text_[i]) || (text_[i] == '_' && isAsciiDigit(at(i + 1))))) ++i;
    };
    digits();
    if (at(i) == '.' && at(i + 1) != '.') {
        ++i;
        digits();
    }
    if (base::asciiLower(at(i)) == 'e') {
        const std::size_t sign = at(i + 1) == '+' || at(i + 1) == '-' ? 1 : 0;
        if (isAsciiDigit(at(i + 1 + sign))) {
            i += 1 + sign;
            digits();
        }
    }
    if (rules_.digitNames && isNameStart(at(i))) return make(TokenKind::Word, wordEnd(i));
    return make(TokenKind::Number, i);
}

void Lexer::scanOperator() {
    if (!rules_.freeOperators) {
        for (const std::string_view op : kOperators) {
            if (text_.substr(pos_).starts_with(op)) return make(TokenKind::Operator, pos_ + op.size());
        }
        const bool known = hasClass(text_[pos_], kOperatorChar) || text_[pos_] == ':';
        return make(known ? TokenKind::Operator : TokenKind::Invalid, pos_ + 1);
    }
    std::size_t end = pos_;
    bool keepsSign = false;
    while (end < text_.size() && hasClass(text_[end], kOperatorChar)) {
        const std::string_view two = text_.substr(end, 2);
        if (two == "--" || two == "/*") break;
        keepsSign = keepsSign || kKeepsTrailingSign.find(text_[end]) != std::string_view::npos;
        ++end;
    }
    if (end == pos_) return make(TokenKind::Invalid, pos_ + 1);
    while (!keepsSign && end > pos_ + 1 && (text_[end - 1] == '+' || text_[end - 1] == '-')) --end;
    return make(TokenKind::Operator, end);
}

void Lexer::scanBlockComment() {
    const bool isExecutable =
        rules_.executableComments && (at(pos_ + 2) == '!' || (at(pos_ + 2) == 'M' && at(pos_ + 3) == '!'));
    const TokenKind kind = isExecutable ? TokenKind::ExecutableComment : TokenKind::BlockComment;
    std::size_t depth = 1;
    for (std::size_t i = pos_ + 2; i + 1 < text_.size(); ++i) {
        if (text_[i] == '*' && text_[i + 1] == '/') {
            if (--depth == 0) return make(kind, i + 2);
            ++i;
        } else if (rules_.nestedComments && text_[i] == '/' && text_[i + 1] == '*') {
            ++depth;
            ++i;
        }
    }
    return make(kind, text_.size(), false);
}

/// SQLite's $name may go on with ::name and end in (…), as variables of Tcl do.
std::size_t Lexer::tclNameEnd(std::size_t offset) const {
    std::size_t end = wordEnd(offset);
    while (at(end) == ':' && at(end + 1) == ':' && isNamePart(at(end + 2))) end = wordEnd(end + 2);
    if (at(end) != '(') return end;
    const std::size_t close = text_.find_first_of(") \t\r\n", end);
    return close != std::string_view::npos && text_[close] == ')' ? close + 1 : end;
}

void Lexer::scanDollar() {
    if (rules_.dollarQuotes) {
        if (isAsciiDigit(at(pos_ + 1))) {
            std::size_t end = pos_ + 1;
            while (isAsciiDigit(at(end))) ++end;
            return make(TokenKind::Parameter, end);
        }
        std::size_t tagEnd = pos_ + 1;
        if (isNameStart(at(tagEnd))) {
            while (isNamePart(at(tagEnd)) && at(tagEnd) != '$') ++tagEnd;
        }
        if (at(tagEnd) == '$') {
            const std::string_view tag = text_.substr(pos_, tagEnd + 1 - pos_);
            const std::size_t close = text_.find(tag, tagEnd + 1);
            if (close == std::string_view::npos) return make(TokenKind::String, text_.size(), false);
            return make(TokenKind::String, close + tag.size());
        }
    }
    if (rules_.dollarParameters && isNamePart(at(pos_ + 1))) return make(TokenKind::Parameter, tclNameEnd(pos_ + 1));
    if (rules_.digitNames && isNamePart(at(pos_ + 1))) return make(TokenKind::Word, wordEnd(pos_ + 1));
    return make(TokenKind::Invalid, pos_ + 1);
}

/// `:name` is a parameter unless the colon belongs to what stands before it: a cast, a slice, a label, a time.
void Lexer::scanColon() {
    if (at(pos_ + 1) == ':' || at(pos_ + 1) == '=') return make(TokenKind::Operator, pos_ + 2);
    const char before = pos_ > 0 ? text_[pos_ - 1] : ' ';
    const bool isAttached = isNamePart(before) || before == ':' || before == '\'' || before == '"' || before == '`' ||
                            before == ']' || before == ')';
    if (!isAttached && bracketDepth_ == 0 && isNameStart(at(pos_ + 1))) {
        return make(TokenKind::Parameter, wordEnd(pos_ + 1));
    }
    return make(TokenKind::Operator, pos_ + 1);
}

void Lexer::scanVariable() {
    std::size_t start = pos_ + 1;
    if (at(start) == '@') ++start;
    const char quote = at(start);
    if (dialect_ == Dialect::MySql && (quote == '\'' || quote == '"' || quote == '`')) {
        return scanQuoted(TokenKind::Variable, quote, false, start - pos_);
    }
    std::size_t end = wordEnd(start);
    while (dialect_ == Dialect::MySql && at(end) == '.' && isNameStart(at(end + 1))) end = wordEnd(end + 1);
    if (end == start) return scanOperator();
    return make(dialect_ == Dialect::Sqlite ? TokenKind::Parameter : TokenKind::Variable, end);
}

void Lexer::scanQuestion() {
    std::size_t end = pos_ + 1;
    while (dialect_ == Dialect::Sqlite && isAsciiDigit(at(end))) ++end;
    return make(TokenKind::Parameter, end);
}

void Lexer::scanDelimiterLine() {
    const std::size_t end = lineEnd(pos_);
    constexpr std::size_t kWordLength = 9;
    const std::string_view wanted = base::trimmed(text_.substr(pos_ + kWordLength, end - pos_ - kWordLength));
    if (!wanted.empty()) delimiter_ = wanted.substr(0, wanted.find_first_of(" \t"));
    hasOwnDelimiter_ = delimiter_ != ";";
    return make(TokenKind::DelimiterLine, end);
}

/// The lines after COPY … FROM STDIN; from the line break on, up to a line with \. alone.
void Lexer::scanCopyData() {
    copyDataNext_ = false;
    for (std::size_t i = pos_; i < text_.size();) {
        const std::size_t lineStart = i + (text_.substr(i, 2) == "\r\n" ? 2 : 1);
        const std::size_t end = lineEnd(lineStart);
        if (text_.substr(lineStart, end - lineStart) == "\\.") return make(TokenKind::CopyData, end);
        i = end;
    }
    return make(TokenKind::CopyData, text_.size(), false);
}

std::vector<Token> lex(std::string_view text, const Language& language) {
    std::vector<Token> tokens;
    tokens.reserve(text.size() / 2 + 8);  // what is not used is never touched
    Lexer lexer(text, language, tokens);
    while (lexer.next()) {
    }
    return tokens;
}

std::string quotedName(std::string_view name, Dialect dialect) {
    bool isPlain = !name.empty() && isNameStart(name[0]);
    for (const char c : name) {
        // PostgreSQL folds unquoted names to small letters, so capitals need quotes there.
        const bool folds = dialect == Dialect::Postgres && c >= 'A' && c <= 'Z';
        isPlain = isPlain && isNamePart(c) && !folds && c != '$' && static_cast<unsigned char>(c) < 0x80;
    }
    if (isPlain && !isReserved(keywordOf(name), dialect)) return std::string(name);
    const char quote = dialect == Dialect::MySql ? '`' : '"';
    std::string out(1, quote);
    for (const char c : name) {
        if (c == quote) out += quote;
        out += c;
    }
    return out + quote;
}

std::string unquotedName(std::string_view token) {
    if (token.size() < 2) return std::string(token);
    const char open = token.front();
    if (open != '"' && open != '`' && open != '[') return std::string(token);
    const char quote = open == '[' ? ']' : open;
    std::string out;
    for (std::size_t i = 1; i < token.size(); ++i) {
        if (token[i] == quote) {
            if (i + 1 >= token.size() || token[i + 1] != quote) break;
            ++i;
        }
        out += token[i];
    }
    return out;
}

std::string quotedString(std::string_view value, const Language& language) {
    const bool escapes = rulesOf(language).backslashEscapes;
    std::string out = "'";
    for (const char c : value) {
        if (c == '\'') out += '\'';
        if (c == '\\' && escapes) out += '\\';
        if (c == '\0' && escapes) {
            out += "\\0";
            continue;
        }
        out += c;
    }
    return out + "'";
}

}  // namespace pantry::sql
