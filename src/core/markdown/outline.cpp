#include "core/markdown/outline.h"

#include <cmark-gfm.h>

#include <algorithm>
#include <memory>
#include <optional>

#include "core/base/text.h"

namespace pantry::markdown {
namespace {

using Document = std::unique_ptr<cmark_node, decltype(&cmark_node_free)>;

/// Where the lines of a text begin and end.
class LineTable {
public:
    explicit LineTable(std::string_view text) : text_(text) {
        for (std::size_t at = text.find('\n'); at != std::string_view::npos; at = text.find('\n', at + 1))
            starts_.push_back(at + 1);
    }
    [[nodiscard]] std::size_t count() const { return starts_.size(); }
    /// Lines count from 1, as cmark counts them; behind the last one lies the end of the text.
    [[nodiscard]] std::size_t startOf(int line) const {
        const auto at = static_cast<std::size_t>(std::max(line, 1) - 1);
        return at < starts_.size() ? starts_[at] : text_.size();
    }
    [[nodiscard]] std::string_view textOf(int line) const {
        return text_.substr(startOf(line), startOf(line + 1) - startOf(line));
    }
    /// The byte at a column, which counts from 1; never behind the line.
    [[nodiscard]] std::size_t at(int line, int column) const {
        return std::min(startOf(line) + static_cast<std::size_t>(std::max(column, 1) - 1), startOf(line + 1));
    }

private:
    std::string_view text_;
    std::vector<std::size_t> starts_{0};
};

class Outliner {
public:
    explicit Outliner(std::string_view text) : text_(text), lines_(text), kinds_(text.size(), TokenKind::Plain) {}

    Outline run() {
        const Document document(cmark_parse_document(text_.data(), text_.size(), CMARK_OPT_DEFAULT), &cmark_node_free);
        cmark_iter* walk = cmark_iter_new(document.get());
        while (cmark_iter_next(walk) != CMARK_EVENT_DONE) {
            if (cmark_iter_get_event_type(walk) == CMARK_EVENT_ENTER) note(cmark_iter_get_node(walk));
        }
        cmark_iter_free(walk);
        endSections(0, static_cast<int>(lines_.count()));
        std::ranges::sort(out_.folds, {}, [](const Fold& one) { return std::pair(one.firstLine, ~one.lastLine); });
        gatherTokens();
        return std::move(out_);
    }

private:
    struct OpenSection {
        int level;
        int line;
    };

    void note(cmark_node* node) {
        const cmark_node_type type = cmark_node_get_type(node);
        if (type == CMARK_NODE_HEADING) noteHeading(node);
        if (type == CMARK_NODE_CODE_BLOCK) noteCode(node);
        if (type == CMARK_NODE_BLOCK_QUOTE) paintLines(node, TokenKind::Quote);
        if (type == CMARK_NODE_HTML_BLOCK) paintLines(node, TokenKind::Mark);
        if (type == CMARK_NODE_THEMATIC_BREAK) paintLines(node, TokenKind::Mark);
        if (type == CMARK_NODE_STRONG) paint(node, TokenKind::Strong);
        if (type == CMARK_NODE_EMPH) paint(node, TokenKind::Emphasis);
        if (type == CMARK_NODE_CODE) paint(node, TokenKind::Code);
        if (type == CMARK_NODE_LINK || type == CMARK_NODE_IMAGE) paint(node, TokenKind::Link);
    }

    void noteHeading(cmark_node* node) {
        const int line = cmark_node_get_start_line(node);
        const int level = cmark_node_get_heading_level(node);
        paintLines(node, TokenKind::Heading);
        const bool isTop = cmark_node_get_type(cmark_node_parent(node)) == CMARK_NODE_DOCUMENT;
        if (!isTop) return;
        endSections(level, line - 1);
        sections_.push_back({level, line});
    }

    /// Those of this level and deeper end with a line; blank lines before the next heading stay outside.
    void endSections(int level, int last) {
        while (last > 1 && std::ranges::all_of(lines_.textOf(last), base::isAsciiBlank)) --last;
        while (!sections_.empty() && sections_.back().level >= level) {
            noteFold(sections_.back().line, last);
            sections_.pop_back();
        }
    }

    void noteFold(int first, int last) {
        if (last > first)
            out_.folds.push_back({static_cast<std::size_t>(first - 1), static_cast<std::size_t>(last - 1)});
    }

