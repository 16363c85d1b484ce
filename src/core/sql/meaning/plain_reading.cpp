#include "core/sql/meaning/plain_reading.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <optional>
#include <set>

#include "core/base/text.h"
#include "core/sql/meaning/harmless_functions.h"
#include "core/sql/meaning/statement.h"
#include "core/sql/syntax/splitter.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

/// Nodes of which a query consists, and that change nothing by themselves.
bool isOfQuery(NodeKind kind) {
    switch (kind) {
        case NodeKind::Query:
        case NodeKind::WithClause:
        case NodeKind::CommonTable:
        case NodeKind::SelectCore:
        case NodeKind::ParenQuery:
        case NodeKind::SetOperation:
        case NodeKind::ValuesClause:
        case NodeKind::TableCommand:
        case NodeKind::SelectClause:
        case NodeKind::SelectItem:
        case NodeKind::Alias:
        case NodeKind::ColumnList:
        case NodeKind::FromClause:
        case NodeKind::WhereClause:
        case NodeKind::GroupByClause:
        case NodeKind::HavingClause:
        case NodeKind::WindowClause:
        case NodeKind::OrderByClause:
        case NodeKind::OrderItem:
        case NodeKind::LimitClause:
        case NodeKind::TableName:
        case NodeKind::DerivedTable:
        case NodeKind::FunctionTable:
        case NodeKind::ParenTable:
        case NodeKind::Join:
        case NodeKind::OnCondition:
        case NodeKind::UsingColumns:
        case NodeKind::Name:
        case NodeKind::Star:
        case NodeKind::Literal:
        case NodeKind::ParameterRef:
        case NodeKind::Unary:
        case NodeKind::Binary:
        case NodeKind::LogicalChain:
        case NodeKind::Between:
        case NodeKind::InList:
        case NodeKind::Paren:
        case NodeKind::Subquery:
        case NodeKind::Exists:
        case NodeKind::Call:
        case NodeKind::Arguments:
        case NodeKind::OverClause:
        case NodeKind::WindowSpec:
        case NodeKind::CaseExpression:
        case NodeKind::CaseBranch:
        case NodeKind::TypeCast:
        case NodeKind::TypeName:
        case NodeKind::Subscript:
        case NodeKind::ArrayLiteral:
        case NodeKind::Interval:
        case NodeKind::JsonColumns:
        case NodeKind::ColumnDefinition: return true;
        default: return false;
    }
}

/// Statements that EXPLAIN can be asked about without running them.
bool isExplainable(NodeKind kind) {
    return kind == NodeKind::Query || kind == NodeKind::InsertStatement || kind == NodeKind::UpdateStatement ||
           kind == NodeKind::DeleteStatement || kind == NodeKind::MergeStatement;
}

constexpr std::string_view kNotKnown = "This statement is not known to be plain reading.";

class QueryReader {
public:
    /// Lifetime: views the statement.
    explicit QueryReader(const Statement& statement)
        : statement_(statement),
          text_(statement.text()),
          language_(statement.language()),
          dialect_(language_.dialect),
          tree_(statement.tree()) {}

