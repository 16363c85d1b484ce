#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "core/base/fuzzy.h"
#include "core/base/text.h"
#include "core/sql/check/finding_rules.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

constexpr std::size_t kFarthestGuess = 3;  // edits between what was written and what is proposed

/// Schemas that servers have of their own and that a catalog may leave out.
bool isSystemSchema(std::string_view schema) {
    for (const std::string_view known : {"pg_catalog", "information_schema", "mysql", "performance_schema", "sys",
                                         "pg_toast", "pg_temp", "temp", "sqlite_schema"}) {
        if (base::equalsIgnoringCase(schema, known)) return true;
    }
    return false;
}

bool isSystemTable(std::string_view name) {
    const std::string small = base::toLower(name);
    return small.starts_with("pg_") || small.starts_with("sqlite_") || small.starts_with("pragma_") || small == "dual";
}

/// Columns that tables have without showing them.
bool isSystemColumn(std::string_view name) {
    for (const std::string_view known :
         {"ctid", "xmin", "xmax", "cmin", "cmax", "tableoid", "oid", "rowid", "_rowid_"}) {
        if (base::equalsIgnoringCase(name, known)) return true;
    }
    return false;
}

/// The closest of some names; empty when none is close.
template <class Names>
std::string closestTo(std::string_view wanted, const Names& names) {
    std::string best;
    std::size_t bestDistance = std::min(kFarthestGuess, wanted.size() / 2) + 1;
    for (const auto& name : names) {
        const std::size_t distance = base::editDistance(wanted, name, bestDistance);
        if (distance < bestDistance) {
            bestDistance = distance;
            best = name;
        }
    }
    return best;
}

}  // namespace

TypeFamily familyOf(std::string_view type) {
    const std::string t = base::toLower(type);
    const auto starts = [&](std::initializer_list<std::string_view> words) {
        return std::ranges::any_of(words, [&](std::string_view w) { return t.starts_with(w); });
    };
    if (t.empty() || t.ends_with("[]")) return t.empty() ? TypeFamily::Unknown : TypeFamily::Other;
    if (t == "tinyint(1)" || starts({"bool"})) return TypeFamily::Boolean;
    if (starts({"interval", "point"})) return TypeFamily::Other;
    if (starts({"int", "big", "small", "tinyint", "mediumint", "numeric", "decimal", "real", "double", "float",
                "serial", "money", "number", "year"})) {
        return TypeFamily::Number;
    }
    if (starts({"char", "varchar", "text", "clob", "string", "nchar", "nvarchar", "tinytext", "mediumtext", "longtext",
                "citext", "name", "national"})) {
        return TypeFamily::Text;
    }
    if (starts({"date", "time"})) return TypeFamily::Time;
    if (starts({"blob", "bytea", "binary", "varbinary", "longblob"})) return TypeFamily::Binary;
    return TypeFamily::Other;
}

/// Temporary tables and the like that the script itself makes are not looked up.
bool StatementCheck::isDefinedHere(std::string_view name) const {
    return options_.definedInScript.contains(base::toLower(name));
}

