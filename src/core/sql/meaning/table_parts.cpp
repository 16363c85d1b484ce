#include "core/sql/meaning/table_parts.h"

#include <algorithm>
#include <utility>

#include "core/base/text.h"
#include "core/sql/syntax/parser.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

/// The tokens of a part of a statement that mean something, with places that are walked along.
class PartTokens {
public:
    PartTokens(const SyntaxTree& tree, std::string_view text, std::uint32_t first, std::uint32_t end) : text_(text) {
        for (std::uint32_t i = first; i < end && i < tree.tokens.size(); ++i) {
            if (!tree.tokens[i].isSilent()) tokens_.push_back(tree.tokens[i]);
        }
    }

    [[nodiscard]] bool atEnd() const { return at_ >= tokens_.size(); }
    [[nodiscard]] const Token& token() const { return tokens_[at_]; }
    [[nodiscard]] std::string_view word() const { return atEnd() ? std::string_view() : token().textIn(text_); }
    [[nodiscard]] bool at(Keyword keyword, std::size_t ahead = 0) const {
        return at_ + ahead < tokens_.size() && tokens_[at_ + ahead].is(keyword);
    }
    [[nodiscard]] bool at(TokenKind kind) const { return !atEnd() && token().kind == kind; }
    void take() { ++at_; }
    bool takeIf(Keyword keyword) {
        if (!at(keyword)) return false;
        take();
        return true;
    }
    std::string takeName() {
        std::string name = atEnd() ? std::string() : unquotedName(word());
        take();
        return name;
    }

    /// What stands in the brackets that open here, which are left behind.
    std::string takeBrackets() {
        if (!at(TokenKind::OpenParen)) return {};
        const std::size_t open = token().end();
        std::size_t depth = 0;
        for (; !atEnd(); take()) {
            if (at(TokenKind::OpenParen)) ++depth;
            if (at(TokenKind::CloseParen) && --depth == 0) break;
        }
        const std::size_t close = atEnd() ? text_.size() : token().start;
        take();
        return std::string(base::trimmed(text_.substr(open, close - open)));
    }

    /// The names in brackets: columns of a key; what else stands with one (its order, a length) is left out.
    std::vector<std::string> takeColumns() {
        std::vector<std::string> names;
        if (!at(TokenKind::OpenParen)) return names;
        std::size_t depth = 0;
        bool isNext = true;
        for (; !atEnd(); take()) {
            if (at(TokenKind::OpenParen) && ++depth == 1) continue;
            if (at(TokenKind::CloseParen) && --depth == 0) break;
            if (depth == 1 && at(TokenKind::Comma)) {
                isNext = true;
            } else if (isNext) {
                names.push_back(unquotedName(word()));
                isNext = false;
            }
        }
        take();
        return names;
    }

    /// From here to the end, as it is written.
    [[nodiscard]] std::string rest() const {
        return atEnd() ? std::string() : std::string(text_.substr(token().start, tokens_.back().end() - token().start));
    }

    /// From one place to before another.
    [[nodiscard]] std::size_t place() const { return at_; }
    [[nodiscard]] std::string between(std::size_t first, std::size_t end) const {
        if (first >= end) return {};
        return std::string(text_.substr(tokens_[first].start, tokens_[end - 1].end() - tokens_[first].start));
    }

private:
    std::string_view text_;
    std::vector<Token> tokens_;
    std::size_t at_ = 0;
};

class PartsReader {
public:
    PartsReader(const SyntaxTree& tree, std::string_view text) : tree_(tree), text_(text) {}

    std::optional<TableParts> read() {
        const std::uint32_t create = find(NodeKind::CreateTable);
        if (create == Node::kNone) return std::nullopt;
        const std::uint32_t elements = tree_.childOf(create, NodeKind::TableElements);
        if (elements == Node::kNone) return std::nullopt;
        for (const std::uint32_t child : tree_.childrenOf(elements)) {
            const Node& node = tree_.nodes[child];
            PartTokens part(tree_, text_, node.firstToken, node.endToken);
            if (node.kind == NodeKind::ColumnDefinition) column(part, child);
            if (node.kind == NodeKind::TableConstraint) constraint(part);
        }
        options(PartTokens(tree_, text_, tree_.nodes[elements].endToken, tree_.nodes[create].endToken));
        return std::move(parts_);
    }

private:
    std::uint32_t find(NodeKind kind) const {
        for (std::uint32_t i = 0; i < tree_.nodes.size(); ++i) {
            if (tree_.nodes[i].kind == kind) return i;
        }
        return Node::kNone;
    }

    void column(PartTokens& part, std::uint32_t node) {
        TableParts::Column column;
        column.written = part.rest();
        column.name = part.takeName();
        const std::uint32_t type = tree_.childOf(node, NodeKind::TypeName);
        if (type != Node::kNone && tree_.nodes[type].endToken > tree_.nodes[type].firstToken) {
            const std::uint32_t end = tree_.tokens[tree_.nodes[type].endToken - 1].end();
            while (!part.atEnd() && part.token().start < end) part.take();
        }
        std::string name;  // of the constraint that follows
        while (!part.atEnd()) columnWord(part, column, name);
        parts_.columns.push_back(std::move(column));
    }

