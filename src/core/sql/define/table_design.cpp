#include "core/sql/define/table_design.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "core/base/joined.h"
#include "core/base/text.h"
#include "core/base/utf8.h"
#include "core/sql/define/table_options.h"
#include "core/sql/define/translate.h"
#include "core/sql/define/type_map.h"
#include "core/sql/meaning/table_parts.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

bool holds(const std::vector<std::string>& names, std::string_view name) {
    return std::ranges::any_of(names, [&](const std::string& one) { return base::equalsIgnoringCase(one, name); });
}

void rename(std::vector<std::string>& names, std::string_view was, const std::string& now) {
    for (std::string& one : names) {
        if (base::equalsIgnoringCase(one, was)) one = now;
    }
}

bool names(std::string_view expression, std::string_view column, Dialect dialect) {
    return withColumnRenamed(expression, column, std::string(column) + "\x01", dialect) != expression;
}

/// The condition of “CHECK ((height > 0))”.
std::string expressionOf(const std::string& definition) {
    const std::size_t open = definition.find('(');
    const std::size_t close = definition.rfind(')');
    if (open == std::string::npos || close == std::string::npos || close <= open) return definition;
    return std::string(base::trimmed(std::string_view(definition).substr(open + 1, close - open - 1)));
}

/// What stands behind the brackets: NOT VALID, NO INHERIT.
std::string tailOf(const std::string& definition) {
    const std::size_t close = definition.rfind(')');
    return close == std::string::npos ? std::string() : std::string(base::trimmed(definition.substr(close + 1)));
}

void takeConstraints(TableDesign& design, const catalog::Relation& relation) {
    for (const catalog::Constraint& one : relation.constraints) {
        switch (one.kind) {
            case catalog::Constraint::Kind::Check:
                if (tailOf(one.definition).empty()) {
                    design.checks.push_back(
                        {.name = one.name,
                         .expression = expressionOf(one.definition),
                         .column = one.isOfColumn && !one.columns.empty() ? one.columns.front() : std::string()});
                } else {
                    design.others.push_back(one.definition);
                }
                break;
            case catalog::Constraint::Kind::Unique: design.uniques.push_back({one.name, one.columns}); break;
            case catalog::Constraint::Kind::Exclusion: design.others.push_back(one.definition); break;
        }
    }
}

/// Indexes that somebody made, not those that keys brought with them.
void takeIndexes(TableDesign& design, const catalog::Relation& relation, Dialect dialect) {
    for (const catalog::Index& index : relation.indexes) {
        if (index.isPrimaryKey) {
            if (!design.primaryKey.columns.empty() && dialect == Dialect::Postgres) design.primaryKey.name = index.name;
            continue;
        }
        if (dialect == Dialect::Sqlite && index.name.starts_with("sqlite_autoindex_")) continue;
        const bool isOfConstraint = std::ranges::any_of(
            relation.constraints, [&](const catalog::Constraint& one) { return one.name == index.name; });
        if (dialect == Dialect::Postgres && isOfConstraint) continue;
        design.indexes.push_back(index);
    }
}

KeyDesign primaryKeyOf(const catalog::Relation& relation) {
    KeyDesign key;
    for (const catalog::Column& column : relation.columns) {
        if (column.keyPosition <= 0) continue;
        const auto place = static_cast<std::size_t>(column.keyPosition);
        key.columns.resize(std::max(key.columns.size(), place));
        key.columns[place - 1] = column.name;
    }
    std::erase(key.columns, std::string());
    return key;
}

std::size_t longestName(Dialect dialect) {
    if (dialect == Dialect::Postgres) return 63;   // bytes
    return dialect == Dialect::MySql ? 64 : 1000;  // characters
}

class Examination {
public:
    using Place = DesignProblem::Place;

    Examination(const TableDesign& design, Dialect dialect) : design_(design), dialect_(dialect) {}