void StatementCheck::tableName(std::uint32_t node) {
    shadowedAlias(node);
    if (!hasCatalog_ || options_.catalog->relations().empty()) return;
    const NodeKind owner = kindOf(parent(node));
    const bool isDefinition = owner == NodeKind::AlterStatement && !tree_.tokens[nextSignificant(0)].is(Keyword::Table);
    if (isDefinition) return;
    const std::uint32_t name = child(node, NodeKind::Name);
    if (name == kNone) return;
    const auto parts = scope_.nameParts(name);
    if (parts.size() > 2) return;  // another database's
    const std::string schema = parts.size() > 1 ? parts.front() : std::string();
    if (isSystemSchema(schema) || isSystemTable(parts.back()) || isDefinedHere(parts.back())) return;
    const auto& schemas = options_.catalog->schemas();
    const bool isSchemaKnown = schema.empty() || std::ranges::any_of(schemas, [&](const std::string& s) {
                                   return base::equalsIgnoringCase(s, schema);
                               });
    if (!isSchemaKnown) return;  // perhaps one that was not loaded
    if (schema.empty()) {
        for (const ScopeRelation& c : scope_.commonTablesAt(at(node).firstToken)) {
            if (base::equalsIgnoringCase(c.name, parts.back())) return;
        }
    }
    if (options_.catalog->find(schema, parts.back()) != nullptr) return;
    std::vector<std::string> names;
    for (const catalog::Relation* known : options_.catalog->relations()) {
        const catalog::Relation& r = *known;
        const bool isReachable =
            schema.empty() ? options_.catalog->isOnSearchPath(r.schema) : base::equalsIgnoringCase(r.schema, schema);
        if (isReachable) names.push_back(r.name);
    }
    const std::string guess = closestTo(parts.back(), names);
    const std::string where = schema.empty() ? std::string() : fmt::format(" in schema {}", schema);
    if (guess.empty()) return add(Rule::UnknownTable, name, fmt::format("No table named {}{}.", parts.back(), where));
    const TextEdit whole = replaceNode(name, "");
    const Token& lastPart = tree_.tokens[at(name).endToken - 1];
    add(Rule::UnknownTable, name, fmt::format("No table named {}{}. Did you mean {}?", parts.back(), where, guess),
        TextEdit{lastPart.start, whole.start + whole.length - lastPart.start, quoted(guess)});
}

void StatementCheck::columnName(std::uint32_t node) {
    if (!hasCatalog_) return;
    const NodeKind owner = kindOf(parent(node));
    const bool isExpression = owner != NodeKind::TableName && owner != NodeKind::FunctionTable &&
                              owner != NodeKind::Call && owner != NodeKind::ColumnDefinition &&
                              owner != NodeKind::TableConstraint;
    if (!isExpression || tree_.roles[at(node).endToken - 1] != TokenRole::Column) return;
    // Only in queries and changes: definitions and bodies have names that the catalog does not know.
    const std::uint32_t home =
        around(node, {NodeKind::SelectCore, NodeKind::Query, NodeKind::UpdateStatement, NodeKind::DeleteStatement,
                      NodeKind::MergeStatement, NodeKind::InsertStatement});
    const std::uint32_t body = around(node, {NodeKind::CreateRoutine, NodeKind::CreateTrigger, NodeKind::Block,
                                             NodeKind::CreateStatement, NodeKind::StatementGroup});
    if (home == kNone || body != kNone) return;
    const std::uint32_t call = around(node, {NodeKind::Arguments});
    if (call != kNone && parent(node) == call && isUnitArgument(node)) return;
    const Resolution found = scope_.resolve(node);
    const auto parts = scope_.nameParts(node);
    switch (found.kind) {
        case Resolution::Kind::Ambiguous:
            return add(Rule::AmbiguousColumn, node,
                       fmt::format("{} is a column of {} and of {}; say which.", parts.back(), found.relation->alias,
                                   found.other->alias),
                       TextEdit{tree_.tokens[at(node).firstToken].start, 0, quoted(found.relation->alias) + "."});
        case Resolution::Kind::UnknownQualifier: {
            if (isSystemSchema(parts.front())) return;
            std::vector<std::string> names;
            for (const ScopeRelation& r : scope_.relationsAt(at(node).firstToken)) names.push_back(r.alias);
            if (names.empty()) return;
            const std::string guess = closestTo(parts.front(), names);
            return add(Rule::UnknownColumn, node,
                       fmt::format("No table of this query is called {}{}", parts.front(),
                                   guess.empty() ? "." : fmt::format(". Did you mean {}?", guess)));
        }
        case Resolution::Kind::UnknownColumn: {
            if (isSystemColumn(parts.back())) return;
            // SQLite takes "text" in double quotes for a text when no column is called so.
            const bool mayBeText = tree_.language == Dialect::Sqlite && textOf(node).starts_with('"');
            if (mayBeText) return;
            std::set<std::string> names;
            for (const ScopeRelation& r : scope_.relationsAt(at(node).firstToken)) {
                const bool isMeant = parts.size() < 2 || base::equalsIgnoringCase(r.alias, parts[parts.size() - 2]);
                for (const ScopeColumn& c : r.columns) {
                    if (isMeant) names.insert(c.name);
                }
            }
            const std::string guess = closestTo(parts.back(), names);
            const std::string where =
                parts.size() > 1
                    ? fmt::format("{} has no column {}",
                                  found.relation->name.empty() ? found.relation->alias : found.relation->name,
                                  parts.back())
                    : fmt::format("No table of this query has a column {}", parts.back());
            if (guess.empty()) return add(Rule::UnknownColumn, node, where + ".");
            const Token& lastPart = tree_.tokens[at(node).endToken - 1];
            return add(Rule::UnknownColumn, node, fmt::format("{}. Did you mean {}?", where, guess),
                       TextEdit{lastPart.start, lastPart.length, quoted(guess)});
        }
        default: return;
    }
}

