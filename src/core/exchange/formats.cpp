#include "core/exchange/formats.h"

#include <algorithm>
#include <array>
#include <set>

#include "core/exchange/json_text.h"
#include "core/exchange/view_row.h"
#include "core/exchange/writers/aligned_writer.h"
#include "core/exchange/writers/markup_writers.h"
#include "core/exchange/writers/record_writer.h"
#include "core/exchange/writers/workbook_writer.h"
#include "core/sql/write/literals.h"

namespace pantry::exchange {
namespace {

struct FormatWords {
    std::string_view word;
    std::string_view name;
    std::string_view ending;
};
constexpr auto kFormats = std::to_array<FormatWords>({{"csv", "CSV", "csv"},
                                                      {"tsv", "Tab-separated", "tsv"},
                                                      {"xlsx", "Excel workbook", "xlsx"},
                                                      {"json", "JSON", "json"},
                                                      {"jsonl", "JSON Lines", "jsonl"},
                                                      {"xml", "XML", "xml"},
                                                      {"html", "HTML page", "html"},
                                                      {"markdown", "Markdown", "md"},
                                                      {"aligned", "Aligned text", "txt"},
                                                      {"record", "Records", "txt"},
                                                      {"insert", "SQL INSERT", "sql"}});

const FormatWords& wordsOf(Format format) { return kFormats[static_cast<std::size_t>(format)]; }

}  // namespace

std::string_view formatWord(Format format) { return wordsOf(format).word; }
std::string_view formatName(Format format) { return wordsOf(format).name; }
std::string_view fileEnding(Format format) { return wordsOf(format).ending; }

bool isText(Format format) { return format != Format::Workbook; }

bool takesValueFormat(Format format) {
    switch (format) {
        case Format::Csv:
        case Format::Tsv:
        case Format::Html:
        case Format::Markdown:
        case Format::Aligned:
        case Format::Record: return true;
        default: return false;
    }
}

bool takesEncoding(Format format) {
    return (takesValueFormat(format) || format == Format::Insert) && format != Format::Html;
}

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
        sql::appendLiteral(literal, cell, view.result()->columns()[column], dialect);
        if (cell.isNull() || !seen.insert(literal).second) continue;
        if (out.size() > 1) out += ", ";
        out += literal;
    }
    return out + ")";
}

std::string valuesListOf(const data::ResultView& view, const std::vector<std::size_t>& rows,
                         const std::vector<std::size_t>& columns, sql::Dialect dialect) {
    std::string out = "VALUES ";
    for (std::size_t i = 0; i < rows.size(); ++i) {
        out += i == 0 ? "(" : ",\n       (";
        for (std::size_t c = 0; c < columns.size(); ++c) {
            if (c > 0) out += ", ";
            sql::appendLiteral(out, view.result()->cell(view.rowAt(rows[i]), columns[c]),
                               view.result()->columns()[columns[c]], dialect);
        }
        out += ")";
    }
    return out;
}

std::optional<Format> formatFromWord(std::string_view word) {
    const auto found = std::ranges::find(kFormats, word, &FormatWords::word);
    if (found == kFormats.end()) return std::nullopt;
    return static_cast<Format>(found - kFormats.begin());
}

std::vector<std::string> formatWords() {
    std::vector<std::string> words;
    for (const FormatWords& format : kFormats) words.emplace_back(format.word);
    return words;
}

namespace {

std::unique_ptr<RowWriter> plainWriter(Format format, const FormatChoices& choices) {
    switch (format) {
        case Format::Csv:
        case Format::Tsv: {
            CsvOptions options = choices.csv;
            if (format == Format::Tsv) {
                options.delimiter = "\t";
                options.lineEnd = "\n";
            }
            options.nullText = choices.valueFormat.nullText.value_or(options.nullText);
            return std::make_unique<CsvWriter>(options);
        }
        case Format::Workbook:
            return std::make_unique<WorkbookWriter>(
                choices.title,
                WorkbookOptions{.hasHeadings = choices.csv.hasHeadings, .isInexactText = choices.isInexactText});
        case Format::Json: return std::make_unique<JsonWriter>(JsonOptions{.isIndented = choices.isJsonIndented});
        case Format::JsonLines: return std::make_unique<JsonWriter>(JsonOptions{.areLines = true});
        case Format::Xml: return std::make_unique<XmlWriter>();
        case Format::Html: return std::make_unique<HtmlWriter>(choices.title);
        case Format::Markdown: return std::make_unique<MarkdownWriter>();
        case Format::Aligned: return std::make_unique<AlignedWriter>();
        case Format::Record: return std::make_unique<RecordWriter>();
        case Format::Insert: return std::make_unique<InsertWriter>(choices.insert);
    }
    return nullptr;
}

/// What is left to spell: delimited text writes NULL itself, and only it guards against formulas.
ValueFormat valueFormatFor(Format format, ValueFormat valueFormat) {
    const bool isDelimited = format == Format::Csv || format == Format::Tsv;
    if (isDelimited) valueFormat.nullText.reset();
    if (!isDelimited) valueFormat.guardsFormulas = false;
    return valueFormat;
}

}  // namespace

std::unique_ptr<RowWriter> makeWriter(Format format, const FormatChoices& choices) {
    auto writer = plainWriter(format, choices);
    const ValueFormat valueFormat = valueFormatFor(format, choices.valueFormat);
    if (!takesValueFormat(format) || valueFormat.isAsSent()) return writer;
    return std::make_unique<SpelledWriter>(valueFormat, std::move(writer));
}

}  // namespace pantry::exchange
