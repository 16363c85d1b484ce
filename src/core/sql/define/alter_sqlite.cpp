#include "core/sql/define/alter_sqlite.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.h"
#include "core/sql/define/create_table.h"
#include "core/sql/define/same_parts.h"
#include "core/sql/syntax/parser.h"
#include "core/sql/syntax/splitter.h"
#include "core/sql/text/lexer.h"
#include "core/sql/write/names.h"

namespace pantry::sql {
namespace {

constexpr Dialect kDialect = Dialect::Sqlite;

/// CREATE [UNIQUE] INDEX [IF NOT EXISTS] [schema.]name ON …
std::string indexNameIn(std::string_view statement) {
    std::string name;
    bool isBehindIndex = false;
    for (const Token& token : lex(statement, kDialect)) {
        if (token.isTrivia() || token.kind == TokenKind::Dot) continue;
        if (isBehindIndex && token.is(Keyword::On)) return name;
        const bool isWord = token.is(Keyword::If) || token.is(Keyword::Not) || token.is(Keyword::Exists);
        if (isBehindIndex && !isWord) name = unquotedName(token.textIn(statement));
        isBehindIndex = isBehindIndex || token.is(Keyword::Index);
    }
    return name;
}

class SqliteAlteration {
public:
    SqliteAlteration(const TableDesign& before, const TableDesign& after, const OwnStatements& own)
        : before_(before), after_(after), was_(before), own_(own), words_(kDialect), same_(kDialect) {
        for (std::size_t i = 0; i < was_.columns.size(); ++i) {
            const ColumnDesign* now = nowOf(before_.columns[i]);
            if (now != nullptr && now->column.name != was_.columns[i].column.name) {
                was_.renameColumn(i, now->column.name, kDialect);
            }
        }
    }

    DefinitionChange write() {
        if (needsRebuild()) {
            rebuild();
        } else {
            simple();
        }
        return std::move(change_);
    }

private:
    [[nodiscard]] const ColumnDesign* nowOf(const ColumnDesign& was) const {
        const auto found = std::ranges::find(after_.columns, was.was, &ColumnDesign::was);
        return found == after_.columns.end() ? nullptr : &*found;
    }

    void step(std::string statement, std::string label, bool isDestructive = false) {
        change_.steps.push_back({std::move(statement), std::move(label), isDestructive});
    }

    [[nodiscard]] std::string tableOf(const TableDesign& design) const { return words_.table(design); }

    /// Whether anything changes that the engine has no statement for.
    [[nodiscard]] bool needsRebuild() const {
        if (was_.primaryKey.columns != after_.primaryKey.columns || !same_.alike(was_.uniques, after_.uniques) ||
            !same_.alike(was_.checks, after_.checks) || !same_.alike(was_.foreignKeys, after_.foreignKeys) ||
            before_.options != after_.options) {
            return true;
        }
        // Columns keep their place, and new ones come behind them.
        std::vector<std::string> order;
        bool isBehindNew = false;
        for (const ColumnDesign& one : after_.columns) {
            if (one.was.empty()) {
                isBehindNew = true;
                if (!canBeAdded(one.column)) return true;
                continue;
            }
            if (isBehindNew) return true;
            order.push_back(one.was);
        }
        std::vector<std::string> before;
        for (const ColumnDesign& one : before_.columns) before.push_back(one.was);
        if (order != before) return true;
        return std::ranges::any_of(after_.columns, [this](const ColumnDesign& now) {
            const auto was = std::ranges::find(was_.columns, now.was, &ColumnDesign::was);
            if (now.was.empty() || was == was_.columns.end()) return false;
            return !same_.columns(was->column, now.column);
        });
    }

    /// What ADD COLUMN takes: no key, NOT NULL only with a default, and no default that has to be worked out.
    [[nodiscard]] bool canBeAdded(const catalog::Column& column) const {
        if (column.isStored || column.identity != catalog::Identity::None || after_.isInKey(column.name)) return false;
        if (!column.defaultValue) return column.isNullable || column.isGenerated;
        const std::string value = base::toLower(*column.defaultValue);
        return !value.starts_with('(') && !value.starts_with("current_");
    }

    void renameColumns() {
        for (const ColumnDesign& one : before_.columns) {
            const ColumnDesign* now = nowOf(one);
            if (now == nullptr || now->column.name == one.column.name) continue;
            step(fmt::format("ALTER TABLE {} RENAME COLUMN {} TO {}", tableOf(before_), words_.name(one.column.name),
                             words_.name(now->column.name)),
                 fmt::format("Rename column {} to {}", one.column.name, now->column.name));
        }
    }

    void simple() {
        renameColumns();
        for (const ColumnDesign& one : after_.columns) {
            if (!one.was.empty()) continue;
            step(
                fmt::format("ALTER TABLE {} ADD COLUMN {}", tableOf(before_), words_.column(one, false, after_.checks)),
                "Add column " + one.column.name);
        }
        for (const catalog::Index& index : was_.indexes) {
            if (same_.isAmong(index, after_.indexes)) continue;
            step("DROP INDEX " + qualifiedName(before_.schema, index.name, kDialect), "Drop index " + index.name, true);
        }
        newIndexes();
        renameTable(before_.name);
    }

