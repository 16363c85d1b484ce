#include "core/exchange/formats.h"

#include <algorithm>
#include <array>
#include <set>

#include "core/exchange/json_text.h"
#include "core/exchange/markup_writers.h"
#include "core/exchange/record_writer.h"
#include "core/exchange/view_row.h"

namespace pantry::exchange {
namespace {

constexpr std::array<std::string_view, 9> kWords{"csv",  "tsv",      "json",   "jsonl", "xml",
                                                 "html", "markdown", "insert", "record"};

constexpr std::array<std::string_view, 9> kNames{"CSV",  "Tab-separated", "JSON",       "JSON Lines", "XML",
                                                 "HTML", "Markdown",      "SQL INSERT", "Records"};
constexpr std::array<std::string_view, 9> kEndings{"csv", "tsv", "json", "jsonl", "xml", "html", "md", "sql", "txt"};

}  // namespace

std::string_view formatName(Format format) { return kNames[static_cast<std::size_t>(format)]; }
std::string_view fileEnding(Format format) { return kEndings[static_cast<std::size_t>(format)]; }

std::string rowsAs(Format format, const FormatChoices& choices, const data::ResultView& view,
                   const std::vector<std::size_t>& rows, const std::vector<std::size_t>& columns) {
    std::vector<data::Column> named;
    for (const std::size_t c : columns) named.push_back(view.result()->columns()[c]);
    const auto writer = makeWriter(format, choices);
    std::string out;
    writer->begin(named, out);
    for (const std::size_t row : rows) writer->row(ViewRow(view, columns, row), out);
    writer->end(out);
    return out;
}

std::string inListOf(const data::ResultView& view, const std::vector<std::size_t>& rows, std::size_t column,
                     sql::Dialect dialect) {
    std::set<std::string> seen;
    std::string out = "(";
    for (const std::size_t row : rows) {
        const data::Cell cell = view.result()->cell(view.rowAt(row), column);
        std::string literal;
        appendLiteral(literal, cell, view.result()->columns()[column].type, dialect);
        if (cell.isNull() || !seen.insert(literal).second) continue;
        if (out.size() > 1) out += ", ";
        out += literal;
    }
    return out + ")";
}

std::string_view formatWord(Format format) { return kWords[static_cast<std::size_t>(format)]; }

std::optional<Format> formatFromWord(std::string_view word) {
    const auto found = std::ranges::find(kWords, word);
    if (found == kWords.end()) return std::nullopt;
    return static_cast<Format>(found - kWords.begin());
}

std::vector<std::string> formatWords() { return {kWords.begin(), kWords.end()}; }

std::unique_ptr<RowWriter> makeWriter(Format format, const FormatChoices& choices) {
    switch (format) {
        case Format::Csv: return std::make_unique<CsvWriter>(choices.csv);
        case Format::Tsv: {
            CsvOptions options = choices.csv;
            options.delimiter = '\t';
            options.lineEnd = "\n";
            return std::make_unique<CsvWriter>(options);
        }
        case Format::Json: return std::make_unique<JsonWriter>(JsonOptions{.isIndented = choices.isJsonIndented});
        case Format::JsonLines: return std::make_unique<JsonWriter>(JsonOptions{.areLines = true});
        case Format::Xml: return std::make_unique<XmlWriter>();
        case Format::Html: return std::make_unique<HtmlWriter>();
        case Format::Markdown: return std::make_unique<MarkdownWriter>();
        case Format::Insert: return std::make_unique<InsertWriter>(choices.insert);
        case Format::Record: return std::make_unique<RecordWriter>();
    }
    return nullptr;
}

}  // namespace pantry::exchange
