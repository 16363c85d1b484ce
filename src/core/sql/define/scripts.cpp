#include "core/sql/define/scripts.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <functional>

#include "core/base/joined.h"
#include "core/base/text.h"
#include "core/sql/define/create_table.h"
#include "core/sql/define/object_words.h"
#include "core/sql/define/script_order.h"
#include "core/sql/define/table_design.h"
#include "core/sql/define/type_map.h"
#include "core/sql/text/lexer.h"
#include "core/sql/write/names.h"

namespace pantry::sql {
namespace {

using catalog::ObjectKind;

bool takesRows(ObjectKind kind) { return kind == ObjectKind::Table || kind == ObjectKind::ForeignTable; }

/// Remarks in front of a statement.
std::string asComments(const std::vector<std::string>& remarks) {
    std::string out;
    for (const std::string& remark : remarks) {
        for (const std::string_view line : base::splitAt(remark, '\n')) out += "-- " + std::string(line) + "\n";
    }
    return out;
}

/// Lines of a list with a comment behind each, commas before the comments.
struct Line {
    std::string text;
    std::string remark;
};
std::string listed(const std::vector<Line>& lines) {
    std::size_t widest = 0;
    for (const Line& line : lines) widest = std::max(widest, line.text.size());
    std::string out;
    for (std::size_t i = 0; i < lines.size(); ++i) {
        std::string text = lines[i].text + (i + 1 < lines.size() ? "," : "");
        if (!lines[i].remark.empty()) text += std::string(widest + 3 - text.size(), ' ') + "-- " + lines[i].remark;
        out += "    " + text + "\n";
    }
    return out;
}

/// A parameter's name for a column: letters, digits and _, as the lexer reads them.
std::string parameterFor(std::string_view column) {
    std::string name = ":";
    for (const char c : column) {
        const bool isPlain = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '_';
        name += isPlain ? c : '_';
    }
    const bool begins = name.size() > 1 && !(name[1] >= '0' && name[1] <= '9');
    if (!begins) name.insert(1, "v");
    return name;
}

std::string oneLined(std::string text) {
    std::ranges::replace(text, '\n', ' ');
    std::ranges::replace(text, '\r', ' ');
    return text;
}

class ObjectScript {
public:
    ObjectScript(const ScriptObject& one, const ScriptPlace& place)
        : one_(one),
          place_(place),
          words_(place.to),
          kind_(one.name().kind),
          detail_(one.object != nullptr ? one.object->detail : std::string()) {
        name_ = one.relation != nullptr && place.from == place.to ? nameOf(*one.relation, place.view, place.to)
                                                                  : otherName();
    }

    /// Statements with their terminators.
    Result<std::string> write(ScriptKind kind) {
        switch (kind) {
            case ScriptKind::Select: return select();
            case ScriptKind::Insert: return insert(false);
            case ScriptKind::Update: return update();
            case ScriptKind::Delete: return remove();
            case ScriptKind::Upsert: return insert(true);
            case ScriptKind::Create: return create();
            case ScriptKind::CreateOrReplace: return createOrReplace();
            case ScriptKind::Alter: return alter();
            case ScriptKind::Drop: return drop();
            case ScriptKind::Comment: return comment();
            case ScriptKind::Grant: return grant();
        }
        return std::string();
    }

private:
    [[nodiscard]] std::string otherName() const {
        const catalog::ObjectName name = one_.name();
        const auto& path = place_.view.searchPath();
        const bool isFirst = !path.empty() && path.front() == name.schema;
        const bool saysSchema = place_.from == place_.to && !isFirst && kind_ != ObjectKind::Extension;
        return qualifiedName(saysSchema ? name.schema : std::string(), name.name, place_.to);
    }

    [[nodiscard]] const std::vector<catalog::Column>& columns() const { return one_.relation->columns; }

