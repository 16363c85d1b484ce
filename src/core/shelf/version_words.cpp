#include "core/shelf/version_words.h"

#include <algorithm>
#include <optional>
#include <utility>
#include <vector>

#include "core/base/text.h"
#include "core/shelf/saved_query.h"
#include "core/sql/meaning/read_from.h"
#include "core/sql/syntax/script.h"
#include "core/sql/text/lexer.h"

namespace pantry::shelf {
namespace {

using sql::NodeKind;

/// A part of a statement: how people speak of it, and all of it without its layout.
struct Part {
    std::string name;
    std::string text;
    bool hasParameter = false;
};
using Parts = std::vector<Part>;

/// What statements are made of, as far as changes are told.
struct Content {
    Parts items;
    Parts conditions;
    Parts relations;
    std::string groups;
    std::string orders;
    std::string limits;
    std::string tokens;  ///< everything but blanks and comments
    std::size_t statements = 0;
};

std::string withoutLayout(std::string_view text) {
    std::string out;
    for (const sql::Token& token : sql::lex(text, sql::Dialect::Ansi)) {
        if (token.isSilent()) continue;
        if (!out.empty()) out += ' ';
        out += token.textIn(text);
    }
    return out;
}

/// Reads one statement's tree into a content.
class Reader {
public:
    Reader(std::string_view statement, const sql::SyntaxTree& tree, Content& into)
        : statement_(statement), tree_(tree), into_(into) {}

    void read() {
        for (std::uint32_t n = 0; n < tree_.nodes.size(); ++n) take(n);
    }

private:
    void take(std::uint32_t n) {
        switch (tree_.nodes[n].kind) {
            case NodeKind::SelectItem: into_.items.push_back({itemName(n), textOf(n)}); break;
            case NodeKind::Assignment: into_.items.push_back({firstName(n), textOf(n)}); break;
            case NodeKind::WhereClause:
            case NodeKind::HavingClause:
            case NodeKind::OnCondition: takeConditions(n); break;
            case NodeKind::GroupByClause: into_.groups += textOf(n); break;
            case NodeKind::OrderByClause: into_.orders += textOf(n); break;
            case NodeKind::LimitClause: into_.limits += textOf(n); break;
            default: break;
        }
    }

    void takeConditions(std::uint32_t clause) {
        for (const std::uint32_t child : tree_.childrenOf(clause)) {
            const bool isChain = tree_.nodes[child].kind == NodeKind::LogicalChain && isOfAnd(child);
            if (!isChain) add(child);
            if (!isChain) continue;
            for (const std::uint32_t part : tree_.childrenOf(child)) add(part);
        }
    }

    void add(std::uint32_t condition) {
        into_.conditions.push_back({firstName(condition), textOf(condition), has(condition, NodeKind::ParameterRef)});
    }

    [[nodiscard]] bool isOfAnd(std::uint32_t chain) const {
        const auto children = tree_.childrenOf(chain);
        if (children.empty()) return false;
        for (std::uint32_t t = tree_.nodes[children.front()].endToken; t < tree_.nodes[chain].endToken; ++t) {
            if (!tree_.tokens[t].isSilent()) return tree_.tokens[t].keyword == sql::Keyword::And;
        }
        return false;
    }

    [[nodiscard]] std::string textOf(std::uint32_t n) const {
        return withoutLayout(tree_.textOf(tree_.nodes[n], statement_));
    }

    [[nodiscard]] std::optional<std::uint32_t> firstOf(std::uint32_t top, NodeKind kind) const {
        if (tree_.nodes[top].kind == kind) return top;
        for (const std::uint32_t child : tree_.childrenOf(top)) {
            if (const auto found = firstOf(child, kind)) return found;
        }
        return std::nullopt;
    }
    [[nodiscard]] bool has(std::uint32_t top, NodeKind kind) const { return firstOf(top, kind).has_value(); }

    /// The last part of the first name in it, else its text.
    [[nodiscard]] std::string firstName(std::uint32_t n) const {
        const auto name = firstOf(n, NodeKind::Name);
        std::string text(tree_.textOf(tree_.nodes[name.value_or(n)], statement_));
        if (const std::size_t dot = text.rfind('.'); name && dot != std::string::npos) text.erase(0, dot + 1);
        return base::oneLine(text, 40);
    }

    [[nodiscard]] std::string itemName(std::uint32_t item) const {
        const std::uint32_t alias = tree_.childOf(item, NodeKind::Alias);
        if (alias == sql::Node::kNone) return firstName(item);
        std::string text(tree_.textOf(tree_.nodes[alias], statement_));
        return base::startsWithIgnoringCase(text, "as ") ? std::string(base::trimmed(text.substr(3))) : text;
    }

