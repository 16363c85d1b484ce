#include "architecture/rooms.h"

#include <algorithm>
#include <fstream>
#include <regex>
#include <sstream>

namespace pantry::test {
namespace fs = std::filesystem;
namespace {

std::string contentOf(const fs::path& path) {
    std::ifstream in(path);
    std::stringstream out;
    out << in.rdbuf();
    return out.str();
}

/// The words of a call of pantry_library or pantry_window_library, up to its closing parenthesis.
void readCall(const std::string& words, const fs::path& folder, std::map<std::string, Room>& rooms) {
    std::istringstream in(words);
    Room room;
    room.folder = folder;
    in >> room.library;
    std::string part;
    for (std::string word; in >> word;) {
        if (word == "SOURCES" || word == "HEADERS" || word == "INTERNAL" || word == "USES" || word == "HIDES" ||
            word == "KEYWORDS" || word == "QUIET") {
            part = word;
        } else if (part == "USES") {
            room.uses.insert(word);
        } else if (part == "HIDES") {
            room.hides.insert(word);
        } else {
            room.files.insert(word);
            if (part == "INTERNAL") room.internal.insert(word);
        }
    }
    rooms.emplace(room.library, std::move(room));
}

}  // namespace

std::map<std::string, Room> roomsOf(const fs::path& source) {
    static const std::regex call(R"(pantry_(?:window_)?library\(([^)]*)\))");
    std::map<std::string, Room> rooms;
    for (const fs::directory_entry& entry : fs::recursive_directory_iterator(source)) {
        if (entry.path().filename() != "CMakeLists.txt") continue;
        const std::string text = contentOf(entry.path());
        const fs::path folder = fs::relative(entry.path().parent_path(), source);
        for (std::sregex_iterator it(text.begin(), text.end(), call), end; it != end; ++it) {
            readCall((*it)[1].str(), folder, rooms);
        }
    }
    return rooms;
}

std::string roomOf(const std::map<std::string, Room>& rooms, const fs::path& file) {
    std::string best;
    std::size_t longest = 0;
    for (const auto& [name, room] : rooms) {
        const std::string folder = room.folder.string() + "/";
        if (!file.string().starts_with(folder) || folder.size() < longest) continue;
        // Two libraries may share a folder: the file's own list decides.
        const bool isListed = room.files.contains(file.string().substr(folder.size()));
        if (folder.size() == longest && !isListed) continue;
        best = name;
        longest = folder.size();
    }
    return best;
}

std::vector<Include> includesOf(const fs::path& source) {
    static const std::regex directive(R"re(^\s*#include\s*([<"])([^>"]+)[>"])re");
    std::vector<Include> found;
    for (const fs::directory_entry& entry : fs::recursive_directory_iterator(source)) {
        const fs::path extension = entry.path().extension();
        if (extension != ".h" && extension != ".cpp") continue;
        const fs::path file = entry.path().lexically_relative(source);
        std::ifstream in(entry.path());
        int number = 0;
        for (std::string line; std::getline(in, line);) {
            ++number;
            if (line.find("#include") == std::string::npos) continue;  // an expression takes long over each line
            std::smatch match;
            if (!std::regex_search(line, match, directive)) continue;
            found.push_back({file, number, match[2].str(), match[1].str() == "\""});
        }
    }
    return found;
}

}  // namespace pantry::test