    /// text, not null; with the type that the script's engine would have.
    [[nodiscard]] std::string typeWords(const catalog::Column& column) const {
        std::string words = typeIn(column.typeName, place_.from, place_.to).name;
        if (!column.isNullable) words += words.empty() ? "not null" : ", not null";
        if (column.defaultValue) words += ", default " + *column.defaultValue;
        return oneLined(words);
    }

    [[nodiscard]] std::vector<std::string> keyColumns() const {
        const TableDesign design = designOf(*one_.relation, place_.from);
        if (!design.primaryKey.columns.empty()) return design.primaryKey.columns;
        if (!design.uniques.empty()) return design.uniques.front().columns;
        for (const catalog::Index& index : design.indexes) {
            const bool isKey =
                index.isUnique && !index.isPartial &&
                std::ranges::none_of(index.columns, [](const std::string& c) { return c.starts_with('('); });
            if (isKey) return index.columns;
        }
        return {};
    }

    /// WHERE id = :id, by the key; by all columns where there is none.
    [[nodiscard]] std::string whereKey(const std::vector<std::string>& key) const {
        std::vector<std::string> by = key;
        if (by.empty()) {
            for (const catalog::Column& column : columns()) by.push_back(column.name);
        }
        std::string out;
        for (const std::string& column : by) {
            out += fmt::format("{}{} = {}", out.empty() ? "WHERE " : "\n  AND ", words_.name(column),
                               parameterFor(column));
        }
        return out;
    }

    [[nodiscard]] std::string noKeyRemark(const std::vector<std::string>& key) const {
        return key.empty()
                   ? fmt::format("-- {} has no key: the condition may hold for several rows\n", one_.name().name)
                   : std::string();
    }

    std::string select() const {
        if (isRoutineKind(kind_)) return call();
        if (kind_ == ObjectKind::Sequence) {
            return place_.to == Dialect::MySql ? fmt::format("SELECT *\nFROM {};\n", name_)
                                               : fmt::format("SELECT last_value, is_called\nFROM {};\n", name_);
        }
        if (columns().empty()) return fmt::format("SELECT *\nFROM {};\n", name_);
        std::vector<Line> lines;
        for (const catalog::Column& column : columns()) lines.push_back({words_.name(column.name), {}});
        return "SELECT\n" + listed(lines) + fmt::format("FROM {};\n", name_);
    }

    [[nodiscard]] std::string call() const {
        std::vector<Line> lines;
        for (const catalog::RoutineParameter& one : one_.parameters) {
            using Mode = catalog::RoutineParameter::Mode;
            const bool isOut = one.mode == Mode::Out;
            if (isOut && kind_ == ObjectKind::Function) continue;  // a column of its result
            const std::string label = one.name.empty() ? fmt::format("p{}", lines.size() + 1) : one.name;
            std::string value = parameterFor(label);
            if (place_.to == Dialect::MySql && one.mode != Mode::In) value = "@" + value.substr(1);
            if (place_.to == Dialect::Postgres && isOut) value = "NULL";
            std::string remark = one.typeName;
            if (one.mode != Mode::In)
                remark += isOut ? ", out" : one.mode == Mode::InOut ? ", in and out" : ", variadic";
            if (one.defaultValue) remark += ", default " + *one.defaultValue;
            lines.push_back({(one.mode == Mode::Variadic ? "VARIADIC " : "") + value, oneLined(remark)});
        }
        const std::string arguments = lines.empty() ? "()" : "(\n" + listed(lines) + ")";
        if (kind_ == ObjectKind::Procedure) return fmt::format("CALL {}{};\n", name_, arguments) + outValues();
        return one_.returnsRows ? fmt::format("SELECT *\nFROM {}{};\n", name_, arguments)
                                : fmt::format("SELECT {}{};\n", name_, arguments);
    }

