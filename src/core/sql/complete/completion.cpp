#include "core/sql/complete/completion.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <limits>
#include <optional>
#include <set>

#include "core/base/text.h"
#include "core/sql/complete/caret_place.h"
#include "core/sql/complete/column_choice.h"
#include "core/sql/complete/date_words.h"
#include "core/sql/complete/function_names.h"
#include "core/sql/complete/name_match.h"
#include "core/sql/complete/query_names.h"
#include "core/sql/complete/relation_choice.h"
#include "core/sql/meaning/scope.h"
#include "core/sql/syntax/script.h"
#include "core/sql/text/lexer.h"
#include "core/sql/text/type_names.h"

namespace pantry::sql {
namespace {

/// How much the kind of an item counts beside how well it fits what was typed.
constexpr int kJoinBonus = 420;
constexpr int kOtherSideBonus = 330;
constexpr int kSelectedBonus = 270;
constexpr int kAliasBonus = 225;
constexpr int kColumnBonus = 200;
constexpr int kDateBonus = 215;  // between columns of the same type and others
constexpr int kRelationBonus = 180;
constexpr int kGuessedBonus = 140;  // of a relation that nobody has named yet
constexpr int kKeywordBonus = 120;
constexpr int kFunctionBonus = 60;

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
        : dialect_(script.language()), catalog_(catalog), maxItems_(maxItems), at_(script, caret) {}

    Completion complete() {
        result_.start = at_.start();
        result_.catalog = catalog_;
        result_.length = at_.length();
        result_.prefix = at_.prefix();
        if (!at_.isOpen()) return std::move(result_);
        const auto at = static_cast<std::uint32_t>(at_.before().value_or(0));
        at_.tree().visit([&] {
            const ScopeFinder scope(at_.statement(), at_.tree(), catalog_);
            relations_ = scope.relationsAt(at);
            commonTables_ = scope.commonTablesAt(at);
            noteQuery(at);
        });
        if (at_.isAfterDot()) {
            offerQualified();
        } else {
            offerFor(at_.place());
        }
        offerDates();
        noteValues();
        rank();
        result_.isStatementStart = !at_.isAfterDot() && at_.place() == Place::StatementStart;
        result_.opens = opensByItself();
        return std::move(result_);
    }

private:
    /// From two letters; from one where little fits; from none where what comes next is a relation, a condition of a
    /// join, or the other side of a key.
    [[nodiscard]] bool opensByItself() const {
        constexpr std::size_t kEnoughLetters = 2;
        constexpr std::size_t kLittle = 8;
        if (result_.items.empty()) return false;
        if (at_.isAfterDot() || result_.prefix.size() >= kEnoughLetters) return true;
        if (!result_.prefix.empty()) return result_.items.size() <= kLittle;
        const Place place = at_.place();
        if (place == Place::Relation || place == Place::JoinRelation) return true;
        if (place == Place::JoinCondition) return result_.items.front().kind == CompletionKind::Join;
        return place == Place::Expression && result_.items.front().score >= kOtherSideBonus - 60 &&
               operandBefore().has_value() && clause_ != NodeKind::SetClause;
    }

    /// A keyword as it is written here.
    [[nodiscard]] std::string keyword(std::string_view word) const {
        return at_.writesSmall() ? base::toLower(word) : std::string(word);
    }

    /// What the query at hand says already.
    void noteQuery(std::uint32_t at) {
        if (at_.before()) {
            clause_ = clauseOf(at_.tree(), at_.tree().nodeAt(at));
            names_ = namesOfQuery(at_.statement(), at_.tree(), queryAround(at_.tree(), at), at_.written());
        }
        const bool hasAliases = std::ranges::any_of(relations_, &ScopeRelation::hasAlias);
        isQualifying_ = names_.columns.empty() ? hasAliases : names_.isQualifying();
        choice_.emplace(catalog_, relations_, names_);
        const std::optional<std::size_t> from = at_.placeForFrom();
        hasPlaceForFrom_ = from.has_value() && clause_ == NodeKind::SelectClause;
        result_.fromAt = from.value_or(0);
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
            case Place::AfterRelation: offerAlias(); return offerWords(kAfterRelationWords);
            case Place::TypeName: return offerTypes();
            case Place::Procedure: return offerRoutines({catalog::ObjectKind::Procedure});
            case Place::WindowName: return offerWindows();
            case Place::AfterExpression: return offerWords(kAfterExpressionWords);
            case Place::AfterOrderItem: return offerWords(kAfterOrderWords);
            case Place::JoinCondition: offerJoinConditions(); [[fallthrough]];
            case Place::Expression:
                offerColumns();
                offerFunctions();
                if (!result_.prefix.empty())
                    offerRoutines({catalog::ObjectKind::Function, catalog::ObjectKind::Aggregate});
                return offerWords(kExpressionWords);
        }
    }