    void noteCode(cmark_node* node) {
        int length = 0;
        int offset = 0;
        char sign = 0;
        if (cmark_node_get_fenced(node, &length, &offset, &sign) == 0) return paintLines(node, TokenKind::Code);
        const int first = cmark_node_get_start_line(node);
        const int last = std::max(first, cmark_node_get_end_line(node));
        const bool isClosed = last > first && isFence(lines_.textOf(last), sign, length);
        CodeBlock block;
        const std::string_view info(cmark_node_get_fence_info(node));
        block.language = base::toLower(info.substr(0, info.find_first_of(" \t{,")));
        block.start = lines_.startOf(first + 1);
        block.end = isClosed ? lines_.startOf(last) : lines_.startOf(last + 1);
        block.fenceEnd = isClosed ? lines_.startOf(last + 1) : block.end;
        for (cmark_node* one = cmark_node_parent(node); one != nullptr; one = cmark_node_parent(one))
            block.isPlain = block.isPlain && cmark_node_get_type(one) != CMARK_NODE_BLOCK_QUOTE;
        paint(lines_.startOf(first), block.start, TokenKind::Mark);
        paint(block.start, block.end, block.isSql() ? TokenKind::Plain : TokenKind::Code);
        paint(block.end, block.fenceEnd, TokenKind::Mark);
        noteFold(first, last);
        out_.blocks.push_back(std::move(block));
    }

    /// Whether a line closes a fence: as many signs as opened it, behind blanks and what marks a quote.
    static bool isFence(std::string_view line, char sign, int length) {
        const std::size_t first = line.find_first_not_of(" \t>");
        if (first == std::string_view::npos) return false;
        std::size_t end = first;
        while (end < line.size() && line[end] == sign) ++end;
        return end - first >= static_cast<std::size_t>(length) &&
               std::ranges::all_of(line.substr(end), base::isAsciiBlank);
    }

    void paintLines(cmark_node* node, TokenKind kind) {
        paint(lines_.startOf(cmark_node_get_start_line(node)), lines_.startOf(cmark_node_get_end_line(node) + 1), kind);
    }

    void paint(cmark_node* node, TokenKind kind) {
        paint(lines_.at(cmark_node_get_start_line(node), cmark_node_get_start_column(node)),
              lines_.at(cmark_node_get_end_line(node), cmark_node_get_end_column(node) + 1), kind);
    }

    void paint(std::size_t start, std::size_t end, TokenKind kind) {
        for (std::size_t i = start; i < std::min(end, kinds_.size()); ++i) kinds_[i] = kind;
    }

    void gatherTokens() {
        for (std::size_t i = 0; i < kinds_.size();) {
            std::size_t end = i + 1;
            while (end < kinds_.size() && kinds_[end] == kinds_[i]) ++end;
            if (kinds_[i] != TokenKind::Plain)
                out_.tokens.push_back({static_cast<std::uint32_t>(i), static_cast<std::uint32_t>(end - i), kinds_[i]});
            i = end;
        }
    }

    std::string_view text_;
    LineTable lines_;
    std::vector<TokenKind> kinds_;  // of each byte; what lies deeper is painted over what holds it
    std::vector<OpenSection> sections_;
    Outline out_;
};

}  // namespace

Outline outlineOf(std::string_view text) { return Outliner(text).run(); }

std::string sqlOf(std::string_view text, const std::vector<CodeBlock>& blocks) {
    std::string sql(text);
    const auto blank = [&](std::size_t from, std::size_t to) {
        for (std::size_t i = from; i < to; ++i) {
            if (sql[i] != '\n' && sql[i] != '\r') sql[i] = ' ';
        }
    };
    std::size_t done = 0;
    for (const CodeBlock& block : blocks) {
        if (!block.isSql()) continue;
        blank(done, block.start);
        done = block.end;
        if (block.fenceEnd <= block.end) continue;
        blank(block.end, block.fenceEnd);
        sql[block.end] = ';';
        done = block.fenceEnd;
    }
    blank(done, sql.size());
    return sql;
}

bool isMarkdownName(std::string_view fileName) {
    const std::string small = base::toLower(fileName);
    return small.ends_with(".md") || small.ends_with(".markdown");
}

}  // namespace pantry::markdown