    /// MariaDB hands values back in variables, which somebody has to read.
    [[nodiscard]] std::string outValues() const {
        if (place_.to != Dialect::MySql) return {};
        std::string list;
        for (const catalog::RoutineParameter& one : one_.parameters) {
            if (one.mode == catalog::RoutineParameter::Mode::In) continue;
            const std::string variable = "@" + parameterFor(one.name).substr(1);
            list += fmt::format("{}{} AS {}", list.empty() ? "" : ", ", variable, words_.name(one.name));
        }
        return list.empty() ? std::string() : fmt::format("SELECT {};\n", list);
    }

    Result<std::string> insert(bool updates) const {
        const std::vector<std::string> key = updates ? keyColumns() : std::vector<std::string>();
        if (updates && key.empty()) {
            return fmt::format("-- {} has no key, by which a row would be found again\n", one_.name().name);
        }
        std::vector<Line> names;
        std::vector<Line> values;
        std::vector<std::string> leftOut;
        bool overrides = false;
        for (const catalog::Column& column : columns()) {
            const bool isInKey = std::ranges::find(key, column.name) != key.end();
            const bool counts = column.identity != catalog::Identity::None && !isInKey;
            if (column.isGenerated || counts) {
                leftOut.push_back(fmt::format("{} ({})", column.name, column.isGenerated ? "generated" : "counts up"));
                continue;
            }
            overrides = overrides || column.identity == catalog::Identity::Always;
            names.push_back({words_.name(column.name), {}});
            values.push_back({parameterFor(column.name), typeWords(column)});
        }
        std::string out;
        if (!leftOut.empty()) out = fmt::format("-- left out: {}\n", oneLined(base::joined(leftOut, ", ")));
        if (names.empty()) {
            const bool isMySql = place_.to == Dialect::MySql;
            return out + fmt::format("INSERT INTO {} {};\n", name_, isMySql ? "() VALUES ()" : "DEFAULT VALUES");
        }
        out +=
            fmt::format("INSERT INTO {} (\n{}){} VALUES (\n{})", name_, listed(names),
                        overrides && place_.to == Dialect::Postgres ? " OVERRIDING SYSTEM VALUE" : "", listed(values));
        if (updates) out += conflict(key);
        return out + ";\n";
    }

    [[nodiscard]] std::string conflict(const std::vector<std::string>& key) const {
        std::vector<Line> sets;
        const bool isMySql = place_.to == Dialect::MySql;
        for (const catalog::Column& column : columns()) {
            if (column.isGenerated || column.identity != catalog::Identity::None) continue;
            if (std::ranges::find(key, column.name) != key.end()) continue;
            const std::string name = words_.name(column.name);
            sets.push_back(
                {isMySql ? fmt::format("{0} = VALUES({0})", name) : fmt::format("{0} = excluded.{0}", name), {}});
        }
        if (isMySql) {
            if (sets.empty()) sets.push_back({fmt::format("{0} = {0}", words_.name(key.front())), {}});
            return "\nON DUPLICATE KEY UPDATE\n" + trimmedEnd(listed(sets));
        }
        const std::string on = fmt::format("\nON CONFLICT ({})", words_.names(key));
        return sets.empty() ? on + " DO NOTHING" : on + " DO UPDATE SET\n" + trimmedEnd(listed(sets));
    }

    static std::string trimmedEnd(std::string text) {
        while (text.ends_with('\n')) text.pop_back();
        return text;
    }

    std::string update() const {
        const std::vector<std::string> key = keyColumns();
        std::vector<Line> sets;
        for (const catalog::Column& column : columns()) {
            const bool isInKey = std::ranges::find(key, column.name) != key.end();
            if (column.isGenerated || isInKey || column.identity == catalog::Identity::Always) continue;
            sets.push_back({words_.name(column.name) + " = " + parameterFor("new_" + column.name), typeWords(column)});
        }
        if (sets.empty()) return fmt::format("-- {} has nothing beside its key\n", one_.name().name);
        return noKeyRemark(key) + fmt::format("UPDATE {}\nSET\n{}{};\n", name_, listed(sets), whereKey(key));
    }

