#pragma once

#include <string>
#include <string_view>

#include "core/exchange/row_writer.h"

namespace pantry::exchange {

/// Appends `text` as a JSON string (RFC 8259); bytes that are not UTF-8 become U+FFFD.
void appendJsonString(std::string& out, std::string_view text);
/// A JSON text with a line for each member and element; its numbers, strings and the order of members stay as they are
/// written. Requires: valid JSON.
[[nodiscard]] std::string indentedJson(std::string_view text);
[[nodiscard]] std::string jsonString(std::string_view text);

/// An array of objects, one a row, a line each. Integers and reals are JSON numbers, decimals and all else strings,
/// so that no digit is lost; binary values are strings of \x and hexadecimal digits.
class JsonWriter final : public RowWriter {
public:
    void begin(const std::vector<data::Column>& columns, std::string& out) override;
    void row(const RowSource& source, std::string& out) override;
    void end(std::string& out) override;

private:
    std::vector<std::string> names_;
    bool isFirst_ = true;
};

}  // namespace pantry::exchange