    PlainReading read() {
        if (text_.find('\0') != std::string_view::npos) return refuse("The statement holds a zero byte.");
        const std::vector<Token>& tokens = statement_.tokens();
        const std::vector<StatementSpan> spans = Splitter(text_, tokens, language_).split();
        if (spans.empty()) return out_;
        if (spans.size() > 1) return refuse("The text holds more than one statement for the server.");
        for (const Token& token : tokens) {
            if (token.kind == TokenKind::DelimiterLine || token.kind == TokenKind::BackslashLine)
                return refuse(std::string(kNotKnown));
        }
        if (std::ranges::any_of(tokens, [](const Token& t) { return t.kind == TokenKind::ExecutableComment; })) {
            return withExecutableComments(tokens);
        }
        text_ = text_.substr(spans.front().start, spans.front().length);
        if (tree_.hasErrors() || tree_.isBeyondWalking()) {
            return refuse("The statement cannot be read to its end, so what it does is not known." +
                          (tree_.errors.empty() ? "" : " " + tree_.errors.front().message));
        }
        for (std::uint32_t i = 0; i < tree_.tokens.size(); ++i) {
            if (!tree_.tokens[i].isSilent()) significant_.push_back(i);
        }
        const std::vector<std::uint32_t> parts = tree_.childrenOf(0);
        if (parts.size() != 1) return refuse(std::string(kNotKnown));
        whole(parts.front());
        std::ranges::sort(out_.calls);
        out_.calls.erase(std::unique(out_.calls.begin(), out_.calls.end()), out_.calls.end());
        return out_;
    }

private:
    PlainReading refuse(std::string why) {
        if (out_.doubt.empty()) out_.doubt = std::move(why);
        return out_;
    }
    void doubt(std::string why) {
        if (out_.doubt.empty()) out_.doubt = std::move(why);
    }
    void doubt() { doubt(std::string(kNotKnown)); }

    /// What stands in an executable comment is read by some servers and not by others: both readings must be plain.
    /// One that asks for a version is beyond telling.
    PlainReading withExecutableComments(const std::vector<Token>& tokens) {
        std::string with(text_);
        std::string without(text_);
        bool isForAll = true;
        for (const Token& token : tokens) {
            if (token.kind != TokenKind::ExecutableComment) continue;
            const std::string_view piece = token.textIn(text_);
            const std::size_t mark = piece.find('!');
            const bool asksForVersion = mark + 1 < piece.size() && piece[mark + 1] >= '0' && piece[mark + 1] <= '9';
            const bool isWhole = token.isClosed && piece.ends_with("*/") && piece.size() >= mark + 3;
            if (asksForVersion || !isWhole) {
                return refuse("An executable comment in it is read by some versions of the server and not by others.");
            }
            isForAll = isForAll && mark == 2;  // /*M! … */ is a comment to some servers
            std::fill_n(with.begin() + token.start, mark + 1, ' ');
            std::fill_n(with.begin() + token.end() - 2, 2, ' ');
            std::fill_n(without.begin() + token.start, token.length, ' ');
        }
        PlainReading inside = QueryReader(Statement(std::move(with), language_)).read();
        if (isForAll || !inside.isPlain()) return inside;
        PlainReading outside = QueryReader(Statement(std::move(without), language_)).read();
        if (!outside.isPlain()) return outside;
        for (CalledName& call : outside.calls) inside.calls.push_back(std::move(call));
        return inside;
    }

    [[nodiscard]] const Token& token(std::size_t n) const { return tree_.tokens[significant_[n]]; }
    [[nodiscard]] std::string_view textAt(std::size_t n) const { return token(n).textIn(text_); }
    /// The n-th significant token as a name without quotes and in lower case; empty beyond the end.
    [[nodiscard]] std::string word(std::size_t n) const {
        return n < significant_.size() ? base::toLower(unquotedName(textAt(n))) : std::string();
    }
    [[nodiscard]] bool isAt(std::size_t n, Keyword keyword) const {
        return n < significant_.size() && token(n).is(keyword);
    }
    [[nodiscard]] std::size_t size() const { return significant_.size(); }

    void whole(std::uint32_t node) {
        switch (tree_.nodes[node].kind) {
            case NodeKind::Query: return query(node);
            case NodeKind::ExplainStatement: return explain(node);
            case NodeKind::SetStatement: return setting(node);
            case NodeKind::PrepareStatement: return prepare(node);
            case NodeKind::CopyStatement: return copy(node);
            case NodeKind::Declaration: return cursor(node);
            case NodeKind::CallStatement: return doExpressions(node);
            case NodeKind::UtilityStatement: return utility(node);
            default: return doubt();
        }
    }

    // ---- Queries ----

    void query(std::uint32_t node) {
        names(node);
        mustBeOfQuery(node);
    }

