// Names in statements that define things, where the grammar tells what a name is: REFERENCES, INDEX … ON, DROP, ADD KEY
// (.
#include <algorithm>
#include <array>

#include "core/base/text.h"
#include "core/sql/complete/completer.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

bool isAround(const NextWords::Name& name, NodeKind kind) {
    return std::ranges::find(name.around, kind) != name.around.end();
}

/// Whether the name is one of a definition itself, rather than of a query in it.
bool isOfDefinition(const NextWords::Name& name) {
    constexpr auto kDefinitions = std::to_array(
        {NodeKind::CreateTable, NodeKind::CreateView, NodeKind::CreateIndex, NodeKind::CreateTrigger,
         NodeKind::AlterStatement, NodeKind::DropStatement, NodeKind::TruncateStatement, NodeKind::CommentStatement,
         NodeKind::GrantStatement, NodeKind::UtilityStatement, NodeKind::CopyStatement, NodeKind::ReferencesClause});
    for (const NodeKind kind : name.around) {
        if (kind == NodeKind::Query || kind == NodeKind::StatementList || kind == NodeKind::Block) return false;
        if (std::ranges::find(kDefinitions, kind) != kDefinitions.end()) return true;
        // ON CONFLICT (…) names columns as an index does.
        if (kind == NodeKind::IndexItems && isAround(name, NodeKind::ConflictClause)) return true;
    }
    return false;
}

}  // namespace

bool Completer::offerInDefinition(const NextWords::Name& name) {
    if (!isOfDefinition(name)) return false;
    const NodeKind owner = name.around.size() > 1 ? name.around[1] : NodeKind::Statement;
    switch (name.role) {
        case TokenRole::Type: offerTypes(); return true;
        case TokenRole::Relation:
            // What is being made has no name yet.
            if (owner != NodeKind::CreateTable && owner != NodeKind::CreateView) offerDefined();
            return true;
        case TokenRole::Column: offerColumnsInDefinition(name); return true;
        default: break;
    }
    if (isAround(name, NodeKind::AlterAction)) {  // RENAME COLUMN, DROP KEY
        offerColumnsOfNamed(namedRelation(false));
    } else if (isAround(name, NodeKind::UtilityStatement)) {  // ANALYZE, LOCK TABLE
        offerRelations(false);
    }
    return true;
}

/// DROP, COMMENT ON, GRANT … ON: what is of the kind that was said.
void Completer::offerDefined() {
    const Token* said = at_.back(0);
    for (std::size_t n = 0; said != nullptr && (said->is(Keyword::If) || said->is(Keyword::Exists));) {
        said = at_.back(++n);
    }
    const Keyword kind = said != nullptr ? said->keyword : Keyword::None;
    using enum catalog::ObjectKind;
    switch (kind) {
        case Keyword::Function: return offerRoutines({Function, Aggregate});
        case Keyword::Procedure: return offerRoutines({Procedure});
        case Keyword::Aggregate: return offerRoutines({Aggregate});
        case Keyword::Type:
        case Keyword::Domain: return offerObjects({Type});
        case Keyword::Sequence: return offerObjects({Sequence});
        case Keyword::Event: return offerObjects({Event});
        case Keyword::Schema:
        case Keyword::Database: return offerSchemas();
        case Keyword::Index: return offerIndexes();
        case Keyword::Role:
        case Keyword::User:
        case Keyword::Trigger: return;
        default: return offerRelations(false);
    }
}

void Completer::offerObjects(std::initializer_list<catalog::ObjectKind> kinds) {
    for (const catalog::SchemaPtr& schema : catalog_.catalog().schemas()) {
        if (schema->isOwn) continue;
        for (const catalog::Object& one : schema->objects) {
            if (std::ranges::find(kinds, one.kind) == kinds.end()) continue;
            const std::string name = quotedName(one.name, dialect_);
            offer(catalog_.isOnSearchPath(schema->name) ? name : quotedName(schema->name, dialect_) + "." + name,
                  CompletionKind::Type, std::string(catalog::kindName(one.kind)), bonus::kRelation, one.name);
        }
    }
}

void Completer::offerSchemas() {
    for (const catalog::SchemaPtr& schema : catalog_.catalog().schemas())
        offer(quotedName(schema->name, dialect_), CompletionKind::Schema, "schema", bonus::kRelation, schema->name);
}

void Completer::offerIndexes() {
    for (const catalog::Relation* relation : catalog_.relations()) {
        for (const catalog::Index& index : relation->indexes)
            offer(quotedName(index.name, dialect_), CompletionKind::Table, "index of " + relation->name,
                  bonus::kRelation, index.name);
    }
}

void Completer::offerColumnsInDefinition(const NextWords::Name& name) {
    if (isAround(name, NodeKind::ReferencesClause)) return offerColumnsOfNamed(namedRelation(true));
    const bool isNewColumn = name.around.size() > 2 && name.around[1] == NodeKind::ColumnDefinition &&
                             name.around[2] != NodeKind::AlterAction;
    if (isNewColumn) return;
    if (isAround(name, NodeKind::CreateTable)) return offerOwnColumns();
    offerColumnsOfNamed(namedRelation(false));
    if (isAround(name, NodeKind::Paren)) offerFunctions();
}

/// The relation that the statement names before the caret: the one it is about, or the last one.
const catalog::Relation* Completer::namedRelation(bool isLast) const {
    const SyntaxTree& tree = at_.tree();
    const catalog::Relation* found = nullptr;
    const std::size_t end = at_.before() ? *at_.before() + 1 : 0;
    for (std::size_t i = 0; i < end; ++i) {
        if (tree.roles[i] != TokenRole::Relation) continue;
        const bool isQualifier = i + 1 < end && tree.tokens[i + 1].kind == TokenKind::Dot;
        if (isQualifier) continue;
        const bool isQualified = i > 1 && tree.tokens[i - 1].kind == TokenKind::Dot;
        const std::string schema =
            isQualified ? unquotedName(tree.tokens[i - 2].textIn(at_.statement())) : std::string();
        found = catalog_.find(schema, unquotedName(tree.tokens[i].textIn(at_.statement())));
        if (found != nullptr && !isLast) return found;
    }
    return found;
}

void Completer::offerColumnsOfNamed(const catalog::Relation* relation) {
    if (relation == nullptr) return;
    for (std::size_t i = 0; i < relation->columns.size(); ++i) {
        const catalog::Column& column = relation->columns[i];
        CompletionItem* item = offer(quotedName(column.name, dialect_), CompletionKind::Column,
                                     base::toLower(column.typeName), bonus::kColumn - static_cast<int>(i), column.name);
        if (item == nullptr) continue;
        item->relation = relation;
        item->column = &column;
    }
}

/// CREATE TABLE: the columns that it has so far.
void Completer::offerOwnColumns() {
    const SyntaxTree& tree = at_.tree();
    int worth = bonus::kColumn;
    for (const Node& node : tree.nodes) {
        if (node.kind != NodeKind::ColumnDefinition || node.firstToken >= at_.written()) continue;
        const std::string_view written = tree.tokens[node.firstToken].textIn(at_.statement());
        offer(std::string(written), CompletionKind::Column, "of this table", worth--, unquotedName(written));
    }
}

}  // namespace pantry::sql
