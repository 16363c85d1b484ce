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

/// A key of one column that leads to the relation of a column.
bool leadsBetween(const catalog::ForeignKey& key, const Resolution& to) {
    return base::equalsIgnoringCase(key.relation, to.relation->fact->name) && key.columns.size() == 1 &&
           !key.referencedColumns.empty();
}

bool isJoinedBy(const catalog::ForeignKey& key, const Resolution& from, const Resolution& to) {
    return base::equalsIgnoringCase(key.columns.front(), from.column->name) &&
           base::equalsIgnoringCase(key.referencedColumns.front(), to.column->name);
}

/// Two columns that point at the same third column belong together as well.
bool pointAtOneColumn(const Resolution& left, const Resolution& right) {
    const auto isKeyOf = [](const catalog::ForeignKey& key, const Resolution& column) {
        return key.columns.size() == 1 && base::equalsIgnoringCase(key.columns.front(), column.column->name);
    };
    for (const catalog::ForeignKey& a : left.relation->fact->foreignKeys) {
        if (!isKeyOf(a, left)) continue;
        for (const catalog::ForeignKey& b : right.relation->fact->foreignKeys) {
            if (isKeyOf(b, right) && base::equalsIgnoringCase(a.relation, b.relation)) return true;
        }
    }
    return false;
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
    switch (found.kind) {
        case Resolution::Kind::Ambiguous:
            return add(Rule::AmbiguousColumn, node,
                       fmt::format("{} is a column of {} and of {}; say which.", scope_.lastPart(node),
                                   found.relation->alias, found.other->alias),
                       TextEdit{tree_.tokens[at(node).firstToken].start, 0, quoted(found.relation->alias) + "."});
        case Resolution::Kind::UnknownQualifier: return unknownQualifier(node);
        case Resolution::Kind::UnknownColumn: return unknownColumn(node, found);
        default: return;
    }
}

void StatementCheck::unknownQualifier(std::uint32_t node) {
    const std::string qualifier = scope_.nameParts(node).front();
    if (isSystemSchema(qualifier)) return;
    std::vector<std::string> names;
    for (const ScopeRelation& r : scope_.relationsAt(at(node).firstToken)) names.push_back(r.alias);
    if (names.empty()) return;
    const std::string guess = closestTo(qualifier, names);
    add(Rule::UnknownColumn, node,
        fmt::format("No table of this query is called {}{}", qualifier,
                    guess.empty() ? "." : fmt::format(". Did you mean {}?", guess)));
}

void StatementCheck::unknownColumn(std::uint32_t node, const Resolution& found) {
    const auto parts = scope_.nameParts(node);
    if (isSystemColumn(parts.back())) return;
    // SQLite takes "text" in double quotes for a text when no column is called so.
    const bool mayBeText = tree_.language == Dialect::Sqlite && textOf(node).starts_with('"');
    if (mayBeText) return;
    std::set<std::string> names;
    for (const ScopeRelation& r : scope_.relationsAt(at(node).firstToken)) {
        const bool isMeant = parts.size() < 2 || base::equalsIgnoringCase(r.alias, parts[parts.size() - 2]);
        if (!isMeant) continue;
        for (const ScopeColumn& c : r.columns) names.insert(c.name);
    }
    const std::string where =
        parts.size() > 1
            ? fmt::format("{} has no column {}",
                          found.relation->name.empty() ? found.relation->alias : found.relation->name, parts.back())
            : fmt::format("No table of this query has a column {}", parts.back());
    const std::string guess = closestTo(parts.back(), names);
    if (guess.empty()) return add(Rule::UnknownColumn, node, where + ".");
    const Token& lastPart = tree_.tokens[at(node).endToken - 1];
    add(Rule::UnknownColumn, node, fmt::format("{}. Did you mean {}?", where, guess),
        TextEdit{lastPart.start, lastPart.length, quoted(guess)});
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

/// The columns that an equality compares, where both are of tables that the catalog knows.
std::optional<StatementCheck::ComparedColumns> StatementCheck::comparedColumns(std::uint32_t node) const {
    if (kindOf(node) != NodeKind::Binary) return std::nullopt;
    const std::uint32_t operation = ownOperator(node);
    if (operation >= tree_.tokens.size() || tokenText(operation) != "=") return std::nullopt;
    const std::uint32_t left = unwrapped(first(node));
    const std::uint32_t right = unwrapped(next(first(node)));
    if (kindOf(left) != NodeKind::Name || kindOf(right) != NodeKind::Name) return std::nullopt;
    const ComparedColumns compared{scope_.resolve(left), scope_.resolve(right)};
    for (const Resolution* side : {&compared.left, &compared.right}) {
        const bool isKnown = side->kind == Resolution::Kind::Column && side->relation->fact != nullptr;
        if (!isKnown) return std::nullopt;
    }
    return compared;
}

/// Two tables with a foreign key between them, joined on something else.
void StatementCheck::joinBesideKey(std::uint32_t join) {
    if (!hasCatalog_) return;
    const std::uint32_t on = child(join, NodeKind::OnCondition);
    if (on == kNone) return;
    std::vector<ComparedColumns> pairs;
    forEachInside(on, [&](std::uint32_t n) {
        if (const auto compared = comparedColumns(n)) pairs.push_back(*compared);
    });
    if (pairs.size() != 1) return;  // several conditions are thought about
    const Resolution& left = pairs.front().left;
    const Resolution& right = pairs.front().right;
    if (pointAtOneColumn(left, right)) return;
    const catalog::ForeignKey* wanted = nullptr;
    const Resolution* from = nullptr;
    const Resolution* to = nullptr;
    for (const auto& [a, b] : {std::pair(&left, &right), std::pair(&right, &left)}) {
        for (const catalog::ForeignKey& key : a->relation->fact->foreignKeys) {
            if (!leadsBetween(key, *b)) continue;
            if (isJoinedBy(key, *a, *b)) return;
            if (wanted == nullptr) {
                wanted = &key;
                from = a;
                to = b;
            }
        }
    }
    if (wanted == nullptr) return;
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
