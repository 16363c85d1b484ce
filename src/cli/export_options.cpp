#include "cli/export_options.h"

#include <algorithm>

namespace pantry::cli {
namespace {

/// The choice whose word it is. Requires: one of them has it, which the command line checks.
template <class Choice, std::size_t count, class WordOf>
Choice chosen(const std::string& word, WordOf wordOf) {
    for (std::size_t i = 0; i < count; ++i) {
        if (wordOf(static_cast<Choice>(i)) == word) return static_cast<Choice>(i);
    }
    return Choice{};
}

template <class Choice, std::size_t count, class WordOf>
std::vector<std::string> words(WordOf wordOf) {
    std::vector<std::string> out;
    for (std::size_t i = 0; i < count; ++i) out.emplace_back(wordOf(static_cast<Choice>(i)));
    return out;
}

std::string lineEndOf(const std::string& word) {
    if (word == "lf") return "\n";
    return word == "cr" ? "\r" : "\r\n";
}

/// A delimiter as one types it: \t is a tab.
std::string delimiterOf(const std::string& typed) { return typed == "\\t" || typed == "tab" ? "\t" : typed; }

}  // namespace

void ExportOptions::addTo(CLI::App& command) {
    using exchange::Compression;
    using exchange::DateForm;
    using exchange::Encoding;
    const std::string rows = "How rows are written";
    command.add_option("--columns", columns, "Only these columns, in this order, with commas between them")
        ->delimiter(',')
        ->allow_extra_args(false)
        ->type_name("NAMES")
        ->group(rows);
    command.add_option("--compress", compression, "Compression (none)")
        ->check(CLI::IsMember(words<Compression, exchange::kCompressions>(exchange::compressionWord)))
        ->group(rows);
    command.add_option("--encoding", encoding, "Encoding of text that leaves it open (utf-8)")
        ->check(CLI::IsMember(words<Encoding, exchange::kEncodings>(exchange::encodingWord)))
        ->group(rows);
    command.add_option("--title", title, "Name of the worksheet of xlsx, title of html (Rows)")->group(rows);
    command
        .add_flag("--inexact-as-text", isInexactText,
                  "What a workbook cannot hold exactly as text, instead of rounded to a number")
        ->group(rows);
    command.add_flag("--indent", isIndented, "A line for each member of json")->group(rows);

    const std::string values = "How values are written (csv, tsv, html, markdown, aligned, record)";
    command.add_option("--null", nullText, "Text for NULL")->group(values);
    command.add_option("--true", trueText, "Text for true in boolean columns")->group(values);
    command.add_option("--false", falseText, "Text for false in boolean columns")->group(values);
    command.add_option("--dates", dateForm, "Form of dates (as-sent)")
        ->check(CLI::IsMember(words<DateForm, exchange::kDateForms>(exchange::dateFormWord)))
        ->group(values);
    command.add_option("--decimal-sign", decimalSign, "Between a number's whole and its fraction (.)")
        ->check(CLI::IsMember({".", ","}))
        ->group(values);
    command.add_flag("--trim", trims, "Leave out blanks at the end of texts")->group(values);

    const std::string delimited = "Delimited text (csv, tsv)";
    command.add_flag("--no-headings", hasNoHeadings, "Leave the column names out (xlsx too)")->group(delimited);
    command.add_option("--delimiter", delimiter, "Between values of csv (,)")->group(delimited);
    command.add_option("--quoting", quoting, "What stands in quotes (needed)")
        ->check(CLI::IsMember({"needed", "texts", "all"}))
        ->group(delimited);
    command.add_option("--quote", quote, "Around values (\")")->check(CLI::IsMember({"\"", "'"}))->group(delimited);
    command.add_option("--escape", escape, "A quote within quotes is doubled, or has a backslash before it (double)")
        ->check(CLI::IsMember({"double", "backslash"}))
        ->group(delimited);
    command.add_option("--line-end", lineEnd, "Between rows of csv (crlf)")
        ->check(CLI::IsMember({"crlf", "lf", "cr"}))
        ->group(delimited);
    command
        .add_flag("--guard-formulas", guardsFormulas,
                  "An apostrophe before texts that a spreadsheet would take for a formula")
        ->group(delimited);

    const std::string insert = "Statements (insert)";
    command.add_option("--table", table, "Table that they name (rows)")->type_name("NAME")->group(insert);
    command.add_option("--for", dialect, "Dialect of the statements (the connection's)")
        ->check(CLI::IsMember({"postgres", "mysql", "sqlite", "ansi"}))
        ->group(insert);
    command.add_option("--batch", batchRows, "Rows in one statement (100)")->check(CLI::PositiveNumber)->group(insert);
    command.add_flag("--create-table", hasCreateTable, "Begin with a CREATE TABLE")->group(insert);
}

exchange::ExportChoices ExportOptions::choices() const {
    exchange::ExportChoices choices;
    choices.columnNames = columns;
    choices.encoding = chosen<exchange::Encoding, exchange::kEncodings>(encoding, exchange::encodingWord);
    choices.compression =
        chosen<exchange::Compression, exchange::kCompressions>(compression, exchange::compressionWord);
    choices.forms.csv = {.delimiter = delimiterOf(delimiter),
                         .hasHeadings = !hasNoHeadings,
                         .quoting = chosen<exchange::Quoting, exchange::kQuotings>(quoting, exchange::quotingWord),
                         .quote = quote.front(),
                         .escape = escape == "backslash" ? '\\' : quote.front(),
                         .lineEnd = lineEndOf(lineEnd)};
    choices.forms.valueFormat = {
        .trueText = trueText,
        .falseText = falseText,
        .dateForm = chosen<exchange::DateForm, exchange::kDateForms>(dateForm, exchange::dateFormWord),
        .decimalSign = decimalSign.front(),
        .trimsTrailingBlanks = trims,
        .guardsFormulas = guardsFormulas};
    if (!nullText.empty()) choices.forms.valueFormat.nullText = nullText;
    choices.forms.insert = {.table = table, .batchRows = batchRows, .hasCreateTable = hasCreateTable};
    choices.forms.isJsonIndented = isIndented;
    choices.forms.isInexactText = isInexactText;
    choices.forms.title = title;
    return choices;
}

}  // namespace pantry::cli