    /// The item, to be told more of; nullptr when it does not fit what was typed.
    CompletionItem* offer(std::string text, CompletionKind kind, std::string detail, int bonus,
                          std::string_view matched = {}) {
        const auto fit = nameMatch(result_.prefix, matched.empty() ? std::string_view(text) : matched);
        if (!fit) return nullptr;
        result_.items.push_back({std::move(text), kind, std::move(detail), *fit + bonus});
        return &result_.items.back();
    }

    static void noteOrigin(CompletionItem* item, const ScopeColumn& column) {
        if (item == nullptr || column.origin == nullptr) return;
        item->relation = column.origin;
        item->column = column.origin->column(column.originColumn);
    }

    template <class List>
    void offerWords(const List& words) {
        for (const std::string_view word : words) offer(keyword(word), CompletionKind::Keyword, "", kKeywordBonus);
    }

    void offerFunctions() {
        if (result_.prefix.empty()) return;
        for (const FunctionFact& f : functionsOf(dialect_)) {
            offer(std::string(f.name) + "(", CompletionKind::Function, fmt::format("({})", f.arguments), kFunctionBonus,
                  f.name);
        }
    }

    /// Those that the database has itself, with their parameters; the engine's own are known without it.
    void offerRoutines(std::initializer_list<catalog::ObjectKind> kinds) {
        for (const catalog::SchemaPtr& schema : catalog_.catalog().schemas()) {
            if (schema->isOwn) continue;
            const bool isNear = catalog_.isOnSearchPath(schema->name);
            for (const catalog::Object& one : schema->objects) {
                if (std::ranges::find(kinds, one.kind) == kinds.end()) continue;
                const std::string name = quotedName(one.name, dialect_);
                offer((isNear ? name : quotedName(schema->name, dialect_) + "." + name) + "(", CompletionKind::Function,
                      fmt::format("({}){}", one.signature, one.detail.empty() ? "" : " → " + one.detail),
                      kFunctionBonus + (isNear ? 40 : 0), one.name);
            }
        }
    }

    void offerTypes() {
        int bonus = kColumnBonus;
        for (const std::string_view type : usualTypes(dialect_)) {
            offer(std::string(type), CompletionKind::Type, "type", bonus);
            bonus -= 2;
        }
        for (const catalog::SchemaPtr& schema : catalog_.catalog().schemas()) {
            for (const catalog::Object& one : schema->objects) {
                if (schema->isOwn || one.kind != catalog::ObjectKind::Type) continue;
                offer(quotedName(one.name, dialect_), CompletionKind::Type, one.detail.empty() ? "type" : one.detail,
                      kColumnBonus + 10);
            }
        }
    }

    /// OVER: the windows that the query names, or one of its own in brackets.
    void offerWindows() {
        const SyntaxTree& tree = at_.tree();
        for (std::uint32_t i = 0; i < tree.nodes.size(); ++i) {
            if (tree.nodes[i].kind != NodeKind::WindowClause) continue;
            for (std::uint32_t t = tree.nodes[i].firstToken; t + 1 < tree.nodes[i].endToken; ++t) {
                std::uint32_t next = t + 1;
                while (next < tree.nodes[i].endToken && tree.tokens[next].isSilent()) ++next;
                const bool isName =
                    tree.tokens[t].kind == TokenKind::Word || tree.tokens[t].kind == TokenKind::QuotedName;
                if (isName && next < tree.nodes[i].endToken && tree.tokens[next].is(Keyword::As))
                    offer(std::string(tree.tokens[t].textIn(at_.statement())), CompletionKind::Alias, "window",
                          kAliasBonus);
            }
        }
        offer("(" + keyword("PARTITION BY") + " ", CompletionKind::Keyword, "", kKeywordBonus);
        offer("(" + keyword("ORDER BY") + " ", CompletionKind::Keyword, "", kKeywordBonus);
    }