    /// The children of a node that is none of a query's itself.
    void expressionsOf(std::uint32_t node) {
        names(node);
        for (std::uint32_t c = tree_.nodes[node].firstChild; c != Node::kNone; c = tree_.nodes[c].nextSibling)
            mustBeOfQuery(c);
    }

    void mustBeOfQuery(std::uint32_t root) {
        std::vector<std::uint32_t> open{root};
        while (!open.empty()) {
            const std::uint32_t n = open.back();
            open.pop_back();
            part(n);
            for (std::uint32_t c = tree_.nodes[n].firstChild; c != Node::kNone; c = tree_.nodes[c].nextSibling)
                open.push_back(c);
        }
    }

    void part(std::uint32_t n) {
        switch (tree_.nodes[n].kind) {
            case NodeKind::IntoClause: return into(n);
            case NodeKind::LockClause: return lock(n);
            case NodeKind::OptionGroup:
            case NodeKind::Options: return options(n);
            case NodeKind::InsertStatement:
            case NodeKind::UpdateStatement:
            case NodeKind::DeleteStatement:
            case NodeKind::MergeStatement: return doubt("A part of it changes rows.");
            default: break;
        }
        if (!isOfQuery(tree_.nodes[n].kind)) doubt();
    }

    /// SELECT … INTO @variable tells nobody but this session; into a table or a file is a change.
    void into(std::uint32_t n) {
        const Node& node = tree_.nodes[n];
        bool isIntoVariables = dialect_ == Dialect::MySql;
        for (std::uint32_t i = node.firstToken + 1; i < node.endToken; ++i) {
            const Token& t = tree_.tokens[i];
            const bool isVariable = t.kind == TokenKind::Variable && !t.textIn(text_).starts_with("@@");
            if (!t.isSilent() && t.kind != TokenKind::Comma && !isVariable) isIntoVariables = false;
        }
        if (!isIntoVariables) doubt("SELECT … INTO writes what it reads.");
    }

    void lock(std::uint32_t n) {
        const Node& node = tree_.nodes[n];
        for (std::uint32_t i = node.firstToken; i < node.endToken; ++i) {
            const Token& t = tree_.tokens[i];
            if (t.isSilent() || t.is(Keyword::For) || t.is(Keyword::Read) || t.is(Keyword::Only)) continue;
            return doubt("It locks the rows that it reads.");
        }
    }

    /// Words that are the server's business are let through where nothing among them can be a call or a statement.
    void options(std::uint32_t n) {
        const Node& node = tree_.nodes[n];
        bool wasWord = false;
        for (std::uint32_t i = node.firstToken; i < node.endToken; ++i) {
            const Token& t = tree_.tokens[i];
            if (t.isSilent()) continue;
            if (t.kind == TokenKind::OpenParen && wasWord) return doubt();
            wasWord = t.kind == TokenKind::Word || t.kind == TokenKind::QuotedName;
        }
    }

    /// Collects what is called in a part of the tree, and finds what calls without looking like it.
    void names(std::uint32_t root) {
        const Node& whole = tree_.nodes[root];
        for (std::uint32_t i = whole.firstToken; i < whole.endToken; ++i) tokenOfQuery(i);
        for (std::uint32_t i = 0; i < tree_.nodes.size(); ++i) {
            const Node& node = tree_.nodes[i];
            if (node.firstToken < whole.firstToken || node.endToken > whole.endToken) continue;
            if (node.kind == NodeKind::Call || node.kind == NodeKind::FunctionTable) call(i);
            if (node.kind == NodeKind::TableName || node.kind == NodeKind::TableCommand) relation(i);
            if (node.kind == NodeKind::Name) dotted(i);
        }
    }

    void tokenOfQuery(std::uint32_t index) {
        const Token& t = tree_.tokens[index];
        const std::string_view piece = t.textIn(text_);
        if (t.kind == TokenKind::Operator) out_.operators.emplace_back(piece);
        if (t.kind == TokenKind::Invalid && piece != "{" && piece != "}") doubt();
        const bool hasEscapes = t.kind == TokenKind::QuotedName && (piece.starts_with("U&") || piece.starts_with("u&"));
        if (hasEscapes) doubt("A name in it is written with escapes.");
    }

