#include "core/exchange/row_export.h"

#include <fmt/format.h>

#include <algorithm>
#include <numeric>

#include "core/base/text.h"
#include "core/base/utf8.h"
#include "core/exchange/view_row.h"

namespace pantry::exchange {
namespace {

constexpr std::size_t kBufferBytes = std::size_t{1} << 18;
constexpr std::size_t kRowsBetweenReports = 4096;

std::string listOf(const std::vector<data::Column>& columns) {
    std::string out;
    for (const data::Column& column : columns) out += (out.empty() ? "" : ", ") + column.name;
    return out;
}

}  // namespace

RowExport::RowExport(ExportChoices choices, std::unique_ptr<ExportTarget> target)
    : choices_(std::move(choices)),
      target_(std::move(target)),
      writer_(makeWriter(choices_.format, choices_.forms)),
      encoder_(takesEncoding(choices_.format) ? choices_.encoding : Encoding::Utf8),
      compressor_(makeCompressor(choices_.compression)) {}

RowExport::~RowExport() { (void)abandon(); }

Status RowExport::chooseColumns(const std::vector<data::Column>& columns) {
    columns_ = choices_.columns;
    if (columns_.empty() && choices_.columnNames.empty()) {
        columns_.resize(columns.size());
        std::iota(columns_.begin(), columns_.end(), std::size_t{0});
    }
    for (const std::string& name : choices_.columnNames) {
        if (!choices_.columns.empty()) break;
        const auto found = std::ranges::find(columns, name, &data::Column::name);
        if (found == columns.end()) {
            return Error{.kind = ErrorKind::InvalidInput,
                         .message = fmt::format("No column is called “{}”.", name),
                         .hint = fmt::format("There are {}.", listOf(columns))};
        }
        columns_.push_back(static_cast<std::size_t>(found - columns.begin()));
    }
    std::erase_if(columns_, [&](std::size_t column) { return column >= columns.size(); });
    return {};
}

Status RowExport::begin(const std::vector<data::Column>& columns) {
    if (isBegun_ && choices_.takesSeveralResults && isText(choices_.format)) {
        writer_->end(buffer_);
        writer_ = makeWriter(choices_.format, choices_.forms);
    } else if (isBegun_) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = "The statement returned more than one result, and one file holds one.",
                     .hint = "Export them one by one from their cards."};
    }
    if (Status status = chooseColumns(columns); !status) return status;
    if (!isBegun_) {
        if (Status status = target_->open(); !status) return status;
    }
    isBegun_ = true;
    std::vector<data::Column> named;
    for (const std::size_t column : columns_) named.push_back(columns[column]);
    nameApart(named);
    writer_->begin(named, buffer_);
    return writer_->status();
}

/// Where a name stands for one value only, a second column of that name gets one of its own.
void RowExport::nameApart(std::vector<data::Column>& columns) {
    const bool isNamed =
        choices_.format == Format::Insert || choices_.format == Format::Json || choices_.format == Format::JsonLines;
    if (!isNamed) return;
    std::vector<std::string> names;
    for (data::Column& column : columns) {
        const std::string before = column.name;
        for (int n = 2; std::ranges::find(names, column.name) != names.end(); ++n) {
            column.name = fmt::format("{}_{}", before, n);
        }
        names.push_back(column.name);
        if (column.name == before) continue;
        renamed_ += fmt::format("{}Another column called “{}” is written as “{}”.", renamed_.empty() ? "" : " ", before,
                                column.name);
    }
}

/// Delimited text passes bytes on as they came.
void RowExport::noteBytes() {
    const bool passesBytes = choices_.format == Format::Csv || choices_.format == Format::Tsv;
    if (!passesBytes || !notText_.empty() || base::isValidUtf8(buffer_)) return;
    std::size_t at = 0;
    while (at < buffer_.size() && base::decodeAt(buffer_, at).valid) at += base::decodeAt(buffer_, at).length;
    const std::size_t line =
        static_cast<std::size_t>(std::count(buffer_.begin(), buffer_.begin() + static_cast<std::ptrdiff_t>(at), '\n'));
    const bool hasHeading = rowsBefore_ == 0 && choices_.forms.csv.hasHeadings;
    notText_ = fmt::format("Some values are not text in UTF-8 and were written as they are, the first near row {}.",
                           base::grouped(static_cast<std::int64_t>(rowsBefore_ + line + (hasHeading ? 0 : 1))));
}

Status RowExport::row(const RowSource& source) {
    writer_->row(source, buffer_);
    rowCount_.fetch_add(1, std::memory_order_relaxed);
    return flushWhenFull();
}

Status RowExport::rows(const data::Chunk& chunk, std::size_t count) {
    if (choices_.mostRows > 0) count = std::min(count, choices_.mostRows - std::min(choices_.mostRows, rowCount()));
    writer_->rows(chunk, count, columns_, buffer_);
    rowCount_.fetch_add(count, std::memory_order_relaxed);
    return flushWhenFull();
}

