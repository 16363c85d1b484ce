#include "core/sql/meaning/risk.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "core/base/text.h"
#include "core/sql/meaning/statement.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

/// Functions of the engines that change something though a SELECT calls them.
constexpr auto kChangingFunctions = std::to_array<std::string_view>(
    {"setval", "pg_terminate_backend", "pg_cancel_backend", "pg_reload_conf", "pg_switch_wal", "pg_promote",
     "lo_unlink", "lo_import", "lo_create", "dblink_exec", "pg_drop_replication_slot", "writefile", "load_extension"});

/// How much an effect says about harm.
int weightOf(StatementEffect effect) {
    switch (effect) {
        case StatementEffect::Reads: return 0;
        case StatementEffect::Transacts: return 1;
        case StatementEffect::Configures: return 2;
        case StatementEffect::Unknown: return 3;
        case StatementEffect::Writes: return 4;
        case StatementEffect::Defines: return 5;
    }
    return 3;
}

class RiskFinder {
public:
    /// Lifetime: views the statement.
    explicit RiskFinder(const Statement& statement)
        : text_(statement.text()), tree_(statement.tree()), dialect_(statement.language().dialect) {}

    StatementRisk find() {
        wholeStatement();
        for (std::uint32_t i = 0; i < tree_.nodes.size(); ++i) node(i);
        hiddenText();
        return std::move(risk_);
    }

private:
    void raise(StatementEffect effect, std::string reason, bool isReckless = false) {
        const bool isStronger = weightOf(effect) > weightOf(risk_.effect) || (isReckless && !risk_.isReckless);
        if (isStronger || risk_.reason.empty()) risk_.reason = std::move(reason);
        if (weightOf(effect) > weightOf(risk_.effect)) risk_.effect = effect;
        risk_.isReckless = risk_.isReckless || isReckless;
    }

    [[nodiscard]] bool hasWord(Keyword keyword) const {
        return std::ranges::any_of(tree_.tokens, [&](const Token& t) { return t.is(keyword); });
    }
    [[nodiscard]] std::string_view textOf(std::uint32_t node) const { return tree_.textOf(tree_.nodes[node], text_); }
    [[nodiscard]] std::uint32_t child(std::uint32_t node, NodeKind kind) const { return tree_.childOf(node, kind); }

    /// By its leading verb.
    void wholeStatement() {
        const StatementEffect effect = effectOf(tree_.kind);
        switch (tree_.kind) {
            case StatementKind::Select:
            case StatementKind::Values:
            case StatementKind::Table:
            case StatementKind::Explain:
            case StatementKind::Insert:
            case StatementKind::Update:
            case StatementKind::Delete:
            case StatementKind::Merge: return;  // their parts say it
            case StatementKind::Copy:
                if (hasWord(Keyword::From) || hasWord(Keyword::Program)) {
                    raise(StatementEffect::Writes, "COPY writes rows.");
                }
                return;
            case StatementKind::Drop: return raise(effect, "DROP takes it away, with everything in it.", true);
            case StatementKind::Truncate: return raise(effect, "TRUNCATE takes away every row.", true);
            case StatementKind::Alter:
                return raise(effect,
                             hasWord(Keyword::Drop) ? "This takes away a part, with everything in it."
                                                    : "ALTER changes what is there.",
                             hasWord(Keyword::Drop));
            case StatementKind::Set:
                if (hasWord(Keyword::Global) || hasWord(Keyword::Persist)) {
                    return raise(StatementEffect::Defines, "This changes the server for everybody.");
                }
                return raise(effect, "");
            case StatementKind::Vacuum:
            case StatementKind::Call:
            case StatementKind::Do:
            case StatementKind::Execute:
            case StatementKind::Block:
            case StatementKind::Kill:
            case StatementKind::Flush:
            case StatementKind::Other: return raise(effect, "It may change anything; its text does not tell.");
            case StatementKind::Analyze:
            case StatementKind::Notify: return raise(StatementEffect::Configures, "");
            default: break;
        }
        raise(effect, effect == StatementEffect::Writes    ? "It changes rows."
                      : effect == StatementEffect::Defines ? "It changes what tables and other objects there are."
                                                           : "");
    }

