#pragma once

#include <cstddef>
#include <cstdint>
#include <initializer_list>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/sql/complete/caret_place.h"
#include "core/sql/complete/completion.h"
#include "core/sql/complete/dialect_words.h"
#include "core/sql/complete/query_names.h"
#include "core/sql/complete/relation_choice.h"
#include "core/sql/meaning/scope.h"
#include "core/sql/syntax/script.h"

namespace pantry::sql {

/// How much the kind of an item counts beside how well it fits what was typed.
namespace bonus {
inline constexpr int kJoin = 420;
inline constexpr int kOtherSide = 330;
inline constexpr int kSelected = 270;
inline constexpr int kAlias = 225;
inline constexpr int kColumn = 200;
inline constexpr int kDate = 215;  // between columns of the same type and others
inline constexpr int kDateAfterSign = 250;
inline constexpr int kRelation = 180;
inline constexpr int kGuessed = 140;  // of a relation that nobody has named yet
inline constexpr int kKeyword = 120;
inline constexpr int kFunction = 60;
inline constexpr int kRareKeyword = 30;
inline constexpr int kCondition = 110;
inline constexpr int kParameter = 90;
inline constexpr int kStatement = 640;  // in all: however much of it was typed, it stands below words and names
}  // namespace bonus

/// Finds what could stand at one caret. Its parts are files of their own: words of the language, relations, joins,
/// columns, columns of relations that nobody has named yet, and values.
///
/// Lifetime: views script and catalog.
class Completer {
public:
    Completer(const Script& script, std::size_t caret, const catalog::View& catalog, const CompletionWish& wish)
        : dialect_(script.language()),
          catalog_(catalog),
          wish_(wish),
          at_(script, caret),
          version_(serverVersionIn(catalog.catalog().facts().serverVersion)) {
        noteNearby(script, caret);
    }

    Completion complete();

private:
    struct ScoredRelation {
        int score = 0;
        int bonus = 0;
        const catalog::Relation* relation = nullptr;
        std::string_view alias;
    };

    /// The column before a comparison, whose other side is asked for.
    struct Operand {
        const ScopeRelation* relation = nullptr;
        const ScopeColumn* column = nullptr;
    };

    /// From two letters; from one where little fits; from none where what comes next is a relation, a condition of a
    /// join, the other side of a key, what a date is compared with, or what the select list has for GROUP BY and
    /// ORDER BY.
    [[nodiscard]] bool opensByItself() const;
    /// Behind GROUP BY or ORDER BY of a query whose select list has something for it.
    [[nodiscard]] bool beginsListOfSelected() const;
    /// A keyword as it is written here.
    [[nodiscard]] std::string keyword(std::string_view word) const;
    /// What the query at hand says already.
    void noteQuery(std::uint32_t at);
    void offerFor(Place where);
    /// The item, to be told more of; nullptr when it does not fit what was typed.
    CompletionItem* offer(std::string text, CompletionKind kind, std::string detail, int bonus,
                          std::string_view matched = {});
    static void noteOrigin(CompletionItem* item, const ScopeColumn& column);
    void rank();

    // Words of the language: completer_words.cpp
    void offerFunctions();
    /// Those that the database has itself, with their parameters; the engine's own are known without it.
    void offerRoutines(std::initializer_list<catalog::ObjectKind> kinds);
    void offerTypes();
    /// OVER: the windows that the query names, or one of its own in brackets.
    void offerWindows();

    // Keywords: completer_keywords.cpp
    void offerKeywords(Place place, NextWords& next);
    void offerRareKeywords(NextWords& next);
    /// Whether the server at hand understands a word, as far as its version is known.
    [[nodiscard]] bool isKnownHere(Keyword word) const;

    // What was written before: completer_habits.cpp
    /// The statements around the caret's tell what somebody is about.
    void noteNearby(const Script& script, std::size_t caret);
    [[nodiscard]] int habitOfRelation(std::string_view name) const;
    [[nodiscard]] int habitOfColumn(std::string_view name) const;
    void offerStatements();
    void offerConditions();

    // Names in definitions: completer_definitions.cpp
    /// Whether the name is one of a definition, where the tokens before it tell less than the grammar.
    bool offerInDefinition(const NextWords::Name& name);
    void offerDefined();
    void offerObjects(std::initializer_list<catalog::ObjectKind> kinds);
    void offerSchemas();
    void offerIndexes();
    void offerColumnsInDefinition(const NextWords::Name& name);
    [[nodiscard]] const catalog::Relation* namedRelation(bool isLast) const;
    void offerColumnsOfNamed(const catalog::Relation* relation);
    void offerOwnColumns();

    // Relations: completer_relations.cpp
    /// A short name for a relation that nothing in the query has: its initials, else more of its letters.
    [[nodiscard]] std::string freeAlias(std::string_view relation) const;
    /// Behind a relation without an alias.
    void offerAlias();
    [[nodiscard]] bool isVisible(const catalog::Relation& relation) const;
    [[nodiscard]] std::string aliasFor(const catalog::Relation& relation) const;
    void offerRelations(bool isJoin);
    /// With the alias that the query uses for it already, where there is one.
    void offerRelation(const std::string& text, std::string_view name, CompletionKind kind, const std::string& detail,
                       int bonus, std::string_view alias, const catalog::Relation* relation = nullptr);
    /// The relations that fit best, scored before anything is written about them: a database may have thousands.
    [[nodiscard]] std::vector<ScoredRelation> bestRelations(bool isJoin) const;
    [[nodiscard]] std::string nameInQuery(const catalog::Relation& r) const;

