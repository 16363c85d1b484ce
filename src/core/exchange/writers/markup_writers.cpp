#include "core/exchange/writers/markup_writers.h"

#include <fmt/format.h>

#include "core/base/hex.h"
#include "core/base/text.h"
#include "core/base/utf8.h"
#include "core/exchange/cell_text.h"
#include "core/exchange/escaped_text.h"

namespace pantry::exchange {
namespace {

constexpr std::uint32_t kReplacement = 0xFFFD;

bool isXmlCharacter(std::uint32_t c) {
    return c == '\t' || c == '\n' || c == '\r' || (c >= 0x20 && c < 0xD800) ||
           (c > 0xDFFF && c != 0xFFFE && c != 0xFFFF);
}

/// Whether a text is made of characters that XML has.
bool isXmlText(std::string_view text) {
    for (std::size_t i = 0; i < text.size();) {
        const base::CodePoint point = base::decodeAt(text, i);
        if (!point.valid || !isXmlCharacter(point.value)) return false;
        i += point.length;
    }
    return true;
}

void appendMarkdown(std::string& out, std::string_view text) {
    for (std::size_t i = 0; i < text.size(); ++i) {
        switch (text[i]) {
            case '|': out += "\\|"; break;
            case '\\': out += "\\\\"; break;
            case '<': out += "&lt;"; break;
            case '\n': out += "<br>"; break;
            case '\r': break;
            default: out += text[i];
        }
    }
}

}  // namespace

void appendMarkup(std::string& out, std::string_view text) {
    const auto isPlain = [](char c) { return c >= 0x20 && c != '<' && c != '>' && c != '&' && c != '"' && c != 0x7F; };
    appendEscaped(out, text, isPlain, [&out](std::uint32_t character) {
        switch (character) {
            case '<': out += "&lt;"; break;
            case '>': out += "&gt;"; break;
            case '&': out += "&amp;"; break;
            case '"': out += "&quot;"; break;
            case '\r': out += "&#13;"; break;  // a reader would make a line feed of it
            default: base::appendUtf8(out, isXmlCharacter(character) ? character : kReplacement);
        }
    });
}

void XmlWriter::begin(const std::vector<data::Column>& columns, std::string& out) {
    for (const data::Column& column : columns) {
        std::string opening = "<value column=\"";
        appendMarkup(opening, column.name);
        openings_.push_back(opening + "\"");
    }
    out += "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<rows>\n";
}

void XmlWriter::note(std::size_t column) {
    if (unlike_++ == 0) first_ = fmt::format("row {}, column {}", rows_ + 1, column + 1);
}

std::string XmlWriter::remark() const {
    if (unlike_ == 0) return {};
    return fmt::format(
        "{} characters that XML does not have, and {} written as hexadecimal digits: first in {}.",
        unlike_ == 1 ? "One text has" : base::counted(static_cast<std::int64_t>(unlike_), "text has", "texts have"),
        unlike_ == 1 ? "is" : "are", first_);
}

void XmlWriter::row(const RowSource& source, std::string& out) {
    out += "  <row>\n";
    for (std::size_t i = 0; i < source.columnCount(); ++i) {
        const data::Cell cell = source.cell(i);
        out += "    ";
        out += openings_[i];
        if (cell.isNull()) {
            out += " null=\"true\"/>\n";
            continue;
        }
        const std::string text = cellText(cell);
        if (cell.kind == data::CellKind::Binary) {
            out += " encoding=\"hex\">" + text.substr(2);
        } else if (isXmlText(text)) {
            out += ">";
            appendMarkup(out, text);
        } else {  // nothing of it is lost
            note(i);
            out += " encoding=\"hex\" of=\"text\">";
            base::appendHexDigits(out, text);
        }
        out += "</value>\n";
    }
    out += "  </row>\n";
    ++rows_;
}

void XmlWriter::end(std::string& out) { out += "</rows>\n"; }

void HtmlWriter::begin(const std::vector<data::Column>& columns, std::string& out) {
    out += "<!DOCTYPE html>\n<html>\n<head>\n<meta charset=\"utf-8\">\n<title>";
    appendMarkup(out, title_);
    out +=
        "</title>\n<style>\n"
        "table { border-collapse: collapse; font-family: sans-serif; }\n"
        "th, td { border: 1px solid #ccc; padding: 3px 8px; text-align: left; vertical-align: top; }\n"
        "td.number { text-align: right; font-variant-numeric: tabular-nums; }\n"
        "td.null { color: #777; font-style: italic; }\n</style>\n</head>\n<body>\n<table>\n<thead><tr>";
    for (const data::Column& column : columns) {
        areNumbers_.push_back(data::isNumeric(column.type));
        out += "<th>";
        appendMarkup(out, column.name);
        out += "</th>";
    }
    out += "</tr></thead>\n<tbody>\n";
}

void HtmlWriter::row(const RowSource& source, std::string& out) {
    out += "<tr>";
    for (std::size_t i = 0; i < source.columnCount(); ++i) {
        const data::Cell cell = source.cell(i);
        if (cell.isNull()) {
            out += "<td class=\"null\">null</td>";
            continue;
        }
        const bool isNumber =
            cell.kind == data::CellKind::Integer || cell.kind == data::CellKind::Real || areNumbers_[i];
        out += isNumber ? "<td class=\"number\">" : "<td>";
        appendMarkup(out, cellText(cell));
        out += "</td>";
    }
    out += "</tr>\n";
}

void HtmlWriter::end(std::string& out) { out += "</tbody>\n</table>\n</body>\n</html>\n"; }

void MarkdownWriter::begin(const std::vector<data::Column>& columns, std::string& out) {
    std::string rule = "|";
    out += "|";
    for (const data::Column& column : columns) {
        out += " ";
        appendMarkdown(out, column.name);
        out += " |";
        rule += data::isNumeric(column.type) ? " ---: |" : " --- |";
    }
    out += "\n" + rule + "\n";
}

void MarkdownWriter::row(const RowSource& source, std::string& out) {
    out += "|";
    for (std::size_t i = 0; i < source.columnCount(); ++i) {
        const data::Cell cell = source.cell(i);
        out += " ";
        if (cell.isNull()) {
            out += "*null*";
        } else {
            appendMarkdown(out, cellText(cell));
        }
        out += " |";
    }
    out += "\n";
}

void MarkdownWriter::end(std::string& /*out*/) {}

}  // namespace pantry::exchange
