#pragma once

#include <initializer_list>
#include <string>
#include <string_view>
#include <vector>

#include "core/sql/check/findings.h"
#include "core/sql/meaning/scope.h"
#include "core/sql/syntax/syntax_tree.h"

namespace pantry::sql {

/// Names the rules where they are applied; the table of findings.cpp stands in the same order.
enum class Rule {
    Syntax,
    Unterminated,
    MissingTerminator,
    BackslashLine,
    MissingComma,
    UpdateWithoutWhere,
    DeleteWithoutWhere,
    JoinWithoutCondition,
    UnrelatedTables,
    NullComparison,
    NotInNull,
    LimitWithoutOrder,
    OrderByConstant,
    HavingWithoutAggregate,
    UngroupedColumn,
    BetweenSwapped,
    LikeWithoutWildcard,
    LeadingWildcard,
    ConstantCondition,
    IntegerDivision,
    DuplicateAlias,
    UnusedCommonTable,
    ShadowedAlias,
    StarInDefinition,
    NumberAsText,
    KeywordAsName,
    SecretInText,
    ValueCount,
    UnknownTable,
    UnknownColumn,
    AmbiguousColumn,
    TypeMismatch,
    JoinBesideKey,
    WholeLargeTable,
};

/// One statement under examination: what rules ask it and where they put what they find.
///
/// Lifetime: views statement, tree and options.
class StatementCheck {
public:
    StatementCheck(std::string_view statement, const SyntaxTree& tree, const CheckOptions& options);

    /// Runs every rule; offsets are relative to the statement.
    [[nodiscard]] std::vector<Finding> run();

private:
    static constexpr std::uint32_t kNone = Node::kNone;

    // The tree, shortly.
    [[nodiscard]] const Node& at(std::uint32_t node) const { return tree_.nodes[node]; }
    [[nodiscard]] NodeKind kindOf(std::uint32_t node) const { return node == kNone ? NodeKind::Error : at(node).kind; }
    [[nodiscard]] std::uint32_t first(std::uint32_t node) const { return at(node).firstChild; }
    [[nodiscard]] std::uint32_t next(std::uint32_t node) const { return at(node).nextSibling; }
    [[nodiscard]] std::uint32_t child(std::uint32_t node, NodeKind kind) const { return tree_.childOf(node, kind); }
    [[nodiscard]] std::uint32_t last(std::uint32_t node) const;
    [[nodiscard]] std::uint32_t parent(std::uint32_t node) const { return at(node).parent; }
    [[nodiscard]] std::uint32_t around(std::uint32_t node, std::initializer_list<NodeKind> kinds) const;
    [[nodiscard]] std::string_view textOf(std::uint32_t node) const { return tree_.textOf(at(node), text_); }
    [[nodiscard]] std::string_view tokenText(std::uint32_t token) const { return tree_.tokens[token].textIn(text_); }
    [[nodiscard]] std::uint32_t ownWord(std::uint32_t node, Keyword word) const;
    [[nodiscard]] std::uint32_t nextSignificant(std::uint32_t token) const;
    [[nodiscard]] std::uint32_t ownOperator(std::uint32_t node) const;
    /// Whether `holds` says so of the node or of one inside it.
    template <class Holds>
    [[nodiscard]] bool hasInside(std::uint32_t node, const Holds& holds) const;
    /// Each node inside, those of subqueries only where they are asked for.
    template <class Visit>
    void forEachInside(std::uint32_t node, const Visit& visit, bool intoSubqueries = false) const;
    [[nodiscard]] static bool isQueryNode(NodeKind kind) {
        return kind == NodeKind::Subquery || kind == NodeKind::ParenQuery || kind == NodeKind::Query;
    }
    [[nodiscard]] std::uint32_t unwrapped(std::uint32_t node) const;

    // What expressions are.
    [[nodiscard]] bool isLiteral(std::uint32_t node) const;
    [[nodiscard]] bool isNull(std::uint32_t node) const;
    [[nodiscard]] bool isNumber(std::uint32_t node) const;
    [[nodiscard]] bool isString(std::uint32_t node) const;
    [[nodiscard]] bool isInteger(std::uint32_t node) const;
    [[nodiscard]] bool isAggregate(std::uint32_t node) const;
    [[nodiscard]] bool hasAggregate(std::uint32_t node) const;
    [[nodiscard]] std::string_view functionText(std::uint32_t call) const;
    [[nodiscard]] std::string functionName(std::uint32_t call) const;
    [[nodiscard]] bool isComparison(std::uint32_t operation) const;
    [[nodiscard]] bool returnsOneRow(std::uint32_t query) const;