    void call(std::uint32_t n) {
        if (tree_.tokens[tree_.nodes[n].firstToken].is(Keyword::Next))
            return doubt("NEXT VALUE FOR moves a sequence on.");
        if (tree_.tokens[tree_.nodes[n].firstToken].is(Keyword::Previous)) return;
        const std::uint32_t name = tree_.childOf(n, NodeKind::Name);
        if (name == Node::kNone) return;  // CAST(…), CURRENT_DATE: the grammar's own
        const std::vector<std::string> parts = partsOf(name);
        if (parts.empty()) return doubt();
        CalledName called{.schema = {}, .name = parts.back()};
        if (parts.size() > 1) called.schema = parts[parts.size() - 2];
        out_.calls.push_back(std::move(called));
    }

    /// SQLite runs a PRAGMA for a relation of that name.
    void relation(std::uint32_t n) {
        const std::uint32_t name = tree_.childOf(n, NodeKind::Name);
        if (name == Node::kNone) return;
        const std::vector<std::string> parts = partsOf(name, dialect_ != Dialect::MySql);
        if (parts.empty()) return;
        out_.relations.push_back({parts.size() > 1 ? parts[parts.size() - 2] : std::string(), parts.back()});
        const bool isPragma = dialect_ == Dialect::Sqlite && parts.back().starts_with("pragma_");
        if (isPragma) out_.calls.push_back({{}, parts.back()});
    }

    void dotted(std::uint32_t n) {
        const std::vector<std::string> parts = partsOf(n);
        if (parts.size() < 2) return;
        const std::string& last = parts.back();
        if (dialect_ == Dialect::MySql && (last == "nextval" || last == "setval")) {
            doubt(fmt::format("{} moves a sequence on.", last));
        }
        if (dialect_ == Dialect::Postgres) out_.fields.push_back(last);
    }

    /// The parts of a dotted name as the engine compares them.
    [[nodiscard]] std::vector<std::string> partsOf(std::uint32_t n, bool foldsCase = true) const {
        std::vector<std::string> parts;
        const Node& node = tree_.nodes[n];
        for (std::uint32_t i = node.firstToken; i < node.endToken; ++i) {
            const Token& t = tree_.tokens[i];
            if (t.isSilent() || t.kind == TokenKind::Dot) continue;
            if (t.kind != TokenKind::Word && t.kind != TokenKind::QuotedName) continue;
            const std::string_view piece = t.textIn(text_);
            const bool tellsCase = t.kind == TokenKind::QuotedName && dialect_ == Dialect::Postgres;
            parts.push_back(tellsCase || !foldsCase ? unquotedName(piece) : base::toLower(unquotedName(piece)));
        }
        return parts;
    }

    // ---- Other statements ----

    /// Without ANALYZE nothing is run. What a plan needs of functions is computed all the same.
    void explain(std::uint32_t node) {
        std::uint32_t inner = Node::kNone;
        for (std::uint32_t c = tree_.nodes[node].firstChild; c != Node::kNone; c = tree_.nodes[c].nextSibling) {
            const NodeKind kind = tree_.nodes[c].kind;
            if (kind == NodeKind::OptionGroup || kind == NodeKind::Options) {
                options(c);
                continue;
            }
            inner = c;
        }
        const std::uint32_t end = inner == Node::kNone ? tree_.nodes[node].endToken : tree_.nodes[inner].firstToken;
        bool runs = dialect_ == Dialect::Ansi;
        for (std::uint32_t i = tree_.nodes[node].firstToken; i < end; ++i) {
            const Token& t = tree_.tokens[i];
            if (t.isSilent()) continue;
            const std::string name = base::toLower(unquotedName(t.textIn(text_)));
            if (name == "analyze" || name == "analyse" || name.starts_with("u&")) runs = true;
        }
        if (inner == Node::kNone) return;  // EXPLAIN FOR CONNECTION 5
        const NodeKind kind = tree_.nodes[inner].kind;
        if (kind == NodeKind::TableName) return;
        if (kind == NodeKind::Query) return query(inner);
        if (runs) return doubt("EXPLAIN ANALYZE runs the statement.");
        if (!isExplainable(kind)) return doubt();
        out_.explainsChange = true;
        names(inner);
    }

