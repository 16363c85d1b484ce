#include "core/sql/define/create_table.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.h"
#include "core/sql/text/lexer.h"
#include "core/sql/write/names.h"

namespace pantry::sql {
namespace {

std::string commented(std::string_view text) {
    std::string out;
    for (const std::string_view line : base::splitAt(text, '\n')) {
        out += (out.empty() ? "-- " : "\n-- ") + std::string(line);
    }
    return out;
}

/// The lines between the brackets of CREATE TABLE, with a remark behind some.
class Lines {
public:
    void add(std::string line, std::string remark = {}) { lines_.emplace_back(std::move(line), std::move(remark)); }
    [[nodiscard]] std::string joined() const {
        std::string out;
        for (std::size_t i = 0; i < lines_.size(); ++i) {
            const auto& [line, remark] = lines_[i];
            out += "    " + line + (i + 1 < lines_.size() ? "," : "");
            if (!remark.empty()) out += "  -- " + remark;
            out += "\n";
        }
        return out;
    }

private:
    std::vector<std::pair<std::string, std::string>> lines_;
};

std::string oneLine(std::string_view text) {
    std::string out(text);
    std::ranges::replace(out, '\n', ' ');
    std::ranges::replace(out, '\r', ' ');
    return out;
}

}  // namespace

std::string TableWords::name(std::string_view one) const { return quotedName(one, dialect_); }

std::string TableWords::names(const std::vector<std::string>& all) const {
    std::string out;
    for (const std::string& one : all) out += (out.empty() ? "" : ", ") + (isIndexedExpression(one) ? one : name(one));
    return out;
}

std::string TableWords::table(const TableDesign& design) const {
    return qualifiedName(design.schema, design.name, dialect_);
}

std::string TableWords::text(std::string_view value) const { return quotedString(value, dialect_); }

std::string TableWords::named(const std::string& constraint) const {
    return constraint.empty() ? std::string() : "CONSTRAINT " + name(constraint) + " ";
}

std::string TableWords::column(const ColumnDesign& design, bool isOnlyKey, const std::vector<CheckDesign>& checks,
                               ColumnComment comment) const {
    const catalog::Column& column = design.column;
    std::string out = name(column.name);
    if (!column.typeName.empty()) out += " " + column.typeName;
    if (!column.collation.empty()) {
        const bool isQuoted = dialect_ != Dialect::Postgres || column.collation.starts_with('"') ||
                              column.collation.find('.') != std::string::npos;
        out += " COLLATE " + (isQuoted ? column.collation : name(column.collation));
    }
    const bool counts = column.identity != catalog::Identity::None;
    if (column.isGenerated) {
        out += fmt::format(" GENERATED ALWAYS AS ({})", column.generation);
        out += column.isStored || dialect_ == Dialect::Postgres ? " STORED" : " VIRTUAL";
    }
    if (dialect_ == Dialect::Sqlite && isOnlyKey) {
        out += " PRIMARY KEY";
        if (counts) out += " AUTOINCREMENT";
    }
    const bool refusesNull = !column.isNullable && !(dialect_ == Dialect::Sqlite && isOnlyKey && counts);
    if (refusesNull && !(column.isGenerated && dialect_ == Dialect::MySql)) out += " NOT NULL";
    // A moment of MariaDB is filled by itself unless it says that it may be NULL.
    if (column.isNullable && dialect_ == Dialect::MySql && base::startsWithIgnoringCase(column.typeName, "timestamp") &&
        !column.isGenerated) {
        out += " NULL";
    }
    if (column.defaultValue) out += " DEFAULT " + *column.defaultValue;
    if (counts && dialect_ == Dialect::MySql) out += " AUTO_INCREMENT";
    if (counts && (dialect_ == Dialect::Postgres || dialect_ == Dialect::Ansi)) {
        const bool isAlways = column.identity == catalog::Identity::Always;
        out += fmt::format(" GENERATED {} AS IDENTITY", isAlways ? "ALWAYS" : "BY DEFAULT");
    }
    if (!column.attributes.empty()) out += " " + column.attributes;
    const bool commentStands = comment == ColumnComment::Always || !column.comment.empty();
    if (dialect_ == Dialect::MySql && commentStands) out += " COMMENT " + text(column.comment);
    for (const CheckDesign& one : checks) {
        if (one.column != column.name) continue;
        out += (dialect_ == Dialect::MySql ? " " : " " + named(one.name)) + fmt::format("CHECK ({})", one.expression);
    }
    return out;
}

std::string TableWords::primaryKey(const KeyDesign& key) const {
    return (dialect_ == Dialect::MySql ? "" : named(key.name)) + fmt::format("PRIMARY KEY ({})", names(key.columns));
}

std::string TableWords::unique(const KeyDesign& key) const {
    return named(key.name) + fmt::format("UNIQUE ({})", names(key.columns));
}

std::string TableWords::check(const CheckDesign& check) const {
    return named(check.name) + fmt::format("CHECK ({})", check.expression);
}

std::string TableWords::foreignKey(const catalog::ForeignKey& key, std::string_view schema) const {
    const bool isNear = key.schema.empty() || key.schema == schema || dialect_ == Dialect::Sqlite;
    const bool isQualified = !key.schema.empty() && dialect_ != Dialect::Sqlite && (!isNear || !schema.empty());
    std::string out =
        named(key.name) + fmt::format("FOREIGN KEY ({}) REFERENCES {}", names(key.columns),
                                      qualifiedName(isQualified ? key.schema : std::string(), key.relation, dialect_));
    if (!key.referencedColumns.empty() && !key.referencedColumns.front().empty()) {
        out += fmt::format(" ({})", names(key.referencedColumns));
    }
    // NO ACTION is what holds unless something else is said; MariaDB calls the same RESTRICT.
    const auto isSaid = [&](const std::string& action) {
        return !action.empty() && action != "NO ACTION" && !(dialect_ == Dialect::MySql && action == "RESTRICT");
    };
    if (isSaid(key.onDelete)) out += " ON DELETE " + key.onDelete;
    if (isSaid(key.onUpdate)) out += " ON UPDATE " + key.onUpdate;
    if (!key.deferral.empty()) out += " " + key.deferral;
    return out;
}

std::string TableWords::indexed(const catalog::Index& index) const {
    std::string out;
    for (const std::string& one : index.columns) {
        out += (out.empty() ? "" : ", ") + (isIndexedExpression(one) ? one : name(one));
        const auto prefix = std::ranges::find(index.prefixes, one, &std::pair<std::string, int>::first);
        const bool isShortened =
            prefix != index.prefixes.end() && index.method != "fulltext" && index.method != "spatial";
        if (isShortened) out += fmt::format("({})", prefix->second);
    }
    return out;
}

std::string TableWords::keyOfTable(const catalog::Index& index) const {
    const std::string kind = index.isUnique               ? "UNIQUE KEY"
                             : index.method == "fulltext" ? "FULLTEXT KEY"
                             : index.method == "spatial"  ? "SPATIAL KEY"
                                                          : "KEY";
    return fmt::format("{} {} ({})", kind, name(index.name), indexed(index));
}

std::string TableWords::createIndex(const catalog::Index& index, const TableDesign& design) const {
    std::string kind = index.isUnique ? "UNIQUE INDEX" : "INDEX";
    if (dialect_ == Dialect::MySql && index.method == "fulltext") kind = "FULLTEXT INDEX";
    if (dialect_ == Dialect::MySql && index.method == "spatial") kind = "SPATIAL INDEX";
    std::string out = "CREATE " + kind;
    if (!index.name.empty()) {
        // SQLite's index stands in its table's schema and says so itself; PostgreSQL's follows its table.
        const bool saysSchema = dialect_ == Dialect::Sqlite && !design.schema.empty();
        out += " " + qualifiedName(saysSchema ? design.schema : std::string(), index.name, dialect_);
    }
    out += " ON " + (dialect_ == Dialect::Sqlite ? name(design.name) : table(design));
    if (dialect_ == Dialect::Postgres && !index.method.empty()) out += " USING " + index.method;
    out += fmt::format(" ({})", indexed(index));
    if (!index.predicate.empty() && dialect_ != Dialect::MySql) out += " WHERE " + index.predicate;
    return out;
}

CreateStatements createTable(const TableDesign& design, Dialect dialect, ForeignKeys keys) {
    const TableWords words(dialect);
    const bool keysApart = keys == ForeignKeys::Apart && dialect != Dialect::Sqlite;
    Lines lines;
    const bool isColumnKey =
        dialect == Dialect::Sqlite && design.primaryKey.columns.size() == 1 && design.primaryKey.name.empty();
    for (const ColumnDesign& one : design.columns) {
        const bool isOnlyKey = isColumnKey && design.primaryKey.columns.front() == one.column.name;
        const std::string& comment = one.column.comment;
        lines.add(words.column(one, isOnlyKey, design.checks),
                  dialect == Dialect::Sqlite ? oneLine(comment) : std::string());
    }
    if (!design.primaryKey.columns.empty() && !isColumnKey) lines.add(words.primaryKey(design.primaryKey));
    for (const KeyDesign& key : design.uniques) lines.add(words.unique(key));
    for (const CheckDesign& check : design.checks) {
        if (check.column.empty()) lines.add(words.check(check));
    }
    if (dialect == Dialect::MySql) {
        for (const catalog::Index& index : design.indexes) lines.add(words.keyOfTable(index));
    }
    for (const std::string& other : design.others) lines.add(other);
    CreateStatements out;
    for (const catalog::ForeignKey& key : design.foreignKeys) {
        if (!keysApart) {
            lines.add(words.foreignKey(key, design.schema));
            continue;
        }
        out.foreignKeys.push_back(
            fmt::format("ALTER TABLE {}\n    ADD {}", words.table(design), words.foreignKey(key, design.schema)));
    }
    std::string table;
    if (dialect == Dialect::Sqlite && !design.comment.empty()) table = commented(design.comment) + "\n";
    table += fmt::format("CREATE TABLE {} (\n{})", words.table(design), lines.joined());
    for (std::size_t i = 0; i < design.options.size(); ++i) {
        table += (i == 0 ? " " : dialect == Dialect::Sqlite ? ", " : " ") + design.options[i];
    }
    if (dialect == Dialect::MySql && !design.comment.empty()) table += " COMMENT = " + words.text(design.comment);
    out.table.push_back(std::move(table));
    if (dialect != Dialect::MySql) {
        for (const catalog::Index& index : design.indexes) out.table.push_back(words.createIndex(index, design));
    }
    if (dialect != Dialect::Postgres) return out;
    if (!design.comment.empty()) {
        out.table.push_back(fmt::format("COMMENT ON TABLE {} IS {}", words.table(design), words.text(design.comment)));
    }
    for (const ColumnDesign& one : design.columns) {
        if (one.column.comment.empty()) continue;
        out.table.push_back(fmt::format("COMMENT ON COLUMN {}.{} IS {}", words.table(design),
                                        words.name(one.column.name), words.text(one.column.comment)));
    }
    return out;
}

}  // namespace pantry::sql
