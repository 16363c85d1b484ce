#include "core/sql/syntax/parse_state.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.h"

namespace pantry::sql {

ParseState::ParseState(std::string_view text, SyntaxTree& tree, int limit, LookedFor* watched)
    : dialect(tree.language), maxDepth(limit), text_(text), tree_(tree), watched_(watched) {
    significant_.reserve(tree.tokens.size());
    ahead_.reserve(tree.tokens.size());
    for (std::size_t i = 0; i < tree.tokens.size(); ++i) {
        if (tree.tokens[i].isSilent()) continue;
        significant_.push_back(static_cast<std::uint32_t>(i));
        ahead_.push_back(tree.tokens[i]);
    }
    finished_.reserve(16);
}

/// Counted for the whole statement at once: each of ten thousand parentheses in a row asks.
std::size_t ParseState::parensFrom(std::size_t n) const {
    if (!at(TokenKind::OpenParen, n)) return 0;
    if (!at(TokenKind::OpenParen, n + 1)) return 1;
    if (parens_.empty()) {
        parens_.resize(ahead_.size() + 1);
        for (std::size_t i = ahead_.size(); i-- > 0;) {
            parens_[i] = ahead_[i].kind == TokenKind::OpenParen ? 1 + parens_[i + 1] : 0;
        }
    }
    return parens_[pos_ + n];
}

std::size_t ParseState::behindParen(std::size_t n) const {
    if (closing_.empty()) {
        closing_.assign(ahead_.size(), static_cast<std::uint32_t>(ahead_.size()));
        std::vector<std::uint32_t> open;
        for (std::uint32_t i = 0; i < ahead_.size(); ++i) {
            if (ahead_[i].kind == TokenKind::OpenParen) open.push_back(i);
            if (ahead_[i].kind != TokenKind::CloseParen || open.empty()) continue;
            closing_[open.back()] = i;
            open.pop_back();
        }
    }
    return closing_[pos_ + n] + 1 - pos_;
}

std::string_view ParseState::text(std::size_t n) const {
    return atEnd(n) ? std::string_view() : token(n).textIn(text_);
}

bool ParseState::atOperator(std::string_view op, std::size_t n) const {
    return at(TokenKind::Operator, n) && text(n) == op;
}

bool ParseState::atName(std::size_t n) const { return at(TokenKind::Word, n) || at(TokenKind::QuotedName, n); }

bool ParseState::isApart() const { return pos_ > 0 && !atEnd() && significant_[pos_] != significant_[pos_ - 1] + 1; }

bool ParseState::atLineStart() const {
    if (pos_ == 0 || atEnd()) return false;
    const Token& before = ahead_[pos_ - 1];
    return text_.substr(before.end(), token(0).start - before.end()).find('\n') != std::string_view::npos;
}

bool ParseState::atNextStatement() const {
    static constexpr std::initializer_list<Keyword> kThings = {
        Keyword::Table,  Keyword::View,         Keyword::Index,    Keyword::Unique,    Keyword::Or,
        Keyword::Temp,   Keyword::Temporary,    Keyword::Function, Keyword::Procedure, Keyword::Trigger,
        Keyword::Schema, Keyword::Database,     Keyword::Type,     Keyword::Sequence,  Keyword::User,
        Keyword::Role,   Keyword::Materialized, Keyword::Extension};
    const auto begins = [&] {
        switch (keyword()) {
            case Keyword::Select: return !at(Keyword::On, 1) && !at(TokenKind::Comma, 1);  // a privilege
            case Keyword::With:
                return at(Keyword::Recursive, 1) || (atName(1) && (at(Keyword::As, 2) || at(TokenKind::OpenParen, 2)) &&
                                                     !at(Keyword::Ordinality, 1));
            case Keyword::Insert:
            case Keyword::Replace: return at(Keyword::Into, 1) || (at(Keyword::Or, 1) && at(Keyword::Into, 3));
            case Keyword::Delete: return at(Keyword::From, 1);
            case Keyword::Update: return at(Keyword::Set, 2) || (at(TokenKind::Dot, 2) && at(Keyword::Set, 4));
            case Keyword::Create:
            case Keyword::Alter:
            case Keyword::Drop: return atAny(kThings, 1);
            case Keyword::Commit:
            case Keyword::Rollback: return atEnd(1);
            default: return false;
        }
    };
    // Engines behind ODBC take statements that nothing parts.
    return dialect != Dialect::Ansi && begins() && atLineStart();
}

bool ParseState::atBareAlias() const {
    if (at(TokenKind::QuotedName)) return true;
    if (!at(TokenKind::Word) || atNextStatement()) return false;
    // Words that begin what may follow a table or an expression, though some dialects do not reserve them.
    if (atAny({Keyword::Where,     Keyword::Set,    Keyword::On,           Keyword::Using,   Keyword::Values,
               Keyword::Returning, Keyword::Join,   Keyword::Inner,        Keyword::Left,    Keyword::Right,
               Keyword::Full,      Keyword::Cross,  Keyword::Natural,      Keyword::Outer,   Keyword::Union,
               Keyword::Intersect, Keyword::Except, Keyword::Limit,        Keyword::Offset,  Keyword::Fetch,
               Keyword::For,       Keyword::Window, Keyword::Group,        Keyword::Order,   Keyword::Having,
               Keyword::From,      Keyword::Into,   Keyword::And,          Keyword::Or,      Keyword::Not,
               Keyword::Between,   Keyword::In,     Keyword::Like,         Keyword::Is,      Keyword::When,
               Keyword::Then,      Keyword::Else,   Keyword::End,          Keyword::As,      Keyword::Asc,
               Keyword::Desc,      Keyword::Select, Keyword::StraightJoin, Keyword::Lateral, Keyword::Tablesample,
               Keyword::Collate,   Keyword::Over,   Keyword::Filter,       Keyword::Escape,  Keyword::With,
               Keyword::Separator, Keyword::Nulls,  Keyword::Indexed,      Keyword::Minus})) {
        return false;
    }
    // Clauses of engines behind ODBC, whose words are names everywhere else.
    const bool isForeign = atAny({Keyword::Option, Keyword::MatchRecognize, Keyword::Pivot, Keyword::Unpivot}) &&
                           at(TokenKind::OpenParen, 1);
    if (dialect == Dialect::Ansi && (isForeign || at(Keyword::Output))) return false;
    return !isReserved(keyword(), dialect);
}

void ParseState::take(TokenRole role) {
    if (atEnd()) return fail("more");  // a rule took it for granted
    tree_.roles[significant_[pos_]] = role;
    ++pos_;
}

bool ParseState::takeIf(Keyword k) {
    if (!at(k)) return false;
    take(TokenRole::Keyword);
    return true;
}

bool ParseState::takeIf(TokenKind k) {
    if (!at(k)) return false;
    take();
    return true;
}

bool ParseState::takeIfOperator(std::string_view op) {
    if (!atOperator(op)) return false;
    take();
    return true;
}

void ParseState::takeAll(std::initializer_list<Keyword> keywords) {
    while (atAny(keywords)) take(TokenRole::Keyword);
}

bool ParseState::takePhrase(std::initializer_list<Keyword> phrase) {
    std::size_t n = 0;
    for (const Keyword k : phrase) {
        if (at(k, n)) {
            ++n;
        } else if (n > 0 && isWatched(n)) {
            break;  // it is being written
        } else {
            return false;
        }
    }
    const bool isWhole = n == phrase.size();
    for (std::size_t i = 0; i < n; ++i) take(TokenRole::Keyword);
    if (!isWhole) expect(phrase.begin()[n]);
    return true;
}

bool ParseState::expect(Keyword k) {
    if (takeIf(k)) return true;
    if (isWatched(0) && !hasErrorHere()) watched_->required = k;
    fail(spellingOf(k));
    return false;
}

bool ParseState::expect(TokenKind k, std::string_view spelled) {
    if (takeIf(k)) return true;
    fail(spelled);
    return false;
}

void ParseState::fail(std::string_view expected) {
    if (hasErrorHere()) return;
    expected_ = expected;
    report(atEnd() ? fmt::format("The statement ends where {} should follow.", expected)
                   : fmt::format("Expected {}, not “{}”.", expected, base::oneLine(text(), 40)));
}

std::uint32_t ParseState::place() const {
    return atEnd() ? static_cast<std::uint32_t>(tree_.tokens.size()) : significant_[pos_];
}

/// One message for one place: what follows from the first is noise.
bool ParseState::hasErrorHere() const { return !tree_.errors.empty() && tree_.errors.back().token == place(); }

void ParseState::report(std::string message) {
    if (!hasErrorHere()) tree_.errors.push_back({place(), std::move(message)});
}

void ParseState::reportMissingTerminator() {
    if (hasErrorHere() && !expected_.empty()) {
        tree_.errors.back().message = fmt::format("The statement ends where {} should follow.", expected_);
    }
    tree_.errors.push_back({place(), "“;” is missing before this statement.", true});
}

void ParseState::close(NodeKind kind, Mark from, std::size_t fromPosition) {
    if (pos_ == fromPosition && from == finished_.size()) return;  // nothing taken: no node
    const auto index = static_cast<std::uint32_t>(tree_.nodes.size());
    const std::uint32_t levels = adopt(index, from) + 1;
    Node& node = tree_.nodes.emplace_back();
    node.kind = kind;
    node.firstToken = fromPosition < significant_.size() ? significant_[fromPosition]
                                                         : static_cast<std::uint32_t>(tree_.tokens.size());
    node.endToken = pos_ > fromPosition ? significant_[pos_ - 1] + 1 : node.firstToken;
    if (from < finished_.size()) node.firstChild = finished_[from].node;
    finished_.resize(from);
    finished_.push_back({index, levels});
    tree_.levels = std::max(tree_.levels, levels);
}

/// Makes the siblings finished since `from` the children of a node; how many levels they have.
std::uint32_t ParseState::adopt(std::uint32_t parent, Mark from) {
    std::uint32_t levels = 0;
    for (std::size_t i = from; i < finished_.size(); ++i) {
        tree_.nodes[finished_[i].node].parent = parent;
        levels = std::max(levels, finished_[i].levels);
        if (i > from) tree_.nodes[finished_[i - 1].node].nextSibling = finished_[i].node;
    }
    return levels;
}

std::size_t ParseState::startOfLast() const {
    const std::uint32_t token = tree_.nodes[finished_.back().node].firstToken;
    return static_cast<std::size_t>(std::ranges::lower_bound(significant_, token) - significant_.begin());
}

void ParseState::finish() {
    adopt(0, 0);
    Node& root = tree_.nodes[0];
    root.kind = NodeKind::Statement;
    root.endToken = static_cast<std::uint32_t>(tree_.tokens.size());
    if (!finished_.empty()) root.firstChild = finished_.front().node;
}

}  // namespace pantry::sql
