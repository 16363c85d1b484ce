#include "core/workspace/json_file.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/file.h>
#include <unistd.h>

#include "core/base/file.h"
#include "core/base/time.h"
#include "core/base/utf8.h"

namespace pantry::workspace {
namespace {

namespace fs = std::filesystem;

/// Renames a file that cannot be understood, so that somebody can mend it by hand.
Result<JsonDocument> setAside(const fs::path& path, const std::string& why) {
    std::string stamp = base::isoUtc(base::now());
    std::erase_if(stamp, [](char c) { return c == ':' || c == '-'; });
    fs::path kept = path.string() + ".broken-" + stamp;
    std::error_code code;
    for (int n = 2; fs::exists(kept, code); ++n) kept = fmt::format("{}.broken-{}-{}", path.string(), stamp, n);
    fs::rename(path, kept, code);
    if (code) {
        return Error{.kind = ErrorKind::Damaged,
                     .message = fmt::format("{} cannot be understood: {}.", path.string(), why),
                     .hint = "Mend or move the file by hand."};
    }
    return JsonDocument{nlohmann::json::object(),
                        Error{.kind = ErrorKind::Damaged,
                              .message = fmt::format("{} could not be understood ({}).", path.filename().string(), why),
                              .hint = fmt::format("It was kept as {}.", kept.string())}};
}

std::string placeIn(const std::string& text, std::size_t byte) {
    const base::LinePosition place = base::linePositionAt(text, byte > 0 ? byte - 1 : 0);
    return fmt::format("line {}, column {}", place.line, place.column);
}

}  // namespace

Result<JsonDocument> readJsonFile(const fs::path& path, int version) {
    auto text = base::readFile(path);
    if (!text && text.error().kind == ErrorKind::NotFound) return JsonDocument{nlohmann::json::object(), std::nullopt};
    if (!text) return text.error();
    nlohmann::json content;
    try {
        content = nlohmann::json::parse(*text);
    } catch (const nlohmann::json::parse_error& e) {
        return setAside(path, "no JSON at " + placeIn(*text, e.byte));
    }
    if (!content.is_object()) return setAside(path, "no JSON object");
    if (memberOr(content, "version", version) > version) {
        return Error{.kind = ErrorKind::TooNew,
                     .message = fmt::format("{} was written by a newer version of Agile Pantry.", path.string()),
                     .hint = "Use that version, or another home folder. The file was not changed."};
    }
    return JsonDocument{std::move(content), std::nullopt};
}

Status writeJsonFile(const fs::path& path, const nlohmann::json& content) {
    try {
        return base::writeFileAtomically(path, content.dump(2) + "\n");
    } catch (const nlohmann::json::exception& e) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = fmt::format("{} cannot be written: {}.", path.string(), e.what())};
    }
}

FileLock::FileLock(const fs::path& path) : descriptor_(::open(path.c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0600)) {
    if (descriptor_ >= 0) ::flock(descriptor_, LOCK_EX);
}

FileLock::~FileLock() {
    if (descriptor_ >= 0) ::close(descriptor_);
}

std::vector<std::string> textsIn(const nlohmann::json& object, const char* name) {
    std::vector<std::string> out;
    const auto found = object.find(name);
    if (found == object.end() || !found->is_array()) return out;
    for (const nlohmann::json& text : *found) {
        if (text.is_string()) out.push_back(text);
    }
    return out;
}

}  // namespace pantry::workspace
