#include "core/work/kept_runs.h"

#include <fmt/format.h>

#include <algorithm>
#include <utility>

#include "core/base/secret_text.h"
#include "core/base/stable_hash.h"
#include "core/sql/meaning/secrets.h"
#include "core/work/background.h"

namespace pantry::work {
namespace {

store::KeptEnd endOf(RunState state) {
    switch (state) {
        case RunState::Failed: return store::KeptEnd::Failed;
        case RunState::Stopped: return store::KeptEnd::Stopped;
        case RunState::Done: return store::KeptEnd::Done;
        default: return store::KeptEnd::Partial;
    }
}

RunState stateOf(store::KeptEnd end) {
    switch (end) {
        case store::KeptEnd::Failed: return RunState::Failed;
        case store::KeptEnd::Stopped: return RunState::Stopped;
        case store::KeptEnd::Partial: return RunState::Partial;
        case store::KeptEnd::Done: break;
    }
    return RunState::Done;
}

/// Where the last result of a statement of a saved query stands.
std::string lastOwner(const std::string& saved, const Run& run) {
    base::StableHash hash;
    const Origin& origin = run.origin();
    for (const std::string* part :
         {&saved, &origin.connectionId, &origin.database, &origin.schema, &run.statement().text()}) {
        hash.add(*part);
        hash.endPart();
    }
    for (const auto& [name, value] : run.statement().parameters()) {
        hash.add(name);
        for (const auto& item : value.items) {
            hash.endPart();
            hash.add(item ? "=" + *item : "");
        }
        hash.endPart();
    }
    return fmt::format("last-{:016x}", hash.value());
}

ResultChangePtr changeSince(const EarlierResult& earlier, const data::ResultSetPtr& now) {
    auto change = changeBetween(earlier.rows, now, {});
    if (!change) return nullptr;
    change->since = earlier.when;
    return std::make_shared<const ResultChange>(std::move(*change));
}

}  // namespace

bool mayBeKept(const Run& run) {
    if (run.isComparison() || run.isGoingOn() || run.number() <= 0) return false;
    const sql::Statement& statement = run.statement();
    const auto isSecret = [](const auto& one) { return base::isSecretName(one.first); };
    if (std::ranges::any_of(statement.parameters(), isSecret)) return false;
    return sql::secretsIn(statement.text(), statement.language().dialect).empty();
}

store::KeptRun keptRun(const Run& run) {
    store::KeptRun kept{.number = run.number(),
                        .title = run.title(),
                        .statement = run.statement().text(),
                        .connectionId = run.origin().connectionId,
                        .database = run.origin().database,
                        .schema = run.origin().schema,
                        .place = run.place(),
                        .startedAt = run.startedAt(),
                        .serverTime = run.summary().serverTime,
                        .totalTime = run.summary().totalTime,
                        .end = endOf(run.state()),
                        .error = run.error(),
                        .affected = run.summary().result.affectedRows,
                        .generatedKey = run.summary().result.generatedKey,
                        .isPinned = run.isPinned(),
                        .hasResult = run.result() != nullptr || run.isWithoutRows(),
                        .rowCount = run.isWithoutRows() ? run.rowsRead() : run.rowCount(),
                        .rows = run.result()};
    for (const auto& [name, value] : run.statement().parameters()) kept.values[name] = value.items;
    return kept;
}

RunPtr restoredRun(const store::KeptRun& kept, const sql::Language& language) {
    sql::Statement statement(kept.statement, language);
    if (!kept.values.empty()) {
        sql::ParameterValues values;
        for (const auto& [name, items] : kept.values) values[name] = sql::ParameterValue(items);
        statement = statement.with(std::move(values));
    }
    auto run = std::make_shared<Run>(std::move(statement), kept.number);
    run->setPlace({kept.connectionId, kept.database, kept.schema}, kept.place);
    run->setTitle(kept.title);
    run->setPinned(kept.isPinned);
    db::RunSummary summary{.startedAt = kept.startedAt,
                           .serverTime = kept.serverTime,
                           .totalTime = kept.totalTime,
                           .rowCount = kept.rowCount};
    summary.result = {.hasRows = kept.hasResult,
                      .isComplete = kept.end == store::KeptEnd::Done,
                      .affectedRows = kept.affected,
                      .generatedKey = kept.generatedKey};
    run->restore({.state = stateOf(kept.end),
                  .startedAt = kept.startedAt,
                  .summary = std::move(summary),
                  .error = kept.error,
                  .hadResult = kept.hasResult,
                  .rows = kept.rows});
    return run;
}

void KeptRuns::keep(const std::string& owner, const Run& run, const std::string& whole) {
    if (!mayBeKept(run)) return remove(owner, run.number());
    store::KeptRun kept = keptRun(run);
    kept.whole = whole;
    if (!keepsRows_) kept.rows = nullptr;
    worker_->post([this, files = files_, owner, kept = std::move(kept)] {
        if (const Status saved = files->save(owner, kept); !saved) around_.raise(saved.error());
    });
}

void KeptRuns::remove(const std::string& owner, int number) {
    worker_->post([files = files_, owner, number] { files->remove(owner, number); });
}

void KeptRuns::load(const std::string& owner, const sql::Language& language,
                    std::function<void(const std::vector<RestoredRun>&)> told) {
    worker_->post([this, files = files_, owner, language, told = std::move(told), there = whileThere_.there()] {
        std::vector<RestoredRun> runs;
        for (const store::KeptRun& kept : files->load(owner)) runs.push_back({restoredRun(kept, language), kept.whole});
        if (runs.empty()) return;
        around_.owner().post(there([told, runs = std::move(runs)] { told(runs); }));
    });
}

void KeptRuns::compareWithLast(const std::string& saved, const Run& run, EarlierResult earlier,
                               std::function<void(const ResultChangePtr&)> told) {
    if (run.state() != RunState::Done || !run.result() || !run.statement().reading().isPlain()) return;
    const bool isKept = keepsRows_ && !saved.empty() && mayBeKept(run);
    store::KeptRun last = keptRun(run);
    last.number = 1;
    worker_->post([this, files = files_, owner = lastOwner(saved, run), isKept, earlier = std::move(earlier),
                   last = std::move(last), told = std::move(told), there = whileThere_.there()]() mutable {
        if (isKept && !earlier.rows) {
            const auto kept = files->load(owner);
            if (!kept.empty()) earlier = {kept.front().rows, kept.front().startedAt};
        }
        if (isKept && store::isSmallEnough(*last.rows)) {
            if (const Status done = files->save(owner, last); !done) around_.raise(done.error());
        } else if (isKept) {
            files->remove(owner, last.number);
        }
        if (!earlier.rows) return;
        // Not here: a large comparison would keep what is typed from the disk.
        inBackground(
            base::Work::Long, around_.owner(),
            [earlier = std::move(earlier), rows = last.rows] { return changeSince(earlier, rows); },
            there([told](const ResultChangePtr& change) {
                if (change) told(change);
            }));
    });
}

void KeptRuns::tidy() {
    worker_->post([files = files_] { files->tidy(); });
}

}  // namespace pantry::work
