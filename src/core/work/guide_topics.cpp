#include "core/work/guide_topics.h"

#include <algorithm>

#include "core/base/text.h"

namespace pantry::work {
namespace {

/// The title of a heading of the second or third rank; empty for any other line.
std::string_view chapterOf(std::string_view line) {
    for (const std::string_view mark : {"## ", "### "}) {
        if (line.starts_with(mark)) return base::trimmed(line.substr(mark.size()));
    }
    return {};
}

/// What stands in bold letters where a paragraph begins, without its full stop; empty for any other line.
std::string_view titleOf(std::string_view line) {
    if (!line.starts_with("**")) return {};
    const std::size_t end = line.find("**", 2);
    if (end == std::string_view::npos) return {};
    std::string_view title = line.substr(2, end - 2);
    if (title.ends_with('.')) title.remove_suffix(1);
    return title;
}

std::vector<std::string_view> wordsIn(std::string_view text) {
    std::vector<std::string_view> words = base::splitAt(text, ' ');
    std::erase_if(words, &std::string_view::empty);
    return words;
}

bool hasAll(std::string_view text, const std::vector<std::string_view>& words) {
    return std::ranges::all_of(
        words, [&](std::string_view word) { return base::findIgnoringCase(text, word) != std::string_view::npos; });
}

}  // namespace

std::vector<GuideTopic> guideTopics(std::string_view markdown) {
    std::vector<GuideTopic> topics;
    std::string chapter;
    bool isCode = false;
    bool isAfterBlank = true;
    for (std::string_view line : base::splitAt(markdown, '\n')) {
        if (line.ends_with('\r')) line.remove_suffix(1);
        const std::string_view heading = isCode ? std::string_view() : chapterOf(line);
        const std::string_view title = isCode || !isAfterBlank ? std::string_view() : titleOf(line);
        if (!heading.empty()) {
            chapter = heading;
            topics.push_back({chapter, chapter, {}});
        } else if (!title.empty() && !topics.empty()) {
            topics.push_back({std::string(title), chapter, {}});
        }
        if (line.starts_with("```")) isCode = !isCode;
        isAfterBlank = !heading.empty() || base::trimmed(line).empty();
        if (!topics.empty()) topics.back().text.append(line).append("\n");
    }
    // A chapter that goes on with a topic at once has nothing to say by itself.
    std::erase_if(topics, [](const GuideTopic& one) {
        return one.isChapter() && base::trimmed(std::string_view(one.text).substr(one.text.find('\n'))).empty();
    });
    return topics;
}

std::string glanceAt(const GuideTopic& topic, std::size_t width, std::size_t lines) {
    std::string plain = topic.isChapter() ? topic.text.substr(topic.text.find('\n') + 1) : topic.text;
    std::erase_if(plain, [](char c) { return c == '*' || c == '`'; });
    std::ranges::replace(plain, '\n', ' ');
    std::string glance;
    std::size_t line = 0;
    for (const std::string_view word : wordsIn(plain)) {
        if (line > 0 && line + 1 + word.size() > width) {
            if (--lines == 0) return glance + " …";
            glance += '\n';
            line = 0;
        }
        if (line > 0) glance += ' ';
        glance += word;
        line += word.size() + 1;
    }
    return glance;
}

std::vector<std::size_t> topicsAbout(std::string_view words, const std::vector<GuideTopic>& topics) {
    const std::vector<std::string_view> wanted = wordsIn(words);
    std::vector<std::size_t> found;
    for (std::size_t i = 0; i < topics.size(); ++i) {
        if (hasAll(topics[i].text, wanted) || hasAll(topics[i].title, wanted)) found.push_back(i);
    }
    std::stable_partition(found.begin(), found.end(), [&](std::size_t i) { return hasAll(topics[i].title, wanted); });
    return found;
}

}  // namespace pantry::work
