#pragma once

#include <cstdint>
#include <functional>
#include <optional>
#include <set>
#include <string>
#include <utility>
#include <vector>

#include "core/store/ledger.h"
#include "core/work/ledger_keeper.h"
#include "core/work/owner_thread.h"

namespace pantry::work {

/// What a search in the ledger finds, equal runs as one, page after page: the first page soon, further ones until there
/// is enough for a screen, and more when somebody looks further down. An answer to a search that is no longer asked is
/// dropped.
///
/// Threads: the owner's; so is what is told.
class LedgerList {
public:
    static constexpr std::size_t kPage = 40;

    /// `added`: folds were added, from a place on; 0 when the list begins anew. `rested`: nothing is being read.
    struct Told {
        std::function<void(std::size_t first)> added;
        std::function<void()> rested;
    };
    LedgerList(LedgerKeeper& ledger, Told told) : ledger_(ledger), told_(std::move(told)) {}

    /// Begins anew. The folds that are there stay until the first answer is.
    void search(std::vector<std::string> connections, store::LedgerSearch search);
    /// The same search again: something ran.
    void again();
    /// Another page, if there is one and nothing is being read.
    void more();

    [[nodiscard]] const std::vector<store::LedgerFold>& folds() const { return folds_; }
    [[nodiscard]] const store::LedgerSearch& asked() const { return query_.search; }
    [[nodiscard]] bool isReading() const { return isReading_; }
    [[nodiscard]] bool hasMore() const { return query_.behind.has_value(); }
    /// How far back it has been looked while a search goes on.
    [[nodiscard]] std::optional<base::Moment> lookedBackTo() const;
    [[nodiscard]] const std::optional<Error>& problem() const { return problem_; }

private:
    void begin();
    void read(bool isFirst);
    void take(const Result<store::LedgerPage>& page, bool isFirst);

    LedgerKeeper& ledger_;
    Told told_;
    WhileThere whileThere_;
    store::LedgerQuery query_;
    std::vector<store::LedgerFold> folds_;
    std::set<std::pair<std::int64_t, std::string>> there_;  // forms and connections of the folds
    std::optional<Error> problem_;
    std::uint64_t generation_ = 0;
    std::size_t wanted_ = kPage;
    bool isReading_ = false;
};

}  // namespace pantry::work
