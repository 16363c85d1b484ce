#include "core/store/ledger_transfer.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <nlohmann/json.hpp>

#include "core/base/file.h"
#include "core/base/output_file.h"
#include "core/base/text.h"
#include "core/base/utf8.h"
#include "core/store/json_file.h"
#include "core/store/ledger_database.h"

namespace pantry::store {
namespace {

using Json = nlohmann::ordered_json;

Json numberOrNull(const std::optional<std::int64_t>& value) { return value ? Json(*value) : Json(nullptr); }

double milliseconds(std::chrono::microseconds duration) { return static_cast<double>(duration.count()) / 1000; }

Json objectOf(const LedgerEntry& e) {
    const auto text = [](const std::string& value) { return base::toValidUtf8(value); };
    return {{"id", e.id},
            {"startedAt", base::isoUtc(e.startedAt)},
            {"microseconds", base::toMicroseconds(e.startedAt)},
            {"connectionId", text(e.start.connectionId)},
            {"connection", text(e.start.connectionName)},
            {"environment", text(e.start.environment)},
            {"engine", text(e.start.engine)},
            {"server", text(e.start.server)},
            {"database", text(e.start.database)},
            {"schema", text(e.start.schema)},
            {"user", text(e.start.user)},
            {"sheet", text(e.start.sheet)},
            {"saved", text(e.start.saved)},
            {"statement", text(e.start.statement)},
            {"parameters", text(e.start.parameters)},
            {"status", std::string(statusWord(e.end.status))},
            {"milliseconds", milliseconds(e.end.duration)},
            {"fetchMilliseconds", milliseconds(e.end.fetching)},
            {"rows", numberOrNull(e.end.rows)},
            {"affected", numberOrNull(e.end.affected)},
            {"partial", e.end.isPartial},
            {"error", text(e.end.error)},
            {"errorCode", text(e.end.errorCode)},
            {"errorPlace", numberOrNull(e.end.errorPlace)},
            {"plan", text(e.end.plan)},
            {"note", text(e.note)},
            {"starred", e.isStarred}};
}

std::optional<std::int64_t> wholeIn(const nlohmann::json& object, const char* name) {
    const auto found = object.find(name);
    if (found == object.end() || !found->is_number()) return std::nullopt;
    return found->get<std::int64_t>();
}

std::chrono::microseconds spanIn(const nlohmann::json& object, const char* name) {
    const double value = memberOr<double>(object, name, 0);
    const bool isSane = value >= 0 && value < 1e12;
    return std::chrono::microseconds(isSane ? static_cast<std::int64_t>(value * 1000) : 0);
}

Error noRun(std::string message) {
    return {.kind = ErrorKind::InvalidInput,
            .message = std::move(message),
            .hint =
                "A run has a statement and a moment: {\"statement\":\"SELECT 1\",\"startedAt\":"
                "\"2026-11-01T08:00:00Z\"}."};
}

/// 2026-11-01T08:00:00Z
std::optional<base::Moment> isoMomentFrom(const std::string& text) {
    std::array<int, 6> parts{};
    constexpr std::array<std::size_t, 6> kStarts{0, 5, 8, 11, 14, 17};
    if (text.size() < 19) return std::nullopt;
    for (std::size_t i = 0; i < parts.size(); ++i) {
        const char* first = text.data() + kStarts[i];
        const char* last = first + (i == 0 ? 4 : 2);
        if (std::from_chars(first, last, parts[i]).ptr != last) return std::nullopt;
    }
    const std::chrono::year_month_day date{std::chrono::year(parts[0]),
                                           std::chrono::month(static_cast<unsigned>(parts[1])),
                                           std::chrono::day(static_cast<unsigned>(parts[2]))};
    if (!date.ok()) return std::nullopt;
    return base::Moment(std::chrono::sys_days(date)) + std::chrono::hours(parts[3]) + std::chrono::minutes(parts[4]) +
           std::chrono::seconds(parts[5]);
}

Result<LedgerEntry> entryOf(const nlohmann::json& object) {
    LedgerEntry e;
    const auto text = [&](const char* name) { return memberOr<std::string>(object, name, ""); };
    e.start = {.connectionId = text("connectionId"),
               .connectionName = text("connection"),
               .environment = text("environment"),
               .engine = text("engine"),
               .server = text("server"),
               .database = text("database"),
               .schema = text("schema"),
               .user = text("user"),
               .statement = text("statement"),
               .sheet = text("sheet"),
               .saved = text("saved"),
               .parameters = text("parameters")};
    if (e.start.statement.empty()) return noRun("This line has no statement.");
    const auto exact = wholeIn(object, "microseconds");
    const auto spoken = isoMomentFrom(text("startedAt"));
    if (!exact && !spoken) return noRun("This line does not say when the statement ran.");
    e.startedAt = exact ? base::fromMicroseconds(*exact) : *spoken;
    e.end.status = statusFrom(text("status"));
    e.end.duration = spanIn(object, "milliseconds");
    e.end.fetching = spanIn(object, "fetchMilliseconds");
    e.end.rows = wholeIn(object, "rows");
    e.end.affected = wholeIn(object, "affected");
    e.end.isPartial = memberOr(object, "partial", false);
    e.end.error = text("error");
    e.end.errorCode = text("errorCode");
    e.end.errorPlace = wholeIn(object, "errorPlace");
    e.end.plan = text("plan");
    e.note = text("note");
    e.isStarred = memberOr(object, "starred", false);
    return e;
}

std::string csvCell(const Json& value) {
    if (value.is_null()) return {};
    std::string text = value.is_string() ? value.get<std::string>() : value.dump();
    const bool needsQuotes = text.find_first_of(",\"\r\n") != std::string::npos;
    if (!needsQuotes) return text;
    std::string quoted = "\"";
    for (const char c : text) quoted += c == '"' ? "\"\"" : std::string(1, c);
    return quoted + "\"";
}

/// The records of CSV as RFC 4180 has it.
class CsvRecords {
public:
    explicit CsvRecords(std::string_view text) : text_(text) {}
    [[nodiscard]] bool atEnd() const { return at_ >= text_.size(); }
    [[nodiscard]] std::size_t line() const { return line_; }

