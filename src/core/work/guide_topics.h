#pragma once

#include <cstddef>
#include <string>
#include <string_view>
#include <vector>

namespace pantry::work {

/// A part of the user guide that says one thing: a chapter's beginning, or a paragraph that begins with a title of its
/// own.
struct GuideTopic {
    std::string title;
    std::string chapter;  ///< its own title for a chapter's beginning
    std::string text;     ///< Markdown, from the title on
    [[nodiscard]] bool isChapter() const { return title == chapter; }
};

/// The topics of a guide in Markdown, in its order. Chapters are its headings of the second and third rank; a topic is
/// a paragraph that begins in bold letters, with all up to the next one. What stands before the first chapter is none.
/// Thread: any. Cost: grows with the guide.
[[nodiscard]] std::vector<GuideTopic> guideTopics(std::string_view markdown);

/// The beginning of a topic without marks, on lines of so many bytes: for where there is room for a glance only.
[[nodiscard]] std::string glanceAt(const GuideTopic& topic, std::size_t width, std::size_t lines);

/// Which topics have all words of a text in title or text, those with all of them in the title first; all topics for no
/// word. Indices into `topics`.
[[nodiscard]] std::vector<std::size_t> topicsAbout(std::string_view words, const std::vector<GuideTopic>& topics);

}  // namespace pantry::work
