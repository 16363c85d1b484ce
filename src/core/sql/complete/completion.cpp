#include "core/sql/complete/completion.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <limits>
#include <optional>
#include <set>

#include "core/base/text.h"
#include "core/sql/complete/column_choice.h"
#include "core/sql/complete/function_names.h"
#include "core/sql/complete/name_match.h"
#include "core/sql/complete/query_names.h"
#include "core/sql/meaning/scope.h"
#include "core/sql/syntax/parser.h"
#include "core/sql/syntax/script.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

/// What the tokens before the caret ask for.
enum class Place {
    Nothing,
    StatementStart,
    Relation,
    JoinRelation,
    Expression,
    JoinCondition,
    UsingColumns,
    TargetColumns,
    AfterRelation,
    AfterExpression,
    AfterOrderItem,
    AliasName
};

/// How much the kind of an item counts beside how well it fits what was typed.
constexpr int kJoinBonus = 420;
constexpr int kOtherSideBonus = 330;
constexpr int kSelectedBonus = 270;
constexpr int kAliasBonus = 225;
constexpr int kColumnBonus = 200;
constexpr int kRelationBonus = 180;
constexpr int kGuessedBonus = 140;  // of a relation that nobody has named yet
constexpr int kKeywordBonus = 120;
constexpr int kFunctionBonus = 60;

constexpr int kRelated = 90;  // a foreign key leads there
constexpr int kAsked = 60;    // it has a column that the query names
constexpr int kAskedMost = 240;
constexpr int kLacks = 200;  // it has not a column that the query names of it

using Words = std::initializer_list<std::string_view>;

constexpr std::string_view kStatementWords[] = {
    "SELECT",      "INSERT INTO", "UPDATE",  "DELETE FROM", "WITH",   "CREATE TABLE", "CREATE VIEW", "CREATE INDEX",
    "ALTER TABLE", "DROP TABLE",  "EXPLAIN", "BEGIN",       "COMMIT", "ROLLBACK",     "VALUES"};
constexpr std::string_view kAfterRelationWords[] = {
    "WHERE",    "JOIN",   "LEFT JOIN", "INNER JOIN", "RIGHT JOIN", "FULL JOIN", "CROSS JOIN", "ON", "USING", "GROUP BY",
    "ORDER BY", "HAVING", "LIMIT",     "UNION ALL",  "UNION",      "EXCEPT",    "INTERSECT",  "AS", "SET"};
constexpr std::string_view kAfterExpressionWords[] = {
    "FROM",    "AS",   "WHERE",    "AND",      "OR",        "IS NULL", "IS NOT NULL", "IN",   "NOT IN",
    "BETWEEN", "LIKE", "NOT LIKE", "GROUP BY", "ORDER BY",  "HAVING",  "LIMIT",       "JOIN", "LEFT JOIN",
    "THEN",    "ELSE", "END",      "WHEN",     "UNION ALL", "UNION",   "RETURNING",   "OVER"};
constexpr std::string_view kAfterOrderWords[] = {"ASC", "DESC", "NULLS FIRST", "NULLS LAST", "LIMIT", "OFFSET"};
constexpr std::string_view kExpressionWords[] = {"CASE", "WHEN", "NOT",   "NULL",   "EXISTS", "DISTINCT",
                                                 "CAST", "TRUE", "FALSE", "SELECT", "BETWEEN"};

/// The caret's surroundings, worked out once.
class Completer {
public:
    Completer(const Script& script, std::size_t caret, const catalog::View& catalog, std::size_t maxItems)
        : script_(script),
          text_(script.text()),
          caret_(caret),
          dialect_(script.language()),
          catalog_(catalog),
          maxItems_(maxItems) {}

    Completion complete() {
        result_.start = caret_;
        if (!locate()) return std::move(result_);
        const auto at = static_cast<std::uint32_t>(before_ ? *before_ : 0);
        tree_.visit([&] {
            const ScopeFinder scope(statement_, tree_, catalog_);
            relations_ = scope.relationsAt(at);
            commonTables_ = scope.commonTablesAt(at);
            noteQuery(at);
        });
        if (isAfterDot()) {
            offerQualified();
        } else {
            offerFor(place());
        }
        rank();
        return std::move(result_);
    }

private:
    /// Finds statement, prefix and the token before; false inside strings and comments.
    bool locate() {
        if (isInText()) return false;
        tree_ = parseStatement({}, {}, 0, StatementKind::Other, dialect_);  // between statements there is none
        const auto& statements = script_.statements();
        const auto after =
            std::ranges::upper_bound(statements, caret_, {}, [](const ScriptStatement& s) { return s.span.start; });
        if (after == statements.begin()) return true;
        const ScriptStatement& statement = *std::prev(after);
        const bool isPast = statement.span.isTerminated && caret_ >= statement.span.regionEnd;
        if (isPast) return true;
        statement_ = text_.substr(statement.span.start, statement.span.length);
        tree_ = *statement.tree;
        notePrefix(caret_ - statement.span.start, statement.span.start);
        return true;
    }