    /// EXPLAIN runs nothing unless it is told to analyse.
    [[nodiscard]] bool isOnlyExplained(std::uint32_t node) const {
        for (std::uint32_t n = node; n != Node::kNone; n = tree_.nodes[n].parent) {
            if (tree_.nodes[n].kind == NodeKind::ExplainStatement) {
                return !hasWord(Keyword::Analyze) && !hasWord(Keyword::Analyse);
            }
            if (tree_.nodes[n].kind == NodeKind::PrepareStatement) return true;
        }
        return false;
    }

    void node(std::uint32_t n) {
        switch (tree_.nodes[n].kind) {
            case NodeKind::InsertStatement: return changing(n, "It adds rows.");
            case NodeKind::MergeStatement: return changing(n, "MERGE changes rows.");
            case NodeKind::UpdateStatement: return limited(n, "UPDATE changes");
            case NodeKind::DeleteStatement: return limited(n, "DELETE takes away");
            case NodeKind::IntoClause:
                if (dialect_ == Dialect::Postgres || dialect_ == Dialect::Ansi) {
                    if (!isOnlyExplained(n)) raise(StatementEffect::Defines, "SELECT … INTO makes a table.");
                }
                return;
            case NodeKind::Call: return call(n);
            default: return;
        }
    }

    void changing(std::uint32_t n, std::string reason) {
        if (!isOnlyExplained(n)) raise(StatementEffect::Writes, std::move(reason));
    }

    void limited(std::uint32_t n, std::string_view verb) {
        if (isOnlyExplained(n)) return;
        const std::uint32_t where = child(n, NodeKind::WhereClause);
        const bool isLimited = where != Node::kNone || child(n, NodeKind::LimitClause) != Node::kNone;
        raise(StatementEffect::Writes,
              isLimited ? fmt::format("{} rows.", verb) : fmt::format("{} every row: there is no WHERE.", verb),
              !isLimited);
        if (risk_.countQuery.empty()) risk_.countQuery = countQuery(n);
    }

    void call(std::uint32_t n) {
        const std::uint32_t name = child(n, NodeKind::Name);
        const Node& owner = tree_.nodes[name == Node::kNone ? n : name];
        const std::string function = base::toLower(tree_.tokens[owner.firstToken].textIn(text_));
        if (std::ranges::find(kChangingFunctions, function) == kChangingFunctions.end() || isOnlyExplained(n)) return;
        raise(StatementEffect::Writes, fmt::format("{}() changes something.", function));
    }

    /// Executable comments are text for the server and nothing for the grammar.
    void hiddenText() {
        for (const Token& token : tree_.tokens) {
            if (token.kind != TokenKind::ExecutableComment) continue;
            const std::string inside = base::toLower(token.textIn(text_));
            for (const char* verb : {"insert", "update", "delete", "drop", "alter", "truncate", "create", "replace"}) {
                if (inside.find(verb) == std::string::npos) continue;
                raise(StatementEffect::Unknown, "An executable comment in it may change something.");
            }
        }
    }

    /// The same tables and conditions, with the rows counted.
    [[nodiscard]] std::string countQuery(std::uint32_t n) const {
        std::string with;
        for (std::uint32_t i = 0; i < tree_.nodes.size(); ++i) {
            const bool isBefore = tree_.nodes[i].kind == NodeKind::WithClause &&
                                  (tree_.nodes[i].parent == tree_.nodes[n].parent || tree_.nodes[i].parent == n);
            if (isBefore) with = fmt::format("{} ", textOf(i));
        }
        // A common table that changes rows must not run to count others.
        const bool changesBefore = hasChangeIn(with);
        if (changesBefore) return {};
        const std::string target = targetOf(n);
        if (target.empty()) return {};
        const std::uint32_t where = child(n, NodeKind::WhereClause);
        const std::uint32_t limit = child(n, NodeKind::LimitClause);
        const std::string condition = where == Node::kNone ? "" : fmt::format(" {}", textOf(where));
        const std::string others = othersOf(n);
        std::string rows = others.empty()
                               ? fmt::format("FROM {}{}", target, condition)
                               : fmt::format("FROM {} WHERE EXISTS (SELECT 1 FROM {}{})", target, others, condition);
        if (limit == Node::kNone) return fmt::format("{}SELECT count(*) {}", with, rows);
        const std::uint32_t order = child(n, NodeKind::OrderByClause);
        if (order != Node::kNone) rows += fmt::format(" {}", textOf(order));
        return fmt::format("{}SELECT count(*) FROM (SELECT 1 {} {}) AS matched", with, rows, textOf(limit));
    }