    std::vector<std::string> next() {
        line_ = nextLine_;
        std::vector<std::string> cells(1);
        bool isQuoted = false;
        for (; at_ < text_.size(); ++at_) {
            const char c = text_[at_];
            if (c == '\n') ++nextLine_;
            if (isQuoted) {
                if (c != '"') {
                    cells.back() += c;
                } else if (at_ + 1 < text_.size() && text_[at_ + 1] == '"') {
                    cells.back() += text_[++at_];
                } else {
                    isQuoted = false;
                }
            } else if (c == '"' && cells.back().empty()) {
                isQuoted = true;
            } else if (c == ',') {
                cells.emplace_back();
            } else if (c == '\n') {
                ++at_;
                break;
            } else if (c != '\r') {
                cells.back() += c;
            }
        }
        return cells;
    }

private:
    std::string_view text_;
    std::size_t at_ = 0;
    std::size_t line_ = 1;
    std::size_t nextLine_ = 1;
};

/// A cell as the value that it stands for.
nlohmann::json valueOf(const std::string& name, const std::string& cell) {
    static constexpr std::array<std::string_view, 7> kNumbers{
        "id", "microseconds", "milliseconds", "fetchMilliseconds", "rows", "affected", "errorPlace"};
    if (name == "partial" || name == "starred") return cell == "true";
    if (std::ranges::find(kNumbers, name) == kNumbers.end()) return cell;
    double number = 0;
    const char* end = cell.data() + cell.size();
    if (cell.empty() || std::from_chars(cell.data(), end, number).ptr != end) return nullptr;
    return number == std::floor(number) ? nlohmann::json(static_cast<std::int64_t>(number)) : nlohmann::json(number);
}

Error atLine(Error error, const std::filesystem::path& path, std::size_t line) {
    error.message = fmt::format("{}, line {}: {}", path.string(), line, error.message);
    return error;
}

Result<std::vector<LedgerEntry>> readCsv(const std::string& text, const std::filesystem::path& path) {
    std::vector<LedgerEntry> entries;
    CsvRecords records(text);
    const std::vector<std::string> names = records.next();
    while (!records.atEnd()) {
        const std::vector<std::string> cells = records.next();
        if (cells.size() == 1 && cells[0].empty()) continue;
        nlohmann::json object = nlohmann::json::object();
        for (std::size_t i = 0; i < std::min(names.size(), cells.size()); ++i)
            object[names[i]] = valueOf(names[i], cells[i]);
        auto entry = entryOf(object);
        if (!entry) return atLine(entry.error(), path, records.line());
        entries.push_back(std::move(*entry));
    }
    return entries;
}

}  // namespace

std::string ledgerLine(const LedgerEntry& entry) { return objectOf(entry).dump(); }

Result<LedgerEntry> ledgerEntryFrom(std::string_view line) {
    const auto object = nlohmann::json::parse(line, nullptr, false);
    if (!object.is_object()) return noRun("This line is no JSON object.");
    return entryOf(object);
}

std::string ledgerCsvHeading() {
    std::string heading;
    const Json object = objectOf({});
    for (const auto& [name, value] : object.items()) heading += (heading.empty() ? "" : ",") + name;
    return heading;
}

std::string ledgerCsvLine(const LedgerEntry& entry) {
    std::string line;
    bool isFirst = true;
    const Json object = objectOf(entry);
    for (const auto& [name, value] : object.items()) {
        line += std::exchange(isFirst, false) ? "" : ",";
        line += csvCell(value);
    }
    return line;
}

Result<std::vector<LedgerEntry>> readLedgerFile(const std::filesystem::path& path) {
    auto text = base::readFile(path);
    if (!text) return text.error();
    if (!base::isValidUtf8(*text)) return noRun(fmt::format("{} is not written in UTF-8.", path.string()));
    const std::string_view trimmed = base::trimmed(*text);
    if (!trimmed.starts_with('{')) return readCsv(*text, path);
    std::vector<LedgerEntry> entries;
    std::size_t number = 0;
    for (std::string_view line : base::splitAt(*text, '\n')) {
        ++number;
        line = base::trimmed(line);
        if (line.empty()) continue;
        auto entry = ledgerEntryFrom(line);
        if (!entry) return atLine(entry.error(), path, number);
        entries.push_back(std::move(*entry));
    }
    return entries;
}

Result<std::size_t> writeLedgerFile(const Ledger& ledger, LedgerQuery query, const std::filesystem::path& path) {
    constexpr std::size_t kAtOnce = 2000;
    const bool isCsv = base::toLower(path.extension().string()) == ".csv";
    base::OutputFile file(path);
    if (Status status = file.open(); !status) return status.error();
    std::string text = isCsv ? ledgerCsvHeading() + "\n" : "";
    std::size_t count = 0;
    query.limit = kAtOnce;
    for (;;) {
        const auto entries = ledger.find(query);
        if (!entries) return entries.error();
        for (const LedgerEntry& one : *entries) text += (isCsv ? ledgerCsvLine(one) : ledgerLine(one)) + "\n";
        if (Status status = file.write(text); !status) return status.error();
        text.clear();
        count += entries->size();
        if (entries->size() < kAtOnce) break;
        query.behind = LedgerPlace{entries->back().startedAt, entries->back().id};
    }
    if (Status status = file.finish(); !status) return status.error();
    return count;
}

}  // namespace pantry::store