    std::vector<DesignProblem> examine() {
        checkName(Place::Table, 0, design_.name, "The table");
        if (design_.columns.empty()) {
            add(Place::Table, 0, "The table has no column yet.");
        }
        columns();
        key(Place::PrimaryKey, 0, design_.primaryKey.columns, "The primary key", true);
        for (std::size_t i = 0; i < design_.uniques.size(); ++i) {
            key(Place::Unique, i, design_.uniques[i].columns, "The unique key", false);
        }
        for (std::size_t i = 0; i < design_.checks.size(); ++i) {
            if (base::trimmed(design_.checks[i].expression).empty())
                add(Place::Check, i, "The check has no condition yet.");
        }
        for (std::size_t i = 0; i < design_.foreignKeys.size(); ++i) foreignKey(i);
        for (std::size_t i = 0; i < design_.indexes.size(); ++i) {
            if (design_.indexes[i].name.empty() && dialect_ != Dialect::Postgres) {
                add(Place::Index, i, "The index has no name yet.");
            }
            key(Place::Index, i, design_.indexes[i].columns, "The index", false);
        }
        return std::move(problems_);
    }

private:
    void add(Place place, std::size_t number, std::string message) {
        problems_.push_back({place, number, std::move(message)});
    }

    void checkName(Place place, std::size_t number, const std::string& name, std::string_view what) {
        if (name.empty()) return add(place, number, fmt::format("{} has no name yet.", what));
        const std::size_t length = dialect_ == Dialect::Postgres ? name.size() : base::codePointCount(name);
        if (length > longestName(dialect_)) {
            add(place, number,
                fmt::format("{} has a name of {} {}; the engine takes {}.", what, length,
                            dialect_ == Dialect::Postgres ? "bytes" : "characters", longestName(dialect_)));
        }
        if (name.find('\0') != std::string::npos) add(place, number, fmt::format("{} has a NUL in its name.", what));
    }

    void columns() {
        std::set<std::string> seen;
        std::size_t counting = 0;
        for (std::size_t i = 0; i < design_.columns.size(); ++i) {
            const catalog::Column& column = design_.columns[i].column;
            checkName(Place::Column, i, column.name, fmt::format("Column {}", i + 1));
            const std::string key = dialect_ == Dialect::Postgres ? column.name : base::toLower(column.name);
            if (!column.name.empty() && !seen.insert(key).second) {
                add(Place::Column, i, fmt::format("There are two columns named {}.", column.name));
            }
            if (column.typeName.empty() && dialect_ != Dialect::Sqlite) {
                add(Place::Column, i, fmt::format("{} has no type yet.", column.name));
            }
            if (column.isGenerated && column.defaultValue) {
                add(Place::Column, i,
                    fmt::format("{} is generated and has a default; it can have one of both.", column.name));
            }
            if (column.identity != catalog::Identity::None) identity(i, column, counting);
        }
    }

    void identity(std::size_t i, const catalog::Column& column, std::size_t& counting) {
        if (column.defaultValue) {
            add(Place::Column, i, fmt::format("{} counts up and has a default; it can have one of both.", column.name));
        }
        if (dialect_ == Dialect::MySql) {
            if (++counting > 1) add(Place::Column, i, "Only one column of a table may count up.");
            const bool isFirst =
                holds({design_.primaryKey.columns.begin(), design_.primaryKey.columns.end()}, column.name) ||
                std::ranges::any_of(design_.indexes,
                                    [&](const catalog::Index& index) { return holds(index.columns, column.name); });
            if (!isFirst) add(Place::Column, i, fmt::format("{} counts up, so it must be in a key.", column.name));
        }
        if (dialect_ == Dialect::Sqlite) {
            const bool isAlone =
                design_.primaryKey.columns.size() == 1 && holds(design_.primaryKey.columns, column.name);
            if (!isAlone || !base::equalsIgnoringCase(column.typeName, "integer")) {
                add(Place::Column, i,
                    fmt::format("{} counts up, so it must be an INTEGER and the primary key by itself.", column.name));
            }
        }
    }

    void key(Place place, std::size_t number, const std::vector<std::string>& columns, std::string_view what,
             bool mayBeEmpty) {
        if (columns.empty() && !mayBeEmpty) return add(place, number, fmt::format("{} has no column yet.", what));
        for (const std::string& name : columns) {
            if (isIndexedExpression(name)) continue;
            const bool isThere = std::ranges::any_of(design_.columns, [&](const ColumnDesign& one) {
                return base::equalsIgnoringCase(one.column.name, name);
            });
            if (!isThere && name != "rowid") {
                add(place, number, fmt::format("{} names {}, which is no column here.", what, name));
            }
        }
    }