/// EXTRACT(year FROM …), TIMESTAMPADD(day, …): units look like columns and are none.
bool StatementCheck::isUnitArgument(std::uint32_t node) const {
    for (const std::string_view unit : {"year",          "month",
                                        "day",           "hour",
                                        "minute",        "second",
                                        "week",          "quarter",
                                        "epoch",         "dow",
                                        "doy",           "isodow",
                                        "isoyear",       "century",
                                        "decade",        "millennium",
                                        "milliseconds",  "microseconds",
                                        "microsecond",   "timezone",
                                        "timezone_hour", "timezone_minute",
                                        "julian",        "abort",
                                        "fail",          "ignore",
                                        "rollback",      "replace",
                                        "nfc",           "nfd",
                                        "nfkc",          "nfkd"}) {
        if (base::equalsIgnoringCase(textOf(node), unit)) return true;
    }
    return false;
}

std::string StatementCheck::typeOf(std::uint32_t node) const {
    if (!hasCatalog_ || kindOf(node) != NodeKind::Name) return {};
    const Resolution found = scope_.resolve(node);
    return found.kind == Resolution::Kind::Column ? found.column->type : std::string();
}

/// A date never equals a number; texts and numbers are told elsewhere.
void StatementCheck::typesOf(std::uint32_t comparison, std::uint32_t left, std::uint32_t right) {
    if (!hasCatalog_ || tree_.language == Dialect::Sqlite) return;  // SQLite's columns take values of any type
    const auto family = [this](std::uint32_t n) {
        if (kindOf(n) == NodeKind::Name) return familyOf(typeOf(n));
        if (isNumber(n)) return TypeFamily::Number;
        return TypeFamily::Unknown;
    };
    const TypeFamily a = family(left);
    const TypeFamily b = family(right);
    if (a == TypeFamily::Unknown || b == TypeFamily::Unknown || a == TypeFamily::Other || b == TypeFamily::Other ||
        a == b)
        return;
    const bool isNumberAndText =
        (a == TypeFamily::Number && b == TypeFamily::Text) || (a == TypeFamily::Text && b == TypeFamily::Number);
    if (isNumberAndText && kindOf(left) != kindOf(right)) return;  // a column and a constant: number-as-text
    const bool isFlag =
        (a == TypeFamily::Boolean && b == TypeFamily::Number) || (b == TypeFamily::Boolean && a == TypeFamily::Number);
    if (isFlag && tree_.language == Dialect::MySql) return;
    const auto typeText = [this](std::uint32_t n) {
        return kindOf(n) == NodeKind::Name ? typeOf(n) : std::string("a number");
    };
    add(Rule::TypeMismatch, comparison,
        fmt::format("{} is {} and {} is {}: these do not match.", textOf(left), typeText(left), textOf(right),
                    typeText(right)));
}

