#pragma once

#include <string>
#include <string_view>

#include "core/exchange/writers/row_writer.h"

namespace pantry::exchange {

/// Whether a text is a number as JSON's grammar has it (RFC 8259, 6): no sign but -, no leading zero, digits on both
/// sides of the point.
[[nodiscard]] bool isJsonNumber(std::string_view text);
/// Appends `text` as a JSON string (RFC 8259); bytes that are not UTF-8 become U+FFFD, and false is returned.
bool appendJsonString(std::string& out, std::string_view text);
/// A JSON text with a line for each member and element; its numbers, strings and the order of members stay as they are
/// written. Requires: valid JSON.
[[nodiscard]] std::string indentedJson(std::string_view text);
[[nodiscard]] std::string jsonString(std::string_view text);
/// The text that a JSON string means, with its quotation marks; empty when it is none.
[[nodiscard]] std::string textOfJsonString(std::string_view json);

struct JsonOptions {
    bool areLines = false;    ///< an object a line and nothing around them (JSON Lines)
    bool isIndented = false;  ///< a line a member
};

/// An array of objects, one a row. Numbers are JSON numbers with every digit that was sent, decimals of any size
/// included; what JSON has no number for (NaN, infinity) is a string. Values of JSON columns are JSON themselves, when
/// they are valid. Binary values are strings of \x and hexadecimal digits.
class JsonWriter final : public RowWriter {
public:
    explicit JsonWriter(JsonOptions options = {});

    void begin(const std::vector<data::Column>& columns, std::string& out) override;
    void row(const RowSource& source, std::string& out) override;
    void end(std::string& out) override;
    [[nodiscard]] std::string remark() const override;

private:
    void append(std::string& out, const data::Cell& cell, data::ColumnType type);

    JsonOptions options_;
    std::size_t changed_ = 0;  // values whose bytes are not UTF-8
    std::vector<std::string> names_;
    std::vector<data::ColumnType> types_;
    bool isFirst_ = true;
};

}  // namespace pantry::exchange
