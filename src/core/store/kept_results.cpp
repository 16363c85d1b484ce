#include "core/store/kept_results.h"

#include <algorithm>
#include <charconv>
#include <utility>

#include "core/base/file.h"
#include "core/store/json_file.h"

namespace pantry::store {
namespace {

namespace fs = std::filesystem;
using nlohmann::json;

constexpr int kResultVersion = 1;
constexpr std::size_t kMostRows = 2000;
constexpr std::uint64_t kMostRowBytes = 1 << 20;
constexpr const char* kExtension = ".result";

// ---- Rows ----

json toJson(const data::Column& column) {
    return {{"name", column.name},           {"typeName", column.typeName}, {"type", static_cast<int>(column.type)},
            {"schema", column.originSchema}, {"table", column.originTable}, {"column", column.originColumn}};
}

json toJson(const data::Cell& cell) {
    switch (cell.kind) {
        case data::CellKind::Null: break;
        case data::CellKind::Integer: return cell.integer;
        case data::CellKind::Real: return cell.real;
        case data::CellKind::Text: return std::string(cell.bytes);
        case data::CellKind::Binary: return json::binary({cell.bytes.begin(), cell.bytes.end()});
    }
    return nullptr;
}

json toJson(const data::ResultSet& result) {
    json columns = json::array();
    for (const data::Column& column : result.columns()) columns.push_back(toJson(column));
    json rows = json::array();
    const std::size_t count = result.rowCount();
    for (std::size_t row = 0; row < count; ++row) {
        json cells = json::array();
        for (std::size_t i = 0; i < result.columns().size(); ++i) cells.push_back(toJson(result.cell(row, i)));
        rows.push_back(std::move(cells));
    }
    return {{"columns", std::move(columns)}, {"rows", std::move(rows)}};
}

data::Column columnFrom(const json& object) {
    const int type = memberOr(object, "type", 0);
    const bool isKnown = type >= 0 && type <= static_cast<int>(data::ColumnType::Binary);
    return {.name = memberOr<std::string>(object, "name", ""),
            .typeName = memberOr<std::string>(object, "typeName", ""),
            .type = isKnown ? static_cast<data::ColumnType>(type) : data::ColumnType::Unknown,
            .originTable = memberOr<std::string>(object, "table", ""),
            .originColumn = memberOr<std::string>(object, "column", ""),
            .originSchema = memberOr<std::string>(object, "schema", "")};
}

void addCell(data::ChunkBuilder& builder, const json& cell) {
    if (cell.is_number_float()) return builder.addReal(cell.get<double>());
    if (const auto number = numberIn<std::int64_t>(cell)) return builder.addInteger(*number);
    if (cell.is_string()) return builder.addText(cell.get_ref<const std::string&>());
    if (!cell.is_binary()) return builder.addNull();
    const json::binary_t& bytes = cell.get_binary();
    builder.addBinary({reinterpret_cast<const char*>(bytes.data()), bytes.size()});
}

/// Null for what is no table.
data::ResultSetPtr rowsFrom(const json& run) {
    const auto result = run.find("result");
    if (result == run.end() || !result->is_object()) return nullptr;
    const auto columns = result->find("columns");
    const auto rows = result->find("rows");
    if (columns == result->end() || rows == result->end() || !rows->is_array()) return nullptr;
    std::vector<data::Column> headings;
    for (const json& column : *columns) headings.push_back(columnFrom(column));
    data::ChunkBuilder builder(headings.size());
    auto set = std::make_shared<data::ResultSet>(headings);
    for (const json& row : *rows) {
        if (!row.is_array() || row.size() != headings.size()) return nullptr;
        for (const json& cell : row) addCell(builder, cell);
        builder.endRow();
        if (builder.isFull()) set->append(builder.take());
    }
    if (builder.rowCount() > 0) set->append(builder.take());
    return set;
}

// ---- Runs ----

json toJson(const Error& error) {
    json object{{"kind", static_cast<int>(error.kind)},
                {"message", error.message},
                {"hint", error.hint},
                {"code", error.code},
                {"detail", error.detail},
                {"constraint", error.constraint}};
    if (error.byteOffset) object["offset"] = *error.byteOffset;
    return object;
}

Error errorFrom(const json& object) {
    Error error{.message = memberOr<std::string>(object, "message", ""),
                .hint = memberOr<std::string>(object, "hint", ""),
                .code = memberOr<std::string>(object, "code", ""),
                .detail = memberOr<std::string>(object, "detail", ""),
                .constraint = memberOr<std::string>(object, "constraint", "")};
    const int kind = memberOr(object, "kind", -1);
    if (kind >= 0 && kind <= static_cast<int>(ErrorKind::Internal)) error.kind = static_cast<ErrorKind>(kind);
    if (const auto at = object.find("offset"); at != object.end()) error.byteOffset = numberIn<std::size_t>(*at);
    return error;
}

json toJson(const KeptRun& run) {
    json object{{"version", kResultVersion},
                {"number", run.number},
                {"title", run.title},
                {"statement", run.statement},
                {"whole", run.whole},
                {"connection", run.connectionId},
                {"database", run.database},
                {"schema", run.schema},
                {"place", run.place},
                {"started", run.startedAt.time_since_epoch().count()},
                {"serverTime", run.serverTime.count()},
                {"totalTime", run.totalTime.count()},
                {"end", static_cast<int>(run.end)},
                {"key", run.generatedKey},
                {"pinned", run.isPinned},
                {"hasResult", run.hasResult},
                {"rowCount", run.rowCount}};
    if (run.affected) object["affected"] = *run.affected;
    if (run.error) object["error"] = toJson(*run.error);
    json values = json::object();
    for (const auto& [name, items] : run.values) {
        json all = json::array();
        for (const auto& item : items) all.push_back(item ? json(*item) : json());
        values[name] = std::move(all);
    }
    object["values"] = std::move(values);
    if (run.rows && isSmallEnough(*run.rows)) object["result"] = toJson(*run.rows);
    return object;
}

KeptRun runFrom(const json& object) {
    KeptRun run{.number = memberOr(object, "number", 0),
                .title = memberOr<std::string>(object, "title", ""),
                .statement = memberOr<std::string>(object, "statement", ""),
                .whole = memberOr<std::string>(object, "whole", ""),
                .connectionId = memberOr<std::string>(object, "connection", ""),
                .database = memberOr<std::string>(object, "database", ""),
                .schema = memberOr<std::string>(object, "schema", ""),
                .place = memberOr<std::string>(object, "place", ""),
                .startedAt = base::Moment(base::Moment::duration(memberOr<std::int64_t>(object, "started", 0))),
                .serverTime = std::chrono::microseconds(memberOr<std::int64_t>(object, "serverTime", 0)),
                .totalTime = std::chrono::microseconds(memberOr<std::int64_t>(object, "totalTime", 0)),
                .generatedKey = memberOr<std::string>(object, "key", ""),
                .isPinned = memberOr(object, "pinned", false),
                .hasResult = memberOr(object, "hasResult", false),
                .rowCount = memberOr<std::size_t>(object, "rowCount", 0)};
    const int end = memberOr(object, "end", 0);
    if (end >= 0 && end < static_cast<int>(kKeptEnds)) run.end = static_cast<KeptEnd>(end);
    if (const auto found = object.find("affected"); found != object.end())
        run.affected = numberIn<std::int64_t>(*found);
    if (const auto found = object.find("error"); found != object.end() && found->is_object())
        run.error = errorFrom(*found);
    if (const auto found = object.find("values"); found != object.end() && found->is_object()) {
        for (const auto& [name, items] : found->items()) {
            auto& all = run.values[name];
            for (const json& item : items)
                all.push_back(item.is_string() ? std::optional(item.get<std::string>()) : std::nullopt);
        }
    }
    run.rows = rowsFrom(object);
    return run;
}

std::optional<KeptRun> readRun(const fs::path& file) {
    const auto content = base::readFile(file);
    if (!content) return std::nullopt;
    const json object = json::from_cbor(*content, true, false);
    if (!object.is_object() || memberOr(object, "version", 0) != kResultVersion) return std::nullopt;
    return runFrom(object);
}

}  // namespace

bool isSmallEnough(const data::ResultSet& rows) {
    return rows.rowCount() <= kMostRows && rows.memoryBytes() + rows.diskBytes() <= kMostRowBytes;
}

fs::path KeptResults::fileOf(const std::string& owner, int number) const {
    return folder_ / owner / (std::to_string(number) + kExtension);
}

Status KeptResults::save(const std::string& owner, const KeptRun& run) const {
    if (Status made = base::makeFolder(folder_ / owner); !made) return made;
    const std::vector<std::uint8_t> bytes = json::to_cbor(toJson(run));
    return base::writeFileAtomically(fileOf(owner, run.number),
                                     {reinterpret_cast<const char*>(bytes.data()), bytes.size()});
}

void KeptResults::remove(const std::string& owner, int number) const {
    std::error_code ignored;
    fs::remove(fileOf(owner, number), ignored);
    fs::remove(folder_ / owner, ignored);  // goes only when it is empty
}

std::vector<KeptRun> KeptResults::load(const std::string& owner) const {
    std::vector<KeptRun> runs;
    std::error_code ignored;
    for (const auto& entry : fs::directory_iterator(folder_ / owner, ignored)) {
        if (entry.path().extension() != kExtension) continue;
        if (auto run = readRun(entry.path())) runs.push_back(std::move(*run));
    }
    std::ranges::sort(runs, {}, &KeptRun::number);
    return runs;
}

void KeptResults::tidy(std::uintmax_t most) const {
    struct Kept {
        fs::file_time_type when;
        std::uintmax_t bytes;
        fs::path file;
    };
    std::vector<Kept> all;
    std::uintmax_t total = 0;
    std::error_code ignored;
    for (fs::recursive_directory_iterator each(folder_, ignored); each != fs::recursive_directory_iterator();
         each.increment(ignored)) {
        if (each->path().extension() != kExtension) continue;
        all.push_back({each->last_write_time(ignored), each->file_size(ignored), each->path()});
        total += all.back().bytes;
    }
    std::ranges::sort(all, {}, &Kept::when);
    for (const Kept& one : all) {
        if (total <= most) return;
        fs::remove(one.file, ignored);
        fs::remove(one.file.parent_path(), ignored);
        total -= one.bytes;
    }
}

}  // namespace pantry::store
