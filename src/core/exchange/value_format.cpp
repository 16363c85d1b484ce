#include "core/exchange/value_format.h"

#include <fmt/format.h>

#include <array>

#include "core/base/text.h"
#include "core/data/view/decimal.h"
#include "core/data/view/typed_text.h"

namespace pantry::exchange {
namespace {

class CellsRow final : public RowSource {
public:
    explicit CellsRow(const std::vector<data::Cell>& cells) : cells_(cells) {}
    [[nodiscard]] std::size_t columnCount() const override { return cells_.size(); }
    [[nodiscard]] data::Cell cell(std::size_t column) const override { return cells_[column]; }

private:
    const std::vector<data::Cell>& cells_;
};

std::optional<bool> booleanOf(const data::Cell& cell) {
    if (cell.kind == data::CellKind::Integer && (cell.integer == 0 || cell.integer == 1)) return cell.integer == 1;
    return cell.kind == data::CellKind::Text ? data::booleanIn(cell.bytes) : std::nullopt;
}

std::string_view withoutTrailingBlanks(std::string_view text) {
    while (!text.empty() && (text.back() == ' ' || text.back() == '\t')) text.remove_suffix(1);
    return text;
}

}  // namespace

std::string_view dateFormWord(DateForm form) {
    constexpr std::array<std::string_view, kDateForms> kWords{"as-sent", "d.m.y", "d/m/y", "m/d/y", "ymd"};
    return kWords[static_cast<std::size_t>(form)];
}

std::string_view dateFormExample(DateForm form) {
    constexpr std::array<std::string_view, kDateForms> kExamples{"As sent", "17.11.2026", "17/11/2026", "11/17/2026",
                                                                 "20261117"};
    return kExamples[static_cast<std::size_t>(form)];
}

std::optional<std::string> respelledDay(std::string_view moment, DateForm form) {
    const std::size_t yearDigits = moment.find_first_not_of("0123456789");
    if (yearDigits == std::string_view::npos || yearDigits < 4 || moment.size() < yearDigits + 6) return std::nullopt;
    const std::string_view year = moment.substr(0, yearDigits);
    const std::string_view month = moment.substr(yearDigits + 1, 2);
    const std::string_view day = moment.substr(yearDigits + 4, 2);
    const auto areDigits = [](std::string_view text) {
        return text.find_first_not_of("0123456789") == std::string_view::npos;
    };
    const bool isDay = moment[yearDigits] == '-' && moment[yearDigits + 3] == '-' && areDigits(month) && areDigits(day);
    if (!isDay) return std::nullopt;
    const std::string_view rest = moment.substr(yearDigits + 6);
    switch (form) {
        case DateForm::AsSent: return std::string(moment);
        case DateForm::DayMonthYear: return fmt::format("{}.{}.{}{}", day, month, year, rest);
        case DateForm::DayMonthYearSlash: return fmt::format("{}/{}/{}{}", day, month, year, rest);
        case DateForm::MonthDayYearSlash: return fmt::format("{}/{}/{}{}", month, day, year, rest);
        case DateForm::Compact: return fmt::format("{}{}{}{}", year, month, day, rest);
    }
    return std::nullopt;
}

bool looksLikeFormula(std::string_view text) {
    if (text.empty() || std::string_view("=+-@\t\r\n").find(text.front()) == std::string_view::npos) return false;
    return !data::isDecimal(text);
}

SpelledWriter::SpelledWriter(ValueFormat valueFormat, std::unique_ptr<RowWriter> writer)
    : valueFormat_(std::move(valueFormat)), writer_(std::move(writer)) {}

void SpelledWriter::begin(const std::vector<data::Column>& columns, std::string& out) {
    std::vector<data::Column> named = columns;
    for (data::Column& column : named) {
        types_.push_back(column.type);
        if (valueFormat_.guardsFormulas && looksLikeFormula(column.name)) column.name.insert(0, 1, '\'');
    }
    memory_.resize(columns.size());
    cells_.resize(columns.size());
    writer_->begin(named, out);
}

/// What becomes of a text that stands for a value of that type; nothing when it stays.
std::optional<std::string> SpelledWriter::respelled(std::string_view text, data::ColumnType type) const {
    const bool isDay = type == data::ColumnType::Date || type == data::ColumnType::Timestamp;
    if (isDay && valueFormat_.dateForm != DateForm::AsSent) return respelledDay(text, valueFormat_.dateForm);
    if (data::isNumeric(type) && valueFormat_.decimalSign != '.' && data::isDecimal(text)) {
        std::string number(text);
        if (const std::size_t point = number.find('.'); point != std::string::npos)
            number[point] = valueFormat_.decimalSign;
        return number;
    }
    if (valueFormat_.guardsFormulas && looksLikeFormula(text)) return "'" + std::string(text);
    return std::nullopt;
}

/// The cell as it is to be written; `memory` keeps its text.
data::Cell SpelledWriter::spelled(const data::Cell& cell, data::ColumnType type, std::string& memory) const {
    const auto text = [&memory](std::string label) {
        memory = std::move(label);
        return data::Cell{.kind = data::CellKind::Text, .bytes = memory};
    };
    if (cell.isNull()) return valueFormat_.nullText ? text(*valueFormat_.nullText) : cell;
    if (type == data::ColumnType::Boolean && !(valueFormat_.trueText.empty() && valueFormat_.falseText.empty())) {
        const auto value = booleanOf(cell);
        const std::string& label = value.value_or(false) ? valueFormat_.trueText : valueFormat_.falseText;
        if (value && !label.empty()) return text(label);
    }
    if (cell.kind == data::CellKind::Real && valueFormat_.decimalSign != '.') {
        std::string number = data::toText(cell);
        if (const std::size_t point = number.find('.'); point != std::string::npos)
            number[point] = valueFormat_.decimalSign;
        return text(std::move(number));
    }
    if (cell.kind != data::CellKind::Text) return cell;
    data::Cell out = cell;
    if (valueFormat_.trimsTrailingBlanks) out.bytes = withoutTrailingBlanks(out.bytes);
    auto other = respelled(out.bytes, type);
    return other ? text(std::move(*other)) : out;
}

void SpelledWriter::row(const RowSource& source, std::string& out) {
    for (std::size_t i = 0; i < cells_.size(); ++i) cells_[i] = spelled(source.cell(i), types_[i], memory_[i]);
    writer_->row(CellsRow(cells_), out);
}

}  // namespace pantry::exchange