    // Joins: completer_joins.cpp
    /// A relation together with the condition that a foreign key gives, and through a linking table the one behind it.
    void offerWholeJoins();
    /// `from`: the alias of the relation whose key it is; `to`: that of the one it leads to.
    [[nodiscard]] std::string conditionOf(const std::string& from, const catalog::ForeignKey& key,
                                          const std::string& to) const;
    void offerJoin(const catalog::Relation& relation, const std::string& alias, const std::string& condition,
                   const catalog::Relation& owner, const catalog::ForeignKey& key);
    /// A table that does little but point at two others is a way from one to the other.
    void offerThrough(const catalog::Relation& link, const std::string& linkAlias, const std::string& condition,
                      const catalog::ForeignKey& used);
    /// ON: for the relation that was joined last, the conditions its foreign keys suggest.
    void offerJoinConditions();
    /// The relation whose JOIN the caret's ON belongs to: the last one written before the caret.
    [[nodiscard]] const ScopeRelation& lastJoined() const;
    void offerKeys(const ScopeRelation& from, const ScopeRelation& to, bool fromIsJoined);
    static void noteKey(CompletionItem* item, const catalog::Relation& from, const catalog::ForeignKey& key);
    [[nodiscard]] std::string qualified(std::string_view alias, std::string_view column) const;
    [[nodiscard]] bool isInJoinCondition() const;
    /// ON w.| : the whole condition that a foreign key suggests, the alias being typed already.
    void offerQualifiedKeys(const ScopeRelation& owner);

    // Columns: completer_columns.cpp
    void offerColumns();
    [[nodiscard]] int likelihood(const ScopeRelation& relation, std::size_t place) const;
    /// What the select list says, for GROUP BY and ORDER BY.
    void offerSelected();
    static std::string columnDetail(const ScopeColumn& column, std::string_view alias);
    /// Columns that the two sides of a join share.
    void offerSharedColumns();
    void offerTargetColumns();
    /// After `name.`: the columns of a relation of that name here, the relations of a schema of that name.
    void offerQualified();
    /// In GROUP BY and ORDER BY, what the select list says of that relation.
    [[nodiscard]] int worthAsSelected(std::string_view alias, std::string_view column) const;

    // Columns of what FROM will name: completer_guessed.cpp
    /// Before FROM: columns of all relations, those first that have what the query names already.
    void offerGuessedColumns();
    [[nodiscard]] int likelihood(const catalog::Relation& relation, std::size_t place) const;
    /// What names a relation in a query that has no FROM yet, and cannot be run without.
    [[nodiscard]] std::string fromFor(const catalog::Relation& relation, std::string_view alias) const;
    /// Columns of relations that the query has not named yet. A database may have a hundred thousand: the best are
    /// found before it is looked at how likely each is. `worth` has an entry for each relation of the catalog; what is
    /// worth nothing is left out where nothing was typed.
    void offerColumnsOf(const std::vector<int>& worth, std::string_view alias = {});
    /// Short names for relations that FROM will name: those that the query uses already, and what was typed when it
    /// could be one.
    void offerGuessedAliases();
    /// `alias.` whose relation nobody has named yet: it is mostly the beginning or the initials of one that has what is
    /// asked of it.
    void offerGuessedQualified(const std::string& alias);

    // INSERT: completer_insert.cpp
    /// A parameter by the name of a column; columns whose names are no plain words share one.
    [[nodiscard]] static std::string parameterFor(std::string_view column);
    /// The list of columns, and with it the values that match.
    void offerInsertLists();
    /// VALUES: a parameter for each column that is listed.
    void offerMatchingValues();
    /// The column whose value is written at the caret, in VALUES.
    [[nodiscard]] std::optional<Operand> insertedColumn() const;
    void offerInsertedValue(const Operand& column);
    /// The columns that the INSERT at hand lists; all that can be written where it lists none.
    [[nodiscard]] std::vector<const ScopeColumn*> insertedColumns() const;

    // What stands beside a comparison: completer_values.cpp
    /// Parameters of the text, and one named after what the caret is compared with.
    void offerParameters();
    [[nodiscard]] std::optional<Operand> operandBefore() const;
    [[nodiscard]] std::optional<Operand> operandNamed(const Token* owner, const Token& name) const;
    /// The column with which a value at the caret is compared: behind a sign, LIKE, BETWEEN, or within IN.
    [[nodiscard]] std::optional<Operand> comparedWith() const;
    static bool isOfList(TokenKind kind);
    void noteValues();
    /// Beside a date, days that people often mean, in the engine's own words.
    void offerDates();
    /// The other end of a key, or what has the same type; never the column itself.
    [[nodiscard]] int worthBeside(const Operand& other, const ScopeRelation& relation, const ScopeColumn& column) const;
    /// The same as operandBefore() with `alias.` between the comparison and the caret.
    [[nodiscard]] std::optional<Operand> operandBeforeQualified() const;

    Language dialect_;
    const catalog::View& catalog_;
    CompletionWish wish_;
    CaretPlace at_;
    ServerVersion version_;
    Completion result_;
    Habits nearby_;
    std::vector<std::string> parameters_;  // that the text has, near the caret
    std::vector<ScopeRelation> relations_;
    std::vector<ScopeRelation> commonTables_;
    std::vector<ScopeRelation> target_;  // what an INSERT writes into; one at most
    NodeKind clause_ = NodeKind::Statement;
    QueryNames names_;
    std::optional<RelationChoice> choice_;
    bool hasPlaceForFrom_ = false;
    bool hasDates_ = false;      ///< right behind the sign beside a date
    std::size_t rare_ = 0;       // keywords among the items that few ever need
    bool isQualifying_ = false;  // the query writes columns with their relation
};

}  // namespace pantry::sql
