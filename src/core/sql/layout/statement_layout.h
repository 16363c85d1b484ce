#pragma once

#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/sql/layout/formatter.h"
#include "core/sql/layout/layout.h"
#include "core/sql/syntax/syntax_tree.h"

namespace pantry::sql {

/// Turns one statement's tree into a Layout: walks the tree, emits every token once and in order, and decides what
/// stands between two of them.
///
/// Lifetime: views the statement and the tree.
class StatementLayout {
public:
    StatementLayout(std::string_view statement, const SyntaxTree& tree, const FormatOptions& options);

    [[nodiscard]] std::string print();

private:
    /// What stands before the next token; Auto follows from the two tokens beside it.
    enum class Gap { Auto, None, Space, Line, SoftLine, FillLine, HardLine };
    /// A part of a node: a child, or a token of its own.
    struct Part {
        bool isNode;
        std::uint32_t index;
    };

    /// The parts of one node. Their memory goes back to the layout at the end, since every node asks for some.
    class Parts {
    public:
        Parts(std::vector<std::vector<Part>>& pool, std::vector<Part> memory) : pool_(pool), list_(std::move(memory)) {}
        ~Parts() { pool_.push_back(std::move(list_)); }
        Parts(const Parts&) = delete;
        Parts& operator=(const Parts&) = delete;

        [[nodiscard]] auto begin() const { return list_.begin(); }
        [[nodiscard]] auto end() const { return list_.end(); }
        [[nodiscard]] std::size_t size() const { return list_.size(); }
        [[nodiscard]] const Part& front() const { return list_.front(); }
        [[nodiscard]] const Part& operator[](std::size_t i) const { return list_[i]; }

    private:
        std::vector<std::vector<Part>>& pool_;
        std::vector<Part> list_;
    };

    // Walking.
    void node(std::uint32_t index);
    void flow(std::uint32_t index);
    void parts(const Parts& list, std::size_t from = 0);
    void part(const Part& p);
    [[nodiscard]] Parts partsOf(std::uint32_t index);
    [[nodiscard]] const Token& tokenOf(const Part& p) const { return tree_.tokens[p.index]; }
    [[nodiscard]] bool isToken(const Part& p, TokenKind kind) const { return !p.isNode && tokenOf(p).kind == kind; }
    [[nodiscard]] bool isNode(const Part& p, NodeKind kind) const {
        return p.isNode && tree_.nodes[p.index].kind == kind;
    }
    [[nodiscard]] bool isWord(const Part& p, Keyword k) const { return !p.isNode && tokenOf(p).is(k); }
    [[nodiscard]] std::size_t clauseCount(std::uint32_t index) const;
    [[nodiscard]] bool hasSeveral(std::uint32_t index) const;
    [[nodiscard]] bool hugs(std::uint32_t index) const;

    /// Where the types and what follows them begin in a table's elements, counted from the indentation; 0: anywhere.
    struct ColumnStops {
        std::size_t type = 0;
        std::size_t rest = 0;
    };

    // Rules for queries and changes (layout_query.cpp).
    void change(std::uint32_t index);
    void query(std::uint32_t index);
    void clauses(std::uint32_t index);
    void listClause(std::uint32_t index);
    void conditionClause(std::uint32_t index);
    void fromClause(std::uint32_t index);
    void join(std::uint32_t index);
    void withClause(std::uint32_t index);
    void commonTable(std::uint32_t index);
    void values(std::uint32_t index);
    void enclosed(std::uint32_t index, Gap separator);
    void enclosedQuery(std::uint32_t index);
    void logicalChain(std::uint32_t index);
    void binary(std::uint32_t index, bool isOutermost);
    void caseExpression(std::uint32_t index);
    void caseBranch(std::uint32_t index);
    void windowSpec(std::uint32_t index);
    void conflict(std::uint32_t index);
    void unary(std::uint32_t index);
    void merge(std::uint32_t index);
    void mergeBranch(std::uint32_t index);
    void selectItem(std::uint32_t index);
    void comma(const Part& p, Gap afterwards);
    [[nodiscard]] std::size_t widestItem(const Parts& items) const;

    // Rules for definitions and bodies (layout_definition.cpp).
    void root(std::uint32_t index);
    void folding(std::uint32_t index, const std::function<bool(const Part&)>& breaksBefore);
    void createTable(std::uint32_t index);
    void tableElements(std::uint32_t index);
    [[nodiscard]] ColumnStops stopsFor(const Parts& elements) const;
    void columnDefinition(std::uint32_t index);
    void tableConstraint(std::uint32_t index);
    [[nodiscard]] bool beginsConstraint(const Part& p) const;
    void createView(std::uint32_t index);
    void createRoutine(std::uint32_t index);
    void body(const Part& p);
    void routineOptions(std::uint32_t index);
    void createTrigger(std::uint32_t index);
    void block(std::uint32_t index);
    void statementList(std::uint32_t index);
    void declaration(std::uint32_t index);
    void statementGroup(std::uint32_t index);
    void alter(std::uint32_t index);
    void wrapper(std::uint32_t index);
    void definition(std::uint32_t index);
    void optionWords(std::uint32_t index);

    // Emitting.
    void gap(Gap g) { gap_ = g; }
    void openGroup();
    void closeGroup() { layout_.closeGroup(); }
    void token(std::uint32_t index);
    void flushGap();
    [[nodiscard]] Gap naturalGap(std::uint32_t before, std::uint32_t after) const;
    void padTo(std::size_t column);
    [[nodiscard]] std::optional<std::size_t> flatWidth(std::uint32_t index) const;
    [[nodiscard]] bool isPrefix(std::uint32_t index) const;
    void closingComments();
    void hoistComments(std::uint32_t commaIndex);
    [[nodiscard]] bool waitForComma(std::uint32_t index) const;
    void flushComments();
    [[nodiscard]] bool hasTrailingLineComment(std::uint32_t owner) const;
    [[nodiscard]] bool hasBlankLineBeforeNext() const;
    void leadingComments(std::uint32_t index);
    void trailingComments(std::uint32_t index);
    [[nodiscard]] bool leansForward(std::uint32_t token) const;
    [[nodiscard]] bool isTrailing(std::uint32_t comment, std::uint32_t owner, std::uint32_t next) const;
    [[nodiscard]] std::uint32_t endOfTrailing(std::uint32_t owner) const;
    [[nodiscard]] bool hasLineBreak(std::uint32_t fromToken, std::uint32_t toToken) const;
    [[nodiscard]] std::string_view spelled(std::uint32_t index) const;

    std::string_view text_;
    const SyntaxTree& tree_;
    const FormatOptions& options_;
    Layout layout_;
    std::vector<std::uint32_t> significant_;
    std::size_t cursor_ = 0;  // of the next significant token
    Gap gap_ = Gap::None;
    Gap clauseGap_ = Gap::Line;            // between the clauses of the query at hand
    bool glueNext_ = false;                // a prefix operator stands before the next token
    std::vector<std::vector<Part>> pool_;  // memory of parts that is free
    bool hasComments_ = false;
    std::size_t aliasColumn_ = 0;          // where the names of the select list at hand line up
    ColumnStops stops_;                    // of the table at hand
    std::uint32_t owner_ = Node::kNone;    // token whose comments are still to be printed
    std::uint32_t carrier_ = Node::kNone;  // comma whose leading comments go to what follows it
    std::uint32_t hoisted_ = Node::kNone;  // comma whose comments are printed already
};

}  // namespace pantry::sql