    void renameTable(const std::string& from) {
        if (from == after_.name) return;
        step(fmt::format("ALTER TABLE {} RENAME TO {}", qualifiedName(before_.schema, from, kDialect),
                         words_.name(after_.name)),
             fmt::format("Rename {} to {}", from, after_.name));
    }

    /// A name that nobody else has.
    [[nodiscard]] std::string passingName() const { return before_.name + "_made_anew"; }

    /// The table is made with its columns' old names, and they are renamed at the end: the engine then follows them in
    /// views, triggers and keys of other tables, which nobody else could.
    void rebuild() {
        change_.hasOwnTransaction = true;
        step("PRAGMA foreign_keys = OFF", "Let foreign keys rest");
        step("BEGIN IMMEDIATE", "Begin a transaction");
        step("PRAGMA legacy_alter_table = ON", "Let views and triggers rest while the table is away");
        TableDesign passing = withOldNames();
        passing.name = passingName();
        step(createTable(passing, kDialect).table.front(), fmt::format("Make {} as it is to be", after_.name));
        copyRows(passing);
        const bool loses =
            std::ranges::any_of(before_.columns, [this](const ColumnDesign& one) { return nowOf(one) == nullptr; });
        step("DROP TABLE " + tableOf(before_), "Drop the table as it was", loses);
        step(fmt::format("ALTER TABLE {} RENAME TO {}", words_.table(passing), words_.name(before_.name)),
             "Give the new one its name");
        step("PRAGMA legacy_alter_table = OFF", "Heed views and triggers again");
        keptIndexes();
        for (const std::string& trigger : own_.triggers) step(trigger, "Make a trigger again");
        renameColumns();
        newIndexes();
        renameTable(before_.name);
        step(fmt::format("PRAGMA {}foreign_key_check", before_.schema.empty() ? "" : words_.name(before_.schema) + "."),
             "Examine the foreign keys");
        step("COMMIT", "Keep it all");
        step("PRAGMA foreign_keys = ON", "Heed foreign keys again");
    }

    [[nodiscard]] TableDesign withOldNames() const {
        TableDesign design = after_;
        for (std::size_t i = 0; i < design.columns.size(); ++i) {
            if (!design.columns[i].was.empty()) design.renameColumn(i, design.columns[i].was, kDialect);
        }
        design.indexes.clear();
        design.comment.clear();
        return design;
    }

    void copyRows(const TableDesign& passing) {
        std::string into;
        std::string from;
        for (const ColumnDesign& one : passing.columns) {
            if (one.was.empty() || one.column.isGenerated) continue;
            const auto was = std::ranges::find(before_.columns, one.was, &ColumnDesign::was);
            if (was == before_.columns.end()) continue;
            const std::string name = words_.name(one.was);
            into += (into.empty() ? "" : ", ") + name;
            const bool fillsIn = was->column.isNullable && !one.column.isNullable && one.column.defaultValue;
            from += from.empty() ? "" : ", ";
            from += fillsIn ? fmt::format("coalesce({}, {})", name, *one.column.defaultValue) : name;
        }
        if (into.empty()) return;
        step(
            fmt::format("INSERT INTO {} ({})\nSELECT {}\nFROM {}", words_.table(passing), into, from, tableOf(before_)),
            "Copy the rows");
    }

    /// By their own statements, which say more than a catalog tells.
    void keptIndexes() {
        for (std::size_t i = 0; i < was_.indexes.size(); ++i) {
            if (!same_.isAmong(was_.indexes[i], after_.indexes)) continue;
            const catalog::Index& index = before_.indexes[i];
            const auto own = std::ranges::find(own_.indexes, index.name, &std::pair<std::string, std::string>::first);
            step(own == own_.indexes.end() ? words_.createIndex(index, before_) : own->second,
                 "Make index " + index.name + " again");
        }
    }

    void newIndexes() {
        for (const catalog::Index& index : after_.indexes) {
            if (!same_.isAmong(index, was_.indexes))
                step(words_.createIndex(index, before_), "Add index " + index.name);
        }
    }

    const TableDesign& before_;
    const TableDesign& after_;
    TableDesign was_;  // before, with the columns' new names
    const OwnStatements& own_;
    TableWords words_;
    SameParts same_;
    DefinitionChange change_;
};

}  // namespace

OwnStatements ownStatementsIn(std::string_view definition) {
    OwnStatements own;
    for (const StatementSpan& span : splitStatements(definition, kDialect)) {
        std::string statement(definition.substr(span.start, span.length));
        const SyntaxTree tree = parseSingle(statement, kDialect);
        if (tree.nodes.size() < 2) continue;
        switch (tree.nodes[1].kind) {
            case NodeKind::CreateTable: own.table = std::move(statement); break;
            case NodeKind::CreateTrigger: own.triggers.push_back(std::move(statement)); break;
            case NodeKind::CreateIndex: {
                const std::string name = indexNameIn(statement);
                own.indexes.emplace_back(name, std::move(statement));
                break;
            }
            default: break;
        }
    }
    return own;
}

DefinitionChange alterSqlite(const TableDesign& before, const TableDesign& after, const OwnStatements& own) {
    return SqliteAlteration(before, after, own).write();
}

}  // namespace pantry::sql