    /// Whether the caret stands in a comment, a text, a number or the like, where nothing is offered.
    [[nodiscard]] bool isInText() const {
        const auto& tokens = script_.tokens();
        const auto after = std::ranges::lower_bound(tokens, caret_, {}, &Token::start);
        if (after == tokens.begin()) return false;
        const Token& token = *std::prev(after);
        const bool isInside = caret_ < token.end() || (caret_ == token.end() && !token.isClosed) ||
                              (caret_ == token.end() && token.kind == TokenKind::LineComment);
        const bool isText = token.isComment() || token.kind == TokenKind::String || token.kind == TokenKind::CopyData ||
                            token.kind == TokenKind::BackslashLine || token.kind == TokenKind::Number ||
                            token.kind == TokenKind::Parameter;
        return isText && (isInside || (caret_ == token.end() && !token.isComment()));
    }

    void notePrefix(std::size_t caret, std::size_t base) {
        for (std::size_t i = 0; i < tree_.tokens.size(); ++i) {
            const Token& token = tree_.tokens[i];
            if (token.start >= caret) break;
            const bool isName = token.kind == TokenKind::Word || token.kind == TokenKind::QuotedName;
            if (isName && caret <= token.end()) {
                result_.start = base + token.start;
                result_.length = token.length;
                result_.prefix = unquotedName(statement_.substr(token.start, caret - token.start));
                prefixToken_ = i;
                return;
            }
            if (!token.isTrivia()) before_ = i;
        }
    }

    /// What the query at hand says already.
    void noteQuery(std::uint32_t at) {
        if (!before_) return;
        const auto writing = static_cast<std::uint32_t>(prefixToken_   ? *prefixToken_
                                                        : isAfterDot() ? at
                                                                       : tree_.tokens.size());
        clause_ = clauseOf(tree_, tree_.nodeAt(at));
        names_ = namesOfQuery(statement_, tree_, queryAround(tree_, at), writing);
        const bool hasAliases = std::ranges::any_of(relations_, &ScopeRelation::hasAlias);
        isQualifying_ = names_.columns.empty() ? hasAliases : names_.isQualifying();
        constexpr std::size_t kEnough = 8;  // of them tell a relation from thousands of others
        for (const NamedColumn& named : names_.columns) {
            if (open_.size() < kEnough && !isAnswered(named)) open_.push_back(named);
        }
    }

    [[nodiscard]] bool isAfterDot() const { return before_ && tree_.tokens[*before_].kind == TokenKind::Dot; }

    /// The significant token `n` places before the caret, 0 the nearest; nullptr where there is none.
    [[nodiscard]] const Token* back(std::size_t n) const {
        if (!before_) return nullptr;
        for (std::size_t i = *before_ + 1; i-- > 0;) {
            if (tree_.tokens[i].isTrivia()) continue;
            if (n-- == 0) return &tree_.tokens[i];
        }
        return nullptr;
    }

    [[nodiscard]] Keyword wordBack(std::size_t n) const {
        const Token* token = back(n);
        return token != nullptr && token->kind == TokenKind::Word ? token->keyword : Keyword::None;
    }

    /// The nearest clause the caret is in: its node in the tree, where the token before the caret lies.
    [[nodiscard]] NodeKind clauseAt() const {
        for (std::uint32_t n = tree_.nodeAt(static_cast<std::uint32_t>(*before_)); n != Node::kNone;
             n = tree_.nodes[n].parent) {
            switch (tree_.nodes[n].kind) {
                case NodeKind::FromClause:
                case NodeKind::UsingColumns:
                case NodeKind::OnCondition:
                case NodeKind::SelectClause:
                case NodeKind::WhereClause:
                case NodeKind::GroupByClause:
                case NodeKind::HavingClause:
                case NodeKind::OrderByClause:
                case NodeKind::SetClause:
                case NodeKind::InsertTarget:
                case NodeKind::ValuesClause:
                case NodeKind::ReturningClause:
                case NodeKind::LimitClause:
                case NodeKind::WindowSpec:
                case NodeKind::Arguments: return tree_.nodes[n].kind;
                default: break;
            }
        }
        return NodeKind::Statement;
    }

    [[nodiscard]] Place place() const {
        if (!before_) return Place::StatementStart;
        const Token& last = *back(0);
        switch (last.keyword) {
            case Keyword::From:
            case Keyword::Into:
            case Keyword::Table: return Place::Relation;
            case Keyword::Update: return wordBack(1) == Keyword::For ? Place::Nothing : Place::Relation;
            case Keyword::Join:
            case Keyword::StraightJoin: return Place::JoinRelation;
            case Keyword::On: return Place::JoinCondition;
            case Keyword::As: return Place::AliasName;
            case Keyword::Limit:
            case Keyword::Offset: return Place::Nothing;
            case Keyword::Null:
            case Keyword::End:
            case Keyword::True:
            case Keyword::False: return Place::AfterExpression;
            case Keyword::Asc:
            case Keyword::Desc: return Place::AfterOrderItem;
            case Keyword::Set: return Place::TargetColumns;
            default: break;
        }
        const NodeKind clause = clauseAt();
        const bool opensList = last.kind == TokenKind::OpenParen || last.kind == TokenKind::Comma;
        if (opensList && clause == NodeKind::UsingColumns) return Place::UsingColumns;
        if (opensList && clause == NodeKind::InsertTarget) return Place::TargetColumns;
        if (last.kind == TokenKind::Comma && clause == NodeKind::SetClause) return Place::TargetColumns;
        if (last.kind == TokenKind::Comma && clause == NodeKind::FromClause) return Place::Relation;
        const bool endsValue = last.kind == TokenKind::CloseParen || last.kind == TokenKind::Number ||
                               last.kind == TokenKind::String || last.kind == TokenKind::Parameter ||
                               last.kind == TokenKind::QuotedName || isStarItem(last) ||
                               (last.kind == TokenKind::Word && tree_.roles[*before_] != TokenRole::Keyword);
        if (!endsValue) return Place::Expression;
        if (clause == NodeKind::FromClause || clause == NodeKind::UsingColumns || clause == NodeKind::InsertTarget) {
            return Place::AfterRelation;
        }
        if (clause == NodeKind::Statement && tree_.kind != StatementKind::Select) return Place::AfterRelation;
        return clause == NodeKind::OrderByClause ? Place::AfterOrderItem : Place::AfterExpression;
    }

