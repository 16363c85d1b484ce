#pragma once

#include "core/exchange/writers/row_writer.h"

namespace pantry::exchange {

/// Appends `text` so that XML 1.0 and HTML show it as it is. Characters that XML cannot hold, and bytes that are not
/// UTF-8, become U+FFFD.
void appendMarkup(std::string& out, std::string_view text);

/// rows of row of value elements, each with the name of its column; NULL has null="true", binary values are hexadecimal
/// digits with encoding="hex".
class XmlWriter final : public RowWriter {
public:
    void begin(const std::vector<data::Column>& columns, std::string& out) override;
    void row(const RowSource& source, std::string& out) override;
    void end(std::string& out) override;
    [[nodiscard]] std::string remark() const override;

private:
    void note(std::size_t column);

    std::vector<std::string> openings_;  // of a value, by column, without its end
    std::size_t rows_ = 0;
    std::size_t unlike_ = 0;  // texts with characters that XML does not have
    std::string first_;       // of them
};

/// A page with a table, readable as it is; NULL is in italics.
class HtmlWriter final : public RowWriter {
public:
    explicit HtmlWriter(std::string title = "Rows") : title_(std::move(title)) {}
    void begin(const std::vector<data::Column>& columns, std::string& out) override;
    void row(const RowSource& source, std::string& out) override;
    void end(std::string& out) override;

private:
    std::string title_;
    std::vector<bool> areNumbers_;
};

/// A table of Markdown (GitHub's form): bars within values are escaped, line breaks become <br>.
class MarkdownWriter final : public RowWriter {
public:
    void begin(const std::vector<data::Column>& columns, std::string& out) override;
    void row(const RowSource& source, std::string& out) override;
    void end(std::string& out) override;
};

}  // namespace pantry::exchange
