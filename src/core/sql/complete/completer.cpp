#include <algorithm>
#include <set>
#include <utility>

#include "core/base/text.h"
#include "core/sql/complete/completer.h"
#include "core/sql/complete/name_match.h"

namespace pantry::sql {
Completion Completer::complete() {
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
        const auto into = std::ranges::find(at_.tree().nodes, NodeKind::InsertTarget, &Node::kind);
        if (into != at_.tree().nodes.end()) target_ = scope.relationsAt(into->endToken - 1);
        noteQuery(at);
    });
    if (at_.isAfterDot()) {
        offerQualified();
    } else {
        NextWords next = at_.nextWords();
        const std::optional<NextWords::Name> name = next.name();
        const bool isDefining = effectOf(at_.tree().kind) == StatementEffect::Defines;
        const bool takesNoName = !name && next.isUnderstood() && isDefining;
        if (!takesNoName && (!name || !offerInDefinition(*name))) offerFor(at_.place());
        offerKeywords(at_.place(), next);
    }
    offerDates();
    noteValues();
    rank();
    result_.isStatementStart = !at_.isAfterDot() && at_.place() == Place::StatementStart;
    result_.opens = opensByItself();
    return std::move(result_);
}

bool Completer::opensByItself() const {
    constexpr std::size_t kEnoughLetters = 2;
    constexpr std::size_t kLittle = 8;
    if (result_.items.empty()) return false;
    if (at_.isAfterDot() || result_.prefix.size() >= kEnoughLetters) return true;
    if (!result_.prefix.empty()) return result_.items.size() - std::min(rare_, result_.items.size()) <= kLittle;
    const Place place = at_.place();
    if (place == Place::Relation || place == Place::JoinRelation) return true;
    if (place == Place::JoinCondition) return result_.items.front().kind == CompletionKind::Join;
    if (hasDates_ || beginsListOfSelected()) return true;
    return place == Place::Expression && result_.items.front().score >= bonus::kOtherSide - 60 &&
           operandBefore().has_value() && clause_ != NodeKind::SetClause;
}

bool Completer::beginsListOfSelected() const {
    const Token* last = at_.back(0);
    return (clause_ == NodeKind::GroupByClause || clause_ == NodeKind::OrderByClause) && last != nullptr &&
           last->is(Keyword::By) && result_.items.front().score >= bonus::kSelected;
}

std::string Completer::keyword(std::string_view word) const {
    return at_.writesSmall() ? base::toLower(word) : std::string(word);
}

void Completer::noteQuery(std::uint32_t at) {
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

void Completer::offerFor(Place where) {
    switch (where) {
        case Place::Nothing:
        case Place::AliasName:
        case Place::AfterExpression:
        case Place::AfterOrderItem: return;
        case Place::StatementStart: return offerStatements();
        case Place::Relation: return offerRelations(false);
        case Place::JoinRelation: return offerRelations(true);
        case Place::UsingColumns: return offerSharedColumns();
        case Place::TargetColumns: return offerTargetColumns();
        case Place::AfterRelation:
            if (at_.clauseAt() == NodeKind::InsertTarget && at_.back(0)->kind != TokenKind::CloseParen)
                offerInsertLists();
            return offerAlias();
        case Place::TypeName: return offerTypes();
        case Place::Procedure: return offerRoutines({catalog::ObjectKind::Procedure});
        case Place::WindowName: return offerWindows();
        case Place::JoinCondition: offerJoinConditions(); [[fallthrough]];
        case Place::Expression:
            if (at_.back(0)->is(Keyword::Values)) return offerMatchingValues();
            offerParameters();
            if (const auto inserted = insertedColumn()) {
                offerInsertedValue(*inserted);
            } else {
                offerConditions();
                offerColumns();
            }
            offerFunctions();
            if (!result_.prefix.empty()) offerRoutines({catalog::ObjectKind::Function, catalog::ObjectKind::Aggregate});
    }
}

CompletionItem* Completer::offer(std::string text, CompletionKind kind, std::string detail, int bonus,
                                 std::string_view matched) {
    const auto fit = nameMatch(result_.prefix, matched.empty() ? std::string_view(text) : matched);
    if (!fit) return nullptr;
    result_.items.push_back({std::move(text), kind, std::move(detail), *fit + bonus});
    return &result_.items.back();
}

void Completer::noteOrigin(CompletionItem* item, const ScopeColumn& column) {
    if (item == nullptr || column.origin == nullptr) return;
    item->relation = column.origin;
    item->column = column.origin->column(column.originColumn);
}

void Completer::rank() {
    std::ranges::stable_sort(result_.items, std::ranges::greater{}, &CompletionItem::score);
    std::set<std::string> seen;
    std::erase_if(result_.items, [&](const CompletionItem& item) { return !seen.insert(item.text).second; });
    if (result_.items.size() > wish_.maxItems) result_.items.resize(wish_.maxItems);
}

}  // namespace pantry::sql