    [[nodiscard]] bool isStarItem(const Token& token) const {
        return token.kind == TokenKind::Operator && token.textIn(statement_) == "*" &&
               tree_.nodes[tree_.nodeAt(static_cast<std::uint32_t>(*before_))].kind == NodeKind::Star;
    }

    void offerFor(Place where) {
        switch (where) {
            case Place::Nothing:
            case Place::AliasName: return;
            case Place::StatementStart: return offerWords(kStatementWords);
            case Place::Relation: return offerRelations(false);
            case Place::JoinRelation: return offerRelations(true);
            case Place::UsingColumns: return offerSharedColumns();
            case Place::TargetColumns: return offerTargetColumns();
            case Place::AfterRelation: return offerWords(kAfterRelationWords);
            case Place::AfterExpression: return offerWords(kAfterExpressionWords);
            case Place::AfterOrderItem: return offerWords(kAfterOrderWords);
            case Place::JoinCondition: offerJoinConditions(); [[fallthrough]];
            case Place::Expression:
                offerColumns();
                offerFunctions();
                return offerWords(kExpressionWords);
        }
    }

    void offer(std::string text, CompletionKind kind, std::string detail, int bonus, std::string_view matched = {}) {
        const auto fit = nameMatch(result_.prefix, matched.empty() ? std::string_view(text) : matched);
        if (!fit) return;
        result_.items.push_back({std::move(text), kind, std::move(detail), *fit + bonus});
    }

    template <class List>
    void offerWords(const List& words) {
        for (const std::string_view word : words) offer(std::string(word), CompletionKind::Keyword, "", kKeywordBonus);
    }

    void offerFunctions() {
        if (result_.prefix.empty()) return;
        for (const FunctionFact& f : functionsOf(dialect_)) {
            offer(std::string(f.name) + "(", CompletionKind::Function, fmt::format("({})", f.arguments), kFunctionBonus,
                  f.name);
        }
    }

    void offerRelations(bool isJoin) {
        for (const ScopeRelation& c : commonTables_) {
            const bool isUsed = std::ranges::any_of(
                relations_, [&](const ScopeRelation& r) { return base::equalsIgnoringCase(r.name, c.name); });
            const Asked asked = askedOf(c.name, [&c](std::string_view column) { return hasColumn(c, column); });
            offerRelation(quotedName(c.name, dialect_), c.name, CompletionKind::CommonTable, "common table",
                          kRelationBonus + asked.worth + (isUsed ? 0 : kRelated), asked.alias);
        }
        for (const ScoredRelation& one : bestRelations(isJoin)) {
            const catalog::Relation& r = *one.relation;
            const std::string name = catalog_.isOnSearchPath(r.schema)
                                         ? quotedName(r.name, dialect_)
                                         : quotedName(r.schema, dialect_) + "." + quotedName(r.name, dialect_);
            std::string detail = catalog::isViewKind(r.kind) ? "view" : "table";
            if (r.rowEstimate) detail += " · about " + base::counted(*r.rowEstimate, "row", "rows");
            if (isJoin && refersToVisible(r)) detail = "foreign key";
            offerRelation(name, r.name, catalog::isViewKind(r.kind) ? CompletionKind::View : CompletionKind::Table,
                          detail, one.bonus, one.alias);
        }
        for (const std::string& schema : catalog_.schemas()) {
            if (catalog_.schemas().size() > 1) offer(quotedName(schema, dialect_), CompletionKind::Schema, "schema", 0);
        }
    }

    /// With the alias that the query uses for it already, where there is one.
    void offerRelation(const std::string& text, std::string_view name, CompletionKind kind, const std::string& detail,
                       int bonus, std::string_view alias) {
        if (!alias.empty()) offer(text + " " + quotedName(alias, dialect_), kind, detail, bonus + 1, name);
        offer(text, kind, detail, bonus, name);
    }

    struct ScoredRelation {
        int score = 0;
        int bonus = 0;
        const catalog::Relation* relation = nullptr;
        std::string_view alias;
    };

