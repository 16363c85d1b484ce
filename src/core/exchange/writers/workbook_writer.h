#pragma once

#include <memory>

#include "core/exchange/writers/row_writer.h"

namespace pantry::exchange {

/// An Excel workbook (Office Open XML): headings bold and frozen, widths by the first rows, cells typed. Rows beyond
/// what a worksheet holds go on in another one. What a cell of a workbook cannot hold exactly is written as text:
/// numbers of more than 15 digits, dates before 1900, times with a zone; binary values as \x and hexadecimal digits. A
/// text beyond 32,767 characters is cut, and remark() says how many were.
///
/// Threads: one at a time. Memory is constant: rows wait in a nameless file in the system's temporary folder.
class WorkbookWriter final : public RowWriter {
public:
    /// `rowsPerSheet`: headings included, at most 1,048,576.
    explicit WorkbookWriter(std::string sheetName, bool hasHeadings = true, std::size_t rowsPerSheet = kMostRows);
    ~WorkbookWriter() override;

    void begin(const std::vector<data::Column>& columns, std::string& out) override;
    void row(const RowSource& source, std::string& out) override;
    void end(std::string& out) override;
    [[nodiscard]] Status status() const override;
    Status handOver(const std::function<Status(std::string_view piece)>& take) override;
    [[nodiscard]] std::string remark() const override;

    static constexpr std::size_t kMostRows = 1048576;
    static constexpr std::size_t kMostColumns = 16384;

private:
    class Book;
    std::unique_ptr<Book> book_;
};

}  // namespace pantry::exchange
