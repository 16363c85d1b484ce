#pragma once

#include <cstdint>
#include <functional>
#include <limits>
#include <string>
#include <string_view>
#include <vector>

#include "core/sql/syntax/statement_kind.h"
#include "core/sql/text/dialect.h"
#include "core/sql/text/token.h"

namespace pantry::sql {

enum class NodeKind : std::uint8_t {
    Statement,  ///< the root: one statement
    Error,      ///< tokens that the grammar does not understand here
    Opaque,     ///< a statement whose verb no rule knows; formatted never, coloured by words

    // Queries
    Query,  ///< [with] body [order by] [limit …]
    WithClause,
    CommonTable,   ///< name [(columns)] AS [MATERIALIZED] (statement)
    SelectCore,    ///< SELECT … FROM … WHERE …
    ParenQuery,    ///< ( query )
    SetOperation,  ///< left, the operator's words, right
    ValuesClause,
    TableCommand,  ///< TABLE name

    // Clauses
    SelectClause,
    SelectItem,
    Alias,       ///< [AS] name
    ColumnList,  ///< (a, b, c)
    IntoClause,
    FromClause,
    WhereClause,
    GroupByClause,
    HavingClause,
    WindowClause,
    OrderByClause,
    OrderItem,
    LimitClause,  ///< LIMIT, OFFSET or FETCH with what belongs to it
    LockClause,   ///< FOR UPDATE …
    ReturningClause,

    // Relations
    TableName,      ///< a table's name with its alias
    DerivedTable,   ///< (query) alias
    FunctionTable,  ///< f(…) alias
    ParenTable,     ///< (a JOIN b)
    Join,           ///< left, the join's words, right, condition
    OnCondition,
    UsingColumns,

    // Statements that change rows
    InsertStatement,
    InsertTarget,
    ConflictClause,
    UpdateStatement,
    SetClause,
    Assignment,
    DeleteStatement,
    UsingClause,
    MergeStatement,
    MergeTarget,
    MergeBranch,  ///< WHEN MATCHED THEN …

    // Expressions
    Name,  ///< a.b.c
    Star,  ///< * or a.*
    Literal,
    ParameterRef,
    Unary,
    Binary,
    LogicalChain,  ///< a AND b AND c, or the same with OR
    Between,
    InList,  ///< a [NOT] IN (…)
    Paren,   ///< (a) or (a, b)
    Subquery,
    Exists,
    Call,  ///< f(…) with FILTER, WITHIN GROUP, OVER
    Arguments,
    OverClause,
    WindowSpec,
    CaseExpression,
    CaseBranch,  ///< WHEN … THEN …, or ELSE …
    TypeCast,    ///< a::type
    TypeName,
    Subscript,  ///< a[1], a[1:2]
    ArrayLiteral,
    Interval,
    JsonColumns,  ///< COLUMNS (…) of JSON_TABLE

    // Definitions
    CreateTable,
    TableElements,     ///< (columns and constraints)
    ColumnDefinition,  ///< name type constraints
    TableConstraint,
    ReferencesClause,
    CreateView,
    CreateIndex,
    IndexItems,
    CreateRoutine,
    RoutineParameters,
    RoutineParameter,
    CreateTrigger,    ///< a trigger or an event
    CreateStatement,  ///< of any other kind
    SchemaElement,
    AlterStatement,
    AlterAction,
    DropStatement,
    TruncateStatement,
    CommentStatement,
    GrantStatement,

    // Bodies of routines
    Block,           ///< BEGIN … END
    StatementList,   ///< statements with a ; behind each
    StatementGroup,  ///< (a; b)
    IfStatement,
    CaseStatement,
    LoopStatement,  ///< LOOP, WHILE, REPEAT, FOR
    Declaration,
    BodyStatement,  ///< RETURN, LEAVE, OPEN and the like

    // Other statements
    ExplainStatement,
    SetStatement,
    CallStatement,  ///< CALL, DO, EXECUTE
    PrepareStatement,
    CopyStatement,
    UtilityStatement,
    Options,      ///< words and values that are the server's business
    OptionGroup,  ///< ( … ) among them
};

/// What a word is used as, where the parser knows; the highlighter and the formatter follow it.
enum class TokenRole : std::uint8_t { Plain, Keyword, Function, Type, Relation, Column, AliasName };

/// One node: a run of tokens and, inside it, child nodes. Tokens that no child covers are its own.
struct Node {
    static constexpr std::uint32_t kNone = std::numeric_limits<std::uint32_t>::max();

    NodeKind kind = NodeKind::Error;
    std::uint32_t firstToken = 0;
    std::uint32_t endToken = 0;  ///< after the last
    std::uint32_t parent = kNone;
    std::uint32_t firstChild = kNone;
    std::uint32_t nextSibling = kNone;
};

/// Something the parser did not expect.
struct SyntaxError {
    std::uint32_t token = 0;  ///< the token it stands at; the number of tokens when the end came too early
    std::string message;      ///< what was met and what was expected
    /// The token begins another statement, and the one before has no end: one between them would mend it.
    bool lacksTerminator = false;
};

/// The lossless syntax tree of one statement. Any bytes give a tree, and its tokens joined are the bytes.
/// Offsets are relative to the statement's first byte, so that a tree stays true when text before it changes.
///
/// Threads: immutable once parsed.
struct SyntaxTree {
    Language language = Dialect::Ansi;
    StatementKind kind = StatementKind::Other;
    std::vector<Token> tokens;
    std::vector<TokenRole> roles;  ///< one for each token
    std::vector<Node> nodes;       ///< nodes[0] is the root
    std::vector<SyntaxError> errors;
    std::uint32_t levels = 0;  ///< of nodes below each other; a chain of operators nests to the left

    /// More levels than any walk will go down; such a statement is neither laid out nor examined.
    [[nodiscard]] bool isBeyondWalking() const { return levels > 300'000; }

    [[nodiscard]] const Node& root() const { return nodes.front(); }
    [[nodiscard]] bool hasErrors() const { return !errors.empty(); }
    [[nodiscard]] std::vector<std::uint32_t> childrenOf(std::uint32_t node) const;

    /// Runs a walk over the tree that may recurse, on a stack that is large enough for it; not at all beyond that.
    void visit(const std::function<void()>& walk) const;

    /// The first child of that kind, or Node::kNone.
    [[nodiscard]] std::uint32_t childOf(std::uint32_t node, NodeKind kind) const;

    /// The smallest node that covers the token.
    [[nodiscard]] std::uint32_t nodeAt(std::uint32_t token) const;

    /// The bytes of a node within the statement's text, from its first significant token to its last.
    [[nodiscard]] std::string_view textOf(const Node& node, std::string_view statement) const;

    /// The tree as an indented list of kinds and tokens, for tests and for those who work on the grammar.
    [[nodiscard]] std::string describe(std::string_view statement) const;
};

[[nodiscard]] std::string_view nodeKindName(NodeKind kind);

}  // namespace pantry::sql