/// Two tables with a foreign key between them, joined on something else.
void StatementCheck::joinBesideKey(std::uint32_t join) {
    if (!hasCatalog_) return;
    const std::uint32_t on = child(join, NodeKind::OnCondition);
    if (on == kNone) return;
    struct Pair {
        Resolution left;
        Resolution right;
    };
    std::vector<Pair> pairs;
    const auto take = [&](std::uint32_t n) {
        if (kindOf(n) != NodeKind::Binary) return;
        const std::uint32_t operation = ownOperator(n);
        if (operation >= tree_.tokens.size() || tokenText(operation) != "=") return;
        const std::uint32_t a = unwrapped(first(n));
        const std::uint32_t b = unwrapped(next(first(n)));
        if (kindOf(a) != NodeKind::Name || kindOf(b) != NodeKind::Name) return;
        Pair pair{scope_.resolve(a), scope_.resolve(b)};
        const bool areColumns =
            pair.left.kind == Resolution::Kind::Column && pair.right.kind == Resolution::Kind::Column;
        if (areColumns && pair.left.relation->fact != nullptr && pair.right.relation->fact != nullptr)
            pairs.push_back(pair);
    };
    forEachInside(on, take);
    if (pairs.size() != 1) return;  // several conditions are thought about
    const Pair& pair = pairs.front();
    const auto keyBetween = [&](const Resolution& from, const Resolution& to) -> const catalog::ForeignKey* {
        for (const catalog::ForeignKey& key : from.relation->fact->foreignKeys) {
            const bool pointsThere = base::equalsIgnoringCase(key.relation, to.relation->fact->name);
            if (pointsThere && key.columns.size() == 1 && !key.referencedColumns.empty()) return &key;
        }
        return nullptr;
    };
    const auto uses = [&](const catalog::ForeignKey& key, const Resolution& from, const Resolution& to) {
        return base::equalsIgnoringCase(key.columns.front(), from.column->name) &&
               base::equalsIgnoringCase(key.referencedColumns.front(), to.column->name);
    };
    const catalog::ForeignKey* wanted = nullptr;
    const Resolution* from = nullptr;
    const Resolution* to = nullptr;
    for (const auto& [a, b] : {std::pair(&pair.left, &pair.right), std::pair(&pair.right, &pair.left)}) {
        for (const catalog::ForeignKey& key : a->relation->fact->foreignKeys) {
            if (base::equalsIgnoringCase(key.relation, b->relation->fact->name) && key.columns.size() == 1 &&
                !key.referencedColumns.empty() && uses(key, *a, *b)) {
                return;
            }
        }
        if (const catalog::ForeignKey* key = keyBetween(*a, *b); key != nullptr && wanted == nullptr) {
            wanted = key;
            from = a;
            to = b;
        }
    }
    if (wanted == nullptr) return;
    // Two columns that point at the same third column belong together as well.
    for (const catalog::ForeignKey& a : pair.left.relation->fact->foreignKeys) {
        for (const catalog::ForeignKey& b : pair.right.relation->fact->foreignKeys) {
            if (base::equalsIgnoringCase(a.relation, b.relation) && a.columns.size() == 1 && b.columns.size() == 1 &&
                base::equalsIgnoringCase(a.columns.front(), pair.left.column->name) &&
                base::equalsIgnoringCase(b.columns.front(), pair.right.column->name)) {
                return;
            }
        }
    }
    add(Rule::JoinBesideKey, on,
        fmt::format("The foreign key between them is {}.{} = {}.{}.", from->relation->alias, wanted->columns.front(),
                    to->relation->alias, wanted->referencedColumns.front()));
}

void StatementCheck::wholeTable(std::uint32_t core) {
    if (!hasCatalog_ || kindOf(parent(core)) != NodeKind::Query || parent(parent(core)) != 0) return;
    const std::uint32_t query = parent(core);
    const std::uint32_t from = child(core, NodeKind::FromClause);
    if (from == kNone || child(core, NodeKind::WhereClause) != kNone || child(query, NodeKind::LimitClause) != kNone)
        return;
    if (hasAggregate(child(core, NodeKind::SelectClause)) || child(core, NodeKind::GroupByClause) != kNone) return;
    const std::uint32_t table = first(from);
    if (kindOf(table) != NodeKind::TableName || next(table) != kNone) return;
    const auto& relations = scope_.relationsAt(at(core).firstToken);
    if (relations.empty() || relations.front().fact == nullptr || !relations.front().fact->rowEstimate) return;
    const std::int64_t rows = *relations.front().fact->rowEstimate;
    if (rows <= options_.manyRows) return;
    add(Rule::WholeLargeTable, table,
        fmt::format("{} has about {} rows and nothing chooses among them; WHERE or LIMIT would.",
                    relations.front().name, base::grouped(rows)));
}

}  // namespace pantry::sql
