#include "core/work/ledger_keeper.h"

#include <utility>

#include "core/work/background.h"

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
    if (const auto gone = ledger_->remove({id}); !gone) around_.raise(gone.error());
    tellChange();
}

void LedgerKeeper::change(std::function<Status(store::Ledger&)> work) {
    worker_->post([this, work = std::move(work)] {
        if (!ledger_) return;
        if (const Status status = work(*ledger_); !status) return around_.raise(status.error());
        tellChange();
    });
}

void LedgerKeeper::remove(std::vector<std::int64_t> ids, std::function<void(std::vector<store::LedgerEntry>)> done) {
    change([this, ids = std::move(ids), done = std::move(done)](store::Ledger& ledger) -> Status {
        auto gone = ledger.remove(ids);
        if (!gone) return gone.error();
        around_.owner().post(whileThere_([done, gone = std::move(*gone)] { done(gone); }));
        return {};
    });
}

void LedgerKeeper::restore(std::vector<store::LedgerEntry> entries) {
    change([entries = std::move(entries)](store::Ledger& ledger) { return ledger.restore(entries); });
}

void LedgerKeeper::thin(int days, std::int64_t runs) {
    if (days == 0 && runs == 0) return;
    worker_->post([this, days, runs] {
        if (!ledger_) return;
        const auto oldest = days == 0 ? std::nullopt : std::optional(base::now() - std::chrono::days(days));
        const auto gone = ledger_->thin(oldest, runs == 0 ? std::nullopt : std::optional(runs));
        if (!gone) return around_.raise(gone.error());
        if (*gone > 0) tellChange();
    });
}

void LedgerKeeper::setStarred(std::int64_t id, bool isStarred) {
    change([id, isStarred](store::Ledger& ledger) { return ledger.setStarred(id, isStarred); });
}

void LedgerKeeper::setNote(std::int64_t id, std::string note) {
    change([id, note = std::move(note)](store::Ledger& ledger) { return ledger.setNote(id, note); });
}

template <class Answer>
void LedgerKeeper::ask(std::function<Result<Answer>(const store::Ledger&)> question,
                       std::function<void(Result<Answer>)> done) {
    worker_->post([this, question = std::move(question), done = std::move(done)] {
        Result<Answer> answer = Answer{};
        if (ledger_) answer = question(*ledger_);
        around_.owner().post(whileThere_([done, answer = std::move(answer)] { done(answer); }));
    });
}

void LedgerKeeper::find(const store::LedgerQuery& query,
                        std::function<void(Result<std::vector<store::LedgerEntry>>)> done) {
    ask<std::vector<store::LedgerEntry>>([query](const store::Ledger& ledger) { return ledger.find(query); },
                                         std::move(done));
}

void LedgerKeeper::findFolded(const store::LedgerQuery& query, std::function<void(Result<store::LedgerPage>)> done) {
    ask<store::LedgerPage>([query](const store::Ledger& ledger) { return ledger.findFolded(query); }, std::move(done));
}

void LedgerKeeper::findLike(const store::LedgerEntry& entry, std::size_t limit, store::LedgerAlike alike,
                            std::function<void(Result<std::vector<store::LedgerEntry>>)> done) {
    ask<std::vector<store::LedgerEntry>>(
        [entry, limit, alike](const store::Ledger& ledger) { return ledger.runsLike(entry, limit, alike); },
        std::move(done));
}

void LedgerKeeper::findAt(base::Moment moment, std::function<void(Result<std::vector<store::LedgerEntry>>)> done) {
    ask<std::vector<store::LedgerEntry>>([moment](const store::Ledger& ledger) { return ledger.runsAt(moment); },
                                         std::move(done));
}

void LedgerKeeper::findLast(std::string connectionId, std::vector<std::string> statements,
                            const sql::Language& language,
                            std::function<void(std::vector<std::optional<store::LedgerEntry>>)> done) {
    using Found = std::vector<std::optional<store::LedgerEntry>>;
    ask<Found>(
        [connectionId = std::move(connectionId), statements = std::move(statements),
         language](const store::Ledger& ledger) -> Result<Found> {
            Found found;
            for (const std::string& one : statements) {
                auto last = ledger.lastGoodRun(connectionId, one, language);
                if (!last) return last.error();
                found.push_back(std::move(*last));
            }
            return found;
        },
        [done = std::move(done)](const Result<Found>& found) { done(found.value_or(Found{})); });
}

void LedgerKeeper::findLastOfSaved(std::string saved, std::function<void(std::optional<store::LedgerEntry>)> done) {
    using Found = std::optional<store::LedgerEntry>;
    ask<Found>([saved = std::move(saved)](const store::Ledger& ledger) { return ledger.lastOfSaved(saved); },
               [done = std::move(done)](const Result<Found>& found) { done(found.value_or(std::nullopt)); });
}

void LedgerKeeper::readStatistics(std::vector<std::string> connections, base::Moment since,
                                  std::function<void(Result<store::LedgerStatistics>)> done) {
    inBackground(
        base::Work::Long, around_.owner(),
        [file = around_.home().ledgerFile(), connections = std::move(connections),
         since]() -> Result<store::LedgerStatistics> {
            const auto ledger = store::Ledger::open(file);
            if (!ledger) return ledger.error();
            return (*ledger)->statistics(connections, since);
        },
        whileThere_(std::move(done)));
}

void LedgerKeeper::readUsage(std::function<void(std::vector<store::Ledger::Usage>)> done) {
    ask<std::vector<store::Ledger::Usage>>(
        [](const store::Ledger& ledger) { return ledger.usage(); },
        [done = std::move(done)](const auto& usage) { done(usage.value_or(std::vector<store::Ledger::Usage>{})); });
}

}  // namespace pantry::work
