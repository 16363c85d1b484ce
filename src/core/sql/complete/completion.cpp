#include "core/sql/complete/completion.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <optional>
#include <set>

#include "core/base/fuzzy.h"
#include "core/base/text.h"
#include "core/sql/complete/function_names.h"
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
constexpr int kJoinBonus = 400;
constexpr int kColumnBonus = 120;
constexpr int kRelatedBonus = 90;
constexpr int kAliasBonus = 80;
constexpr int kRelationBonus = 70;
constexpr int kKeywordBonus = 40;
constexpr int kFunctionBonus = 10;

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
        const auto score = base::fuzzyScore(result_.prefix, matched.empty() ? std::string_view(text) : matched);
        if (!score) return;
        result_.items.push_back({std::move(text), kind, std::move(detail), *score * 4 + bonus});
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
            offer(quotedName(c.name, dialect_), CompletionKind::CommonTable, "common table", kRelatedBonus, c.name);
        }
        for (const auto& [score, relation] : bestRelations(isJoin)) {
            const catalog::Relation& r = *relation;
            const std::string name = catalog_.isOnSearchPath(r.schema)
                                         ? quotedName(r.name, dialect_)
                                         : quotedName(r.schema, dialect_) + "." + quotedName(r.name, dialect_);
            std::string detail = catalog::isViewKind(r.kind) ? "view" : "table";
            if (r.rowEstimate) detail += " · about " + base::counted(*r.rowEstimate, "row", "rows");
            if (isJoin && refersToVisible(r)) detail = "foreign key";
            result_.items.push_back(
                {name, catalog::isViewKind(r.kind) ? CompletionKind::View : CompletionKind::Table, detail, score});
        }
        for (const std::string& schema : catalog_.schemas()) {
            if (catalog_.schemas().size() > 1) offer(quotedName(schema, dialect_), CompletionKind::Schema, "schema", 0);
        }
    }

    /// The relations that fit best, scored before anything is written about them: a database may have thousands.
    [[nodiscard]] std::vector<std::pair<int, const catalog::Relation*>> bestRelations(bool isJoin) const {
        std::vector<std::pair<int, const catalog::Relation*>> scored;
        for (const catalog::Relation* known : catalog_.relations()) {
            const catalog::Relation& r = *known;
            const auto score = base::fuzzyScore(result_.prefix, r.name);
            if (!score) continue;
            const int bonus = kRelationBonus + (isJoin && refersToVisible(r) ? kRelatedBonus : 0);
            scored.emplace_back(*score * 4 + bonus, &r);
        }
        const auto isBetter = [](const auto& a, const auto& b) {
            return a.first != b.first ? a.first > b.first : a.second < b.second;
        };
        const std::size_t wanted = std::min(scored.size(), maxItems_);
        std::ranges::partial_sort(scored, scored.begin() + static_cast<std::ptrdiff_t>(wanted), isBetter);
        scored.resize(wanted);
        return scored;
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
        }
    }

    [[nodiscard]] std::string qualified(std::string_view alias, std::string_view column) const {
        return quotedName(alias, dialect_) + "." + quotedName(column, dialect_);
    }

    void offerColumns() {
        std::set<std::string> ambiguous;
        std::set<std::string> seen;
        for (const ScopeRelation& r : relations_) {
            for (const ScopeColumn& c : r.columns) {
                if (!seen.insert(base::toLower(c.name)).second) ambiguous.insert(base::toLower(c.name));
            }
        }
        int bonus = kColumnBonus;
        for (const ScopeRelation& r : relations_) {
            for (const ScopeColumn& c : r.columns) {
                if (c.name.empty()) continue;
                const bool needsAlias = ambiguous.contains(base::toLower(c.name)) && !r.alias.empty();
                offer(needsAlias ? qualified(r.alias, c.name) : quotedName(c.name, dialect_), CompletionKind::Column,
                      columnDetail(c, r.alias), bonus, c.name);
            }
            bonus = std::max(bonus - 5, kAliasBonus + 5);
        }
        for (const ScopeRelation& r : relations_) {
            if (!r.alias.empty()) {
                offer(quotedName(r.alias, dialect_), CompletionKind::Alias, r.name.empty() ? "subquery" : r.name,
                      kAliasBonus, r.alias);
            }
        }
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
        for (const ScopeColumn& c : relations_.front().columns) {
            offer(quotedName(c.name, dialect_), CompletionKind::Column, columnDetail(c, ""), kColumnBonus, c.name);
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
            for (const ScopeColumn& c : r.columns) {
                offer(quotedName(c.name, dialect_), CompletionKind::Column, columnDetail(c, ""), kColumnBonus, c.name);
            }
            break;
        }
        if (isKnown) return;
        for (const catalog::Relation* known : catalog_.relations()) {
            const catalog::Relation& r = *known;
            if (!base::equalsIgnoringCase(r.schema, name)) continue;
            offer(quotedName(r.name, dialect_),
                  catalog::isViewKind(r.kind) ? CompletionKind::View : CompletionKind::Table,
                  catalog::isViewKind(r.kind) ? "view" : "table", kRelationBonus, r.name);
        }
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
