#pragma once

#include <filesystem>
#include <map>
#include <set>
#include <string>
#include <vector>

namespace pantry::test {

/// A folder of src with its library, as its CMakeLists.txt describes it.
struct Room {
    std::string library;
    std::filesystem::path folder;    ///< relative to src
    std::set<std::string> uses;      ///< what headers and sources may include
    std::set<std::string> hides;     ///< what sources alone may include
    std::set<std::string> internal;  ///< headers for its own sources alone, relative to the folder
    std::set<std::string> files;     ///< listed sources and headers, relative to the folder
};

/// An #include of a file of ours.
struct Include {
    std::filesystem::path file;  ///< relative to src
    int line = 0;
    std::string target;   ///< what stands between the quotes or brackets
    bool isOurs = false;  ///< between quotes
};

/// All rooms below a source folder, by library.
[[nodiscard]] std::map<std::string, Room> roomsOf(const std::filesystem::path& source);

/// The room whose folder holds a file: the innermost one. Empty when none does.
[[nodiscard]] std::string roomOf(const std::map<std::string, Room>& rooms, const std::filesystem::path& file);

[[nodiscard]] std::vector<Include> includesOf(const std::filesystem::path& source);

}  // namespace pantry::test
