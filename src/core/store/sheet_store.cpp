#include "core/store/sheet_store.h"

#include <algorithm>

#include "core/base/file.h"
#include "core/base/utf8.h"
#include "core/store/json_file.h"
#include "core/store/kept_history.h"
#include "core/store/process_identity.h"

namespace pantry::store {
namespace {

namespace fs = std::filesystem;
constexpr int kSheetVersion = 1;
constexpr std::size_t kClosedKept = 50;

nlohmann::json toJson(const FileOfSheet& file) {
    return {{"path", base::toValidUtf8(file.path)},
            {"encoding", exchange::encodingWord(file.form.encoding)},
            {"lineEnds", lineEndsWord(file.form.lineEnds)},
            {"modified", file.stamp.modifiedNs},
            {"size", file.stamp.size},
            {"unsaved", file.isUnsaved}};
}

std::optional<FileOfSheet> fileFrom(const nlohmann::json& sheet) {
    const auto found = sheet.find("file");
    if (found == sheet.end() || !found->is_object()) return std::nullopt;
    FileOfSheet file{.path = memberOr<std::string>(*found, "path", "")};
    if (file.path.empty()) return std::nullopt;
    file.form = {
        .encoding = choiceOr<exchange::Encoding, exchange::kEncodings>(*found, "encoding", exchange::encodingWord),
        .lineEnds = choiceOr<LineEnds, kLineEnds>(*found, "lineEnds", lineEndsWord)};
    file.stamp = {.modifiedNs = memberOr<std::int64_t>(*found, "modified", 0),
                  .size = memberOr<std::int64_t>(*found, "size", 0)};
    file.isUnsaved = memberOr(*found, "unsaved", true);
    return file;
}

nlohmann::json toJson(const KeptParameters& parameters) {
    nlohmann::json all = nlohmann::json::object();
    for (const auto& [key, one] : parameters) {
        nlohmann::json before = nlohmann::json::array();
        for (const std::string& text : one.before) before.push_back(base::toValidUtf8(text));
        all[base::toValidUtf8(key)] = {{"typed", base::toValidUtf8(one.given.typed)},
                                       {"null", one.given.isNull},
                                       {"emptyText", one.given.isEmptyText},
                                       {"before", before}};
    }
    return all;
}

KeptParameters parametersFrom(const nlohmann::json& sheet) {
    KeptParameters all;
    const auto found = sheet.find("parameters");
    if (found == sheet.end() || !found->is_object()) return all;
    for (const auto& [key, one] : found->items()) {
        if (!one.is_object()) continue;
        KeptParameter& parameter = all[key];
        parameter.given.typed = memberOr<std::string>(one, "typed", "");
        parameter.given.isNull = memberOr(one, "null", false);
        parameter.given.isEmptyText = memberOr(one, "emptyText", false);
        parameter.before = memberOr<std::vector<std::string>>(one, "before", {});
    }
    return all;
}

SheetState fromJson(const std::string& id, const nlohmann::json& object) {
    const auto text = memberOr<std::string>(object, "text", "");
    return {.id = id,
            .title = memberOr<std::string>(object, "title", ""),
            .connectionId = memberOr<std::string>(object, "connection", ""),
            .database = memberOr<std::string>(object, "database", ""),
            .schema = memberOr<std::string>(object, "schema", ""),
            .text = text,
            .caret = std::min(memberOr<std::size_t>(object, "caret", 0), text.size()),
            .position = memberOr<double>(object, "position", 0),
            .isCurrent = memberOr(object, "current", false),
            .isPinned = memberOr(object, "pinned", false),
            .isBeside = memberOr(object, "beside", false),
            .file = fileFrom(object),
            .parameters = parametersFrom(object),
            .history = historyFrom(object, text)};
}

}  // namespace

fs::path SheetStore::fileOf(const std::string& id) const { return folder_ / (id + ".json"); }

Status SheetStore::save(const SheetState& sheet) const {
    nlohmann::json object{
        {"version", kSheetVersion},   {"title", sheet.title},       {"connection", sheet.connectionId},
        {"database", sheet.database}, {"schema", sheet.schema},     {"text", base::toValidUtf8(sheet.text.str())},
        {"caret", sheet.caret},       {"position", sheet.position}, {"current", sheet.isCurrent},
        {"window", thisProcess()}};
    if (sheet.isPinned) object["pinned"] = true;
    if (sheet.isBeside) object["beside"] = true;
    if (sheet.file) object["file"] = toJson(*sheet.file);
    if (!sheet.parameters.empty()) object["parameters"] = toJson(sheet.parameters);
    addHistory(object, sheet.history);
    return writeJsonFile(fileOf(sheet.id), object);
}

Status SheetStore::remove(const std::string& id) const {
    std::error_code code;
    fs::remove(fileOf(id), code);
    if (code) return base::fileError(code.value(), "remove", fileOf(id));
    return {};
}

std::vector<fs::path> SheetStore::closedFiles() const {
    std::vector<std::pair<fs::file_time_type, fs::path>> found;
    std::error_code code;
    for (const auto& entry : fs::directory_iterator(closedFolder(), code)) {
        if (entry.path().extension() == ".json") found.emplace_back(entry.last_write_time(code), entry.path());
    }
    std::ranges::sort(found, std::greater{});
    std::vector<fs::path> files;
    for (auto& [time, path] : found) files.push_back(std::move(path));
    return files;
}

Status SheetStore::close(const SheetState& sheet) const {
    if (sheet.text.empty()) return remove(sheet.id);
    if (Status status = base::makeFolder(closedFolder()); !status) return status;
    if (Status status = save(sheet); !status) return status;
    std::error_code code;
    const fs::path target = closedFolder() / fileOf(sheet.id).filename();
    fs::rename(fileOf(sheet.id), target, code);
    if (code) return base::fileError(code.value(), "put away", fileOf(sheet.id));
    const std::vector<fs::path> files = closedFiles();
    for (std::size_t i = kClosedKept; i < files.size(); ++i) fs::remove(files[i], code);
    return {};
}

Result<std::optional<SheetState>> SheetStore::reopenLast() const {
    for (const fs::path& file : closedFiles()) {
        const auto document = readJsonFile(file, kSheetVersion);
        if (!document || document->setAside) continue;
        const SheetState sheet = fromJson(file.stem().string(), document->content);
        if (Status status = save(sheet); !status) return status.error();
        std::error_code code;
        fs::remove(file, code);
        return std::optional(sheet);
    }
    return std::optional<SheetState>();
}

Result<std::vector<SheetState>> SheetStore::takeOver() const {
    const FileLock lock(folder_ / "sheets.lock");
    if (!lock.status()) return lock.status().error();
    std::vector<SheetState> sheets;
    std::error_code code;
    for (const auto& entry : fs::directory_iterator(folder_, code)) {
        if (entry.path().extension() != ".json") continue;
        const auto document = readJsonFile(entry.path(), kSheetVersion);
        if (!document || document->setAside) continue;
        const auto& object = document->content;
        const std::string owner = memberOr<std::string>(object, "window", "");
        if (owner != thisProcess() && isRunning(owner)) continue;
        sheets.push_back(fromJson(entry.path().stem().string(), object));
    }
    if (code) return base::fileError(code.value(), "read", folder_);
    std::ranges::stable_sort(sheets, {}, &SheetState::position);
    // Whose they are now is only worth noting where there is room; they are shown in any case.
    for (const SheetState& sheet : sheets) (void)save(sheet);
    return sheets;
}

}  // namespace pantry::store