    /// A short name for a relation that nothing in the query has: its initials, else more of its letters.
    [[nodiscard]] std::string freeAlias(std::string_view relation) const {
        std::string initials;
        for (std::size_t i = 0; i < relation.size(); ++i) {
            const bool begins =
                i == 0 || relation[i - 1] == '_' ||
                (relation[i] >= 'A' && relation[i] <= 'Z' && !(relation[i - 1] >= 'A' && relation[i - 1] <= 'Z'));
            const char letter = base::asciiLower(relation[i]);
            if (begins && letter >= 'a' && letter <= 'z') initials += letter;
        }
        const auto isTaken = [&](const std::string& name) {
            return std::ranges::any_of(relations_,
                                       [&](const ScopeRelation& r) { return base::equalsIgnoringCase(r.alias, name); });
        };
        const auto isFree = [&](const std::string& name) {
            return !name.empty() && !isTaken(name) && quotedName(name, dialect_) == name;
        };
        if (isFree(initials)) return initials;
        const std::string letters = base::toLower(relation);
        for (std::size_t length = 2; length <= std::min<std::size_t>(letters.size(), 4); ++length) {
            if (isFree(letters.substr(0, length))) return letters.substr(0, length);
        }
        for (int number = 2; !initials.empty() && number < 10; ++number) {
            if (isFree(initials + std::to_string(number))) return initials + std::to_string(number);
        }
        return {};
    }

    /// Behind a relation without an alias.
    void offerAlias() {
        if (clause_ != NodeKind::FromClause || relations_.empty()) return;
        const ScopeRelation& last = lastJoined();
        if (last.hasAlias || last.name.empty() || last.node == Node::kNone) return;
        const Node& node = at_.tree().nodes[last.node];
        if (*at_.before() + 1 != node.endToken) return;
        const std::string alias = freeAlias(last.name);
        if (!alias.empty()) offer(alias, CompletionKind::Alias, "for " + last.name, kKeywordBonus + 8);
    }

    /// A relation together with the condition that a foreign key gives, and through a linking table the one behind it.
    void offerWholeJoins() {
        constexpr std::size_t kMostJoins = 12;
        std::size_t offered = 0;
        for (const ScopeRelation& visible : relations_) {
            if (visible.fact == nullptr || visible.level > 0) continue;
            for (const catalog::ForeignKey& key : visible.fact->foreignKeys) {
                const catalog::Relation* there = catalog_.find(key.schema, key.relation);
                if (there == nullptr || isVisible(*there) || offered++ > kMostJoins) continue;
                const std::string alias = aliasFor(*there);
                offerJoin(*there, alias, conditionOf(visible.alias, key, alias), *visible.fact, key);
            }
            for (const auto& reference : catalog_.referencesTo(*visible.fact)) {
                if (isVisible(*reference.from) || offered++ > kMostJoins) continue;
                const std::string alias = aliasFor(*reference.from);
                offerJoin(*reference.from, alias, conditionOf(alias, *reference.key, visible.alias), *reference.from,
                          *reference.key);
                offerThrough(*reference.from, alias, conditionOf(alias, *reference.key, visible.alias), *reference.key);
            }
        }
    }

    [[nodiscard]] bool isVisible(const catalog::Relation& relation) const {
        return std::ranges::any_of(relations_, [&](const ScopeRelation& r) { return r.fact == &relation; });
    }

    [[nodiscard]] std::string aliasFor(const catalog::Relation& relation) const {
        const RelationChoice::Asked asked = choice_->askedOf(relation);
        if (!asked.alias.empty()) return quotedName(asked.alias, dialect_);
        const bool usesAliases = std::ranges::any_of(relations_, &ScopeRelation::hasAlias);
        return usesAliases ? freeAlias(relation.name) : std::string();
    }

