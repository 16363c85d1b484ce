#pragma once

#include "core/sql/parse_state.h"

namespace pantry::sql {

/// The grammar as a recursive-descent parser, one member a rule; split over files by theme
/// (grammar_query.cpp, grammar_relation.cpp, grammar_expression.cpp, grammar_change.cpp).
/// A rule that cannot go on records what it expected and leaves the offending token to its caller, which passes
/// over it into an Error node: an error costs its own clause and no more.
class Grammar {
public:
    explicit Grammar(ParseState& state) : s_(state) {}

    void statement(StatementKind kind);

private:
    // Statements.
    void withStatement();
    void opaque();
    void trailing();

    // Queries.
    void query();
    void queryAfterWith(ParseState::Mark mark, std::size_t position);
    void queryBody();
    void queryTerm();
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
    void relationAlias();
    void relationSuffixes();
    bool joinWords();
    void joinCondition();
    void columnList();

    // Changes.
    void changeStatement();
    void insertStatement();
    void insertTarget();
    void conflictClause();
    void updateStatement();
    void setClause();
    void assignment();
    void deleteStatement();
    void returningClause();

    // Expressions.
    void expression();
    void orExpression();
    void andExpression();
    void notExpression();
    void predicate();
    bool predicateTail(ParseState::Mark mark, std::size_t position);
    void inTail();
    void binary(int minimum);
    void unary();
    void postfix();
    void primary();
    void parenthesized();
    void nameOrCall();
    void name(TokenRole role = TokenRole::Column);
    void call(ParseState::Mark mark, std::size_t position);
    void arguments();
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
    [[nodiscard]] bool isCallAhead() const;
    [[nodiscard]] int binaryStrength() const;
    template <class Rule>
    void commaList(Rule rule);
    bool tooDeep();

    ParseState& s_;
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