Status RowExport::flushWhenFull() {
    if (buffer_.size() >= kBufferBytes) {
        if (Status status = flush(); !status) return status;
    }
    return writer_->status();
}

Status RowExport::flush() {
    const std::size_t rows = rowCount();
    noteBytes();
    rowsBefore_ = rows;
    std::swap(buffer_, encoded_);
    buffer_.clear();
    if (!encoder_.isNothingToDo()) {
        std::string other;
        encoder_.encode(encoded_, other);
        encoded_ = std::move(other);
    }
    Status status = send(encoded_);
    isBroken_ = !status;
    if (status) keptRows_ = rows;
    return status;
}

Status RowExport::send(std::string_view text) {
    compressed_.clear();
    if (compressor_) compressor_->put(text, compressed_);
    const std::string_view bytes = compressor_ ? std::string_view(compressed_) : text;
    if (bytes.empty()) return {};
    Status status = target_->write(bytes);
    if (status) byteCount_.fetch_add(bytes.size(), std::memory_order_relaxed);
    return status;
}

Status RowExport::finish() {
    writer_->end(buffer_);
    Status status = writer_->status();
    if (status) status = flush();
    if (status) status = writer_->handOver([this](std::string_view piece) { return send(piece); });
    if (status && compressor_) {
        compressed_.clear();
        compressor_->finish(compressed_);
        status = target_->write(compressed_);
        if (status) byteCount_.fetch_add(compressed_.size(), std::memory_order_relaxed);
    }
    if (status) status = target_->finish();
    if (status) isOver_ = true;
    return status;
}

std::string RowExport::abandon() {
    if (std::exchange(isOver_, true) || !isBegun_) return {};
    if (!isBroken_ && flush() && compressor_) {
        compressed_.clear();
        compressor_->finish(compressed_);
        (void)target_->write(compressed_);  // it was given up anyway
    }
    return target_->abandon(rowCount() > 0);
}

std::string RowExport::remark() const {
    std::string out = writer_->remark();
    for (const std::string* more : {&renamed_, &notText_}) {
        if (!more->empty()) out += (out.empty() ? "" : " ") + *more;
    }
    if (const std::size_t lost = encoder_.lostCharacters(); lost > 0) {
        if (!out.empty()) out += " ";
        out += fmt::format("{} not in {} and became “?”: {}{}.",
                           lost == 1 ? "One character is"
                                     : base::counted(static_cast<std::int64_t>(lost), "character is", "characters are"),
                           encodingName(choices_.encoding), encoder_.lostExamples(), lost > 8 ? " and others" : "");
    }
    return out;
}

namespace {

/// All rows in the server's order go chunk by chunk, which is faster than row by row.
Status exportWhole(const data::ResultSet& result, std::size_t count, RowExport& out,
                   const base::Cancellation& cancellation, const std::function<void(std::size_t)>& progress) {
    for (std::size_t i = 0; i < result.chunkCount() && result.firstRowOf(i) < count && !out.hasEnough(); ++i) {
        if (cancellation.isRequested()) return Error{.kind = ErrorKind::Cancelled, .message = "Stopped."};
        const data::Chunk& chunk = result.chunk(i);
        if (Status status = out.rows(chunk, std::min(chunk.rowCount(), count - result.firstRowOf(i))); !status)
            return status;
        progress(out.rowCount());
    }
    return {};
}

}  // namespace

Status exportView(const data::ResultView& view, const std::vector<std::size_t>* positions, RowExport& out,
                  const base::Cancellation& cancellation, const std::function<void(std::size_t)>& progress) {
    if (Status status = out.begin(view.result()->columns()); !status) return status;
    const std::size_t rows = positions != nullptr ? positions->size() : view.rowCount();
    if (positions == nullptr && view.isWhole()) {
        if (Status status = exportWhole(*view.result(), rows, out, cancellation, progress); !status) return status;
        return out.finish();
    }
    for (std::size_t i = 0; i < rows && !out.hasEnough(); ++i) {
        if (i % kRowsBetweenReports == 0) {
            if (cancellation.isRequested()) return Error{.kind = ErrorKind::Cancelled, .message = "Stopped."};
            progress(i);
        }
        const std::size_t position = positions != nullptr ? (*positions)[i] : i;
        if (Status status = out.row(ViewRow(view, out.columns(), position)); !status) return status;
    }
    progress(rows);
    return out.finish();
}

Status ExportConsumer::take(const data::Chunk& chunk) {
    if (Status status = out_->rows(chunk, chunk.rowCount()); !status) return status;
    if (out_->hasEnough()) return Error{.kind = ErrorKind::Cancelled, .message = "Enough rows."};
    return {};
}

}  // namespace pantry::exchange
