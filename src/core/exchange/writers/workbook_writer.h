#pragma once

#include <memory>

#include "core/exchange/writers/row_writer.h"

namespace pantry::exchange {

/// What the rows of a worksheet are at most, headings included.
inline constexpr std::size_t kMaxWorksheetRows = 1048576;

struct WorkbookOptions {
    bool hasHeadings = true;
    /// What a cell cannot hold exactly (decimals of more than 15 digits, times with a zone) is text rather than a
    /// number that is nearly the same and can be counted with.
    bool isInexactText = false;
    std::size_t rowsPerSheet = kMaxWorksheetRows;
};

/// An Excel workbook (Office Open XML): headings bold and frozen, widths by the first rows, cells typed. Rows beyond
/// what a worksheet holds go on in another one. Whole numbers beyond 2^53, dates before 1900 and spans below zero are
/// text; binary values are \x and hexadecimal digits. A text beyond 32,767 characters is cut. remark() counts what was
/// cut, rounded or lost its zone.
///
/// Threads: one at a time. Memory is constant: rows wait in a nameless file in the system's temporary folder.
class WorkbookWriter final : public RowWriter {
public:
    explicit WorkbookWriter(std::string sheetName, const WorkbookOptions& options = {});
    ~WorkbookWriter() override;

    void begin(const std::vector<data::Column>& columns, std::string& out) override;
    void row(const RowSource& source, std::string& out) override;
    void end(std::string& out) override;
    [[nodiscard]] Status status() const override;
    Status handOver(const std::function<Status(std::string_view piece)>& take) override;
    [[nodiscard]] std::string remark() const override;

    static constexpr std::size_t kMaxRows = kMaxWorksheetRows;
    static constexpr std::size_t kMaxColumns = 16384;

private:
    class Book;
    std::unique_ptr<Book> book_;
};

}  // namespace pantry::exchange