    void prepare(std::uint32_t node) {
        const std::uint32_t inner = tree_.childOf(node, NodeKind::Query);
        if (inner == Node::kNone) return doubt("What is prepared is not known to be plain reading.");
        query(inner);
    }

    /// COPY … TO STDOUT; a file or a program of the server is written to.
    void copy(std::uint32_t node) {
        std::uint32_t words = Node::kNone;
        for (std::uint32_t c = tree_.nodes[node].firstChild; c != Node::kNone; c = tree_.nodes[c].nextSibling) {
            const NodeKind kind = tree_.nodes[c].kind;
            if (kind == NodeKind::Options) {
                words = c;
            } else if (kind == NodeKind::Paren || kind == NodeKind::Subquery) {
                query(c);
            } else if (kind != NodeKind::TableName && kind != NodeKind::ColumnList) {
                return doubt();
            }
        }
        if (words == Node::kNone) return doubt();
        std::vector<std::uint32_t> found;
        for (std::uint32_t i = tree_.nodes[words].firstToken; i < tree_.nodes[words].endToken; ++i) {
            if (!tree_.tokens[i].isSilent()) found.push_back(i);
        }
        const bool isOut = found.size() >= 2 && tree_.tokens[found[0]].is(Keyword::To) &&
                           tree_.tokens[found[1]].kind == TokenKind::Word &&
                           base::equalsIgnoringCase(tree_.tokens[found[1]].textIn(text_), "stdout");
        if (!isOut) return doubt("COPY reads or writes something other than what comes back.");
    }

    /// DECLARE … CURSOR FOR query
    void cursor(std::uint32_t node) {
        const std::uint32_t inner = tree_.childOf(node, NodeKind::Query);
        if (dialect_ != Dialect::Postgres || inner == Node::kNone) return doubt();
        query(inner);
    }

    /// DO expression, … of MariaDB computes and throws away.
    void doExpressions(std::uint32_t node) {
        if (!isAt(0, Keyword::Do) || dialect_ != Dialect::MySql) {
            return doubt("What it calls may change anything; its text does not tell.");
        }
        expressionsOf(node);
    }

    void utility(std::uint32_t node) {
        const Keyword verb = token(0).keyword;
        switch (verb) {
            case Keyword::Begin:
            case Keyword::Start:
            case Keyword::Commit:
            case Keyword::End:
            case Keyword::Rollback:
            case Keyword::Abort:
            case Keyword::Savepoint:
            case Keyword::Release: return transaction();
            case Keyword::Show: return show(node);
            case Keyword::Pragma: return pragma();
            case Keyword::Reset: return reset();
            case Keyword::Use: return allowed(dialect_ == Dialect::MySql && size() == 2);
            case Keyword::Help: return allowed(dialect_ == Dialect::MySql && size() == 2);
            case Keyword::Checksum: return allowed(dialect_ == Dialect::MySql && isAt(1, Keyword::Table));
            case Keyword::Fetch:
            case Keyword::Move:
            case Keyword::Close:
            case Keyword::Listen:
            case Keyword::Unlisten:
            case Keyword::Deallocate: return allowed(dialect_ != Dialect::Sqlite && onlyWords(1));
            default: return doubt();
        }
    }

    void allowed(bool isAllowed) {
        if (!isAllowed) doubt();
    }