    std::string remove() const {
        const std::vector<std::string> key = keyColumns();
        return noKeyRemark(key) + fmt::format("DELETE FROM {}\n{};\n", name_, whereKey(key));
    }

    Result<std::string> create() const {
        if (place_.from == place_.to) {
            if (!one_.definition) return missingDefinition();
            return withSchema(trimmedEnd(one_.definition->text)) + "\n";
        }
        if (one_.relation == nullptr || !takesRows(kind_)) return foreign();
        std::vector<std::string> remarks;
        const TableDesign design = designIn(designOf(*one_.relation, place_.from), place_.from, place_.to, remarks);
        std::string out = asComments(remarks);
        for (const std::string& statement : createTable(design, place_.to, ForeignKeys::Apart).table) {
            out += statement + ";\n";
        }
        return out;
    }

    [[nodiscard]] Error missingDefinition() const {
        return {.kind = ErrorKind::NotFound,
                .message = fmt::format("The statements that make {} are not known.", one_.name().name)};
    }

    /// What belongs to an engine's own language stands there as a comment, to be written anew.
    std::string foreign() const {
        std::string out =
            fmt::format("-- {} {} is written for {} and has to be written anew for {}:\n", catalog::kindName(kind_),
                        one_.name().name, dialectName(place_.from), dialectName(place_.to));
        if (one_.definition) out += asComments({trimmedEnd(one_.definition->whole())});
        return out;
    }

    /// MariaDB tells statements without a schema; where the session would look elsewhere they get it.
    [[nodiscard]] std::string withSchema(const std::string& text) const {
        const std::string schema = one_.name().schema;
        const auto& path = place_.view.searchPath();
        if (place_.to != Dialect::MySql || schema.empty() || (!path.empty() && path.front() == schema)) return text;
        std::string out;
        bool isNext = false;
        bool isTrigger = false;
        std::size_t wanted = 1;
        const std::vector<Token> tokens = lex(text, place_.to);
        for (std::size_t i = 0; i < tokens.size(); ++i) {
            const Token& token = tokens[i];
            const std::string_view word = token.textIn(text);
            const bool isDotted = i + 1 < tokens.size() && tokens[i + 1].kind == TokenKind::Dot;
            const bool isName = token.kind == TokenKind::QuotedName || token.kind == TokenKind::Word;
            if (isNext && isName) {
                if (!isDotted) out += quotedName(schema, place_.to) + ".";
                isNext = false;
                --wanted;
            } else if (wanted > 0 && (isTrigger ? token.is(Keyword::On) : saysKind(word))) {
                isNext = true;
                if (base::equalsIgnoringCase(word, "trigger")) {
                    isTrigger = true;
                    wanted = 2;
                }
            }
            if (token.endsStatement()) {  // a trigger may follow
                isTrigger = false;
                wanted = 1;
            }
            out += word;
        }
        return out;
    }

    static bool saysKind(std::string_view word) {
        constexpr auto kWords =
            std::to_array<std::string_view>({"table", "function", "procedure", "event", "sequence", "view", "trigger"});
        return std::ranges::any_of(kWords, [&](std::string_view one) { return base::equalsIgnoringCase(one, word); });
    }

    Result<std::string> createOrReplace() const {
        if (place_.from != place_.to) return foreign();
        if (!one_.definition) return missingDefinition();
        if (place_.to == Dialect::Sqlite || kind_ == ObjectKind::MaterializedView) {
            return fmt::format("DROP {} IF EXISTS {};\n", objectWord(kind_), name_) + withSchema(one_.definition->text);
        }
        std::string text = withSchema(trimmedEnd(one_.definition->text)) + "\n";
        const std::size_t verb = base::findIgnoringCase(text, "create");
        const bool isSaid = base::startsWithIgnoringCase(std::string_view(text).substr(verb), "create or replace");
        if (verb != std::string::npos && !isSaid) text.replace(verb, 6, "CREATE OR REPLACE");
        return text;
    }

