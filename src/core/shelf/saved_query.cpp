#include "core/shelf/saved_query.h"

#include <optional>

#include "core/base/secret_text.h"
#include "core/base/text.h"

namespace pantry::shelf {
namespace {

constexpr std::string_view kTitle = "title:";
constexpr std::string_view kNote = "note:";
constexpr std::string_view kConnection = "connection:";
constexpr std::string_view kParameter = "parameter:";
constexpr std::string_view kGrid = "grid:";
constexpr std::string_view kNoteIndent = "--       ";  // further lines of a note stand below its first

/// A line of a text with where the next one begins.
struct Line {
    std::string_view text;
    std::size_t next = 0;
};

Line lineAt(std::string_view content, std::size_t at) {
    const std::size_t end = std::min(content.find('\n', at), content.size());
    std::string_view text = content.substr(at, end - at);
    if (text.ends_with('\r')) text.remove_suffix(1);
    return {text, std::min(end + 1, content.size())};
}

/// What stands behind “-- name:”; nothing for other lines.
std::optional<std::string_view> valueOf(std::string_view line, std::string_view name) {
    if (!line.starts_with("-- ")) return std::nullopt;
    line.remove_prefix(3);
    if (!base::startsWithIgnoringCase(line, name)) return std::nullopt;
    return base::trimmed(line.substr(name.size()));
}

bool isNoteLine(std::string_view line) { return line.starts_with(kNoteIndent) || line == "--"; }

/// since date = 2026-01-01
QueryParameter parameterIn(std::string_view text) {
    QueryParameter one;
    if (const std::size_t sign = text.find(" = "); sign != std::string_view::npos) {
        one.value = text.substr(sign + 3);
        one.hasValue = true;
        text = text.substr(0, sign);
    } else if (text.ends_with(" =")) {
        one.hasValue = true;
        text.remove_suffix(2);
    }
    text = base::trimmed(text);
    const std::size_t blank = std::min(text.find(' '), text.size());
    one.name = text.substr(0, blank);
    one.type = base::trimmed(text.substr(blank));
    return one;
}

std::string oneLineOf(std::string_view text) { return base::oneLine(base::trimmed(text), text.size() + 1); }

std::string parameterLine(const QueryParameter& one) {
    std::string line = "-- parameter: " + one.name;
    if (!one.type.empty()) line += ' ' + oneLineOf(one.type);
    const bool isOneLine = one.value.find_first_of("\r\n") == std::string::npos;
    if (one.hasValue && isOneLine && !base::isSecretName(one.name))
        line += one.value.empty() ? " =" : " = " + one.value;
    return line + '\n';
}

/// Reads the lines of a head, one after the other.
class HeadReader {
public:
    /// False for a line with which the head is over.
    bool take(std::string_view line) {
        if (isInNote_ && isNoteLine(line)) {
            head.note += '\n';
            if (line.size() > kNoteIndent.size()) head.note += line.substr(kNoteIndent.size());
            return true;
        }
        isInNote_ = false;
        if (!line.starts_with("-- ")) return false;
        if (const auto note = valueOf(line, kNote); note && head.note.empty()) {
            head.note = *note;
            isInNote_ = true;
        } else if (const auto connection = valueOf(line, kConnection); connection && head.connection.empty()) {
            head.connection = *connection;
        } else if (const auto parameter = valueOf(line, kParameter); parameter && !parameter->empty()) {
            head.parameters.push_back(parameterIn(*parameter));
        } else if (const auto grid = valueOf(line, kGrid); grid && head.grid.empty()) {
            head.grid = *grid;
        } else {
            head.others.emplace_back(line);
        }
        return true;
    }

    QueryHead head;

private:
    bool isInNote_ = false;
};

/// The head and where what follows it begins; 0 without one.
std::size_t readHead(std::string_view content, QueryHead& head) {
    Line line = lineAt(content, 0);
    const auto title = valueOf(line.text, kTitle);
    if (!title || title->empty()) return 0;
    HeadReader reader;
    reader.head.title = *title;
    std::size_t at = line.next;
    while (at < content.size()) {
        line = lineAt(content, at);
        if (!reader.take(line.text)) break;
        at = line.next;
    }
    head = std::move(reader.head);
    if (at < content.size() && lineAt(content, at).text.empty()) at = lineAt(content, at).next;
    return at;
}

}  // namespace

SavedQuery readQuery(std::string_view content) {
    SavedQuery query;
    const std::size_t end = readHead(content, query.head);
    query.hasHead = end > 0;
    query.text = content.substr(end);
    return query;
}

std::size_t headLength(std::string_view content) {
    QueryHead head;
    return readHead(content, head);
}

std::string writeQuery(const SavedQuery& query) {
    if (!query.hasHead) return query.text;
    const QueryHead& head = query.head;
    std::string out = "-- title: " + oneLineOf(head.title) + '\n';
    if (!head.note.empty()) {
        bool isFirst = true;
        for (std::string_view line : base::splitAt(head.note, '\n')) {
            if (line.ends_with('\r')) line.remove_suffix(1);
            if (isFirst) {
                out += "-- note: ";
            } else {
                out += line.empty() ? "--" : kNoteIndent;
            }
            out += isFirst ? base::trimmed(line) : line;
            out += '\n';
            isFirst = false;
        }
    }
    if (!head.connection.empty()) out += "-- connection: " + oneLineOf(head.connection) + '\n';
    for (const QueryParameter& one : head.parameters) out += parameterLine(one);
    if (!head.grid.empty()) out += "-- grid: " + oneLineOf(head.grid) + '\n';
    for (const std::string& line : head.others) out += line + '\n';
    return out + '\n' + query.text;
}

}  // namespace pantry::shelf
