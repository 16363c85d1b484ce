#include <algorithm>

#include "core/base/text.h"
#include "core/sql/complete/completer.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

std::string listed(const std::vector<std::string>& items) {
    std::string text;
    for (const std::string& item : items) text += (text.empty() ? "" : ", ") + item;
    return "(" + text + ")";
}

}  // namespace

std::string Completer::parameterFor(std::string_view column) {
    const std::string name = base::toLower(column);
    const bool isPlain = !name.empty() && !base::isAsciiDigit(name[0]) && std::ranges::all_of(name, [](char c) {
        return c == '_' || base::isAsciiDigit(c) || (c >= 'a' && c <= 'z');
    });
    return isPlain ? ":" + name : ":value";
}

std::vector<const ScopeColumn*> Completer::insertedColumns() const {
    std::vector<const ScopeColumn*> columns;
    if (target_.empty()) return columns;
    const ScopeRelation& target = target_.front();
    const SyntaxTree& tree = at_.tree();
    const auto into = std::ranges::find(tree.nodes, NodeKind::InsertTarget, &Node::kind);
    const std::uint32_t list =
        into == tree.nodes.end()
            ? Node::kNone
            : tree.childOf(static_cast<std::uint32_t>(into - tree.nodes.begin()), NodeKind::ColumnList);
    if (list == Node::kNone) {
        for (const ScopeColumn& column : target.columns) {
            const catalog::Column* fact =
                column.origin != nullptr ? column.origin->column(column.originColumn) : nullptr;
            if (fact == nullptr || !fact->isGenerated) columns.push_back(&column);
        }
        return columns;
    }
    for (std::uint32_t i = tree.nodes[list].firstToken; i < tree.nodes[list].endToken; ++i) {
        const TokenKind kind = tree.tokens[i].kind;
        if (kind != TokenKind::Word && kind != TokenKind::QuotedName) continue;
        const std::string name = unquotedName(tree.tokens[i].textIn(at_.statement()));
        const auto found = std::ranges::find_if(
            target.columns, [&](const ScopeColumn& column) { return base::equalsIgnoringCase(column.name, name); });
        columns.push_back(found == target.columns.end() ? nullptr : &*found);
    }
    return columns;
}

void Completer::offerInsertLists() {
    std::vector<std::string> names;
    std::vector<std::string> values;
    for (const ScopeColumn* column : insertedColumns()) {
        if (column == nullptr) return;  // there is a list already, of something else
        names.push_back(quotedName(column->name, dialect_));
        values.push_back(parameterFor(column->name));
    }
    if (names.size() < 2) return;
    const std::string columns = listed(names);
    offer(columns + " " + keyword("VALUES") + " " + listed(values), CompletionKind::Columns, "all columns",
          bonus::kColumn);
    offer(columns, CompletionKind::Columns, "all columns", bonus::kColumn - 1);
}

void Completer::offerMatchingValues() {
    std::vector<std::string> values;
    for (const ScopeColumn* column : insertedColumns())
        values.push_back(column == nullptr ? ":value" : parameterFor(column->name));
    if (!values.empty()) offer(listed(values), CompletionKind::Columns, "one for each column", bonus::kColumn);
}

std::optional<Completer::Operand> Completer::insertedColumn() const {
    if (!at_.before() || clause_ != NodeKind::ValuesClause) return std::nullopt;
    std::size_t place = 0;
    int depth = 0;
    for (std::size_t n = 0; at_.back(n) != nullptr; ++n) {
        const TokenKind kind = at_.back(n)->kind;
        if (kind == TokenKind::CloseParen) ++depth;
        if (kind == TokenKind::Comma && depth == 0) ++place;
        if (kind != TokenKind::OpenParen || depth-- > 0) continue;
        const Token* opener = at_.back(n + 1);
        const bool isRow = opener != nullptr && (opener->is(Keyword::Values) || opener->is(Keyword::Value) ||
                                                 opener->is(Keyword::Row) || opener->kind == TokenKind::Comma);
        const std::vector<const ScopeColumn*> columns = insertedColumns();
        if (!isRow || place >= columns.size() || columns[place] == nullptr) return std::nullopt;
        return Operand{&target_.front(), columns[place]};
    }
    return std::nullopt;
}

void Completer::offerInsertedValue(const Operand& column) {
    offer(parameterFor(column.column->name), CompletionKind::Parameter,
          column.column->name + (column.column->type.empty() ? "" : " · " + base::toLower(column.column->type)),
          bonus::kColumn, column.column->name);
}

}  // namespace pantry::sql
