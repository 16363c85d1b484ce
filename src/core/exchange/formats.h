#pragma once

#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/data/view/result_view.h"
#include "core/exchange/value_format.h"
#include "core/exchange/writers/csv_writer.h"
#include "core/exchange/writers/insert_writer.h"
#include "core/exchange/writers/row_writer.h"

namespace pantry::exchange {

/// Forms in which rows leave the program and stream in constant memory.
enum class Format { Csv, Tsv, Workbook, Json, JsonLines, Xml, Html, Markdown, Aligned, Record, Insert };

[[nodiscard]] std::string_view formatWord(Format format);  ///< csv, jsonl, …
[[nodiscard]] std::string_view formatName(Format format);  ///< for people: JSON Lines
[[nodiscard]] std::string_view fileEnding(Format format);  ///< csv, md, …
/// Whether values are written as text, so that a Spelling says how.
[[nodiscard]] bool takesValueFormat(Format format);
/// Whether it may stand in any encoding; the others say themselves which one they are in.
[[nodiscard]] bool takesEncoding(Format format);
/// Whether its bytes are for people and editors too.
[[nodiscard]] bool isText(Format format);
[[nodiscard]] std::optional<Format> formatFromWord(std::string_view word);
[[nodiscard]] std::vector<std::string> formatWords();

/// What the formats can be told; each takes what concerns it.
struct FormatChoices {
    CsvOptions csv;
    InsertOptions insert;
    ValueFormat valueFormat;
    bool isJsonIndented = false;
    bool isInexactText = false;  ///< see WorkbookOptions
    std::string title = "Rows";  ///< of a worksheet or page
};

/// Some rows of a view, by their positions, with some of its columns, in that form.
[[nodiscard]] std::string rowsAs(Format format, const FormatChoices& choices, const data::ResultView& view,
                                 const std::vector<std::size_t>& rows, const std::vector<std::size_t>& columns);

/// The different values of one column in some rows as a list for IN: (1, 2, 3). NULLs are left out.
[[nodiscard]] std::string inListOf(const data::ResultView& view, const std::vector<std::size_t>& rows,
                                   std::size_t column, sql::Dialect dialect);

/// Some rows with some columns as a list of rows for VALUES: VALUES (1, 'a'), (2, 'b').
[[nodiscard]] std::string valuesListOf(const data::ResultView& view, const std::vector<std::size_t>& rows,
                                       const std::vector<std::size_t>& columns, sql::Dialect dialect);

[[nodiscard]] std::unique_ptr<RowWriter> makeWriter(Format format, const FormatChoices& choices);

}  // namespace pantry::exchange