    /// `from`: the alias of the relation whose key it is; `to`: that of the one it leads to.
    [[nodiscard]] std::string conditionOf(const std::string& from, const catalog::ForeignKey& key,
                                          const std::string& to) const {
        std::string condition;
        for (std::size_t i = 0; i < key.columns.size() && i < key.referencedColumns.size(); ++i) {
            condition += (i > 0 ? " " + keyword("AND") + " " : std::string()) + from + "." +
                         quotedName(key.columns[i], dialect_) + " = " +
                         (to.empty() ? quotedName(key.relation, dialect_) : to) + "." +
                         quotedName(key.referencedColumns[i], dialect_);
        }
        return condition;
    }

    void offerJoin(const catalog::Relation& relation, const std::string& alias, const std::string& condition,
                   const catalog::Relation& owner, const catalog::ForeignKey& key) {
        if (condition.empty() || condition.starts_with('.')) return;
        const std::string named = nameInQuery(relation) + (alias.empty() ? "" : " " + alias);
        noteKey(offer(named + " " + keyword("ON") + " " + condition, CompletionKind::Join, "foreign key",
                      kRelationBonus + RelationChoice::kRelated - 45, relation.name),
                owner, key);
    }

    /// A table that does little but point at two others is a way from one to the other.
    void offerThrough(const catalog::Relation& link, const std::string& linkAlias, const std::string& condition,
                      const catalog::ForeignKey& used) {
        constexpr std::size_t kFewColumns = 6;
        if (link.foreignKeys.size() < 2 || link.columns.size() > kFewColumns || linkAlias.empty()) return;
        for (const catalog::ForeignKey& key : link.foreignKeys) {
            const catalog::Relation* there = &key == &used ? nullptr : catalog_.find(key.schema, key.relation);
            if (there == nullptr || isVisible(*there)) continue;
            const std::string alias = aliasFor(*there);
            if (alias.empty() || alias == linkAlias) continue;
            const std::string text = fmt::format("{} {} {} {} {} {} {} {} {}", nameInQuery(link), linkAlias,
                                                 keyword("ON"), condition, keyword("JOIN"), nameInQuery(*there), alias,
                                                 keyword("ON"), conditionOf(linkAlias, key, alias));
            noteKey(offer(text, CompletionKind::Join, "through " + link.name, kRelationBonus - 20, there->name), link,
                    key);
        }
    }

    void offerRelations(bool isJoin) {
        if (isJoin) offerWholeJoins();
        for (const ScopeRelation& c : commonTables_) {
            const bool isUsed = std::ranges::any_of(
                relations_, [&](const ScopeRelation& r) { return base::equalsIgnoringCase(r.name, c.name); });
            const RelationChoice::Asked asked = choice_->askedOf(c);
            offerRelation(quotedName(c.name, dialect_), c.name, CompletionKind::CommonTable, "common table",
                          kRelationBonus + asked.worth + (isUsed ? 0 : RelationChoice::kRelated), asked.alias);
        }
        for (const ScoredRelation& one : bestRelations(isJoin)) {
            const catalog::Relation& r = *one.relation;
            const std::string name = nameInQuery(r);
            std::string detail = catalog::isViewKind(r.kind) ? "view" : "table";
            if (r.rowEstimate) detail += " · about " + base::counted(*r.rowEstimate, "row", "rows");
            if (isJoin && choice_->refersToVisible(r)) detail = "foreign key";
            offerRelation(name, r.name, catalog::isViewKind(r.kind) ? CompletionKind::View : CompletionKind::Table,
                          detail, one.bonus, one.alias, &r);
        }
        for (const std::string& schema : catalog_.schemas()) {
            if (catalog_.schemas().size() > 1) offer(quotedName(schema, dialect_), CompletionKind::Schema, "schema", 0);
        }
    }

