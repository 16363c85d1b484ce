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

void LedgerKeeper::start(const store::RunStart& run, base::Moment when, std::function<void(std::int64_t)> done) {
    worker_->post([this, run, when, done = std::move(done)] {
        std::int64_t id = 0;
        if (ledger_) {
            auto started = ledger_->start(run, when);
            if (!started) around_.raise(started.error());
            id = started.value_or(0);
        }
        around_.owner().post(whileThere_([this, id, done] {
            done(id);
            changed_();
        }));
    });
}

void LedgerKeeper::end(std::int64_t id, const store::RunEnd& end) {
    if (id == 0) return;
    worker_->post([this, id, end] {
        if (!ledger_) return;
        if (const Status status = ledger_->end(id, end); !status) around_.raise(status.error());
        tellChange();
    });
}

void LedgerKeeper::remove(std::int64_t id) {
    worker_->post([this, id] {
        if (!ledger_) return;
        if (const Status status = ledger_->remove(id); !status) around_.raise(status.error());
        tellChange();
    });
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