    /// The relations that fit best, scored before anything is written about them: a database may have thousands.
    [[nodiscard]] std::vector<ScoredRelation> bestRelations(bool isJoin) const {
        std::vector<ScoredRelation> scored;
        for (const catalog::Relation* known : catalog_.relations()) {
            const catalog::Relation& r = *known;
            const auto fit = nameMatch(result_.prefix, r.name);
            if (!fit) continue;
            const Asked asked = askedOf(r.name, [&r](std::string_view column) { return hasColumn(r, column); });
            const int bonus = kRelationBonus + asked.worth + (isJoin && refersToVisible(r) ? kRelated : 0);
            scored.push_back({*fit + bonus, bonus, &r, asked.alias});
        }
        const auto isBetter = [](const ScoredRelation& a, const ScoredRelation& b) {
            return a.score != b.score ? a.score > b.score : a.relation < b.relation;
        };
        const std::size_t wanted = std::min(scored.size(), maxItems_);
        std::ranges::partial_sort(scored, scored.begin() + static_cast<std::ptrdiff_t>(wanted), isBetter);
        scored.resize(wanted);
        return scored;
    }

    /// Asked of every relation of a database, most of which have no such column.
    static bool hasColumn(const catalog::Relation& relation, std::string_view name) {
        for (const catalog::Column& c : relation.columns) {
            if (c.name.size() == name.size() && base::equalsIgnoringCase(c.name, name)) return true;
        }
        return false;
    }

    static bool hasColumn(const ScopeRelation& relation, std::string_view name) {
        return std::ranges::any_of(relation.columns,
                                   [name](const ScopeColumn& c) { return base::equalsIgnoringCase(c.name, name); });
    }

    /// Whether a relation of the query answers a name already.
    [[nodiscard]] bool isAnswered(const NamedColumn& named) const {
        return std::ranges::any_of(relations_, [&](const ScopeRelation& r) {
            return named.qualifier.empty() ? hasColumn(r, named.column)
                                           : base::equalsIgnoringCase(r.alias, named.qualifier);
        });
    }

    /// How much a relation is what the query means by names that nothing answers yet, and the alias it has there.
    struct Asked {
        int worth = 0;
        std::string_view alias;
    };

    template <class HasColumn>
    [[nodiscard]] Asked askedOf(std::string_view relation, HasColumn hasIt) const {
        Asked asked;
        int best = 0;
        for (const NamedColumn& named : open_) {
            if (named.qualifier.empty()) {
                if (hasIt(named.column)) asked.worth += kAsked;
                continue;
            }
            const int fit = qualifierFit(named.qualifier, relation, hasIt);
            if (fit <= best) continue;
            best = fit;
            asked.alias = base::equalsIgnoringCase(named.qualifier, relation) ? std::string_view() : named.qualifier;
        }
        asked.worth = std::min(asked.worth + best, kAskedMost);
        return asked;
    }

    /// How well a relation could be what the query calls so: by its name, and by the columns that the query names of
    /// it.
    template <class HasColumn>
    [[nodiscard]] int qualifierFit(std::string_view qualifier, std::string_view relation, HasColumn hasIt) const {
        const int fit = aliasFit(qualifier, relation);
        int columns = 0;
        for (const NamedColumn& named : open_) {
            if (!base::equalsIgnoringCase(named.qualifier, qualifier)) continue;
            if (!hasIt(named.column)) return 0;
            columns += kAsked;
        }
        return fit + (fit > 0 ? columns : columns / 2);
    }

    /// Whether a foreign key leads from a relation of this query to `candidate`, or back.
    [[nodiscard]] bool refersToVisible(const catalog::Relation& candidate) const {
        return std::ranges::any_of(relations_, [&](const ScopeRelation& visible) {
            if (visible.fact == nullptr || visible.fact == &candidate) return false;
            return pointsAt(*visible.fact, candidate) || pointsAt(candidate, *visible.fact);
        });
    }

    static bool pointsAt(const catalog::Relation& from, const catalog::Relation& to) {
        return std::ranges::any_of(from.foreignKeys, [&](const catalog::ForeignKey& key) {
            return base::equalsIgnoringCase(key.relation, to.name);
        });
    }

    /// ON: for the relation that was joined last, the conditions its foreign keys suggest.
    void offerJoinConditions() {
        if (relations_.size() < 2) return;
        const ScopeRelation& joined = lastJoined();
        for (const ScopeRelation& other : relations_) {
            if (other.node == joined.node || joined.fact == nullptr || other.fact == nullptr) continue;
            offerKeys(joined, other, true);
            offerKeys(other, joined, false);
        }
    }

    /// The relation whose JOIN the caret's ON belongs to: the last one written before the caret.
    [[nodiscard]] const ScopeRelation& lastJoined() const {
        const ScopeRelation* last = &relations_.front();
        for (const ScopeRelation& r : relations_) {
            if (r.node != Node::kNone && tree_.nodes[r.node].firstToken <= *before_) last = &r;
        }
        return *last;
    }

    void offerKeys(const ScopeRelation& from, const ScopeRelation& to, bool fromIsJoined) {
        for (const catalog::ForeignKey& key : from.fact->foreignKeys) {
            if (!base::equalsIgnoringCase(key.relation, to.fact->name)) continue;
            std::string condition;
            for (std::size_t i = 0; i < key.columns.size() && i < key.referencedColumns.size(); ++i) {
                const std::string left = qualified(from.alias, key.columns[i]);
                const std::string right = qualified(to.alias, key.referencedColumns[i]);
                if (i > 0) condition += " AND ";
                condition += fromIsJoined ? left + " = " + right : right + " = " + left;
            }
            offer(condition, CompletionKind::Join, "foreign key", kJoinBonus);
            if (key.columns.size() != 1 || key.referencedColumns.size() != 1) continue;
            const std::string::size_type middle = condition.find(" = ");
            offer(condition.substr(middle + 3) + " = " + condition.substr(0, middle), CompletionKind::Join,
                  "foreign key", kJoinBonus - 20);
        }
    }