    [[nodiscard]] bool onlyWords(std::size_t from) const {
        for (std::size_t i = from; i < size(); ++i) {
            const TokenKind kind = token(i).kind;
            const bool isPlain = kind == TokenKind::Word || kind == TokenKind::QuotedName ||
                                 kind == TokenKind::Number || kind == TokenKind::Operator || kind == TokenKind::Comma ||
                                 kind == TokenKind::Dot || kind == TokenKind::String || kind == TokenKind::Parameter;
            if (!isPlain) return false;
        }
        return true;
    }

    /// Begins and ends of transactions, as far as each of their words is known.
    void transaction() {
        constexpr auto kWords = std::to_array<std::string_view>(
            {"begin",    "work",  "transaction", "tran",        "start",      "isolation",    "level",      "read",
             "only",     "write", "committed",   "uncommitted", "repeatable", "serializable", "deferrable", "not",
             "deferred", "with",  "consistent",  "snapshot",    "and",        "chain",        "no",         "release",
             "commit",   "end",   "rollback",    "abort",       "to",         "savepoint",    ","});
        out_.isControl = true;
        bool isNameDue = isAt(0, Keyword::Savepoint) || isAt(0, Keyword::Release);
        for (std::size_t i = 0; i < size(); ++i) {
            const std::string w = word(i);
            const bool isKnown = std::ranges::find(kWords, w) != kWords.end();
            if (isAt(i, Keyword::To)) isNameDue = true;
            if (isKnown) continue;
            const bool isName = token(i).kind == TokenKind::Word || token(i).kind == TokenKind::QuotedName;
            const bool isEndsOwn = i == size() - 1 && isName;
            if (!isNameDue || !isEndsOwn) {
                out_.isControl = false;
                return doubt();
            }
        }
        const bool begins = isAt(0, Keyword::Begin) || isAt(0, Keyword::Start);
        bool isReadOnly = false;
        for (std::size_t i = 1; i + 1 < size(); ++i)
            isReadOnly = isReadOnly || (word(i) == "read" && word(i + 1) == "only");
        out_.startsWriting = begins && !isReadOnly;
    }

    /// SHOW words [LIKE …] [WHERE condition]
    void show(std::uint32_t node) {
        if (dialect_ == Dialect::Sqlite) return doubt();
        for (std::uint32_t c = tree_.nodes[node].firstChild; c != Node::kNone; c = tree_.nodes[c].nextSibling) {
            const NodeKind kind = tree_.nodes[c].kind;
            if (kind == NodeKind::Options) {
                const std::uint32_t group = tree_.childOf(c, NodeKind::OptionGroup);
                const bool isCount = group != Node::kNone && tree_.textOf(tree_.nodes[group], text_) == "(*)";
                if (!isCount) options(c);
                if (!isCount && group != Node::kNone) doubt();
            } else if (kind == NodeKind::WhereClause) {
                query(c);
            } else {
                return doubt();
            }
        }
    }

    void pragma() {
        if (dialect_ != Dialect::Sqlite) return doubt();
        std::size_t at = 1;
        std::string name = word(at++);
        if (at < size() && token(at).kind == TokenKind::Dot) {
            name = word(at + 1);
            at += 2;
        }
        if (isHarmlessPragma(name, at < size())) return;
        doubt(fmt::format("PRAGMA {} is not known to change nothing.", name));
    }

    void reset() {
        const bool isOne = dialect_ == Dialect::Postgres && size() == 2 && isHarmlessSetting(word(1), dialect_);
        const bool isZone = dialect_ == Dialect::Postgres && size() == 3 && word(1) == "time" && word(2) == "zone";
        if (!isOne && !isZone) doubt("RESET may change how statements are read, or what guards this session.");
    }

    // ---- SET ----

    void setting(std::uint32_t node) {
        if (dialect_ == Dialect::Postgres) return postgresSetting();
        if (dialect_ == Dialect::MySql) return mariaDbSetting(node);
        doubt();
    }

    void settingDoubt(const std::string& name) {
        doubt(fmt::format("SET {} may change more than this session's own comfort.", name));
    }