    void foreignKey(std::size_t i) {
        const catalog::ForeignKey& one = design_.foreignKeys[i];
        if (one.relation.empty()) return add(Place::ForeignKey, i, "The foreign key refers to no table yet.");
        key(Place::ForeignKey, i, one.columns, "The foreign key", false);
        if (!one.referencedColumns.empty() && one.columns.size() != one.referencedColumns.size()) {
            add(Place::ForeignKey, i,
                fmt::format("The foreign key has {} here and {} in {}.",
                            base::counted(static_cast<std::int64_t>(one.columns.size()), "column", "columns"),
                            one.referencedColumns.size(), one.relation));
        }
    }

    const TableDesign& design_;
    Dialect dialect_;
    std::vector<DesignProblem> problems_;
};

/// Carries a design to another dialect, and notes what cannot come along.
class Carrying {
public:
    Carrying(const TableDesign& design, Dialect from, Dialect to, std::vector<std::string>& remarks)
        : design_(design), from_(from), to_(to), remarks_(remarks), out_(design) {}

    TableDesign carry() {
        out_.options.clear();
        out_.schema.clear();
        for (std::size_t i = 0; i < out_.columns.size(); ++i) column(i);
        std::erase_if(out_.checks, [this](CheckDesign& check) { return !carry(check); });
        std::erase_if(out_.indexes, [this](catalog::Index& index) { return !carry(index); });
        for (catalog::ForeignKey& key : out_.foreignKeys) carry(key);
        for (const std::string& other : out_.others) remark("not kept: " + other);
        out_.others.clear();
        return std::move(out_);
    }

private:
    void remark(std::string text) { remarks_.push_back(std::move(text)); }

    void column(std::size_t i) {
        catalog::Column& column = out_.columns[i].column;
        const catalog::Column& before = design_.columns[i].column;
        out_.columns[i].was.clear();
        const MappedType mapped = typeIn(column.typeName, from_, to_, {.isInKey = design_.isInKey(column.name)});
        if (!mapped.remark.empty()) remark(fmt::format("{} was {}: {}", column.name, before.typeName, mapped.remark));
        column.typeName = mapped.name;
        column.collation.clear();
        if (!column.attributes.empty()) remark(fmt::format("{}: not kept: {}", column.name, column.attributes));
        column.attributes.clear();
        origin(column);
        identity(column, before);
    }

    void origin(catalog::Column& column) {
        if (column.defaultValue && base::startsWithIgnoringCase(*column.defaultValue, "nextval(")) {
            column.identity = catalog::Identity::ByDefault;
            column.defaultValue.reset();
        }
        if (column.defaultValue) {
            auto value = expressionIn(*column.defaultValue, from_, to_);
            if (!value) remark(fmt::format("{}: default not kept: {}", column.name, *column.defaultValue));
            column.defaultValue = std::move(value);
        }
        if (!column.isGenerated) return;
        const auto expression = expressionIn(column.generation, from_, to_);
        if (!expression) remark(fmt::format("{}: not generated there: {}", column.name, column.generation));
        column.isGenerated = expression.has_value();
        column.generation = expression.value_or("");
    }

    void identity(catalog::Column& column, const catalog::Column& before) {
        const bool isKey = design_.primaryKey.columns == std::vector{column.name};
        // Such a key counts up in SQLite by itself.
        if (from_ == Dialect::Sqlite && isKey && base::equalsIgnoringCase(before.typeName, "integer")) {
            column.identity = catalog::Identity::ByDefault;
        }
        if (column.identity == catalog::Identity::None) return;
        if (to_ == Dialect::Sqlite) {
            if (!isKey) remark(column.name + " does not count up there");
            column.identity = catalog::Identity::None;
        } else if (to_ == Dialect::MySql && !design_.isInKey(column.name)) {
            remark(column.name + " does not count up there, since it is in no key");
            column.identity = catalog::Identity::None;
        }
    }

