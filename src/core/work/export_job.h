#pragma once

#include <chrono>
#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/data/view/result_view.h"
#include "core/exchange/row_export.h"
#include "core/store/ledger.h"
#include "core/work/ledger_keeper.h"
#include "core/work/owner_thread.h"
#include "core/work/run.h"

namespace pantry::work {

/// Rows on their way out of a result: those that are here, or those of its statement, which runs once more.
///
/// Threads: the owner's; rows are written on another. Its end stops what runs.
class ExportJob {
public:
    /// Where rows go, and how.
    struct Wish {
        exchange::ExportChoices choices;
        std::string file;              ///< empty: they are gathered as a text
        std::size_t maxTextBytes = 0;  ///< of that text
        bool replacesFile = false;     ///< one that is there already
    };
    /// How it ended.
    struct End {
        Status status;
        bool wasThere = false;    ///< the file; nothing was written
        std::string part = {};    ///< where what was written of a whole is, when there is some
        std::string text = {};    ///< what was gathered
        std::string remark = {};  ///< what somebody should know of what was written
        std::size_t rows = 0;     ///< that can be read back
        std::uint64_t bytes = 0;
    };
    ExportJob(const OwnerThread& owner, LedgerKeeper& ledger, std::function<void(const End&)> ended);
    ~ExportJob();

    /// Writes rows of a view: those at `positions`, or all when that is empty. Requires: nothing runs.
    void writeRows(const Wish& wish, const data::ResultView& view, std::vector<std::size_t> positions);
    /// Runs a statement once more.
    using RunAgain = std::function<std::optional<RunBeside>(db::RunRequest, std::shared_ptr<db::RunObserver>)>;
    /// Writes what a statement returns when it runs once more; `record`: what the ledger keeps of that. Requires:
    /// nothing runs.
    void writeFromServer(const Wish& wish, RunAgain runAgain, const store::RunStart& record);
    void stop();

    [[nodiscard]] bool isRunning() const { return isRunning_; }
    /// Rows that are going to be written; 0 while unknown.
    [[nodiscard]] std::size_t total() const { return total_; }
    [[nodiscard]] std::size_t rowCount() const { return out_ ? out_->rowCount() : 0; }
    [[nodiscard]] std::uint64_t byteCount() const { return out_ ? out_->byteCount() : 0; }
    [[nodiscard]] std::size_t rowsPerSecond() const;

private:
    void begin(const Wish& wish, std::function<void()> write);
    void run(RunAgain runAgain, const store::RunStart& record);
    void end(const Status& status);
    void tellEnd(const Status& status, const std::string& part);

    const OwnerThread& owner_;
    LedgerKeeper& ledger_;
    std::function<void(const End&)> ended_;
    bool isRunning_ = false;
    std::size_t total_ = 0;
    std::chrono::steady_clock::time_point since_;
    base::Cancellation cancellation_;
    std::shared_ptr<exchange::RowExport> out_;
    const exchange::TextTarget* text_ = nullptr;  // out_'s, when it goes to no file
    std::shared_ptr<db::Session> session_;        // that the statement has to itself, if any
    db::RunHandle handle_;
    LedgerKeeper::Entry entry_;
    WhileThere whileThere_;
};

}  // namespace pantry::work
