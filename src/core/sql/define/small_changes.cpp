#include "core/sql/define/small_changes.h"

#include <fmt/format.h>

#include "core/sql/define/object_words.h"
#include "core/sql/text/lexer.h"
#include "core/sql/write/names.h"

namespace pantry::sql {
namespace {

using catalog::ObjectKind;

class Writer {
public:
    Writer(const catalog::ObjectName& object, std::string_view detail, Dialect dialect)
        : object_(object), word_(objectWord(object.kind, detail)), dialect_(dialect) {
        const bool hasSchema = object.kind != ObjectKind::Extension;
        name_ = withParameters(qualifiedName(hasSchema ? object.schema : std::string(), object.name, dialect), object,
                               dialect);
    }

    [[nodiscard]] std::string rename(const std::string& to) const {
        const std::string now = quotedName(to, dialect_);
        if (dialect_ != Dialect::MySql) return fmt::format("ALTER {} {} RENAME TO {}", word_, name_, now);
        if (object_.kind == ObjectKind::Event) return fmt::format("ALTER EVENT {} RENAME TO {}", name_, now);
        return fmt::format("RENAME TABLE {} TO {}", name_, qualifiedName(object_.schema, to, dialect_));
    }

    [[nodiscard]] std::string comment(const std::string& text) const {
        const std::string literal = quotedString(text, dialect_);
        if (dialect_ == Dialect::MySql) {
            const std::string_view equals = object_.kind == ObjectKind::Table ? "= " : "";
            return fmt::format("ALTER {} {} COMMENT {}{}", word_, name_, equals, literal);
        }
        return fmt::format("COMMENT ON {} {} IS {}", word_, name_, text.empty() ? "NULL" : literal);
    }

    [[nodiscard]] std::string empty(bool isCascading) const {
        if (dialect_ == Dialect::Sqlite) return "DELETE FROM " + name_;
        return fmt::format("TRUNCATE TABLE {}{}", name_, isCascading ? " CASCADE" : "");
    }

    [[nodiscard]] std::string drop(bool isCascading) const {
        return fmt::format("DROP {} {}{}", word_, name_, isCascading ? " CASCADE" : "");
    }

private:
    const catalog::ObjectName& object_;
    std::string_view word_;
    Dialect dialect_;
    std::string name_;
};

}  // namespace

const std::vector<SmallChangeEntry>& smallChangeEntries() {
    static const std::vector<SmallChangeEntry> kEntries{{SmallChange::Rename, "rename", "Rename…", false},
                                                        {SmallChange::Comment, "comment", "Comment…", false},
                                                        {SmallChange::Empty, "empty", "Remove all rows…", true},
                                                        {SmallChange::Drop, "drop", "Drop…", true}};
    return kEntries;
}

bool hasSmallChange(SmallChange change, ObjectKind kind, Dialect dialect) {
    const bool isSqlite = dialect == Dialect::Sqlite;
    switch (change) {
        case SmallChange::Rename:
            if (dialect == Dialect::Postgres) return kind != ObjectKind::Extension;
            if (isSqlite) return kind == ObjectKind::Table || kind == ObjectKind::VirtualTable;
            if (dialect == Dialect::MySql) {
                return kind == ObjectKind::Table || kind == ObjectKind::View || kind == ObjectKind::Event;
            }
            return false;
        case SmallChange::Comment:
            if (dialect == Dialect::Postgres) return true;
            return dialect == Dialect::MySql && (kind == ObjectKind::Table || kind == ObjectKind::Function ||
                                                 kind == ObjectKind::Procedure || kind == ObjectKind::Event);
        case SmallChange::Empty: return kind == ObjectKind::Table;
        case SmallChange::Drop: return true;
    }
    return false;
}

bool canCascade(SmallChange change, Dialect dialect) {
    return dialect == Dialect::Postgres && (change == SmallChange::Drop || change == SmallChange::Empty);
}

DefinitionChange smallChange(SmallChange change, const catalog::ObjectName& object, std::string_view detail,
                             const SmallChangeWish& wish, Dialect dialect) {
    const Writer writer(object, detail, dialect);
    DefinitionChange out;
    switch (change) {
        case SmallChange::Rename:
            if (!wish.text.empty() && wish.text != object.name) {
                out.steps.push_back({writer.rename(wish.text), fmt::format("Rename {} to {}", object.name, wish.text)});
            }
            break;
        case SmallChange::Comment:
            out.steps.push_back({writer.comment(wish.text), "Change the comment of " + object.name});
            break;
        case SmallChange::Empty:
            out.steps.push_back({writer.empty(wish.isCascading), "Remove all rows of " + object.name, true});
            break;
        case SmallChange::Drop:
            out.steps.push_back({writer.drop(wish.isCascading), "Drop " + object.name, true});
            break;
    }
    return out;
}

}  // namespace pantry::sql
