#include "core/sql/define/alter_table.h"

#include <fmt/format.h>

#include <algorithm>
#include <optional>

#include "core/base/joined.h"
#include "core/base/text.h"
#include "core/sql/define/alter_sqlite.h"
#include "core/sql/define/create_table.h"
#include "core/sql/define/same_parts.h"
#include "core/sql/define/table_options.h"
#include "core/sql/text/lexer.h"
#include "core/sql/write/names.h"

namespace pantry::sql {
namespace {

const ColumnDesign* columnThatWas(const TableDesign& design, const std::string& was) {
    const auto found = std::ranges::find(design.columns, was, &ColumnDesign::was);
    return was.empty() || found == design.columns.end() ? nullptr : &*found;
}

/// Writes the steps of one table's change for PostgreSQL, the standard, and MariaDB.
class Alteration {
public:
    Alteration(const TableDesign& before, const TableDesign& after, Dialect dialect)
        : before_(before), after_(after), was_(before), dialect_(dialect), words_(dialect), same_(dialect) {
        // What stood before, with the columns' new names: what differs then is really different.
        for (std::size_t i = 0; i < was_.columns.size(); ++i) {
            const ColumnDesign* now = columnThatWas(after_, before_.columns[i].was);
            if (now != nullptr && now->column.name != was_.columns[i].column.name) {
                was_.renameColumn(i, now->column.name, dialect_);
            }
        }
        table_ = words_.table(before_);
    }

    DefinitionChange write() {
        dropRules();
        renameColumns();
        dropColumns();
        addColumns();
        changeColumns();
        addRules();
        flush();
        comments();
        options();
        renameTable();
        return std::move(change_);
    }

private:
    [[nodiscard]] bool isMySql() const { return dialect_ == Dialect::MySql; }

    /// An action of ALTER TABLE. MariaDB gets them all in one statement, which happens as a whole or not at all.
    void action(std::string text, std::string label, bool isDestructive = false) {
        if (!isMySql())
            return step(fmt::format("ALTER TABLE {}\n    {}", table_, text), std::move(label), isDestructive);
        actions_.push_back(std::move(text));
        labels_.push_back(std::move(label));
        areDestructive_ = areDestructive_ || isDestructive;
    }

    void step(std::string statement, std::string label, bool isDestructive = false) {
        change_.steps.push_back({std::move(statement), std::move(label), isDestructive});
    }

    void flush() {
        if (actions_.empty()) return;
        std::string label;
        for (const std::string& one : labels_) label += (label.empty() ? "" : ", ") + one;
        step(fmt::format("ALTER TABLE {}\n    {}", table_, base::joined(actions_, ",\n    ")), label, areDestructive_);
        actions_.clear();
        labels_.clear();
        areDestructive_ = false;
    }

    void dropConstraint(const std::string& name, const std::string& label) {
        action("DROP CONSTRAINT " + words_.name(name), label, true);
    }

    void dropRules() {
        for (const catalog::ForeignKey& key : same_.missing(was_.foreignKeys, after_.foreignKeys)) {
            action((isMySql() ? "DROP FOREIGN KEY " : "DROP CONSTRAINT ") + words_.name(key.name),
                   "Drop foreign key " + key.name, true);
        }
        flush();  // MariaDB drops an index only when no key of another statement needs it
        for (const CheckDesign& check : same_.missing(was_.checks, after_.checks)) {
            if (!check.column.empty() && isMySql()) continue;  // goes with its column
            dropConstraint(check.name, "Drop check " + check.name);
        }
        for (const KeyDesign& key : same_.missing(was_.uniques, after_.uniques)) {
            dropConstraint(key.name, "Drop unique key " + key.name);
        }
        for (const catalog::Index& index : same_.missing(was_.indexes, after_.indexes)) {
            if (isMySql() && isOfForeignKey(index)) continue;
            if (isMySql()) {
                action("DROP INDEX " + words_.name(index.name), "Drop index " + index.name, true);
            } else {
                step("DROP INDEX " + qualifiedName(before_.schema, index.name, dialect_), "Drop index " + index.name,
                     true);
            }
        }
        const KeyDesign& key = was_.primaryKey;
        if (!key.columns.empty() && key.columns != after_.primaryKey.columns) {
            if (isMySql()) {
                action("DROP PRIMARY KEY", "Drop primary key", true);
            } else {
                dropConstraint(key.name.empty() ? before_.name + "_pkey" : key.name, "Drop primary key");
            }
        }
    }