    /// TRANSACTION and SESSION CHARACTERISTICS AS TRANSACTION, with nothing that opens the way for writing.
    [[nodiscard]] bool isTransactionSetting(std::size_t at) const {
        if (word(at) != "transaction") return false;
        constexpr auto kWords =
            std::to_array<std::string_view>({"isolation", "level", "read", "only", "committed", "uncommitted",
                                             "repeatable", "serializable", "deferrable", "not", ","});
        for (std::size_t i = at + 1; i < size(); ++i) {
            if (std::ranges::find(kWords, word(i)) == kWords.end()) return false;
        }
        return size() > at + 1;
    }

    void postgresSetting() {
        std::size_t at = 1;
        const bool isScoped = isAt(at, Keyword::Session) || isAt(at, Keyword::Local);
        if (isScoped) ++at;
        if (word(at) == "characteristics" && isScoped && word(at + 1) == "as") {
            if (!isTransactionSetting(at + 2)) settingDoubt("SESSION CHARACTERISTICS");
            return;
        }
        if (word(at) == "transaction") {
            out_.isControl = true;
            if (!isTransactionSetting(at)) settingDoubt("TRANSACTION");
            return;
        }
        if (!onlyWords(at)) return doubt();
        if (word(at) == "time" && word(at + 1) == "zone") return;
        if (word(at) == "schema") return;
        std::string name = word(at);
        if (name.starts_with("u&")) return doubt();
        const bool isAssigned = word(at + 1) == "to" || word(at + 1) == "=";
        const std::string value = at + 2 < size() ? base::toLower(textAt(at + 2)) : std::string();
        const bool isTrue = value == "on" || value == "true" || value == "'on'" || value == "1";
        const bool locksMore = name == "default_transaction_read_only" || name == "transaction_read_only";
        if (isAssigned && locksMore && isTrue && size() == at + 3) return;
        if (name == "transaction_isolation" || name == "transaction_deferrable") out_.isControl = true;
        if (!isAssigned || !isHarmlessSetting(name, dialect_)) settingDoubt(name);
    }

    void mariaDbSetting(std::uint32_t node) {
        if (isAt(1, Keyword::Statement)) return settingForStatement(node);
        if (isTransactionSetting(1)) {
            out_.isControl = true;
            return;
        }
        if (isAt(1, Keyword::Session) && isTransactionSetting(2)) return;
        if (word(1) == "names" || word(1) == "charset" || (word(1) == "character" && word(2) == "set")) {
            return encoding();
        }
        for (std::uint32_t c = tree_.nodes[node].firstChild; c != Node::kNone; c = tree_.nodes[c].nextSibling) {
            if (tree_.nodes[c].kind != NodeKind::Assignment) return doubt("SET may change more than this session.");
            assignment(c);
        }
        // GLOBAL and its like are tokens of the statement's own.
        for (std::size_t i = 1; i < size(); ++i) {
            const Token& t = token(i);
            const bool isOwn = tree_.nodeAt(significant_[i]) == node;
            const bool isScope = t.is(Keyword::Session) || t.is(Keyword::Local) || t.kind == TokenKind::Comma;
            if (isOwn && !isScope) return doubt("SET GLOBAL changes the server for everybody.");
        }
    }

    /// SET NAMES and SET CHARACTER SET: only what cannot change where a quoted text ends.
    void encoding() {
        constexpr auto kSafe =
            std::to_array<std::string_view>({"utf8", "utf8mb3", "utf8mb4", "latin1", "ascii", "default", "'utf8'",
                                             "'utf8mb4'", "'utf8mb3'", "'latin1'"});
        const std::size_t at = word(1) == "character" ? 3 : 2;
        const std::string value = at < size() ? base::toLower(textAt(at)) : std::string();
        const bool isSafe = std::ranges::find(kSafe, value) != kSafe.end();
        const bool isCollated = at + 1 == size() || (at + 3 == size() && word(at + 1) == "collate");
        if (!isSafe || !isCollated) settingDoubt("NAMES");
    }

