#include <algorithm>
#include <limits>
#include <set>

#include "core/base/text.h"
#include "core/sql/complete/column_choice.h"
#include "core/sql/complete/completer.h"
#include "core/sql/complete/name_match.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {

void Completer::offerGuessedColumns() {
    for (const ScopeRelation& c : commonTables_) {
        const RelationChoice::Asked asked = choice_->askedOf(c);
        for (std::size_t i = 0; i < c.columns.size(); ++i) {
            offer(quotedName(c.columns[i].name, dialect_), CompletionKind::Column, c.name,
                  bonus::kGuessed + RelationChoice::kRelated + asked.worth + likelihood(c, i), c.columns[i].name);
        }
    }
    offerColumnsOf(choice_->guessedWorth());
    offerGuessedAliases();
}

int Completer::likelihood(const catalog::Relation& relation, std::size_t place) const {
    const catalog::Column& c = relation.columns[place];
    return columnLikelihood(
               {.name = c.name, .type = c.typeName, .isKey = c.keyPosition > 0, .place = place, .relation = &relation},
               clause_, names_) +
           habitOfColumn(c.name);
}

std::string Completer::fromFor(const catalog::Relation& relation, std::string_view alias) const {
    if (!hasPlaceForFrom_) return {};
    std::string from = keyword("FROM") + " " + nameInQuery(relation);
    if (!alias.empty() && !base::equalsIgnoringCase(alias, relation.name)) from += " " + quotedName(alias, dialect_);
    return from;
}

void Completer::offerColumnsOf(const std::vector<int>& worth, std::string_view alias) {
    struct Fitting {
        int score = 0;
        const catalog::ColumnNames::Entry* column = nullptr;
    };
    const auto isBetter = [](const Fitting& a, const Fitting& b) {
        return a.score != b.score ? a.score > b.score : a.column < b.column;
    };
    constexpr std::size_t kConsidered = 400;
    const std::size_t wanted = std::max(2 * wish_.maxItems, kConsidered);
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
        result_.items.push_back(
            {quotedName(column.name, dialect_), CompletionKind::Column, type.empty() ? r.name : type + " · " + r.name,
             bonus::kGuessed + one.score + likelihood(r, one.column->place), fromFor(r, alias), &r, &column});
    }
}

void Completer::offerGuessedAliases() {
    std::set<std::string> used;
    for (const NamedColumn& named : names_.columns) {
        if (!named.qualifier.empty() && used.insert(base::toLower(named.qualifier)).second)
            offer(named.qualifier + ".", CompletionKind::Alias, "", bonus::kAlias, named.qualifier);
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
                             (isUsual ? 900 + bonus::kColumn + 40 : 700) + fit / 10, "", best});
}

void Completer::offerGuessedQualified(const std::string& alias) {
    for (const ScopeRelation& c : commonTables_) {
        const int fit = choice_->qualifierFit(alias, c);
        for (std::size_t i = 0; i < c.columns.size(); ++i) {
            offer(quotedName(c.columns[i].name, dialect_), CompletionKind::Column, c.name,
                  bonus::kGuessed + (fit > 0 ? RelationChoice::kRelated : 0) + 2 * fit + likelihood(c, i),
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

}  // namespace pantry::sql
