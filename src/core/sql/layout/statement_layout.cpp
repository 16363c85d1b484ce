#include "core/sql/layout/statement_layout.h"

#include <algorithm>
#include <utility>

#include "core/base/text.h"
#include "core/base/utf8.h"

namespace pantry::sql {
StatementLayout::StatementLayout(std::string_view statement, const SyntaxTree& tree, const FormatOptions& options)
    : text_(statement), tree_(tree), options_(options) {
    significant_.reserve(tree.tokens.size() / 2 + 1);
    for (std::uint32_t i = 0; i < tree.tokens.size(); ++i) {
        if (!tree.tokens[i].isSilent()) {
            significant_.push_back(i);
        } else if (tree.tokens[i].kind != TokenKind::Blank) {
            hasComments_ = true;
        }
    }
    layout_.reserve(significant_.size());
}

std::string StatementLayout::print() {
    node(0);
    flushComments();
    closingComments();
    return layout_.print(options_.width, options_.indentWidth);
}

// ---- Walking ----

StatementLayout::Parts StatementLayout::partsOf(std::uint32_t index) {
    std::vector<Part> memory;
    if (!pool_.empty()) {
        memory = std::move(pool_.back());
        pool_.pop_back();
        memory.clear();
    } else {
        memory.reserve(16);
    }
    const Node& n = tree_.nodes[index];
    std::uint32_t token = n.firstToken;
    const auto ownUpTo = [&](std::uint32_t end) {
        for (; token < end; ++token) {
            if (!tree_.tokens[token].isSilent()) memory.push_back({false, token});
        }
    };
    for (std::uint32_t child = n.firstChild; child != Node::kNone; child = tree_.nodes[child].nextSibling) {
        ownUpTo(tree_.nodes[child].firstToken);
        memory.push_back({true, child});
        token = std::max(token, tree_.nodes[child].endToken);
    }
    ownUpTo(n.endToken);
    return {pool_, std::move(memory)};
}

void StatementLayout::part(const Part& p) {
    if (p.isNode) {
        node(p.index);
    } else {
        token(p.index);
    }
}

void StatementLayout::parts(const Parts& list, std::size_t from) {
    for (std::size_t i = from; i < list.size(); ++i) part(list[i]);
}

void StatementLayout::flow(std::uint32_t index) {
    const Node& n = tree_.nodes[index];
    std::uint32_t next = n.firstToken;
    const auto ownUpTo = [&](std::uint32_t end) {
        for (; next < end; ++next) {
            if (!tree_.tokens[next].isSilent()) token(next);
        }
    };
    for (std::uint32_t child = n.firstChild; child != Node::kNone; child = tree_.nodes[child].nextSibling) {
        ownUpTo(tree_.nodes[child].firstToken);
        node(child);
        next = std::max(next, tree_.nodes[child].endToken);
    }
    ownUpTo(n.endToken);
}

void StatementLayout::node(std::uint32_t index) {
    const auto breaksBefore = [this](std::initializer_list<Keyword> words) {
        return [this, words = std::vector<Keyword>(words)](const Part& p) {
            if (p.isNode) return isNode(p, NodeKind::Options) || isNode(p, NodeKind::WhereClause);
            return std::ranges::find(words, tokenOf(p).keyword) != words.end();
        };
    };
    switch (tree_.nodes[index].kind) {
        case NodeKind::Statement: return root(index);
        case NodeKind::Query: return query(index);
        case NodeKind::InsertStatement:
        case NodeKind::UpdateStatement:
        case NodeKind::DeleteStatement: return change(index);
        case NodeKind::MergeStatement: return merge(index);
        case NodeKind::MergeBranch: return mergeBranch(index);
        case NodeKind::SelectCore:
        case NodeKind::SetOperation: return clauses(index);
        case NodeKind::SelectClause:
        case NodeKind::GroupByClause:
        case NodeKind::OrderByClause:
        case NodeKind::SetClause:
        case NodeKind::UsingClause:
        case NodeKind::WindowClause:
        case NodeKind::ReturningClause: return listClause(index);
        case NodeKind::SelectItem: return selectItem(index);
        case NodeKind::WhereClause:
        case NodeKind::HavingClause:
        case NodeKind::OnCondition: return conditionClause(index);
        case NodeKind::FromClause: return fromClause(index);
        case NodeKind::Join: return join(index);
        case NodeKind::WithClause: return withClause(index);
        case NodeKind::CommonTable: return commonTable(index);
        case NodeKind::ValuesClause: return values(index);
        case NodeKind::Paren:
        case NodeKind::Arguments:
        case NodeKind::ArrayLiteral:
        case NodeKind::RoutineParameters:
        case NodeKind::JsonColumns:
        case NodeKind::OptionGroup: return enclosed(index, Gap::Line);
        case NodeKind::ColumnList:
        case NodeKind::IndexItems: return enclosed(index, Gap::FillLine);
        case NodeKind::ParenQuery:
        case NodeKind::Subquery:
        case NodeKind::ParenTable: return enclosedQuery(index);
        case NodeKind::LogicalChain: return logicalChain(index);
        case NodeKind::Binary: return binary(index, true);
        case NodeKind::CaseExpression: return caseExpression(index);
        case NodeKind::CaseBranch: return caseBranch(index);
        case NodeKind::WindowSpec: return windowSpec(index);
        case NodeKind::ConflictClause: return conflict(index);
        case NodeKind::Unary: return unary(index);
        case NodeKind::CreateTable: return createTable(index);
        case NodeKind::TableElements: return tableElements(index);
        case NodeKind::ColumnDefinition: return columnDefinition(index);
        case NodeKind::TableConstraint: return tableConstraint(index);
        case NodeKind::CreateView: return createView(index);
        case NodeKind::CreateIndex: return folding(index, breaksBefore({Keyword::On}));
        case NodeKind::CreateRoutine: return createRoutine(index);
        case NodeKind::CreateTrigger: return createTrigger(index);
        case NodeKind::CreateStatement: return definition(index);
        case NodeKind::AlterStatement: return alter(index);
        case NodeKind::CommentStatement: return folding(index, breaksBefore({Keyword::Is}));
        case NodeKind::GrantStatement: return folding(index, breaksBefore({Keyword::On, Keyword::To, Keyword::From}));
        case NodeKind::DropStatement:
        case NodeKind::TruncateStatement:
        case NodeKind::SetStatement: return listClause(index);
        case NodeKind::Block:
        case NodeKind::IfStatement:
        case NodeKind::CaseStatement:
        case NodeKind::LoopStatement: return block(index);
        case NodeKind::StatementList: return statementList(index);
        case NodeKind::StatementGroup: return statementGroup(index);
        case NodeKind::Declaration: return declaration(index);
        case NodeKind::ExplainStatement:
        case NodeKind::PrepareStatement: return wrapper(index);
        case NodeKind::Options: return optionWords(index);
        default: return flow(index);
    }
}

// ---- Emitting ----

void StatementLayout::openGroup() {
    flushGap();
    layout_.openGroup();
}

void StatementLayout::flushGap() {
    flushComments();
    Gap g = gap_;
    gap_ = Gap::None;
    if (cursor_ == 0 || cursor_ >= significant_.size()) return;
    const std::uint32_t before = significant_[cursor_ - 1];
    const std::uint32_t after = significant_[cursor_];
    if (g == Gap::Auto) g = naturalGap(before, after);
    switch (g) {
        case Gap::Auto:
        case Gap::None: return;
        case Gap::Space: return layout_.space();
        case Gap::Line: return layout_.line();
        case Gap::SoftLine: return layout_.softLine();
        case Gap::FillLine: return layout_.fillLine();
        case Gap::HardLine: return layout_.hardLine();
    }
}

StatementLayout::Gap StatementLayout::naturalGap(std::uint32_t before, std::uint32_t after) const {
    const Token& a = tree_.tokens[before];
    const Token& b = tree_.tokens[after];
    if (a.kind == TokenKind::String && b.kind == TokenKind::String) {
        // Strings on two lines are one literal in the standard; on one line they are an error there.
        return hasLineBreak(before, after) ? Gap::HardLine : Gap::Space;
    }
    // user@host
    if (b.kind == TokenKind::Variable && a.end() == b.start && a.kind != TokenKind::Operator) return Gap::None;
    if (glueNext_ && b.kind != TokenKind::Operator && b.kind != TokenKind::Dot) return Gap::None;
    if (a.textIn(text_) == "{" || b.textIn(text_) == "}") return Gap::None;
    if (a.kind == TokenKind::OpenParen || a.kind == TokenKind::OpenBracket || a.kind == TokenKind::Dot)
        return Gap::None;
    switch (b.kind) {
        case TokenKind::Comma:
        case TokenKind::CloseParen:
        case TokenKind::CloseBracket:
        case TokenKind::Terminator:
        case TokenKind::Semicolon: return Gap::None;
        case TokenKind::Dot: return a.kind == TokenKind::Number ? Gap::Space : Gap::None;
        case TokenKind::OpenParen: {
            const TokenRole role = tree_.roles[before];
            const bool isCall = role == TokenRole::Function || role == TokenRole::Type;
            return isCall ? Gap::None : Gap::Space;
        }
        case TokenKind::OpenBracket:
            return a.kind == TokenKind::Operator || a.kind == TokenKind::Comma ? Gap::Space : Gap::None;
        default: break;
    }
    if (a.kind != TokenKind::Operator && b.kind != TokenKind::Operator) return Gap::Space;
    const bool isCast = a.textIn(text_) == "::" || b.textIn(text_) == "::";
    const bool hasColon = a.textIn(text_) == ":" || b.textIn(text_) == ":";
    const bool isSlice = hasColon && (tree_.nodes[tree_.nodeAt(after)].kind == NodeKind::Subscript ||
                                      tree_.nodes[tree_.nodeAt(before)].kind == NodeKind::Subscript);
    return isCast || isSlice ? Gap::None : Gap::Space;
}

void StatementLayout::token(std::uint32_t index) {
    flushGap();
    const bool isAwaited = owner_ != Node::kNone;  // a comma for which the comments before it have waited
    if (hasComments_ && !isAwaited) leadingComments(index);
    layout_.text(spelled(index));
    ++cursor_;
    gap_ = Gap::Auto;
    glueNext_ = false;
    if (!hasComments_) return;
    if (isAwaited) {
        trailingComments(std::exchange(owner_, Node::kNone));
        carrier_ = index;
    }
    if (hoisted_ != index) owner_ = index;
}

/// Comments behind a token are printed when the next one comes, so that groups which end at the token are closed
/// before: a comment does not break what it stands behind.
void StatementLayout::flushComments() {
    if (owner_ == Node::kNone || waitForComma(owner_)) return;
    trailingComments(std::exchange(owner_, Node::kNone));
}

/// A line comment before a comma would push the comma to the next line: it comes after it, and a comment on a line of
/// its own explains what follows the comma.
bool StatementLayout::waitForComma(std::uint32_t index) const {
    if (options_.commas == CommaPlace::Leading || cursor_ >= significant_.size()) return false;
    const std::uint32_t next = significant_[cursor_];
    if (tree_.tokens[next].kind != TokenKind::Comma || endOfTrailing(next) != next + 1) return false;
    return std::any_of(tree_.tokens.begin() + index + 1, tree_.tokens.begin() + next,
                       [](const Token& t) { return t.kind == TokenKind::LineComment; });
}

/// With commas at the beginning of lines a comment behind a comma belongs to the item before it.
void StatementLayout::hoistComments(std::uint32_t commaIndex) {
    if (!hasComments_ || cursor_ == 0) return;
    flushComments();
    if (!hasTrailingLineComment(commaIndex)) return;
    const std::uint32_t before = significant_[cursor_ - 1];
    const bool hasItem =
        tree_.tokens[before].kind != TokenKind::Comma && tree_.tokens[before].kind != TokenKind::OpenParen;
    if (!hasItem || hasTrailingLineComment(before)) return;
    leadingComments(commaIndex);
    trailingComments(commaIndex);
    hoisted_ = commaIndex;
}

bool StatementLayout::hasTrailingLineComment(std::uint32_t owner) const {
    const std::uint32_t end = endOfTrailing(owner);
    return end > owner + 1 && tree_.tokens[end - 1].kind == TokenKind::LineComment;
}

void StatementLayout::padTo(std::size_t column) {
    flushComments();
    gap_ = Gap::None;
    layout_.padTo(column);
}

/// Columns that a node takes on one line; nullopt when a comment stands in it.
std::optional<std::size_t> StatementLayout::flatWidth(std::uint32_t index) const {
    const Node& n = tree_.nodes[index];
    std::size_t width = 0;
    std::uint32_t before = Node::kNone;
    for (std::uint32_t i = n.firstToken; i < n.endToken; ++i) {
        const Token& token = tree_.tokens[i];
        if (token.kind == TokenKind::Blank) continue;
        if (token.isSilent()) return std::nullopt;
        if (before != Node::kNone && !isPrefix(before) && naturalGap(before, i) != Gap::None) ++width;
        width += base::displayWidth(token.textIn(text_));
        before = i;
    }
    return width;
}

bool StatementLayout::isPrefix(std::uint32_t index) const {
    if (tree_.tokens[index].kind != TokenKind::Operator) return false;
    const Node& owner = tree_.nodes[tree_.nodeAt(index)];
    return owner.kind == NodeKind::Unary && owner.firstToken == index;
}

bool StatementLayout::hasLineBreak(std::uint32_t fromToken, std::uint32_t toToken) const {
    const std::size_t from = tree_.tokens[fromToken].end();
    return text_.substr(from, tree_.tokens[toToken].start - from).find('\n') != std::string_view::npos;
}

/// Whether a line is left empty after the last printed token and the comments that belong to it.
bool StatementLayout::hasBlankLineBeforeNext() const {
    if (cursor_ == 0 || cursor_ >= significant_.size()) return false;
    const std::uint32_t from = endOfTrailing(significant_[cursor_ - 1]);
    if (from >= tree_.tokens.size() || tree_.tokens[from].kind != TokenKind::Blank) return false;
    return std::ranges::count(tree_.tokens[from].textIn(text_), '\n') > 1;
}

/// Whether a token belongs to what follows it, so that a comment right behind it does as well.
bool StatementLayout::leansForward(std::uint32_t token) const {
    const TokenKind kind = tree_.tokens[token].kind;
    return kind == TokenKind::Comma || kind == TokenKind::OpenParen || tree_.roles[token] == TokenRole::Keyword;
}

/// Whether a comment belongs to the token before it: on its line and, for one that could as well belong to what
/// follows on that line, not right after a comma, a parenthesis or a keyword. A hint belongs to its verb, and what
/// stands on a line with the comma or the parenthesis that it is to be glued to does not part the two.
bool StatementLayout::isTrailing(std::uint32_t comment, std::uint32_t owner, std::uint32_t next) const {
    const bool isLast = next >= tree_.tokens.size();
    const bool endsLine = isLast || hasLineBreak(comment, next);
    const bool isLineComment = tree_.tokens[comment].kind == TokenKind::LineComment;
    if (hasLineBreak(owner, comment)) {
        return !endsLine && !isLineComment && !leansForward(owner) && naturalGap(owner, next) == Gap::None;
    }
    if (isLineComment) return true;
    if (tree_.tokens[comment].textIn(text_).starts_with("/*+")) return true;
    return endsLine || !leansForward(owner);
}

/// Where the comments end that belong to the token `owner` rather than to the one after them.
std::uint32_t StatementLayout::endOfTrailing(std::uint32_t owner) const {
    std::uint32_t next = owner + 1;
    while (next < tree_.tokens.size() && tree_.tokens[next].isSilent()) ++next;
    std::uint32_t end = owner + 1;
    for (std::uint32_t i = owner + 1; i < next; ++i) {
        if (tree_.tokens[i].kind == TokenKind::Blank) continue;
        if (!isTrailing(i, owner, next)) break;
        end = i + 1;
        if (tree_.tokens[i].kind == TokenKind::LineComment) break;
    }
    return end;
}

void StatementLayout::trailingComments(std::uint32_t index) {
    const std::uint32_t end = endOfTrailing(index);
    for (std::uint32_t i = index + 1; i < end; ++i) {
        if (tree_.tokens[i].kind == TokenKind::Blank) continue;
        layout_.space();
        const std::string_view comment = tree_.tokens[i].textIn(text_);
        layout_.text(comment);
        // On a line with what follows, it would belong to that the next time.
        const bool staysBehind = leansForward(index) && !comment.starts_with("/*+");
        if (tree_.tokens[i].kind == TokenKind::LineComment || staysBehind) layout_.breakAfter();
    }
}

void StatementLayout::leadingComments(std::uint32_t index) {
    if (carrier_ != Node::kNone) leadingComments(std::exchange(carrier_, Node::kNone));
    std::uint32_t first = index;
    while (first > 0 && tree_.tokens[first - 1].isSilent()) --first;
    if (first > 0) first = endOfTrailing(first - 1);
    for (std::uint32_t i = first; i < index; ++i) {
        if (tree_.tokens[i].kind == TokenKind::Blank) continue;
        const bool endsLine = tree_.tokens[i].kind == TokenKind::LineComment || hasLineBreak(i, index);
        if (endsLine) layout_.freshLine();
        layout_.text(tree_.tokens[i].textIn(text_));
        if (endsLine) {
            layout_.breakAfter();
        } else {
            layout_.space();
        }
    }
}

/// Comments behind the last token that begin lines of their own.
void StatementLayout::closingComments() {
    if (significant_.empty()) return;
    for (std::uint32_t i = endOfTrailing(significant_.back()); i < tree_.tokens.size(); ++i) {
        if (tree_.tokens[i].kind == TokenKind::Blank) continue;
        layout_.freshLine();
        layout_.text(tree_.tokens[i].textIn(text_));
    }
}

std::string_view StatementLayout::spelled(std::uint32_t index) const {
    const Token& token = tree_.tokens[index];
    const std::string_view original = token.textIn(text_);
    if (tree_.roles[index] != TokenRole::Keyword || options_.keywords == KeywordCase::Keep) return original;
    if (token.keyword == Keyword::None) return original;
    return options_.keywords == KeywordCase::Upper ? spellingOf(token.keyword) : smallSpellingOf(token.keyword);
}

}  // namespace pantry::sql
