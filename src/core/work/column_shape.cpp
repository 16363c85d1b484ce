#include "core/work/column_shape.h"

#include <fmt/format.h>

#include <charconv>

#include "core/base/text.h"

namespace pantry::work {
namespace {

std::int64_t numberAt(const data::ResultSet& rows, std::size_t row, std::size_t column) {
    const std::string text = data::toText(rows.cell(row, column));
    std::int64_t number = 0;
    std::from_chars(text.data(), text.data() + text.size(), number);
    return number;
}

std::optional<std::string> textAt(const data::ResultSet& rows, std::size_t row, std::size_t column) {
    const data::Cell cell = rows.cell(row, column);
    return cell.isNull() ? std::nullopt : std::optional(data::toText(cell));
}

/// As many digits as say something to a person.
std::string shortNumber(const std::string& text) {
    double number = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), number);
    return error == std::errc() && end == text.data() + text.size() ? fmt::format("{:.6g}", number) : text;
}

}  // namespace

Result<ColumnShape> shapeOf(const data::ResultSet& rows) {
    constexpr std::size_t kColumns = 7;
    if (rows.rowCount() == 0 || rows.columns().size() != kColumns || numberAt(rows, 0, 0) != 0) {
        return Error{.kind = ErrorKind::Statement,
                     .message = "The server did not answer with the shape of the column."};
    }
    ColumnShape shape{.rows = numberAt(rows, 0, 1),
                      .values = numberAt(rows, 0, 2),
                      .different = numberAt(rows, 0, 3),
                      .least = textAt(rows, 0, 4),
                      .greatest = textAt(rows, 0, 5),
                      .average = textAt(rows, 0, 6)};
    for (std::size_t i = 1; i < rows.rowCount(); ++i) {
        shape.frequent.emplace_back(textAt(rows, i, 4), numberAt(rows, i, 1));
    }
    return shape;
}

std::string ColumnShape::summary() const {
    std::string text = base::counted(rows, "row", "rows");
    if (rows == 0) return text;
    if (values < rows) text += fmt::format(", {} without a value", base::grouped(rows - values));
    if (values == 0) return text;
    text += different == values ? std::string(", all values different")
                                : fmt::format(", {}", base::counted(different, "different value", "different values"));
    if (least && greatest) {
        text += fmt::format(", from {} to {}", base::oneLine(*least, 60), base::oneLine(*greatest, 60));
    }
    if (average) text += fmt::format(", {} on the average", shortNumber(*average));
    return text;
}

}  // namespace pantry::work