    [[nodiscard]] std::string qualified(std::string_view alias, std::string_view column) const {
        return quotedName(alias, dialect_) + "." + quotedName(column, dialect_);
    }

    void offerColumns() {
        offerSelected();
        if (relations_.empty()) return offerGuessedColumns();
        std::set<std::string> ambiguous;
        std::set<std::string> seen;
        for (const ScopeRelation& r : relations_) {
            for (const ScopeColumn& c : r.columns) {
                if (!seen.insert(base::toLower(c.name)).second) ambiguous.insert(base::toLower(c.name));
            }
        }
        const std::optional<Operand> other = operandBefore();
        int farther = 0;
        for (const ScopeRelation& r : relations_) {
            for (std::size_t i = 0; i < r.columns.size(); ++i) {
                const ScopeColumn& c = r.columns[i];
                if (c.name.empty()) continue;
                const bool isShared = ambiguous.contains(base::toLower(c.name));
                const bool needsAlias = (isQualifying_ || isShared) && !r.alias.empty();
                offer(needsAlias ? qualified(r.alias, c.name) : quotedName(c.name, dialect_), CompletionKind::Column,
                      columnDetail(c, r.alias),
                      kColumnBonus + likelihood(r, i) + (other ? worthBeside(*other, r, c) : 0) - farther, c.name);
            }
            farther = std::min(farther + 3, 15) + (r.level > 0 ? 30 : 0);
        }
        for (const ScopeRelation& r : relations_) {
            if (r.alias.empty()) continue;
            const bool isLikely = isQualifying_ || relations_.size() > 1;
            offer(quotedName(r.alias, dialect_), CompletionKind::Alias, r.name.empty() ? "subquery" : r.name,
                  isLikely ? kAliasBonus : kKeywordBonus, r.alias);
        }
    }

    [[nodiscard]] int likelihood(const ScopeRelation& relation, std::size_t place) const {
        const ScopeColumn& c = relation.columns[place];
        return columnLikelihood(
            {.name = c.name, .type = c.type, .isKey = c.isPrimaryKey, .place = place, .relation = relation.fact},
            clause_, names_);
    }

    /// The column before a comparison, whose other side is asked for.
    struct Operand {
        const ScopeRelation* relation = nullptr;
        const ScopeColumn* column = nullptr;
    };

    [[nodiscard]] std::optional<Operand> operandBefore() const {
        const Token* sign = back(0);
        const Token* name = back(1);
        if (sign == nullptr || name == nullptr || sign->kind != TokenKind::Operator) return std::nullopt;
        if (name->kind != TokenKind::Word && name->kind != TokenKind::QuotedName) return std::nullopt;
        const bool isQualified = back(2) != nullptr && back(2)->kind == TokenKind::Dot && back(3) != nullptr;
        return operandNamed(isQualified ? back(3) : nullptr, *name);
    }

    [[nodiscard]] std::optional<Operand> operandNamed(const Token* owner, const Token& name) const {
        const std::string qualifier = owner != nullptr ? unquotedName(owner->textIn(statement_)) : std::string();
        const std::string column = unquotedName(name.textIn(statement_));
        for (const ScopeRelation& r : relations_) {
            if (owner != nullptr && !base::equalsIgnoringCase(r.alias, qualifier)) continue;
            for (const ScopeColumn& c : r.columns) {
                if (base::equalsIgnoringCase(c.name, column)) return Operand{&r, &c};
            }
        }
        return std::nullopt;
    }

    /// The other end of a key, or what has the same type; never the column itself.
    [[nodiscard]] int worthBeside(const Operand& other, const ScopeRelation& relation,
                                  const ScopeColumn& column) const {
        constexpr int kSameType = 20;
        const int kItself = clause_ == NodeKind::SetClause ? 60 : -150;  // price = price * 1.1
        if (other.relation->node == relation.node && &column == other.column) return kItself;
        const bool isEnd = isKeyBetween(*other.relation, other.column->name, relation, column.name) ||
                           isKeyBetween(relation, column.name, *other.relation, other.column->name);
        if (isEnd) return kOtherSideBonus - kColumnBonus;
        return base::equalsIgnoringCase(other.column->type, column.type) ? kSameType : 0;
    }

    static bool isKeyBetween(const ScopeRelation& from, std::string_view column, const ScopeRelation& to,
                             std::string_view referenced) {
        if (from.fact == nullptr || to.fact == nullptr) return false;
        return std::ranges::any_of(from.fact->foreignKeys, [&](const catalog::ForeignKey& key) {
            if (!base::equalsIgnoringCase(key.relation, to.fact->name)) return false;
            for (std::size_t i = 0; i < key.columns.size() && i < key.referencedColumns.size(); ++i) {
                if (base::equalsIgnoringCase(key.columns[i], column) &&
                    base::equalsIgnoringCase(key.referencedColumns[i], referenced)) {
                    return true;
                }
            }
            return false;
        });
    }

