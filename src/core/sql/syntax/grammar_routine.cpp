#include "core/sql/syntax/grammar.h"

namespace pantry::sql {

void Grammar::createRoutine() {
    s_.take(TokenRole::Keyword);
    existence();
    if (!s_.atName()) return s_.fail("a name for the routine");
    name(TokenRole::Function);
    if (s_.at(TokenKind::OpenParen)) routineParameters();
    if (s_.takeIf(Keyword::Returns)) {
        if (s_.at(Keyword::Table) && s_.at(TokenKind::OpenParen, 1)) {
            s_.take(TokenRole::Keyword);
            routineParameters();
        } else {
            s_.takeIf(Keyword::Setof);
            typeName();
        }
    }
    if (s_.dialect == Dialect::MySql) {
        routineOptions();
        return s_.atClose() ? void() : bodyStatement();
    }
    while (!s_.atClose()) {
        const std::size_t before = s_.position();
        routineOptions();
        if (s_.at(Keyword::Begin) || s_.at(Keyword::Return)) return bodyStatement();
        if (s_.position() == before) return;
    }
}

/// (IN a integer DEFAULT 1, OUT b text)
void Grammar::routineParameters() {
    const NodeScope node(s_, NodeKind::RoutineParameters);
    s_.expect(TokenKind::OpenParen, "(");
    if (s_.takeIf(TokenKind::CloseParen)) return;
    commaList([this] { routineParameter(); });
    s_.expect(TokenKind::CloseParen, ")");
}

/// [IN | OUT | INOUT | VARIADIC] [name] type [DEFAULT expression]
void Grammar::routineParameter() {
    const NodeScope node(s_, NodeKind::RoutineParameter);
    s_.takeAll({Keyword::In, Keyword::Out, Keyword::Inout, Keyword::Variadic});
    if (!s_.atName() && !s_.at(TokenKind::Variable) && !s_.at(TokenKind::Parameter)) return s_.fail("a parameter");
    const bool isTypeOnly = s_.atClose() || s_.at(TokenKind::Comma, 1) || s_.at(TokenKind::CloseParen, 1) ||
                            s_.at(TokenKind::OpenParen, 1) || s_.at(TokenKind::Dot, 1) ||
                            s_.at(TokenKind::OpenBracket, 1) || s_.at(Keyword::Default, 1) || s_.atOperator("=", 1) ||
                            s_.atAny({Keyword::Precision, Keyword::Varying}, 1) ||
                            (s_.atAny({Keyword::With, Keyword::Without}, 1) && s_.at(Keyword::Time, 2));
    if (!isTypeOnly) s_.take(TokenRole::Column);
    s_.takeAll({Keyword::In, Keyword::Out, Keyword::Inout});  // name IN type
    s_.takeIf(Keyword::Setof);
    if (s_.atName()) typeName();
    if (s_.takeIf(Keyword::Default) || s_.takeIfOperator("=") || s_.takeIfOperator(":=")) expression();
}

/// LANGUAGE, DETERMINISTIC, SET …, AS 'text' and the like, up to the body.
void Grammar::routineOptions() {
    options([this] {
        if (s_.at(Keyword::Begin)) return true;
        if (s_.dialect != Dialect::MySql) return s_.at(Keyword::Return);
        if (s_.atAny({Keyword::Language, Keyword::Not, Keyword::Deterministic, Keyword::Contains, Keyword::No,
                      Keyword::Reads, Keyword::Modifies, Keyword::Sql, Keyword::Comment, Keyword::Security,
                      Keyword::Data, Keyword::Definer, Keyword::Invoker, Keyword::Charset, Keyword::Character})) {
            return false;
        }
        return !s_.at(TokenKind::String);
    });
}

void Grammar::createTrigger() {
    s_.take(TokenRole::Keyword);
    existence();
    if (!s_.atName()) return s_.fail("a name for the trigger");
    name(TokenRole::Plain);
    s_.takeAll({Keyword::Before, Keyword::After, Keyword::Instead, Keyword::Of});
    triggerEvents();
    if (!s_.expect(Keyword::On)) return;
    {
        const NodeScope table(s_, NodeKind::TableName);
        if (!s_.atName()) return s_.fail("a table");
        name(TokenRole::Relation);
    }
    const auto atBody = [this] {
        return s_.atAny({Keyword::Begin, Keyword::When, Keyword::Execute}) || beginsBodyStatement();
    };
    options(atBody);
    if (s_.takeIf(Keyword::When)) {
        expression();
        options(atBody);
    }
    if (s_.at(Keyword::Execute) && s_.dialect != Dialect::MySql) {
        s_.take(TokenRole::Keyword);
        if (!s_.takeIf(Keyword::Function)) s_.expect(Keyword::Procedure);
        name(TokenRole::Function);
        if (s_.at(TokenKind::OpenParen)) arguments();
        return;
    }
    if (s_.atClose()) return s_.fail("what the trigger does");
    bodyStatement();
}

/// INSERT OR UPDATE OF a, b OR DELETE
void Grammar::triggerEvents() {
    do {
        if (!s_.atAny({Keyword::Insert, Keyword::Update, Keyword::Delete, Keyword::Truncate})) {
            return s_.fail("INSERT, UPDATE or DELETE");
        }
        s_.take(TokenRole::Keyword);
        if (s_.takeIf(Keyword::Of)) commaList([this] { name(); });
    } while (s_.takeIf(Keyword::Or) || s_.takeIf(TokenKind::Comma));
}

/// CREATE EVENT name ON SCHEDULE … DO statement
void Grammar::createEvent() {
    s_.take(TokenRole::Keyword);
    existence();
    if (!s_.atName()) return s_.fail("a name for the event");
    name(TokenRole::Plain);
    options([this] { return s_.at(Keyword::Do); });
    if (!s_.expect(Keyword::Do)) return;
    bodyStatement();
}

bool Grammar::beginsBodyStatement() const {
    if (s_.atOperator(":", 1)) return true;  // a label
    return s_.atAny({Keyword::Insert, Keyword::Update, Keyword::Delete, Keyword::Select, Keyword::Replace, Keyword::Set,
                     Keyword::Call, Keyword::If, Keyword::Case, Keyword::Signal, Keyword::Loop, Keyword::While,
                     Keyword::Repeat, Keyword::Return, Keyword::Declare, Keyword::With, Keyword::Truncate,
                     Keyword::Begin});
}

// ---- Bodies ----

/// Statements with a ; behind each, up to one of the words that end them.
void Grammar::statementList(std::initializer_list<Keyword> ends) {
    const NodeScope node(s_, NodeKind::StatementList);
    while (!s_.atEnd() && !s_.atAny(ends)) {
        const std::size_t before = s_.position();
        if (!s_.atStop()) bodyStatement();
        if (s_.atStop() && !s_.atEnd()) {
            s_.take();
        } else if (!s_.atEnd() && !s_.atAny(ends)) {
            s_.fail("; or the next part of the body");
            s_.skipUntil([] { return false; });
            if (s_.position() == before && !s_.atEnd()) s_.take();  // a closing parenthesis too many
        } else if (!s_.atEnd()) {
            s_.fail(";");
        }
    }
}

/// One statement of a routine's body (SQL/PSM, ISO 9075-4, as MariaDB and PostgreSQL have it).
void Grammar::bodyStatement() {
    const DepthScope depth(s_);
    if (tooDeep()) return;
    const auto mark = s_.mark();
    const auto position = s_.position();
    if (s_.at(TokenKind::Word) && s_.atOperator(":", 1)) {
        s_.take(TokenRole::AliasName);
        s_.take();
    }
    switch (s_.keyword()) {
        case Keyword::Begin: return block(mark, position);
        case Keyword::If: return ifStatement();
        case Keyword::Case: return caseStatement();
        case Keyword::Loop:
        case Keyword::While:
        case Keyword::Repeat:
        case Keyword::For: return loopStatement(mark, position);
        case Keyword::Declare: return declaration();
        case Keyword::Return: {
            const NodeScope node(s_, NodeKind::BodyStatement);
            s_.take(TokenRole::Keyword);
            if (!s_.atClose()) expression();
            return;
        }
        case Keyword::Leave:
        case Keyword::Iterate:
        case Keyword::Open:
        case Keyword::Close:
        case Keyword::Signal:
        case Keyword::Resignal:
        case Keyword::Get: {
            const NodeScope node(s_, NodeKind::BodyStatement);
            s_.take(TokenRole::Keyword);
            return options();
        }
        case Keyword::Fetch: {
            const NodeScope node(s_, NodeKind::BodyStatement);
            s_.take(TokenRole::Keyword);
            return options();
        }
        default: return anyStatement();
    }
}

/// BEGIN [NOT] [ATOMIC] … END [label]
void Grammar::block(ParseState::Mark mark, std::size_t position) {
    const NodeScope node(s_, NodeKind::Block, mark, position);
    s_.take(TokenRole::Keyword);
    s_.takeIf(Keyword::Not);
    s_.takeIf(Keyword::Atomic);
    statementList({Keyword::End});
    s_.expect(Keyword::End);
    if (s_.atName()) s_.take(TokenRole::AliasName);
}

void Grammar::ifStatement() {
    const NodeScope node(s_, NodeKind::IfStatement);
    s_.take(TokenRole::Keyword);
    expression();
    if (s_.dialect == Dialect::Ansi && !s_.at(Keyword::Then)) {  // engines whose IF takes one statement, or a block
        bodyStatement();
        if (s_.takeIf(Keyword::Else)) bodyStatement();
        return;
    }
    s_.expect(Keyword::Then);
    constexpr static std::initializer_list<Keyword> kEnds = {Keyword::Elseif, Keyword::Else, Keyword::End};
    statementList(kEnds);
    while (s_.at(Keyword::Elseif)) branch(kEnds);
    lastBranch(Keyword::If);
}

/// WHEN or ELSEIF, its condition, THEN and the statements.
void Grammar::branch(std::initializer_list<Keyword> ends) {
    s_.take(TokenRole::Keyword);
    expression();
    s_.expect(Keyword::Then);
    statementList(ends);
}

/// ELSE where there is one, and the end.
void Grammar::lastBranch(Keyword kind) {
    if (s_.takeIf(Keyword::Else)) statementList({Keyword::End});
    s_.expect(Keyword::End);
    s_.expect(kind);
}

void Grammar::caseStatement() {
    const NodeScope node(s_, NodeKind::CaseStatement);
    s_.take(TokenRole::Keyword);
    if (!s_.at(Keyword::When)) expression();
    constexpr static std::initializer_list<Keyword> kEnds = {Keyword::When, Keyword::Else, Keyword::End};
    while (s_.at(Keyword::When)) branch(kEnds);
    lastBranch(Keyword::Case);
}

/// LOOP, WHILE … DO, REPEAT … UNTIL, FOR … DO, each with its END.
void Grammar::loopStatement(ParseState::Mark mark, std::size_t position) {
    const NodeScope node(s_, NodeKind::LoopStatement, mark, position);
    const Keyword kind = s_.keyword();
    s_.take(TokenRole::Keyword);
    if (kind == Keyword::While) {
        expression();
        s_.expect(Keyword::Do);
    } else if (kind == Keyword::For) {
        if (s_.atName()) s_.take(TokenRole::AliasName);
        s_.expect(Keyword::In);
        if (atQuery()) {
            query();
        } else {
            options([this] { return s_.at(Keyword::Do); });
        }
        s_.expect(Keyword::Do);
    }
    if (kind == Keyword::Repeat) {
        statementList({Keyword::Until, Keyword::End});
        if (s_.expect(Keyword::Until)) expression();
    } else {
        statementList({Keyword::End});
    }
    s_.expect(Keyword::End);
    if (!s_.takeIf(kind)) s_.fail(spellingOf(kind));
    if (s_.atName()) s_.take(TokenRole::AliasName);
}

/// DECLARE of variables, conditions, cursors and handlers.
void Grammar::declaration() {
    const NodeScope node(s_, NodeKind::Declaration);
    s_.take(TokenRole::Keyword);
    if (s_.atAny({Keyword::Continue, Keyword::Exit, Keyword::Undo}) && s_.at(Keyword::Handler, 1)) {
        s_.take(TokenRole::Keyword);
        s_.take(TokenRole::Keyword);
        s_.expect(Keyword::For);
        commaList([this] { handlerCondition(); });
        return s_.atClose() ? s_.fail("what the handler does") : bodyStatement();
    }
    commaList([this] {
        if (!s_.atName() && !s_.at(TokenKind::Variable)) return s_.fail("a name");
        s_.take(TokenRole::Column);
    });
    if (s_.at(Keyword::Condition)) return options();
    const auto atFor = [this] { return s_.at(Keyword::For); };
    const auto isCursorWord = s_.atAny(
        {Keyword::Cursor, Keyword::Binary, Keyword::Insensitive, Keyword::Asensitive, Keyword::Scroll, Keyword::No});
    if (isCursorWord) {
        options(atFor);
        if (s_.expect(Keyword::For) && !s_.atClose()) anyStatement();
        return;
    }
    if (s_.atName()) typeName();
    s_.takePhrase({Keyword::Character, Keyword::Set});
    options([this] { return s_.at(Keyword::Default) || s_.atOperator("=") || s_.atOperator(":="); });
    if (s_.takeIf(Keyword::Default) || s_.takeIfOperator("=") || s_.takeIfOperator(":=")) expression();
}

/// SQLSTATE '…', NOT FOUND, SQLEXCEPTION, a number or a name.
void Grammar::handlerCondition() {
    if (s_.takeIf(Keyword::Sqlstate)) {
        s_.takeIf(Keyword::Value);
        if (s_.at(TokenKind::String)) s_.take();
    } else if (s_.takeIf(Keyword::Not)) {
        s_.expect(Keyword::Found);
    } else if (s_.atAny({Keyword::Sqlexception, Keyword::Sqlwarning})) {
        s_.take(TokenRole::Keyword);
    } else if (s_.atName() || s_.at(TokenKind::Number)) {
        s_.take();
    } else {
        s_.fail("a condition");
    }
}

}  // namespace pantry::sql