    [[nodiscard]] bool hasChangeIn(const std::string& with) const {
        return std::ranges::any_of(lex(with, tree_.language), [](const Token& t) {
            return t.is(Keyword::Insert) || t.is(Keyword::Update) || t.is(Keyword::Delete) || t.is(Keyword::Merge);
        });
    }

    /// The relations between the verb and SET, or behind DELETE … FROM.
    [[nodiscard]] std::string targetOf(std::uint32_t n) const {
        if (tree_.nodes[n].kind == NodeKind::DeleteStatement) {
            const std::uint32_t from = child(n, NodeKind::FromClause);
            const std::uint32_t joined = dialect_ == Dialect::MySql ? child(n, NodeKind::UsingClause) : Node::kNone;
            const std::uint32_t clause = joined == Node::kNone ? from : joined;
            return clause == Node::kNone ? "" : relationsIn(clause);
        }
        return relationsIn(n);
    }

    /// What PostgreSQL's UPDATE … FROM and DELETE … USING bring in beside the target.
    [[nodiscard]] std::string othersOf(std::uint32_t n) const {
        if (dialect_ == Dialect::MySql) return {};
        const NodeKind kind =
            tree_.nodes[n].kind == NodeKind::DeleteStatement ? NodeKind::UsingClause : NodeKind::FromClause;
        const std::uint32_t clause = child(n, kind);
        return clause == Node::kNone ? "" : relationsIn(clause);
    }

    [[nodiscard]] std::string relationsIn(std::uint32_t parent) const {
        std::uint32_t first = Node::kNone;
        std::uint32_t end = 0;
        for (std::uint32_t c = tree_.nodes[parent].firstChild; c != Node::kNone; c = tree_.nodes[c].nextSibling) {
            switch (tree_.nodes[c].kind) {
                case NodeKind::TableName:
                case NodeKind::Join:
                case NodeKind::DerivedTable:
                case NodeKind::FunctionTable:
                case NodeKind::ParenTable:
                    if (first == Node::kNone) first = tree_.nodes[c].firstToken;
                    end = tree_.nodes[c].endToken;
                    break;
                default: break;
            }
        }
        if (first == Node::kNone) return {};
        const std::size_t start = tree_.tokens[first].start;
        return std::string(text_.substr(start, tree_.tokens[end - 1].end() - start));
    }

    std::string_view text_;
    const SyntaxTree& tree_;
    Dialect dialect_;
    StatementRisk risk_;
};

}  // namespace

StatementRisk riskOf(std::string_view statement, const Language& language) {
    return riskOf(Statement(std::string(statement), language));
}

StatementRisk riskOf(const Statement& statement) {
    StatementRisk risk = RiskFinder(statement).find();
    const auto& tokens = statement.tokens();
    // A whole statement in an executable comment is a statement.
    const auto first = std::ranges::find_if(tokens, [](const Token& t) { return !t.isTrivia(); });
    if (first == tokens.end() || first->kind != TokenKind::ExecutableComment) return risk;
    std::string_view inside = first->textIn(statement.text());
    inside = inside.substr(std::min(inside.size(), inside.find('!') + 1));
    inside = inside.substr(std::min(inside.find_first_not_of("0123456789"), inside.size()));
    if (inside.ends_with("*/")) inside.remove_suffix(2);
    StatementRisk hidden = RiskFinder(Statement(std::string(inside), statement.language())).find();
    return weightOf(hidden.effect) >= weightOf(risk.effect) ? hidden : risk;
}

}  // namespace pantry::sql