    // Finding.
    void add(Rule rule, std::uint32_t node, std::string message, std::optional<TextEdit> fix = {});
    void addAt(Rule rule, std::uint32_t firstToken, std::uint32_t endToken, std::string message,
               std::optional<TextEdit> fix = {});
    [[nodiscard]] TextEdit replaceNode(std::uint32_t node, std::string text) const;
    [[nodiscard]] TextEdit insertAfter(std::uint32_t token, std::string text) const;

    // Rules about the text (findings_text.cpp).
    void syntax();
    void missingTerminator(const SyntaxError& error);
    void secretInText();
    void keywordAsName(std::uint32_t token);

    // Rules about conditions (findings_condition.cpp).
    void comparison(std::uint32_t node);
    void nullComparison(std::uint32_t node, std::uint32_t left, std::uint32_t right, std::string_view op);
    void constantCondition(std::uint32_t node, std::uint32_t left, std::uint32_t right, std::string_view op);
    void numberAsText(std::uint32_t node, std::uint32_t left, std::uint32_t right);
    void like(std::uint32_t node, std::uint32_t operation);
    void division(std::uint32_t node, std::uint32_t operation);
    void between(std::uint32_t node);
    void notIn(std::uint32_t node);
    [[nodiscard]] std::optional<bool> mayReturnNull(std::uint32_t query) const;

    // Rules about queries (findings_query.cpp).
    void selectCore(std::uint32_t node);
    void selectItem(std::uint32_t node);
    void limit(std::uint32_t node);
    void orderBy(std::uint32_t node);
    void having(std::uint32_t node);
    void grouping(std::uint32_t core);
    [[nodiscard]] bool mayBeKey(std::uint32_t name) const;
    void join(std::uint32_t node);
    struct RelatedTables;
    void relatedTables(std::uint32_t core);
    [[nodiscard]] RelatedTables tablesOf(std::uint32_t from) const;
    [[nodiscard]] bool hasCommonTableOfOneRow(const RelatedTables& all, std::uint32_t core) const;
    void relateAll(RelatedTables& all, std::uint32_t where);
    void relate(RelatedTables& all, std::uint32_t condition);
    void duplicateAliases(std::uint32_t core);
    void commonTables(std::uint32_t with);
    void shadowedAlias(std::uint32_t table);

    // Rules about changes (findings_change.cpp).
    void update(std::uint32_t node);
    void deletion(std::uint32_t node);
    void insert(std::uint32_t node);
    void starInDefinition(std::uint32_t query, std::string_view where);

    // Rules that need the catalog (findings_catalog.cpp).
    void tableName(std::uint32_t node);
    void columnName(std::uint32_t node);
    void unknownQualifier(std::uint32_t node);
    void unknownColumn(std::uint32_t node, const Resolution& found);
    void typesOf(std::uint32_t comparison, std::uint32_t left, std::uint32_t right);
    struct ComparedColumns {
        Resolution left;
        Resolution right;
    };
    [[nodiscard]] std::optional<ComparedColumns> comparedColumns(std::uint32_t node) const;
    void joinBesideKey(std::uint32_t join);
    void wholeTable(std::uint32_t core);
    [[nodiscard]] std::string typeOf(std::uint32_t node) const;
    [[nodiscard]] bool isDefinedHere(std::string_view name) const;
    [[nodiscard]] bool isUnitArgument(std::uint32_t node) const;
    [[nodiscard]] std::string quoted(std::string_view name) const;

    std::string_view text_;
    const SyntaxTree& tree_;
    const CheckOptions& options_;
    ScopeFinder scope_;
    bool hasCatalog_;
    std::vector<Finding> findings_;
};

template <class Holds>
bool StatementCheck::hasInside(std::uint32_t node, const Holds& holds) const {
    if (holds(node)) return true;
    for (std::uint32_t c = first(node); c != kNone; c = next(c)) {
        if (!isQueryNode(kindOf(c)) && hasInside(c, holds)) return true;
    }
    return false;
}

template <class Visit>
void StatementCheck::forEachInside(std::uint32_t node, const Visit& visit, bool intoSubqueries) const {
    for (std::uint32_t c = first(node); c != kNone; c = next(c)) {
        visit(c);
        if (intoSubqueries || !isQueryNode(kindOf(c))) forEachInside(c, visit, intoSubqueries);
    }
}

/// Families of types that can be compared with each other.
enum class TypeFamily { Unknown, Number, Text, Time, Boolean, Binary, Other };

[[nodiscard]] TypeFamily familyOf(std::string_view type);

}  // namespace pantry::sql
