#include "core/sql/meaning/name_facts.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/joined.h"
#include "core/base/text.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

std::string keyText(const catalog::Relation& relation, const catalog::Column& column) {
    std::vector<std::string> parts;
    if (column.keyPosition > 0) {
        const auto parted = std::ranges::count_if(relation.columns, [](const auto& c) { return c.keyPosition > 0; });
        parts.emplace_back(parted > 1 ? fmt::format("primary, {} of {}", column.keyPosition, parted) : "primary");
    }
    if (const catalog::ForeignKey* key = relation.foreignKeyOf(column.name)) {
        const auto at = static_cast<std::size_t>(std::ranges::find(key->columns, column.name) - key->columns.begin());
        const bool isKnown = at < key->referencedColumns.size();
        parts.push_back("leads to " + key->relation + (isKnown ? "." + key->referencedColumns[at] : std::string()));
    }
    return base::joined(parts, "; ");
}

void addFact(NameFacts& facts, const char* label, std::string value) {
    if (!value.empty()) facts.facts.emplace_back(label, std::move(value));
}

const catalog::Object* routineNamed(const catalog::View& catalog, std::string_view schema, std::string_view name) {
    for (const catalog::SchemaPtr& one : catalog.catalog().schemas()) {
        const bool fits = schema.empty() ? catalog.isOnSearchPath(one->name) || one->isOwn
                                         : base::equalsIgnoringCase(one->name, schema);
        if (!fits) continue;
        for (const catalog::Object& object : one->objects) {
            const bool isRoutine = object.kind == catalog::ObjectKind::Function ||
                                   object.kind == catalog::ObjectKind::Procedure ||
                                   object.kind == catalog::ObjectKind::Aggregate;
            if (isRoutine && base::equalsIgnoringCase(object.name, name)) return &object;
        }
    }
    return nullptr;
}

/// The query in brackets that a relation of a statement is made of.
std::string querySource(std::string_view statement, const SyntaxTree& tree, std::uint32_t node) {
    if (node == Node::kNone) return {};
    for (const std::uint32_t child : tree.childrenOf(node)) {
        const NodeKind kind = tree.nodes[child].kind;
        if (kind == NodeKind::ParenQuery || kind == NodeKind::Query)
            return std::string(tree.textOf(tree.nodes[child], statement));
    }
    return {};
}

std::string columnsText(const std::vector<ScopeColumn>& columns) {
    std::vector<std::string> names;
    names.reserve(columns.size());
    for (const ScopeColumn& column : columns) names.push_back(column.name.empty() ? "(no name)" : column.name);
    return base::joined(names, ", ");
}

NameFacts factsOfScopeRelation(std::string_view statement, const SyntaxTree& tree, const ScopeRelation& relation) {
    if (relation.fact != nullptr) {
        NameFacts facts = factsOfRelation(*relation.fact);
        if (relation.hasAlias) facts.heading = relation.alias + " = " + facts.heading;
        return facts;
    }
    NameFacts facts{.heading = relation.alias, .what = relation.isCommonTable ? "common table" : "subquery"};
    addFact(facts, "Columns", columnsText(relation.columns));
    facts.definition = querySource(statement, tree, relation.node);
    return facts;
}

NameFacts factsOfUses(std::string_view statement, const SyntaxTree& tree, const ScopeFinder& scope,
                      const NameUses& uses) {
    switch (uses.kind) {
        case NameUses::Kind::Relation:
            if (uses.relation) return factsOfScopeRelation(statement, tree, *uses.relation);
            break;
        case NameUses::Kind::CommonTable: {
            const std::uint32_t node = tree.nodeAt(uses.madeAt);
            NameFacts facts{.heading = uses.name, .what = "common table"};
            for (const std::uint32_t child : tree.childrenOf(node)) {
                if (tree.nodes[child].kind == NodeKind::Query)
                    addFact(facts, "Columns", columnsText(scope.outputOf(child)));
            }
            facts.definition = querySource(statement, tree, node);
            return facts;
        }
        case NameUses::Kind::Column: {
            if (!uses.column) break;
            const catalog::Relation* origin = uses.column->origin;
            const catalog::Column* fact = origin == nullptr ? nullptr : origin->column(uses.column->originColumn);
            if (fact != nullptr) return factsOfColumn(*origin, *fact);
            NameFacts facts{.heading = uses.relation->alias + "." + uses.column->name, .what = "column"};
            addFact(facts, "Type", uses.column->type);
            return facts;
        }
        case NameUses::Kind::Output: {
            NameFacts facts{.heading = uses.name, .what = "name of the select list"};
            const std::uint32_t alias = tree.nodeAt(uses.madeAt);
            facts.definition =
                std::string(tree.textOf(tree.nodes[tree.nodes[tree.nodes[alias].parent].firstChild], statement));
            return facts;
        }
    }
    return {.heading = uses.name};
}

}  // namespace

