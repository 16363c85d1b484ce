#include "core/work/ledger_keeper.h"

#include <utility>

namespace pantry::work {

void LedgerKeeper::open() {
    worker_->post([this] {
        auto ledger = store::Ledger::open(around_.home().ledgerFile());
        if (!ledger) return around_.raise(ledger.error());
        ledger_ = std::move(*ledger);
    });
}

/// From the worker's thread.
void LedgerKeeper::tellChange() {
    around_.owner().post(whileThere_([this] { changed_(); }));
}

/// The number that an entry has in the file is known to the worker's thread only.
LedgerKeeper::Entry LedgerKeeper::start(const store::RunStart& run, base::Moment when, std::function<void()> kept) {
    auto entry = std::make_shared<std::int64_t>(0);
    worker_->post([this, entry, run, when, kept = std::move(kept)] {
        if (!ledger_) return;
        const auto started = ledger_->start(run, when);
        if (!started) return around_.raise(started.error());
        *entry = *started;
        around_.owner().post(whileThere_([this, kept] {
            if (kept) kept();
            changed_();
        }));
    });
    return entry;
}

void LedgerKeeper::end(const Entry& entry, const store::RunEnd& end) {
    worker_->post([this, entry, end] {
        if (!ledger_ || *entry == 0) return;
        if (const Status status = ledger_->end(*entry, end); !status) around_.raise(status.error());
        tellChange();
    });
}

void LedgerKeeper::remove(const Entry& entry) {
    worker_->post([this, entry] { removeNow(*entry); });
}

void LedgerKeeper::remove(std::int64_t id) {
    worker_->post([this, id] { removeNow(id); });
}

void LedgerKeeper::removeNow(std::int64_t id) {
    if (!ledger_ || id == 0) return;
    if (const Status status = ledger_->remove(id); !status) around_.raise(status.error());
    tellChange();
}

void LedgerKeeper::find(const store::LedgerQuery& query,
                        std::function<void(Result<std::vector<store::LedgerEntry>>)> done) {
    worker_->post([this, query, done = std::move(done)] {
        Result<std::vector<store::LedgerEntry>> entries = std::vector<store::LedgerEntry>{};
        if (ledger_) entries = ledger_->find(query);
        around_.owner().post(whileThere_([done, entries = std::move(entries)] { done(entries); }));
    });
}

void LedgerKeeper::readUsage(std::function<void(std::vector<store::Ledger::Usage>)> done) {
    worker_->post([this, done = std::move(done)] {
        std::vector<store::Ledger::Usage> usage;
        if (ledger_) usage = ledger_->usage().value_or(std::vector<store::Ledger::Usage>{});
        around_.owner().post(whileThere_([done, usage = std::move(usage)] { done(usage); }));
    });
}

}  // namespace pantry::work