    /// What the select list says, for GROUP BY and ORDER BY.
    void offerSelected() {
        const bool isGrouping = clause_ == NodeKind::GroupByClause;
        if (!isGrouping && clause_ != NodeKind::OrderByClause) return;
        int bonus = kSelectedBonus;
        for (const SelectedItem& item : names_.items) {
            if (isGrouping && item.isAggregate) continue;
            const bool byAlias = !item.alias.empty() && !(isGrouping && item.isName);
            const std::string text = byAlias ? quotedName(item.alias, dialect_) : item.text;
            if (!byAlias && !item.isName) continue;
            const std::string name = text.substr(text.rfind('.') + 1);
            const bool isThere = names_.names(unquotedName(name), clause_);
            const int more = !isGrouping && item.isAggregate ? 30 : 0;
            offer(text, CompletionKind::Column, "select list", isThere ? kKeywordBonus : bonus + more,
                  byAlias ? std::string_view(item.alias) : std::string_view(text));
            if (!byAlias) offer(text, CompletionKind::Column, "select list", isThere ? kKeywordBonus : bonus, name);
            bonus -= 4;
        }
    }

    /// Before FROM: columns of all relations, those first that have what the query names already.
    void offerGuessedColumns() {
        for (const ScopeRelation& c : commonTables_) {
            const Asked asked = askedOf(c.name, [&c](std::string_view column) { return hasColumn(c, column); });
            for (std::size_t i = 0; i < c.columns.size(); ++i) {
                offer(quotedName(c.columns[i].name, dialect_), CompletionKind::Column, c.name,
                      kGuessedBonus + asked.worth + likelihood(c, i), c.columns[i].name);
            }
        }
        offerColumnsOf(guessedWorth());
        offerGuessedAliases();
    }

    [[nodiscard]] int likelihood(const catalog::Relation& relation, std::size_t place) const {
        const catalog::Column& c = relation.columns[place];
        return columnLikelihood(
            {.name = c.name, .type = c.typeName, .isKey = c.keyPosition > 0, .place = place, .relation = &relation},
            clause_, names_);
    }

    /// Columns of relations that the query has not named yet. A database may have a hundred thousand: the best are
    /// found before it is looked at how likely each is. `worth` has an entry for each relation of the catalog; what is
    /// worth nothing is left out where nothing was typed.
    void offerColumnsOf(const std::vector<int>& worth) {
        struct Fitting {
            int score = 0;
            const catalog::ColumnNames::Entry* column = nullptr;
        };
        const auto isBetter = [](const Fitting& a, const Fitting& b) {
            return a.score != b.score ? a.score > b.score : a.column < b.column;
        };
        const std::size_t wanted = 2 * maxItems_;
        std::vector<Fitting> fitting;
        int least = std::numeric_limits<int>::min();  // what scores no more is not among the best
        const auto keepBest = [&] {
            if (fitting.size() <= wanted) return;
            std::ranges::nth_element(fitting, fitting.begin() + static_cast<std::ptrdiff_t>(wanted), isBetter);
            fitting.resize(wanted);
            least = std::ranges::max_element(fitting, isBetter)->score;
        };
        const catalog::ColumnNames& names = catalog_.columnNames();
        for (const catalog::ColumnNames::Entry& column : names.entries()) {
            if (result_.prefix.empty() && worth[column.relation] < 0) continue;
            const auto fit = nameMatch(result_.prefix, names.nameOf(column));
            if (!fit || *fit + worth[column.relation] <= least) continue;
            fitting.push_back({*fit + worth[column.relation], &column});
            if (fitting.size() >= 4 * wanted) keepBest();
        }
        keepBest();
        std::ranges::sort(fitting, isBetter);
        for (const Fitting& one : fitting) {
            const catalog::Relation& r = *catalog_.relations()[one.column->relation];
            result_.items.push_back({quotedName(r.columns[one.column->place].name, dialect_), CompletionKind::Column,
                                     r.name, kGuessedBonus + one.score + likelihood(r, one.column->place)});
        }
    }

    /// How much speaks for each relation of the catalog being what the query is about, before FROM has said so: the
    /// columns that it names, and keys between those that have them. Less than nothing for those that nobody would look
    /// at where nothing was typed: there are very many, and nothing speaks for them.
    [[nodiscard]] std::vector<int> guessedWorth() const {
        constexpr std::size_t kMostUntyped = 60;
        constexpr std::size_t kFew = 12;  // where more have the name, nothing is meant
        const auto& relations = catalog_.relations();
        std::vector<int> worth(relations.size());
        std::vector<const catalog::Relation*> meant;
        for (std::size_t i = 0; i < relations.size(); ++i) {
            const catalog::Relation& r = *relations[i];
            worth[i] = askedOf(r.name, [&r](std::string_view column) { return hasColumn(r, column); }).worth;
            if (worth[i] >= kAsked) meant.push_back(&r);
        }
        std::set<const catalog::Relation*> near;
        if (meant.size() <= kFew) near = neighboursOf(meant);
        for (std::size_t i = 0; i < relations.size(); ++i) {
            if (worth[i] < kAsked && near.contains(relations[i])) worth[i] += kAsked / 2;
            if (worth[i] == 0 && i >= kMostUntyped) worth[i] = -1;
        }
        return worth;
    }

