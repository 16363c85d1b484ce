#include "core/exchange/json_text.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/text.h"
#include "core/base/utf8.h"

namespace pantry::exchange {
namespace {

void appendCell(std::string& out, const data::Cell& cell) {
    switch (cell.kind) {
        case data::CellKind::Null: out += "null"; return;
        case data::CellKind::Integer: data::appendText(out, cell); return;
        case data::CellKind::Real:
            if (std::isfinite(cell.real)) {
                data::appendText(out, cell);
            } else {
                appendJsonString(out, data::toText(cell));
            }
            return;
        case data::CellKind::Text: appendJsonString(out, cell.bytes); return;
        case data::CellKind::Binary: {
            std::string hex = "\\x";
            for (const char c : cell.bytes) hex += fmt::format("{:02x}", static_cast<unsigned char>(c));
            appendJsonString(out, hex);
            return;
        }
    }
}

}  // namespace

void appendJsonString(std::string& out, std::string_view text) {
    out += '"';
    for (std::size_t i = 0; i < text.size();) {
        const base::CodePoint point = base::decodeAt(text, i);
        i += point.length;
        switch (point.value) {
            case '"': out += "\\\""; break;
            case '\\': out += "\\\\"; break;
            case '\n': out += "\\n"; break;
            case '\r': out += "\\r"; break;
            case '\t': out += "\\t"; break;
            default:
                if (point.value < 0x20) {
                    out += fmt::format("\\u{:04x}", point.value);
                } else {
                    base::appendUtf8(out, point.value);
                }
        }
    }
    out += '"';
}

std::string indentedJson(std::string_view text) {
    constexpr std::size_t kStep = 2;
    std::string out;
    std::size_t depth = 0;
    const auto newLine = [&] { out.append(1, '\n').append(depth * kStep, ' '); };
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (base::isAsciiBlank(c)) continue;
        if (c == '"') {
            const std::size_t start = i++;
            while (i < text.size() && text[i] != '"') i += text[i] == '\\' ? 2 : 1;
            out += text.substr(start, i + 1 - start);
        } else if (c == '{' || c == '[') {
            const std::size_t next = std::min(text.find_first_not_of(" \t\r\n", i + 1), text.size() - 1);
            out += c;
            if (text[next] == '}' || text[next] == ']') {  // nothing in it
                out += text[next];
                i = next;
                continue;
            }
            ++depth;
            newLine();
        } else if (c == '}' || c == ']') {
            depth -= depth > 0 ? 1 : 0;
            newLine();
            out += c;
        } else if (c == ',') {
            out += c;
            newLine();
        } else if (c == ':') {
            out += ": ";
        } else {
            out += c;
        }
    }
    return out;
}

std::string jsonString(std::string_view text) {
    std::string out;
    appendJsonString(out, text);
    return out;
}

/// Two columns of the same name would be one member: later ones get a number.
void JsonWriter::begin(const std::vector<data::Column>& columns, std::string& out) {
    for (const data::Column& column : columns) {
        std::string name = column.name;
        for (int n = 2; std::ranges::find(names_, name) != names_.end(); ++n)
            name = fmt::format("{}_{}", column.name, n);
        names_.push_back(std::move(name));
    }
    out += "[";
}

void JsonWriter::row(const RowSource& source, std::string& out) {
    out += isFirst_ ? "\n{" : ",\n{";
    isFirst_ = false;
    for (std::size_t i = 0; i < source.columnCount(); ++i) {
        if (i > 0) out += ", ";
        appendJsonString(out, i < names_.size() ? names_[i] : "");
        out += ": ";
        appendCell(out, source.cell(i));
    }
    out += "}";
}

void JsonWriter::end(std::string& out) { out += isFirst_ ? "]\n" : "\n]\n"; }

}  // namespace pantry::exchange