    void columnWord(PartTokens& part, TableParts::Column& column, std::string& name) {
        const std::size_t first = part.place();
        if (part.takeIf(Keyword::Constraint)) {
            name = part.takeName();
        } else if (part.takeIf(Keyword::Check)) {
            add({.name = std::exchange(name, {}),
                 .definition = "CHECK (" + part.takeBrackets() + ")",
                 .columns = {column.name},
                 .isOfColumn = true});
        } else if (part.takeIf(Keyword::Unique)) {
            add({.name = std::exchange(name, {}),
                 .definition = "UNIQUE (" + quotedName(column.name, tree_.language.dialect) + ")",
                 .kind = catalog::Constraint::Kind::Unique,
                 .columns = {column.name},
                 .isOfColumn = true});
        } else if (part.takeIf(Keyword::Primary)) {
            parts_.primaryKeyName = std::exchange(name, {});
        } else if (part.takeIf(Keyword::Collate)) {
            column.collation = part.takeName();
        } else if (part.at(Keyword::As)) {
            part.take();
            column.generation = part.takeBrackets();
        } else if (part.takeIf(Keyword::Stored) || part.takeIf(Keyword::Persistent)) {
            column.isStored = true;
        } else if (part.takeIf(Keyword::Autoincrement) || part.takeIf(Keyword::AutoIncrement)) {
            column.countsUp = true;
        } else if (part.takeIf(Keyword::Default)) {
            if (part.at(TokenKind::OpenParen)) {
                (void)part.takeBrackets();
            } else {
                part.take();
            }
        } else if (part.at(Keyword::References)) {
            references(part, first, std::exchange(name, {}), {column.name});
        } else if (part.at(TokenKind::OpenParen)) {
            (void)part.takeBrackets();
        } else {
            part.take();
        }
    }

    /// REFERENCES and what may follow; the part's cursor ends behind it.
    void references(PartTokens& part, std::size_t first, std::string name, std::vector<std::string> columns) {
        TableParts::ForeignKey key{.name = std::move(name), .columns = std::move(columns)};
        part.take();
        part.take();  // the table
        while (part.at(TokenKind::Dot)) {
            part.take();
            part.take();
        }
        (void)part.takeBrackets();
        while (part.at(Keyword::On) || part.at(Keyword::Match)) {
            const bool isMatch = part.at(Keyword::Match);
            part.take();
            if (!isMatch) part.take();  // DELETE, UPDATE
            if (part.at(Keyword::Set) || part.at(Keyword::No)) part.take();
            part.take();
        }
        const std::size_t deferral = part.place();
        for (;;) {
            if (part.at(Keyword::Not) && part.at(Keyword::Deferrable, 1)) {
                part.take();
                part.take();
            } else if (part.at(Keyword::Initially)) {
                part.take();
                part.take();
            } else if (!part.takeIf(Keyword::Deferrable)) {
                break;
            }
        }
        key.deferral = part.between(deferral, part.place());
        key.written = part.between(first, part.place());
        parts_.foreignKeys.push_back(std::move(key));
    }

    void constraint(PartTokens& part) {
        const std::size_t first = part.place();
        std::string name;
        if (part.takeIf(Keyword::Constraint)) name = part.takeName();
        const std::string definition = part.rest();
        if (part.takeIf(Keyword::Check)) {
            add({.name = std::move(name), .definition = definition});
        } else if (part.takeIf(Keyword::Unique)) {
            while (!part.atEnd() && !part.at(TokenKind::OpenParen)) name = part.takeName();
            add({.name = std::move(name),
                 .definition = definition,
                 .kind = catalog::Constraint::Kind::Unique,
                 .columns = part.takeColumns()});
        } else if (part.takeIf(Keyword::Primary)) {
            parts_.primaryKeyName = std::move(name);
            parts_.primaryKeyWritten = definition;
        } else if (part.takeIf(Keyword::Foreign)) {
            part.take();  // KEY
            auto columns = part.takeColumns();
            if (part.at(Keyword::References)) references(part, first, std::move(name), std::move(columns));
        }
    }

    void options(PartTokens part) {
        std::string label;
        for (; !part.atEnd(); part.take()) {
            if (part.at(TokenKind::Comma) || part.token().endsStatement()) {
                if (!label.empty()) parts_.options.push_back(std::exchange(label, {}));
                continue;
            }
            label += (label.empty() ? "" : " ") + base::toUpper(part.word());
        }
        if (!label.empty()) parts_.options.push_back(label);
    }

    void add(catalog::Constraint constraint) { parts_.constraints.push_back(std::move(constraint)); }

    const SyntaxTree& tree_;
    std::string_view text_;
    TableParts parts_;
};

}  // namespace

std::optional<TableParts> tablePartsOf(std::string_view statement, const Language& language) {
    const SyntaxTree tree = parseSingle(statement, language);
    if (tree.hasErrors() || tree.isBeyondWalking()) return std::nullopt;
    return PartsReader(tree, statement).read();
}

std::string predicateOf(std::string_view createIndex, const Language& language) {
    std::size_t depth = 0;
    std::size_t first = 0;
    std::size_t end = 0;
    for (const Token& token : lex(createIndex, language)) {
        if (token.isSilent() || token.endsStatement()) continue;
        if (token.kind == TokenKind::OpenParen) ++depth;
        if (token.kind == TokenKind::CloseParen && depth > 0) --depth;
        if (depth == 0 && token.is(Keyword::Where) && first == 0) {
            first = token.end();
        } else if (first > 0) {
            end = token.end();
        }
    }
    return end > first ? std::string(base::trimmed(createIndex.substr(first, end - first))) : std::string();
}

}  // namespace pantry::sql