    void assignment(std::uint32_t n) {
        const Node& node = tree_.nodes[n];
        expressionsOf(n);
        const Token& target = tree_.tokens[node.firstToken];
        const std::string name = base::toLower(target.textIn(text_));
        if (target.kind == TokenKind::Variable) {
            if (!name.starts_with("@@")) return;  // a variable of one's own
            std::string_view setting = std::string_view(name).substr(2);
            for (const std::string_view scope : {"session.", "local."}) {
                if (setting.starts_with(scope)) setting.remove_prefix(scope.size());
            }
            // Behind a scope of another kind, or a name in quotes, a dot is left.
            if (!isHarmlessSetting(setting, dialect_)) settingDoubt(name);
            return;
        }
        const std::uint32_t named = tree_.childOf(n, NodeKind::Name);
        const std::vector<std::string> parts = named == Node::kNone ? std::vector<std::string>{} : partsOf(named);
        if (parts.size() != 1 || !isHarmlessSetting(parts.front(), dialect_)) {
            settingDoubt(parts.empty() ? name : parts.back());
        }
    }

    /// SET STATEMENT name = value, … FOR statement: both halves must be harmless.
    void settingForStatement(std::uint32_t node) {
        std::uint32_t inner = Node::kNone;
        for (std::uint32_t c = tree_.nodes[node].firstChild; c != Node::kNone; c = tree_.nodes[c].nextSibling) {
            const NodeKind kind = tree_.nodes[c].kind;
            if (kind == NodeKind::Options) {
                settingsBeforeFor(c);
            } else {
                inner = c;
            }
        }
        if (inner == Node::kNone) return doubt();
        if (tree_.nodes[inner].kind != NodeKind::Query) return doubt("SET STATEMENT … FOR runs a statement.");
        query(inner);
    }

    void settingsBeforeFor(std::uint32_t n) {
        const Node& node = tree_.nodes[n];
        bool isNameDue = true;
        for (std::uint32_t i = node.firstToken; i < node.endToken; ++i) {
            const Token& t = tree_.tokens[i];
            if (t.isSilent() || (i == node.firstToken && t.is(Keyword::Statement))) continue;
            const std::string name = base::toLower(unquotedName(t.textIn(text_)));
            if (t.kind == TokenKind::OpenParen) return doubt();
            if (isNameDue && !isHarmlessSetting(name, dialect_)) return settingDoubt(name);
            isNameDue = t.kind == TokenKind::Comma;
        }
    }

    const Statement& statement_;
    std::string_view text_;
    Language language_;
    Dialect dialect_;
    const SyntaxTree& tree_;
    std::vector<std::uint32_t> significant_;
    PlainReading out_;
};

}  // namespace

PlainReading plainReadingOf(std::string_view statement, const Language& language) {
    return plainReadingOf(Statement(std::string(statement), language));
}

PlainReading plainReadingOf(const Statement& statement) { return QueryReader(statement).read(); }

std::vector<CalledName> withoutHarmless(const std::vector<CalledName>& calls, Dialect dialect) {
    if (dialect == Dialect::Postgres) return calls;
    std::vector<CalledName> left;
    for (const CalledName& call : calls) {
        constexpr std::string_view kPragma = "pragma_";
        const bool isPragma = dialect == Dialect::Sqlite && call.name.starts_with(kPragma);
        const bool isHarmless = isPragma ? isHarmlessPragma(std::string_view(call.name).substr(kPragma.size()), false)
                                         : isHarmlessFunction(call.name, dialect);
        if (!isHarmless || !call.schema.empty()) left.push_back(call);
    }
    return left;
}

bool isPlainReading(std::string_view statement, const Language& language) {
    const PlainReading reading = plainReadingOf(statement, language);
    return reading.isPlain() && withoutHarmless(reading.calls, language).empty();
}

}  // namespace pantry::sql
