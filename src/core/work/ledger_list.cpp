#include "core/work/ledger_list.h"

namespace pantry::work {

void LedgerList::search(std::vector<std::string> connections, store::LedgerSearch search) {
    query_.connections = std::move(connections);
    query_.search = std::move(search);
    wanted_ = kPage;
    begin();
}

void LedgerList::again() {
    wanted_ = std::max(wanted_, folds_.size());
    begin();
}

void LedgerList::begin() {
    ++generation_;
    query_.behind.reset();
    query_.limit = kPage;
    read(true);
}

void LedgerList::more() {
    if (isReading_ || !hasMore()) return;
    wanted_ = folds_.size() + kPage;
    read(false);
}

void LedgerList::read(bool isFirst) {
    isReading_ = true;
    ledger_.findFolded(query_, whileThere_([this, isFirst, asked = generation_](const Result<store::LedgerPage>& page) {
                           if (asked == generation_) take(page, isFirst);
                       }));
}

void LedgerList::take(const Result<store::LedgerPage>& page, bool isFirst) {
    isReading_ = false;
    if (isFirst) {
        folds_.clear();
        there_.clear();
    }
    const std::size_t first = folds_.size();
    problem_ = page ? std::nullopt : std::optional(page.error());
    query_.behind = page ? page->next : std::nullopt;
    for (const store::LedgerFold& one : page ? page->folds : std::vector<store::LedgerFold>()) {
        const bool isApart = query_.search.alike() == store::LedgerAlike::Text;
        if (there_.emplace(isApart ? one.last.statementId : one.last.form, one.last.start.connectionId).second)
            folds_.push_back(one);
    }
    if (isFirst || folds_.size() > first) told_.added(isFirst ? 0 : first);
    if (folds_.size() < wanted_ && hasMore()) return read(false);
    told_.rested();
}

std::optional<base::Moment> LedgerList::lookedBackTo() const {
    return query_.behind ? std::optional(query_.behind->startedAt) : std::nullopt;
}

}  // namespace pantry::work
