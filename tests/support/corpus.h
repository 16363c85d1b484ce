#pragma once

#include <fstream>
#include <string>
#include <string_view>
#include <vector>

namespace pantry::test {

inline std::string replaced(const std::string& text, std::string_view from, std::string_view to) {
    std::string out;
    std::size_t at = 0;
    for (std::size_t next = text.find(from); next != std::string::npos; next = text.find(from, at)) {
        out.append(text, at, next - at).append(to);
        at = next + from.size();
    }
    return out.append(text, at, std::string::npos);
}

/// The lines of a corpus file but for comments, which begin with "# " in the first line; \n stands for a line's end.
inline std::vector<std::string> corpusLines(const std::string& file) {
    std::ifstream stream(file);
    std::vector<std::string> lines;
    bool isFirst = true;
    for (std::string line; std::getline(stream, line); isFirst = false) {
        const bool isComment = isFirst && line.starts_with("# ");
        if (!line.empty() && !isComment) lines.push_back(replaced(line, "\\n", "\n"));
    }
    return lines;
}

}  // namespace pantry::test