    /// Each form of ALTER on something new, which the last one takes away again: to be changed and run one by one.
    std::string alter() const {
        switch (kind_) {
            case ObjectKind::MaterializedView: return fmt::format("REFRESH MATERIALIZED VIEW {};\n", name_);
            case ObjectKind::View: return alterView();
            case ObjectKind::Sequence: return fmt::format("ALTER SEQUENCE {}\n    INCREMENT BY 1;\n", name_);
            default: break;
        }
        const std::string& name = one_.relation->name;
        if (!one_.relation->partOf.empty()) {
            return fmt::format("-- {} is a part of {}, where its columns are changed\n", name, one_.relation->partOf);
        }
        if (!one_.relation->ofType.empty()) {
            return fmt::format("-- {} has its columns from the type {}, where they are changed\n", name,
                               one_.relation->ofType);
        }
        const std::string table = fmt::format("ALTER TABLE {}\n    ", name_);
        const bool isSqlite = place_.to == Dialect::Sqlite;
        const bool isMySql = place_.to == Dialect::MySql;
        const std::string_view text = isSqlite ? "TEXT" : "varchar(200)";
        std::string out = fmt::format("-- A column more\n{}ADD COLUMN new_column {};\n", table, text);
        out += fmt::format("\n-- Another name for it\n{}RENAME COLUMN new_column TO other_column;\n", table);
        if (isMySql) {
            out += fmt::format(
                "\n-- Another type, never NULL, a default\n"
                "{}MODIFY COLUMN other_column varchar(400) NOT NULL DEFAULT '';\n",
                table);
        } else if (!isSqlite) {
            out += fmt::format("\n-- Another type\n{}ALTER COLUMN other_column TYPE varchar(400);\n", table);
            out += fmt::format("\n-- A default\n{}ALTER COLUMN other_column SET DEFAULT '';\n", table);
            out += fmt::format("\n-- A rule\n{}ADD CONSTRAINT new_check CHECK (other_column <> 'none');\n", table);
            out += fmt::format("\n-- Without the rule\n{}DROP CONSTRAINT new_check;\n", table);
        }
        return out + fmt::format("\n-- Without the column: its values are gone\n{}DROP COLUMN other_column;\n", table);
    }

    [[nodiscard]] std::string alterView() const {
        return fmt::format(
            "ALTER VIEW {0}\n    SET (security_barrier = true);\n\n"
            "ALTER VIEW {0}\n    RESET (security_barrier);\n",
            name_);
    }

    [[nodiscard]] std::string nameWithSignature() const { return withParameters(name_, one_.name(), place_.to); }

    std::string drop() const { return fmt::format("DROP {} {};\n", objectWord(kind_, detail_), nameWithSignature()); }

    std::string comment() const {
        const std::string& text = one_.relation != nullptr ? one_.relation->comment : one_.object->comment;
        if (place_.to == Dialect::MySql) {
            if (isRoutineKind(kind_)) {
                return fmt::format("ALTER {} {}\n    COMMENT {};\n", objectWord(kind_), name_, words_.text(text));
            }
            std::string out = fmt::format("ALTER TABLE {}\n    COMMENT = {};\n", name_, words_.text(text));
            const TableDesign design = designOf(*one_.relation, place_.from);
            for (const ColumnDesign& column : design.columns) {
                out += fmt::format("ALTER TABLE {}\n    MODIFY COLUMN {};\n", name_,
                                   words_.column(column, false, design.checks, ColumnComment::Always));
            }
            return out;
        }
        std::string out = fmt::format("COMMENT ON {} {} IS {};\n", objectWord(kind_, detail_), nameWithSignature(),
                                      words_.text(text));
        if (one_.relation == nullptr) return out;
        for (const catalog::Column& column : columns()) {
            out += fmt::format("COMMENT ON COLUMN {}.{} IS {};\n", name_, words_.name(column.name),
                               words_.text(column.comment));
        }
        return out;
    }

