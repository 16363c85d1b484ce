#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/data/store/chunk.h"
#include "core/data/store/column.h"

namespace pantry::data {

/// How the values of a column are shown. What is copied and exported stays as it was sent.
enum class CellForm : std::uint8_t {
    AsSent,
    Rounded,     ///< to so many decimals
    Thousands,   ///< with groups of three digits apart
    Percent,     ///< a share of one as a share of a hundred
    Bytes,       ///< a number of bytes as 1.1 MB
    Duration,    ///< a number of seconds as 1:02:05
    Day,         ///< of a moment, the day alone: 2026-11-17
    DayInWords,  ///< 17 November 2026
    Minutes,     ///< a moment without its seconds
    CompactJson,
};

struct CellFormat {
    CellForm form = CellForm::AsSent;
    int decimals = -1;  ///< of numbers; -1: as many as there are
    friend bool operator==(const CellFormat&, const CellFormat&) = default;
};

[[nodiscard]] std::string_view formWord(CellForm form);  ///< in files
[[nodiscard]] std::optional<CellForm> formFromWord(std::string_view word);
/// The forms that make sense for a column, AsSent first.
[[nodiscard]] std::vector<CellForm> formsFor(ColumnType type);

/// The value in that form; nothing when the form cannot be had of it, and for NULL and binary values.
[[nodiscard]] std::optional<std::string> formatted(const Cell& cell, const CellFormat& format);

/// A number as text rounded half away from zero to so many decimals, exactly. Requires: isDecimal(text).
[[nodiscard]] std::string roundedDecimal(std::string_view text, int decimals);

}  // namespace pantry::data
