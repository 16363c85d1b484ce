#pragma once

#include <filesystem>
#include <nlohmann/json.hpp>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <type_traits>
#include <utility>

#include "core/base/result.h"

// Only for .cpp files of this folder: this header shows the JSON library.

namespace pantry::store {

/// What a JSON file of ours held.
struct JsonDocument {
    nlohmann::json content;         ///< an object; empty when there was no file
    std::optional<Error> setAside;  ///< the file could not be understood and was renamed: where to, and why
};

/// A text as JSON. Errors: InvalidInput with the place, for what is no JSON, for numbers beyond all ranges and for
/// values nested too deeply.
Result<nlohmann::json> parseJson(std::string_view text);

/// Reads a JSON file that holds an object. One that cannot be understood is renamed, never overwritten. Errors: what
/// reading can fail with; TooNew when its "version" is above `version`.
Result<JsonDocument> readJsonFile(const std::filesystem::path& path, int version);

/// Indented, so that people can read and compare it.
Status writeJsonFile(const std::filesystem::path& path, const nlohmann::json& content);

/// Changes members of a JSON file: those of `wanted` that differ from `before`, or that the file does not have. What
/// else is in it stays, but for members that are named as `gone`. Other processes wait meanwhile. Errors: as of reading
/// and writing.
Status changeJsonMembers(const std::filesystem::path& path, int version, const nlohmann::json& before,
                         const nlohmann::json& wanted, std::span<const char* const> gone = {});

/// A value as a whole number of that type; nothing when it is none or does not fit.
template <class T>
std::optional<T> numberIn(const nlohmann::json& value) {
    if (value.is_number_unsigned()) {
        const auto number = value.get<std::uint64_t>();
        return std::in_range<T>(number) ? std::optional<T>(static_cast<T>(number)) : std::nullopt;
    }
    if (!value.is_number_integer()) return std::nullopt;
    const auto number = value.get<std::int64_t>();
    return std::in_range<T>(number) ? std::optional<T>(static_cast<T>(number)) : std::nullopt;
}

/// A member as a string, or `fallback` when it is missing, of another type or beyond the type's range; the same for
/// other types.
template <class T>
T memberOr(const nlohmann::json& object, const char* name, T fallback) {
    const auto found = object.find(name);
    if (found == object.end()) return fallback;
    if constexpr (std::is_integral_v<T> && !std::is_same_v<T, bool>) {
        return numberIn<T>(*found).value_or(fallback);
    } else {
        try {
            return found->get<T>();
        } catch (const nlohmann::json::exception&) {
            return fallback;
        }
    }
}

/// A member that is an object; one of another kind is replaced, so that something can be put into it.
nlohmann::json& objectIn(nlohmann::json& content, const std::string& name);

/// Only one process at a time holds the lock of a file; others wait, for two seconds at most. Released at the end.
class FileLock {
public:
    explicit FileLock(const std::filesystem::path& path);
    /// Errors: Busy when somebody else kept it all the time, and those of the file system.
    [[nodiscard]] const Status& status() const { return status_; }
    ~FileLock();
    FileLock(const FileLock&) = delete;
    FileLock& operator=(const FileLock&) = delete;

private:
    int descriptor_;
    Status status_;
};

/// The texts of an array; what is no text is left out, and no array is an empty one.
[[nodiscard]] std::vector<std::string> textsIn(const nlohmann::json& object, const char* name);

/// A member that is one of a list's words; the first of them when it is missing or something else.
template <class Choice, std::size_t count, class WordOf>
Choice choiceOr(const nlohmann::json& object, const char* name, WordOf wordOf) {
    const auto word = memberOr<std::string>(object, name, "");
    for (std::size_t i = 0; i < count; ++i) {
        if (wordOf(static_cast<Choice>(i)) == word) return static_cast<Choice>(i);
    }
    return Choice{};
}

}  // namespace pantry::store