    std::string_view statement_;
    const sql::SyntaxTree& tree_;
    Content& into_;
};

Content contentOf(const std::string& text) {
    Content content;
    sql::Script script(sql::Dialect::Ansi);
    script.setText(text);
    for (std::size_t i = 0; i < script.statements().size(); ++i) {
        const std::string_view statement = script.textOf(i);
        const auto& tree = *script.statements()[i].tree;
        if (tree.isBeyondWalking()) continue;
        tree.visit([&] { Reader(statement, tree, content).read(); });
        for (const sql::NamedRelation& relation : sql::relationsNamed(statement, sql::Dialect::Ansi)) {
            const std::string whole = relation.schema.empty() ? relation.name : relation.schema + "." + relation.name;
            content.relations.push_back({relation.name, whole});
        }
    }
    content.statements = script.statements().size();
    content.tokens = withoutLayout(text);
    return content;
}

/// Those of `all` that `others` lack.
Parts missingIn(const Parts& others, const Parts& all) {
    Parts missing;
    for (const Part& one : all) {
        const auto isSame = [&](const Part& other) { return other.text == one.text; };
        if (std::ranges::none_of(others, isSame) && std::ranges::none_of(missing, isSame)) missing.push_back(one);
    }
    return missing;
}

/// “a”, “a and b”, “a, b and c”, “a, b and 3 more”
std::string listed(const std::vector<std::string>& names) {
    constexpr std::size_t kMax = 3;
    std::string out;
    for (std::size_t i = 0; i < std::min(names.size(), kMax); ++i) {
        const bool isLast = i + 1 == names.size();
        if (i > 0) out += isLast ? " and " : ", ";
        out += names[i];
    }
    if (names.size() > kMax) out += " and " + std::to_string(names.size() - kMax) + " more";
    return out;
}

/// Takes out of both what has the same name in both: it changed.
Parts changedBetween(Parts& gone, Parts& added) {
    Parts changed;
    for (auto one = added.begin(); one != added.end();) {
        const auto old = std::ranges::find_if(gone, [&](const Part& other) { return other.name == one->name; });
        if (old == gone.end()) {
            ++one;
            continue;
        }
        changed.push_back(*one);
        changed.back().hasParameter = one->hasParameter && !old->hasParameter;
        gone.erase(old);
        one = added.erase(one);
    }
    return changed;
}

std::vector<std::string> namesOf(const Parts& parts) {
    std::vector<std::string> names;
    for (const Part& one : parts) {
        if (std::ranges::find(names, one.name) == names.end()) names.push_back(one.name);
    }
    return names;
}

/// Collects what is to be said, the most telling first.
class Sentence {
public:
    void say(std::string label) {
        if (std::ranges::find(all_, label) == all_.end()) all_.push_back(std::move(label));
    }
    void sayOf(const Parts& parts, std::string_view before, std::string_view behind) {
        if (!parts.empty()) say(std::string(before) + listed(namesOf(parts)) + std::string(behind));
    }
    /// Empty when nothing was said.
    [[nodiscard]] std::string text() const {
        constexpr std::size_t kMax = 3;
        std::string out;
        for (std::size_t i = 0; i < std::min(all_.size(), kMax); ++i) out += (i > 0 ? "; " : "") + all_[i];
        if (all_.size() > kMax) out += "; and more";
        return out;
    }

private:
    std::vector<std::string> all_;
};

void sayConditions(Sentence& sentence, const Content& before, const Content& now) {
    Parts gone = missingIn(now.conditions, before.conditions);
    Parts added = missingIn(before.conditions, now.conditions);
    const Parts changed = changedBetween(gone, added);
    sentence.sayOf(added, "Condition on ", " added");
    sentence.sayOf(gone, "Condition on ", " removed");
    Parts otherwise;
    for (const Part& one : changed) {
        if (one.hasParameter) {
            sentence.say("Value of " + one.name + " became a parameter");
        } else {
            otherwise.push_back(one);
        }
    }
    sentence.sayOf(otherwise, "Condition on ", " changed");
}

void sayParts(Sentence& sentence, const Content& before, const Content& now) {
    Parts gone = missingIn(now.items, before.items);
    Parts added = missingIn(before.items, now.items);
    const Parts changed = changedBetween(gone, added);
    sentence.sayOf(added, "", " added");
    sentence.sayOf(gone, "", " removed");
    sayConditions(sentence, before, now);
    sentence.sayOf(changed, "", " changed");
    sentence.sayOf(missingIn(before.relations, now.relations), "Reads ", "");
    sentence.sayOf(missingIn(now.relations, before.relations), "No longer reads ", "");
    const auto also = [&](const std::string& old, const std::string& fresh, const std::string& what) {
        if (old == fresh) return;
        sentence.say(what + (old.empty() ? " added" : fresh.empty() ? " removed" : " changed"));
    };
    also(before.groups, now.groups, "Grouping");
    also(before.orders, now.orders, "Order");
    also(before.limits, now.limits, "Limit");
}

void sayHead(Sentence& sentence, const QueryHead& before, const QueryHead& now) {
    const auto also = [&](const std::string& old, const std::string& fresh, const std::string& what) {
        if (old == fresh) return;
        sentence.say(what + (old.empty() ? " added" : fresh.empty() ? " removed" : " changed"));
    };
    also(before.title, now.title, "Title");
    also(before.note, now.note, "Note");
    also(before.connection, now.connection, "Connection");
    if (before.grid != now.grid) sentence.say("Columns of the grid changed");
    if (before.parameters != now.parameters) sentence.say("Parameters changed");
    if (before.others != now.others) sentence.say("Head changed");
}

}  // namespace

std::string describeChange(std::string_view before, std::string_view now) {
    if (base::trimmed(before).empty()) return "First version";
    const SavedQuery old = readQuery(before);
    const SavedQuery fresh = readQuery(now);
    Sentence sentence;
    const Content was = contentOf(old.text);
    const Content is = contentOf(fresh.text);
    if (was.tokens != is.tokens) {
        const bool isAnotherNumber = was.statements != is.statements && was.statements > 0;
        if (isAnotherNumber) {
            const auto count = static_cast<std::int64_t>(std::max(was.statements, is.statements) -
                                                         std::min(was.statements, is.statements));
            sentence.say(base::counted(count, "statement", "statements") +
                         (is.statements > was.statements ? " added" : " removed"));
        } else {
            sayParts(sentence, was, is);
        }
        if (sentence.text().empty()) sentence.say("Statement changed");
    }
    sayHead(sentence, old.head, fresh.head);
    if (!sentence.text().empty()) return sentence.text();
    return old.text == fresh.text ? "Saved again" : "Layout and comments";
}

}  // namespace pantry::shelf