    bool carry(CheckDesign& check) {
        check.column.clear();
        const auto expression = expressionIn(check.expression, from_, to_);
        if (!expression) remark("check not kept: " + check.expression);
        check.expression = expression.value_or("");
        return expression.has_value();
    }

    bool carry(catalog::Index& index) {
        const bool isPlain = index.method.empty() && std::ranges::none_of(index.columns, isIndexedExpression);
        const auto predicate =
            index.isPartial ? expressionIn(index.predicate, from_, to_) : std::optional<std::string>(std::string());
        const bool mayBePartial = !index.isPartial || (to_ != Dialect::MySql && predicate);
        index.prefixes.clear();
        if (isPlain && mayBePartial) {
            index.predicate = *predicate;
            return true;
        }
        remark(fmt::format("index {} not kept: {}({}){}", index.name, index.method.empty() ? "" : index.method + " ",
                           base::joined(index.columns, ", "), index.isPartial ? " where " + index.predicate : ""));
        return false;
    }

    void carry(catalog::ForeignKey& key) {
        key.schema.clear();
        if (to_ != Dialect::MySql) return;
        key.deferral.clear();
        for (std::string* action : {&key.onDelete, &key.onUpdate}) {
            if (*action != "SET DEFAULT") continue;
            remark(fmt::format("foreign key {}: SET DEFAULT is not kept", key.name));
            action->clear();
        }
    }

    const TableDesign& design_;
    Dialect from_;
    Dialect to_;
    std::vector<std::string>& remarks_;
    TableDesign out_;
};

}  // namespace

void TableDesign::renameColumn(std::size_t column, const std::string& newName, Dialect dialect) {
    catalog::Column& one = columns[column].column;
    const std::string before = one.name;
    one.name = newName;
    if (before.empty() || newName.empty() || before == newName) return;
    rename(primaryKey.columns, before, newName);
    for (KeyDesign& key : uniques) rename(key.columns, before, newName);
    for (CheckDesign& check : checks) {
        check.expression = withColumnRenamed(check.expression, before, newName, dialect);
        if (base::equalsIgnoringCase(check.column, before)) check.column = newName;
    }
    for (catalog::ForeignKey& key : foreignKeys) {
        rename(key.columns, before, newName);
        if (base::equalsIgnoringCase(key.relation, name) && (key.schema.empty() || key.schema == schema)) {
            rename(key.referencedColumns, before, newName);
        }
    }
    for (catalog::Index& index : indexes) {
        for (std::string& part : index.columns) {
            if (isIndexedExpression(part)) part = withColumnRenamed(part, before, newName, dialect);
        }
        rename(index.columns, before, newName);
        for (auto& [prefixed, length] : index.prefixes) {
            if (prefixed == before) prefixed = newName;
        }
        index.predicate = withColumnRenamed(index.predicate, before, newName, dialect);
    }
    for (ColumnDesign& other : columns) {
        other.column.generation = withColumnRenamed(other.column.generation, before, newName, dialect);
    }
}

void TableDesign::removeColumn(std::size_t column, Dialect dialect) {
    const std::string gone = columns[column].column.name;
    columns.erase(columns.begin() + static_cast<std::ptrdiff_t>(column));
    if (gone.empty()) return;
    if (holds(primaryKey.columns, gone)) primaryKey = {};
    std::erase_if(uniques, [&](const KeyDesign& key) { return holds(key.columns, gone); });
    std::erase_if(checks, [&](const CheckDesign& check) {
        return base::equalsIgnoringCase(check.column, gone) || sql::names(check.expression, gone, dialect);
    });
    std::erase_if(foreignKeys, [&](const catalog::ForeignKey& key) { return holds(key.columns, gone); });
    std::erase_if(indexes, [&](const catalog::Index& index) {
        return holds(index.columns, gone) || sql::names(index.predicate, gone, dialect) ||
               std::ranges::any_of(index.columns, [&](const std::string& part) {
                   return isIndexedExpression(part) && sql::names(part, gone, dialect);
               });
    });
}

bool TableDesign::isInKey(std::string_view column) const {
    return holds(primaryKey.columns, column) ||
           std::ranges::any_of(uniques, [&](const KeyDesign& key) { return holds(key.columns, column); }) ||
           std::ranges::any_of(indexes, [&](const catalog::Index& index) { return holds(index.columns, column); }) ||
           std::ranges::any_of(foreignKeys, [&](const catalog::ForeignKey& key) { return holds(key.columns, column); });
}