    /// MariaDB makes an index for each foreign key, and keeps it as long as the key.
    [[nodiscard]] bool isOfForeignKey(const catalog::Index& index) const {
        return std::ranges::find(after_.foreignKeys, index.name, &catalog::ForeignKey::name) !=
               after_.foreignKeys.end();
    }

    /// MariaDB renames with the rest, by CHANGE COLUMN or RENAME COLUMN.
    void renameColumns() {
        for (std::size_t i = 0; i < before_.columns.size(); ++i) {
            const ColumnDesign* now = columnThatWas(after_, before_.columns[i].was);
            if (now == nullptr || now->column.name == before_.columns[i].column.name) continue;
            if (isMySql() && isChanged(was_.columns[i], *now)) continue;
            action(fmt::format("RENAME COLUMN {} TO {}", words_.name(before_.columns[i].column.name),
                               words_.name(now->column.name)),
                   fmt::format("Rename column {} to {}", before_.columns[i].column.name, now->column.name));
        }
    }

    void dropColumns() {
        for (const ColumnDesign& one : before_.columns) {
            if (columnThatWas(after_, one.was) != nullptr) continue;
            action("DROP COLUMN " + words_.name(one.column.name), "Drop column " + one.column.name, true);
        }
    }

    void addColumns() {
        for (std::size_t i = 0; i < after_.columns.size(); ++i) {
            const ColumnDesign& one = after_.columns[i];
            if (!one.was.empty()) continue;
            std::string text = "ADD COLUMN " + words_.column(one, false, after_.checks);
            if (isMySql()) text += placeOf(i);
            action(std::move(text), "Add column " + one.column.name);
        }
    }

    /// Where MariaDB puts a column that is not the last.
    [[nodiscard]] std::string placeOf(std::size_t i) const {
        if (i == 0) return after_.columns.size() > 1 ? " FIRST" : "";
        const bool isBehindAll = i + 1 == after_.columns.size();
        return isBehindAll ? std::string() : " AFTER " + words_.name(after_.columns[i - 1].column.name);
    }

    [[nodiscard]] bool isChanged(const ColumnDesign& was, const ColumnDesign& now) const {
        if (!same_.columns(was.column, now.column)) return true;
        if (isMySql() && was.column.comment != now.column.comment) return true;  // elsewhere a statement of its own
        return isMySql() && !same_.alike(checksOf(was_, was.column.name), checksOf(after_, now.column.name));
    }

    static std::vector<CheckDesign> checksOf(const TableDesign& design, const std::string& column) {
        std::vector<CheckDesign> out;
        for (const CheckDesign& check : design.checks) {
            if (check.column == column) out.push_back(check);
        }
        return out;
    }

    /// Columns of the order they have after the change, without those that come or go: MariaDB can move one.
    [[nodiscard]] bool isMoved(std::size_t i) const {
        if (!isMySql()) return false;
        std::vector<std::string> before;
        std::vector<std::string> after;
        for (const ColumnDesign& one : before_.columns) {
            if (columnThatWas(after_, one.was) != nullptr) before.push_back(one.was);
        }
        for (const ColumnDesign& one : after_.columns) {
            if (!one.was.empty()) after.push_back(one.was);
        }
        const auto place = [&](const std::vector<std::string>& all) {
            const auto at = std::ranges::find(all, after_.columns[i].was);
            return at == all.begin() ? std::string() : *std::prev(at);
        };
        return place(before) != place(after);
    }

