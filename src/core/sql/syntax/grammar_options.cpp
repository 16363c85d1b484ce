#include "core/base/text.h"
#include "core/sql/syntax/grammar.h"

namespace pantry::sql {
namespace {

constexpr std::initializer_list<Keyword> kTypeWords = {
    Keyword::Bigint,    Keyword::Bit,      Keyword::Blob,       Keyword::Bool,      Keyword::Boolean,
    Keyword::Bytea,     Keyword::Char,     Keyword::Date,       Keyword::Decimal,   Keyword::Double,
    Keyword::Float,     Keyword::Int,      Keyword::Integer,    Keyword::Interval,  Keyword::Json,
    Keyword::Jsonb,     Keyword::Numeric,  Keyword::Real,       Keyword::Smallint,  Keyword::Text,
    Keyword::Timestamp, Keyword::Tinyint,  Keyword::Uuid,       Keyword::Varchar,   Keyword::Precision,
    Keyword::Varying,   Keyword::Longtext, Keyword::Mediumtext, Keyword::Mediumint, Keyword::Xml};

/// What follows these is somebody's name, even when it looks like a keyword.
/// What stands in parentheses behind these are columns: PARTITION BY RANGE (at).
constexpr std::initializer_list<Keyword> kWordsBeforeColumns = {Keyword::Range, Keyword::List, Keyword::Hash,
                                                                Keyword::Columns};

constexpr std::initializer_list<Keyword> kWordsBeforeNames = {
    Keyword::Language,  Keyword::Tablespace, Keyword::Schema, Keyword::Collate,   Keyword::Engine,
    Keyword::Extension, Keyword::Handler,    Keyword::After,  Keyword::Validator, Keyword::Savepoint};

}  // namespace

/// Takes a word of the server's own: a keyword where the table knows it and no name is due.
void Grammar::optionWord(bool isNameDue, bool inGroup) {
    const bool isWord = s_.at(TokenKind::Word) && s_.keyword() != Keyword::None;
    const bool isParameterName = inGroup && s_.atOperator("=", 1);
    if (!isWord || isNameDue || isParameterName || s_.at(TokenKind::Dot, 1)) return s_.take(TokenRole::Plain);
    s_.take(s_.atAny(kTypeWords) ? TokenRole::Type : TokenRole::Keyword);
}

/// Takes one thing of an option: a group, a word, a value.
void Grammar::optionThing(bool& isNameDue, bool inGroup) {
    if (s_.at(TokenKind::OpenParen)) {
        optionGroup(areColumnsDue_);
        isNameDue = false;
        areColumnsDue_ = false;
        return;
    }
    areColumnsDue_ = s_.atAny(kWordsBeforeColumns);
    const bool comesBeforeName = s_.atOperator("=") || s_.at(TokenKind::Dot) || s_.atAny(kWordsBeforeNames);
    optionWord(isNameDue, inGroup);
    isNameDue = comesBeforeName;
}

/// ( … ) with anything in it whose parentheses match; `keepsCase` where all its words are names.
void Grammar::optionGroup(bool keepsCase) {
    const DepthScope depth(s_);
    const NodeScope node(s_, NodeKind::OptionGroup);
    s_.expect(TokenKind::OpenParen, "(");
    if (tooDeep()) return;
    bool isNameDue = keepsCase;
    while (!s_.atClose()) {
        optionThing(isNameDue, true);
        isNameDue = isNameDue || keepsCase;
    }
    s_.expect(TokenKind::CloseParen, ")");
}

/// Words, values and groups whose meaning is the server's business, up to the end, a closing parenthesis of the
/// outside, or a token at which `stop` holds.
void Grammar::options(const Stop& stop) {
    const auto isOver = [&] {
        const bool nextElement = isInSchema_ && (s_.at(Keyword::Create) || s_.at(Keyword::Grant));
        const bool nextStatement = s_.atNextStatement() && !(isAltering_ && s_.at(Keyword::Drop));
        return s_.atClose() || nextElement || nextStatement || (stop && stop());
    };
    if (isOver()) return;
    const NodeScope node(s_, NodeKind::Options);
    bool isNameDue = false;
    while (!isOver()) optionThing(isNameDue, false);
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