    /// With the alias that the query uses for it already, where there is one.
    void offerRelation(const std::string& text, std::string_view name, CompletionKind kind, const std::string& detail,
                       int bonus, std::string_view alias, const catalog::Relation* relation = nullptr) {
        const auto note = [&](CompletionItem* item) {
            if (item != nullptr) item->relation = relation;
        };
        if (!alias.empty()) note(offer(text + " " + quotedName(alias, dialect_), kind, detail, bonus + 1, name));
        note(offer(text, kind, detail, bonus, name));
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
            const RelationChoice::Asked asked = choice_->askedOf(r);
            const int bonus =
                kRelationBonus + asked.worth + (isJoin && choice_->refersToVisible(r) ? RelationChoice::kRelated : 0);
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
            if (r.node != Node::kNone && at_.tree().nodes[r.node].firstToken <= *at_.before()) last = &r;
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
            noteKey(offer(condition, CompletionKind::Join, "foreign key", kJoinBonus), *from.fact, key);
            if (key.columns.size() != 1 || key.referencedColumns.size() != 1) continue;
            const std::string::size_type middle = condition.find(" = ");
            noteKey(offer(condition.substr(middle + 3) + " = " + condition.substr(0, middle), CompletionKind::Join,
                          "foreign key", kJoinBonus - 20),
                    *from.fact, key);
        }
    }

    static void noteKey(CompletionItem* item, const catalog::Relation& from, const catalog::ForeignKey& key) {
        if (item == nullptr) return;
        item->relation = &from;
        item->key = &key;
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
                noteOrigin(
                    offer(needsAlias ? qualified(r.alias, c.name) : quotedName(c.name, dialect_),
                          CompletionKind::Column, columnDetail(c, r.alias),
                          kColumnBonus + likelihood(r, i) + (other ? worthBeside(*other, r, c) : 0) - farther, c.name),
                    c);
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
        const Token* sign = at_.back(0);
        const Token* name = at_.back(1);
        if (sign == nullptr || name == nullptr || sign->kind != TokenKind::Operator) return std::nullopt;
        if (name->kind != TokenKind::Word && name->kind != TokenKind::QuotedName) return std::nullopt;
        const bool isQualified =
            at_.back(2) != nullptr && at_.back(2)->kind == TokenKind::Dot && at_.back(3) != nullptr;
        return operandNamed(isQualified ? at_.back(3) : nullptr, *name);
    }

    [[nodiscard]] std::optional<Operand> operandNamed(const Token* owner, const Token& name) const {
        const std::string qualifier = owner != nullptr ? unquotedName(owner->textIn(at_.statement())) : std::string();
        const std::string column = unquotedName(name.textIn(at_.statement()));
        for (const ScopeRelation& r : relations_) {
            if (owner != nullptr && !base::equalsIgnoringCase(r.alias, qualifier)) continue;
            for (const ScopeColumn& c : r.columns) {
                if (base::equalsIgnoringCase(c.name, column)) return Operand{&r, &c};
            }
        }
        return std::nullopt;
    }

    /// The column with which a value at the caret is compared: behind a sign, LIKE, BETWEEN, or within IN.
    [[nodiscard]] std::optional<Operand> comparedWith() const {
        if (const auto other = operandBefore()) return other;
        std::size_t n = 0;
        const auto isWord = [&](std::size_t at, Keyword word) {
            return at_.back(at) != nullptr && at_.back(at)->is(word);
        };
        while (at_.back(n) != nullptr && isOfList(at_.back(n)->kind)) ++n;
        const bool isInList =
            at_.back(n) != nullptr && at_.back(n)->kind == TokenKind::OpenParen && isWord(n + 1, Keyword::In);
        if (isInList) {
            n += 2;
        } else if (isWord(0, Keyword::Like) || isWord(0, Keyword::Ilike) || isWord(0, Keyword::Between)) {
            n = 1;
        } else {
            return std::nullopt;
        }
        if (isWord(n, Keyword::Not)) ++n;
        const Token* name = at_.back(n);
        if (name == nullptr || (name->kind != TokenKind::Word && name->kind != TokenKind::QuotedName))
            return std::nullopt;
        const bool isQualified = at_.back(n + 1) != nullptr && at_.back(n + 1)->kind == TokenKind::Dot;
        return operandNamed(isQualified ? at_.back(n + 2) : nullptr, *name);
    }

    static bool isOfList(TokenKind kind) {
        return kind == TokenKind::Comma || kind == TokenKind::String || kind == TokenKind::Number;
    }

    void noteValues() {
        if (at_.isAfterDot() || at_.place() != Place::Expression) return;
        const std::optional<Operand> other = comparedWith();
        if (!other || other->column->origin == nullptr) return;
        const catalog::Relation& origin = *other->column->origin;
        result_.valuesOf = ValuesWanted{origin.schema, origin.name, other->column->originColumn, other->column->type};
    }

    /// Beside a date, days that people often mean, in the engine's own words.
    void offerDates() {
        if (at_.isAfterDot() || at_.place() != Place::Expression) return;
        const std::optional<Operand> other = comparedWith();
        if (!other || !isDateType(other->column->type)) return;
        int bonus = kDateBonus;
        for (const DateWord& one : dateWordsOf(dialect_)) {
            const bool byText = nameMatch(result_.prefix, one.text).has_value();
            offer(std::string(one.text), CompletionKind::Function, std::string(one.meaning), bonus,
                  byText ? one.text : one.meaning);
            bonus -= 2;
        }
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
            const RelationChoice::Asked asked = choice_->askedOf(c);
            for (std::size_t i = 0; i < c.columns.size(); ++i) {
                offer(quotedName(c.columns[i].name, dialect_), CompletionKind::Column, c.name,
                      kGuessedBonus + RelationChoice::kRelated + asked.worth + likelihood(c, i), c.columns[i].name);
            }
        }
        offerColumnsOf(choice_->guessedWorth());
        offerGuessedAliases();
    }

    [[nodiscard]] int likelihood(const catalog::Relation& relation, std::size_t place) const {
        const catalog::Column& c = relation.columns[place];
        return columnLikelihood(
            {.name = c.name, .type = c.typeName, .isKey = c.keyPosition > 0, .place = place, .relation = &relation},
            clause_, names_);
    }

    /// What names a relation in a query that has no FROM yet, and cannot be run without.
    [[nodiscard]] std::string fromFor(const catalog::Relation& relation, std::string_view alias) const {
        if (!hasPlaceForFrom_) return {};
        std::string from = keyword("FROM") + " " + nameInQuery(relation);
        if (!alias.empty() && !base::equalsIgnoringCase(alias, relation.name))
            from += " " + quotedName(alias, dialect_);
        return from;
    }

    [[nodiscard]] std::string nameInQuery(const catalog::Relation& r) const {
        const std::string name = quotedName(r.name, dialect_);
        return catalog_.isOnSearchPath(r.schema) ? name : quotedName(r.schema, dialect_) + "." + name;
    }

    /// Columns of relations that the query has not named yet. A database may have a hundred thousand: the best are
    /// found before it is looked at how likely each is. `worth` has an entry for each relation of the catalog; what is
    /// worth nothing is left out where nothing was typed.
    void offerColumnsOf(const std::vector<int>& worth, std::string_view alias = {}) {
        struct Fitting {
            int score = 0;
            const catalog::ColumnNames::Entry* column = nullptr;
        };
        const auto isBetter = [](const Fitting& a, const Fitting& b) {
            return a.score != b.score ? a.score > b.score : a.column < b.column;
        };
        constexpr std::size_t kConsidered = 400;
        const std::size_t wanted = std::max(2 * maxItems_, kConsidered);
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
            const catalog::Column& column = r.columns[one.column->place];
            const std::string type = base::toLower(column.typeName);
            result_.items.push_back({quotedName(column.name, dialect_), CompletionKind::Column,
                                     type.empty() ? r.name : type + " · " + r.name,
                                     kGuessedBonus + one.score + likelihood(r, one.column->place), fromFor(r, alias),
                                     &r, &column});
        }
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
        result_.items.push_back({result_.prefix + ".", CompletionKind::Alias, "for " + best->name,
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
            noteOrigin(offer(quotedName(c.name, dialect_), CompletionKind::Column, columnDetail(c, ""),
                             kColumnBonus + likelihood(target, i), c.name),
                       c);
        }
    }

    /// After `name.`: the columns of a relation of that name here, the relations of a schema of that name.
    void offerQualified() {
        const Token* owner = at_.back(1);
        if (owner == nullptr) return;
        const std::string name = unquotedName(owner->textIn(at_.statement()));
        bool isKnown = false;
        for (const ScopeRelation& r : relations_) {
            if (!base::equalsIgnoringCase(r.alias, name)) continue;
            isKnown = true;
            if (isInJoinCondition()) offerQualifiedKeys(r);
            const std::optional<Operand> other = operandBeforeQualified();
            for (std::size_t i = 0; i < r.columns.size(); ++i) {
                const ScopeColumn& c = r.columns[i];
                noteOrigin(offer(quotedName(c.name, dialect_), CompletionKind::Column, columnDetail(c, ""),
                                 kColumnBonus + likelihood(r, i) + (other ? worthBeside(*other, r, c) : 0) +
                                     worthAsSelected(name, c.name),
                                 c.name),
                           c);
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
            const int fit = choice_->qualifierFit(alias, c);
            for (std::size_t i = 0; i < c.columns.size(); ++i) {
                offer(quotedName(c.columns[i].name, dialect_), CompletionKind::Column, c.name,
                      kGuessedBonus + (fit > 0 ? RelationChoice::kRelated : 0) + 2 * fit + likelihood(c, i),
                      c.columns[i].name);
            }
        }
        std::vector<int> worth = choice_->guessedWorth();
        for (std::size_t i = 0; i < worth.size(); ++i) {
            const catalog::Relation& r = *catalog_.relations()[i];
            const int fit = choice_->qualifierFit(alias, r);
            worth[i] = fit > 0 ? 2 * fit + std::clamp(worth[i], 0, RelationChoice::kAsked) / 2 : -1;
        }
        offerColumnsOf(worth, alias);
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
        const Token* sign = at_.back(2);
        const Token* name = at_.back(3);
        if (sign == nullptr || name == nullptr || sign->kind != TokenKind::Operator) return std::nullopt;
        const bool isQualified =
            at_.back(4) != nullptr && at_.back(4)->kind == TokenKind::Dot && at_.back(5) != nullptr;
        return operandNamed(isQualified ? at_.back(5) : nullptr, *name);
    }

    [[nodiscard]] bool isInJoinCondition() const {
        const Token* beforeOwner = at_.back(2);
        return beforeOwner != nullptr && (beforeOwner->is(Keyword::On) || beforeOwner->is(Keyword::And)) &&
               at_.clauseAt() == NodeKind::OnCondition;
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
                noteKey(offer(quotedName(own, dialect_) + " = " + qualified(alias, far), CompletionKind::Join,
                              "foreign key", kJoinBonus),
                        *from.fact, key);
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

    Language dialect_;
    const catalog::View& catalog_;
    std::size_t maxItems_;
    CaretPlace at_;
    Completion result_;
    std::vector<ScopeRelation> relations_;
    std::vector<ScopeRelation> commonTables_;
    NodeKind clause_ = NodeKind::Statement;
    QueryNames names_;
    std::optional<RelationChoice> choice_;
    bool hasPlaceForFrom_ = false;
    bool isQualifying_ = false;  // the query writes columns with their relation
};

}  // namespace

