#include "core/work/export_job.h"

#include <algorithm>
#include <filesystem>
#include <utility>

#include "core/work/background.h"
#include "core/work/run_events.h"

namespace pantry::work {

ExportJob::ExportJob(const OwnerThread& owner, LedgerKeeper& ledger, std::function<void(const End&)> ended)
    : owner_(owner), ledger_(ledger), ended_(std::move(ended)) {}

ExportJob::~ExportJob() {
    stop();
    destroyInBackground(std::move(session_));
}

std::size_t ExportJob::rowsPerSecond() const {
    const std::chrono::duration<double> elapsed = std::chrono::steady_clock::now() - since_;
    return static_cast<std::size_t>(static_cast<double>(rowCount()) / std::max(elapsed.count(), 0.001));
}

/// Looks whether the file is there, elsewhere than on the owner's thread, and then writes.
void ExportJob::begin(const Wish& wish, std::function<void()> write) {
    isRunning_ = true;
    total_ = 0;
    cancellation_ = base::Cancellation();
    since_ = std::chrono::steady_clock::now();
    std::unique_ptr<exchange::ExportTarget> target;
    if (wish.file.empty()) {
        auto text = std::make_unique<exchange::TextTarget>(wish.maxTextBytes);
        text_ = text.get();
        target = std::move(text);
    } else {
        target = std::make_unique<exchange::FileTarget>(wish.file);
    }
    out_ = std::make_shared<exchange::RowExport>(wish.choices, std::move(target));
    inBackground(
        base::Work::Long, owner_,
        [file = wish.file, replaces = wish.replacesFile] {
            std::error_code ignored;
            return !file.empty() && !replaces && std::filesystem::is_regular_file(file, ignored);
        },
        whileThere_([this, write = std::move(write)](bool wasThere) {
            if (!wasThere) return write();
            isRunning_ = false;
            out_.reset();
            text_ = nullptr;
            ended_({.status = Error{.kind = ErrorKind::InvalidInput, .message = "The file is there already."},
                    .wasThere = true});
        }));
}

void ExportJob::writeRows(const Wish& wish, const data::ResultView& view, std::vector<std::size_t> positions) {
    begin(wish, [this, view, positions = std::move(positions)] {
        total_ = positions.empty() ? view.rowCount() : positions.size();
        inBackground(
            base::Work::Long, owner_,
            [view, positions, out = out_, cancellation = cancellation_] {
                return exchange::exportView(view, positions.empty() ? nullptr : &positions, *out, cancellation,
                                            [](std::size_t) {});
            },
            whileThere_([this](const Status& status) { end(status); }));
    });
}

void ExportJob::writeFromServer(const Wish& wish, RunAgain runAgain, const store::RunStart& record) {
    begin(wish, [this, runAgain = std::move(runAgain), record] { run(runAgain, record); });
}

void ExportJob::run(RunAgain runAgain, const store::RunStart& record) {
    RunNews news;
    news.failed = [this](const Error& error, const db::RunSummary&) { end(error); };
    news.finished = [this](const db::RunSummary&) {
        inBackground(
            base::Work::Long, owner_, [out = out_] { return out->finish(); },
            whileThere_([this](const Status& status) { end(status); }));
    };
    // The statement runs once more, and so the ledger has it once more.
    auto again = runAgain({.pageRows = std::nullopt, .consumer = std::make_shared<exchange::ExportConsumer>(out_)},
                          runEvents(owner_, whileThere_.there(), std::move(news)));
    if (!again) {
        return end(Error{.message = "The sheet's connection is not free.",
                         .hint = "Wait for what runs there, or export on another connection."});
    }
    handle_ = again->handle;
    session_ = std::move(again->session);
    entry_ = ledger_.start(record, base::now());
    if (cancellation_.isRequested()) handle_.cancel();
}

void ExportJob::stop() {
    if (!isRunning_) return;
    cancellation_.request();
    handle_.cancel();
}

/// What failed or was stopped is closed elsewhere, since that may wait for a disk.
void ExportJob::end(const Status& status) {
    inBackground(
        base::Work::Long, owner_,
        [out = out_, isWhole = status.has_value()] { return isWhole ? std::string() : out->abandon(); },
        whileThere_([this, status](const std::string& part) { tellEnd(status, part); }));
}

void ExportJob::tellEnd(const Status& status, const std::string& part) {
    isRunning_ = false;
    if (entry_) {
        RunOutcome outcome{.rows = static_cast<std::int64_t>(out_->rowCount())};
        outcome.summary.totalTime =
            std::chrono::duration_cast<std::chrono::microseconds>(std::chrono::steady_clock::now() - since_);
        if (!status) outcome.error = status.error();
        ledger_.end(entry_, endRecord(outcome));
        entry_.reset();
    }
    End end{.status = status,
            .part = part,
            .remark = out_->remark(),
            .rows = status ? out_->rowCount() : out_->keptRowCount(),
            .bytes = out_->byteCount()};
    if (text_ != nullptr && status) end.text = text_->text();
    text_ = nullptr;
    out_.reset();
    destroyInBackground(std::move(session_));
    ended_(end);
}

}  // namespace pantry::work
