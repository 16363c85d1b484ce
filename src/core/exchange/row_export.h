#pragma once

#include <atomic>
#include <cstdint>
#include <functional>
#include <memory>
#include <string>
#include <vector>

#include "core/base/cancellation.h"
#include "core/base/result.h"
#include "core/data/view/result_view.h"
#include "core/db/session.h"
#include "core/exchange/compression.h"
#include "core/exchange/encoding.h"
#include "core/exchange/export_target.h"
#include "core/exchange/formats.h"

namespace pantry::exchange {

/// Everything that is chosen for an export but its target.
struct ExportChoices {
    Format format = Format::Csv;
    FormatChoices forms = {};
    Encoding encoding = Encoding::Utf8;  ///< of formats that leave it open, see takesEncoding()
    Compression compression = Compression::None;
    std::vector<std::size_t> columns = {};      ///< which, and in which order; empty: all
    std::vector<std::string> columnNames = {};  ///< the same by name, when `columns` is empty
    std::size_t mostRows = 0;                   ///< 0: all
    bool takesSeveralResults = false;           ///< of one statement, one behind the other
};

/// Rows on their way into a target: written in their format, encoded, compressed.
///
/// Threads: one at a time, except rowCount() and byteCount().
class RowExport {
public:
    RowExport(ExportChoices choices, std::unique_ptr<ExportTarget> target);
    ~RowExport();
    RowExport(const RowExport&) = delete;
    RowExport& operator=(const RowExport&) = delete;

    /// Errors: InvalidInput for a column name that is not there, and those of the target.
    Status begin(const std::vector<data::Column>& columns);
    Status row(const RowSource& source);
    Status rows(const data::Chunk& chunk, std::size_t count);
    /// Requires: begin().
    Status finish();
    /// Ends it as it is, readable as far as it goes: whole rows, a whole compressed stream. Returns where it is kept,
    /// see ExportTarget::abandon(). Nothing happens after finish().
    std::string abandon();

    [[nodiscard]] bool hasBegun() const { return isBegun_; }
    /// Whether as many rows are written as were wanted at most.
    [[nodiscard]] bool hasEnough() const { return choices_.mostRows > 0 && rowCount() >= choices_.mostRows; }
    /// The numbers of the columns that are written, in their order. Requires: begin().
    [[nodiscard]] const std::vector<std::size_t>& columns() const { return columns_; }
    [[nodiscard]] std::size_t rowCount() const { return rowCount_.load(std::memory_order_relaxed); }
    /// Rows that the target has taken whole; after abandon(), those that can be read back.
    [[nodiscard]] std::size_t keptRowCount() const { return keptRows_; }
    /// Bytes that went to the target.
    [[nodiscard]] std::uint64_t byteCount() const { return byteCount_.load(std::memory_order_relaxed); }
    /// What the user should know of what was written, as sentences; empty when there is nothing to tell.
    [[nodiscard]] std::string remark() const;

private:
    Status chooseColumns(const std::vector<data::Column>& columns);
    void nameApart(std::vector<data::Column>& columns);
    void noteBytes();
    Status flushWhenFull();
    Status flush();
    Status send(std::string_view text);

    ExportChoices choices_;
    std::unique_ptr<ExportTarget> target_;
    std::unique_ptr<RowWriter> writer_;
    Encoder encoder_;
    std::unique_ptr<Compressor> compressor_;
    std::vector<std::size_t> columns_;
    std::string buffer_;
    std::string encoded_;
    std::string compressed_;
    std::atomic<std::size_t> rowCount_{0};
    std::atomic<std::uint64_t> byteCount_{0};
    std::size_t keptRows_ = 0;
    std::string renamed_;         // what was told of columns of the same name
    std::size_t rowsBefore_ = 0;  // those that were written before the buffer
    std::string notText_;         // where bytes that are no UTF-8 were met first
    bool isBroken_ = false;       // the target refused something: what came after it would leave a gap
    bool isBegun_ = false;
    bool isOver_ = false;
};

/// Writes rows of a view: those at `positions`, or all. `progress` hears the rows written so far, now and then, on this
/// thread. Errors: Cancelled, and those of the export, which the caller then abandons.
Status exportView(const data::ResultView& view, const std::vector<std::size_t>* positions, RowExport& out,
                  const base::Cancellation& cancellation, const std::function<void(std::size_t rows)>& progress);

/// Streams a run's rows into an export, in constant memory.
class ExportConsumer final : public db::ChunkConsumer {
public:
    explicit ExportConsumer(std::shared_ptr<RowExport> out) : out_(std::move(out)) {}
    Status begin(const std::vector<data::Column>& columns) override { return out_->begin(columns); }
    /// Errors: Cancelled once the export has enough.
    Status take(const data::Chunk& chunk) override;
    [[nodiscard]] std::optional<std::size_t> enough() const override {
        return out_->hasEnough() ? std::optional(out_->rowCount()) : std::nullopt;
    }

private:
    std::shared_ptr<RowExport> out_;
};

}  // namespace pantry::exchange