    /// What foreign keys lead to from these relations, and what leads to them.
    [[nodiscard]] std::set<const catalog::Relation*> neighboursOf(
        const std::vector<const catalog::Relation*>& meant) const {
        std::set<const catalog::Relation*> near;
        for (const catalog::Relation* one : meant) {
            for (const catalog::ForeignKey& key : one->foreignKeys)
                near.insert(catalog_.find(key.schema, key.relation));
            for (const catalog::Catalog::Reference& reference : catalog_.referencesTo(*one))
                near.insert(reference.from);
        }
        return near;
    }

    /// Short names for relations that FROM will name: those that the query uses already, and what was typed when it
    /// could be one.
    void offerGuessedAliases() {
        std::set<std::string> used;
        for (const NamedColumn& named : names_.columns) {
            if (!named.qualifier.empty() && used.insert(base::toLower(named.qualifier)).second)
                offer(named.qualifier + ".", CompletionKind::Alias, "", kAliasBonus, named.qualifier);
        }
        if (result_.prefix.empty() || used.contains(base::toLower(result_.prefix))) return;
        const catalog::Relation* best = nullptr;
        int fit = 0;
        for (const catalog::Relation* r : catalog_.relations()) {
            const int one = aliasFit(result_.prefix, r->name);
            if (one > fit) {
                fit = one;
                best = r;
            }
        }
        constexpr std::size_t kLongestAlias = 3;
        if (best == nullptr || result_.prefix.size() > kLongestAlias) return;
        constexpr int kOfSeveralWords = 110;
        const bool isShort = result_.prefix.size() == 1 || fit >= kOfSeveralWords;
        const bool isUsual = isShort && (isQualifying_ || names_.columns.empty());
        result_.items.push_back({result_.prefix + ".", CompletionKind::Alias, best->name + "?",
                                 (isUsual ? 900 + kColumnBonus + 40 : 700) + fit / 10});
    }

    static std::string columnDetail(const ScopeColumn& column, std::string_view alias) {
        std::string detail = base::toLower(column.type);
        if (column.isPrimaryKey) detail += detail.empty() ? "key" : " · key";
        if (!alias.empty()) detail += (detail.empty() ? "" : " · ") + std::string(alias);
        return detail;
    }

    /// Columns that the two sides of a join share.
    void offerSharedColumns() {
        if (relations_.size() < 2) return offerColumns();
        const ScopeRelation& joined = lastJoined();
        for (const ScopeColumn& c : joined.columns) {
            const bool isShared = std::ranges::any_of(relations_, [&](const ScopeRelation& r) {
                return r.node != joined.node && std::ranges::any_of(r.columns, [&](const ScopeColumn& o) {
                           return base::equalsIgnoringCase(o.name, c.name);
                       });
            });
            if (isShared) {
                offer(quotedName(c.name, dialect_), CompletionKind::Column, columnDetail(c, ""), kColumnBonus, c.name);
            }
        }
    }

    void offerTargetColumns() {
        if (relations_.empty()) return;
        const ScopeRelation& target = relations_.front();
        for (std::size_t i = 0; i < target.columns.size(); ++i) {
            const ScopeColumn& c = target.columns[i];
            offer(quotedName(c.name, dialect_), CompletionKind::Column, columnDetail(c, ""),
                  kColumnBonus + likelihood(target, i), c.name);
        }
    }

    /// After `name.`: the columns of a relation of that name here, the relations of a schema of that name.
    void offerQualified() {
        const Token* owner = back(1);
        if (owner == nullptr) return;
        const std::string name = unquotedName(owner->textIn(statement_));
        bool isKnown = false;
        for (const ScopeRelation& r : relations_) {
            if (!base::equalsIgnoringCase(r.alias, name)) continue;
            isKnown = true;
            if (isInJoinCondition()) offerQualifiedKeys(r);
            const std::optional<Operand> other = operandBeforeQualified();
            for (std::size_t i = 0; i < r.columns.size(); ++i) {
                const ScopeColumn& c = r.columns[i];
                offer(quotedName(c.name, dialect_), CompletionKind::Column, columnDetail(c, ""),
                      kColumnBonus + likelihood(r, i) + (other ? worthBeside(*other, r, c) : 0) +
                          worthAsSelected(name, c.name),
                      c.name);
            }
            break;
        }
        if (isKnown) return;
        offerGuessedQualified(name);
        for (const catalog::Relation* known : catalog_.relations()) {
            const catalog::Relation& r = *known;
            if (!base::equalsIgnoringCase(r.schema, name)) continue;
            offer(quotedName(r.name, dialect_),
                  catalog::isViewKind(r.kind) ? CompletionKind::View : CompletionKind::Table,
                  catalog::isViewKind(r.kind) ? "view" : "table", kRelationBonus, r.name);
        }
    }