NameFacts factsOfColumn(const catalog::Relation& relation, const catalog::Column& column) {
    NameFacts facts{.heading = relation.name + "." + column.name,
                    .what = column.isGenerated ? "generated column" : "column"};
    addFact(facts, "Type", column.typeName + (column.isNullable ? "" : ", not null"));
    addFact(facts, "Key", keyText(relation, column));
    addFact(facts, "Default", column.defaultValue.value_or(""));
    facts.comment = column.comment;
    facts.object = catalog::ObjectName{relation.kind, relation.schema, relation.name};
    return facts;
}

NameFacts factsOfRelation(const catalog::Relation& relation) {
    NameFacts facts{.heading = relation.name, .what = std::string(catalog::kindName(relation.kind))};
    addFact(facts, "Schema", relation.schema);
    if (relation.rowEstimate) addFact(facts, "Rows", "about " + base::grouped(*relation.rowEstimate));
    constexpr std::size_t kShownNames = 12;
    std::vector<std::string> names;
    for (const catalog::Column& column : relation.columns) {
        if (names.size() == kShownNames) break;
        names.push_back(column.name);
    }
    std::string columns = base::joined(names, ", ");
    if (relation.columns.size() > kShownNames)
        columns += fmt::format(", and {} more", relation.columns.size() - kShownNames);
    addFact(facts, "Columns", std::move(columns));
    facts.comment = relation.comment;
    facts.object = catalog::ObjectName{relation.kind, relation.schema, relation.name};
    return facts;
}

NameFacts factsOfKey(const catalog::Relation& relation, const catalog::ForeignKey& key) {
    NameFacts facts{.heading = relation.name + " → " + key.relation, .what = "foreign key"};
    for (std::size_t i = 0; i < key.columns.size() && i < key.referencedColumns.size(); ++i) {
        addFact(facts, i == 0 ? "Leads from" : "and from", relation.name + "." + key.columns[i]);
        addFact(facts, "to", key.relation + "." + key.referencedColumns[i]);
    }
    const bool isNeeded = std::ranges::all_of(key.columns, [&](const std::string& name) {
        const catalog::Column* column = relation.column(name);
        return column != nullptr && !column->isNullable;
    });
    facts.comment = isNeeded ? "Every row has one, so that the join loses none."
                             : "A row may have none; a LEFT JOIN keeps such rows.";
    return facts;
}

NameFacts factsOfObject(const catalog::Object& object) {
    NameFacts facts{.heading = object.name, .what = std::string(catalog::kindName(object.kind))};
    addFact(facts, "Schema", object.schema);
    addFact(facts, "Parameters", object.signature);
    addFact(facts, "Returns", object.detail);
    facts.comment = object.comment;
    facts.object = catalog::ObjectName{object.kind, object.schema, object.name, object.signature};
    return facts;
}

std::optional<NameFacts> factsAt(std::string_view statement, const SyntaxTree& tree, const ScopeFinder& scope,
                                 const catalog::View& catalog, std::uint32_t token) {
    const NameFinder finder(statement, tree, scope);
    const std::uint32_t node = tree.nodeAt(token);
    if (tree.nodes[node].kind == NodeKind::Name) {
        const std::vector<std::string> parts = scope.nameParts(node);
        const std::uint32_t parent = tree.nodes[node].parent;
        const NodeKind around = parent == Node::kNone ? NodeKind::Error : tree.nodes[parent].kind;
        const std::string schema = parts.size() > 1 ? parts[parts.size() - 2] : std::string();
        const bool isRoutine =
            around == NodeKind::Call || around == NodeKind::FunctionTable || around == NodeKind::CallStatement;
        if (isRoutine && !parts.empty()) {
            const catalog::Object* routine = routineNamed(catalog, schema, parts.back());
            return routine == nullptr ? std::nullopt : std::optional(factsOfObject(*routine));
        }
        if (around == NodeKind::TableName && !parts.empty()) {
            const auto uses = finder.usesOf(token);
            if (uses && uses->kind == NameUses::Kind::CommonTable) return factsOfUses(statement, tree, scope, *uses);
            const catalog::Relation* relation = catalog.find(schema, parts.back());
            return relation == nullptr ? std::nullopt : std::optional(factsOfRelation(*relation));
        }
    }
    const auto uses = finder.usesOf(token);
    return uses ? std::optional(factsOfUses(statement, tree, scope, *uses)) : std::nullopt;
}

}  // namespace pantry::sql