    void changeColumns() {
        for (std::size_t i = 0; i < after_.columns.size(); ++i) {
            const ColumnDesign& now = after_.columns[i];
            const auto was = std::ranges::find(was_.columns, now.was, &ColumnDesign::was);
            if (now.was.empty() || was == was_.columns.end()) continue;
            const bool changes = isChanged(*was, now);
            if (!changes && !isMoved(i)) continue;
            const std::string& name = now.column.name;
            if (isMySql()) {
                const bool isRenamed = changes && now.was != name;
                const std::string verb = isRenamed ? "CHANGE COLUMN " + words_.name(now.was) + " " : "MODIFY COLUMN ";
                std::string text = verb + words_.column(now, false, after_.checks);
                if (isMoved(i)) {
                    text += i == 0 ? " FIRST" : " AFTER " + words_.name(after_.columns[i - 1].column.name);
                }
                const std::string label = changes ? "Change column " : "Move column ";
                action(std::move(text), label + name, typeDiffers(*was, now));
                continue;
            }
            changeColumn(*was, now);
        }
    }

    static bool typeDiffers(const ColumnDesign& was, const ColumnDesign& now) {
        return was.column.typeName != now.column.typeName;
    }

    /// PostgreSQL: an action for each thing that differs.
    void changeColumn(const ColumnDesign& was, const ColumnDesign& now) {
        const catalog::Column& from = was.column;
        const catalog::Column& to = now.column;
        const std::string column = "ALTER COLUMN " + words_.name(to.name);
        if (from.isGenerated && !to.isGenerated) {
            action(column + " DROP EXPRESSION", fmt::format("{} is not generated any more", to.name), true);
        } else if (from.isGenerated != to.isGenerated || !same_.expressions(from.generation, to.generation)) {
            // There is no statement for it: the column is made anew.
            action("DROP COLUMN " + words_.name(to.name), "Drop column " + to.name, true);
            action("ADD COLUMN " + words_.column(now, false, {}), "Add column " + to.name);
            return;
        }
        const bool losesIdentity = from.identity != catalog::Identity::None && to.identity == catalog::Identity::None;
        if (losesIdentity) action(column + " DROP IDENTITY", to.name + " does not count up any more", true);
        if (!base::equalsIgnoringCase(from.typeName, to.typeName) || from.collation != to.collation)
            changeType(column, from, to);
        const bool isSameDefault = from.defaultValue.has_value() == to.defaultValue.has_value() &&
                                   same_.expressions(from.defaultValue.value_or(""), to.defaultValue.value_or(""));
        if (!isSameDefault && !to.isGenerated) {
            action(column + (to.defaultValue ? " SET DEFAULT " + *to.defaultValue : std::string(" DROP DEFAULT")),
                   "Change the default of " + to.name);
        }
        if (from.isNullable != to.isNullable) {
            action(column + (to.isNullable ? " DROP NOT NULL" : " SET NOT NULL"),
                   to.name + (to.isNullable ? " may be NULL" : " is never NULL"));
        }
        if (from.identity != to.identity && to.identity != catalog::Identity::None) {
            const std::string_view kind = to.identity == catalog::Identity::Always ? "ALWAYS" : "BY DEFAULT";
            const bool had = from.identity != catalog::Identity::None;
            action(column + fmt::format(" {} GENERATED {}{}", had ? "SET" : "ADD", kind, had ? "" : " AS IDENTITY"),
                   to.name + " counts up");
        }
    }

    /// An old default may not fit the new type: it is dropped and set again around the change.
    void changeType(const std::string& column, const catalog::Column& from, const catalog::Column& to) {
        const bool hadDefault = from.defaultValue.has_value() && from.typeName != to.typeName;
        if (hadDefault) action(column + " DROP DEFAULT", "Drop the default of " + to.name);
        std::string text = column + " TYPE " + to.typeName;
        if (!to.collation.empty()) text += " COLLATE " + to.collation;
        if (from.typeName != to.typeName) text += fmt::format(" USING {}::{}", words_.name(to.name), to.typeName);
        action(std::move(text), fmt::format("Change the type of {} to {}", to.name, to.typeName), true);
        if (hadDefault && from.defaultValue == to.defaultValue) {
            action(column + " SET DEFAULT " + *to.defaultValue, "Set the default of " + to.name + " again");
        }
    }