    /// `alias.` whose relation nobody has named yet: it is mostly the beginning or the initials of one that has what is
    /// asked of it.
    void offerGuessedQualified(const std::string& alias) {
        for (const ScopeRelation& c : commonTables_) {
            const int fit = qualifierFit(alias, c.name, [&c](std::string_view column) { return hasColumn(c, column); });
            for (std::size_t i = 0; i < c.columns.size(); ++i) {
                offer(quotedName(c.columns[i].name, dialect_), CompletionKind::Column, c.name,
                      kGuessedBonus + 2 * fit + likelihood(c, i), c.columns[i].name);
            }
        }
        std::vector<int> worth = guessedWorth();
        for (std::size_t i = 0; i < worth.size(); ++i) {
            const catalog::Relation& r = *catalog_.relations()[i];
            const int fit = qualifierFit(alias, r.name, [&r](std::string_view column) { return hasColumn(r, column); });
            worth[i] = fit > 0 ? 2 * fit + std::clamp(worth[i], 0, kAsked) / 2 : -1;
        }
        offerColumnsOf(worth);
    }

    /// In GROUP BY and ORDER BY, what the select list says of that relation.
    [[nodiscard]] int worthAsSelected(std::string_view alias, std::string_view column) const {
        const bool isGrouping = clause_ == NodeKind::GroupByClause;
        if (!isGrouping && clause_ != NodeKind::OrderByClause) return 0;
        if (names_.names(column, clause_)) return 0;
        for (const NamedColumn& named : names_.columns) {
            const bool isIt = named.clause == NodeKind::SelectClause &&
                              base::equalsIgnoringCase(named.qualifier, alias) &&
                              base::equalsIgnoringCase(named.column, column);
            if (isIt) return kSelectedBonus - kColumnBonus;
        }
        return 0;
    }

    /// The same as operandBefore() with `alias.` between the comparison and the caret.
    [[nodiscard]] std::optional<Operand> operandBeforeQualified() const {
        const Token* sign = back(2);
        const Token* name = back(3);
        if (sign == nullptr || name == nullptr || sign->kind != TokenKind::Operator) return std::nullopt;
        const bool isQualified = back(4) != nullptr && back(4)->kind == TokenKind::Dot && back(5) != nullptr;
        return operandNamed(isQualified ? back(5) : nullptr, *name);
    }

    [[nodiscard]] bool isInJoinCondition() const {
        const Token* beforeOwner = back(2);
        return beforeOwner != nullptr && (beforeOwner->is(Keyword::On) || beforeOwner->is(Keyword::And)) &&
               clauseAt() == NodeKind::OnCondition;
    }

    /// ON w.| : the whole condition that a foreign key suggests, the alias being typed already.
    void offerQualifiedKeys(const ScopeRelation& owner) {
        const auto keysBetween = [&](const ScopeRelation& from, const ScopeRelation& to, bool ownerIsFrom) {
            for (const catalog::ForeignKey& key : from.fact->foreignKeys) {
                if (!base::equalsIgnoringCase(key.relation, to.fact->name)) continue;
                if (key.columns.size() != 1 || key.referencedColumns.size() != 1) continue;
                const std::string& own = ownerIsFrom ? key.columns[0] : key.referencedColumns[0];
                const std::string& far = ownerIsFrom ? key.referencedColumns[0] : key.columns[0];
                const std::string& alias = ownerIsFrom ? to.alias : from.alias;
                offer(quotedName(own, dialect_) + " = " + qualified(alias, far), CompletionKind::Join, "foreign key",
                      kJoinBonus);
            }
        };
        for (const ScopeRelation& other : relations_) {
            if (other.node == owner.node || owner.fact == nullptr || other.fact == nullptr) continue;
            keysBetween(owner, other, true);
            keysBetween(other, owner, false);
        }
    }

    void rank() {
        std::ranges::stable_sort(result_.items, std::ranges::greater{}, &CompletionItem::score);
        std::set<std::string> seen;
        std::erase_if(result_.items, [&](const CompletionItem& item) { return !seen.insert(item.text).second; });
        if (result_.items.size() > maxItems_) result_.items.resize(maxItems_);
    }

    const Script& script_;
    std::string_view text_;
    std::size_t caret_;
    Language dialect_;
    const catalog::View& catalog_;
    std::size_t maxItems_;
    Completion result_;
    std::string_view statement_;
    SyntaxTree tree_;
    std::optional<std::size_t> before_;  // the significant token before the prefix
    std::optional<std::size_t> prefixToken_;
    std::vector<ScopeRelation> relations_;
    std::vector<ScopeRelation> commonTables_;
    NodeKind clause_ = NodeKind::Statement;
    QueryNames names_;
    std::vector<NamedColumn> open_;  // those that no relation answers yet
    bool isQualifying_ = false;      // the query writes columns with their relation
};

}  // namespace

std::string_view completionKindName(CompletionKind kind) {
    constexpr auto kNames = std::to_array<std::string_view>(
        {"keyword", "table", "view", "common table", "column", "alias", "function", "join", "schema"});
    return kNames[static_cast<std::size_t>(kind)];
}

Completion completeAt(const Script& script, std::size_t caret, const catalog::View& catalog, std::size_t maxItems) {
    return Completer(script, std::min(caret, script.text().size()), catalog, maxItems).complete();
}

Completion completeAt(std::string_view text, std::size_t caret, Language dialect, const catalog::View& catalog,
                      std::size_t maxItems) {
    Script script(dialect);
    script.setText(text);
    return completeAt(script, caret, catalog, maxItems);
}

}  // namespace pantry::sql