std::string_view completionKindName(CompletionKind kind) {
    constexpr auto kNames =
        std::to_array<std::string_view>({"keyword", "table", "view", "common table", "column", "alias", "function",
                                         "join", "schema", "snippet", "value", "type"});
    return kNames[static_cast<std::size_t>(kind)];
}

std::optional<NameFacts> factsOf(const CompletionItem& item) {
    if (item.key != nullptr && item.relation != nullptr) return factsOfKey(*item.relation, *item.key);
    if (item.column != nullptr && item.relation != nullptr) return factsOfColumn(*item.relation, *item.column);
    if (item.relation != nullptr) return factsOfRelation(*item.relation);
    return std::nullopt;
}

void offerValues(Completion& completion, const std::vector<KnownValue>& values, const Language& language) {
    if (!completion.valuesOf) return;
    const bool isNumber = isNumericType(completion.valuesOf->type);
    std::vector<CompletionItem> items;
    for (const KnownValue& value : values) {
        const bool fits = completion.prefix.empty() || nameMatch(completion.prefix, value.text) ||
                          (!value.label.empty() && nameMatch(completion.prefix, value.label));
        if (!fits) continue;
        items.push_back({.text = isNumber ? value.text : quotedString(value.text, language.dialect),
                         .kind = CompletionKind::Value,
                         .detail = value.label.empty() ? "value" : value.label});
    }
    if (items.empty()) return;
    completion.items.insert(completion.items.begin(), items.begin(), items.end());
    completion.opens = true;
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
