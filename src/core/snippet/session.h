#pragma once

#include <cstddef>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/snippet/template.h"

namespace pantry::snippet {

/// Filling in a template that was put into a text: which place one is at, where all places are after each edit, and
/// what changes in the text when a table becomes known. The text itself belongs to somebody else, who tells of each
/// edit and carries out what is asked for.
///
/// Threads: the owner's.
class Session {
public:
    /// `start`: the byte of the text at which it was put in, as `rendered().text`.
    Session(Template from, std::size_t start, std::string indent, const ColumnsOf& columns);

    /// As it was put in.
    [[nodiscard]] const Rendered& rendered() const { return rendered_; }

    /// Everywhere that the place one is at stands, in bytes of the text; none once all is done.
    [[nodiscard]] std::vector<sql::TextRange> current() const;
    [[nodiscard]] const Place* place() const;
    /// Goes to the next place that has no text of somebody's yet, or the one before. False at the end: `end` is where
    /// the caret goes.
    bool next();
    bool previous();
    void finish() { isOver_ = true; }
    [[nodiscard]] bool isOver() const { return isOver_; }
    [[nodiscard]] std::size_t end() const;
    /// The whole of it in the text.
    [[nodiscard]] sql::TextRange whole() const { return {start_, length_}; }

    /// The text was changed: at a byte, so many taken away, so many put in.
    void noteEdit(std::size_t at, std::size_t removed, std::size_t inserted);

    /// The parts that are repeated for columns, once the table that they depend on is known: what to put in place of
    /// the whole; nothing when it stays as it is, or when somebody has changed it elsewhere than in its places.
    [[nodiscard]] std::optional<std::string> renewed(std::string_view whole, const ColumnsOf& columns);

    /// The places that still stand as «name», in bytes of the text: those in strings and comments too.
    [[nodiscard]] std::vector<sql::TextRange> unfilled(std::string_view whole) const;
    /// What a place holds, of the text of the whole.
    [[nodiscard]] std::string valueOf(const std::string& name, std::string_view whole) const;

private:
    void take(Rendered rendered);
    [[nodiscard]] std::map<std::string, std::string> valuesIn(std::string_view whole) const;

    Template from_;
    std::string indent_;
    Rendered rendered_;
    std::size_t start_ = 0;
    std::size_t length_ = 0;
    std::size_t at_ = 0;  // the place one is at
    std::size_t end_ = 0;
    bool isOver_ = false;
};

}  // namespace pantry::snippet
