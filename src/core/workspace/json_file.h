#pragma once

#include <filesystem>
#include <nlohmann/json.hpp>
#include <optional>

#include "core/base/result.h"

// Only for .cpp files of this folder: this header shows the JSON library.

namespace pantry::workspace {

/// What a JSON file of ours held.
struct JsonDocument {
    nlohmann::json content;         ///< an object; empty when there was no file
    std::optional<Error> setAside;  ///< the file could not be understood and was renamed: where to, and why
};

/// Reads a JSON file that holds an object. One that cannot be understood is renamed, never overwritten. Errors: what
/// reading can fail with; TooNew when its "version" is above `version`.
Result<JsonDocument> readJsonFile(const std::filesystem::path& path, int version);

/// Indented, so that people can read and compare it.
Status writeJsonFile(const std::filesystem::path& path, const nlohmann::json& content);

/// A member as a string, or `fallback` when it is missing or of another type; the same for other types.
template <class T>
T memberOr(const nlohmann::json& object, const char* name, T fallback) {
    const auto found = object.find(name);
    if (found == object.end()) return fallback;
    try {
        return found->get<T>();
    } catch (const nlohmann::json::exception&) {
        return fallback;
    }
}

/// Only one process at a time holds the lock of a file; others wait. Released at the end.
class FileLock {
public:
    explicit FileLock(const std::filesystem::path& path);
    ~FileLock();
    FileLock(const FileLock&) = delete;
    FileLock& operator=(const FileLock&) = delete;

private:
    int descriptor_;
};

/// The texts of an array; what is no text is left out, and no array is an empty one.
[[nodiscard]] std::vector<std::string> textsIn(const nlohmann::json& object, const char* name);

}  // namespace pantry::workspace