TableDesign designOf(const catalog::Relation& relation, Dialect dialect, std::string_view statement) {
    TableDesign design{.schema = relation.schema, .name = relation.name, .comment = relation.comment};
    for (const catalog::Column& column : relation.columns) design.columns.push_back({column, column.name});
    design.primaryKey = primaryKeyOf(relation);
    design.foreignKeys = relation.foreignKeys;
    takeConstraints(design, relation);
    takeIndexes(design, relation, dialect);
    if (const std::string options = optionsIn(statement, dialect); !options.empty()) design.options = {options};
    const bool isSqlite = dialect == Dialect::Sqlite;
    const auto parts = isSqlite && !statement.empty() ? tablePartsOf(statement, dialect) : std::nullopt;
    if (!parts) return design;
    design.options = parts->options;
    if (design.primaryKey.name.empty()) design.primaryKey.name = parts->primaryKeyName;
    return design;
}

TableDesign designIn(const TableDesign& design, Dialect from, Dialect to, std::vector<std::string>& remarks) {
    return from == to ? design : Carrying(design, from, to, remarks).carry();
}

std::vector<DesignProblem> problemsOf(const TableDesign& design, Dialect dialect) {
    return Examination(design, dialect).examine();
}

std::vector<ColumnDesign> columnsFromLines(std::string_view lines, Dialect dialect,
                                           std::vector<std::string>* primaryKey) {
    std::vector<ColumnDesign> columns;
    for (std::string_view line : base::splitAt(lines, '\n')) {
        line = base::trimmed(line);
        while (line.ends_with(',')) line = base::trimmed(line.substr(0, line.size() - 1));
        if (line.empty()) continue;
        const std::string_view dashes = line.substr(0, 2);
        if (dashes == "--" || line == "(" || line == ")" || line == ");") continue;
        catalog::Column column;
        std::size_t nameEnd = 0;
        const char quote = line.front();
        if (quote == '"' || quote == '`') {
            nameEnd = line.find(quote, 1);
            nameEnd = nameEnd == std::string_view::npos ? line.size() : nameEnd + 1;
        } else {
            nameEnd = std::min(line.find_first_of(" \t,:;|"), line.size());
        }
        column.name = unquotedName(line.substr(0, nameEnd));
        std::string_view rest = line.substr(nameEnd);
        while (!rest.empty() && std::string_view(" \t,:;|").find(rest.front()) != std::string_view::npos) {
            rest.remove_prefix(1);
        }
        // The type ends where a word begins that says something else of the column.
        std::size_t typeEnd = rest.size();
        for (const std::string_view word :
             {" not null", " null", " primary key", " default ", " unique", " references ", " check", " auto_increment",
              " generated ", " comment ", " collate "}) {
            typeEnd = std::min(typeEnd, base::findIgnoringCase(rest, word));
        }
        const std::string said = base::toLower(rest.substr(typeEnd));
        column.typeName = std::string(base::trimmed(rest.substr(0, typeEnd)));
        if (column.typeName.empty()) column.typeName = dialect == Dialect::MySql ? "varchar(200)" : "text";
        const bool isKey = said.find("primary key") != std::string::npos;
        column.isNullable = said.find("not null") == std::string::npos && !isKey;
        if (isKey && primaryKey != nullptr) primaryKey->push_back(column.name);
        if (said.find("auto_increment") != std::string::npos || said.find("identity") != std::string::npos) {
            column.identity = catalog::Identity::ByDefault;
        }
        if (const std::size_t at = base::findIgnoringCase(rest, " default "); at != std::string_view::npos) {
            std::string_view value = base::trimmed(rest.substr(at + 9));
            for (const std::string_view word :
                 {" not null", " null", " primary key", " unique", " check", " comment "}) {
                value = value.substr(0, std::min(value.size(), base::findIgnoringCase(value, word)));
            }
            column.defaultValue = std::string(base::trimmed(value));
        }
        columns.push_back({column, {}});
    }
    return columns;
}

}  // namespace pantry::sql