    std::string grant() const {
        std::string_view privileges = "SELECT, INSERT, UPDATE, DELETE";
        if (isRoutineKind(kind_)) privileges = "EXECUTE";
        if (kind_ == ObjectKind::Sequence)
            privileges = place_.to == Dialect::MySql ? "SELECT, INSERT" : "USAGE, SELECT";
        if (kind_ == ObjectKind::Type) privileges = "USAGE";
        if (kind_ == ObjectKind::View || kind_ == ObjectKind::MaterializedView) privileges = "SELECT";
        std::string_view word = catalog::isRelationKind(kind_) ? "TABLE" : objectWord(kind_, detail_);
        if (place_.to == Dialect::MySql && kind_ == ObjectKind::Sequence) word = "TABLE";
        return fmt::format(
            "-- For whom: a user or role in place of CURRENT_USER\nGRANT {}\n    ON {} {}\n    TO CURRENT_USER;\n",
            privileges, word, nameWithSignature());
    }

    const ScriptObject& one_;
    const ScriptPlace& place_;
    TableWords words_;
    ObjectKind kind_;
    std::string detail_;
    std::string name_;
};

/// Foreign keys that were left out of their tables, once all of these are there.
std::string linksOf(const std::vector<const ScriptObject*>& objects, const ScriptPlace& place) {
    std::string out;
    for (const ScriptObject* one : objects) {
        if (place.from == place.to) {
            if (one->definition && !one->definition->links.empty()) out += one->definition->links;
            continue;
        }
        if (one->relation == nullptr || !takesRows(one->name().kind)) continue;
        std::vector<std::string> remarks;
        const TableDesign design = designIn(designOf(*one->relation, place.from), place.from, place.to, remarks);
        for (const std::string& key : createTable(design, place.to, ForeignKeys::Apart).foreignKeys) out += key + ";\n";
    }
    return out;
}

/// What has to hold around the statements that make or drop several objects.
std::pair<std::string, std::string> surroundings(ScriptKind kind, const OrderedObjects& ordered,
                                                 const ScriptPlace& place) {
    const bool makes = kind == ScriptKind::Create || kind == ScriptKind::CreateOrReplace;
    // From another engine, foreign keys come apart from their tables.
    const bool keysWithin = place.from == place.to;
    if (place.to == Dialect::MySql && keysWithin && ordered.hasCircle && (makes || kind == ScriptKind::Drop)) {
        return {"SET FOREIGN_KEY_CHECKS = 0;\n\n", "\nSET FOREIGN_KEY_CHECKS = 1;\n"};
    }
    const bool hasRoutine = std::ranges::any_of(ordered.objects, [](const ScriptObject* one) {
        return one->object != nullptr && isRoutineKind(one->object->kind);
    });
    if (place.to == Dialect::Postgres && place.from == place.to && makes && hasRoutine && ordered.objects.size() > 1) {
        return {"SET check_function_bodies = off;\n\n", {}};
    }
    return {};
}

}  // namespace

const std::vector<ScriptEntry>& scriptEntries() {
    static const std::vector<ScriptEntry> kEntries{
        {ScriptKind::Select, "select", "SELECT", "Reads all columns, or calls a routine", false},
        {ScriptKind::Insert, "insert", "INSERT", "A row, with a line for each column", false},
        {ScriptKind::Update, "update", "UPDATE", "A row that is found by its key", false},
        {ScriptKind::Delete, "delete", "DELETE", "A row that is found by its key", false},
        {ScriptKind::Upsert, "upsert", "INSERT or UPDATE", "A row, or its values where its key is there already",
         false},
        {ScriptKind::Create, "create", "CREATE", "The statements that make it", true},
        {ScriptKind::CreateOrReplace, "create-or-replace", "CREATE OR REPLACE", "The same, in place of what is there",
         true},
        {ScriptKind::Alter, "alter", "ALTER", "The forms of ALTER, to choose from", false},
        {ScriptKind::Drop, "drop", "DROP", "Removes it", false},
        {ScriptKind::Comment, "comment", "COMMENT", "What others should know of it and its columns", false},
        {ScriptKind::Grant, "grant", "GRANT", "Lets somebody use it", false},
    };
    return kEntries;
}

const ScriptEntry* scriptEntry(std::string_view id) {
    const auto found = std::ranges::find(scriptEntries(), id, &ScriptEntry::id);
    return found == scriptEntries().end() ? nullptr : &*found;
}

bool hasScript(ScriptKind script, ObjectKind kind, Dialect dialect) {
    const bool isServer = dialect == Dialect::Postgres || dialect == Dialect::MySql;
    switch (script) {
        case ScriptKind::Select:
            return catalog::isRelationKind(kind) || isRoutineKind(kind) || kind == ObjectKind::Sequence;
        case ScriptKind::Insert:
        case ScriptKind::Update:
        case ScriptKind::Delete: return takesRows(kind) || kind == ObjectKind::VirtualTable;
        case ScriptKind::Upsert: return kind == ObjectKind::Table && dialect != Dialect::Ansi;
        case ScriptKind::Create: return true;
        case ScriptKind::Drop: return true;
        case ScriptKind::CreateOrReplace:
            return kind == ObjectKind::View || kind == ObjectKind::MaterializedView ||
                   (isServer && (isRoutineKind(kind) || (kind == ObjectKind::Event && dialect == Dialect::MySql)));
        case ScriptKind::Alter:
            return kind == ObjectKind::Table || kind == ObjectKind::MaterializedView ||
                   (kind == ObjectKind::View && dialect == Dialect::Postgres) ||
                   (kind == ObjectKind::Sequence && isServer);
        case ScriptKind::Comment:
            if (dialect == Dialect::MySql) return kind == ObjectKind::Table || isRoutineKind(kind);
            return dialect == Dialect::Postgres;
        case ScriptKind::Grant:
            return isServer && kind != ObjectKind::Event && kind != ObjectKind::Extension &&
                   kind != ObjectKind::Aggregate;
    }
    return false;
}

catalog::ObjectName ScriptObject::name() const {
    if (relation != nullptr) return {.kind = relation->kind, .schema = relation->schema, .name = relation->name};
    if (object == nullptr) return {};
    return {.kind = object->kind, .schema = object->schema, .name = object->name, .signature = object->signature};
}

Result<std::string> writeScript(ScriptKind kind, const std::vector<ScriptObject>& objects, const ScriptPlace& place) {
    const bool isAboutWhole = kind == ScriptKind::Create || kind == ScriptKind::CreateOrReplace;
    OrderedObjects ordered = inOrder(objects, place.from);
    if (kind == ScriptKind::Drop) std::ranges::reverse(ordered.objects);
    std::vector<std::string> skipped;
    std::string out;
    for (const ScriptObject* one : ordered.objects) {
        const catalog::ObjectName name = one->name();
        if (!hasScript(kind, name.kind, place.to)) {
            skipped.push_back(fmt::format("{} {} has no {} here", catalog::kindName(name.kind), name.name,
                                          scriptEntries()[static_cast<std::size_t>(kind)].label));
            continue;
        }
        auto script = ObjectScript(*one, place).write(kind);
        if (!script) return script;
        out += (out.empty() ? "" : "\n") + *script;
    }
    if (out.empty()) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = skipped.empty() ? "There is nothing to write a script of." : skipped.front() + "."};
    }
    if (isAboutWhole) {
        const std::string links = linksOf(ordered.objects, place);
        if (!links.empty()) out += "\n" + links;
    }
    const auto [before, after] = surroundings(kind, ordered, place);
    return asComments(skipped) + before + out + after;
}

}  // namespace pantry::sql
