#pragma once

#include <cstdint>
#include <filesystem>
#include <functional>
#include <memory>

#include "core/base/cancellation.h"
#include "core/base/result.h"
#include "core/data/result_view.h"
#include "core/db/session.h"
#include "core/exchange/row_writer.h"

namespace pantry::exchange {

/// A file that appears under its name only when it is whole: rows go to a temporary one beside it.
///
/// Threads: one at a time.
class ExportFile {
public:
    /// Requires: `writer` is fresh.
    ExportFile(std::filesystem::path path, std::unique_ptr<RowWriter> writer);
    /// Removes what was written unless finish() was called.
    ~ExportFile();
    ExportFile(const ExportFile&) = delete;
    ExportFile& operator=(const ExportFile&) = delete;

    Status begin(const std::vector<data::Column>& columns);
    Status row(const RowSource& source);
    /// The first `count` rows of a chunk.
    Status rows(const data::Chunk& chunk, std::size_t count);
    Status finish();

    [[nodiscard]] std::uint64_t byteCount() const { return byteCount_; }
    [[nodiscard]] std::size_t lostCharacters() const { return writer_->lostCharacters(); }
    [[nodiscard]] const std::filesystem::path& path() const { return path_; }

private:
    Status flush();

    std::filesystem::path path_;
    std::string temporary_;
    std::unique_ptr<RowWriter> writer_;
    std::string buffer_;
    std::uint64_t byteCount_ = 0;
    int descriptor_ = -1;
};

/// Writes all rows of a view. `progress` hears the rows written so far, now and then, on this thread.
Status exportView(const data::ResultView& view, ExportFile& file, const base::Cancellation& cancellation,
                  const std::function<void(std::size_t rows)>& progress);

/// Streams a run's rows into a file, in constant memory.
class ExportConsumer final : public db::ChunkConsumer {
public:
    explicit ExportConsumer(std::shared_ptr<ExportFile> file) : file_(std::move(file)) {}
    Status begin(const std::vector<data::Column>& columns) override { return file_->begin(columns); }
    Status take(const data::Chunk& chunk) override { return file_->rows(chunk, chunk.rowCount()); }

private:
    std::shared_ptr<ExportFile> file_;
};

}  // namespace pantry::exchange
