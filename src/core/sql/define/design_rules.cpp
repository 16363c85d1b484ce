#include "core/sql/define/design_rules.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.h"
#include "core/sql/text/lexer.h"
#include "core/sql/write/names.h"

namespace pantry::sql {
namespace {

using Kind = DesignRule::Kind;
using Field = DesignRule::Field;

std::string textOfColumns(const std::vector<std::string>& columns, Dialect dialect) {
    std::string out;
    for (const std::string& one : columns) {
        out += (out.empty() ? "" : ", ") + (isIndexedExpression(one) ? one : quotedName(one, dialect));
    }
    return out;
}

std::string textOfReference(const catalog::ForeignKey& key, std::string_view schema, Dialect dialect) {
    if (key.relation.empty()) return {};
    const bool saysSchema = !key.schema.empty() && key.schema != schema;
    std::string out = qualifiedName(saysSchema ? key.schema : std::string(), key.relation, dialect);
    if (!key.referencedColumns.empty() && !key.referencedColumns.front().empty()) {
        out += " (" + textOfColumns(key.referencedColumns, dialect) + ")";
    }
    return out;
}

/// schema.table (a, b)
void takeReference(catalog::ForeignKey& key, std::string_view text, const std::string& schema, Dialect dialect) {
    std::vector<std::string> names;
    key.referencedColumns.clear();
    std::size_t depth = 0;
    std::size_t inside = std::string_view::npos;
    for (const Token& token : lex(text, dialect)) {
        if (token.isTrivia()) continue;
        if (token.kind == TokenKind::OpenParen && depth++ == 0) inside = token.end();
        if (token.kind == TokenKind::CloseParen && depth > 0 && --depth == 0 && inside != std::string_view::npos) {
            key.referencedColumns = columnsFromText(text.substr(inside, token.start - inside), dialect);
        }
        const bool isName = token.kind == TokenKind::Word || token.kind == TokenKind::QuotedName;
        if (depth == 0 && isName) names.push_back(unquotedName(token.textIn(text)));
    }
    key.schema = names.size() > 1 ? names[names.size() - 2] : schema;
    key.relation = names.empty() ? std::string() : names.back();
}

/// plot_name_idx, as people name such things; with a number when there is one of the name.
std::string freshName(const TableDesign& design, const std::vector<std::string>& columns, std::string_view ending) {
    std::string stem = design.name;
    for (const std::string& one : columns) {
        if (!isIndexedExpression(one)) stem += "_" + one;
    }
    constexpr std::size_t kMaxStem = 50;
    if (stem.size() > kMaxStem) stem.resize(kMaxStem);
    const auto isTaken = [&](const std::string& name) {
        const auto has = [&](const auto& parts) {
            return std::ranges::any_of(parts, [&](const auto& part) { return part.name == name; });
        };
        return has(design.uniques) || has(design.checks) || has(design.foreignKeys) || has(design.indexes);
    };
    std::string name = fmt::format("{}_{}", stem, ending);
    for (int i = 2; isTaken(name); ++i) name = fmt::format("{}_{}{}", stem, ending, i);
    return name;
}

template <class Part>
void eraseAt(std::vector<Part>& parts, std::size_t at) {
    if (at < parts.size()) parts.erase(parts.begin() + static_cast<std::ptrdiff_t>(at));
}

}  // namespace

std::string_view ruleLabel(Kind kind) {
    switch (kind) {
        case Kind::Unique: return "UNIQUE KEY";
        case Kind::Index: return "INDEX";
        case Kind::UniqueIndex: return "UNIQUE INDEX";
        case Kind::Check: return "CHECK";
        case Kind::ForeignKey: break;
    }
    return "FOREIGN KEY";
}

std::vector<Kind> ruleKinds(Dialect dialect) {
    if (dialect == Dialect::MySql) return {Kind::UniqueIndex, Kind::Index, Kind::Check, Kind::ForeignKey};
    return {Kind::Unique, Kind::Index, Kind::UniqueIndex, Kind::Check, Kind::ForeignKey};
}

std::vector<DesignRule> rulesOf(const TableDesign& design) {
    std::vector<DesignRule> rules;
    for (std::size_t i = 0; i < design.uniques.size(); ++i) rules.push_back({Kind::Unique, i});
    for (std::size_t i = 0; i < design.indexes.size(); ++i) {
        rules.push_back({design.indexes[i].isUnique ? Kind::UniqueIndex : Kind::Index, i});
    }
    for (std::size_t i = 0; i < design.checks.size(); ++i) rules.push_back({Kind::Check, i});
    for (std::size_t i = 0; i < design.foreignKeys.size(); ++i) rules.push_back({Kind::ForeignKey, i});
    return rules;
}

bool hasField(Kind kind, Field field, Dialect dialect) {
    const bool isIndex = kind == Kind::Index || kind == Kind::UniqueIndex;
    switch (field) {
        case Field::Name:
        case Field::Columns: return true;
        case Field::RefersTo: return kind == Kind::ForeignKey || (isIndex && dialect != Dialect::MySql);
        case Field::OnDelete:
            return kind == Kind::ForeignKey || (isIndex && dialect != Dialect::Sqlite && dialect != Dialect::Ansi);
    }
    return false;
}

std::string ruleText(const TableDesign& design, const DesignRule& rule, Field field, Dialect dialect) {
    switch (rule.kind) {
        case Kind::Unique: {
            const KeyDesign& key = design.uniques[rule.number];
            if (field == Field::Name) return key.name;
            return field == Field::Columns ? textOfColumns(key.columns, dialect) : std::string();
        }
        case Kind::Index:
        case Kind::UniqueIndex: {
            const catalog::Index& index = design.indexes[rule.number];
            if (field == Field::Name) return index.name;
            if (field == Field::Columns) return textOfColumns(index.columns, dialect);
            return field == Field::RefersTo ? index.predicate : index.method;
        }
        case Kind::Check: {
            const CheckDesign& check = design.checks[rule.number];
            if (field == Field::Name) return check.name;
            return field == Field::Columns ? check.expression : std::string();
        }
        case Kind::ForeignKey: break;
    }
    const catalog::ForeignKey& key = design.foreignKeys[rule.number];
    if (field == Field::Name) return key.name;
    if (field == Field::Columns) return textOfColumns(key.columns, dialect);
    return field == Field::RefersTo ? textOfReference(key, design.schema, dialect) : key.onDelete;
}

void setRuleText(TableDesign& design, const DesignRule& rule, Field field, std::string_view wanted, Dialect dialect) {
    const std::string text(base::trimmed(wanted));
    switch (rule.kind) {
        case Kind::Unique:
            if (field == Field::Name) design.uniques[rule.number].name = text;
            if (field == Field::Columns) design.uniques[rule.number].columns = columnsFromText(text, dialect);
            return;
        case Kind::Index:
        case Kind::UniqueIndex: {
            catalog::Index& index = design.indexes[rule.number];
            if (field == Field::Name) index.name = text;
            if (field == Field::Columns) index.columns = columnsFromText(text, dialect);
            if (field == Field::RefersTo) {
                index.predicate = text;
                index.isPartial = !text.empty();
            }
            if (field == Field::OnDelete) index.method = base::toLower(text);
            return;
        }
        case Kind::Check:
            if (field == Field::Name) design.checks[rule.number].name = text;
            if (field == Field::Columns) design.checks[rule.number].expression = text;
            return;
        case Kind::ForeignKey: break;
    }
    catalog::ForeignKey& key = design.foreignKeys[rule.number];
    if (field == Field::Name) key.name = text;
    if (field == Field::Columns) key.columns = columnsFromText(text, dialect);
    if (field == Field::RefersTo) takeReference(key, text, design.schema, dialect);
    if (field == Field::OnDelete) key.onDelete = base::toUpper(text);
}

DesignRule addRule(TableDesign& design, Kind kind, const std::vector<std::string>& columns) {
    switch (kind) {
        case Kind::Unique:
            design.uniques.push_back({freshName(design, columns, "key"), columns});
            return {kind, design.uniques.size() - 1};
        case Kind::Index:
        case Kind::UniqueIndex:
            design.indexes.push_back(
                {.name = freshName(design, columns, "idx"), .columns = columns, .isUnique = kind == Kind::UniqueIndex});
            return {kind, design.indexes.size() - 1};
        case Kind::Check:
            design.checks.push_back({freshName(design, columns, "check"), {}, {}});
            return {kind, design.checks.size() - 1};
        case Kind::ForeignKey: break;
    }
    design.foreignKeys.push_back(
        {.name = freshName(design, columns, "fkey"), .columns = columns, .schema = design.schema});
    return {kind, design.foreignKeys.size() - 1};
}

void removeRule(TableDesign& design, const DesignRule& rule) {
    switch (rule.kind) {
        case Kind::Unique: return eraseAt(design.uniques, rule.number);
        case Kind::Index:
        case Kind::UniqueIndex: return eraseAt(design.indexes, rule.number);
        case Kind::Check: return eraseAt(design.checks, rule.number);
        case Kind::ForeignKey: return eraseAt(design.foreignKeys, rule.number);
    }
}

std::optional<DesignRule> ruleOf(const DesignProblem& problem, const TableDesign& design) {
    switch (problem.place) {
        case DesignProblem::Place::Unique: return DesignRule{Kind::Unique, problem.number};
        case DesignProblem::Place::Check: return DesignRule{Kind::Check, problem.number};
        case DesignProblem::Place::ForeignKey: return DesignRule{Kind::ForeignKey, problem.number};
        case DesignProblem::Place::Index:
            return DesignRule{design.indexes[problem.number].isUnique ? Kind::UniqueIndex : Kind::Index,
                              problem.number};
        case DesignProblem::Place::Table:
        case DesignProblem::Place::Column:
        case DesignProblem::Place::PrimaryKey: break;
    }
    return std::nullopt;
}

std::vector<std::string> columnsFromText(std::string_view text, Dialect dialect) {
    std::vector<std::string> columns;
    std::size_t depth = 0;
    std::size_t first = std::string_view::npos;
    std::size_t end = 0;
    std::size_t tokens = 0;
    const auto take = [&] {
        if (first == std::string_view::npos) return;
        const std::string_view part = text.substr(first, end - first);
        const bool isBracketed = part.starts_with('(');
        columns.push_back(tokens == 1   ? unquotedName(part)
                          : isBracketed ? std::string(part)
                                        : fmt::format("({})", part));
        first = std::string_view::npos;
        tokens = 0;
    };
    for (const Token& token : lex(text, dialect)) {
        if (token.isTrivia()) continue;
        if (token.kind == TokenKind::Comma && depth == 0) {
            take();
            continue;
        }
        if (token.kind == TokenKind::OpenParen) ++depth;
        if (token.kind == TokenKind::CloseParen && depth > 0) --depth;
        if (first == std::string_view::npos) first = token.start;
        end = token.end();
        ++tokens;
    }
    take();
    return columns;
}

}  // namespace pantry::sql
