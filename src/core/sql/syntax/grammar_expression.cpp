#include "core/base/text.h"
#include "core/sql/syntax/grammar.h"

namespace pantry::sql {
namespace {

/// Reserved words that stand for a value by themselves.
constexpr std::initializer_list<Keyword> kValueWords = {
    Keyword::CurrentDate, Keyword::CurrentTime,    Keyword::CurrentTimestamp, Keyword::CurrentUser,
    Keyword::CurrentRole, Keyword::CurrentCatalog, Keyword::CurrentSchema,    Keyword::SessionUser,
    Keyword::User,        Keyword::Localtime,      Keyword::Localtimestamp,   Keyword::Maxvalue,
    Keyword::SystemUser};

/// Reserved words that cannot begin an expression even before a parenthesis.
constexpr std::initializer_list<Keyword> kNeverFunctions = {
    Keyword::Select,    Keyword::From,   Keyword::Where, Keyword::Group,     Keyword::Having, Keyword::Order,
    Keyword::Limit,     Keyword::Offset, Keyword::Union, Keyword::Intersect, Keyword::Except, Keyword::On,
    Keyword::Using,     Keyword::As,     Keyword::And,   Keyword::Or,        Keyword::Not,    Keyword::In,
    Keyword::Between,   Keyword::Like,   Keyword::Is,    Keyword::When,      Keyword::Then,   Keyword::Else,
    Keyword::End,       Keyword::Join,   Keyword::Inner, Keyword::Cross,     Keyword::Into,   Keyword::Set,
    Keyword::Returning, Keyword::Fetch,  Keyword::For,   Keyword::Window,    Keyword::With,   Keyword::Natural,
    Keyword::Full,      Keyword::Create, Keyword::Table};

constexpr int kStrengthOther = 1;  // || -> and every operator without a rank of its own
constexpr int kStrengthSum = 2;
constexpr int kStrengthProduct = 3;
constexpr int kStrengthPower = 4;

bool isComparison(std::string_view op) {
    return op == "=" || op == "<" || op == ">" || op == "<=" || op == ">=" || op == "<>" || op == "!=" || op == "==" ||
           op == "<=>" || op == "!<" || op == "!>";
}

}  // namespace

bool Grammar::atExpression() const {
    if (s_.atEnd()) return false;
    switch (s_.kind()) {
        case TokenKind::Comma:
        case TokenKind::CloseParen:
        case TokenKind::CloseBracket:
        case TokenKind::Dot:
        case TokenKind::Terminator:
        case TokenKind::Semicolon: return false;
        case TokenKind::Invalid: return s_.text() == "{" && s_.dialect != Dialect::Postgres;
        case TokenKind::Word:
            return !atClause() || s_.at(TokenKind::OpenParen, 1) ||
                   (s_.at(Keyword::Values) && s_.dialect == Dialect::Postgres);
        default: return true;
    }
}

void Grammar::expression() {
    const DepthScope depth(s_);
    if (tooDeep()) return;
    if (!atExpression()) return s_.fail("an expression");
    orExpression();
}

/// An expression of operators, without comparisons, AND, OR and NOT.
void Grammar::boundExpression() {
    if (!atExpression()) return s_.fail("an expression");
    binary(kStrengthOther);
}

void Grammar::orExpression() {
    const auto mark = s_.mark();
    const auto position = s_.position();
    andExpression();
    if (!s_.at(Keyword::Or) && !s_.at(Keyword::Xor)) return;
    while (s_.at(Keyword::Or) || (s_.at(Keyword::Xor) && s_.dialect == Dialect::MySql)) {
        s_.take(TokenRole::Keyword);
        andExpression();
    }
    s_.close(NodeKind::LogicalChain, mark, position);
}

void Grammar::andExpression() {
    const auto mark = s_.mark();
    const auto position = s_.position();
    notExpression();
    const auto isAnd = [this] { return s_.at(Keyword::And) || (s_.dialect == Dialect::MySql && s_.atOperator("&&")); };
    if (!isAnd()) return;
    while (isAnd()) {
        s_.take(TokenRole::Keyword);
        notExpression();
    }
    s_.close(NodeKind::LogicalChain, mark, position);
}

void Grammar::notExpression() {
    if (!s_.at(Keyword::Not)) return predicate();
    const DepthScope depth(s_);
    const NodeScope node(s_, NodeKind::Unary);
    s_.take(TokenRole::Keyword);
    if (tooDeep()) return;
    notExpression();
}

/// Comparisons and the predicates that bind as tightly.
void Grammar::predicate() {
    const auto mark = s_.mark();
    const auto position = s_.position();
    binary(kStrengthOther);
    while (predicateTail(mark, position)) {
    }
}

bool Grammar::predicateTail(ParseState::Mark mark, std::size_t position) {
    if (s_.at(TokenKind::Operator) && isComparison(s_.text())) {
        s_.take();
        if (s_.atAny({Keyword::Any, Keyword::Some, Keyword::All}) && s_.at(TokenKind::OpenParen, 1)) {
            s_.take(TokenRole::Keyword);
        }
        binary(kStrengthOther);
        s_.close(NodeKind::Binary, mark, position);
        return true;
    }
    const std::size_t n = s_.at(Keyword::Not) ? 1 : 0;
    if (s_.at(Keyword::Is)) {
        while (s_.atAny({Keyword::Is, Keyword::Not})) s_.take(TokenRole::Keyword);
        if (s_.takePhrase({Keyword::Distinct, Keyword::From})) {
            binary(kStrengthOther);
        } else if (s_.takeIf(Keyword::Json)) {
            s_.takeAll({Keyword::Value, Keyword::Array, Keyword::Object, Keyword::Scalar, Keyword::With,
                        Keyword::Without, Keyword::Unique, Keyword::Keys});
        } else if (s_.atAny({Keyword::Document, Keyword::Normalized, Keyword::Unknown}) || isNormalForm()) {
            s_.take(TokenRole::Keyword);
            s_.takeIf(Keyword::Normalized);
        } else if (s_.at(Keyword::Of) && s_.at(TokenKind::OpenParen, 1)) {
            s_.take(TokenRole::Keyword);
            optionGroup();
        } else {
            binary(kStrengthOther);
        }
        s_.close(NodeKind::Binary, mark, position);
        return true;
    }
    if (s_.at(Keyword::Isnull) || s_.at(Keyword::Notnull) || (n == 1 && s_.at(Keyword::Null, 1))) {
        if (n == 1) s_.take(TokenRole::Keyword);
        s_.take(TokenRole::Keyword);
        s_.close(NodeKind::Unary, mark, position);
        return true;
    }
    if (s_.at(Keyword::In, n)) {
        if (n == 1) s_.take(TokenRole::Keyword);
        s_.take(TokenRole::Keyword);
        inTail();
        s_.close(NodeKind::InList, mark, position);
        return true;
    }
    if (s_.at(Keyword::Between, n)) {
        if (n == 1) s_.take(TokenRole::Keyword);
        s_.take(TokenRole::Keyword);
        if (!s_.takeIf(Keyword::Symmetric)) s_.takeIf(Keyword::Asymmetric);
        binary(kStrengthOther);
        s_.expect(Keyword::And);
        binary(kStrengthOther);
        s_.close(NodeKind::Between, mark, position);
        return true;
    }
    if (s_.at(Keyword::Member, n) && s_.at(Keyword::Of, n + 1)) {
        if (n == 1) s_.take(TokenRole::Keyword);
        s_.takePhrase({Keyword::Member, Keyword::Of});
        parenthesized();
        s_.close(NodeKind::Binary, mark, position);
        return true;
    }
    if (s_.at(Keyword::Sounds) && s_.at(Keyword::Like, 1)) s_.take(TokenRole::Keyword);
    if (s_.atAny({Keyword::Like, Keyword::Ilike, Keyword::Similar, Keyword::Glob, Keyword::Regexp, Keyword::Rlike,
                  Keyword::Match, Keyword::Overlaps},
                 n)) {
        if (n == 1) s_.take(TokenRole::Keyword);
        s_.take(TokenRole::Keyword);
        s_.takeIf(Keyword::To);
        if (s_.atAny({Keyword::Any, Keyword::Some, Keyword::All})) s_.take(TokenRole::Keyword);
        binary(kStrengthOther);
        if (s_.takeIf(Keyword::Escape)) binary(kStrengthOther);
        s_.close(NodeKind::Binary, mark, position);
        return true;
    }
    return false;
}

/// NFC, NFD and their like before NORMALIZED.
bool Grammar::isNormalForm() const { return s_.at(TokenKind::Word) && s_.at(Keyword::Normalized, 1); }

void Grammar::inTail() {
    if (s_.at(TokenKind::OpenParen)) return parenthesized();
    if (s_.atName() || s_.at(TokenKind::Parameter)) return primary();  // IN :list, IN table_name
    if (s_.at(TokenKind::String)) return boundExpression();            // POSITION('a' IN 'b')
    s_.fail("(");
}

int Grammar::binaryStrength() const {
    if (s_.at(TokenKind::Word)) {
        if (s_.at(Keyword::Operator) && s_.at(TokenKind::OpenParen, 1)) return kStrengthOther;
        if (s_.at(Keyword::Div) || s_.at(Keyword::Mod)) return s_.dialect == Dialect::MySql ? kStrengthProduct : 0;
        return 0;
    }
    if (!s_.at(TokenKind::Operator)) return 0;
    const std::string_view op = s_.text();
    if (isComparison(op) || op == ":" || op == "::" || op == "=>" || op == "..") return 0;
    if (op == "&&" && s_.dialect == Dialect::MySql) return 0;
    if (op == "+" || op == "-") return kStrengthSum;
    if (op == "*" || op == "/" || op == "%") return kStrengthProduct;
    if (op == "^") return kStrengthPower;
    return kStrengthOther;
}

void Grammar::binary(int minimum) {
    const DepthScope depth(s_);
    if (tooDeep()) return;
    const auto mark = s_.mark();
    const auto position = s_.position();
    unary();
    for (int strength = binaryStrength(); strength >= minimum && strength > 0; strength = binaryStrength()) {
        const bool isQualified = s_.at(Keyword::Operator);
        s_.take(s_.at(TokenKind::Word) ? TokenRole::Keyword : TokenRole::Plain);
        if (isQualified) optionGroup();
        if (s_.atAny({Keyword::Any, Keyword::Some, Keyword::All}) && s_.at(TokenKind::OpenParen, 1)) {
            s_.take(TokenRole::Keyword);
        }
        binary(strength + 1);
        s_.close(NodeKind::Binary, mark, position);
    }
}

void Grammar::unary() {
    if (!s_.at(TokenKind::Operator) || s_.atOperator("*")) return postfix();
    const std::string_view op = s_.text();
    const bool isPrefix = op != "=" && op != ":" && op != "::" && op != "<" && op != ">";
    if (!isPrefix) return s_.fail("an expression");
    const DepthScope depth(s_);
    const NodeScope node(s_, NodeKind::Unary);
    s_.take();
    if (tooDeep()) return;
    unary();
}

void Grammar::postfix() {
    const auto mark = s_.mark();
    const auto position = s_.position();
    primary();
    for (;;) {
        if (s_.takeIfOperator("::")) {
            typeName();
            s_.close(NodeKind::TypeCast, mark, position);
        } else if (s_.at(TokenKind::OpenBracket)) {
            s_.take();
            if (!s_.atOperator(":")) expression();
            if (s_.takeIfOperator(":") && !s_.at(TokenKind::CloseBracket)) expression();
            s_.expect(TokenKind::CloseBracket, "]");
            s_.close(NodeKind::Subscript, mark, position);
        } else if (s_.at(Keyword::Collate)) {
            s_.take(TokenRole::Keyword);
            name();
            s_.close(NodeKind::Binary, mark, position);
        } else if (s_.at(Keyword::At) && s_.at(Keyword::Time, 1)) {
            s_.takePhrase({Keyword::At, Keyword::Time, Keyword::Zone});
            postfixBound();
            s_.close(NodeKind::Binary, mark, position);
        } else if (s_.at(Keyword::At) && s_.at(Keyword::Local, 1)) {
            s_.takePhrase({Keyword::At, Keyword::Local});
            s_.close(NodeKind::Binary, mark, position);
        } else if (s_.at(TokenKind::Dot) && s_.mark() > mark) {  // (row).field
            s_.take();
            if (s_.takeIfOperator("*")) {
            } else if (s_.atName()) {
                s_.take(TokenRole::Column);
            } else {
                s_.fail("a name after the dot");
            }
            s_.close(NodeKind::Subscript, mark, position);
        } else {
            return;
        }
    }
}

/// A zone: a primary, perhaps cast.
void Grammar::postfixBound() {
    const auto mark = s_.mark();
    const auto position = s_.position();
    primary();
    while (s_.takeIfOperator("::")) {
        typeName();
        s_.close(NodeKind::TypeCast, mark, position);
    }
}

void Grammar::primary() {
    switch (s_.kind()) {
        case TokenKind::Number: {
            const NodeScope node(s_, NodeKind::Literal);
            return s_.take();
        }
        case TokenKind::String: {
            const NodeScope node(s_, NodeKind::Literal);
            while (s_.at(TokenKind::String)) s_.take();  // 'adjacent' 'strings' are one
            if (s_.takeIf(Keyword::Uescape) && s_.at(TokenKind::String)) s_.take();
            return;
        }
        case TokenKind::Parameter:
        case TokenKind::Variable: {
            const NodeScope node(s_, NodeKind::ParameterRef);
            return s_.take();
        }
        case TokenKind::OpenParen: return parenthesized();
        case TokenKind::OpenBracket: return arrayLiteral();
        case TokenKind::Invalid:
            if (s_.text() == "{") return escapeClause();
            return s_.fail("an expression");
        case TokenKind::Operator:
            if (s_.atOperator("*")) {
                const NodeScope node(s_, NodeKind::Star);
                return s_.take();
            }
            return s_.fail("an expression");
        case TokenKind::Word:
        case TokenKind::QuotedName: return nameOrCall();
        default: return s_.fail("an expression");
    }
}

/// {d '2026-11-23'}, {fn …}: the escape clauses of the call-level interface (ISO 9075-3).
void Grammar::escapeClause() {
    const DepthScope depth(s_);
    const NodeScope node(s_, NodeKind::Literal);
    s_.take();
    if (tooDeep()) return;
    if (s_.at(TokenKind::Word)) s_.take(TokenRole::Keyword);
    if (!s_.atClose()) expression();
    if (s_.text() == "}") return s_.take();
    s_.fail("}");
}

/// (query), (a), (a, b) or ().
void Grammar::parenthesized() {
    const DepthScope depth(s_);
    NodeScope node(s_, NodeKind::Paren);
    s_.expect(TokenKind::OpenParen, "(");
    if (tooDeep()) return;
    if (atQuery() && (!s_.at(TokenKind::OpenParen) || isQueryGroup())) {
        node.become(NodeKind::Subquery);
        query();
    } else if (!s_.at(TokenKind::CloseParen)) {
        expressionList();
    }
    s_.expect(TokenKind::CloseParen, ")");
}

/// At a parenthesized query that a set operation follows: ((SELECT …) UNION …).
bool Grammar::isQueryGroup() const {
    std::size_t n = 0;
    int parens = 0;
    do {
        if (s_.at(TokenKind::OpenParen, n)) ++parens;
        if (s_.at(TokenKind::CloseParen, n)) --parens;
        ++n;
    } while (parens > 0 && !s_.atEnd(n));
    return s_.atAny({Keyword::Union, Keyword::Intersect, Keyword::Except, Keyword::Order, Keyword::Limit}, n);
}

void Grammar::expressionList() {
    commaList([this] { expression(); });
    if (s_.atEnd() || s_.at(TokenKind::CloseParen) || s_.at(TokenKind::CloseBracket)) return;
    if (atClause()) return s_.fail(")");
    s_.fail("a comma or )");
    s_.skipUntil([this] { return atClause(); });
}

void Grammar::nameOrCall() {
    switch (s_.keyword()) {
        case Keyword::Case: return caseExpression();
        case Keyword::Cast: return castCall();
        case Keyword::Exists: {
            if (!s_.at(TokenKind::OpenParen, 1)) break;
            const NodeScope node(s_, NodeKind::Exists);
            s_.take(TokenRole::Keyword);
            return parenthesized();
        }
        case Keyword::Array:
            if (s_.at(TokenKind::OpenBracket, 1) || s_.at(TokenKind::OpenParen, 1)) return arrayLiteral();
            break;
        case Keyword::Interval:
            if (!s_.at(TokenKind::OpenParen, 1) && !s_.at(TokenKind::Comma, 1) && !s_.at(TokenKind::Dot, 1)) {
                return intervalLiteral();
            }
            break;
        case Keyword::Null:
        case Keyword::True:
        case Keyword::False:
        case Keyword::Default: {
            if (s_.at(TokenKind::OpenParen, 1)) break;
            const NodeScope node(s_, NodeKind::Literal);
            return s_.take(TokenRole::Keyword);
        }
        case Keyword::Distinct:
        case Keyword::Unique: s_.fail("an expression"); return s_.take(TokenRole::Keyword);
        default: break;
    }
    const auto mark = s_.mark();
    const auto position = s_.position();
    if (s_.atAny(kValueWords) && !s_.at(TokenKind::OpenParen, 1) && !s_.at(TokenKind::Dot, 1)) {
        const NodeScope node(s_, NodeKind::Call);
        return s_.take(TokenRole::Function);
    }
    const bool isWord = s_.at(TokenKind::Word);
    if (isWord && s_.at(TokenKind::String, 1) && !s_.at(Keyword::Binary)) {  // DATE '2026-11-23', _utf8 'x'
        const NodeScope node(s_, NodeKind::Literal);
        s_.take(TokenRole::Type);
        return s_.take();
    }
    if (isWord && s_.atAny({Keyword::Next, Keyword::Previous}) && s_.at(Keyword::Value, 1)) {
        const NodeScope node(s_, NodeKind::Call);
        s_.take(TokenRole::Keyword);
        s_.take(TokenRole::Keyword);
        s_.expect(Keyword::For);
        return name(TokenRole::Relation);
    }
    if (isWord && isTypedLiteral()) {
        const NodeScope node(s_, NodeKind::Literal);
        typeName();
        return s_.take();
    }
    const bool isCall = s_.at(TokenKind::OpenParen, 1);
    if (isWord && s_.at(Keyword::Binary) && !isCall) {  // BINARY expression
        const NodeScope node(s_, NodeKind::Unary);
        s_.take(TokenRole::Keyword);
        return unary();
    }
    const bool isForbidden =
        isCall ? s_.atAny(kNeverFunctions)
               : isReserved(s_.keyword(), s_.dialect) && !s_.at(TokenKind::Dot, 1) && !s_.atAny(kValueWords);
    if (isWord && isForbidden) return s_.fail("an expression");
    const bool convertsType = s_.at(Keyword::Convert) && isCall && s_.dialect == Dialect::MySql;
    name();
    if (convertsType) return convertCall(mark, position);
    if (s_.at(TokenKind::OpenParen)) call(mark, position);
}

/// CONVERT(expression, type) and CONVERT(expression USING charset).
void Grammar::convertCall(ParseState::Mark mark, std::size_t position) {
    const DepthScope depth(s_);
    const NodeScope node(s_, NodeKind::Call, mark, position);
    const NodeScope list(s_, NodeKind::Arguments);
    s_.expect(TokenKind::OpenParen, "(");
    if (tooDeep()) return;
    expression();
    if (s_.takeIf(TokenKind::Comma)) {
        typeName();
    } else if (s_.takeIf(Keyword::Using)) {
        if (s_.atName()) s_.take();
    } else {
        s_.fail("a comma or USING");
        s_.skipUntil([] { return false; });
    }
    s_.expect(TokenKind::CloseParen, ")");
}

/// timestamp with time zone '…', timestamp(3) '…', double precision '…', schema.type '…'
bool Grammar::isTypedLiteral() const {
    if (s_.dialect != Dialect::Postgres && s_.dialect != Dialect::Ansi) return false;
    std::size_t n = 1;
    while (s_.at(TokenKind::Dot, n) && s_.atName(n + 1)) n += 2;
    if (n > 1) return s_.at(TokenKind::String, n);
    if (!s_.atAny({Keyword::Timestamp, Keyword::Time, Keyword::Double, Keyword::Char, Keyword::Character, Keyword::Bit,
                   Keyword::Varchar, Keyword::Numeric, Keyword::Decimal, Keyword::Interval, Keyword::Float})) {
        return false;
    }
    if (s_.atAny({Keyword::Precision, Keyword::Varying}, n)) ++n;
    if (s_.at(TokenKind::OpenParen, n) && s_.at(TokenKind::Number, n + 1) && s_.at(TokenKind::CloseParen, n + 2))
        n += 3;
    if (s_.atAny({Keyword::With, Keyword::Without}, n) && s_.at(Keyword::Time, n + 1)) n += 3;
    return n > 1 && s_.at(TokenKind::String, n);
}

/// A dotted name. After a dot any word is a name, unless it is a clause's word set apart by a blank: that dot is
/// one somebody is just typing after.
void Grammar::name(TokenRole role) {
    if (!s_.atName()) return s_.fail("a name");
    NodeScope node(s_, NodeKind::Name);
    const bool mayCall = role == TokenRole::Column || role == TokenRole::Function;
    const auto roleHere = [&] { return mayCall && s_.at(TokenKind::OpenParen, 1) ? TokenRole::Function : role; };
    s_.take(roleHere());
    while (s_.at(TokenKind::Dot)) {
        s_.take();
        if (s_.atOperator("*")) {
            node.become(NodeKind::Star);
            return s_.take();
        }
        const bool isCut =
            !s_.atName() ||
            (s_.isApart() && (atClause() || s_.atNextStatement() || isReserved(s_.keyword(), s_.dialect)));
        if (isCut) return s_.fail("a name after the dot");
        s_.take(roleHere());
    }
}

void Grammar::call(ParseState::Mark mark, std::size_t position) {
    const NodeScope node(s_, NodeKind::Call, mark, position);
    arguments();
    callSuffixes();
}

/// Arguments with the words that some functions have between them (FROM, FOR, USING, AS, ORDER BY, …).
void Grammar::arguments() {
    const DepthScope depth(s_);
    const NodeScope node(s_, NodeKind::Arguments);
    s_.expect(TokenKind::OpenParen, "(");
    if (tooDeep()) return;
    const auto isWordBetween = [this] {
        return s_.atAny({Keyword::Distinct, Keyword::All,     Keyword::Both,    Keyword::Leading,   Keyword::Trailing,
                         Keyword::From,     Keyword::For,     Keyword::Using,   Keyword::Separator, Keyword::Variadic,
                         Keyword::Placing,  Keyword::Absent,  Keyword::On,      Keyword::Returning, Keyword::Against,
                         Keyword::Within,   Keyword::Without, Keyword::Similar, Keyword::Escape,    Keyword::With}) ||
               isJsonOrXmlWord();
    };
    while (!s_.atEnd() && !s_.at(TokenKind::CloseParen)) {
        const std::size_t before = s_.position();
        const bool isJsonWord = s_.at(Keyword::With) && !s_.at(Keyword::Recursive, 1) && !s_.at(Keyword::As, 2) &&
                                !s_.at(TokenKind::OpenParen, 2);  // WITH WRAPPER, WITH UNIQUE KEYS
        if (atQuery() && !s_.at(TokenKind::OpenParen) && !isJsonWord) {
            query();
        } else if (s_.at(Keyword::Order)) {
            orderByClause();
        } else if (s_.at(Keyword::Limit)) {
            limitClause();
        } else if (s_.atAny({Keyword::Ignore, Keyword::Respect}) && s_.at(Keyword::Nulls, 1)) {
            s_.take(TokenRole::Keyword);
            s_.take(TokenRole::Keyword);
        } else if (s_.takeIf(Keyword::As)) {
            typeName();
            s_.takeIf(Keyword::Array);
        } else if (s_.at(Keyword::Columns) && s_.at(TokenKind::OpenParen, 1)) {
            jsonColumns();
        } else if (s_.at(Keyword::Returning)) {
            s_.take(TokenRole::Keyword);
            if (s_.atName()) typeName();
        } else if (s_.atAny({Keyword::Columns}) && s_.atName(1)) {
            jsonColumns();
        } else if (s_.takeIf(Keyword::From)) {  // EXTRACT(… FROM (…)), TRIM(… FROM …)
        } else if (s_.takeIfOperator("=>") || s_.takeIfOperator(":=") || s_.takeIfOperator(":") ||
                   s_.takeIf(TokenKind::Comma)) {
        } else if (isWordBetween() && !s_.at(TokenKind::OpenParen, 1)) {
            s_.take(TokenRole::Keyword);
        } else if (atExpression()) {
            expression();
        }
        if (s_.position() == before) {
            s_.fail("an argument or )");
            s_.skipUntil([this] { return atClause(); });
            if (s_.position() == before) break;
        }
    }
    s_.expect(TokenKind::CloseParen, ")");
}

/// Words between the arguments of SQL/JSON and SQL/XML functions (ISO 9075-2 and 9075-14), where an argument could
/// not go on.
bool Grammar::isJsonOrXmlWord() const {
    if (s_.atAny({Keyword::Passing, Keyword::Wrapper, Keyword::Conditional, Keyword::Unconditional, Keyword::Keep,
                  Keyword::Omit, Keyword::Quotes, Keyword::Format, Keyword::Encoding, Keyword::Empty, Keyword::Strip,
                  Keyword::Preserve, Keyword::Whitespace, Keyword::Keys, Keyword::Unique, Keyword::Scalar})) {
        return !s_.at(TokenKind::Comma, 1) && !s_.at(TokenKind::Dot, 1) && !s_.at(TokenKind::CloseParen, 1);
    }
    const bool isKeyWord = s_.atAny({Keyword::Key, Keyword::Value, Keyword::Document, Keyword::Content}) ||
                           base::equalsIgnoringCase(s_.text(), "name") || base::equalsIgnoringCase(s_.text(), "error");
    return isKeyWord && (s_.atName(1) || s_.at(TokenKind::String, 1) || s_.at(TokenKind::Number, 1));
}

/// COLUMNS (a integer PATH '$.a' DEFAULT 0 ON EMPTY, NESTED PATH '$.b' COLUMNS (…)) of JSON_TABLE and XMLTABLE.
void Grammar::jsonColumns() {
    const DepthScope depth(s_);
    const NodeScope node(s_, NodeKind::JsonColumns);
    s_.take(TokenRole::Keyword);
    if (tooDeep()) return;
    const bool inParens = s_.takeIf(TokenKind::OpenParen);
    commaList([this] {
        const NodeScope column(s_, NodeKind::ColumnDefinition);
        if (!s_.atName()) return s_.fail("a column");
        if (s_.takeIf(Keyword::Nested)) {
            s_.takeIf(Keyword::Path);
            if (s_.at(TokenKind::String)) s_.take();
            if (s_.takeIf(Keyword::As) && s_.atName()) s_.take(TokenRole::AliasName);
            if (s_.at(Keyword::Columns)) jsonColumns();
            return;
        }
        s_.take(TokenRole::Column);
        if (s_.takePhrase({Keyword::For, Keyword::Ordinality})) return;
        if (s_.atName()) typeName();
        while (!s_.atClose() && !s_.at(TokenKind::Comma)) {
            const std::size_t before = s_.position();
            if (s_.takeIf(Keyword::Path) || s_.takeIf(Keyword::Default)) {
                boundExpression();
            } else if (s_.at(TokenKind::Word)) {
                s_.take(TokenRole::Keyword);
            }
            if (s_.position() == before) return s_.fail("a comma or )");
        }
    });
    if (inParens) s_.expect(TokenKind::CloseParen, ")");
}

void Grammar::callSuffixes() {
    if (s_.at(Keyword::Within) && s_.at(Keyword::Group, 1)) {
        s_.takePhrase({Keyword::Within, Keyword::Group});
        s_.expect(TokenKind::OpenParen, "(");
        if (s_.at(Keyword::Order)) orderByClause();
        s_.expect(TokenKind::CloseParen, ")");
    }
    if (s_.at(Keyword::Filter) && s_.at(TokenKind::OpenParen, 1)) {
        s_.take(TokenRole::Keyword);
        s_.take();
        if (s_.takeIf(Keyword::Where)) {
            expression();
        } else {
            s_.fail("WHERE");
        }
        s_.expect(TokenKind::CloseParen, ")");
    }
    if (s_.at(Keyword::From) && s_.atAny({Keyword::First, Keyword::Last}, 1)) {
        s_.take(TokenRole::Keyword);
        s_.take(TokenRole::Keyword);
    }
    if (s_.atAny({Keyword::Ignore, Keyword::Respect}) && s_.at(Keyword::Nulls, 1)) {
        s_.take(TokenRole::Keyword);
        s_.take(TokenRole::Keyword);
    }
    if (s_.at(Keyword::Over)) overClause();
    if (s_.at(Keyword::Against) && s_.at(TokenKind::OpenParen, 1)) {  // MATCH (…) AGAINST ('…' IN BOOLEAN MODE)
        s_.take(TokenRole::Keyword);
        const NodeScope node(s_, NodeKind::Arguments);
        s_.take();
        boundExpression();
        s_.takeAll({Keyword::In, Keyword::Boolean, Keyword::Natural, Keyword::Language, Keyword::Mode, Keyword::With,
                    Keyword::Query, Keyword::Expansion});
        s_.expect(TokenKind::CloseParen, ")");
    }
}

void Grammar::overClause() {
    const NodeScope node(s_, NodeKind::OverClause);
    s_.take(TokenRole::Keyword);
    if (s_.at(TokenKind::OpenParen)) return windowSpec();
    if (s_.atName()) return s_.take(TokenRole::AliasName);
    s_.fail("( or a window's name");
}

void Grammar::windowSpec() {
    const NodeScope node(s_, NodeKind::WindowSpec);
    if (!s_.expect(TokenKind::OpenParen, "(")) return;
    const bool isBaseName =
        s_.atName() && !s_.atAny({Keyword::Partition, Keyword::Order, Keyword::Rows, Keyword::Range, Keyword::Groups});
    if (isBaseName) s_.take(TokenRole::AliasName);
    if (s_.takePhrase({Keyword::Partition, Keyword::By})) commaList([this] { expression(); });
    if (s_.at(Keyword::Order)) orderByClause();
    if (s_.atAny({Keyword::Rows, Keyword::Range, Keyword::Groups})) {
        s_.take(TokenRole::Keyword);
        const auto isFrameWord = [this] {
            return s_.atAny({Keyword::Between, Keyword::And, Keyword::Unbounded, Keyword::Preceding, Keyword::Following,
                             Keyword::Current, Keyword::Row, Keyword::Exclude, Keyword::Group, Keyword::Ties,
                             Keyword::No, Keyword::Others});
        };
        while (!s_.atEnd() && !s_.at(TokenKind::CloseParen)) {
            const std::size_t before = s_.position();
            if (isFrameWord()) {
                s_.take(TokenRole::Keyword);
            } else {
                binary(kStrengthOther);
            }
            if (s_.position() == before) break;
        }
    }
    s_.expect(TokenKind::CloseParen, ")");
}

void Grammar::caseExpression() {
    const DepthScope depth(s_);
    const NodeScope node(s_, NodeKind::CaseExpression);
    s_.take(TokenRole::Keyword);
    if (tooDeep()) return;
    if (!s_.atAny({Keyword::When, Keyword::Else, Keyword::End})) expression();
    if (!s_.at(Keyword::When)) s_.fail("WHEN");
    while (s_.atAny({Keyword::When, Keyword::Else})) {
        const NodeScope branch(s_, NodeKind::CaseBranch);
        const bool isElse = s_.at(Keyword::Else);
        s_.take(TokenRole::Keyword);
        expression();
        if (isElse) continue;
        if (s_.expect(Keyword::Then)) expression();
    }
    s_.expect(Keyword::End);
}

void Grammar::castCall() {
    const NodeScope node(s_, NodeKind::Call);
    s_.take(TokenRole::Function);
    if (s_.at(TokenKind::OpenParen)) return arguments();
    s_.fail("(");
}

/// A type's name with what may follow: (10, 2), [], WITH TIME ZONE, UNSIGNED, CHARACTER SET x.
void Grammar::typeName() {
    const NodeScope node(s_, NodeKind::TypeName);
    if (!s_.atName()) return s_.fail("a type");
    if (s_.atAny({Keyword::National, Keyword::Long}) && s_.atName(1)) s_.take(TokenRole::Type);
    const bool isInterval = s_.at(Keyword::Interval);
    s_.take(TokenRole::Type);
    while (s_.at(TokenKind::Dot)) {
        s_.take();
        if (s_.atName()) s_.take(TokenRole::Type);
    }
    while (s_.atAny({Keyword::Precision, Keyword::Varying, Keyword::Unsigned, Keyword::Signed, Keyword::Zerofill,
                     Keyword::Integer, Keyword::Int, Keyword::Double})) {
        s_.take(TokenRole::Type);
    }
    const auto isField = [&] {
        return isInterval && s_.atAny({Keyword::Year, Keyword::Month, Keyword::Day, Keyword::Hour, Keyword::Minute,
                                       Keyword::Second, Keyword::To});
    };
    while (isField()) s_.take(TokenRole::Type);
    if (s_.at(TokenKind::OpenParen)) arguments();
    while (isField()) s_.take(TokenRole::Type);
    if (s_.takeIfOperator("%") && s_.atName()) s_.take(TokenRole::Type);  // of %TYPE
    if (s_.atAny({Keyword::With, Keyword::Without}) && s_.at(Keyword::Time, 1)) {
        s_.take(TokenRole::Type);
        s_.take(TokenRole::Type);
        if (s_.at(Keyword::Zone)) s_.take(TokenRole::Type);
    }
    while (s_.atAny({Keyword::Varying, Keyword::Unsigned, Keyword::Signed, Keyword::Zerofill})) {
        s_.take(TokenRole::Type);
    }
    if ((s_.at(Keyword::Character) && s_.at(Keyword::Set, 1)) || (s_.at(Keyword::Charset) && s_.atName(1))) {
        if (s_.at(Keyword::Character)) s_.take(TokenRole::Type);
        s_.take(TokenRole::Type);
        if (s_.atName() || s_.at(TokenKind::String)) s_.take(TokenRole::Type);
    }
    if (s_.at(Keyword::Array) && !s_.at(TokenKind::OpenParen, 1)) s_.take(TokenRole::Type);
    while (s_.at(TokenKind::OpenBracket)) {
        s_.take();
        if (s_.at(TokenKind::Number)) s_.take();
        s_.expect(TokenKind::CloseBracket, "]");
    }
}

void Grammar::arrayLiteral() {
    const DepthScope depth(s_);
    const NodeScope node(s_, NodeKind::ArrayLiteral);
    s_.takeIf(Keyword::Array);
    if (tooDeep()) return;
    if (s_.at(TokenKind::OpenParen)) return parenthesized();
    s_.expect(TokenKind::OpenBracket, "[");
    if (!s_.at(TokenKind::CloseBracket)) expressionList();
    s_.expect(TokenKind::CloseBracket, "]");
}

/// INTERVAL '1 day', INTERVAL '1' DAY TO HOUR, INTERVAL 1 DAY.
void Grammar::intervalLiteral() {
    const NodeScope node(s_, NodeKind::Interval);
    s_.take(TokenRole::Type);
    if (!atExpression()) return;
    binary(kStrengthSum);
    const auto isUnit = [this] {
        return s_.atAny({Keyword::Year, Keyword::Month, Keyword::Day, Keyword::Hour, Keyword::Minute, Keyword::Second});
    };
    const bool isMySqlUnit =
        s_.dialect == Dialect::MySql && s_.at(TokenKind::Word) && !isReserved(s_.keyword(), s_.dialect);
    if (isUnit() || isMySqlUnit) s_.take(TokenRole::Type);
    if (s_.at(Keyword::To)) {
        s_.take(TokenRole::Type);
        if (isUnit()) s_.take(TokenRole::Type);
    }
}

}  // namespace pantry::sql
