#include "app/editor/text_styles.h"

#include <algorithm>

namespace pantry::app {
namespace {

constexpr TextStyleLook kLooks[] = {
    {TextStyle::Plain, "ink", false, false},       {TextStyle::Keyword, "juniper", true, false},
    {TextStyle::Function, "beet", false, false},   {TextStyle::Text, "sage", false, false},
    {TextStyle::Number, "cocoa", false, false},    {TextStyle::Comment, "quiet", false, true},
    {TextStyle::Parameter, "beet", false, false},  {TextStyle::Type, "juniper", false, false},
    {TextStyle::Foreign, "marigold", false, true}, {TextStyle::Strong, "ink", true, false},
    {TextStyle::Emphasis, "ink", false, true}};

TextStyle styleOf(const sql::Token& token, sql::TokenRole role) {
    using sql::TokenKind;
    switch (token.kind) {
        case TokenKind::LineComment:
        case TokenKind::BlockComment:
        case TokenKind::ExecutableComment: return TextStyle::Comment;
        case TokenKind::String: return TextStyle::Text;
        case TokenKind::Number: return TextStyle::Number;
        case TokenKind::Parameter:
        case TokenKind::Variable: return TextStyle::Parameter;
        case TokenKind::BackslashLine:
        case TokenKind::DelimiterLine:
        case TokenKind::CopyData: return TextStyle::Foreign;
        default: break;
    }
    switch (role) {
        case sql::TokenRole::Keyword: return TextStyle::Keyword;
        case sql::TokenRole::Function: return TextStyle::Function;
        case sql::TokenRole::Type: return TextStyle::Type;
        default: return TextStyle::Plain;
    }
}

TextStyle styleOf(exchange::JsonTokenKind kind) {
    switch (kind) {
        case exchange::JsonTokenKind::Name: return TextStyle::Keyword;
        case exchange::JsonTokenKind::String: return TextStyle::Text;
        case exchange::JsonTokenKind::Number: return TextStyle::Number;
        case exchange::JsonTokenKind::Word: return TextStyle::Function;
        case exchange::JsonTokenKind::Unknown: return TextStyle::Foreign;
        default: return TextStyle::Plain;
    }
}

TextStyle styleOf(markdown::TokenKind kind) {
    switch (kind) {
        case markdown::TokenKind::Heading: return TextStyle::Keyword;
        case markdown::TokenKind::Strong: return TextStyle::Strong;
        case markdown::TokenKind::Emphasis: return TextStyle::Emphasis;
        case markdown::TokenKind::Code: return TextStyle::Text;
        case markdown::TokenKind::Link: return TextStyle::Type;
        case markdown::TokenKind::Quote:
        case markdown::TokenKind::Mark: return TextStyle::Comment;
        default: return TextStyle::Plain;
    }
}

/// What the statement that it belongs to says of a token.
sql::TokenRole roleOf(const sql::Script& script, std::size_t token) {
    const auto& statements = script.statements();
    auto s = std::ranges::upper_bound(statements, token, {}, [](const auto& st) { return st.span.firstToken; });
    if (s == statements.begin()) return sql::TokenRole::Plain;
    --s;
    if (token >= s->span.endToken) return sql::TokenRole::Plain;
    return s->tree->roles[token - s->span.firstToken];
}

template <class Tokens, class StyleOf>
std::string stylesOfTokens(const Tokens& tokens, std::size_t from, std::size_t to, const StyleOf& styleOfToken) {
    using Token = typename Tokens::value_type;
    std::string styles(to - from, static_cast<char>(TextStyle::Plain));
    auto token = std::ranges::upper_bound(tokens, static_cast<std::uint32_t>(from), {}, &Token::start);
    if (token != tokens.begin()) --token;
    for (; token != tokens.end() && token->start < to; ++token) {
        const std::size_t first = std::max<std::size_t>(token->start, from);
        const std::size_t last = std::min<std::size_t>(token->start + token->length, to);
        if (first >= last) continue;
        styles.replace(first - from, last - first, last - first, static_cast<char>(styleOfToken(token)));
    }
    return styles;
}

}  // namespace

std::span<const TextStyleLook> textStyleLooks() { return kLooks; }

std::string stylesOf(const work::TextReading& reading, std::size_t from, std::size_t to) {
    if (reading.json()) {
        return stylesOfTokens(reading.json()->tokens, from, to, [](auto token) { return styleOf(token->kind); });
    }
    const auto& tokens = reading.script().tokens();
    std::string styles = stylesOfTokens(tokens, from, to, [&](auto token) {
        return styleOf(*token, roleOf(reading.script(), static_cast<std::size_t>(token - tokens.begin())));
    });
    if (!reading.markdown()) return styles;
    // Of statements and of the text around them, each has a style where the other has none.
    const std::string around =
        stylesOfTokens(reading.markdown()->tokens, from, to, [](auto token) { return styleOf(token->kind); });
    for (std::size_t i = 0; i < styles.size(); ++i) {
        if (styles[i] == static_cast<char>(TextStyle::Plain)) styles[i] = around[i];
    }
    return styles;
}

}  // namespace pantry::app