    void addRules() {
        const KeyDesign& key = after_.primaryKey;
        if (!key.columns.empty() && key.columns != was_.primaryKey.columns) {
            action("ADD " + words_.primaryKey(key), "Add primary key");
        }
        for (const KeyDesign& one : same_.missing(after_.uniques, was_.uniques)) {
            action("ADD " + words_.unique(one), "Add unique key " + one.name);
        }
        for (const CheckDesign& check : same_.missing(after_.checks, was_.checks)) {
            const bool comesWithColumn =
                !check.column.empty() &&
                (isMySql() || std::ranges::any_of(after_.columns, [&](const ColumnDesign& one) {
                     return one.was.empty() && one.column.name == check.column;
                 }));
            if (!comesWithColumn) action("ADD " + words_.check(check), "Add check " + check.name);
        }
        for (const catalog::Index& index : same_.missing(after_.indexes, was_.indexes)) {
            if (isMySql()) {
                action("ADD " + words_.keyOfTable(index), "Add index " + index.name);
            } else {
                step(words_.createIndex(index, before_), "Add index " + index.name);
            }
        }
        for (const catalog::ForeignKey& one : same_.missing(after_.foreignKeys, was_.foreignKeys)) {
            action("ADD " + words_.foreignKey(one, after_.schema), "Add foreign key to " + one.relation);
        }
    }

    void comments() {
        if (before_.comment != after_.comment) {
            if (isMySql()) {
                step(fmt::format("ALTER TABLE {} COMMENT = {}", table_, words_.text(after_.comment)),
                     "Change the comment");
            } else if (dialect_ == Dialect::Postgres) {
                step(fmt::format("COMMENT ON TABLE {} IS {}", table_, commentText(after_.comment)),
                     "Change the comment");
            }
        }
        if (dialect_ != Dialect::Postgres) return;
        for (const ColumnDesign& one : after_.columns) {
            const auto was = std::ranges::find(was_.columns, one.was, &ColumnDesign::was);
            const bool isNew = one.was.empty() || was == was_.columns.end();
            if (one.column.comment == (isNew ? std::string() : was->column.comment)) continue;
            step(fmt::format("COMMENT ON COLUMN {}.{} IS {}", table_, words_.name(one.column.name),
                             commentText(one.column.comment)),
                 "Change the comment of " + one.column.name);
        }
    }

    [[nodiscard]] std::string commentText(const std::string& comment) const {
        return comment.empty() ? std::string("NULL") : words_.text(comment);
    }

    void options() {
        const auto whole = [](const TableDesign& design) { return base::joined(design.options, " "); };
        for (const std::string& clause : optionChanges(whole(before_), whole(after_), dialect_)) {
            step(fmt::format("ALTER TABLE {} {}", table_, clause), "Change the options");
        }
    }

    void renameTable() {
        if (before_.name != after_.name) {
            const std::string label = fmt::format("Rename {} to {}", before_.name, after_.name);
            if (isMySql()) {
                step(fmt::format("RENAME TABLE {} TO {}", table_, words_.table(after_)), label);
                return;
            }
            step(fmt::format("ALTER TABLE {} RENAME TO {}", table_, words_.name(after_.name)), label);
            table_ = qualifiedName(before_.schema, after_.name, dialect_);
        }
        if (before_.schema == after_.schema || isMySql()) return;
        step(fmt::format("ALTER TABLE {} SET SCHEMA {}", table_, words_.name(after_.schema)),
             "Move to " + after_.schema);
    }

    const TableDesign& before_;
    const TableDesign& after_;
    TableDesign was_;  // before, with the columns' new names
    Dialect dialect_;
    TableWords words_;
    SameParts same_;
    std::string table_;
    DefinitionChange change_;
    std::vector<std::string> actions_;
    std::vector<std::string> labels_;
    bool areDestructive_ = false;
};

}  // namespace

std::optional<std::size_t> DefinitionStep::placeInText(std::size_t byte) const {
    if (!textStart) return {};
    return *textStart + (byte > added ? byte - added : std::size_t{0});
}

bool DefinitionChange::isDestructive() const { return std::ranges::any_of(steps, &DefinitionStep::isDestructive); }

std::string DefinitionChange::script() const {
    std::string out;
    for (const DefinitionStep& step : steps) out += step.statement + ";\n";
    return out;
}

DefinitionChange alterTable(const TableDesign& before, const TableDesign& after, Dialect dialect,
                            const OwnStatements& own) {
    if (dialect == Dialect::Sqlite) return alterSqlite(before, after, own);
    return Alteration(before, after, dialect).write();
}

}  // namespace pantry::sql
