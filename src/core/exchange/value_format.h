#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/data/store/column.h"
#include "core/exchange/writers/row_writer.h"

namespace pantry::exchange {

enum class DateForm : std::uint8_t {
    AsSent,
    DayMonthYear,       ///< 17.11.2026
    DayMonthYearSlash,  ///< 17/11/2026
    MonthDayYearSlash,  ///< 11/17/2026
    Compact,            ///< 20261117
};
inline constexpr std::size_t kDateForms = 5;
[[nodiscard]] std::string_view dateFormWord(DateForm form);     ///< on the command line and in files: d.m.y
[[nodiscard]] std::string_view dateFormExample(DateForm form);  ///< for people: 17.11.2026

/// How values are written in forms that know nothing but text. As it stands they go out as they were sent.
struct ValueFormat {
    std::optional<std::string> nullText = {};  ///< nullopt: what the form has for NULL
    std::string trueText = {};                 ///< of boolean columns; empty: as sent
    std::string falseText = {};
    DateForm dateForm = DateForm::AsSent;  ///< of the day in dates and timestamps; the time of the day stays
    char decimalSign = '.';
    bool trimsTrailingBlanks = false;
    /// A text that a spreadsheet would take for a formula gets an apostrophe before it; numbers stay.
    bool guardsFormulas = false;

    [[nodiscard]] bool isAsSent() const { return *this == ValueFormat(); }
    friend bool operator==(const ValueFormat&, const ValueFormat&) = default;
};

/// Writes rows with another writer, their values spelled as chosen.
///
/// Threads: one at a time.
class SpelledWriter final : public RowWriter {
public:
    SpelledWriter(ValueFormat valueFormat, std::unique_ptr<RowWriter> writer);

    void begin(const std::vector<data::Column>& columns, std::string& out) override;
    void row(const RowSource& source, std::string& out) override;
    void end(std::string& out) override { writer_->end(out); }

private:
    [[nodiscard]] data::Cell spelled(const data::Cell& cell, data::ColumnType type, std::string& memory) const;
    [[nodiscard]] std::optional<std::string> respelled(std::string_view text, data::ColumnType type) const;

    ValueFormat valueFormat_;
    std::unique_ptr<RowWriter> writer_;
    std::vector<data::ColumnType> types_;
    std::vector<std::string> memory_;  // of the values of one row
    std::vector<data::Cell> cells_;
};

/// The day that a date or timestamp begins with, in another form; nothing when it begins with none. The rest stays.
[[nodiscard]] std::optional<std::string> respelledDay(std::string_view moment, DateForm form);

/// Whether a spreadsheet would calculate it: it begins with = + - @ or a control character, and is no number.
[[nodiscard]] bool looksLikeFormula(std::string_view text);

}  // namespace pantry::exchange
