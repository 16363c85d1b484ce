#include "core/exchange/json_text.h"

#include <fmt/format.h>

#include <algorithm>
#include <nlohmann/json.hpp>

#include "core/base/text.h"
#include "core/base/utf8.h"
#include "core/data/view/typed_text.h"
#include "core/exchange/cell_text.h"
#include "core/exchange/escaped_text.h"

namespace pantry::exchange {

bool isJsonNumber(std::string_view text) {
    const auto digits = [&text] {
        const std::size_t length = std::min(text.find_first_not_of("0123456789"), text.size());
        text.remove_prefix(length);
        return length;
    };
    if (text.starts_with('-')) text.remove_prefix(1);
    const bool beginsWithZero = text.starts_with('0');
    const std::size_t whole = digits();
    if (whole == 0 || (beginsWithZero && whole > 1)) return false;
    if (text.starts_with('.')) {
        text.remove_prefix(1);
        if (digits() == 0) return false;
    }
    if (text.starts_with('e') || text.starts_with('E')) {
        text.remove_prefix(1);
        if (text.starts_with('+') || text.starts_with('-')) text.remove_prefix(1);
        if (digits() == 0) return false;
    }
    return text.empty();
}

bool appendJsonString(std::string& out, std::string_view text) {
    bool mayBeReplaced = false;
    const auto isPlain = [](char c) { return c >= 0x20 && c != '"' && c != '\\'; };
    out += '"';
    appendEscaped(out, text, isPlain, [&](std::uint32_t character) {
        switch (character) {
            case '"': out += "\\\""; break;
            case '\\': out += "\\\\"; break;
            case '\n': out += "\\n"; break;
            case '\r': out += "\\r"; break;
            case '\t': out += "\\t"; break;
            default:
                mayBeReplaced = mayBeReplaced || character == 0xFFFD;
                if (character < 0x20) {
                    out += fmt::format("\\u{:04x}", character);
                } else {
                    base::appendUtf8(out, character);
                }
        }
    });
    out += '"';
    return !mayBeReplaced || base::isValidUtf8(text);
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

std::string textOfJsonString(std::string_view json) {
    const auto read = nlohmann::json::parse(json, nullptr, false);
    return read.is_string() ? read.get<std::string>() : std::string();
}

JsonWriter::JsonWriter(JsonOptions options) : options_(options) {}

/// Two columns of the same name would be one member: later ones get a number.
void JsonWriter::begin(const std::vector<data::Column>& columns, std::string& out) {
    for (const data::Column& column : columns) {
        std::string name = column.name;
        for (int n = 2; std::ranges::find(names_, jsonString(name)) != names_.end(); ++n)
            name = fmt::format("{}_{}", column.name, n);
        names_.push_back(jsonString(name));
        types_.push_back(column.type);
    }
    if (!options_.areLines) out += "[";
}

void JsonWriter::append(std::string& out, const data::Cell& cell, data::ColumnType type) {
    switch (cell.kind) {
        case data::CellKind::Null: out += "null"; return;
        case data::CellKind::Integer: data::appendText(out, cell); return;
        case data::CellKind::Real: {
            const std::string text = data::toText(cell);
            if (isJsonNumber(text)) {
                out += text;
            } else {
                appendJsonString(out, text);
            }
            return;
        }
        case data::CellKind::Text: {
            const bool isNumber = data::isNumeric(type) && isJsonNumber(cell.bytes);
            if (const auto truth = type == data::ColumnType::Boolean ? data::booleanIn(cell.bytes) : std::nullopt) {
                out += *truth ? "true" : "false";
                return;
            }
            const bool isNested = type == data::ColumnType::Json && nlohmann::json::accept(cell.bytes);
            if (isNumber || isNested) {
                out += cell.bytes;
            } else if (!appendJsonString(out, cell.bytes)) {
                ++changed_;
            }
            return;
        }
        case data::CellKind::Binary: appendJsonString(out, cellText(cell)); return;
    }
}

std::string JsonWriter::remark() const {
    if (changed_ == 0) return {};
    return fmt::format(
        "{} not text in UTF-8: what could not be read became U+FFFD.",
        changed_ == 1 ? "One value is" : base::counted(static_cast<std::int64_t>(changed_), "value is", "values are"));
}

void JsonWriter::row(const RowSource& source, std::string& out) {
    const std::string_view before = options_.areLines ? "" : isFirst_ ? "\n" : ",\n";
    const std::string_view between = options_.isIndented ? ",\n    " : ", ";
    out += before;
    isFirst_ = false;
    out += options_.isIndented ? "  {\n    " : "{";
    for (std::size_t i = 0; i < source.columnCount(); ++i) {
        if (i > 0) out += between;
        out += names_[i];
        out += ": ";
        append(out, source.cell(i), types_[i]);
    }
    out += options_.isIndented ? "\n  }" : "}";
    if (options_.areLines) out += "\n";
}

void JsonWriter::end(std::string& out) {
    if (!options_.areLines) out += isFirst_ ? "]\n" : "\n]\n";
}

}  // namespace pantry::exchange
