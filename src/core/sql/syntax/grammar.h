#pragma once

#include <functional>

#include "core/sql/syntax/parse_state.h"

namespace pantry::sql {

/// The grammar as a recursive-descent parser, one member a rule; split over files by theme
/// (grammar_query, _relation, _expression, _change for queries and changes; _definition, _table, _routine for what
/// defines; _utility for the rest; _options for what is the server's business).
/// A rule that cannot go on records what it expected and leaves the offending token to its caller, which passes
/// over it into an Error node: an error costs its own clause and no more.
class Grammar {
public:
    explicit Grammar(ParseState& state) : s_(state) {}

    void statement();

private:
    using Stop = std::function<bool()>;

    // Statements.
    void anyStatement();
    void withStatement();
    void plainStatement();
    void unknownStatement();
    [[nodiscard]] bool isAnalyzedStatement() const;
    void explainStatement();
    void setStatement();
    void showStatement();
    void callStatement();
    void prepareStatement();
    void executeStatement();
    void copyStatement();
    void parenthesizedStatement();
    void pragmaOrAttach();
    /// All that follows, as words. What begins with a word that nobody knows ends where another statement begins.
    void opaque(bool isUnknown = false);
    [[nodiscard]] bool atMissingTerminator() const;
    void trailing();

    // Definitions.
    void createModifiers();
    void createStatement();
    bool kindWords();
    void otherDefinition();
    void createView();
    void asQuery();
    void createIndex();
    void indexItems();
    void indexTail();
    void createSchema();
    void createType();
    void createDomain();
    void createRule();
    void createPolicy();
    void policyTail();
    void dropStatement();
    void truncateStatement();
    void commentStatement();
    void grantStatement();
    void grantKind();

    // Tables.
    void createTable();
    void partitionOf();
    void tableAsQuery();
    void tableOptions();
    void tableElements();
    void tableElement();
    void tableLike();
    [[nodiscard]] bool atTableConstraint() const;
    void tableConstraint();
    void constraintName();
    void keyConstraint();
    void constraintTail();
    void referencesClause();
    void columnDefinition();
    void columnType();
    [[nodiscard]] bool atColumnConstraint() const;
    bool columnConstraint();
    void defaultValue();
    void generatedColumn();
    void onUpdateOrConflict();
    void alterStatement();
    void alterOther();
    void alterAction();
    void alterAdd();
    void alterColumn();

    // Routines.
    void createRoutine();
    void routineParameters();
    void routineParameter();
    void routineOptions();
    void createTrigger();
    void triggerEvents();
    void createEvent();
    [[nodiscard]] bool beginsBodyStatement() const;
    void statementList(std::initializer_list<Keyword> ends);
    void bodyStatement();
    void block(ParseState::Mark mark, std::size_t position);
    void branch(std::initializer_list<Keyword> ends);
    void lastBranch(Keyword kind);
    void ifStatement();
    void caseStatement();
    void loopStatement(ParseState::Mark mark, std::size_t position);
    void declaration();
    void handlerCondition();

    // What is the server's business.
    void options(const Stop& stop = {});
    void optionWord(bool isNameDue, bool inGroup);
    void optionThing(bool& isNameDue, bool inGroup);
    void optionGroup(bool keepsCase = false);
    void account();
    void existence();
    [[nodiscard]] bool isOperatorName() const;
    void objectName(TokenRole role);

    // Queries.
    void query();
    void queryAfterWith(ParseState::Mark mark, std::size_t position);
    void queryBody();
    void queryTerm();
    void correspondingWords();
    void queryPrimary();
    void withClause();
    void commonTable();
    void selectCore();
    void selectClause();
    void selectItem();
    void alias(bool mayOmitAs);
    void intoClause();
    void fromClause();
    void whereClause();
    void groupByClause();
    void havingClause();
    void windowClause();
    void valuesClause();
    void orderByClause();
    void orderItem();
    bool limitClause();
    void lockClause();
    void clauseEnd();

    // Relations.
    void relation();
    void relationPrimary();
    [[nodiscard]] bool isReservedInPart() const;
    void rowsFrom(ParseState::Mark mark, std::size_t position);
    void relationAlias();
    void relationSuffixes();
    bool joinWords();
    bool joinCondition();
    void columnList();

    // Changes.
    void changeStatement();
    void insertStatement();
    void insertTarget();
    void insertColumns();
    void conflictClause();
    void updateStatement();
    void outputClause();
    void setClause();
    void assignment();
    void deleteStatement();
    void mergeStatement();
    void mergeBranch();
    void overridingWords();
    void returningClause();

    // Expressions.
    void expression();
    void boundExpression();
    void orExpression();
    void andExpression();
    void notExpression();
    void predicate();
    bool predicateTail(ParseState::Mark mark, std::size_t position);
    [[nodiscard]] bool isNormalForm() const;
    void inTail();
    void binary(int minimum);
    void unary();
    void postfix();
    void postfixBound();
    void primary();
    void parenthesized();
    void escapeClause();
    void nameOrCall();
    void name(TokenRole role = TokenRole::Column);
    [[nodiscard]] bool isTypedLiteral() const;
    void call(ParseState::Mark mark, std::size_t position);
    void convertCall(ParseState::Mark mark, std::size_t position);
    void arguments();
    [[nodiscard]] bool isJsonOrXmlWord() const;
    void jsonColumns();
    void callSuffixes();
    void overClause();
    void windowSpec();
    void caseExpression();
    void castCall();
    void typeName();
    void arrayLiteral();
    void intervalLiteral();
    void expressionList();

    [[nodiscard]] bool atQuery(std::size_t n = 0) const;
    [[nodiscard]] bool atQueryInParens() const;
    [[nodiscard]] bool isQueryGroup() const;
    [[nodiscard]] bool atClause() const;
    [[nodiscard]] bool atExpression() const;
    [[nodiscard]] bool atJoin() const;
    [[nodiscard]] bool atRelationInParens() const;
    [[nodiscard]] bool isCallAhead() const;
    [[nodiscard]] int binaryStrength() const;
    template <class Rule>
    void commaList(Rule rule);
    bool tooDeep();

    ParseState& s_;
    bool areColumnsDue_ = false;  // in the parentheses of an option
    bool isAltering_ = false;     // in ALTER, whose clauses may begin with DROP TABLE (of a publication, an extension)
    bool isInSchema_ = false;     // among the elements of CREATE SCHEMA, where CREATE and GRANT end what is before
};

/// Parses `rule`, then as often as a comma follows once more.
template <class Rule>
void Grammar::commaList(Rule rule) {
    do {
        rule();
    } while (s_.takeIf(TokenKind::Comma));
}

/// Counts the nesting of rules that call each other.
class DepthScope {
public:
    explicit DepthScope(ParseState& state) : state_(state) { ++state_.depth; }
    ~DepthScope() { --state_.depth; }
    DepthScope(const DepthScope&) = delete;
    DepthScope& operator=(const DepthScope&) = delete;

private:
    ParseState& state_;
};

}  // namespace pantry::sql
