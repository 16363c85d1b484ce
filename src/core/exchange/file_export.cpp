#include "core/exchange/file_export.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstdlib>

#include "core/base/file.h"

namespace pantry::exchange {
namespace {

constexpr std::size_t kBufferBytes = std::size_t{1} << 18;
constexpr std::size_t kRowsBetweenReports = 4096;

class ViewRow final : public RowSource {
public:
    explicit ViewRow(const data::ResultView& view) : view_(view) {}
    void go(std::size_t position) { row_ = view_.rowAt(position); }
    [[nodiscard]] std::size_t columnCount() const override { return view_.result()->columns().size(); }
    [[nodiscard]] data::Cell cell(std::size_t column) const override { return view_.result()->cell(row_, column); }

private:
    const data::ResultView& view_;
    std::size_t row_ = 0;
};

}  // namespace

ExportFile::ExportFile(std::filesystem::path path, std::unique_ptr<RowWriter> writer)
    : path_(std::move(path)), writer_(std::move(writer)) {}

ExportFile::~ExportFile() {
    if (descriptor_ < 0) return;
    ::close(descriptor_);
    ::unlink(temporary_.c_str());
}

Status ExportFile::begin(const std::vector<data::Column>& columns) {
    temporary_ = path_.string() + ".XXXXXX";
    descriptor_ = ::mkostemp(temporary_.data(), O_CLOEXEC);
    if (descriptor_ < 0) return base::fileError(errno, "write", path_);
    writer_->begin(columns, buffer_);
    return {};
}

Status ExportFile::row(const RowSource& source) {
    writer_->row(source, buffer_);
    return buffer_.size() >= kBufferBytes ? flush() : Status();
}

Status ExportFile::rows(const data::Chunk& chunk, std::size_t count) {
    writer_->rows(chunk, count, buffer_);
    return buffer_.size() >= kBufferBytes ? flush() : Status();
}

Status ExportFile::flush() {
    std::string_view rest = buffer_;
    while (!rest.empty()) {
        const ssize_t count = ::write(descriptor_, rest.data(), rest.size());
        if (count < 0 && errno == EINTR) continue;
        if (count < 0) return base::fileError(errno, "write", path_);
        rest.remove_prefix(static_cast<std::size_t>(count));
    }
    byteCount_ += buffer_.size();
    buffer_.clear();
    return {};
}

Status ExportFile::finish() {
    if (descriptor_ < 0) {  // a statement without rows still makes a file
        if (Status status = begin({}); !status) return status;
    }
    writer_->end(buffer_);
    if (Status status = flush(); !status) return status;
    // New files get the rights that every other program would give them.
    const mode_t mask = ::umask(0);
    ::umask(mask);
    ::fchmod(descriptor_, 0666 & ~mask);
    if (::fsync(descriptor_) != 0 && errno != EINVAL) return base::fileError(errno, "write", path_);
    if (::rename(temporary_.c_str(), path_.c_str()) != 0) return base::fileError(errno, "write", path_);
    ::close(descriptor_);
    descriptor_ = -1;
    return {};
}

Status exportView(const data::ResultView& view, ExportFile& file, const base::Cancellation& cancellation,
                  const std::function<void(std::size_t)>& progress) {
    if (Status status = file.begin(view.result()->columns()); !status) return status;
    ViewRow row(view);
    const std::size_t rows = view.rowCount();
    for (std::size_t i = 0; i < rows; ++i) {
        if (i % kRowsBetweenReports == 0) {
            if (cancellation.isRequested()) return Error{.kind = ErrorKind::Cancelled, .message = "Stopped."};
            progress(i);
        }
        row.go(i);
        if (Status status = file.row(row); !status) return status;
    }
    progress(rows);
    return file.finish();
}

}  // namespace pantry::exchange
