#pragma once

#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/data/result_view.h"
#include "core/exchange/csv_writer.h"
#include "core/exchange/insert_writer.h"
#include "core/exchange/row_writer.h"

namespace pantry::exchange {

/// Forms in which rows leave the program and stream in constant memory.
enum class Format { Csv, Tsv, Json, JsonLines, Xml, Html, Markdown, Insert, Record };

[[nodiscard]] std::string_view formatWord(Format format);  ///< csv, jsonl, …
[[nodiscard]] std::string_view formatName(Format format);  ///< for people: JSON Lines
[[nodiscard]] std::string_view fileEnding(Format format);  ///< csv, md, …
[[nodiscard]] std::optional<Format> formatFromWord(std::string_view word);
[[nodiscard]] std::vector<std::string> formatWords();

/// What the formats can be told; each takes what concerns it.
struct FormatChoices {
    CsvOptions csv;
    InsertOptions insert;
    bool isJsonIndented = false;
};

/// Some rows of a view, by their positions, with some of its columns, in that form.
[[nodiscard]] std::string rowsAs(Format format, const FormatChoices& choices, const data::ResultView& view,
                                 const std::vector<std::size_t>& rows, const std::vector<std::size_t>& columns);

/// The different values of one column in some rows as a list for IN: (1, 2, 3). NULLs are left out.
[[nodiscard]] std::string inListOf(const data::ResultView& view, const std::vector<std::size_t>& rows,
                                   std::size_t column, sql::Dialect dialect);

[[nodiscard]] std::unique_ptr<RowWriter> makeWriter(Format format, const FormatChoices& choices);

}  // namespace pantry::exchange
